/**
 * Functions of Vue scripts made one. A function that needs nothing of its surroundings moves to a module as it is: what an
 * option holds is called with the instance as `this`, wherever it was written. One that needs something is called with it.
 */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { asksThis } from '../../../script/this-members.js';
import { spanOf, within } from '../../../script/walk.js';
import type { UnifyRequest, Unifying } from '../../../language/unifying.js';
import type { Edit, Span } from '../../../text/edits.js';
import { indentAt, indentUnitOf, withComments } from '../../../text/layout.js';
import { droppedImports, sourceFor, wholeLines, without } from '../../imports.js';
import { habitsOf, type Habits } from '../cut/habits.js';
import { writeComposable } from '../composables/write.js';
import { importingOf, withImport } from '../cut/host.js';
import { argumentsOf, type Argument } from './logic-arguments.js';
import { openPlace, written, type LogicPlace } from './logic-place.js';
import { moduleText, typesOfArguments } from './logic-text.js';

export function unifyLogic(given: UnifyRequest): Unifying | Problem {
  if (given.places.length === 1) return writeComposable(given);
  let request = given;
  const places: LogicPlace[] = [];
  for (const place of request.places) {
    const opened = openPlace(request, place);
    if (isProblem(opened)) return opened;
    places.push(opened);
  }
  const reference = places[request.reference]!;
  const { path } = reference.sfc;
  const at = { path, span: spanOf(reference.fn) };
  if (request.inputs.length > 0 || request.target === undefined)
    return problem('unify-logic', at, 'the places differ in it');
  const args = argumentsOf(request, places);
  if (isProblem(args)) return args;
  const moves = args.length === 0;
  if (moves && request.whenMoved) request = { ...request, ...request.whenMoved };
  const typed = typesOfArguments(request, reference, args);
  const edits = new Map<string, Edit[]>();
  const gone = new Map<string, Span[]>();
  const locals = new Map<string, Set<string>>();
  const add = <T>(map: Map<string, T[]>, key: string, items: readonly T[]) =>
    map.set(key, [...(map.get(key) ?? []), ...items]);
  for (const [i, place] of places.entries()) {
    const own = place.sfc.path;
    const { edit, leaving, local } = moves ? moved(request, place) : called(request, place, i, args);
    add(edits, own, [edit]);
    add(gone, own, leaving);
    locals.set(own, (locals.get(own) ?? new Set()).add(local));
  }
  const result = new Map<string, readonly Edit[]>();
  for (const [own, list] of edits) {
    const place = places.find((p) => p.sfc.path === own)!;
    const habits = habitsOf(place.sfc, request.project.files);
    const line = importLine(request, place, [...locals.get(own)!], habits);
    const dropped = droppedImports(importingOf(place.host), gone.get(own)!);
    result.set(own, [...list, ...withImport(place.host, place.block.inner, line, dropped, habits)]);
  }
  const files = new Map([[request.target!, moduleText(request, reference, args, typed)]]);
  const props = typed.map(({ name, type }) => ({ name, ...(type === undefined ? {} : { type }) }));
  return { edits: result, files, name: request.name, seam: { props, events: [], slots: [] }, notes: [] };
}

interface Replaced {
  readonly edit: Edit;
  readonly leaving: readonly Span[];
  /** What the file calls the shared function. */
  readonly local: string;
}

function moved({ name }: UnifyRequest, { holder, sfc, fn }: LogicPlace): Replaced {
  if ('statement' in holder) {
    const span = withComments(sfc.text, spanOf(holder.statement));
    return { edit: wholeLines(sfc.text, span), leaving: [span], local: holder.name };
  }
  const { property } = holder;
  const key = sfc.text.slice(...property.key.range);
  const isShort = !property.computed && key === name;
  const text = isShort ? name : `${property.computed ? `[${key}]` : key}: ${name}`;
  return { edit: { ...spanOf(property), text }, leaving: [spanOf(fn)], local: name };
}

function called(request: UnifyRequest, place: LogicPlace, index: number, args: readonly Argument[]): Replaced {
  const { fn, sfc } = place;
  const habits = habitsOf(sfc, request.project.files);
  const own = fn.params.map((p) => (p.type === 'RestElement' ? `...${nameIn(p.argument)}` : nameIn(p)));
  const values = args.map((a) => a.values[index]!);
  const texts = values.map((v) => v.text);
  const rest = fn.params.some((p) => p.type === 'RestElement');
  const passed = [...(asksThis(fn) ? ['this'] : []), ...(rest ? [...texts, ...own] : [...own, ...texts])];
  const call = `${request.name}${asksThis(fn) ? '.call' : ''}(${passed.join(', ')})`;
  const { lineEnd: nl, semi } = habits;
  const outer = indentAt(sfc.text, fn.range[0]);
  const inner = outer + indentUnitOf(sfc.text.slice(place.block.inner.start, place.block.inner.end));
  const isShort = fn.type === 'ArrowFunctionExpression' && fn.body.type !== 'BlockStatement';
  const text = isShort ? call : `{${nl}${inner}return ${call}${semi}${nl}${outer}}`;
  const leaving = without(
    spanOf(fn.body),
    values.map((v) => v.span).filter((s) => within(s, spanOf(fn.body))),
  );
  return { edit: { ...spanOf(fn.body), text }, leaving, local: request.name };
}

function nameIn(node: Node): string {
  return node.type === 'Identifier' ? node.name : '';
}

/** `import { formatWeight, formatWeight as shownWeight } from './formatWeight'` */
function importLine(
  { name, target }: UnifyRequest,
  place: LogicPlace,
  locals: readonly string[],
  habits: Habits,
): string {
  const { pad, quote, semi } = habits;
  const clause = locals.map((local) => (local === name ? name : `${name} as ${local}`)).join(', ');
  const source = sourceFor(written(place), place.sfc.path, target!);
  return `import {${pad}${clause}${pad}} from ${quote}${source}${quote}${semi}`;
}
