/**
 * The port through which the core gets the tree of a Vue file. The parser is Vue's own; the host hands it in, so that it
 * is loaded only when a Vue file is met.
 */
import type { ElementNode, RootNode } from '@vue/compiler-dom';
import type { Ports } from '../../language/ports.js';

export type {
  AttributeNode,
  CommentNode,
  DirectiveNode,
  ElementNode,
  ExpressionNode,
  InterpolationNode,
  RootNode,
  SimpleExpressionNode,
  TemplateChildNode,
  TextNode,
} from '@vue/compiler-dom';

/** Kinds of nodes as the parser numbers them. */
export const KIND = { element: 1, text: 2, comment: 3, interpolation: 5, attribute: 6, directive: 7 } as const;
/** What a tag stands for. */
export const TAG = { element: 0, component: 1, slot: 2, template: 3 } as const;

export interface TemplateError {
  readonly message: string;
  /** UTF-16 offset. */
  readonly offset: number;
}

export interface ParsedTemplate {
  /** Offsets are those of the text; white space is condensed as Vue renders it, comments are kept. */
  readonly root: RootNode;
  readonly errors: readonly TemplateError[];
}

/** What the host hands in for Vue. */
export function templateParser({ parsers }: Ports): TemplateParser | undefined {
  return parsers?.vue as TemplateParser | undefined;
}

export interface TemplateParser {
  /** `sfc`: the blocks of a file, with the tree of its template; `html`: markup alone. */
  parse(text: string, mode: 'sfc' | 'html'): ParsedTemplate;
}

/** The block of a name that stands first in a file. */
export function blockOf(root: RootNode, tag: string, fits: (node: ElementNode) => boolean = () => true) {
  return blocksOf(root, tag).find(fits);
}

export function blocksOf(root: RootNode, tag: string): ElementNode[] {
  return root.children.filter(
    (child): child is ElementNode => child.type === (KIND.element as number) && 'tag' in child && child.tag === tag,
  );
}
