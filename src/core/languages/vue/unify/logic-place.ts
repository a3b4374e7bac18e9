/** A function of a Vue script that could stand in a module, where it stands. */
import type { TSESTree } from '@typescript-eslint/types';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { ScriptScopes } from '../../../script/scopes.js';
import { bare, isFunction, nodeAt, walk, within, type FunctionNode } from '../../../script/walk.js';
import type { UnifyPlace, UnifyRequest } from '../../../language/unifying.js';
import type { Importing } from '../../imports.js';
import type { Host } from '../cut/host.js';
import { hasBases } from '../bases.js';
import { defineOf, HOOKS, keyName } from '../definition.js';
import { lower } from '../lower.js';
import { parseSfc, type ScriptBlock, type Sfc } from '../sfc.js';

/** One of the functions, where it stands. */
export interface LogicPlace {
  readonly host: Host;
  readonly sfc: Sfc;
  readonly block: ScriptBlock;
  /** Of the script as it is written. */
  readonly scopes: ScriptScopes;
  readonly fn: FunctionNode;
  /** What holds it: a property of the options, or a declaration at the top of the script. */
  readonly holder: { readonly property: TSESTree.Property } | { readonly statement: Node; readonly name: string };
}

/** Options whose function tells what the component has. */
const DECLARES = new Set(['data', 'asyncData', 'setup']);

export function openPlace({ ports }: UnifyRequest, { file, span }: UnifyPlace): LogicPlace | Problem {
  const sfc = parseSfc(file, ports);
  if (isProblem(sfc)) return sfc;
  const refused = (why: string) => problem('unify-logic', { path: file.path, span }, why);
  const block = [sfc.script, sfc.setup].find((b) => b && within(span, b.inner));
  const node = block && nodeAt(block.script.program, span);
  const declared = node?.type === 'VariableDeclaration' && node.declarations.length === 1 ? node.declarations[0] : node;
  const value = declared?.type === 'VariableDeclarator' ? declared.init : declared;
  const fn = value ? bare(value) : undefined;
  if (!block || !fn || !isFunction(fn)) return refused('it is no function, but a part of one');
  const scopes = ScriptScopes.of(block.script);
  if (scopes.ancestorsOf(fn).some(isFunction)) return refused('the function stands inside of another one');
  const holder = holderAt(scopes, fn);
  if (typeof holder === 'string') return refused(holder);
  const why = whyNot(fn, file.text) ?? whyNotHook(sfc, holder);
  if (why !== undefined) return refused(why);
  const host = { text: file.text, lowered: lower(sfc), request: { file: { path: file.path } } };
  return { host, sfc, block, scopes, fn, holder };
}

function holderAt(scopes: ScriptScopes, fn: FunctionNode): LogicPlace['holder'] | string {
  const parent = scopes.parentOf(fn);
  if (fn.type === 'FunctionDeclaration') {
    const isExported = parent?.type !== 'Program';
    return isExported || !fn.id ? 'it is exported' : { statement: fn, name: fn.id.name };
  }
  if (parent?.type === 'Property' && parent.kind === 'init') {
    const above = scopes.ancestorsOf(parent).filter((n) => n.type === 'Property');
    const names = [parent, ...above].map((p) => keyName(p.key) ?? '');
    const told = names.at(-1)!;
    return DECLARES.has(told) ? `"${told}" tells what the component has` : { property: parent };
  }
  const statement = parent?.type === 'VariableDeclarator' ? scopes.parentOf(parent) : undefined;
  if (statement?.type !== 'VariableDeclaration' || parent?.type !== 'VariableDeclarator')
    return 'it is no option and has no name at the top of the script';
  const isPlain = statement.kind === 'const' && statement.declarations.length === 1 && parent.id.type === 'Identifier';
  if (!isPlain || scopes.parentOf(statement)?.type !== 'Program') return 'its name may mean another function later';
  return { statement, name: (parent.id as TSESTree.Identifier).name };
}

/** Why a function cannot stand in a module. */
function whyNot(fn: FunctionNode, text: string): string | undefined {
  let why: string | undefined;
  walk(fn, (node) => {
    if (node.type === 'Super') why = 'it calls what it was before with "super"';
    if (node.type === 'ThisExpression' && fn.type === 'ArrowFunctionExpression') why = 'its "this" is that of the file';
  });
  if (/\$refs\b/.test(text.slice(...fn.range))) why = 'it reaches elements of its component by refs';
  if (fn.type === 'FunctionExpression' && fn.id) why = 'it has a name of its own inside';
  return why;
}

/** Vue runs a hook that a component and a base of it have in common once, and two hooks of one text twice. */
function whyNotHook(sfc: Sfc, holder: LogicPlace['holder']): string | undefined {
  const definition = defineOf(sfc.text, sfc.script?.script.program, sfc.setup?.script.program);
  if (!('property' in holder) || !hasBases(definition) || !definition.options) return undefined;
  const name = definition.options.properties.includes(holder.property) ? keyName(holder.property.key) : undefined;
  return name !== undefined && HOOKS.has(name)
    ? `"${name}" runs beside those of what the component is made from`
    : undefined;
}

/** The script as it is written, for what is asked of its imports. */
export function written({ sfc, block, scopes }: LogicPlace): Importing {
  return { text: sfc.text, script: block.script, scopes, request: { file: { path: sfc.path } } };
}
