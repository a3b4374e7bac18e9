/** Everything about a region and its surroundings that the parts of a cut ask for. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Span } from '../../../text/edits.js';
import type { CutRequest } from '../../../language/cutting.js';
import type { Node, ParsedScript } from '../../../script/parser.js';
import type { Opener } from '../../../script/effects.js';
import { ScriptScopes, type Variable } from '../../../script/scopes.js';
import { bare, childrenOf, isFunction, nodeWithin, runsNow, spanOf, type FunctionNode } from '../../../script/walk.js';
import { lineEndOf } from '../../../text/layout.js';
import { JSX, type Dialect, type FirstImport } from '../dialect.js';
import { isJsx } from '../markup.js';

export class Scene {
  readonly text: string;
  readonly scopes: ScriptScopes;
  readonly region: Span;
  /** The node that directly holds the region's nodes. */
  readonly holder: Node;
  /** The region's own syntax, in text order. */
  readonly nodes: readonly Node[];

  constructor(
    readonly request: CutRequest,
    readonly script: ParsedScript,
    scopes = ScriptScopes.of(script),
    readonly dialect: Dialect = JSX,
  ) {
    this.text = request.file.text;
    this.scopes = scopes;
    this.region = { start: request.region.start, end: request.region.end };
    const { holder, nodes } = locate(script.program, this.region);
    this.holder = holder;
    this.nodes = nodes;
  }

  /** Whether the region stands between tags, rather than where an expression stands. */
  get amongChildren(): boolean {
    return isJsx(this.holder);
  }

  /** The only node of the region, when it is an element or a fragment. */
  get root(): TSESTree.JSXElement | TSESTree.JSXFragment | undefined {
    const only = this.nodes.length === 1 ? this.nodes[0]! : undefined;
    if (!only) return undefined;
    const inner = bare(only);
    return isJsx(inner) ? inner : undefined;
  }

  /** Where an import goes that is the first of its file. */
  get firstImport(): FirstImport | undefined {
    return this.dialect.asFile?.firstImport(this.text, lineEndOf(this.text));
  }

  /** Whether a name stands for a tag that shows what was passed in. */
  isOutlet(name: Node): boolean {
    return this.dialect.asFile !== undefined && this.text[name.range[0]] === '<';
  }

  /** The whole of the tag that a name stands for. */
  outletOf(name: Node): Span {
    const parent = this.scopes.parentOf(name);
    return spanOf(parent?.type === 'LogicalExpression' && this.isOutlet(name) ? parent : name);
  }

  /** What stands in outlets of the region for the case that nothing is passed: it stays with the use. */
  get fallbacks(): Span[] {
    if (!this.dialect.asFile) return [];
    const names = this.scopes.within(this.region).map(({ identifier }) => identifier);
    return names
      .filter((name) => this.isOutlet(name))
      .map((name) => ({ start: name.range[1], end: this.outletOf(name).end }))
      .filter(({ start, end }) => end > start);
  }

  /** Ancestors of the region, innermost first, the holder included. */
  get above(): Node[] {
    return [this.holder, ...this.scopes.ancestorsOf(this.holder)];
  }

  /** Functions around the region, innermost first. */
  get functions(): FunctionNode[] {
    return this.above.filter(isFunction);
  }

  /** The `key` of the region's root: it stays with the use, in the host's terms. */
  get key(): TSESTree.JSXAttribute | undefined {
    return this.keys[0];
  }

  /** That key, wherever the region gives an element: `row.on && <td key={row.id}>` has one as well. */
  get keys(): readonly TSESTree.JSXAttribute[] {
    return (this.#keys ??= this.#findKeys());
  }

  #keys: readonly TSESTree.JSXAttribute[] | undefined;

  #findKeys(): readonly TSESTree.JSXAttribute[] {
    const only = this.nodes.length === 1 ? this.nodes[0]! : undefined;
    if (!only) return [];
    const leaves = elementsGiven(only.type === 'JSXExpressionContainer' ? only.expression : only);
    const keys = leaves.map((leaf) => leaf.type === 'JSXElement' && keyOf(leaf, this.dialect.own));
    const own = keys.filter((key) => key !== undefined && key !== false);
    const [first] = own;
    // Where several elements are given, one key stands for all of them, or none.
    if (!first || own.length < leaves.length || own.some((k) => this.slice(k) !== this.slice(first))) return [];
    return own;
  }

  /** A comment between tags right above the region belongs to it. */
  get comment(): TSESTree.JSXExpressionContainer | undefined {
    const holder = this.holder;
    if (!isJsx(holder)) return undefined;
    const before = holder.children.filter(
      (c) => c.range[1] <= this.nodes[0]!.range[0] && !(c.type === 'JSXText' && !this.slice(c).trim()),
    );
    const last = before[before.length - 1];
    const isComment = last?.type === 'JSXExpressionContainer' && last.expression.type === 'JSXEmptyExpression';
    return isComment && /^\s*$/.test(this.text.slice(last.range[1], this.region.start)) ? last : undefined;
  }

  /** Whether a part of the region belongs to the place and stays with its use. */
  stays(node: Node): boolean {
    return this.request.inputs?.some((input) => input.stays.some((span) => nodeWithin(node, span))) ?? false;
  }

  inRegion(node: Node): boolean {
    return nodeWithin(node, this.region);
  }

  slice(node: Node | Span): string {
    const span = 'range' in node ? spanOf(node) : node;
    return this.text.slice(span.start, span.end);
  }

  /** Functions between a node of the region and the region's edge, outermost first, that may run later. */
  laterFunctions(node: Node, limit: (n: Node) => boolean = (n) => this.inRegion(n)): FunctionNode[] {
    const result: FunctionNode[] = [];
    for (const ancestor of this.scopes.ancestorsOf(node)) {
      if (!limit(ancestor)) break;
      if (isFunction(ancestor) && !runsNow(ancestor, this.scopes.parentOf(ancestor))) result.unshift(ancestor);
    }
    return result;
  }

  /** The function of this file that a name stands for. */
  readonly opened: Opener = (identifier) => {
    const definition = this.scopes.variableOf(identifier)?.defs[0];
    const node =
      definition?.type === 'FunctionName'
        ? definition.node
        : definition?.type === 'Variable'
          ? definition.node.init
          : undefined;
    const fn = node ? bare(node) : undefined;
    return fn && isFunction(fn) ? { fn, scopes: this.scopes, open: this.opened } : undefined;
  };

  declaredIn(variable: Variable, spans: readonly Span[]): boolean {
    return variable.identifiers.some((id) => spans.some((span) => nodeWithin(id, span)));
  }
}

/** The elements that an expression gives, one in each case. */
function elementsGiven(code: Node): Node[] {
  const node = bare(code);
  if (isJsx(node)) return [node];
  if (node.type === 'ConditionalExpression')
    return [...elementsGiven(node.consequent), ...elementsGiven(node.alternate)];
  if (node.type === 'LogicalExpression')
    return [...(node.operator === '&&' ? [] : elementsGiven(node.left)), ...elementsGiven(node.right)];
  return [];
}

function keyOf(element: TSESTree.JSXElement, own: string): TSESTree.JSXAttribute | undefined {
  return element.openingElement.attributes.find(
    (a): a is TSESTree.JSXAttribute => a.type === 'JSXAttribute' && a.name.name === own,
  );
}

/** The holder of a span and the nodes in it: children of a tag, or one expression. */
function locate(program: Node, span: Span): { holder: Node; nodes: Node[] } {
  let holder: Node = program;
  let nodes: Node[] = [];
  const descend = (node: Node): void => {
    const inside: Node[] = [];
    let next: Node | undefined;
    for (const child of childrenOf(node)) {
      // What stands nowhere was made by us, as the name of a component that is a file.
      if (child.range[0] === child.range[1]) continue;
      // A text node may reach beyond the part of it that is rendered.
      const covers = child.range[0] <= span.start && child.range[1] >= span.end;
      const touched = child.type === 'JSXText' && child.range[1] > span.start && child.range[0] < span.end;
      if (touched || nodeWithin(child, span)) inside.push(child);
      else if (covers) next = child;
    }
    if (inside.length > 0) {
      holder = node;
      nodes = inside;
    } else if (next) descend(next);
  };
  descend(program);
  return { holder, nodes };
}
