/** `join` and `part`: template and script of a component in one file, or in files of their own; proven. */
import { isProblem, join, part } from '../../core/index.js';
import { endStep, type StepOptions } from '../ending.js';
import { EXIT, type Host } from '../host.js';
import { report } from '../say.js';
import { colorsFor, openSession } from '../session.js';

export async function joinCommand(
  host: Host,
  step: 'join' | 'part',
  given: string,
  options: Omit<StepOptions, 'types'>,
): Promise<number> {
  const session = await openSession(host, options, given);
  if (isProblem(session)) {
    report(host, session, undefined, colorsFor(host, options.color), options.json ?? false);
    return EXIT.usage;
  }
  const path = session.path(given);
  const change = isProblem(path) ? path : (step === 'join' ? join : part)(session.project, path);
  if (isProblem(change)) {
    report(host, change, session.project, session.colors, session.json);
    return ['target-outside', 'file-unknown', 'file-syntax'].includes(change.code) ? EXIT.usage : EXIT.refused;
  }
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
