/** What a component with script setup says that it takes and sends, with some of it gone and some of it new. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import { calleeName, spanOf } from '../../../script/walk.js';
import { applyEdits, type Edit } from '../../../text/edits.js';
import { literally } from '../../../text/pattern.js';
import { inOneLine, listEdits, memberGone, withMembers } from '../../member-lists.js';
import { membersOf, typeTable } from '../../type-members.js';
import { wholeLines } from '../../imports.js';
import type { Habits } from '../cut/habits.js';
import { keyName, macroCall, type Definition as VueDefinition } from '../definition.js';
import type { Definition } from '../inline/definition.js';

export interface NewProp {
  readonly name: string;
  readonly type: string;
}

export interface Said {
  readonly edits: readonly Edit[];
  /** Statements to put behind the imports, where the component said nothing of the kind. */
  readonly statements: readonly string[];
}

/** `gone`: by the names under which a use hands it over: `query`, `onUpdate:query`, `v-model:query`. A string where that cannot be written. */
export function saidOf(
  definition: Definition,
  gone: ReadonlySet<string>,
  added: readonly NewProp[],
  readsProps: boolean,
  habits: Habits,
): Said | string {
  const { setup } = definition.sfc;
  const { definition: own } = definition.lowered;
  const body: readonly Node[] = setup?.script.program.body ?? [];
  const edits: Edit[] = [];
  const statements: string[] = [];
  const props = own.propsLocal ?? 'props';
  if (own.propsPattern && added.length > 0) return 'it takes its props apart';
  const events = new Set([...gone].flatMap((name) => (/^on[A-Z]/.test(name) ? [name] : [])));
  for (const statement of body) {
    const call = macroOf(statement);
    if (!call) continue;
    const name = calleeName(call);
    if (name === 'defineModel' && gone.has(`v-model:${modelName(call)}`))
      edits.push(wholeLines(definition.text, spanOf(statement)));
    if (name === 'defineProps' || name === 'withDefaults') {
      const listed = listOf(definition, call, (key) => gone.has(key), added, habits);
      if (typeof listed === 'string') return listed;
      const isEmptied = listed.left === 0;
      if (isEmptied && !isRead(definition, own.propsLocal, gone))
        edits.push(wholeLines(definition.text, spanOf(statement)));
      else {
        edits.push(...listed.edits);
        if (readsProps && own.propsLocal === undefined && statement.type === 'ExpressionStatement') {
          edits.push({ start: statement.range[0], end: statement.range[0], text: `const ${props} = ` });
        }
      }
    }
    if (name === 'defineEmits') {
      const listed = listOf(definition, call, (key) => events.has(eventKey(key)), [], habits);
      if (typeof listed === 'string') return listed;
      if (listed.left === 0) edits.push(wholeLines(definition.text, spanOf(statement)));
      else edits.push(...listed.edits);
    }
  }
  const hasProps = body.some((s) => /^(?:defineProps|withDefaults)$/.test(calleeName(macroOf(s) ?? s) ?? ''));
  if (!hasProps && added.length > 0) {
    const call = habits.typed
      ? `defineProps<{ ${added.map((p) => `${p.name}: ${p.type}`).join('; ')} }>()`
      : `defineProps([${added.map((p) => habits.quote + p.name + habits.quote).join(', ')}])`;
    statements.push(`${readsProps ? `const ${props} = ` : ''}${call}${habits.semi}`);
  }
  return { edits, statements };
}

function macroOf(statement: Node): TSESTree.CallExpression | undefined {
  if (statement.type === 'ExpressionStatement') return macroCall(statement.expression);
  const [only, ...others] = statement.type === 'VariableDeclaration' ? statement.declarations : [];
  return only && others.length === 0 ? macroCall(only.init) : undefined;
}

function modelName({ arguments: [first] }: TSESTree.CallExpression): string {
  return first?.type === 'Literal' && typeof first.value === 'string' ? first.value : 'modelValue';
}

/** `onUpdate:query` for `update:query`, `onSearch` for `search` and for `search` written with hyphens. */
function eventKey(key: string): string {
  const name = key.replace(/-(\w)/g, (_, c: string) => c.toUpperCase());
  return `on${name[0]!.toUpperCase()}${name.slice(1)}`;
}

function isRead(definition: Definition, propsLocal: string | undefined, gone: ReadonlySet<string>): boolean {
  if (propsLocal === undefined) return false;
  const names = [...definition.lowered.scopes.references].map((r) => String((r.identifier as { name?: unknown }).name));
  return names.some((name) => name.startsWith('props.') && !gone.has(name.slice('props.'.length)));
}

/** The entries of a macro: an array of names, a record, or the members of a type; edits, and how many are left. */
function listOf(
  { text, sfc }: Definition,
  call: TSESTree.CallExpression,
  isGone: (key: string) => boolean,
  added: readonly NewProp[],
  habits: Habits,
): { edits: Edit[]; left: number } | string {
  if (calleeName(call) === 'withDefaults') {
    const inner = call.arguments[0];
    const made =
      inner?.type === 'CallExpression' ? listOf({ text, sfc } as Definition, inner, isGone, added, habits) : undefined;
    const defaults = call.arguments[1];
    if (!made || typeof made === 'string' || defaults?.type !== 'ObjectExpression')
      return made ?? 'its props are written in an unusual way';
    const entries = defaults.properties;
    const isOut = (p: Node) => p.type === 'Property' && isGone(keyName(p.key) ?? '');
    if (inner && entries.every(isOut)) {
      const bare = [
        { start: call.range[0], end: inner.range[0], text: '' },
        { start: inner.range[1], end: call.range[1], text: '' },
      ];
      return { edits: [...made.edits, ...bare], left: made.left };
    }
    return { edits: [...made.edits, ...listEdits(text, entries, isOut, [])], left: made.left };
  }
  const [listed] = call.arguments;
  const { quote: q } = habits;
  if (listed?.type === 'ArrayExpression') {
    const elements = listed.elements.filter((e) => e !== null);
    const isOut = (e: Node) => e.type === 'Literal' && isGone(String(e.value));
    const names = added.map((p) => q + p.name + q);
    return {
      edits: listEdits(text, elements, isOut, names),
      left: elements.filter((e) => !isOut(e)).length + names.length,
    };
  }
  if (listed?.type === 'ObjectExpression') {
    const isOut = (p: Node) => p.type === 'Property' && isGone(keyName(p.key) ?? '');
    const names = added.map((p) => `${p.name}: { required: true }`);
    const left = listed.properties.filter((p) => !isOut(p)).length + names.length;
    return { edits: listEdits(text, listed.properties, isOut, names), left };
  }
  const type = call.typeArguments?.params[0];
  if (!type) return added.length === 0 ? { edits: [], left: 1 } : 'its props are written in an unusual way';
  const members = membersOf(type, typeTable(sfc.setup!.script.program));
  const keyOf = (m: TSESTree.TypeElement) =>
    m.type === 'TSPropertySignature' || m.type === 'TSMethodSignature' ? keyName(m.key) : sentBy(m);
  const out = members.filter((m) => isGone(keyOf(m) ?? ''));
  const edits = out.map((m) => memberGone(text, spanOf(m)));
  const left = members.filter((m) => !out.includes(m));
  if (added.length === 0) return { edits: inOneLine(text, type, edits), left: left.length };
  if (members.length === 0) return 'its props are not written in its file';
  return { edits: inOneLine(text, type, withMembers(text, left, edits, added)), left: left.length + added.length };
}

/** `'search'` of `(event: 'search', text: string): void`. */
function sentBy(member: TSESTree.TypeElement): string | undefined {
  const first = member.type === 'TSCallSignatureDeclaration' ? member.params[0] : undefined;
  const type = first?.type === 'Identifier' ? first.typeAnnotation?.typeAnnotation : undefined;
  return type?.type === 'TSLiteralType' && type.literal.type === 'Literal' ? String(type.literal.value) : undefined;
}

/** `const props = ` in front of a macro, where edits leave nobody who asks for it. */
export function unheld(text: string, { propsLocal, emitLocal }: VueDefinition, edits: readonly Edit[]): Edit[] {
  const after = applyEdits(text, edits);
  return [propsLocal, emitLocal].flatMap((name): Edit[] => {
    const word = new RegExp(`(?<![\\w$])${literally(name ?? '')}(?![\\w$])`, 'g');
    const count = (whole: string) => whole.match(word)?.length ?? 0;
    if (name === undefined || count(after) !== 1 || count(text) === 1) return [];
    const holder = new RegExp(`const ${literally(name)}\\s*=\\s*(?=(?:withDefaults|defineProps|defineEmits)\\b)`).exec(
      text,
    );
    return holder ? [{ start: holder.index, end: holder.index + holder[0].length, text: '' }] : [];
  });
}
