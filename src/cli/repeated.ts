/** Repeats in words: the places in short, what differs side by side, and what would be written. */
import { limited } from '../library/documents.js';
import { linesFewer, placesOf, slicer } from '../library/places.js';
import {
  differencesOf,
  isProblem,
  languageOf,
  notRead,
  notReadWords,
  type ByHand,
  type Problem,
  type Repeat,
  type Repeats,
  type UnifyChange,
} from '../core/index.js';
import type { Colors } from './host.js';
import type { Session } from './session.js';

/** Places side by side; the rest are named below. */
const MOST_COLUMNS = 4;
/** Places that are listed of one group. */
const MOST_PLACES = 8;
/** Groups inside of another one that are named. */
const MOST_INSIDE = 3;

export function repeatsText(session: Session, repeats: Repeats, limit: number): string {
  const { colors: c } = session;
  const { groups, leftOut, unread } = repeats;
  const files = new Set(groups.flatMap((g) => g.places.map((p) => p.path))).size;
  const read = session.project.sources().length - unread.length - leftOut.length;
  const out: string[] = [];
  const head =
    groups.length === 0
      ? read === 0
        ? 'no file was read: name one, or a folder, to look into it whatever it is called'
        : `nothing stands more than once that one would unify, in ${count(read, 'file')} read`
      : `${count(groups.length, 'group')} in ${count(files, 'file')}, best worth first`;
  out.push(`${c.bold('repeats')}  ${head}`, '');
  const shown = limited(groups, limit);
  for (const group of shown)
    if (group.within === undefined)
      out.push(...groupText(session, repeats, group), ...insideText(session, shown, group), '');
  const more = groups.length - shown.length;
  if (more > 0) {
    const all = groups.filter((g) => g.within === undefined).length;
    out.push(c.dim(`… ${count(more, 'more group')}; --limit ${all} shows them`));
  }
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
  const first = groups.find((group) => group.step !== undefined);
  if (first) out.push(...nextText(first, c));
  return `${out.join('\n').trimEnd()}\n`;
}

function nextText(group: Repeat, c: Colors): string[] {
  return [
    c.dim(`next: verkstad repeats ${group.id}   shows all of it, with what would be written`),
    c.dim(`      ${stepText(group)}`),
  ];
}

function stepText({ id, step, places }: Repeat): string {
  // A page has no components: the step has to be told what to write.
  const into = languageOf(places[0]!.path)?.page ? ' --into vue' : '';
  return `verkstad ${step} ${id}${into}   makes one of its ${places.length} places, proven`;
}

/** One group with all its places and differences in full, and the file that would come of it. */
export function wholeText(session: Session, repeats: Repeats, group: Repeat, change: UnifyChange | Problem): string {
  const { colors: c } = session;
  const { worth } = group;
  const out = [
    headText(session, group),
    c.dim(`  ${worth.saved} saved, ${worth.lighter} lighter, ${worth.seam} for the seam`),
    '',
    ...placesText(session, group, Infinity),
    '',
  ];
  for (const { values, inputs } of differencesOf(repeats.forms, group, slicer(session))) {
    out.push(`  ${c.bold(inputs.map((i) => i.name).join(', '))}`);
    values.forEach((value, i) => {
      const lines = (value ?? '–').split('\n');
      out.push(
        `  ${c.dim(String(i + 1).padStart(3))}  ${lines[0]!}`,
        ...lines.slice(1).map((line) => `       ${line}`),
      );
    });
    out.push('');
  }
  if (isProblem(change)) {
    out.push(`${c.yellow('!')} it cannot be made one as it stands: ${change.message}`);
    for (const way of change.instead) out.push(`  ${c.cyan('→')} ${way}`);
    return `${out.join('\n').trimEnd()}\n`;
  }
  const written = change.files.find((file) => file.path === change.target)?.text ?? '';
  out.push(
    `${c.bold(change.target)}  would be written`,
    ...written
      .trimEnd()
      .split('\n')
      .map((l) => `  │ ${l}`),
    '',
  );
  out.push(c.dim(`next: ${stepText(group)}`));
  return `${out.join('\n').trimEnd()}\n`;
}

function count(n: number, one: string): string {
  return `${n.toLocaleString('en')} ${one}${n === 1 ? '' : 's'}`;
}

function widthOf(session: Session): number {
  return Math.max(80, Math.min(session.host.columns, 140));
}

function headText({ project, colors: c }: Session, group: Repeat): string {
  const alike = group.alike === 1 ? 'all alike' : `${Math.round(group.alike * 100)} % alike`;
  const fewer = linesFewer({ project }, group);
  const lines = fewer > 0 ? `, about ${count(fewer, 'line')} fewer` : '';
  return `${c.cyan(group.id)}  ${c.bold(group.name)}  ${group.kind}, ${group.places.length} places, ${alike}${lines}  ${c.dim(`worth ${group.worth.total}`)}`;
}

function groupText(session: Session, { forms }: Repeats, group: Repeat): string[] {
  const width = widthOf(session);
  return [
    headText(session, group),
    ...placesText(session, group, MOST_PLACES),
    ...differencesText(forms, group, slicer(session), width, session.colors),
    ...(group.byHand
      ? [session.colors.dim(`  → by hand: ${BY_HAND[group.byHand]}`)]
      : signature(group, width, session.colors)),
  ];
}

const BY_HAND: Record<ByHand, string> = {
  form: 'some places have a statement or a part that others lack',
  differences: 'they differ in more than one thing should be given',
  input: 'they differ in what no input can carry',
  language: 'logic in several languages, or in one that no step makes one yet, is only named',
  step: 'no step makes one of such a piece yet',
  barred: 'one of the places can become no component as it stands: `extract` it to read why',
};

/** Groups inside of the places of this one, in a line each. */
function insideText(session: Session, shown: readonly Repeat[], group: Repeat): string[] {
  const inside = shown.filter((g) => g.within === group.id);
  if (inside.length === 0) return [];
  const { colors: c } = session;
  const lines = inside.slice(0, MOST_INSIDE).map((g) => `    ${headText(session, g)}`);
  if (inside.length > MOST_INSIDE) lines.push(c.dim(`    … ${count(inside.length - MOST_INSIDE, 'more group')}`));
  return [`  ${c.dim('inside of it, to be made one first')}`, ...lines];
}

/** The places, with what all their paths begin with said once. */
function placesText(session: Session, group: Repeat, most: number): string[] {
  const { colors: c } = session;
  const places = placesOf(session, group);
  const paths = new Set(places.map((p) => p.path));
  const head = paths.size === 1 ? places[0]!.path : commonFolder([...paths]);
  const out = head ? [`  ${head}`] : [];
  places.slice(0, most).forEach(({ path, lines, component }, i) => {
    const short = path.slice(head.length);
    const where = `${short}${short ? ':' : ''}${lines[0]}${lines[1] > lines[0] ? `-${lines[1]}` : ''}`;
    out.push(`  ${c.dim(String(i + 1).padStart(3))}  ${where}${component ? c.dim(`  in ${component}`) : ''}`);
  });
  if (places.length > most) out.push(c.dim(`       … ${places.length - most} more`));
  return out;
}

/** `src/pages/`, where all paths begin with it. */
function commonFolder(paths: readonly string[]): string {
  const parts = paths.map((path) => path.split('/').slice(0, -1));
  const same = parts[0]!.findIndex((part, i) => parts.some((p) => p[i] !== part));
  const shared = same < 0 ? parts[0]! : parts[0]!.slice(0, same);
  return shared.length > 0 ? `${shared.join('/')}/` : '';
}

/** Only what differs, one column for each place. */
function differencesText(
  forms: Repeats['forms'],
  group: Repeat,
  sourceOf: ReturnType<typeof slicer>,
  width: number,
  c: Colors,
): string[] {
  const columns = Math.min(group.places.length, MOST_COLUMNS);
  const rows = differencesOf(forms, group, sourceOf)
    .map(({ values, inputs }) => ({
      cells: values.slice(0, columns).map((value) => value?.replace(/\s+/g, ' ').trim() ?? '–'),
      name: inputs.map((i) => i.name).join(', '),
    }))
    // Of many places, the first few may well be the same.
    .filter(({ cells }) => new Set(cells).size > 1);
  if (rows.length === 0) return [];
  const nameWidth = Math.min(24, Math.max(...rows.map(({ name }) => name.length)));
  const cell = Math.floor((width - nameWidth - 5) / columns) - 2;
  const line = (name: string, cells: readonly string[]) =>
    `  ${name.padEnd(nameWidth)}   ${cells.map((text) => fitted(text, cell).padEnd(cell)).join('  ')}`.trimEnd();
  const numbers = Array.from({ length: columns }, (_, i) => String(i + 1));
  const more = group.places.length > columns ? c.dim(`  (first ${columns} of ${group.places.length})`) : '';
  return [
    c.dim(line('', numbers)) + more,
    ...rows.map(({ name, cells }) => line(fitted(name, nameWidth), partsThatDiffer(cells, cell))),
  ];
}

/** The cells without a long head that all of them share, where they would not fit otherwise. */
function partsThatDiffer(cells: readonly string[], width: number): string[] {
  if (cells.every((cell) => cell.length <= width)) return [...cells];
  let head = 0;
  const shortest = Math.min(...cells.map((cell) => cell.length));
  while (head < shortest && cells.every((cell) => cell[head] === cells[0]![head])) head++;
  // A word is not cut in two.
  while (head > 0 && /\w/.test(cells[0]![head - 1]!)) head--;
  return head < 8 ? [...cells] : cells.map((cell) => `…${cell.slice(head)}`);
}

function fitted(text: string, width: number): string {
  return text.length <= width ? text : `${text.slice(0, Math.max(1, width - 1))}…`;
}

/** What would be written at each place, without the values. */
export function signature({ kind, name, inputs, hostNames }: Repeat, width: number, c: Colors): string[] {
  const names = inputs.map((input) => {
    const optional = input.default !== undefined || input.values.includes(undefined);
    return input.name === 'children' ? undefined : `${input.name}${optional ? '?' : ''}`;
  });
  const shown = [...names.filter((n) => n !== undefined), ...hostNames.map((h) => h.name)];
  const children = inputs.some((input) => input.name === 'children');
  const words =
    kind === 'logic' ? [`${name}(${shown.join(', ')})`] : [`<${name}`, ...shown, children ? `>…</${name}>` : '/>'];
  const lines = [''];
  for (const word of kind === 'logic' ? words[0]!.split(/(?<=, )/).map((w) => w.trim()) : words) {
    const last = lines[lines.length - 1]!;
    const gap = last === '' || word.startsWith('>') ? '' : ' ';
    if (last !== '' && last.length + gap.length + word.length > width - 4) lines.push(word);
    else lines[lines.length - 1] = last + gap + word;
  }
  return lines.map((line, i) => `  ${i === 0 ? c.dim('→') : '   '} ${line}`);
}
