/** Places side by side, with nothing but literals between them: a list of records, and one use in a loop of it. */
import { problem, type Problem } from '../../../problems/problems.js';
import { spanOf } from '../../../script/walk.js';
import type { GivenInput, UnifyRequest } from '../../../language/unifying.js';
import type { Edit } from '../../../text/edits.js';
import { indentAt } from '../../../text/layout.js';
import type { Prepared } from '../cut/cut.js';
import type { NamedProp } from '../cut/interface.js';
import type { Scene } from '../cut/scene.js';
import { hasCapitals, isLiteral, keyAmong, listNames, recordsText, type Field } from '../../record-list.js';
import { useText, withLeadingComments } from '../cut/write.js';
import { codeOf } from './values.js';

export function writeList(
  request: UnifyRequest,
  scenes: readonly Scene[],
  inputs: readonly GivenInput[],
  { parts }: Prepared,
): Edit[] | Problem {
  const ordered = [...scenes].sort((a, b) => a.region.start - b.region.start);
  const first = ordered[0]!;
  const last = ordered[ordered.length - 1]!;
  const at = { path: first.request.file.path, span: first.region };
  const adjacent = ordered.every((scene, i) => {
    const before = ordered[i - 1];
    if (!before) return scene.amongChildren;
    const same = scene.request.file.path === before.request.file.path && scene.holder === before.holder;
    return same && !first.text.slice(before.region.end, scene.region.start).trim();
  });
  if (!adjacent) return problem('list-apart', at);

  const { habits, shape } = parts;
  const records: (NamedProp & Field)[] = [];
  const fixed: string[] = [];
  for (const prop of shape.props) {
    const input = inputs.find((i) => i.name === prop.crossing.given?.name);
    const isWritten = input?.values.every((v, p) => isLiteral(v, (span) => scenes[p]!.slice(span)));
    if (!input) fixed.push(`${prop.name}={${prop.crossing.value}}`);
    else if (!isWritten) return problem('list-values', at, prop.name);
    else {
      const values = ordered.map((scene) => codeOf(input.values[scenes.indexOf(scene)], scene.text, habits));
      records.push({ ...prop, values });
    }
  }
  const key = keyAmong(records);
  if (!key) return problem('list-key', at);

  const taken = first.scopes.moduleScope.set;
  const names = listNames(request.name, new Set(taken.keys()), hasCapitals(taken.keys()));
  const nl = habits.lineEnd;
  const frozen = habits.typed && records.some((prop) => /^'/.test(prop.type ?? ''));
  const list = recordsText(records, frozen, '', habits);
  const data = `const ${names.list} = ${list}${frozen ? ' as const' : ''}${habits.semi}${nl}${nl}`;

  const indent = indentAt(first.text, first.region.start);
  const attributes = [
    `key={${names.item}.${key.name}}`,
    ...records.map((p) => `${p.name}={${names.item}.${p.name}}`),
    ...fixed,
  ];
  const inner = indent + habits.indent;
  const use = useText(request.name, attributes, undefined, { indent: inner, column: inner.length }, habits);
  const loop = `{${names.list}.map((${names.item}) => (${nl}${inner}${use}${nl}${indent}))}`;
  const outer = first.script.program.body.find(
    (s) => s.range[0] <= first.region.start && s.range[1] >= last.region.end,
  )!;
  const place = withLeadingComments(first, spanOf(outer)).start;
  return [
    { start: place, end: place, text: data },
    { start: first.region.start, end: last.region.end, text: loop },
  ];
}
