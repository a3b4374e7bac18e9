/** Names for what places have in common. */
import type { Alignment, Place } from '../../forms/align.js';
import { FLAGS, type Forms } from '../../forms/forms.js';
import type { RepeatKind } from '../../analyze/repeats/candidates.js';
import { isProblem } from '../../problems/problems.js';
import type { Project } from '../../project/project.js';
import type { ElementNode, Markup } from '../../markup/model.js';
import { textOf } from '../../files/files.js';
import { componentNameFromFile } from '../../files/paths.js';
import { hookName } from '../../languages/naming.js';
import { languageOf } from '../../language/registry.js';
import { staticText } from '../identifiers.js';
import { classSuffix, ROLES, suffixOf } from '../kinds.js';
import { plainName, proposeNames } from '../names.js';
import { commonWords } from './common-ends.js';
import type { RepeatPlace } from './repeat.js';

export function nameOfRepeat(
  project: Project,
  kind: RepeatKind,
  places: readonly RepeatPlace[],
  alignment: Alignment,
  forms: Forms,
): string {
  if (kind === 'frame') return 'PageLayout';
  if (kind === 'logic') return logicName(alignment, forms);
  // What every place would be called is what they have in common; a heading of one of them is not.
  const proposals = places.slice(0, MOST_ASKED).map((place) => namesAt(project, place));
  const first = proposals[0]!;
  const common = first.find((name) => name !== '' && proposals.every((names) => names.includes(name)));
  const name = common ?? first[first.length - 1]!;
  return partOfAround(project, places, name) ?? plain(name);
}

/** `DialogHeader` for a header of the application that stands in a dialog at every place. */
function partOfAround(project: Project, places: readonly RepeatPlace[], name: string): string | undefined {
  const part = /^(?:App|Main|Index|Home|Page)?(Header|Footer|Nav|Title|Actions|Body)$/.exec(name)?.[1];
  if (part === undefined) return undefined;
  const kinds = places.slice(0, MOST_ASKED).map((place) => {
    const around = elementsAround(listsIn(project, place.path), place).at(-1);
    return around && (suffixOf(around) ?? ROLES[staticText(around, 'role') ?? ''] ?? classSuffix(around));
  });
  const [kind] = kinds;
  return kind !== undefined && kinds.every((one) => one === kind) ? `${kind}${part}` : undefined;
}

/** What is used again and again needs no name of the whole application in front. */
function plain(name: string): string {
  const rest = /^(?:App|Main|Index|Home|Page)([A-Z]\w{4,})$/.exec(name)?.[1];
  return rest && !/^(?:Content|Choice|Image|Input|Label|Title|Button|Table)$/.test(rest) ? rest : name;
}

/** Places that are asked for a name. */
const MOST_ASKED = 5;

function namesAt(project: Project, place: RepeatPlace): string[] {
  const host = place.component ?? componentNameFromFile(place.path);
  const text = textOf(project.files, place.path) ?? '';
  const lists = listsIn(project, place.path);
  const nodes = markupIn(lists, place);
  const around = elementsAround(lists, place);
  const names = proposeNames(nodes, { text, host, comment: undefined, loop: undefined, around });
  return [...names, plainName(nodes) ?? '', `${host}Part`];
}

/** The markup nodes of a place. */
export function markupAt(project: Project, place: RepeatPlace): Markup[] {
  return markupIn(listsIn(project, place.path), place);
}

type Lists = readonly (readonly Markup[])[];

function listsIn(project: Project, path: string): Lists {
  const file = project.source(path);
  const lists = isProblem(file) ? file : file.language.lists(file, project.ports);
  return isProblem(lists) ? [] : lists;
}

function markupIn(lists: Lists, place: RepeatPlace): Markup[] {
  for (const list of lists) {
    const nodes = list.filter((n) => n.start >= place.start && n.end <= place.end && n.kind !== 'comment');
    if (nodes[0]?.start === place.start && nodes[nodes.length - 1]!.end === place.end) return nodes;
  }
  return [];
}

/** The elements that a place stands in, outermost first. */
function elementsAround(lists: Lists, { start, end }: RepeatPlace): ElementNode[] {
  const isAround = (n: Markup): n is ElementNode =>
    n.kind === 'element' && n.start <= start && n.end >= end && n.end - n.start > end - start;
  return lists.flatMap((list) => list.filter(isAround)).sort((a, b) => a.start - b.start);
}

/** What most places are called, else what their names have in common, else the first; a hook after what it gives. */
function logicName({ places }: Alignment, forms: Forms): string {
  const first = forms.labelOf(places[0]!.first);
  const isHook =
    !/Function/.test(first) && statementsOf(forms, places[0]!).some((n) => (forms.flags[n]! & FLAGS.hook) !== 0);
  const names = places.flatMap((place) => {
    const own = isHook ? hookAt(forms, place) : ownBinding(forms, place);
    return own ?? nameUnderKeys(forms, place) ?? outerBinding(forms, place) ?? [];
  });
  const counts = new Map<string, number>();
  for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1);
  const [most, count] = [...counts].reduce((x, y) => (y[1] > x[1] ? y : x), ['', 0]);
  const name = (count === 1 ? commonName(names) : undefined) ?? (most || partName(forms, places[0]!));
  if (isHook) return /^use[A-Z]/.test(name) ? name : hookName(name);
  // A value that a call gives may be a component; the function that gives it is none.
  return first.startsWith('CallExpression') ? name[0]!.toLowerCase() + name.slice(1) : name;
}

/** What the language calls a function after the keys of the records that it stands in. */
function nameUnderKeys(forms: Forms, { first, end }: Place): string | undefined {
  const { path, first: top } = forms.file(first);
  const named = languageOf(path)?.logic?.nameUnder;
  if (!named || !forms.labelOf(first - 1).startsWith('key ')) return undefined;
  const keys: string[] = [];
  for (let node = first - 1; node > top; node--) {
    const holds = node + forms.size[node]! >= end && forms.labelOf(node).startsWith('Property');
    const key = holds ? /^key ([A-Za-z_$][\w$]*)$/.exec(forms.labelOf(node + 1))?.[1] : undefined;
    if (key !== undefined) keys.push(key);
  }
  return named(keys);
}

/** `fieldTypes` for `editFieldTypes` and `showFieldTypes`; undefined where they have too little in common to say what it is. */
function commonName(names: readonly string[]): string | undefined {
  if (names.length < 2 || names.every((name) => name === names[0])) return undefined;
  const words = names.map((name) => name.split(/(?<=[a-z0-9])(?=[A-Z])/));
  const { head, tail } = commonWords(words);
  const [first] = words;
  const common = [...first!.slice(0, head), ...first!.slice(first!.length - tail)];
  if (common.filter((word) => !/^(?:handle|on|use|get|set|is|has|should)$/.test(word)).length < 2) return undefined;
  const name = common.join('');
  return head > 0 ? name : name[0]!.toLowerCase() + name.slice(1);
}

/** What a place that is a declaration declares first. */
function ownBinding(forms: Forms, { first }: Place): string | undefined {
  return /^(?:Function|Variable)Declaration/.test(forms.labelOf(first)) ? bindingsOf(forms, first)[0] : undefined;
}

/**
 * The first thing that the statements name. Where that is looked up by a hook of the same name, as the location of
 * `useLocation()` is, it is what they make of it in the end.
 */
function hookAt(forms: Forms, place: Place): string | undefined {
  const called = new Set<string>();
  for (let node = place.first; node < place.end; node++) {
    const label = forms.labelOf(node);
    if (label.startsWith('hook ')) called.add(label.slice('hook '.length));
  }
  const declared = statementsOf(forms, place).flatMap((statement) => bindingsOf(forms, statement));
  const names = declared.filter((name) => name.length >= LEAST_SAID && !/^set[A-Z]/.test(name)).map(hookName);
  const [first] = names;
  return first !== undefined && called.has(first) ? names.findLast((name) => !called.has(name)) : first;
}

/** A hook is called after nothing shorter: `t` is what all of them have. */
const LEAST_SAID = 3;

/** What a statement declares where it stands: nothing that its functions declare for themselves. */
function bindingsOf(forms: Forms, statement: number): string[] {
  const names: string[] = [];
  const end = forms.labelOf(statement).startsWith('FunctionDeclaration')
    ? statement + 2 // its name comes first
    : statement + forms.size[statement]!;
  for (let node = statement; node < end;) {
    const label = forms.labelOf(node);
    if (label === 'binding') names.push(forms.valueOf(node));
    node += node > statement && /Function/.test(label) ? forms.size[node]! : 1;
  }
  return names;
}

/** What has no name of its own is a part of the function that it stands in. */
function partName(forms: Forms, place: Place): string {
  const top = forms.file(place.first).first;
  for (let node = place.first - 1; node >= top; node--) {
    if (node + forms.size[node]! < place.end || !/Function/.test(forms.labelOf(node))) continue;
    const isDeclaration = forms.labelOf(node).startsWith('FunctionDeclaration');
    const name = isDeclaration ? innerBinding(forms, placeAt(forms, node)) : outerBinding(forms, placeAt(forms, node));
    if (name) return `${name}Part`;
  }
  return 'handle';
}

function placeAt(forms: Forms, node: number): Place {
  return { first: node, end: node + forms.size[node]! };
}

function statementsOf(forms: Forms, { first, end }: Place): number[] {
  const nodes: number[] = [];
  for (let node = first; node < end; node += forms.size[node]!) nodes.push(node);
  return nodes;
}

/** The names of functions that are declarations at the top of their files; empty where one of them is not. */
export function topLevelNames(forms: Forms, { places }: Alignment): string[] {
  const names = places.map((place) => {
    const module = forms.file(place.first).first;
    const statement = forms
      .partsOf(module)
      .find((part) => part <= place.first && part + forms.size[part]! >= place.end);
    const isDeclaration = statement === place.first && forms.labelOf(place.first).startsWith('FunctionDeclaration');
    // `VariableDeclaration > VariableDeclarator > binding, function`
    const isConstant =
      statement !== undefined && statement + 3 === place.first && forms.labelOf(place.first - 1) === 'binding';
    if (!isDeclaration && !isConstant) return undefined;
    return isDeclaration ? innerBinding(forms, place) : forms.valueOf(place.first - 1);
  });
  return names.includes(undefined) ? [] : (names as string[]);
}

function innerBinding(forms: Forms, { first, end }: Place): string | undefined {
  for (let node = first; node < end; node++) if (forms.labelOf(node) === 'binding') return forms.valueOf(node);
  return undefined;
}

/** The name right before a function: `const f = …`, `const f = useCallback(…`, `x.f = …`, `f() { … }` in a class or a record. */
function outerBinding(forms: Forms, { first }: Place): string | undefined {
  const key = /^key ([A-Za-z_$][\w$]*)$/.exec(forms.labelOf(first - 1))?.[1];
  if (key !== undefined) return key;
  // `X.prototype.f = function`
  if (forms.labelOf(first - 1) === 'member') return forms.valueOf(first - 1);
  for (let node = first - 1; node >= first - 3 && node >= 0; node--)
    if (forms.labelOf(node) === 'binding') return forms.valueOf(node);
  const attribute = /^@(on[A-Z]\w*)$/.exec(forms.labelOf(first - 1))?.[1];
  return attribute && `handle${attribute.slice(2)}`;
}
