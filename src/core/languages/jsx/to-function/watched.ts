/** The pattern of a class that does something when it comes and again when some of what it is given has changed. */
import type { Node } from '../../../script/parser.js';
import { bare, isFunction, walk, type FunctionNode } from '../../../script/walk.js';
import type { ClassComponent } from './class-component.js';

export interface Watched {
  readonly kind: 'prop' | 'state';
  readonly name: string;
}

/** What it watches: `if (before.id !== this.props.id) { … }` with the same in it as when it comes, and nothing when it goes. */
export function watched(component: ClassComponent): readonly Watched[] | undefined {
  const { mount, update, unmount } = component;
  if (!mount || !update || unmount || update.body.type !== 'BlockStatement' || mount.async !== update.async)
    return undefined;
  const [only, more] = update.body.body;
  if (only?.type !== 'IfStatement' || more || only.alternate) return undefined;
  const names = comparedIn(component, only.test);
  if (!names) return undefined;
  let asksBefore = false;
  walk(only.consequent, (node) => {
    asksBefore ||= component.roleOf(node)?.kind === 'before';
    return !asksBefore;
  });
  const inside = only.consequent.type === 'BlockStatement' ? only.consequent.body : [only.consequent];
  return !asksBefore && saying(component, inside) === saying(component, bodyOf(mount)) ? names : undefined;
}

function bodyOf(fn: FunctionNode): readonly Node[] {
  return fn.body.type === 'BlockStatement' ? fn.body.body : [fn.body];
}

function saying({ text }: ClassComponent, statements: readonly Node[]): string {
  return statements
    .map((s) =>
      text
        .slice(...s.range)
        .replace(/\s+/g, ' ')
        .replace(/;$/, ''),
    )
    .join(';');
}

/** `a.x !== b.x || …`, of what was before and what is. */
function comparedIn(component: ClassComponent, test: Node): Watched[] | undefined {
  const node = bare(test);
  if (node.type === 'LogicalExpression' && node.operator === '||') {
    const [left, right] = [comparedIn(component, node.left), comparedIn(component, node.right)];
    return left && right ? [...left, ...right] : undefined;
  }
  if (node.type !== 'BinaryExpression' || node.operator !== '!==' || isFunction(node.left)) return undefined;
  const [left, right] = [component.roleOf(node.left), component.roleOf(bare(node.right))];
  const [before, now] = left?.kind === 'before' ? [left, right] : [right, left];
  if (before?.kind !== 'before' || now?.kind !== before.of || now.name !== before.name || now.otherwise)
    return undefined;
  return [{ kind: before.of, name: before.name }];
}
