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
    /** What stands in the place of a slot; without it slots stay. */
    readonly outlet?: (node: ElementNode, self: TemplateText) => Edit[],
  ) {}

  edits(node: TemplateChildNode): Edit[] {
    if (node.type === (KIND.interpolation as number)) return this.#interpolation(node as InterpolationNode);
    if (!isElement(node)) return [];
    if (node.tagType === TAG.slot && this.outlet) return this.outlet(node, this);
    const condition = directiveOf(node, 'if');
    const at = condition && codeSpan(condition);
    const known = at && this.#constant(at);
    if (!known || (!known.value && this.#hasElse(node))) return this.#element(node);
    if (!known.value) return [this.gone(node)];
    if (this.#hasElse(node))
      throw new Unwritable('a condition of it is decided, and it shows something else otherwise', this.root);
    return [this.#without(spanOf(condition)), ...this.#element(node, condition)];
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
    return [
      ...directives.flatMap((prop) => this.#directive(prop, node)),
      ...node.children.flatMap((child) => this.edits(child)),
    ];
  }

  #hasElse(node: ElementNode): boolean {
    return /^\s*<[\w-]+[^>]*\sv-else/.test(this.text.slice(spanOf(node).end));
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
    const node = this.#nodesIn(span)[0];
    const settled = node && this.substitution.settle(node);
    if (settled?.kind !== 'argument') return undefined;
    return settled.argument.kind === 'constant' ? { value: settled.argument.value } : undefined;
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
