/**
 * The scripts of a component with script setup, lowered: macros are gone, a ref is the value that it holds, and props
 * are read by names of their own.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node, ParsedScript, Program } from '../../script/parser.js';
import * as make from '../../script/make.js';
import { rewrite } from '../../script/rewrite.js';
import { ScriptScopes, type Variable } from '../../script/scopes.js';
import { bare, calleeName, childrenOf, isFunction, spanOf } from '../../script/walk.js';
import { declaredNames, emitBinding, emitCall, type Body } from './body.js';
import { keyName, macroCall, type Definition } from './definition.js';
import { atOnce } from './options.js';
import type { Sfc } from './sfc.js';

/** Calls whose result is read by `.value` in the script and by itself in the template. */
const REFS = new Set(['ref', 'shallowRef', 'computed', 'customRef', 'toRef', 'defineModel', 'useTemplateRef']);

/** The made call that a ref is, where it stands for itself and not for what it holds. */
const REF = '$ref';
/** The made calls that the props and the emit function are where they are handed on whole: of records of all that they hold. */
const PROPS = '$props';
const EMIT = '$emits';

function isRefCall(init: Node | null | undefined): boolean {
  return Boolean(init && REFS.has(calleeName(init) ?? ''));
}

/** What something holds that is handed over as such: `draft` for the `value` of `$ref(draft)`, the prop for a member of the props. */
export function refHeld(call: Node, member = 'value'): Node | undefined {
  if (call.type !== 'CallExpression' || call.callee.type !== 'Identifier') return undefined;
  const [held] = call.arguments;
  if (call.callee.name === REF) return member === 'value' ? held : undefined;
  if (call.callee.name !== PROPS) return undefined;
  // What is declared elsewhere is known by its name.
  return entryOf(held, member) ?? make.identifier(`props.${member}`, spanOf(call));
}

/** What a call of something calls that was handed over as such, by its first argument: what listens to an event, or all that does. */
export function heldCallee(callee: Node, first: Node | undefined): Node | undefined {
  if (callee.type !== 'CallExpression' || callee.callee.type !== 'Identifier' || callee.callee.name !== EMIT)
    return undefined;
  if (!first) return callee.arguments[0];
  return first.type === 'Literal' && typeof first.value === 'string'
    ? (entryOf(callee.arguments[0], first.value) ?? make.identifier(emitBinding(first.value), spanOf(callee)))
    : undefined;
}

function entryOf(record: Node | undefined, key: string): Node | undefined {
  if (record?.type !== 'ObjectExpression') return undefined;
  const entry = record.properties.find((p) => p.type === 'Property' && keyName(p.key) === key);
  return entry?.type === 'Property' ? entry.value : undefined;
}

function isHolder(node: Node): boolean {
  return node.type === 'CallExpression' && node.callee.type === 'Identifier' && HOLDERS.has(node.callee.name);
}

const HOLDERS = new Set([REF, PROPS, EMIT]);

/** Whether lowered code reads what a ref or the instance holds, which any call may change, or what the component is given. */
export function readsChanging(node: Node, scopes: ScriptScopes): 'now' | 'later' | undefined {
  if (isHolder(node)) return undefined;
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

/** Code in which a ref is the value that it holds, and `$ref(…)` of that where it stands for itself; `first` is asked before. */
function refsOpened(
  node: Node,
  scopes: ScriptScopes,
  isOpened: (variable: Variable) => boolean,
  first: (node: Node) => Node | undefined = () => undefined,
): Node {
  const isRefRead = (n: Node) => {
    const variable = scopes.referenceOf(n) && scopes.variableOf(n);
    return variable !== undefined && isOpened(variable);
  };
  // The ref and not what it holds.
  const itself = (n: Node) => make.call(make.identifier(REF, make.at(n.range[0])), [{ ...n }], spanOf(n));
  const replace = (n: Node): Node | undefined => {
    const own = first(n);
    if (own) return own;
    if (n.type === 'MemberExpression' && !n.computed && n.property.type === 'Identifier') {
      const object = bare(n.object);
      const variable = object.type === 'Identifier' ? scopes.variableOf(object) : undefined;
      if (variable && isOpened(variable) && n.property.name === 'value')
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
    if (n.type === 'Property' && n.shorthand && n.value.type === 'Identifier') {
      const value = replace(n.value);
      return value && value !== n.value ? ({ ...n, shorthand: false, value } as Node) : undefined;
    }
    return n.type === 'Identifier' && isRefRead(n) ? itself(n) : undefined;
  };
  return rewrite(node, replace);
}

/** A module in which functions keep refs, as the proof compares it; undefined where none of them does. */
export function lowerModule({ program, comments }: ParsedScript, scopes: ScriptScopes): ParsedScript | undefined {
  // As in script setup, where what functions inside of it keep is left as it is written.
  const isLocalRef = (variable: Variable) => variable.scope.upper === scopes.moduleScope && isRef(variable);
  if (!scopes.references.some(({ resolved }) => resolved && isLocalRef(resolved))) return undefined;
  const body = program.body.map((statement) => refsOpened(statement, scopes, isLocalRef));
  return { program: { ...program, body } as Program, comments };
}

/** `whole`: the props and the emit function, where they are handed on, are what they hold. */
export function lowerSetup(sfc: Sfc, definition: Definition, events: Set<string>, whole: boolean): Body {
  const setup = sfc.setup!.script;
  const scopes = new ScriptScopes(setup);
  const reads = new Set<string>();
  const refs = new Set(scopes.moduleScope.variables.filter(isRef));
  const local = (name: string | undefined) => (name === undefined ? undefined : scopes.moduleScope.set.get(name));
  const props = local(definition.propsLocal);
  const emit = local(definition.emitLocal);
  const known = new Set(definition.props.map((p) => p.name));
  const sent = declaredEvents(definition) ?? [];
  const opensEmit = whole && emit !== undefined;
  const models = new Set(definition.models.flatMap((m) => (m.computed ? [] : [m.name])));
  const given = [...known].filter((name) => !models.has(name));
  const opensProps = whole && props !== undefined;

  const opened = (node: Node): Node =>
    rewrite(node, (n) => emitCall(n, events, (callee) => emit !== undefined && scopes.variableOf(callee) === emit));
  const ofProps = (n: Node): Node | undefined => {
    if (n.type === 'MemberExpression' && !n.computed && n.property.type === 'Identifier') {
      const object = bare(n.object);
      if (object.type !== 'Identifier' || !props || scopes.variableOf(object) !== props) return undefined;
      if (!known.has(n.property.name)) reads.add(n.property.name);
      return make.identifier(`props.${n.property.name}`, spanOf(n));
    }
    const variable = n.type === 'Identifier' && scopes.referenceOf(n) ? scopes.variableOf(n) : undefined;
    if (variable === undefined || isAskedEarly(scopes, n, variable)) return undefined;
    if (opensProps && variable === props) return holding(PROPS, n, given, (name) => `props.${name}`);
    if (!opensEmit || variable !== emit) return undefined;
    for (const event of sent) events.add(event);
    return holding(EMIT, n, sent, emitBinding);
  };
  const lowered = (node: Node): Node => refsOpened(opened(node), scopes, (v) => refs.has(v), ofProps);

  const own: Node[] = [];
  const imports: Node[] = [];
  const visible = new Set<string>();
  const older = new Set(definition.models.map((m) => m.computed));
  for (const statement of setup.program.body) {
    if (statement.type === 'ImportDeclaration') imports.push(statement);
    if (older.has(statement)) continue;
    // A type may be exported from a setup script, and nothing else.
    const bareOne = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
    const kept =
      !bareOne || isMacro(statement, scopes, props, emit, opensProps, opensEmit) ? undefined : lowered(bareOne);
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

/** Whether a name is asked for at once, and before it is there. */
function isAskedEarly(scopes: ScriptScopes, read: Node, { identifiers: [declared] }: Variable): boolean {
  return declared !== undefined && read.range[0] < declared.range[0] && !scopes.ancestorsOf(read).some(isFunction);
}

/** `$props({ hive: props.hive, … })` where the props stand. */
function holding(call: string, node: Node, keys: readonly string[], nameOf: (key: string) => string): Node {
  const at = make.at(node.range[0]);
  const entries = keys.map((key) => ({ key, value: make.identifier(nameOf(key), at), span: at }));
  return make.call(make.identifier(call, at), [make.object(entries, at)], spanOf(node));
}

/** The events that a component says it sends; undefined where it does not say all of them in its own file. */
function declaredEvents({ macros }: Definition): readonly string[] | undefined {
  const call = macros.get('defineEmits');
  const [listed] = call?.arguments ?? [];
  if (listed?.type === 'ArrayExpression') return allTexts(listed.elements);
  if (listed?.type === 'ObjectExpression')
    return defined(listed.properties.map((p) => (p.type === 'Property' ? keyName(p.key) : undefined)));
  const type = call?.typeArguments?.params[0];
  if (type?.type !== 'TSTypeLiteral') return undefined;
  const names = type.members.map((member) => {
    if (member.type === 'TSPropertySignature' || member.type === 'TSMethodSignature')
      return defined([keyName(member.key)]);
    const first = member.type === 'TSCallSignatureDeclaration' ? member.params[0] : undefined;
    const told = first?.type === 'Identifier' ? first.typeAnnotation?.typeAnnotation : undefined;
    const union = told?.type === 'TSUnionType' ? told.types : [told];
    return allTexts(union.map((t) => (t?.type === 'TSLiteralType' ? t.literal : undefined)));
  });
  return names.includes(undefined) ? undefined : names.flatMap((list) => list!);
}

function allTexts(nodes: readonly (Node | null | undefined)[]): string[] | undefined {
  return defined(nodes.map((n) => (n?.type === 'Literal' && typeof n.value === 'string' ? n.value : undefined)));
}

function defined(names: readonly (string | undefined)[]): string[] | undefined {
  return names.some((n) => n === undefined) ? undefined : (names as string[]);
}

/** A statement that only declares props, events, slots or a model; it goes where nothing reads its result as a whole. */
function isMacro(
  statement: TSESTree.ProgramStatement,
  scopes: ScriptScopes,
  props: Variable | undefined,
  emit: Variable | undefined,
  opensProps: boolean,
  opensEmit: boolean,
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
  if ((opensProps && variable === props) || (opensEmit && variable === emit)) return true;
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
