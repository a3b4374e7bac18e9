/** Small questions about a name in a region: what is done to it, and whose it is. */
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { bare } from '../../../script/walk.js';
import type { Sfc } from '../sfc.js';
import type { Scene } from './scene.js';

/** Members of an instance that mean another thing in another component. */
const OWN = new Set(
  '$attrs $slots $scopedSlots $listeners $refs $el $parent $children $props $data $options $emit'.split(' '),
);

/** What translates: with messages in a block of the file, another thing in another file. */
const TRANSLATES = /^\$(?:t|tc|te|tm|rt|d|n)$/;

/** Methods of lists, maps and sets that change them. */
export const CHANGING: ReadonlySet<string> = new Set(
  'push pop shift unshift splice sort reverse fill copyWithin set add delete clear'.split(' '),
);

/** Whether a name of the instance means another thing in another component. */
export function isOwn({ sfc }: Pick<Scene, 'sfc'>, name: string): boolean {
  return OWN.has(name) || isTranslated(sfc, name);
}

export function isTranslated({ text }: Sfc, name: string): boolean {
  return TRANSLATES.test(name) && /^<i18n\b/m.test(text);
}

/** Declared at the top of the host's module, rather than imported: handed over as a value. */
export function isDeclaredHere(scene: Scene, variable: Variable): boolean {
  return !scene.lowered.scopes.isImport(variable) && variable.name !== scene.lowered.name;
}

/** `form.name = …`, `count++`, `delete form.name`: what hangs on a name is changed. */
export function writesInto(scene: Scene, identifier: Node): boolean {
  let node = identifier;
  for (let parent = scene.lowered.scopes.parentOf(node); parent; parent = scene.lowered.scopes.parentOf(node)) {
    if (parent.type === 'MemberExpression' && parent.object === node) node = parent;
    else if (bare(parent) !== parent || parent.type === 'ChainExpression') node = parent;
    else
      return (
        (parent.type === 'AssignmentExpression' && parent.left === node) ||
        parent.type === 'UpdateExpression' ||
        (parent.type === 'UnaryExpression' && parent.operator === 'delete')
      );
  }
  return false;
}

/** Called, by itself or by a method of it. */
export function isCalled(scene: Scene, identifier: Node): boolean {
  let node = identifier;
  for (let parent = scene.lowered.scopes.parentOf(node); parent; parent = scene.lowered.scopes.parentOf(node)) {
    if (parent.type === 'CallExpression') return parent.callee === node;
    if (parent.type !== 'ChainExpression' && (parent.type !== 'MemberExpression' || parent.object !== node))
      return false;
    node = parent;
  }
  return false;
}
