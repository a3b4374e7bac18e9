/** Finding the code in a template: every interpolation, directive value and list of names that is bound. */
import type { Piece } from './expressions.js';
import { decoded, isHandler } from './expressions.js';
import { KIND, type AttributeNode, type DirectiveNode, type ElementNode, type TemplateChildNode } from './template.js';

export function piecesOf(nodes: readonly TemplateChildNode[], text: string): Piece[] {
  const pieces: Piece[] = [];
  const add = (kind: Piece['kind'], start: number, end: number, source = text.slice(start, end)) => {
    if (source.trim()) pieces.push({ kind, offset: start, source });
  };
  const visit = (node: TemplateChildNode): void => {
    if (node.type === (KIND.interpolation as number)) {
      const { start, end } = (node as { content: { loc: ElementNode['loc'] } }).content.loc;
      add('value', start.offset, end.offset);
    }
    if (node.type !== (KIND.element as number)) return;
    const element = node as ElementNode;
    for (const prop of element.props) {
      if (isDirective(prop)) directive(prop);
      else if (prop.name === 'slot-scope' || (prop.name === 'scope' && element.tag === 'template')) {
        const span = attributeCode(prop);
        if (span) add('parameters', span.start, span.end);
      }
    }
    element.children.forEach(visit);
  };
  const directive = (prop: DirectiveNode): void => {
    const { arg } = prop;
    if (arg && 'isStatic' in arg && !arg.isStatic) {
      const [start, end] = dynamicArgument(prop)!;
      add('value', start, end);
    }
    const span = codeSpan(prop);
    if (!span) return;
    const source = decoded(text.slice(span.start, span.end));
    if (prop.name === 'for') {
      const loop = loopParts(source);
      if (!loop) return add('value', span.start, span.end, source);
      add('parameters', span.start + loop.names.start, 0, source.slice(loop.names.start, loop.names.end));
      add('value', span.start + loop.source.start, 0, source.slice(loop.source.start, loop.source.end));
    } else if (prop.name === 'slot') add('parameters', span.start, span.end, source);
    else if (prop.name === 'on' && prop.arg && !isHandler(source)) add('statements', span.start, span.end, source);
    else add('value', span.start, span.end, source);
  };
  nodes.forEach(visit);
  return pieces;
}

export function isDirective(prop: ElementNode['props'][number]): prop is DirectiveNode {
  return prop.type === (KIND.directive as number);
}

export function directiveOf(node: ElementNode, ...names: readonly string[]): DirectiveNode | undefined {
  return node.props.find((p): p is DirectiveNode => isDirective(p) && names.includes(p.name));
}

/** Where the value of a plain attribute stands that is code all the same. */
export function attributeCode({ value }: AttributeNode): { start: number; end: number } | undefined {
  if (!value) return undefined;
  const quoted = /^["']/.test(value.loc.source) ? 1 : 0;
  return { start: value.loc.start.offset + quoted, end: value.loc.end.offset - quoted };
}

/** Where the value of a directive stands, its quotes left out; undefined where it has none. */
export function codeSpan({ exp }: DirectiveNode): { start: number; end: number } | undefined {
  return exp && { start: exp.loc.start.offset, end: exp.loc.end.offset };
}

/** Where the code of `:[name]` stands. */
export function dynamicArgument({ arg }: DirectiveNode): [number, number] | undefined {
  if (!arg || !('isStatic' in arg) || arg.isStatic) return undefined;
  const { start, end, source } = arg.loc;
  const inside = source.startsWith('[') ? 1 : 0;
  return [start.offset + inside, end.offset - inside];
}

export interface LoopParts {
  readonly names: { readonly start: number; readonly end: number };
  readonly source: { readonly start: number; readonly end: number };
}

/** `(hive, i) in hives` taken apart, relative to its start; brackets around the names are left out. */
export function loopParts(source: string): LoopParts | undefined {
  const match = /^(\s*\(?)([\s\S]*?)(\)?\s+(?:in|of)\s+)(\S[\s\S]*)$/.exec(source);
  if (!match) return undefined;
  const [, head, names, between, list] = match as unknown as [string, string, string, string, string];
  const open = head.includes('(');
  const text = open ? names : names + (between.startsWith(')') ? ')' : '');
  const start = head.length;
  const from = start + names.length + between.length;
  return { names: { start, end: start + text.length }, source: { start: from, end: from + list.length } };
}
