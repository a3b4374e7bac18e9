/** What a component takes, changed where it is declared: its parameter, the type of it, and what the file says of its props. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import { attributeName, bare, spanOf } from '../../../script/walk.js';
import type { Edit, Span } from '../../../text/edits.js';
import { indentAt } from '../../../text/layout.js';
import { wholeLines } from '../../imports.js';
import { inOneLine, listEdits, memberGone, withMembers } from '../../member-lists.js';
import { membersOf, typeTable } from '../../type-members.js';
import type { Definition } from '../inline/definition.js';
import type { Habits } from '../cut/habits.js';
import { propsType } from '../props.js';

export interface NewProp {
  readonly name: string;
  readonly type?: string;
}

/** Edits of the component's file. `typed`: the file says types. */
export function changedProps(
  definition: Definition,
  dropped: ReadonlySet<string>,
  added: readonly NewProp[],
  habits: Habits,
): Edit[] {
  const { fn, whole } = definition;
  const [parameter] = fn.params;
  if (!parameter) return added.length === 0 ? [] : [firstParameter(definition, added, habits)];
  const pattern = patternOf(definition, parameter);
  const stays = (p: TSESTree.Property | TSESTree.RestElement) =>
    !isDropped(p, dropped) || (p.type === 'Property' && p.shorthand && added.some((a) => a.name === nameOf(p)));
  const kept = pattern?.properties.filter(stays) ?? [];
  const names = added.map((p) => p.name).filter((name) => !kept.some((p) => nameOf(p) === name));
  const type = propsType(fn, definition.statement);
  const isEmptied = !whole && kept.length === 0 && added.length === 0;
  return [
    ...(isEmptied ? [emptied(definition, parameter)] : []),
    ...(pattern && !isEmptied ? patternEdits(definition, pattern, stays, names, habits) : []),
    ...(type ? inOneLine(definition.text, type, typeEdits(definition, type, dropped, added, isEmptied)) : []),
    ...runtimeTypes(definition, new Set([...dropped].filter((name) => !added.some((a) => a.name === name)))),
  ];
}

/** In one line where that has room, else one under the other as before. */
function patternEdits(
  { text, whole }: Definition,
  pattern: TSESTree.ObjectPattern,
  stays: (p: TSESTree.Property | TSESTree.RestElement) => boolean,
  names: readonly string[],
  habits: Habits,
): Edit[] {
  const edits = listEdits(text, pattern.properties, (p) => !stays(p), names);
  if (edits.length === 0 || pattern.properties.length === 0) return edits;
  const start = pattern.range[0];
  const end = text.indexOf('}', pattern.properties.at(-1)!.range[1]) + 1;
  const before = text.slice(start, end);
  if (/\/\/|\/\*/.test(before)) return edits;
  const rest = pattern.properties.findIndex((p) => p.type === 'RestElement');
  const kept = pattern.properties.filter(stays).map((p) => text.slice(...p.range));
  const all = rest < 0 ? [...kept, ...names] : [...kept.slice(0, -1), ...names, kept.at(-1)!];
  const line = text.lastIndexOf('\n', start - 1) + 1;
  const flat = `{${habits.pad}${all.join(', ')}${habits.pad}}`;
  const after = /^[^\n]*/.exec(text.slice(end))![0];
  const fits = start - line + flat.length + after.length <= habits.width && !flat.includes('\n');
  if (fits) return before.includes('\n') || whole ? [{ start, end, text: flat }] : edits;
  if (before.includes('\n')) return edits;
  const indent = indentAt(text, start);
  const inner = `,${habits.lineEnd}${indent}${habits.indent}`;
  const comma = habits.trailingComma && rest < 0 ? ',' : '';
  return [{ start, end, text: `{${inner.slice(1)}${all.join(inner)}${comma}${habits.lineEnd}${indent}}` }];
}

function nameOf(property: TSESTree.Property | TSESTree.RestElement): string | undefined {
  return property.type === 'Property' && property.key.type === 'Identifier' ? property.key.name : undefined;
}

/** Where the props are taken apart: in the parameter, or by a statement. */
function patternOf({ fn, whole, scopes }: Definition, parameter: Node): TSESTree.ObjectPattern | undefined {
  if (parameter.type === 'ObjectPattern') return parameter;
  for (const { identifier } of whole?.references ?? []) {
    const parent = scopes.parentOf(identifier);
    if (parent?.type === 'VariableDeclarator' && parent.init === identifier && parent.id.type === 'ObjectPattern')
      return fn.range[0] <= parent.range[0] ? parent.id : undefined;
  }
  return undefined;
}

function isDropped(property: TSESTree.Property | TSESTree.RestElement, dropped: ReadonlySet<string>): boolean {
  return property.type === 'Property' && property.key.type === 'Identifier' && dropped.has(property.key.name);
}

/** Without the parameter, where there is nothing left to take. */
function emptied({ text, fn }: Definition, parameter: Node): Edit {
  const [start, end] = parameter.range;
  const comma = /^\s*,/.exec(text.slice(end, fn.body.range[0]))?.[0].length ?? 0;
  return { start, end: end + comma, text: '' };
}

function firstParameter({ text, fn }: Definition, added: readonly NewProp[], habits: Habits): Edit {
  const open = text.indexOf('(', 'id' in fn && fn.id ? fn.id.range[1] : fn.range[0]);
  const names = `{${habits.pad}${added.map((p) => p.name).join(', ')}${habits.pad}}`;
  const type = `{ ${added.map((p) => `${p.name}: ${p.type ?? 'any'}`).join('; ')} }`;
  return { start: open + 1, end: open + 1, text: habits.typed ? `${names}: ${type}` : names };
}

function typeEdits(
  definition: Definition,
  type: TSESTree.TypeNode,
  dropped: ReadonlySet<string>,
  added: readonly NewProp[],
  isEmptied: boolean,
): Edit[] {
  const { text, script } = definition;
  const types = typeTable(script.program);
  const members = membersOf(type, types);
  const again = new Set<string>();
  const edits = members
    .filter((m) => m.type === 'TSPropertySignature' || m.type === 'TSMethodSignature')
    .filter((m) => m.key.type === 'Identifier' && dropped.has(m.key.name))
    .map((m): Edit => {
      const { name } = m.key as TSESTree.Identifier;
      const now = added.find((a) => a.name === name);
      if (!now || m.type !== 'TSPropertySignature' || !m.typeAnnotation) return memberGone(text, spanOf(m));
      again.add(name);
      return { ...spanOf(m.typeAnnotation.typeAnnotation), text: now.type ?? 'any' };
    });
  const fresh = added.filter((a) => !again.has(a.name));
  const declared =
    type.type === 'TSTypeReference' && type.typeName.type === 'Identifier' ? types.get(type.typeName.name) : undefined;
  if (isEmptied) {
    // Nothing takes them: the type goes with its last use.
    const variable = declared && definition.scopes.variableOf(declared.id);
    const uses = variable?.references.length ?? 0;
    const statement =
      declared &&
      script.program.body.find(
        (s) => s === declared || (s.type === 'ExportNamedDeclaration' && s.declaration === declared),
      );
    if (statement?.type.startsWith('TS') && uses === 1 && edits.length === members.length)
      return [{ ...wholeStatement(text, spanOf(statement)), text: '' }];
    return edits;
  }
  if (fresh.length === 0) return edits;
  const body =
    declared?.type === 'TSInterfaceDeclaration'
      ? declared.body.body
      : declared?.type === 'TSTypeAliasDeclaration'
        ? membersOf(declared.typeAnnotation, new Map())
        : membersOf(type, new Map());
  const left = body.filter((m) => !edits.some((e) => e.start <= m.range[0] && e.end >= m.range[1] && e.text === ''));
  return withMembers(text, left, edits, fresh);
}

function wholeStatement(text: string, { start, end }: Span): Span {
  const rest = /^[ \t]*(?:\r?\n){1,2}/.exec(text.slice(end))?.[0].length ?? 0;
  return { start, end: end + rest };
}

/** `HiveList.propTypes = { … }` and the like without what is no longer taken. */
function runtimeTypes({ script, text, statement }: Definition, dropped: ReadonlySet<string>): Edit[] {
  const name = declaredName(statement);
  return script.program.body.flatMap((s): Edit[] => {
    if (s.type !== 'ExpressionStatement' || s.expression.type !== 'AssignmentExpression') return [];
    const { left, right } = s.expression;
    const isOwn =
      left.type === 'MemberExpression' &&
      left.object.type === 'Identifier' &&
      left.object.name === name &&
      left.property.type === 'Identifier' &&
      left.property.name === 'propTypes';
    const record = bare(right);
    if (!isOwn || record.type !== 'ObjectExpression') return [];
    const isGone = (p: Node) => p.type === 'Property' && p.key.type === 'Identifier' && dropped.has(p.key.name);
    if (dropped.size > 0 && record.properties.every(isGone)) return [wholeLines(text, spanOf(s))];
    return record.properties.filter(isGone).map((p) => {
      const comma = /^,/.exec(text.slice(p.range[1])) ? 1 : 0;
      return memberGone(text, { start: p.range[0], end: p.range[1] + comma });
    });
  });
}

function declaredName(statement: Node): string | undefined {
  const inner =
    (statement.type === 'ExportNamedDeclaration' || statement.type === 'ExportDefaultDeclaration') &&
    statement.declaration
      ? statement.declaration
      : statement;
  if (inner.type === 'FunctionDeclaration') return inner.id?.name;
  const id = inner.type === 'VariableDeclaration' ? inner.declarations[0]?.id : undefined;
  return id?.type === 'Identifier' ? id.name : undefined;
}

/** The tag with attributes taken out and others put behind the last one, as they are laid out there. */
export function changedAttributes(
  text: string,
  { openingElement: opening }: TSESTree.JSXElement,
  gone: readonly TSESTree.JSXAttribute[],
  added: readonly string[],
  width: number,
): Edit[] {
  const left = new Map(added.map((attribute) => [attribute.slice(0, attribute.indexOf('=')), attribute]));
  const edits = gone.map((attribute): Edit => {
    const { range } = attribute;
    const name = attributeName(attribute);
    const now = left.get(name);
    if (now !== undefined) {
      left.delete(name);
      return { ...spanOf(attribute), text: now };
    }
    const start = range[0] - /\s*$/.exec(text.slice(0, range[0]))![0].length;
    return { start, end: range[1], text: '' };
  });
  const flat = flatTag(text, opening, gone, added, width);
  if (edits.length > 0 && flat) return [flat];
  if (left.size === 0) return edits;
  const last = opening.attributes.at(-1);
  const isLong = last !== undefined && text.slice(opening.name.range[1], last.range[0]).includes('\n');
  const gap = isLong ? `\n${indentAt(text, last.range[0])}` : ' ';
  const at = last?.range[1] ?? (opening.typeArguments ?? opening.name).range[1];
  return [...edits, { start: at, end: at, text: [...left.values()].map((a) => gap + a).join('') }];
}

/** A tag that took several lines in one, where that now has room. */
function flatTag(
  text: string,
  opening: TSESTree.JSXOpeningElement,
  gone: readonly TSESTree.JSXAttribute[],
  added: readonly string[],
  width: number,
): Edit | undefined {
  const [start, end] = opening.range;
  const whole = text.slice(start, end);
  if (!whole.includes('\n') || /\/\/|\/\*/.test(whole)) return undefined;
  const kept = opening.attributes
    .filter((a) => !gone.includes(a as TSESTree.JSXAttribute))
    .map((a) => text.slice(...a.range));
  const attributes = [...kept, ...added];
  const head = text.slice(start, (opening.typeArguments ?? opening.name).range[1]);
  const tag = [head, ...attributes].join(' ') + (opening.selfClosing ? ' />' : '>');
  const column = start - (text.lastIndexOf('\n', start - 1) + 1);
  const rest = /^[^\n]*/.exec(text.slice(end))![0].length;
  return tag.includes('\n') || column + tag.length + rest > width ? undefined : { start, end, text: tag };
}

export function attributeText(name: string, value: string, habits: Habits): string {
  return `${name}={${habits.inner}${value}${habits.inner}}`;
}
