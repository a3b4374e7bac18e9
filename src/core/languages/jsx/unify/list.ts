/** Places side by side, with nothing but literals between them: a list of records, and one use in a loop of it. */
import { problem, type Problem } from '../../../problems/problems.js';
import { spanOf } from '../../../script/walk.js';
import type { GivenInput, Passed, UnifyRequest } from '../../../language/unifying.js';
import type { Edit } from '../../../text/edits.js';
import { indentAt } from '../../../text/layout.js';
import type { Prepared } from '../cut/cut.js';
import type { NamedProp } from '../cut/interface.js';
import type { Scene } from '../cut/scene.js';
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
  const records: NamedProp[] = [];
  const fixed: string[] = [];
  for (const prop of shape.props) {
    const input = inputs.find((i) => i.name === prop.crossing.given?.name);
    if (!input) fixed.push(`${prop.name}={${prop.crossing.value}}`);
    else if (input.values.every((v, p) => isLiteral(v, scenes[p]!))) records.push(prop);
    else return problem('list-values', at, prop.name);
  }
  const inputOf = (prop: NamedProp) => inputs.find((i) => i.name === prop.crossing.given?.name)!;
  const valuesOf = (prop: NamedProp) => inputOf(prop).values.map((v, p) => codeOf(v, scenes[p]!.text, habits));
  const isKey = (prop: NamedProp) => {
    const values = valuesOf(prop);
    return new Set(values).size === values.length && !values.includes('undefined');
  };
  const key = records.filter(isKey).sort((x, y) => rank(x.name) - rank(y.name))[0];
  if (!key) return problem('list-key', at);

  const names = namesFor(request.name, first);
  const nl = habits.lineEnd;
  const frozen = habits.typed && records.some((prop) => /^'/.test(prop.type ?? ''));
  const entries = ordered.map((scene) => {
    const place = scenes.indexOf(scene);
    const fields = records.flatMap((prop) => {
      const value = inputOf(prop).values[place];
      return value || frozen ? [`${prop.name}: ${codeOf(value, scene.text, habits)}`] : [];
    });
    const line = `${habits.indent}{ ${fields.join(', ')} },`;
    return line.length <= habits.width
      ? line
      : `${habits.indent}{${nl}${fields.map((f) => `${habits.indent}${habits.indent}${f},${nl}`).join('')}${habits.indent}},`;
  });
  const data = `const ${names.list} = [${nl}${entries.join(nl)}${nl}]${frozen ? ' as const' : ''}${habits.semi}${nl}${nl}`;

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

function isLiteral(value: Passed | undefined, scene: Scene): boolean {
  if (!value || value.kind === 'string' || value.kind === 'flag') return true;
  return value.kind === 'code' && /^(?:-?\d[\d._]*|true|false|null|'[^']*'|"[^"]*")$/.test(scene.slice(value.span));
}

/** What usually names a record comes first. */
function rank(name: string): number {
  const order = ['id', 'key', 'name', 'title', 'label'];
  return order.includes(name) ? order.indexOf(name) : order.length;
}

/** In capitals where the file writes its constants so. */
function namesFor(component: string, scene: Scene): { list: string; item: string } {
  const item = component[0]!.toLowerCase() + component.slice(1);
  const taken = scene.scopes.moduleScope.set;
  const capitals = [...taken.keys()].some((name) => /^[A-Z][A-Z0-9_]{2,}$/.test(name));
  const plural = /s$/.test(item) ? `${item}List` : /[^aeiou]y$/.test(item) ? `${item.slice(0, -1)}ies` : `${item}s`;
  const list = capitals ? plural.replace(/([a-z0-9])([A-Z])/g, '$1_$2').toUpperCase() : plural;
  const free = (name: string): string => (taken.has(name) ? free(`${name}2`) : name);
  return { list: free(list), item };
}
