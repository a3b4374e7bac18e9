/** What a person would not unify, and what is nobody's to unify. */
import type { Alignment, Place } from '../../forms/align.js';
import type { Forms } from '../../forms/forms.js';
import { fingerprint } from '../../text/fingerprint.js';
import { LEAVE } from '../../analyze/repeats/collect.js';
import type { Input } from './input.js';
import { fixedSize, weight } from './worth.js';

const OTHERS =
  /(?:^|\/)(?:vendors?|third[-_]?party|__generated__|generated|legacy|deprecated|old|archive|__tests__|__mocks__|tests?|specs?|e2e|cypress|stories|__snapshots__|\.storybook|migrations|public|static)\/|\.(?:test|spec|stories|story|generated|gen|min|d|cy|snap|mock|config)\.[a-z]+$|\.bundle\.[a-z]+$/i;
const MADE =
  /__esModule|_interopRequire|__webpack_require__|sourceMappingURL=|_jsxFileName|\(require, ?module, ?exports\)|@generated|(?:auto-?)?generated (?:by|from|file|code)|do not edit/i;
/** Lines of minified code are long on average. */
const LONG_LINES = 220;

/** Generated, vendored, minified, kept for old versions, or a test. */
export function isOthers(path: string, text: string): boolean {
  if (OTHERS.test(path) || MADE.test(text.slice(0, 1500)) || /sourceMappingURL=\S+\s*$/.test(text.slice(-300)))
    return true;
  if (/^\uFEFF?\s*(?:\/\/|\/\*|<!--)/.test(text) && LEAVE.test(text)) return true;
  return text.length > 4000 && text.length / text.split('\n').length > LONG_LINES;
}

const BUILT = new Set(['lib', 'es', 'esm', 'cjs', 'dist', 'build', 'out', 'compiled', 'commonjs', 'module', 'public']);

/** A file that was made from another one of the project: `lib/theme/Tabs.js` beside `src/theme/Tabs.tsx`. */
export function isBuilt(path: string, stems: ReadonlySet<string>): boolean {
  const parts = stemOf(path).split('/');
  return parts.some((part, i) => {
    if (!BUILT.has(part)) return false;
    const rest = parts.slice(i + 1);
    const inner = rest.filter((p, at) => at > 0 || !BUILT.has(p));
    return ['src', 'source'].some((src) => stems.has([...parts.slice(0, i), src, ...inner].join('/')));
  });
}

/** What somebody would call a copy of the other folder. */
const COPIES =
  /(?:^|\/)(?:lib|es|esm|cjs|dist|build|out|compiled|copy|docs?|demos?|examples?|__examples__|backup|bak)(?:\/|$)/i;
/** So many files of one folder, and so much of all in it, have to stand in another one for it to be a copy. */
const LEAST_COPIED = 5;
const LEAST_TEXT = 200;
const MOSTLY_COPIED = 0.6;

/** Files of folders that are copies of other folders, told by what they hold: `lib/` beside `components/`. */
export function copiedFiles(paths: readonly string[], textOf: (path: string) => string | undefined): Set<string> {
  const called = new Map<string, string[]>();
  for (const path of paths) {
    const name = path.slice(path.lastIndexOf('/') + 1);
    called.set(name, [...(called.get(name) ?? []), path]);
  }
  const byText = new Map<string, string[]>();
  for (const path of [...called.values()].flatMap((list) => (list.length > 1 ? list : []))) {
    const text = textOf(path);
    // Small files are alike by chance.
    if (text === undefined || text.length < LEAST_TEXT) continue;
    const key = `${path.slice(path.lastIndexOf('/') + 1)} ${fingerprint(text)}`;
    byText.set(key, [...(byText.get(key) ?? []), path]);
  }
  const pairs = new Map<string, { readonly from: string; readonly to: string; readonly files: string[] }>();
  for (const same of byText.values())
    for (const [i, one] of same.entries())
      for (const other of same.slice(i + 1)) {
        const [from, to] = foldersOf(one, other);
        const isFirst = COPIES.test(`${from}/`) && !COPIES.test(`${to}/`);
        const [original, copy, file] = isFirst ? [to, from, one] : [from, to, other];
        const key = `${original} ${copy}`;
        const pair = pairs.get(key) ?? { from: original, to: copy, files: [] };
        pairs.set(key, pair);
        pair.files.push(file);
      }
  const copied = new Set<string>();
  for (const { to, files } of pairs.values()) {
    const all = paths.filter((path) => path.startsWith(`${to}/`)).length;
    if (files.length >= LEAST_COPIED && files.length >= all * MOSTLY_COPIED) for (const file of files) copied.add(file);
  }
  return copied;
}

/** The folders of two paths without what both end with. */
function foldersOf(a: string, b: string): [string, string] {
  const [x, y] = [a.split('/'), b.split('/')];
  while (x.length > 0 && y.length > 0 && x.at(-1) === y.at(-1)) {
    x.pop();
    y.pop();
  }
  return [x.join('/'), y.join('/')];
}

export function stemOf(path: string): string {
  return path.replace(/\.[^./]*$/, '');
}

/** Largest share of a place that may differ. */
const MOST_DIFFERENT = 0.6;
/** Least that is fixed besides bare tags: attributes, texts, code. */
const LEAST_SUBSTANCE = 3;

/** Whether too much differs for anything to be one. */
export function isTooDifferent(forms: Forms, kind: string, alignment: Alignment): boolean {
  const { first, end } = alignment.places[alignment.reference]!;
  const fixed = fixedSize(forms, alignment);
  return fixed < weight(forms, first, end) * (1 - MOST_DIFFERENT) && (kind !== 'frame' || fixed < 16);
}

/** Whether that is more than one thing should be given; of places that are not too different. */
export function takesTooMuch(forms: Forms, kind: string, alignment: Alignment, inputs: readonly Input[]): boolean {
  const { first, end } = alignment.places[alignment.reference]!;
  const fixed = fixedSize(forms, alignment);
  if (fixed < weight(forms, first, end) * (1 - MOST_DIFFERENT)) return false;
  // Whole pages may differ in more: a long menu marks another entry on each of them.
  const most = kind === 'frame' ? Math.max(MOST_INPUTS, fixed / TOKENS_AN_INPUT) : MOST_INPUTS;
  return inputs.length > Math.min(most, 3 + fixed / 4);
}

/** Of places that are not too different. */
export function isWorthNothing(forms: Forms, alignment: Alignment): boolean {
  const { first, end } = alignment.places[alignment.reference]!;
  const fixed = fixedSize(forms, alignment);
  if (fixed < weight(forms, first, end) * (1 - MOST_DIFFERENT)) return false;
  if (DRAWING.test(forms.labelOf(first))) return true;
  if (isUsedAlready(forms, alignment.places, fixed) || isMereCall(forms, first)) return true;
  return substance(forms, alignment) < LEAST_SUBSTANCE;
}

/** What differs in more ways than this is not one thing. */
const MOST_INPUTS = 10;
/** Fixed tokens of a frame from which it may have one input more. */
const TOKENS_AN_INPUT = 120;
/** Parts of a drawing are data. */
const DRAWING =
  /^<(?:path|g|circle|ellipse|rect|line|polyline|polygon|defs|stop|linearGradient|radialGradient|clipPath|mask|filter|Path|G|Circle|Rect|Line|Polygon|Defs|Stop|ClipPath|Mask)>$/;
/** Fixed tokens from which even the use of a component is worth a name of its own. */
const LEAST_USE = 14;
/** Places from which less is worth it: they are data by then. */
const OFTEN = 4;
const LEAST_USE_OFTEN = 10;

/** Uses of one component with `fixed` tokens in common: they are one thing as they are. */
export function isUsedAlready(forms: Forms, places: readonly Place[], fixed: number): boolean {
  return isMereUse(forms, places[0]!.first) && fixed < (places.length < OFTEN ? LEAST_USE : LEAST_USE_OFTEN);
}

/** What a function holds that does no more than hand names to another one. */
const HANDS_ON =
  /^(?:\w*Function\w*|VariableDeclaration|VariableDeclarator|BlockStatement|ReturnStatement|ExpressionStatement|ObjectExpression|Property|key|binding|name|member|MemberExpression|string|record)\b/;

/** A function that only calls another one is shared already: that one is what its places have in common. */
export function isMereCall(forms: Forms, first: number): boolean {
  let functions = 0;
  let calls = 0;
  for (let node = first; node < first + forms.size[first]!; node++) {
    const label = forms.labelOf(node);
    if (/^CallExpression/.test(label)) calls++;
    else if (!HANDS_ON.test(label)) return false;
    if (/Function/.test(label)) functions++;
  }
  return calls === 1 && functions === 1;
}

/** A component with nothing but text in it is one already. */
function isMereUse(forms: Forms, node: number): boolean {
  if (!/^<[A-Z]/.test(forms.labelOf(node))) return false;
  for (let at = node + 1; at < node + forms.size[node]!; at++) if (forms.labelOf(at).startsWith('<')) return false;
  return true;
}

/** Fixed nodes that say something: a row of bare cells around data has none. */
function substance(forms: Forms, alignment: Alignment): number {
  const { first, end } = alignment.places[alignment.reference]!;
  const holes = new Set(
    alignment.holes.flatMap((h) => (h.kind === 'value' ? [h.node] : h.kind === 'slot' ? h.nodes : [])),
  );
  let count = 0;
  for (let node = first; node < end; node++) {
    if (holes.has(node)) node += forms.size[node]! - 1;
    else if (!isBareTag(forms, node)) count++;
  }
  return count;
}

function isBareTag(forms: Forms, node: number): boolean {
  return /^(?:<|shown|fragment|arm|@key|turn|BlockStatement|ReturnStatement)/.test(forms.labelOf(node));
}
