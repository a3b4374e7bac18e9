/** Which functions of Vue keep, work out and wait, and where the statements of script setup stand. */
import { isProblem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import type { CallNames } from '../../../script/quiet.js';
import { ScriptScopes, type Reference, type Variable } from '../../../script/scopes.js';
import { bare, calleeName, spanOf, within } from '../../../script/walk.js';
import type { Hooks, LogicGroup } from '../../../language/hooking.js';
import type { Span } from '../../../text/edits.js';
import { withComments } from '../../../text/layout.js';
import { hooksOf } from '../../grouping/groups.js';
import { isWaiting, type LogicReader } from '../../grouping/statements.js';
import { CHANGING } from '../cut/questions.js';
import { macroCall, type Definition } from '../definition.js';
import { lower } from '../lower.js';
import { parseSfc, type Sfc } from '../sfc.js';

const words = (text: string): ReadonlySet<string> => new Set(text.split(' '));

const STATES = words('ref shallowRef reactive shallowReactive customRef');
const DERIVES = words('computed');
/** What looks a value up, or gives another view of one. */
const VIEWS = words(
  'toRef toRefs toRaw unref readonly markRaw inject useSlots useAttrs getCurrentInstance useTemplateRef $ref $props',
);
const LIFE = words(
  'onBeforeMount onMounted onBeforeUpdate onUpdated onBeforeUnmount onUnmounted onActivated onDeactivated onErrorCaptured ' +
    'onServerPrefetch',
);
const WATCHES = words('watch watchEffect watchPostEffect watchSyncEffect');
const KEEPERS = new Set([...STATES, ...DERIVES, ...VIEWS]);
const EFFECTS = new Set([...LIFE, ...WATCHES]);

export const WORDS: CallNames = {
  keepers: KEEPERS,
  afterwards: LIFE,
  isHook: (name) => name !== undefined && (/^use[A-Z]/.test(name) || KEEPERS.has(name) || EFFECTS.has(name)),
};

const reader: LogicReader = {
  words: {
    ...WORDS,
    effects: EFFECTS,
    states: STATES,
    refs: new Set(),
    derives: DERIVES,
    wraps: new Set(),
    lasting: true,
  },

  around(file, ports, piece) {
    const sfc = parseSfc(file, ports);
    if (isProblem(sfc)) return sfc.message;
    if (!sfc.setup) return 'what options hold hangs on the instance; a function of them can be shared by `unify`';
    return within(piece, sfc.setup.inner) ? sfc.setup.inner : 'not all of them stand in script setup';
  },

  open(file, ports) {
    const sfc = parseSfc(file, ports);
    if (isProblem(sfc)) return sfc;
    const { script, scopes, definition } = lower(sfc, true);
    const component = script.program.body.find((s) => s.type === 'ExportDefaultDeclaration')?.declaration;
    const all = component?.type === 'FunctionDeclaration' ? component.body.body : [];
    const { setup, text } = sfc;
    const own = setup ? all.filter((s) => s.type === 'ReturnStatement' || within(spanOf(s), setup.inner)) : [];
    const apart = conditionalParts(text);
    const stays = (s: Node) => whyItStays(s, text, apart) !== undefined;
    return { text, scopes, statements: own, stays, givenFrom: givenFrom(sfc, definition) };
  },

  changes: (use, kept, scopes) => use.isWrite() || isChangedInPlace(use, scopes, kept.isAsked),
};

/** Why a statement can stand nowhere else; undefined where it can. */
export function whyItStays(
  statement: Node,
  text: string,
  apart: readonly Span[] = conditionalParts(text),
): string | undefined {
  const span = spanOf(statement);
  const { start } = withComments(text, span);
  if (apart.some((part) => start < part.end && part.start < span.end))
    return 'one is there under a condition of the build';
  if (isWaiting(statement)) return 'the component waits in one';
  if (statement.type === 'ExpressionStatement')
    return macroCall(statement.expression) ? 'one is a macro of script setup' : undefined;
  if (statement.type !== 'VariableDeclaration') return undefined;
  if (statement.declarations.some((d) => macroCall(d.init))) return 'one is a macro of script setup';
  // What the markup fills by its name is made a variable.
  const isFilled = statement.kind === 'let' && !/^(?:let|var)\b/.test(text.slice(span.start, span.end));
  return isFilled ? 'the markup fills one by its name' : undefined;
}

/** Stretches that comments give to some builds only: `// #ifdef H5` to `// #endif`. */
function conditionalParts(text: string): Span[] {
  const parts: Span[] = [];
  let start: number | undefined;
  for (const { 0: mark, index } of text.matchAll(/#(?:ifn?def|endif)\b/g)) {
    if (mark !== '#endif') start ??= index;
    else if (start !== undefined) parts.push({ start, end: index + mark.length });
    if (mark === '#endif') start = undefined;
  }
  return start === undefined ? parts : [...parts, { start, end: text.length }];
}

/** Where the statement ends by which a component has its props, or sends its events. */
function givenFrom({ setup }: Sfc, { propsLocal, emitLocal }: Definition): (name: Variable) => number {
  const declared = setup ? ScriptScopes.of(setup.script).moduleScope.set : new Map<string, Variable>();
  const at = (local: string | undefined) =>
    (local === undefined ? undefined : declared.get(local)?.identifiers[0]?.range[1]) ?? 0;
  const [props, emit] = [at(propsLocal), at(emitLocal)];
  return ({ name }) => (name.startsWith('props.') ? props : name.startsWith('emit:') ? emit : 0);
}

/** `hives.push(hive)`, `filter.text = ''`, `Object.assign(filter, …)`; `isAsked`: what its own methods do is not known. */
function isChangedInPlace({ identifier }: Reference, scopes: ScriptScopes, isAsked: boolean): boolean {
  let node: Node = identifier;
  let parent = scopes.parentOf(node);
  while (parent?.type === 'MemberExpression' && parent.object === node) {
    node = parent;
    parent = scopes.parentOf(node);
  }
  switch (parent?.type) {
    case 'AssignmentExpression':
      return parent.left === node;
    case 'UpdateExpression':
      return true;
    case 'UnaryExpression':
      return parent.operator === 'delete';
    case 'CallExpression': {
      if (parent.callee === node) return !isAsked && node !== identifier && CHANGING.has(calleeName(parent) ?? '');
      const callee = bare(parent.callee);
      const isAssign = callee.type === 'MemberExpression' && calleeName(parent) === 'assign';
      return isAssign && parent.arguments[0] === node;
    }
    default:
      return false;
  }
}

const own = hooksOf(reader);

export const hooks: Hooks = {
  ...own,
  groups(file, ports, component) {
    const groups = own.groups(file, ports, component);
    return isProblem(groups) ? groups : groups.map(asHandedOver);
  },
};

/** Props and events are handed over as the one thing that a component has them by. */
function asHandedOver(group: LogicGroup): LogicGroup {
  const inputs = group.inputs.map((name) => name.replace(/^props\..*/, 'props').replace(/^emit:.*/, 'emit'));
  return { ...group, inputs: [...new Set(inputs)] };
}
