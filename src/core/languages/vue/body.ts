/** What the scripts of a Vue file come to before the component is put together, and what setup and options do alike for it. */
import type { Node } from '../../script/parser.js';
import * as make from '../../script/make.js';
import { rewrite } from '../../script/rewrite.js';
import { bare, boundNames, spanOf } from '../../script/walk.js';

/** What the scripts of a file come to. */
export interface Body {
  readonly imports: readonly Node[];
  /** Statements at the top of the module. */
  readonly module: readonly Node[];
  /** Statements of the component, in order. */
  readonly own: readonly Node[];
  /** Descriptions that are no code of the component: props, events, its name. */
  readonly described: ReadonlyMap<string, Node>;
  /** Names that the template sees as they are. */
  readonly visible: ReadonlySet<string>;
  /** Props that the script reads without having declared them here. */
  readonly reads: ReadonlySet<string>;
}

/** The name by which the lowered component calls what listens to an event. */
export function emitBinding(event: string): string {
  return `emit:${event}`;
}

/** An emit of a literal event as the call that it comes to; undefined for all else. */
export function emitCall(node: Node, events: Set<string>, isEmit: (callee: Node) => boolean): Node | undefined {
  if (node.type !== 'CallExpression' || !isEmit(bare(node.callee))) return undefined;
  const [first, ...rest] = node.arguments;
  if (first?.type !== 'Literal' || typeof first.value !== 'string') return undefined;
  events.add(first.value);
  const callee = make.identifier(emitBinding(first.value), spanOf(node.callee));
  const inside = (argument: Node) => rewrite(argument, (n) => emitCall(n, events, isEmit));
  return make.call(callee, rest.map(inside), spanOf(node));
}

/** Names that a statement at the top of a module declares or imports. */
export function declaredNames(statement: Node): string[] {
  const node = statement.type === 'ExportNamedDeclaration' && statement.declaration ? statement.declaration : statement;
  if (node.type === 'ImportDeclaration') return node.specifiers.map((s) => s.local.name);
  if (node.type === 'VariableDeclaration') return node.declarations.flatMap((d) => boundNames(d.id));
  return 'id' in node && node.id?.type === 'Identifier' ? [node.id.name] : [];
}
