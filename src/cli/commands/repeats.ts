/** `repeats`: what stands more than once, with only the differences side by side. */
import {
  differencesOf,
  findRepeats,
  givenText,
  isProblem,
  languageOf,
  Lines,
  notRead,
  notReadWords,
  textOf,
  type Input,
  type Problem,
  type Repeat,
  type RepeatKind,
  type Repeats,
} from '../../core/index.js';
import type { RepeatsDocument } from '../formats.js';
import { EXIT, type Colors, type CommonOptions } from '../host.js';
import { json } from '../say.js';
import type { Ended, Session } from '../session.js';

export interface RepeatsOptions extends CommonOptions {
  readonly kind?: RepeatKind;
  readonly minWorth?: number;
  readonly limit: number;
}

export function repeatsCommand(session: Session, paths: readonly string[], options: RepeatsOptions): Ended {
  const only = pathsIn(session, paths);
  if (isProblem(only)) return only;
  const repeats = findRepeats(session.project, {
    ...only,
    ...(options.kind ? { kinds: [options.kind] } : {}),
    ...(options.minWorth === undefined ? {} : { minWorth: options.minWorth }),
  });
  session.host.out(
    session.json ? json(document(session, repeats, options.limit)) : text(session, repeats, options.limit),
  );
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
    groups: repeats.groups.slice(0, limit).map((repeat) => {
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
      };
    }),
    leftOut: [...repeats.leftOut],
    unread: [...repeats.unread],
  };
}

function isWords(input: Input): boolean {
  return input.values.every((v) => !v || v.kind === 'string');
}

export function placesOf(session: Session, repeat: Repeat): RepeatsDocument['groups'][number]['places'] {
  return repeat.places.map(({ path, start, end, component }) => ({
    path,
    lines: new Lines(textOf(session.project.files, path) ?? '').range({ start, end }),
    range: [start, end],
    ...(component === undefined ? {} : { component }),
  }));
}

function slicer(session: Session): (path: string, start: number, end: number) => string {
  return (path, start, end) => (textOf(session.project.files, path) ?? '').slice(start, end);
}

// Text

/** Places side by side; the rest are named below. */
const MOST_COLUMNS = 4;

function text(session: Session, repeats: Repeats, limit: number): string {
  const { colors: c } = session;
  const { groups, leftOut, unread } = repeats;
  const files = new Set(groups.flatMap((g) => g.places.map((p) => p.path))).size;
  const count = (n: number, one: string) => `${n.toLocaleString('en')} ${one}${n === 1 ? '' : 's'}`;
  const read = session.project.sources().length - unread.length - leftOut.length;
  const out: string[] = [];
  const head =
    groups.length === 0
      ? `nothing stands more than once that one would unify, in ${count(read, 'file')} read`
      : `${count(groups.length, 'group')} in ${count(files, 'file')}, best worth first`;
  out.push(`${c.bold('repeats')}  ${head}`, '');
  for (const group of groups.slice(0, limit)) out.push(...groupText(session, repeats, group), '');
  if (groups.length > limit)
    out.push(c.dim(`… ${count(groups.length - limit, 'more group')}; --limit ${groups.length} shows them`));
  if (leftOut.length > 0)
    out.push(
      c.dim(
        `${count(leftOut.length, 'file')} left out as generated, built, vendored or tests; name a file to look into it`,
      ),
    );
  const others = notReadWords(notRead(session.project));
  if (others) out.push(c.dim(`not read: ${others}`));
  if (unread.length > 0)
    out.push(
      `${c.yellow('!')} ${count(unread.length, 'file')} could not be read: ${unread.slice(0, 3).join(', ')}${unread.length > 3 ? ' …' : ''}`,
    );
  const first = groups[0];
  // A page has no components: the step has to be told what to write.
  const into = first && languageOf(first.places[0]!.path)?.page ? ' --into vue' : '';
  if (first)
    out.push(
      c.dim(
        `next: verkstad ${first.kind === 'frame' ? 'frame' : 'unify'} ${first.id}${into}   makes one of its ${first.places.length} places, proven`,
      ),
    );
  return `${out.join('\n').trimEnd()}\n`;
}

function groupText(session: Session, { forms }: Repeats, group: Repeat): string[] {
  const { colors: c } = session;
  const width = Math.max(80, Math.min(session.host.columns, 140));
  const alike = group.inputs.length === 0 ? 'all alike' : `${Math.round(group.alike * 100)} % alike`;
  const { worth } = group;
  const out = [
    `${c.cyan(group.id)}  ${c.bold(group.name)}  ${group.kind}, ${group.places.length} places, ${alike}  ${c.dim(`worth ${worth.total}: ${worth.saved} saved, ${worth.lighter} lighter, ${worth.seam} for the seam`)}`,
  ];
  const places = placesOf(session, group);
  places.slice(0, 8).forEach((place, i) => {
    const where = `${place.path}:${place.lines[0]}-${place.lines[1]}`;
    out.push(
      `  ${c.dim(String(i + 1).padStart(3))}  ${where}${place.component ? c.dim(`  in ${place.component}`) : ''}`,
    );
  });
  if (places.length > 8) out.push(c.dim(`       … ${places.length - 8} more`));
  out.push(...differencesText(forms, group, slicer(session), width, c));
  out.push(`  ${c.dim('→')} ${signature(group)}`);
  return out;
}

/** Only what differs, one column for each place. */
function differencesText(
  forms: Repeats['forms'],
  group: Repeat,
  sourceOf: ReturnType<typeof slicer>,
  width: number,
  c: Colors,
): string[] {
  const rows = differencesOf(forms, group, sourceOf);
  if (rows.length === 0) return [];
  const columns = Math.min(group.places.length, MOST_COLUMNS);
  const names = rows.map((row) => row.inputs.map((i) => i.name).join(', '));
  const nameWidth = Math.min(24, Math.max(...names.map((n) => n.length)));
  const cell = Math.floor((width - nameWidth - 5) / columns) - 2;
  const line = (name: string, cells: readonly string[]) =>
    `  ${name.padEnd(nameWidth)}   ${cells.map((text) => fitted(text, cell).padEnd(cell)).join('  ')}`.trimEnd();
  const numbers = Array.from({ length: columns }, (_, i) => String(i + 1));
  const more = group.places.length > columns ? c.dim(`  (first ${columns} of ${group.places.length})`) : '';
  return [
    c.dim(line('', numbers)) + more,
    ...rows.map((row, i) => {
      const cells = row.values.slice(0, columns).map((value) => value ?? '–');
      return line(fitted(names[i]!, nameWidth), cells);
    }),
  ];
}

function fitted(text: string, width: number): string {
  const flat = text.replace(/\s+/g, ' ').trim();
  return flat.length <= width ? flat : `${flat.slice(0, Math.max(1, width - 1))}…`;
}

/** What would be written at each place, without the values. */
function signature({ kind, name, inputs, hostNames, places }: Repeat): string {
  const names = inputs.map((input) => {
    const optional = input.default !== undefined || input.values.includes(undefined);
    return input.name === 'children' ? undefined : `${input.name}${optional ? '?' : ''}`;
  });
  const shown = [...names.filter((n) => n !== undefined), ...hostNames.map((h) => h.name)];
  const times = `at ${places.length} places`;
  if (kind === 'logic') return `${name}(${shown.join(', ')}) ${times}`;
  const children = inputs.some((input) => input.name === 'children');
  const attributes = shown.map((n) => ` ${n}`).join('');
  return `<${name}${attributes}${children ? `>…</${name}>` : ' />'} ${times}`;
}
