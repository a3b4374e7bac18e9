/** `repeats`: what stands more than once, with only the differences side by side. */
import {
  didYouMean,
  differencesOf,
  findRepeats,
  givenText,
  isProblem,
  problem,
  unify,
  type Input,
  type Problem,
  type Repeat,
  type RepeatKind,
  type Repeats,
} from '../../core/index.js';
import type { RepeatsDocument } from '../formats.js';
import { EXIT, type CommonOptions } from '../host.js';
import { REPEAT_ID } from '../range.js';
import { limited, linesFewer, placesOf, repeatsText, slicer, wholeText } from '../repeated.js';
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
    session.json ? json(document(session, repeats, options.limit)) : repeatsText(session, repeats, options.limit),
  );
  return EXIT.done;
}

/** The group that goes by an id. Groups of one kind may take places that a better one of another kind has otherwise. */
export function repeatCalled(
  session: Session,
  id: string,
  only: object,
): { repeats: Repeats; repeat: Repeat } | Problem {
  const kinds = (['markup', 'logic', 'frame'] as const).filter((kind) => kind.startsWith(id[0]!));
  const all = findRepeats(session.project, { ...only, minWorth: -Infinity });
  for (const find of [() => all, () => findRepeats(session.project, { ...only, kinds, minWorth: -Infinity })]) {
    const repeats = find();
    const repeat = repeats.groups.find((group) => group.id === id);
    if (repeat) return { repeats, repeat };
  }
  const near = didYouMean(
    id,
    all.groups.map((group) => group.id),
  );
  return problem('repeat-unknown', { path: '.' }, id, near ? `; did you mean ${near}?` : '');
}

/** One group whole: its places side by side, and the file that would come of it. */
function oneRepeat(session: Session, id: string): Ended {
  const found = repeatCalled(session, id, {});
  if (isProblem(found)) return found;
  const { repeats, repeat } = found;
  if (session.json) session.host.out(json(document(session, { ...repeats, groups: [repeat] }, 1)));
  else session.host.out(wholeText(session, repeats, repeat, unify(session.project, { repeats, repeat })));
  return EXIT.done;
}

/** The files that a person named, by file or folder. */
export function pathsIn(
  session: Session,
  given: readonly string[],
): { paths?: readonly string[]; named?: ReadonlySet<string> } | Problem {
  const wanted: string[] = [];
  for (const one of given) {
    const path = session.path(one);
    if (isProblem(path)) return path;
    wanted.push(path);
  }
  if (wanted.length === 0 || wanted.includes('')) return {};
  const sources = session.project.sources();
  const missing = wanted.map((w) => namedTrouble(session, w)).find((trouble) => trouble !== undefined);
  if (missing) return missing;
  return {
    paths: sources.filter((path) => wanted.some((w) => path === w || path.startsWith(`${w}/`))),
    named: new Set(wanted),
  };
}

/** Why a file or folder that a person named cannot be looked at: it is not there, or is not read. */
export function namedTrouble(session: Session, path: string): Problem | undefined {
  const { files } = session.project;
  if (files.list().some((p) => p.startsWith(`${path}/`))) return undefined;
  const source = session.project.source(path);
  return isProblem(source) ? source : undefined;
}

function document(session: Session, repeats: Repeats, limit: number): RepeatsDocument {
  const sourceOf = slicer(session);
  return {
    format: 'verkstad/repeats@1',
    groups: limited(repeats.groups, limit).map((repeat) => {
      const valueOf = (value: Input['values'][number]) => (value ? givenText(repeats.forms, value, sourceOf) : null);
      const entry = (input: Input) => ({
        name: input.name,
        values: input.values.map(valueOf),
        ...(input.default ? { default: givenText(repeats.forms, input.default, sourceOf) } : {}),
        ...(input.kind === 'flag' ? { type: 'boolean' } : isWords(input) ? { type: 'string' } : {}),
      });
      const ofKind = (...kinds: Input['kind'][]) => repeat.inputs.filter((i) => kinds.includes(i.kind)).map(entry);
      const hostEntry = (event: boolean) =>
        repeat.hostNames
          .filter((h) => h.event === event)
          .map(({ name }) => ({ name, values: repeat.places.map(() => name) }));
      return {
        id: repeat.id,
        kind: repeat.kind,
        name: repeat.name,
        alike: Math.round(repeat.alike * 100) / 100,
        places: placesOf(session, repeat),
        differs: differencesOf(repeats.forms, repeat, sourceOf).map(({ values, inputs }) => ({
          values: values.map((v) => v ?? null),
          inputs: inputs.map((i) => i.name),
        })),
        props: [...ofKind('prop', 'flag'), ...hostEntry(false)],
        slots: ofKind('slot'),
        events: [...ofKind('event'), ...hostEntry(true)],
        worth: repeat.worth,
        lines: linesFewer(session, repeat),
        ...(repeat.step ? { step: repeat.step } : {}),
        ...(repeat.byHand ? { byHand: repeat.byHand } : {}),
        ...(repeat.within === undefined ? {} : { within: repeat.within }),
      };
    }),
    leftOut: [...repeats.leftOut],
    unread: [...repeats.unread],
  };
}

function isWords(input: Input): boolean {
  return input.values.every((v) => !v || v.kind === 'string');
}
