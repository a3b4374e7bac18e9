/** A component that asks once, and the same with one thing wrong; what can be asked, beside what cannot. */
import { describe, expect, it } from 'vitest';
import { forms, isProblem, languageOf } from '../src/core/index.js';
import { decidedAlike, type Asked } from '../src/core/proof/decided.js';
import { answersTo, askedBy } from '../src/core/script/question.js';
import { isFunction, walk, type FunctionNode } from '../src/core/script/walk.js';
import { memoryProject } from './support/projects.js';

const ROW = `const Row = ({ kind, hive, hives, log }) => {
  if (kind === 'lost') return <p>{hive}</p>;
  return <li className={kind === 'sick' ? 'alarm' : 'calm'} onClick={() => log(kind)}>
    {kind === 'sick' && <b>Sick</b>}{kind !== 'sick' ? <i>Well</i> : null}
    {hives.map((name) => <s key={name}>{kind === 'sick' ? name : hive}</s>)}
  </li>;
};
`;
/** What a person would make of it: each form by itself. */
const APART = `const Row = ({ kind, hive, hives, log }) => {
  return kind === 'lost' ? <p>{hive}</p> : kind === 'sick' ? <li className="alarm" onClick={() => log(kind)}>
    <b>Sick</b>
    {hives.map((name) => <s key={name}>{name}</s>)}
  </li> : <li className="calm" onClick={() => log(kind)}>
    <i>Well</i>
    {hives.map((name) => <s key={name}>{hive}</s>)}
  </li>;
};
`;

function asked(text: string): Asked {
  const project = memoryProject({ 'Row.jsx': text });
  const module = languageOf('Row.jsx')!.prove!({ path: 'Row.jsx', text }, project.ports);
  if (isProblem(module)) throw new Error(module.message);
  let fn: FunctionNode | undefined;
  walk(module.script.program, (node) => {
    if (!fn && isFunction(node)) fn = node;
    return !fn;
  });
  return { module, places: askedBy(fn!, module.scopes, { subject: 'kind' }) };
}

function compared(before: string, after: string): string | undefined {
  const left = asked(before);
  return decidedAlike(left, asked(after), answersTo(left.places, { subject: 'kind' }));
}

describe('a component that asks once', () => {
  it('shows what it showed', () => {
    expect(compared(ROW, ROW)).toBeUndefined();
    expect(compared(ROW, APART)).toBeUndefined();
    expect(compared(APART, ROW)).toBeUndefined();
  });

  const faults: readonly (readonly [string, string, string])[] = [
    ['shows a form for another answer', "kind === 'lost' ?", "kind === 'sick' ?"],
    ['shows both forms the other way round', "kind === 'sick' ?", "kind !== 'sick' ?"],
    ['leaves a piece out', '<i>Well</i>', ''],
    ['shows a piece twice', '<b>Sick</b>', '<b>Sick</b><b>Sick</b>'],
    ['says another word', '"calm"', '"alarm"'],
    ['loses an attribute', ' className="calm"', ''],
    ['does not report any more', ' onClick={() => log(kind)}>\n    <b>', '>\n    <b>'],
    ['reports something else', 'log(kind)}>\n    <i>', "log('well')}>\n    <i>"],
    ['shows the other name in its list', '<s key={name}>{hive}</s>', '<s key={name}>{name}</s>'],
    ['knows its rows by something else', '<s key={name}>{name}</s>', '<s key={hive}>{name}</s>'],
    ['lists something else', 'hives.map((name) => <s key={name}>{name}', 'hive.map((name) => <s key={name}>{name}'],
    ['shows another element', '<p>{hive}</p>', '<b>{hive}</b>'],
    ['shows nothing for one answer', '<p>{hive}</p>', 'null'],
    ['does something before', 'return kind', 'log(hive);\n  return kind'],
  ];
  it.each(faults)('that %s', (_, right, wrong) => {
    expect(APART).toContain(right);
    expect(compared(ROW, APART.replace(right, wrong))).toMatch(/in one of the forms|other statements|something else/);
  });
});

/** `shown` of a component, and whether it can be divided by `by`. */
function told(shown: string, by = 'kind', declares = ''): string {
  const text = `export function Row({ kind, hive, hives }) {\n  ${declares}\n  return (\n    <ul>${shown}</ul>\n  );\n}\n`;
  const change = forms(memoryProject({ 'Row.jsx': text }), { component: 'Row', by });
  if (isProblem(change)) return change.code;
  return change.proof.answer === 'same' ? change.forms.map((f) => f.answer).join() : change.proof.detail;
}

describe('what is asked', () => {
  const ask = "{kind === 'sick' ? <b /> : <i />}";
  const pairs: readonly (readonly [string, string, string, string])[] = [
    ['is the same thing in a list', "{hives.map((h) => <s key={h}>{kind === 'sick' ? h : 1}</s>)}", "{hives.map((kind) => <s key={kind}>{kind === 'sick' ? 1 : 2}</s>)}", 'forms-nothing'],
    ['is asked while it is shown', ask, "<s onClick={() => (kind === 'sick' ? go() : stay())} />", 'forms-nothing'],
    ['is no count that would be shown', '{kind ? <b /> : <i />}{!kind && <u />}', '{count(kind) ? <b /> : <i />}', 'forms-nothing'],
  ]; // prettier-ignore
  it.each(pairs)('%s', (_, can, cannot, why) => {
    expect(told(can)).toMatch(/sick,otherwise|kind,not kind/);
    expect(told(cannot)).toBe(why);
  });

  it('may be set before it is shown, and not in between', () => {
    expect(told(ask.replaceAll('kind', 'own'), 'own', 'let own = kind; own = own.trim();')).toBe('sick,otherwise');
    expect(told(`{(own = hive)}${ask.replaceAll('kind', 'own')}`, 'own', 'let own = kind;')).toBe('forms-nothing');
  });

  it('leaves what shows a count of nothing where it is not sure to be a truth', () => {
    const text = `export function Row({ many, hive }) {\n  return many ? <b>{hive}</b> : <p>{many && <i />}{hive}</p>;\n}\n`;
    const change = forms(memoryProject({ 'Row.jsx': text }), { component: 'Row', by: 'many' });
    if (isProblem(change)) throw new Error(change.message);
    expect(change.files.map((f) => f.text).join()).toContain('{many && <i />}');
  });
});
