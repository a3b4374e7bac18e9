/** Two components, one of which shows the other: both read, and the tag between them. */

import type { HomeRequest } from '../../../language/homing.js';
import type { Ports } from '../../../language/ports.js';
import type { Putting } from '../../../language/inlining.js';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node, ParsedScript } from '../../../script/parser.js';
import { isEffect } from '../../../script/quiet.js';
import { ScriptScopes, type Variable } from '../../../script/scopes.js';
import { bare, calleeName, isFunction, nodeAt, spanOf, type FunctionNode } from '../../../script/walk.js';
import type { Edit, Span } from '../../../text/edits.js';
import { indentAt, relocated } from '../../../text/layout.js';
import type { Host, Setting } from '../../homes/leaving.js';
import { findComponents } from '../candidates.js';
import { habitsOf, type Habits } from '../cut/habits.js';
import { takenApart, type Definition } from '../inline/definition.js';
import { fixedIn } from '../inline/passed.js';
import { parseFile } from '../source.js';

export interface Outer extends Host {
  readonly path: string;
  readonly script: ParsedScript;
}

export interface Pair {
  readonly outer: Outer;
  readonly inner: Definition;
  readonly habits: Habits;
}

/** The component around a tag, where that is a function with statements. */
export function outerOf({ file, name, span }: Putting, use: Span, ports: Ports): Outer | Problem {
  const script = parseFile(file, ports);
  if (isProblem(script)) return script;
  const scopes = ScriptScopes.of(script);
  const tag = nodeAt(script.program, use);
  const refuse = (why: string) => problem('home-outer', { path: file.path, span }, name, why);
  if (tag?.type !== 'JSXElement') return refuse('it shows the other one by no plain tag');
  const candidates = findComponents(script.program).candidates;
  const fn = scopes
    .ancestorsOf(tag)
    .find(
      (node): node is FunctionNode =>
        isFunction(node) && candidates.some((c) => c.node === node && c.kind === 'function'),
    );
  if (!fn) return refuse('it is no function');
  return {
    path: file.path,
    text: file.text,
    script,
    scopes,
    fn,
    use: tag,
    holds: () => false,
    keeps,
    isEffect,
    settings: (variable) => settingsOf(variable, scopes),
  };
}

/** The first name of a state or a ref. */
function keeps(statement: Node): string[] {
  if (statement.type !== 'VariableDeclaration') return [];
  const { id, init } = statement.declarations[0];
  if (!init || !/^use(?:State|Reducer|Ref)$/.test(calleeName(init) ?? '')) return [];
  const name = id.type === 'ArrayPattern' ? id.elements[0] : id;
  return name?.type === 'Identifier' ? [name.name] : [];
}

function settingsOf({ defs: [definition], name }: Variable, scopes: ScriptScopes): Setting[] | undefined {
  if (definition?.type !== 'Variable' || definition.node.id.type !== 'ArrayPattern') return undefined;
  const [value, setter] = definition.node.id.elements;
  const isState = calleeName(definition.node.init ?? definition.node) === 'useState';
  if (!isState || value?.type !== 'Identifier' || value.name !== name) return undefined;
  const set = setter?.type === 'Identifier' ? scopes.variableOf(setter) : undefined;
  return (set?.references ?? [])
    .filter((r) => !r.init)
    .map(({ identifier }) => {
      const call = scopes.parentOf(identifier);
      const isCall = call?.type === 'CallExpression' && call.callee === identifier;
      const given = isCall && call.arguments.length === 1 ? bare(call.arguments[0]!) : undefined;
      return { call: isCall ? call : identifier, value: given?.type === 'Literal' ? given : undefined };
    });
}

export function pairOf(request: HomeRequest): Pair | Problem {
  const outer = outerOf(request.outer, request.use, request.ports);
  if (isProblem(outer)) return outer;
  const { file, name, span } = request.inner;
  const inner = takenApart(request.inner, request.ports, true);
  if ('why' in inner) return problem('home-inner', { path: file.path, span }, name, inner.why);
  if (isProblem(inner)) return inner;
  const habits = habitsOf(file.path, file.text, inner.script.program, request.project.files);
  return { outer, inner, habits };
}

/** A function that is one expression with a block in its place: statements, and what it gave before. */
export function withBlock(text: string, fn: FunctionNode, block: string, edits: readonly Edit[], habits: Habits): Edit {
  const nl = habits.lineEnd;
  const arrow = text.lastIndexOf('=>', fn.body.range[0]) + 2;
  const open = arrow + /^\s*/.exec(text.slice(arrow))![0].length;
  const indent = indentAt(text, fn.range[0]);
  const unit = indent + habits.indent;
  const body = { start: open, end: fn.range[1] };
  const shown = relocated(text, body, unit, edits, fixedIn(fn.body), indent);
  return { ...body, text: `{${nl}${block}${nl}${nl}${unit}return ${shown}${habits.semi || ';'}${nl}${indent}}` };
}

/** Set where an arrow function is nothing but a return once the statements are gone: the edit that makes it give that. */
export function soleReturnLeft(
  { text, fn, script }: Outer,
  gone: readonly Node[],
): ((edits: readonly Edit[]) => Edit) | undefined {
  const { body } = fn;
  if (fn.type !== 'ArrowFunctionExpression' || body.type !== 'BlockStatement') return undefined;
  const last = body.body.at(-1);
  if (last?.type !== 'ReturnStatement' || !last.argument || !body.body.every((s) => s === last || gone.includes(s)))
    return undefined;
  const isKept = (c: Span) =>
    c.start >= body.range[0] && c.end <= last.range[0] && !/^\s*$/.test(text.slice(c.start, c.end));
  if (script.comments.some(isKept)) return undefined;
  const end = last.range[1] - (text[last.range[1] - 1] === ';' ? 1 : 0);
  const start = last.range[0] + /^return\s*/.exec(text.slice(...last.range))![0].length;
  return (edits) => ({
    ...spanOf(body),
    text: relocated(text, { start, end }, indentAt(text, fn.range[0]), edits, fixedIn(last), indentAt(text, start)),
  });
}
