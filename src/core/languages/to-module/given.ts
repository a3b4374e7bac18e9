/** What a function is given of the component that it leaves: values by the names that they have for it. */
import type { SeamEntry, TypeName, TypeOracle } from '../../language/cutting.js';
import type { Node } from '../../script/parser.js';
import type { Variable } from '../../script/scopes.js';
import { isFunction, walk } from '../../script/walk.js';
import type { Edit, Span } from '../../text/edits.js';
import { isReserved } from '../../script/reserved.js';
import { mayLeave, runsSurely } from '../../script/surely.js';
import { capital } from '../../text/words.js';
import { FreeNames } from '../homes/free-names.js';
import { inputName } from '../naming.js';
import { isIn, nameSpan, valueBehind } from './bound.js';
import { isOfFile, type ScriptHost } from './host.js';

export interface Given {
  readonly parameters: readonly SeamEntry[];
  /** What the host passes for each of them. */
  readonly values: readonly string[];
  /** Edits of the code that leaves, each in the place of a value. */
  readonly edits: readonly Edit[];
  readonly types: readonly TypeName[];
}

/** One place that reads something of the component. */
interface Read {
  /** What stands in front of all that is one value: `this.props`, `query`. */
  readonly root: string;
  readonly variable: Variable | undefined;
  /** The first name; what belongs to the value whatever is read of it; and what is read of it. */
  readonly first: Node;
  readonly fixed: readonly Node[];
  readonly further: readonly Node[];
  readonly names: readonly string[];
}

export function givenTo(
  host: ScriptHost,
  spans: readonly Span[],
  taken: Iterable<string>,
  types: TypeOracle | undefined,
): Given {
  const groups = new Map<string, Read[]>();
  for (const read of spans.flatMap((span) => readsIn(host, span, spans)))
    groups.set(read.root, [...(groups.get(read.root) ?? []), read]);
  const free = new FreeNames(taken);
  const parameters: SeamEntry[] = [];
  const values: string[] = [];
  const edits: Edit[] = [];
  const typeNames: TypeName[] = [];
  const { path } = host.request.file;
  for (const reads of groups.values()) {
    for (const [code, sites] of valuesOf(host, reads, spans)) {
      const { node, words } = sites[0]!;
      const name = free.take(nameFor(host, words));
      const answer = host.typed ? types?.typeAt(path, nameSpan(node)) : undefined;
      typeNames.push(...(answer?.names ?? []));
      parameters.push({ name, ...(host.typed ? { type: answer?.text ?? 'any' } : {}) });
      values.push(code);
      for (const site of sites) edits.push(replaced(host, site.node, name));
    }
  }
  return { parameters, values, edits, types: typeNames };
}

/** Names that mean something in code that leaves, or stand in it unexplained. */
export function namesIn(host: ScriptHost, spans: readonly Span[]): Set<string> {
  const names = new Set<string>();
  for (const span of spans)
    for (const { identifier, resolved } of host.scopes.within(span)) {
      const isCrossing = resolved && resolved.defs.length > 0 && !isIn(resolved, spans) && !isOfFile(host, resolved);
      if (!isCrossing && 'name' in identifier && typeof identifier.name === 'string') names.add(identifier.name);
    }
  walk(host.script.program, (node) => {
    const isOwn = node.type === 'Identifier' && spans.some((s) => node.range[0] >= s.start && node.range[1] <= s.end);
    if (isOwn && host.scopes.variableOf(node)?.identifiers.includes(node)) names.add(node.name);
  });
  return names;
}

function readsIn(host: ScriptHost, span: Span, spans: readonly Span[]): Read[] {
  const reads: Read[] = [];
  const add = (first: Node, variable: Variable | undefined) => {
    const { names, nodes } = valueBehind(host, first);
    const fixed = host.fixedMembers(first, names);
    const own = [variable?.name ?? 'this', ...names];
    reads.push({
      root: own.slice(0, fixed + 1).join('.'),
      variable,
      first,
      fixed: nodes.slice(0, fixed),
      further: nodes.slice(fixed),
      names: own,
    });
  };
  for (const { identifier, resolved, isValueReference } of host.scopes.within(span)) {
    const isOther = resolved && resolved.defs.length > 0 && isValueReference && !isIn(resolved, spans);
    if (isOther && !isOfFile(host, resolved)) add(identifier, resolved);
  }
  for (const node of ownThis(host, span)) add(node, undefined);
  return reads.sort((a, b) => a.first.range[0] - b.first.range[0]);
}

/** Where `this` of the component is asked for. */
function ownThis(host: ScriptHost, span: Span): Node[] {
  const found: Node[] = [];
  walk(host.script.program, (node) => {
    if (node.range[1] <= span.start || node.range[0] >= span.end) return false;
    const isInside = node.range[0] >= span.start && node.range[1] <= span.end;
    if (isInside && isFunction(node) && node.type !== 'ArrowFunctionExpression') return false;
    if (isInside && node.type === 'ThisExpression') found.push(node);
    return undefined;
  });
  return found;
}

/** Whether a value is asked for whenever the code runs. */
function isAskedFor(host: ScriptHost, read: Node, spans: readonly Span[]): boolean {
  const around = host.scopes.ancestorsOf(read);
  const inside = (node: Node) => spans.some((s) => node.range[0] >= s.start && node.range[1] <= s.end);
  const root = [read, ...around].filter(inside).at(-1)!;
  if (!runsSurely(read, root, host.scopes)) return false;
  // Statements of the piece in front of it may have left.
  const list = host.scopes.parentOf(root);
  const isListed = list?.type === 'BlockStatement' || list?.type === 'Program';
  return !isListed || list.body.every((s) => !inside(s) || s.range[0] >= root.range[0] || !mayLeave(s));
}

interface Site {
  readonly node: Node;
  readonly words: readonly string[];
}

/**
 * A record whole where three members of it and more are asked for, or it is itself, or a member is only asked for in some cases: it
 * may be missing in the others. Else each member.
 */
function valuesOf(host: ScriptHost, reads: readonly Read[], spans: readonly Span[]): Map<string, Site[]> {
  const own = ({ further }: Read) => further.at(-1);
  const isSure = (read: Read) => isAskedFor(host, read.first, spans);
  const isSafe = (read: Read) =>
    read.further.length === 0 || reads.some((r) => isSure(r) && r.names.join('.') === read.names.join('.'));
  const deeper = new Set(reads.map((r) => r.names.slice(r.fixed.length + 1).join('.')));
  const isWhole = deeper.has('') || deeper.size > 2 || !reads.every(isSafe);
  const result = new Map<string, Site[]>();
  for (const read of reads) {
    const whole = read.fixed.at(-1) ?? read.first;
    const node = isWhole ? whole : (own(read) ?? whole);
    const words = isWhole ? read.names.slice(0, read.fixed.length + 1) : read.names;
    const code = host.text.slice(read.first.range[0], nameSpan(node).end);
    result.set(code, [...(result.get(code) ?? []), { node, words }]);
  }
  return result;
}

/** Words that say nothing without what they are said of. */
const OF_SOMETHING =
  /^(?:id|_id|uid|key|name|length|type|title|index|data|item|text|label|code|size|count|date|url|status|page|slug)$/;

/** `hiveId` for `this.props.hive.id`, `query` for `query.value`. */
function nameFor({ holds }: ScriptHost, words: readonly string[]): string {
  const said = words.filter((word) => !holds(word));
  const last = said.at(-1) ?? words.at(-1)!;
  const before = said.at(-2);
  const name =
    before !== undefined && OF_SOMETHING.test(last) && !/s$/.test(before)
      ? before + capital(last.replace(/^_+/, ''))
      : last;
  const own = inputName(name.replace(/^\$+|^_+/, '') || 'value');
  return isReserved(own) ? `${own}Value` : own;
}

function replaced(host: ScriptHost, node: Node, name: string): Edit {
  const span = nameSpan(node);
  const own = host.text.slice(span.start, span.end);
  let first: Node = node;
  while (first.type === 'MemberExpression') first = first.object;
  const start = first.range[0];
  const parent = host.scopes.parentOf(node);
  const isKey = parent?.type === 'Property' && parent.value === node && !parent.shorthand && !parent.computed;
  if (isKey && parent.key.type === 'Identifier' && parent.key.name === name)
    return { start: parent.range[0], end: parent.range[1], text: name };
  const isShort = parent?.type === 'Property' && parent.shorthand && name !== own;
  return { start, end: span.end, text: isShort ? `${own}: ${name}` : name };
}
