/** What the scripts of a Vue file say about its component: how it is written, what it takes, binds and registers. */
import type { TSESTree } from '@typescript-eslint/types';
import type { BindingKind, Prop } from '../../markup/model.js';
import type { Node, Program } from '../../script/parser.js';
import { bare, boundNames, calleeName, isFunction, spanOf, walk, type FunctionNode } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';
import { typeOnOneLine } from '../../text/layout.js';
import { membersOf, typeTable, type TypeTable } from '../type-members.js';
import { camelized } from './markup.js';

export interface DeclaredProp extends Prop {
  /** The value that stands in for it. */
  readonly defaultNode?: Node;
}

export interface Model {
  readonly name: string;
  /** The variable that holds it. */
  readonly local: string;
  /** A computed value that reads the prop and sends the event: the older way to write it. */
  readonly computed?: Node;
}

/** A name that the template sees, with the syntax that defines it. */
export interface Member extends Span {
  readonly kind: BindingKind;
  readonly name: string;
  readonly node: Node;
}

export interface Definition {
  readonly api: 'setup' | 'options';
  /** The name that the component gives itself. */
  readonly name: string | undefined;
  /** The object of an options component; with `setup`, of the plain script beside it. */
  readonly options: TSESTree.ObjectExpression | undefined;
  readonly props: readonly DeclaredProp[];
  /** Takes props whose names are not written in this file. */
  readonly openProps: boolean;
  /** `const props = defineProps(…)`. */
  readonly propsLocal: string | undefined;
  /** `const { hive } = defineProps(…)`. */
  readonly propsPattern: TSESTree.ObjectPattern | undefined;
  readonly emitLocal: string | undefined;
  readonly models: readonly Model[];
  /** The calls of `defineProps`, `defineEmits` and the like, by name. */
  readonly macros: ReadonlyMap<string, TSESTree.CallExpression>;
  readonly members: readonly Member[];
  /** Names under which components can be shown, to the names of the variables behind them. */
  readonly components: ReadonlyMap<string, string>;
}

const MACROS = new Set([
  'defineProps',
  'withDefaults',
  'defineEmits',
  'defineModel',
  'defineSlots',
  'defineExpose',
  'defineOptions',
]);
const STATE = new Set(['ref', 'reactive', 'shallowRef', 'shallowReactive', 'customRef']);
const DERIVED = new Set(['computed', 'toRef', 'toRefs', 'readonly', 'toRaw', 'unref']);
const EFFECTS =
  /^(?:watch|watchEffect|watchPostEffect|watchSyncEffect|on(?:Before)?(?:Mount|Mounted|Update|Updated|Unmount|Unmounted|Activated|Deactivated|ErrorCaptured|ServerPrefetch))$/;
/** Options whose function the component calls at a time of its life. */
export const HOOKS = new Set(
  'watch beforeCreate created beforeMount mounted beforeUpdate updated beforeUnmount unmounted beforeDestroy destroyed activated deactivated errorCaptured serverPrefetch'.split(
    ' ',
  ),
);

export function isEffect(name: string | undefined): boolean {
  return name !== undefined && EFFECTS.test(name);
}

export function isHookOption(name: string): boolean {
  return HOOKS.has(name);
}

export function defineOf(text: string, script: Program | undefined, setup: Program | undefined): Definition {
  const options = script && optionsObject(script);
  if (setup) return setupDefinition(text, setup, script, options);
  return optionsDefinition(text, script, options);
}

/** The object behind `export default`, wrappers such as `defineComponent` and `Vue.extend` seen through. */
export function optionsObject(script: Program): TSESTree.ObjectExpression | undefined {
  for (const statement of script.body) {
    if (statement.type === 'ExportDefaultDeclaration') return objectIn(statement.declaration, script);
    if (
      statement.type === 'ExpressionStatement' &&
      statement.expression.type === 'AssignmentExpression' &&
      statement.expression.left.type === 'MemberExpression' &&
      statement.expression.left.object.type === 'Identifier' &&
      statement.expression.left.object.name === 'module'
    )
      return objectIn(statement.expression.right, script);
  }
  return undefined;
}

function objectIn(node: Node, script: Program): TSESTree.ObjectExpression | undefined {
  const inner = bare(node);
  if (inner.type === 'ObjectExpression') return inner;
  if (inner.type === 'CallExpression' || inner.type === 'NewExpression') {
    const last = inner.arguments[inner.arguments.length - 1];
    return last && objectIn(last, script);
  }
  if (inner.type !== 'Identifier') return undefined;
  for (const statement of script.body) {
    if (statement.type !== 'VariableDeclaration') continue;
    for (const { id, init } of statement.declarations)
      if (id.type === 'Identifier' && id.name === inner.name && init && init.type !== 'Identifier')
        return objectIn(init, script);
  }
  return undefined;
}

function setupDefinition(
  text: string,
  setup: Program,
  script: Program | undefined,
  options: TSESTree.ObjectExpression | undefined,
): Definition {
  const types = new Map([...(script ? typeTable(script) : []), ...typeTable(setup)]) as TypeTable;
  const macros = new Map<string, TSESTree.CallExpression>();
  const members: Member[] = [];
  const models: Model[] = [];
  const components = new Map<string, string>();
  let propsLocal: string | undefined;
  let propsPattern: TSESTree.ObjectPattern | undefined;
  let emitLocal: string | undefined;
  for (const statement of [...(script?.body ?? []), ...setup.body]) {
    if (statement.type === 'ImportDeclaration') {
      for (const { local } of statement.specifiers) components.set(local.name, local.name);
    } else if (statement.type === 'VariableDeclaration') {
      for (const declarator of statement.declarations) {
        const call = macroCall(declarator.init);
        const name = call && calleeName(call);
        if (call && name !== undefined) {
          noteMacro(call, macros);
          if (name === 'defineProps' || name === 'withDefaults') {
            if (declarator.id.type === 'Identifier') propsLocal = declarator.id.name;
            else if (declarator.id.type === 'ObjectPattern') propsPattern = declarator.id;
          } else if (name === 'defineEmits' && declarator.id.type === 'Identifier') emitLocal = declarator.id.name;
          else if (name === 'defineModel' && declarator.id.type === 'Identifier') {
            const first = call.arguments[0];
            const model = first?.type === 'Literal' && typeof first.value === 'string' ? first.value : 'modelValue';
            models.push({ name: model, local: declarator.id.name });
          }
          if (name !== 'defineModel') continue;
        }
        const older = declarator.id.type === 'Identifier' ? olderModel(declarator.init) : undefined;
        if (older !== undefined && declarator.id.type === 'Identifier')
          models.push({ name: older, local: declarator.id.name, computed: statement });
        for (const local of boundNames(declarator.id)) {
          components.set(local, local);
          members.push({ kind: kindOf(declarator.init), name: local, node: declarator, ...spanOf(declarator) });
        }
      }
    } else if (statement.type === 'FunctionDeclaration' && statement.id)
      members.push({ kind: 'handler', name: statement.id.name, node: statement, ...spanOf(statement) });
    else if (statement.type === 'ExpressionStatement') {
      const call = macroCall(statement.expression);
      if (call) noteMacro(call, macros);
      else if (isEffect(calleeName(statement.expression)))
        members.push({ kind: 'effect', name: '', node: statement, ...spanOf(statement) });
    }
  }
  const { props, open } = setupProps(text, macros, types, propsPattern);
  const own = macros.get('defineOptions')?.arguments[0];
  const named = own?.type === 'ObjectExpression' ? own : options;
  return {
    api: 'setup',
    name: named && stringOption(named, 'name'),
    options,
    props: [
      ...props,
      ...models.flatMap((m): DeclaredProp[] => (m.computed ? [] : [{ name: m.name, required: false }])),
    ],
    openProps: open,
    propsLocal,
    propsPattern,
    emitLocal,
    models,
    macros,
    members,
    components,
  };
}

function noteMacro(call: TSESTree.CallExpression, macros: Map<string, TSESTree.CallExpression>): void {
  macros.set(calleeName(call)!, call);
  const inner = call.arguments[0];
  if (calleeName(call) === 'withDefaults' && inner?.type === 'CallExpression') macros.set('defineProps', inner);
}

/** Whether a name is a macro of script setup, which means nothing elsewhere. */
export function isMacroName(name: string): boolean {
  return MACROS.has(name);
}

export function macroCall(node: Node | null | undefined): TSESTree.CallExpression | undefined {
  const call = node ? bare(node) : undefined;
  if (call?.type !== 'CallExpression' || call.callee.type !== 'Identifier') return undefined;
  return MACROS.has(call.callee.name) ? call : undefined;
}

function setupProps(
  text: string,
  macros: ReadonlyMap<string, TSESTree.CallExpression>,
  types: TypeTable,
  pattern: TSESTree.ObjectPattern | undefined,
): { props: DeclaredProp[]; open: boolean } {
  const call = macros.get('defineProps');
  if (!call) return { props: [], open: false };
  const props = new Map<string, DeclaredProp>();
  let open = false;
  const type = call.typeArguments?.params[0];
  if (type) {
    const members = membersOf(type, types);
    for (const member of members) {
      if (member.type !== 'TSPropertySignature' && member.type !== 'TSMethodSignature') continue;
      const name = keyName(member.key);
      if (name === undefined) continue;
      const annotation = member.type === 'TSPropertySignature' ? member.typeAnnotation?.typeAnnotation : member;
      const written = annotation && typeOnOneLine(text.slice(...annotation.range));
      props.set(name, { name, required: !member.optional, ...(written ? { type: written } : {}) });
    }
    open = members.length === 0 && type.type !== 'TSTypeLiteral';
  } else if (call.arguments[0]) for (const prop of runtimeProps(call.arguments[0], text)) props.set(prop.name, prop);
  const set = (name: string, node: Node) => {
    const known = props.get(name) ?? { name };
    props.set(name, { ...known, name, required: false, default: text.slice(...node.range), defaultNode: node });
  };
  const defaults = macros.get('withDefaults')?.arguments[1];
  if (defaults?.type === 'ObjectExpression')
    for (const p of defaults.properties)
      if (p.type === 'Property' && keyName(p.key) !== undefined) set(keyName(p.key)!, p.value);
  for (const p of pattern?.properties ?? []) {
    const name = p.type === 'Property' ? keyName(p.key) : undefined;
    if (p.type !== 'Property' || name === undefined) continue;
    if (p.value.type === 'AssignmentPattern') set(name, p.value.right);
    else if (!props.has(name)) props.set(name, { name, required: true });
  }
  return { props: [...props.values()], open: open && props.size === 0 };
}

/** Props as an array of names, or an object of types and descriptions. */
function runtimeProps(node: Node, text: string): DeclaredProp[] {
  const value = bare(node);
  if (value.type === 'ArrayExpression')
    return value.elements.flatMap((e) =>
      e?.type === 'Literal' ? [{ name: camelized(String(e.value)), required: false }] : [],
    );
  if (value.type !== 'ObjectExpression') return [];
  return value.properties.flatMap((property): DeclaredProp[] => {
    const key = property.type === 'Property' ? keyName(property.key) : undefined;
    if (property.type !== 'Property' || key === undefined) return [];
    const name = camelized(key);
    const inner = bare(property.value);
    if (inner.type !== 'ObjectExpression') return [{ name, required: false, type: text.slice(...inner.range) }];
    const type = propertyOf(inner, 'type');
    const required = propertyOf(inner, 'required');
    const given = propertyOf(inner, 'default');
    return [
      {
        name,
        required: required?.type === 'Literal' && required.value === true,
        ...(type ? { type: typeOnOneLine(text.slice(...type.range)) } : {}),
        ...(given ? { default: text.slice(...given.range), defaultNode: given } : {}),
      },
    ];
  });
}

function optionsDefinition(
  text: string,
  script: Program | undefined,
  options: TSESTree.ObjectExpression | undefined,
): Definition {
  const members: Member[] = [];
  const components = new Map<string, string>();
  const add = (kind: BindingKind, name: string, node: Node) => members.push({ kind, name, node, ...spanOf(node) });
  let props: DeclaredProp[] = [];
  const models: Model[] = [];
  for (const property of options?.properties ?? []) {
    if (property.type !== 'Property') continue;
    const name = keyName(property.key);
    const value = bare(property.value);
    if (name === 'props') props = runtimeProps(value, text);
    else if (name === 'data' || name === 'asyncData') for (const p of returnedKeys(value)) add('state', p.name, p.node);
    else if (name === 'setup') for (const p of returnedKeys(value)) add(setupKind(value, p.name), p.name, p.node);
    else if (name === 'computed') {
      for (const p of keysOf(value)) {
        add('derived', p.name, p.node);
        const older = p.node.type === 'Property' ? olderModel(p.node.value) : undefined;
        if (older !== undefined) models.push({ name: older, local: `this.${p.name}`, computed: p.node });
      }
    } else if (name === 'methods') for (const p of keysOf(value)) add('handler', p.name, p.node);
    else if (name === 'inject') for (const p of injected(value)) add('context', p.name, p.node);
    else if (name !== undefined && isHookOption(name)) add('effect', '', property);
    else if (name === 'components' && value.type === 'ObjectExpression') {
      for (const p of value.properties)
        if (p.type !== 'Property' || p.value.type !== 'Identifier') continue;
        else if (p.computed) components.set(NAMELESS + p.value.name, p.value.name);
        else if (keyName(p.key) !== undefined) components.set(keyName(p.key)!, p.value.name);
    }
  }
  return {
    api: 'options',
    name: options && stringOption(options, 'name'),
    options,
    props,
    openProps: script !== undefined && options === undefined,
    propsLocal: undefined,
    propsPattern: undefined,
    emitLocal: undefined,
    models,
    macros: new Map(),
    members,
    components,
  };
}

/** The variable behind a tag: `hive-card` is looked for as it is, as `hiveCard` and as `HiveCard`. */
export function componentBehind(tag: string, components: ReadonlyMap<string, string>): string | undefined {
  const local =
    [tag, camelized(tag), pascal(tag)].map((name) => components.get(name)).find((name) => name !== undefined) ??
    nameless(pascal(tag), components);
  return local;
}

/** In front of what is registered under a name that only running tells: `[HiveCard.name]: HiveCard`. */
export const NAMELESS = '*';

/** By such a name a component is known as in its own file, which often has a prefix: `BHiveCard`. */
function nameless(tag: string, components: ReadonlyMap<string, string>): string | undefined {
  return [...components].find(([key, local]) => key.startsWith(NAMELESS) && tag.endsWith(local))?.[1];
}

/** `HiveCard` for `hive-card` and `hiveCard`. */
export function pascal(name: string): string {
  const camel = camelized(name);
  return camel ? camel[0]!.toUpperCase() + camel.slice(1) : camel;
}

export function keyName(key: Node): string | undefined {
  if (key.type === 'Identifier') return key.name;
  return key.type === 'Literal' ? String(key.value) : undefined;
}

/** The value of a property; a method is its function. */
export function propertyOf(object: TSESTree.ObjectExpression, name: string): Node | undefined {
  const found = object.properties.find((p) => p.type === 'Property' && !p.computed && keyName(p.key) === name);
  return found?.type === 'Property' ? found.value : undefined;
}

function stringOption(object: TSESTree.ObjectExpression, name: string): string | undefined {
  const value = propertyOf(object, name);
  return value?.type === 'Literal' && typeof value.value === 'string' ? value.value : undefined;
}

interface Key {
  readonly name: string;
  readonly node: Node;
}

/** Keys of an object, those that `mapState([…])` and the like add included. */
export function keysOf(node: Node): Key[] {
  const value = bare(node);
  if (value.type !== 'ObjectExpression') return [];
  return value.properties.flatMap((p): Key[] => {
    if (p.type === 'Property') {
      const name = keyName(p.key);
      return name === undefined ? [] : [{ name, node: p }];
    }
    const call = bare(p.argument);
    const last = call.type === 'CallExpression' ? call.arguments[call.arguments.length - 1] : call;
    return (last ? injected(last) : []).map(({ name }) => ({ name, node: p }));
  });
}

/** Names in a list of strings or an object. */
function injected(node: Node): Key[] {
  const value = bare(node);
  if (value.type === 'ArrayExpression')
    return value.elements.flatMap((e) => (e?.type === 'Literal' ? [{ name: String(e.value), node: e }] : []));
  return keysOf(value);
}

/** The keys of the object that a function gives back, wherever it does. */
export function returnedKeys(node: Node): Key[] {
  const value = bare(node);
  if (!isFunction(value)) return value.type === 'ObjectExpression' ? keysOf(value) : [];
  return returnedObjects(value).flatMap(keysOf);
}

/** The record that a function like `data` gives back, where that is all that its end does. */
export function givenRecord(value: Node): TSESTree.ObjectExpression | undefined {
  const fn = bare(value);
  if (!isFunction(fn)) return undefined;
  const last = fn.body.type === 'BlockStatement' ? fn.body.body.at(-1) : undefined;
  const given = last?.type === 'ReturnStatement' ? last.argument : fn.body;
  const record = given ? bare(given) : undefined;
  return record?.type === 'ObjectExpression' ? record : undefined;
}

export function returnedObjects(fn: FunctionNode): Node[] {
  if (fn.body.type !== 'BlockStatement') return [bare(fn.body)];
  const result: Node[] = [];
  walk(fn.body, (node) => {
    if (node.type === 'ReturnStatement' && node.argument) result.push(bare(node.argument));
    return !isFunction(node);
  });
  return result;
}

function setupKind(setup: Node, name: string): BindingKind {
  let kind: BindingKind = 'derived';
  walk(setup, (node) => {
    if (node.type === 'VariableDeclarator' && boundNames(node.id).includes(name)) kind = kindOf(node.init);
    if (node.type === 'FunctionDeclaration' && node.id?.name === name) kind = 'handler';
  });
  return kind;
}

function kindOf(init: Node | null | undefined): BindingKind {
  if (!init) return 'state';
  const value = bare(init);
  if (isFunction(value)) return 'handler';
  const callee = calleeName(value.type === 'AwaitExpression' ? value.argument : value);
  if (callee === undefined) return 'derived';
  if (callee === 'useTemplateRef') return 'ref';
  if (callee === 'ref' && value.type === 'CallExpression' && isElementRef(value)) return 'ref';
  if (STATE.has(callee) || callee === 'defineModel') return 'state';
  if (DERIVED.has(callee)) return 'derived';
  if (callee === 'inject') return 'context';
  return /^use[A-Z]/.test(callee) ? 'hook' : 'derived';
}

/** `ref<HTMLInputElement>()`: a place for an element, not a value. */
function isElementRef(call: TSESTree.CallExpression): boolean {
  const type = call.typeArguments?.params[0];
  const parts = type?.type === 'TSUnionType' ? type.types : type ? [type] : [];
  return parts.some(
    (t) =>
      t.type === 'TSTypeReference' && t.typeName.type === 'Identifier' && /Element$|Instance/.test(t.typeName.name),
  );
}

/** The prop behind a computed value that reads it and sends `update:` and its name when it is set. */
function olderModel(init: Node | null | undefined): string | undefined {
  const value = init ? bare(init) : undefined;
  const object = value?.type === 'CallExpression' && calleeName(value) === 'computed' ? value.arguments[0] : value;
  if (object?.type !== 'ObjectExpression') return undefined;
  const [get, set] = [propertyOf(object, 'get'), propertyOf(object, 'set')];
  if (!get || !set || !isFunction(get) || !isFunction(set)) return undefined;
  const read = returnedObjects(get)[0];
  const written = set.body.type === 'BlockStatement' ? set.body.body : [set.body];
  const only = written.length === 1 ? written[0]! : undefined;
  const call = only?.type === 'ExpressionStatement' ? only.expression : only;
  if (read?.type !== 'MemberExpression' || read.property.type !== 'Identifier' || call?.type !== 'CallExpression')
    return undefined;
  const [event, sent] = call.arguments;
  const [parameter] = set.params;
  const name = read.property.name;
  if (event?.type !== 'Literal' || event.value !== `update:${name}` || sent?.type !== 'Identifier') return undefined;
  return parameter?.type === 'Identifier' && parameter.name === sent.name ? name : undefined;
}
