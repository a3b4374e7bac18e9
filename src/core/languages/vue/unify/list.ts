/** Places side by side, with nothing but literals between them: a list of records in the script, and one use in a loop of it. */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { within } from '../../../script/walk.js';
import type { GivenInput, Passed, UnifyRequest } from '../../../language/unifying.js';
import { applyEdits, type Edit } from '../../../text/edits.js';
import { indentAt, indentUnitOf, withComments } from '../../../text/layout.js';
import { hasCapitals, isLiteral, keyAmong, listNames, recordsText, type Field } from '../../record-list.js';
import type { Prepared } from '../cut/cut.js';
import type { Habits } from '../cut/habits.js';
import type { Scene } from '../cut/scene.js';
import { writeUseAt, type PassedOn, type Typed } from '../cut/write.js';
import { givenRecord, macroCall, propertyOf } from '../definition.js';
import { codeOf } from './sites.js';

/** `passed`: what the use of the reference passes. */
export function writeList(
  request: UnifyRequest,
  scenes: readonly Scene[],
  inputs: readonly GivenInput[],
  passed: readonly PassedOn[],
  { contents }: Prepared,
): Edit[] | Problem {
  const { habits } = contents;
  const ordered = [...scenes].sort((a, b) => a.region.start - b.region.start);
  const first = ordered[0]!;
  const at = { path: first.request.file.path, span: first.region };
  const isBeside = ordered.every((scene, i) => {
    const before = ordered[i - 1];
    if (!before) return true;
    const isHere = scene.request.file.path === at.path;
    return isHere && !first.text.slice(before.region.end, scene.region.start).trim();
  });
  if (!isBeside) return problem('list-apart', at);
  const stay = scenes.flatMap((s) => s.stays.map((span) => s.text.slice(span.start, span.end)))[0];
  if (stay !== undefined) return problem('list-values', at, stay.split('=')[0]!);

  const fields: (Field & { readonly input: GivenInput })[] = [];
  for (const input of inputs) {
    const crossing = passed.find((one) => one.crossing.given?.name === input.name)?.crossing;
    const isWritten = input.values.every(
      (v, p) => isLiteral(v, ({ start, end }) => scenes[p]!.text.slice(start, end)) && !isMarkupText(crossing, v),
    );
    if (!isWritten || input.values.includes(undefined)) return problem('list-values', at, input.name);
    const values = ordered.map((scene) => codeOf(input.values[scenes.indexOf(scene)], scene.text));
    fields.push({ name: crossing?.name ?? input.name, input, values });
  }
  const key = keyAmong(fields);
  if (!key) return problem('list-key', at);

  const taken = namesOf(first);
  const names = listNames(request.name, taken, hasCapitals(taken));
  const item = [names.item, `${names.item}Item`, 'record', 'row'].find((name) => !taken.has(name))!;
  const list = first.lowered.definition.api === 'options' ? names.list.replace(/^[A-Z_]+$/, camel) : names.list;
  const [bind, loop] = habits.longhand ? ['v-bind:', 'v-for'] : [':', 'v-for'];
  const lead = [`${loop}="${item} in ${list}"`, `${bind}key="${item}.${key.name}"`];
  const all = passed.map((one): PassedOn => {
    const { crossing } = one;
    const field = fields.find(({ input }) => input.name === crossing.given?.name);
    if (!field) return { ...one, value: readFrom(scenes[request.reference]!, one, fields, item) };
    const value = `${item}.${field.name}`;
    return { crossing, value: crossing.kind === 'slot' ? `{{ ${value} }}` : value };
  });
  const data = declared(first, list, fields, habits);
  if (isProblem(data)) return data;
  const span = { start: first.region.start, end: ordered.at(-1)!.region.end };
  return [data, { ...span, text: writeUseAt(first, habits, all, request.name, lead) }];
}

/** Code that stays with the use, with what differs in it read from the record. */
function readFrom(
  { text }: Scene,
  { crossing: { code }, value }: PassedOn,
  fields: readonly (Field & { readonly input: GivenInput })[],
  item: string,
): string {
  if (!code || text.slice(code.start, code.end) !== value) return value;
  const edits = fields.flatMap(({ name, input }) =>
    input.sites.flatMap((site): Edit[] =>
      'span' in site && site.span && within(site.span, code)
        ? [{ start: site.span.start - code.start, end: site.span.end - code.start, text: `${item}.${name}` }]
        : [],
    ),
  );
  return applyEdits(value, edits);
}

/** A text that is handed over as content, and is no plain text there. */
function isMarkupText(crossing: Typed | undefined, value: Passed | undefined): boolean {
  return crossing?.kind === 'slot' && value?.kind === 'string' && /[&<{]/.test(value.text);
}

function camel(name: string): string {
  return name.toLowerCase().replace(/_([a-z0-9])/g, (_, letter: string) => letter.toUpperCase());
}

/** Names that mean something in the template and in the script. */
function namesOf({ lowered }: Scene): Set<string> {
  const { definition, scopes } = lowered;
  const named = [...definition.members, ...definition.props].map((m) => m.name);
  const used = scopes.references.map((r) => String((r.identifier as { name?: unknown }).name).replace(/^.*\./, ''));
  return new Set([...named, ...used, ...scopes.moduleScope.set.keys()]);
}

/** The list as a constant of script setup, or among the data of options. */
function declared(scene: Scene, list: string, fields: readonly Field[], habits: Habits): Edit | Problem {
  const { sfc, text, lowered } = scene;
  const { lineEnd: nl, semi, comma } = habits;
  const at = { path: sfc.path, span: scene.region };
  if (sfc.setup) {
    const { inner, script } = sfc.setup;
    const next = script.program.body.find((s) => s.type !== 'ImportDeclaration' && !isMacro(s));
    const outer = habits.scriptIndent;
    const constant = `const ${list} = ${recordsText(fields, true, outer, habits)}${semi}`;
    if (next) {
      const { start } = withComments(text, { start: next.range[0], end: next.range[1] });
      const isApart =
        /\n[ \t]*\r?\n[ \t]*$/.test(text.slice(inner.start, start)) || !text.slice(inner.start, start).trim();
      return { start, end: start, text: `${isApart ? '' : nl + outer}${constant}${nl}${nl}${outer}` };
    }
    const end = inner.start + text.slice(inner.start, inner.end).trimEnd().length;
    return { start: end, end, text: `${nl}${nl}${outer}${constant}` };
  }
  const { options } = lowered.definition;
  if (!options || !sfc.script) return problem('unify-language', at, 'a list in a file without a script');
  const data = propertyOf(options, 'data');
  const record = data && givenRecord(data);
  if (record === undefined) {
    const last = options.properties.at(-1);
    if (!last || data) return problem('unify-language', at, 'a list beside data of that form');
    const [outer, unit] = [indentAt(text, last.range[0]), indentUnitOf(text.slice(...options.range))];
    const inner = outer + unit + unit;
    const entry = `${inner}${list}: ${recordsText(fields, true, inner, habits)}${comma}`;
    const method = `data() {${nl}${outer}${unit}return {${nl}${entry}${nl}${outer}${unit}}${semi}${nl}${outer}}`;
    return { start: last.range[1], end: last.range[1], text: `,${nl}${outer}${method}` };
  }
  const last = record.properties.at(-1);
  const outer = last ? indentAt(text, last.range[0]) : indentAt(text, record.range[0]) + habits.indent;
  const entry = `${list}: ${recordsText(fields, true, outer, habits)}`;
  if (last) return { start: last.range[1], end: last.range[1], text: `,${nl}${outer}${entry}` };
  const [start, end] = record.range;
  return { start, end, text: `{${nl}${outer}${entry}${comma}${nl}${indentAt(text, start)}}` };
}

function isMacro(statement: Node): boolean {
  if (statement.type === 'ExpressionStatement') return macroCall(statement.expression) !== undefined;
  return statement.type === 'VariableDeclaration' && statement.declarations.every((d) => macroCall(d.init));
}
