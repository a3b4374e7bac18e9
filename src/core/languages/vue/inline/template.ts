/** A piece of a Vue template with other code in the place of some of its names, as edits to its text. */
import type { Node } from '../../../script/parser.js';
import { nodeWithin, walk } from '../../../script/walk.js';
import type { Edit, Span } from '../../../text/edits.js';
import { Unwritable, quoted, type Substitution } from '../../substitution.js';
import { isElement, spanOf } from '../markup.js';
import { codeSpan, directiveOf, dynamicArgument, isDirective, loopParts } from '../pieces.js';
import { attributeOf } from '../sfc.js';
import {
  KIND,
  TAG,
  type DirectiveNode,
  type ElementNode,
  type InterpolationNode,
  type TemplateChildNode,
} from '../template.js';

export class TemplateText {
  readonly #known = new Map<string, Node[]>();

  constructor(
    readonly text: string,
    /** The lowered code that holds the template's. */
    readonly root: Node,
    readonly substitution: Substitution,
    /** What stands in the place of a slot; without it slots stay. `condition`: the directive that says when it is shown, as it is to be written. */
    readonly outlet?: (node: ElementNode, condition: string | undefined) => Edit[],
  ) {}

  /** Of what stands side by side: an element with those that are shown in its place otherwise. */
  edits(nodes: readonly TemplateChildNode[]): Edit[] {
    const edits: Edit[] = [];
    for (let i = 0; i < nodes.length; i++) {
      const node = nodes[i]!;
      if (!isElement(node) || !directiveOf(node, 'if')) {
        edits.push(...this.#node(node));
        continue;
      }
      const chain: ElementNode[] = [node];
      for (let next = i + 1; next < nodes.length; next++) {
        const other = nodes[next]!;
        if (isElement(other) && directiveOf(other, 'else', 'else-if')) chain.push(other);
        else if (this.text.slice(spanOf(other).start, spanOf(other).end).trim() !== '') break;
        i = next;
      }
      edits.push(...this.#chain(chain));
    }
    return edits;
  }

  /** Which of the elements of a choice are left, and under which conditions. */
  left(chain: readonly ElementNode[]): { readonly node: ElementNode; readonly isSure: boolean }[] {
    const left: { node: ElementNode; isSure: boolean }[] = [];
    for (const node of chain) {
      const directive = directiveOf(node, 'if', 'else-if');
      const at = directive && codeSpan(directive);
      const test = at && this.#nodeAt(at);
      const holds = test && this.substitution.holds(test);
      if (holds === false) continue;
      const isSure = holds === true || !directive;
      left.push({ node, isSure });
      if (isSure) break;
    }
    return left;
  }

  #chain(chain: readonly ElementNode[]): Edit[] {
    const left = this.left(chain);
    return chain.flatMap((node) => {
      const at = left.findIndex((l) => l.node === node);
      if (at < 0) return [this.gone(node)];
      const directive = directiveOf(node, 'if', 'else-if', 'else')!;
      const name = at === 0 ? (left[at]!.isSure ? undefined : 'if') : left[at]!.isSure ? 'else' : 'else-if';
      if (node.tagType === TAG.slot && this.outlet) return this.outlet(node, name && this.#condition(name, directive));
      if (name === directive.name) return this.#element(node);
      const { start } = spanOf(directive);
      if (name === undefined) {
        // Without its condition it would be a template of the page, which shows nothing.
        const isOnlyThat = node.tag === 'template' && node.props.length === 1;
        const own = isOnlyThat ? this.#tags(node) : [this.#without(spanOf(directive))];
        return [...own, ...this.#element(node, directive)];
      }
      if (name === 'else') return [{ ...spanOf(directive), text: 'v-else' }, ...this.#element(node, directive)];
      return [{ start, end: start + `v-${directive.name}`.length, text: `v-${name}` }, ...this.#element(node)];
    });
  }

  #condition(name: string, directive: DirectiveNode): string {
    const at = codeSpan(directive);
    if (name === 'else' || !at) return `v-${name}`;
    const code = this.textOf(at);
    const quote = code.includes('"') ? "'" : '"';
    if (code.includes(quote)) throw new Unwritable('a slot of it stands under a condition with quotes', this.root);
    return `v-${name}=${quote}${code}${quote}`;
  }

  /** An element without its tags. */
  #tags(node: ElementNode): Edit[] {
    const { start, end } = spanOf(node);
    const shown = node.children.filter((c) => this.text.slice(spanOf(c).start, spanOf(c).end).trim() !== '');
    const [first, last] = [shown[0], shown.at(-1)];
    if (!first || !last) return [{ start, end, text: '' }];
    return [
      { start, end: spanOf(first).start, text: '' },
      { start: spanOf(last).end, end, text: '' },
    ];
  }

  #node(node: TemplateChildNode): Edit[] {
    if (node.type === (KIND.interpolation as number)) return this.#interpolation(node as InterpolationNode);
    if (!isElement(node)) return [];
    return node.tagType === TAG.slot && this.outlet ? this.outlet(node, undefined) : this.#element(node);
  }

  /** An element that is not shown, with the line that it fills. */
  gone(node: TemplateChildNode): Edit {
    const { start, end } = spanOf(node);
    const before = /\r?\n[ \t]*$/.exec(this.text.slice(0, start))?.[0].length ?? 0;
    return { start: start - before, end, text: '' };
  }

  /** The code of a piece as it is to be written. */
  textOf(span: Span): string {
    const nodes = this.#nodesIn(span);
    return nodes.length === 1 ? this.substitution.textOf(nodes[0]!) : this.text.slice(span.start, span.end);
  }

  /** The syntax of a piece of code. */
  nodeOf(span: Span): Node | undefined {
    return this.#nodesIn(span)[0];
  }

  #element(node: ElementNode, done?: DirectiveNode): Edit[] {
    const directives = node.props.filter((p): p is DirectiveNode => p !== done && isDirective(p));
    if (node.props.some((p) => p.name === 'slot-scope')) throw new Unwritable('it is written for Vue 2', this.root);
    return [...directives.flatMap((prop) => this.#directive(prop, node)), ...this.edits(node.children)];
  }

  #without({ start, end }: Span): Edit {
    const before = /\s*$/.exec(this.text.slice(0, start))![0].length;
    return { start: start - before, end, text: '' };
  }

  #interpolation(node: InterpolationNode): Edit[] {
    const { loc } = node.content;
    const span = { start: loc.start.offset, end: loc.end.offset };
    const known = this.#constant(span);
    if (!known) return this.#code(span);
    const { value } = known;
    const whole = spanOf(node);
    if (typeof value !== 'string') return [{ ...whole, text: value === undefined ? '' : `{{ ${String(value)} }}` }];
    const isPlain = value !== '' && value === value.trim() && !/[<&{}]|\s{2}/.test(value);
    return isPlain ? [{ ...whole, text: value }] : [{ ...span, text: quoted(value) }];
  }

  #directive(prop: DirectiveNode, element: ElementNode): Edit[] {
    const at = codeSpan(prop);
    const dynamic = dynamicArgument(prop);
    const edits = dynamic ? this.#code({ start: dynamic[0], end: dynamic[1] }) : [];
    if (!at) {
      const same = prop.name === 'bind' && prop.arg && !dynamic ? this.#code(spanOf(prop.arg)) : [];
      // `:hive` stands for `:hive="hive"`.
      if (same.length > 0) return [{ start: spanOf(prop).end, end: spanOf(prop).end, text: `="${same[0]!.text}"` }];
      return edits;
    }
    if (prop.name === 'for') {
      const parts = loopParts(this.text.slice(at.start, at.end));
      if (!parts) return this.#code(at);
      const piece = ({ start, end }: Span) => this.#code({ start: at.start + start, end: at.start + end });
      return [...piece(parts.names), ...piece(parts.source)];
    }
    const isBound = prop.name === 'bind' && prop.arg && !dynamic && prop.modifiers.length === 0;
    const known = isBound ? this.#constant(at) : undefined;
    if (known) return [this.#attribute(prop, element, known.value)];
    return [...edits, ...this.#code(at, this.text[at.start - 1])];
  }

  /** A bound attribute whose value is known. */
  #attribute(prop: DirectiveNode, element: ElementNode, value: string | boolean | undefined): Edit {
    const span = spanOf(prop);
    const name = prop.arg!.loc.source;
    if (value === undefined) return this.#without(span);
    if (typeof value === 'string' && !attributeOf(element, name) && !/["&\n]/.test(value))
      return { ...span, text: `${name}="${value}"` };
    return { ...codeSpan(prop)!, text: typeof value === 'string' ? quoted(value) : String(value) };
  }

  /** A value that is known where it is all that stands in a place. */
  #constant(span: Span): { value: string | boolean | undefined } | undefined {
    const node = this.#nodeAt(span);
    const settled = node && this.substitution.settle(node);
    // What a decided condition leaves.
    if (settled?.kind === 'own' && settled.node !== node && settled.node.type === 'Literal')
      return typeof settled.node.value === 'string' ? { value: settled.node.value } : undefined;
    if (settled?.kind !== 'argument') return undefined;
    return settled.argument.kind === 'constant' ? { value: settled.argument.value } : undefined;
  }

  #nodeAt(span: Span): Node | undefined {
    const [piece] = this.#nodesIn(span);
    return piece?.type === 'JSXExpressionContainer' ? piece.expression : piece;
  }

  /** Edits in a piece of code; `quote`: what stands before it. */
  #code(span: Span, quote = ''): Edit[] {
    return this.#nodesIn(span)
      .flatMap((node) => this.substitution.edits(node))
      .map((edit) => {
        if (quote !== '"' || !edit.text.includes('"')) return edit;
        if (edit.text.includes("'")) throw new Unwritable('what is passed holds quotes of both kinds', this.root);
        return { ...edit, text: edit.text.replaceAll('"', "'") };
      });
  }

  /** The outermost lowered nodes of a piece of code. */
  #nodesIn(span: Span): Node[] {
    const key = `${span.start}-${span.end}`;
    let found = this.#known.get(key);
    if (found) return found;
    this.#known.set(key, (found = []));
    walk(this.root, (node) => {
      const [start, end] = node.range;
      if (start <= span.start && end >= span.end && !nodeWithin(node, span)) return undefined;
      if (end <= start || !nodeWithin(node, span)) return false;
      found.push(node);
      return false;
    });
    return found;
  }
}
