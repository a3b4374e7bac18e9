/**
 * The scripts of a component with script setup, lowered: macros are gone, a ref is the value that it holds, and props
 * are read by names of their own.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../script/parser.js';
import * as make from '../../script/make.js';
import { rewrite } from '../../script/rewrite.js';
import { ScriptScopes, type Variable } from '../../script/scopes.js';
import { bare, calleeName, childrenOf, spanOf } from '../../script/walk.js';
import { declaredNames, emitCall, type Body } from './body.js';
import { macroCall, type Definition } from './definition.js';
import { atOnce } from './options.js';
import type { Sfc } from './sfc.js';

/** Calls whose result is read by `.value` in the script and by itself in the template. */
const REFS = new Set(['ref', 'shallowRef', 'computed', 'customRef', 'toRef', 'defineModel', 'useTemplateRef']);

/** The made call that a ref is, where it stands for itself and not for what it holds. */
const REF = '$ref';

function isRefCall(init: Node | null | undefined): boolean {
  return Boolean(init && REFS.has(calleeName(init) ?? ''));
}

/** What a ref that is handed over as such holds: `draft` for `$ref(draft)`, by its `value`. */
export function refHeld(call: Node, member = 'value'): Node | undefined {
  if (call.type !== 'CallExpression' || call.callee.type !== 'Identifier' || call.callee.name !== REF) return undefined;
  return member === 'value' ? call.arguments[0] : undefined;
}

/** Whether lowered code reads what a ref or the instance holds, which any call may change, or what the component is given. */
export function readsChanging(node: Node, scopes: ScriptScopes): 'now' | 'later' | undefined {
  if (refHeld(node)) return undefined;
  if (node.type === 'Identifier') {
    const variable = scopes.variableOf(node);
    if (node.name.startsWith('this.') || (variable !== undefined && isRef(variable))) return 'now';
    return node.name.startsWith('props.') ? 'later' : undefined;
  }
  const inside = childrenOf(node).map((child) => readsChanging(child, scopes));
  return inside.find((when) => when === 'now') ?? inside.find((when) => when !== undefined);
}

/** Whether a variable of script setup holds a ref. */
export function isRef({ defs: [definition] }: Variable): boolean {
  return definition?.type === 'Variable' && definition.node.id.type === 'Identifier' && isRefCall(definition.node.init);
}

export function lowerSetup(sfc: Sfc, definition: Definition, events: Set<string>): Body {
  const setup = sfc.setup!.script;
  const scopes = new ScriptScopes(setup);
  const reads = new Set<string>();
  const refs = new Set(scopes.moduleScope.variables.filter(isRef));
  const local = (name: string | undefined) => (name === undefined ? undefined : scopes.moduleScope.set.get(name));
  const props = local(definition.propsLocal);
  const emit = local(definition.emitLocal);
  const known = new Set(definition.props.map((p) => p.name));

  const opened = (node: Node): Node =>
    rewrite(node, (n) => emitCall(n, events, (callee) => emit !== undefined && scopes.variableOf(callee) === emit));
  const lowered = (node: Node): Node => {
    const replace = (n: Node): Node | undefined => {
      if (n.type === 'MemberExpression' && !n.computed && n.property.type === 'Identifier') {
        const object = bare(n.object);
        const variable = object.type === 'Identifier' ? scopes.variableOf(object) : undefined;
        if (variable && variable === props) {
          if (!known.has(n.property.name)) reads.add(n.property.name);
          return make.identifier(`props.${n.property.name}`, spanOf(n));
        }
        if (variable && refs.has(variable) && n.property.name === 'value')
          // What is written of it is the whole of `draft.value`.
          return Object.assign({ ...object }, { written: n.range });
      }
      if (n.type === 'VariableDeclarator') {
        const init = n.init && rewrite(n.init, replace);
        return init === n.init ? n : ({ ...n, init } as Node);
      }
      if (n.type === 'CallExpression' && calleeName(n) === 'computed' && n.arguments.length > 0) {
        const [getter, ...rest] = n.arguments.map((a) => rewrite(a as Node, replace));
        return { ...n, arguments: [atOnce(getter!), ...rest] } as Node;
      }
      if (n.type === 'Property' && n.shorthand && n.value.type === 'Identifier' && isRefRead(n.value))
        return { ...n, shorthand: false, value: itself(n.value) };
      return n.type === 'Identifier' && isRefRead(n) ? itself(n) : undefined;
    };
    return rewrite(opened(node), replace);
  };
  const isRefRead = (node: Node) => {
    const variable = scopes.referenceOf(node) && scopes.variableOf(node);
    return variable !== undefined && refs.has(variable);
  };
  // The ref and not what it holds.
  const itself = (node: Node) => make.call(make.identifier(REF, make.at(node.range[0])), [{ ...node }], spanOf(node));

  const own: Node[] = [];
  const imports: Node[] = [];
  const visible = new Set<string>();
  const older = new Set(definition.models.map((m) => m.computed));
  for (const statement of setup.program.body) {
    if (statement.type === 'ImportDeclaration') imports.push(statement);
    if (older.has(statement)) continue;
    // A type may be exported from a setup script, and nothing else.
    const bareOne = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
    const kept = !bareOne || isMacro(statement, scopes, props, emit) ? undefined : lowered(bareOne);
    if (kept && statement.type !== 'ImportDeclaration') own.push(kept);
  }
  for (const variable of scopes.moduleScope.variables)
    if (variable !== props || !definition.propsLocal) visible.add(variable.name);
  if (definition.propsLocal) visible.add(definition.propsLocal);
  const plain = sfc.script?.script.program.body ?? [];
  imports.push(...plain.filter((s) => s.type === 'ImportDeclaration'));
  const module = plain.filter((s) => s.type !== 'ImportDeclaration' && s.type !== 'ExportDefaultDeclaration');
  for (const statement of plain) for (const name of declaredNames(statement)) visible.add(name);
  return { imports, module, own, described: describedBy(definition), visible, reads };
}

/** A statement that only declares props, events, slots or a model; it goes where nothing reads its result as a whole. */
function isMacro(
  statement: TSESTree.ProgramStatement,
  scopes: ScriptScopes,
  props: Variable | undefined,
  emit: Variable | undefined,
): boolean {
  if (statement.type === 'ExpressionStatement') {
    const name = calleeName(statement.expression);
    return Boolean(macroCall(statement.expression)) && name !== 'defineExpose' && name !== 'defineOptions';
  }
  if (statement.type !== 'VariableDeclaration' || statement.declarations.length !== 1) return false;
  const [{ id, init }] = statement.declarations;
  const call = macroCall(init);
  if (!call) return false;
  const name = calleeName(call);
  if (name === 'defineModel' || id.type === 'ObjectPattern') return true;
  const variable = scopes.variableOf(id);
  const whole = (variable?.references ?? []).some((reference) => {
    if (reference.init) return false;
    const parent = scopes.parentOf(reference.identifier);
    if (variable === props)
      return !(parent?.type === 'MemberExpression' && parent.object === reference.identifier && !parent.computed);
    return !(variable === emit && parent?.type === 'CallExpression' && parent.callee === reference.identifier);
  });
  return !whole;
}

function describedBy({ macros, options }: Definition): Map<string, Node> {
  const result = new Map<string, Node>();
  for (const name of ['defineProps', 'withDefaults', 'defineEmits', 'defineModel', 'defineOptions']) {
    const call = macros.get(name);
    const value = call?.arguments[name === 'withDefaults' ? 1 : 0];
    if (value && value.type !== 'SpreadElement') result.set(name, value);
  }
  if (options) result.set('options', options);
  return result;
}
