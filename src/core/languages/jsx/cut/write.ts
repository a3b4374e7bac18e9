/** Writing the new component, its use, and its file, in the manner of the project. */
import type { Scene } from './scene.js';
import type { TSESTree } from '@typescript-eslint/types';
import type { Span, Edit } from '../../../text/edits.js';
import { indentAt, reindent, relocated as relocatedText } from '../../../text/layout.js';
import { bare, isFunction, spanOf, walk } from '../../../script/walk.js';
import type { Node } from '../../../script/parser.js';
import { isJsx } from '../markup.js';
import { isPropsObject } from '../../../script/scopes.js';
import type { Habits } from './habits.js';
import type { Interface, NamedProp } from './interface.js';
import type { Moves } from './moves.js';

/** Spans whose lines must not be moved: template strings and strings over several lines, after rewriting. */
function fixedSpans(nodes: readonly Node[]): Span[] {
  const result: Span[] = [];
  for (const root of nodes) {
    walk(root, (node) => {
      if (node.type === 'TemplateElement' || (node.type === 'Literal' && typeof node.value === 'string'))
        result.push(spanOf(node));
      return undefined;
    });
  }
  return result;
}

/** Moves a span to another indentation; strings over several lines are kept as they are. */
function relocated(
  scene: Scene,
  span: Span,
  nodes: readonly Node[],
  props: readonly NamedProp[],
  to: string,
  more: readonly Edit[] = [],
): string {
  const edits = props.flatMap(({ name, crossing }) => crossing.sites.map((s) => ({ ...s.span, text: s.write(name) })));
  return relocatedText(scene.text, span, to, [...edits, ...more], fixedSpans(nodes));
}

/** The same without the attributes that stay with the use. */
export function movedText(
  scene: Scene,
  span: Span,
  nodes: readonly Node[],
  props: readonly NamedProp[],
  to: string,
  staying: readonly TSESTree.JSXAttribute[] = [],
): string {
  return relocated(
    scene,
    span,
    nodes,
    props,
    to,
    staying.map((one) => removedAttribute(scene, one)),
  );
}

export interface Written {
  readonly component: string;
  /** The export that stands behind everything else, where there is one. */
  readonly tail: string;
  readonly use: string;
  /** The type declaration of the props, when there is one. */
  readonly props: string;
}

export function writeComponent(
  scene: Scene,
  shape: Interface,
  moves: Moves,
  habits: Habits,
  exported: 'named' | 'default' | 'none',
  propsName: string,
): Written {
  const { name } = scene.request;
  const nl = habits.lineEnd;
  const unit = habits.indent;
  const generics = shape.parameters.map((p) => scene.slice(p));
  const applied = shape.parameters.map((p) => p.name.name);
  const isAsync = holdsAwait(scene, moves);

  const whole = wholeProps(scene, shape);
  const names = whole ? [] : shape.props.map((p) => p.name);
  const typeRef = propsName + (applied.length ? `<${applied.join(', ')}>` : '');
  const annotation = habits.typed && names.length ? `: ${typeRef}` : '';
  const bound = (whole ? [] : shape.props).map(({ name: prop, crossing }) =>
    crossing.given?.default === undefined ? prop : `${prop} = ${crossing.given.default}`,
  );
  const pattern = names.length ? `{${habits.pad}${bound.join(', ')}${habits.pad}}` : '';
  const typeParams = generics.length
    ? `<${generics.join(', ')}${habits.arrow && generics.length === 1 ? ',' : ''}>`
    : '';
  const headOf = (given: string) => {
    const params = given && habits.inner + given + habits.inner;
    return habits.arrow
      ? `const ${name} = ${isAsync ? 'async ' : ''}${typeParams}(${params}) =>`
      : `${isAsync ? 'async ' : ''}function ${name}${typeParams}(${params})`;
  };
  const prefix = exported === 'named' ? 'export ' : exported === 'default' && !habits.arrow ? 'export default ' : '';
  let head =
    prefix + headOf(whole ? whole.name + (habits.typed ? `: ${whole.type ?? 'any'}` : '') : pattern + annotation);
  if (head.length + 2 > habits.width && names.length) {
    const comma = habits.trailingComma ? ',' : '';
    head = prefix + headOf(`{${nl}${bound.map((n) => unit + n).join(`,${nl}`)}${comma}${nl}}${annotation}`);
  }

  const statements = moves.statements.map((s, i) => {
    const span = withLeadingComments(scene, spanOf(s));
    const before = moves.statements[i - 1];
    // A blank line that stood between two of them, or a gap where others stood, is kept.
    const apart = before && /\S|\n[ \t]*\r?\n/.test(scene.text.slice(before.range[1], span.start).replace(/^;/, ''));
    return (
      (apart && (/\n/.test(scene.slice(s)) || span.start < s.range[0]) ? nl : '') +
      unit +
      relocated(scene, span, [s], shape.props, unit)
    );
  });
  const conciseArrow = habits.arrow && statements.length === 0;
  const bodyIndent = conciseArrow ? unit : unit + unit;
  const shown = writeShown(scene, shape, habits, bodyIndent, conciseArrow);
  const semi = habits.semi;
  const returned =
    shown.multiline && !shown.bare ? `(${nl}${bodyIndent}${shown.text}${nl}${conciseArrow ? '' : unit})` : shown.text;
  let component: string;
  if (conciseArrow) component = `${head} ${returned}${semi}`;
  else {
    const between = statements.length ? nl : '';
    component = `${head} {${nl}${statements.join(nl)}${statements.length ? nl + between : ''}${unit}return ${returned}${semi}${nl}}${habits.arrow ? semi : ''}`;
  }
  const comment = scene.comment;
  if (comment) component = scene.text.slice(comment.range[0] + 1, comment.range[1] - 1).trim() + nl + component;
  const tail = exported === 'default' && habits.arrow ? `export default ${name}${semi}` : '';
  return {
    component,
    tail,
    use: writeUse(scene, shape, habits),
    props: habits.typed && names.length ? writePropsType(shape, habits, propsName, generics) : '',
  };
}

function writePropsType(shape: Interface, habits: Habits, propsName: string, generics: readonly string[]): string {
  const nl = habits.lineEnd;
  const params = generics.length ? `<${generics.join(', ')}>` : '';
  const members = shape.props.map(
    (p) => `${habits.indent}${p.name}${p.optional ? '?' : ''}: ${p.type ?? 'any'}${habits.memberEnd}`,
  );
  return habits.typeKeyword === 'type'
    ? `type ${propsName}${params} = {${nl}${members.join(nl)}${nl}}${habits.semi}`
    : `interface ${propsName}${params} {${nl}${members.join(nl)}${nl}}`;
}

/** What the component returns: the region, in a fragment only where JSX needs one. */
function writeShown(
  scene: Scene,
  shape: Interface,
  habits: Habits,
  indent: string,
  concise: boolean,
): { text: string; multiline: boolean; bare?: boolean } {
  const span = scene.region;
  const removals = scene.keys.map((key) => removedAttribute(scene, key));
  const value = returnable(scene);
  if (value) {
    const own = spanOf(value);
    // A choice brings parentheses of its own.
    if (!isJsx(value) && !concise)
      return {
        text: relocated(scene, own, [value], shape.props, habits.indent, removals),
        multiline: true,
        bare: true,
      };
    const text = relocated(scene, own, [value], shape.props, indent, removals);
    return { text, multiline: text.includes('\n') || text.length + indent.length + 9 > habits.width };
  }
  const nl = habits.lineEnd;
  const [before, after] = openEnds(scene);
  const text = relocated(scene, span, scene.nodes, shape.props, indent + habits.indent, removals);
  const inner = scene.amongChildren ? text : `{${text}}`;
  if (!inner.includes('\n') && inner.length + indent.length < habits.width - 14)
    return { text: `<>${inner}</>`, multiline: false };
  const head = before ? '<>' : `<>${nl}${indent}${habits.indent}`;
  const tail = after ? '</>' : `${nl}${indent}</>`;
  return { text: head + inner + tail, multiline: true };
}

/** The expression that can be returned as it stands: one element, a choice between elements, or any code outside of tags. */
function returnable(scene: Scene): Node | undefined {
  if (scene.root) return bare(scene.nodes[0]!);
  const only = scene.nodes.length === 1 ? scene.nodes[0]! : undefined;
  if (!only) return undefined;
  const inner =
    only.type === 'JSXExpressionContainer' ? bare(only.expression) : scene.amongChildren ? undefined : bare(only);
  return inner && isChoice(inner) ? inner : undefined;
}

function isChoice(node: Node): boolean {
  const inner = bare(node);
  if (isJsx(inner)) return true;
  if (inner.type === 'Literal') return inner.value === null;
  return inner.type === 'ConditionalExpression' && isChoice(inner.consequent) && isChoice(inner.alternate);
}

/** Whether white space at either end of the region counts, so that no line break may be put there. */
function openEnds(scene: Scene): [boolean, boolean] {
  const first = scene.nodes[0]!;
  const last = scene.nodes[scene.nodes.length - 1]!;
  const counts = (node: Node, atStart: boolean) => {
    if (node.type !== 'JSXText') return false;
    const raw = scene.slice(node);
    const rendered = scene.dialect.rendered(raw);
    return atStart ? /^\s/.test(raw.slice(rendered.start)) : /\s$/.test(raw.slice(0, rendered.end));
  };
  return [counts(first, true), counts(last, false)];
}

/** Takes an attribute away: its line where it has one to itself, else the white space before it as well. */
function removedAttribute(scene: Scene, attribute: TSESTree.JSXAttribute): Edit {
  const text = scene.text;
  let [start, end] = attribute.range;
  while (/[ \t]/.test(text[start - 1]!)) start--;
  const line = /^[ \t]*\r?\n/.exec(text.slice(end));
  if (text[start - 1] === '\n' && line) end += line[0].length;
  return { start, end, text: '' };
}

export function writeUse(scene: Scene, shape: Interface, habits: Habits): string {
  const { name } = scene.request;
  const indent = indentAt(scene.text, scene.region.start);
  const braced = (code: string) => `{${habits.inner}${code}${habits.inner}}`;
  const whole = wholeProps(scene, shape);
  const column = scene.region.start - (scene.text.lastIndexOf('\n', scene.region.start - 1) + 1);
  const attributes = scene.key ? [scene.slice(scene.key)] : [];
  let slot: string | undefined;
  if (whole) attributes.push(braced(`...${whole.crossing.value}`));
  for (const prop of whole ? [] : shape.props) {
    const { asFile } = scene.dialect;
    const { slot: isSlot, value } = prop.crossing;
    if (!isSlot) attributes.push(`${prop.name}=${braced(valueAt(scene, prop, indent + habits.indent))}`);
    else slot = (slot ?? '') + (asFile ? asFile.content(prop.name, value) : braced(value));
  }
  return useText(name, attributes, slot, { indent, column }, habits);
}

/** A use of a component where `indent` and `column` say; on several lines where one would be too long. */
export function useText(
  name: string,
  attributes: readonly string[],
  slot: string | undefined,
  { indent, column }: { readonly indent: string; readonly column: number },
  habits: Habits,
): string {
  const nl = habits.lineEnd;
  const head = `<${[name, ...attributes].join(' ')}`;
  const flat = !attributes.some((a) => a.includes('\n'));
  const oneLine = slot === undefined ? `${head} />` : `${head}>${slot}</${name}>`;
  if (flat && !slot?.includes('\n') && column + oneLine.length <= habits.width) return oneLine;
  const inner = indent + habits.indent;
  // Blanks at either end of the content are text; at the end of a line they would be none.
  const [before, after] = [/^[ \t]/.test(slot ?? '') ? '' : nl + inner, /[ \t]$/.test(slot ?? '') ? '' : nl + indent];
  const end = slot === undefined ? '/>' : `>${before}${slot}${after}</${name}>`;
  const oneHead = slot !== undefined && flat && column + head.length < habits.width;
  if (oneHead || attributes.length === 0) return slot === undefined ? `${head} />` : head + end;
  return `<${name}${attributes.map((a) => nl + inner + a).join('')}${nl}${indent}${end}`;
}

/** Set when all that crosses is the whole props object of the host: then it is handed on as it is. */
function wholeProps(scene: Scene, shape: Interface): NamedProp | undefined {
  const only = shape.props.length === 1 ? shape.props[0]! : undefined;
  return only?.crossing.variable &&
    isPropsObject(scene.scopes, only.crossing.variable) &&
    only.crossing.value === only.name
    ? only
    : undefined;
}

/** A function that stays with the host keeps its shape, moved to where the use stands. */
function valueAt(scene: Scene, { crossing }: NamedProp, to: string): string {
  if (!crossing.value.includes('\n') || !crossing.typed) return crossing.value;
  return reindent(crossing.value, indentAt(scene.text, crossing.typed.start), to);
}

function holdsAwait(scene: Scene, moves: Moves): boolean {
  let found = false;
  for (const root of [...scene.nodes, ...moves.statements]) {
    walk(root, (node) => {
      if (node.type === 'AwaitExpression') found = true;
      return !found && !isFunction(node);
    });
  }
  return found;
}

/** A statement with the comments right above it. */
export function withLeadingComments(scene: Scene, span: Span): Span {
  let start = span.start;
  const comments = scene.script.comments;
  for (let i = comments.length - 1; i >= 0; i--) {
    const comment = comments[i]!;
    if (comment.end > start) continue;
    const between = scene.text.slice(comment.end, start);
    if (!/^[ \t]*\r?\n[ \t]*$/.test(between) && !(comment.block && /^[ \t]*$/.test(between))) break;
    const lineStart = scene.text.lastIndexOf('\n', comment.start - 1) + 1;
    if (scene.text.slice(lineStart, comment.start).trim()) break;
    start = comment.start;
  }
  return { start, end: span.end };
}
