/** `repeats`: what stands more than once, with only the differences side by side. */
import { findRepeats, isProblem, unify, type Problem, type RepeatKind } from '../../core/index.js';
import { pathsAsked, repeatCalled, type PathsAsked } from '../../library/asked.js';
import { repeatsDocument } from '../../library/documents.js';
import { EXIT, type CommonOptions } from '../host.js';
import { REPEAT_ID } from '../range.js';
import { repeatsText, wholeText } from '../repeated.js';
import { json } from '../say.js';
import type { Ended, Session } from '../session.js';

export interface RepeatsOptions extends CommonOptions {
  readonly kind?: RepeatKind;
  readonly minWorth?: number;
  readonly limit: number;
}

export function repeatsCommand(session: Session, paths: readonly string[], options: RepeatsOptions): Ended {
  if (paths.length === 1 && REPEAT_ID.test(paths[0]!) && !session.project.files.list().includes(paths[0]!))
    return oneRepeat(session, paths[0]!);
  const only = pathsIn(session, paths);
  if (isProblem(only)) return only;
  const repeats = findRepeats(session.project, {
    ...only,
    ...(options.kind ? { kinds: [options.kind] } : {}),
    ...(options.minWorth === undefined ? {} : { minWorth: options.minWorth }),
  });
  session.host.out(
    session.json
      ? json(repeatsDocument(session, repeats, options.limit))
      : repeatsText(session, repeats, options.limit),
  );
  return EXIT.done;
}

/** One group whole: its places side by side, and the file that would come of it. */
function oneRepeat(session: Session, id: string): Ended {
  const found = repeatCalled(session, id, {});
  if (isProblem(found)) return found;
  const { repeats, repeat } = found;
  if (session.json) session.host.out(json(repeatsDocument(session, { ...repeats, groups: [repeat] }, 1)));
  else session.host.out(wholeText(session, repeats, repeat, unify(session.project, { repeats, repeat })));
  return EXIT.done;
}

/** The files that a person named, by file or folder. */
export function pathsIn(session: Session, given: readonly string[]): PathsAsked | Problem {
  const wanted = pathsGiven(session, given);
  return isProblem(wanted) ? wanted : pathsAsked(session, wanted);
}

/** What a person named, relative to the root. */
export function pathsGiven(session: Session, given: readonly string[]): readonly string[] | Problem {
  const wanted: string[] = [];
  for (const one of given) {
    const path = session.path(one);
    if (isProblem(path)) return path;
    wanted.push(path);
  }
  return wanted;
}
