/** What a component binds and what it does: state, setters, refs, effects, handlers, loading, subscriptions. */
import { isHookName } from '../../script/quiet.js';
import type { TSESTree } from '@typescript-eslint/types';
import type { Binding, BindingKind, Deed } from '../../markup/model.js';
import type { Node } from '../../script/parser.js';
import { EFFECTS } from '../../script/quiet.js';
import { bare, boundNames, calleeName, isFunction, isThisState, spanOf, walk } from '../../script/walk.js';
import { deedOf } from '../deeds.js';
import type { ComponentNode } from './candidates.js';

const LIFECYCLE = new Set(
  'componentDidMount componentDidUpdate componentWillUnmount componentWillMount componentWillReceiveProps UNSAFE_componentWillMount UNSAFE_componentWillReceiveProps'.split(
    ' ',
  ),
);
export interface Doings {
  readonly bindings: readonly Binding[];
  readonly deeds: readonly Deed[];
}

export function readDoings(component: ComponentNode, skip: ReadonlySet<Node>): Doings {
  const bindings: Binding[] = [];
  const deeds = new Set<Deed>();
  const bind = (kind: BindingKind, node: Node, names: readonly string[]) => {
    for (const name of names) bindings.push({ kind, name, ...spanOf(node) });
  };
  if (isFunction(component) && component.params[0]) bind('prop', component.params[0], boundNames(component.params[0]));
  walk(component, (node, ancestors) => {
    if (node !== component && skip.has(node)) return false;
    const deed = deedOf(node);
    if (deed) deeds.add(deed);
    switch (node.type) {
      case 'VariableDeclarator':
        // Locals of inner functions are no bindings of the component.
        if (node.init && !ancestors.some((a) => a !== component && isFunction(a) && !isRenderMethod(a, ancestors))) {
          readDeclarator(node, bind);
        }
        break;
      case 'FunctionDeclaration':
        if (node !== component && ancestors[ancestors.length - 2] === component && node.id)
          bind('handler', node, [node.id.name]);
        break;
      case 'CallExpression':
        readCall(node, bind, deeds);
        break;
      case 'JSXAttribute':
        if (node.name.name === 'ref') deeds.add('touches refs');
        break;
      case 'PropertyDefinition':
      case 'MethodDefinition':
      case 'Property':
        if (ancestors[ancestors.length - 1] === component || ancestors[ancestors.length - 2] === component)
          readMember(node, bind);
        break;
      case 'AssignmentExpression':
        if (isThisState(node.left) && node.right.type === 'ObjectExpression') bind('state', node, keysOf(node.right));
        break;
    }
    return undefined;
  });
  const seen = new Set<string>();
  const unique = bindings.filter(
    (b) => b.kind === 'effect' || (!seen.has(b.kind + b.name) && seen.add(b.kind + b.name)),
  );
  return { bindings: unique, deeds: [...deeds].sort() };
}

function isRenderMethod(node: Node, ancestors: readonly Node[]): boolean {
  const at = ancestors.indexOf(node);
  const parent = ancestors[at - 1];
  return parent?.type === 'MethodDefinition' && parent.key.type === 'Identifier' && parent.key.name === 'render';
}

function readDeclarator(
  node: TSESTree.VariableDeclarator,
  bind: (kind: BindingKind, node: Node, names: readonly string[]) => void,
): void {
  const init = bare(node.init!);
  const hook = calleeName(init.type === 'AwaitExpression' ? init.argument : init);
  const names = boundNames(node.id);
  if (hook === 'useState' || hook === 'useReducer' || hook === 'useOptimistic' || hook === 'useActionState') {
    const pattern = node.id.type === 'ArrayPattern' ? node.id : undefined;
    const [state, setter] = pattern ? [pattern.elements[0], pattern.elements[1]] : [node.id, null];
    if (state) bind('state', node, boundNames(state));
    if (setter) bind('setter', node, boundNames(setter));
  } else if (hook === 'useRef' || hook === 'createRef') bind('ref', node, names);
  else if (hook === 'useContext') bind('context', node, names);
  else if (hook === 'useCallback' || isFunction(init)) bind('handler', node, names);
  else if (hook === 'useMemo') bind('derived', node, names);
  else if (isHookName(hook) && init.type === 'CallExpression') bind('hook', node, names);
  else bind('derived', node, names);
}

function readCall(
  node: TSESTree.CallExpression,
  bind: (kind: BindingKind, node: Node, names: readonly string[]) => void,
  deeds: Set<Deed>,
): void {
  const name = calleeName(node);
  if (!name) return;
  if (EFFECTS.has(name)) bind('effect', node, ['']);
  if (name === 'useSyncExternalStore') deeds.add('holds a subscription');
  if (name === 'useRef' || name === 'createRef') deeds.add('touches refs');
}

function readMember(
  node: TSESTree.PropertyDefinition | TSESTree.MethodDefinition | TSESTree.Property,
  bind: (kind: BindingKind, node: Node, names: readonly string[]) => void,
): void {
  if (node.key.type !== 'Identifier' || node.computed) return;
  const name = node.key.name;
  if (name === 'state' && node.value?.type === 'ObjectExpression') bind('state', node, keysOf(node.value));
  else if (name === 'getInitialState' && node.value && isFunction(node.value)) {
    walk(node.value, (child) => {
      if (child.type === 'ReturnStatement' && child.argument?.type === 'ObjectExpression')
        bind('state', child, keysOf(child.argument));
    });
  } else if (LIFECYCLE.has(name)) bind('effect', node, ['']);
  else if (name !== 'constructor' && !name.startsWith('render') && node.value && isFunction(node.value))
    bind('handler', node, [name]);
}

function keysOf(node: TSESTree.ObjectExpression): string[] {
  return node.properties.flatMap((p) => (p.type === 'Property' && p.key.type === 'Identifier' ? [p.key.name] : []));
}
