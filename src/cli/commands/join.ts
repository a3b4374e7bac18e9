/** `join` and `part`: template and script of a component in one file, or in files of their own; proven. */
import { isProblem, join, loadLanguages, part, type JoinOptions } from '../../core/index.js';
import { endStep, type StepOptions } from '../ending.js';
import type { Ended, Session } from '../session.js';

export type PlacingOptions = Omit<StepOptions, 'types'> & JoinOptions;

export async function joinCommand(
  session: Session,
  step: 'join' | 'part',
  given: string,
  options: PlacingOptions,
): Promise<Ended> {
  // Files of any language can hold pieces of a component.
  await loadLanguages();
  const path = session.path(given);
  const change = isProblem(path)
    ? path
    : step === 'join'
      ? join(session.project, path, options)
      : part(session.project, path);
  if (isProblem(change)) return change;
  const from = path as string;
  return endStep(
    session,
    {
      change,
      types: { answer: 'skipped', errors: [], reason: 'the code is the same, in another file' },
      at: { path: from, span: { start: 0, end: 0 } },
      headline: `${from} ${session.colors.dim('→')} ${change.target}`,
      took: step === 'join' ? 'template and script into one file each' : 'template and script into files of their own',
      title: `${step} ${change.name} in ${from}`,
      document: {},
    },
    { ...options, types: false },
  );
}
