/** Wrong rewrites, planted one by one: each must be caught. The rewrite without the fault must be the same. */
import { describe, expect, it } from 'vitest';
import { proveFiles } from '../src/core/index.js';
import { memoryProject } from './support/projects.js';

const BEFORE = `import { useEffect, useState } from 'react';
import { post } from './api';

const UNIT = 'kg';

export default function Apiary({ hives, keeper, rest, onSave = post, mode = UNIT }) {
  const [open, setOpen] = useState(false);
  const [query, setQuery] = useState('');
  const total = hives.length;
  useEffect(() => { post(query); }, [query]);
  const remove = (hive) => post(hive.id);
  return (
    <main>
      <h1>{keeper.name}</h1>
      <ul>
        {hives.map((hive, index) => (
          <li key={hive.id} className="hive" {...rest} title={hive.name}>
            {index}. <b>{hive.name}</b> weighs {hive.kilos} {UNIT}
            <button onClick={() => remove(hive)}>Remove</button>
          </li>
        ))}
      </ul>
      {query && <p>{query}</p>}
      <aside>
        <button onClick={() => setOpen(!open)}>{total}</button>
        {open && <em>open</em>}
      </aside>
      <button onClick={() => { setQuery(keeper.name); onSave(query); }}>Save</button>
    </main>
  );
}
`;

const HOST = BEFORE.replace(
  /<li key[\s\S]*<\/li>/,
  `<HiveRow key={hive.id} hive={hive} index={index} rest={rest} unit={UNIT} onRemove={remove} />`,
).replace("import { post } from './api';", "import { post } from './api';\nimport { HiveRow } from './HiveRow';");

const ROW = `export function HiveRow({ hive, index, rest, unit, onRemove }) {
  return (
    <li className="hive" {...rest} title={hive.name}>
      {index}. <b>{hive.name}</b> weighs {hive.kilos} {unit}
      <button onClick={() => onRemove(hive)}>Remove</button>
    </li>
  );
}
`;

/** A second rewrite, in which state and a derived value moved along. */
const ASIDE_HOST = BEFORE.replace(/<aside>[\s\S]*<\/aside>/, '<Notes hives={hives} />')
  .replace('  const [open, setOpen] = useState(false);\n', '')
  .replace('  const total = hives.length;\n', '')
  .replace("import { post } from './api';", "import { post } from './api';\nimport { Notes } from './Notes';");

const ASIDE = `import { useState } from 'react';

export function Notes({ hives }) {
  const [open, setOpen] = useState(false);
  const total = hives.length;
  return (
    <aside>
      <button onClick={() => setOpen(!open)}>{total}</button>
      {open && <em>open</em>}
    </aside>
  );
}
`;

const API = 'export const post = (x) => x;\n';

function proofOf(host: string, files: Record<string, string>) {
  const before = memoryProject({ 'Apiary.jsx': BEFORE, 'api.js': API });
  const after = memoryProject({ 'Apiary.jsx': host, 'api.js': API, ...files });
  return proveFiles(before, after, ['Apiary.jsx', ...Object.keys(files)]);
}

const row = (change: (text: string) => string, host: (text: string) => string = (t) => t) =>
  proofOf(host(HOST), { 'HiveRow.jsx': change(ROW) });
const aside = (change: (text: string) => string, host: (text: string) => string = (t) => t) =>
  proofOf(host(ASIDE_HOST), { 'Notes.jsx': change(ASIDE) });

/** Replaces and insists that there was something to replace. */
const swap = (from: string, to: string) => (text: string) => {
  expect(text).toContain(from);
  return text.replace(from, to);
};
const same = (text: string) => text;

const faults: Record<string, () => ReturnType<typeof proofOf>> = {
  'lost attribute': () => row(swap(' title={hive.name}', '')),
  'added attribute': () => row(swap('<b>', '<b id="x">')),
  'changed literal': () => row(swap('className="hive"', 'className="hives"')),
  'swapped props': () => row(same, swap('hive={hive} index={index}', 'hive={index} index={hive}')),
  'prop not passed': () => row(same, swap(' index={index}', '')),
  'prop misspelt at the use': () => row(same, swap('unit={UNIT}', 'units={UNIT}')),
  'wrong binding after shadowing': () => row(swap('{hive.kilos}', '{[1].map((hive) => hive.kilos)}')),
  'lost key': () => row(same, swap(' key={hive.id}', '')),
  'wrong key': () => row(same, swap('key={hive.id}', 'key={index}')),
  'stale name in a closure': () =>
    row(swap('onRemove(hive)', 'onRemove(hive.id)'), swap('onRemove={remove}', 'onRemove={onSave}')),
  'handler called at once': () => row(swap('() => onRemove(hive)', 'onRemove(hive)')),
  'lost white space': () => row(swap('</b> weighs', '</b>\n      weighs')),
  'joined text': () => row(swap('{index}. <b>', '{index}.<b>')),
  'dropped spread': () => row(swap(' {...rest}', '')),
  'spread in another order': () => row(swap('{...rest} title={hive.name}', 'title={hive.name} {...rest}')),
  'reordered siblings': () => row(swap('{hive.kilos} {unit}', '{unit} {hive.kilos}')),
  'plain text where a value was meant': () => row(same, swap('unit={UNIT}', 'unit="UNIT"')),
  'another element': () => row(swap('<b>{hive.name}</b>', '<i>{hive.name}</i>')),
  'an effect in the new component': () => row(swap('  return (', '  useEffect(() => {});\n  return (')),
  'a declaration out of nowhere': () => row(swap('  return (', '  const kilos = hive.kilos;\n  return (')),
  'moved state under a condition': () =>
    aside(same, swap('<Notes hives={hives} />', '{query && <Notes hives={hives} />}')),
  'moved state under a key': () => aside(same, swap('<Notes hives={hives} />', '<Notes key={query} hives={hives} />')),
  'moved state inside another component': () =>
    aside(same, (t) => swap('<main>', '<Frame><main>')(swap('</main>', '</main></Frame>')(t))),
  'a key on what is no single element': () =>
    aside(
      (t) => t.replace('<aside>', '<><aside>').replace('</aside>', '</aside></>'),
      swap('<Notes hives', '<Notes key={query} hives'),
    ),
  'another initial state': () => aside(swap('useState(false)', 'useState(true)')),
  'state that is made twice': () =>
    aside(same, swap('<Notes hives={hives} />', '<><Notes hives={hives} /><Notes hives={hives} /></>')),
  'a lost guard': () => aside(swap('{open && <em>open</em>}', '<em>open</em>')),
  'an effect that moved': () =>
    aside(
      swap('  return (', '  useEffect(() => { post(query); }, [query]);\n  return ('),
      swap('  useEffect(() => { post(query); }, [query]);\n', ''),
    ),
  'other dependencies of an effect': () => aside(same, swap('[query]', '[]')),
  'a lost statement in a handler': () => aside(same, swap('setQuery(keeper.name); ', '')),
  'another default of a prop': () => aside(same, swap('mode = UNIT', 'mode = post')),
  'a default that is gone': () => aside(same, swap('onSave = post', 'onSave')),
  'a lost export': () => aside(same, swap('export default function', 'function')),
  'a changed helper': () => proofOf(swap("'kg'", "'g'")(HOST), { 'HiveRow.jsx': ROW }),
  'an import of another thing': () => row(same, swap("{ post } from './api'", "{ get as post } from './api'")),
};

describe('proof', () => {
  it('finds right rewrites the same', () => {
    expect(proofOf(HOST, { 'HiveRow.jsx': ROW })).toEqual({
      answer: 'same',
      compared: ['Apiary.jsx'],
      expanded: ['HiveRow'],
    });
    expect(proofOf(ASIDE_HOST, { 'Notes.jsx': ASIDE })).toMatchObject({ answer: 'same' });
    expect(proofOf(BEFORE, {})).toMatchObject({ answer: 'same' });
  });

  for (const [name, run] of Object.entries(faults)) {
    it(`catches ${name}`, () => {
      const result = run();
      expect(result.answer).not.toBe('same');
      if (result.answer !== 'same') expect(result.detail.length).toBeGreaterThan(8);
    });
  }

  it('shows the first difference in both files', () => {
    const result = row(swap('{hive.kilos}', '{hive.id}'));
    if (result.answer === 'same') throw new Error('not caught');
    const cut = (text: string, span?: { start: number; end: number }) => span && text.slice(span.start, span.end);
    expect(result.before?.path).toBe('Apiary.jsx');
    expect(cut(BEFORE, result.before?.span)).toContain('kilos');
    expect(result.after?.path).toBe('HiveRow.jsx');
    expect(cut(swap('{hive.kilos}', '{hive.id}')(ROW), result.after?.span)).toContain('id');
  });

  it('knows entities in attributes and none in code', () => {
    const before = 'export const App = () => <p title="moor &amp; heath">{1}</p>;\n';
    const after = (given: string) => `import { Row } from './Row';\nexport const App = () => <Row title=${given} />;\n`;
    const row = 'export const Row = ({ title }) => <p title={title}>{1}</p>;\n';
    const answer = (given: string) =>
      proveFiles(memoryProject({ 'App.jsx': before }), memoryProject({ 'App.jsx': after(given), 'Row.jsx': row }), [
        'App.jsx',
        'Row.jsx',
      ]).answer;
    expect(['"moor &amp; heath"', '{"moor & heath"}', '"moor & heath"'].map(answer)).toEqual(['same', 'same', 'same']);
    expect(['{"moor &amp; heath"}', '"moor &amp;amp; heath"'].map(answer)).toEqual(['different', 'different']);
  });

  it('takes a spread for the props only where it is the props', () => {
    const pair = (head: string, use: string) => {
      const close = use.endsWith(')') ? ')' : '';
      const before = `${head}<li>{hive.name}</li>${close}`;
      const files = (markup: string, more: Record<string, string>) =>
        memoryProject({ 'App.jsx': `import { Row } from './Row';\n${markup};\n`, ...more });
      const row = `export function Row(hive) {\n  return <li>{hive.name}</li>;\n}\n`;
      return proveFiles(files(before, {}), files(before.replace(/<li>.*/, use), { 'Row.jsx': row }), [
        'App.jsx',
        'Row.jsx',
      ]).answer;
    };
    expect(pair('export const App = (hive) => ', '<Row {...hive} />')).toBe('same');
    expect(pair('export const list = [1].map((hive) => ', '<Row {...hive} />)')).not.toBe('same');
  });

  const CLASS = `import React from 'react';
export class Notes extends React.Component {
  save(text) { this.props.onSave(text, this); }
  render() {
    return (
      <main>
        <p>
          <input value={this.state.text} onChange={(event) => this.setState({ text: event.target.value })} />
          <button onClick={() => this.save(this.state.text)}>{this.props.label}</button>
        </p>
      </main>
    );
  }
}
`;
  const cutClass = (use: string, component: string) => {
    const host = CLASS.replace(/<p>[\s\S]*<\/p>/, use).replace("'react';", "'react';\nimport { Box } from './Box';");
    return proveFiles(
      memoryProject({ 'Notes.jsx': CLASS }),
      memoryProject({ 'Notes.jsx': host, 'Box.jsx': component }),
      ['Notes.jsx', 'Box.jsx'],
    ).answer;
  };
  const box = (save: string) => `export function Box({ text, label, onText, onSave }) {
  return (
    <p>
      <input value={text} onChange={onText} />
      <button onClick={${save}}>{label}</button>
    </p>
  );
}`;
  const use = (save: string) =>
    `<Box text={this.state.text} label={this.props.label} onText={(event) => this.setState({ text: event.target.value })} onSave={${save}} />`;

  it('knows what "this" means, and when state is read', () => {
    expect(cutClass(use('() => this.save(this.state.text)'), box('onSave'))).toBe('same');
    expect(cutClass(use('(text) => this.save(text)'), box('() => onSave(text)')), 'state read too early').toBe(
      'different',
    );
    expect(cutClass(use('this.save'), box('() => onSave(this.state.text)')), '"this" of the new component').toBe(
      'different',
    );
    expect(cutClass(use('this.save'), box('() => onSave(text)')), 'a method without its object').toBe('different');
  });

  it('lets statements change places in a hook where that means nothing, and only there', () => {
    const app = (body: string, more = '') => `import { useEffect, useRef, useState } from 'react';
import { post, weigh } from './api';
${more}
export function Scale({ hive }) {
${body}
  return <output onClick={() => setOpen(!open)}>{open ? kilos : shown}</output>;
}
`;
    const [state, opened] = ['const [kilos, setKilos] = useState(0);', 'const [open, setOpen] = useState(false);'];
    const fill = 'useEffect(() => { setKilos(weigh(hive)); }, [hive]);';
    const tell = 'useEffect(() => { post(hive); }, [hive]);';
    const shown = 'const shown = weigh(kilos);';
    const hook = (given: string, ...body: string[]) =>
      `export function useKilos(${given}) {\n${body.join('\n')}\nreturn { kilos };\n}`;
    const call = 'const { kilos } = useKilos(hive);';
    const answer = (host: readonly string[], made: string) =>
      proveFiles(
        memoryProject({ 'Scale.jsx': app([state, opened, shown, fill, tell].join('\n')) }),
        memoryProject({
          'Scale.jsx': app(host.join('\n'), "import { useKilos } from './useKilos';"),
          'useKilos.js': `import { useEffect, useState } from 'react';\nimport { post, weigh } from './api';\n${made}\n`,
        }),
        ['Scale.jsx', 'useKilos.js'],
      ).answer;
    const right = hook('hive', state, fill);
    expect(answer([call, opened, shown, tell], right)).toBe('same');
    expect(answer([opened, call, shown, tell], right)).toBe('same');
    const faults: Record<string, [readonly string[], string]> = {
      'effects in another order': [[opened, shown, tell, call], right],
      'a name that is read before it is declared': [[opened, shown, call, tell], right],
      'an effect that is gone': [[call, opened, shown, tell], hook('hive', state)],
      'an effect that runs twice': [[call, opened, shown, fill, tell], right],
      'an effect more': [[call, opened, shown, tell], hook('hive', state, fill, tell)],
      'another first value': [[call, opened, shown, tell], hook('hive', state.replace('(0)', '(1)'), fill)],
      'another dependency': [[call, opened, shown, tell], hook('hive', state, fill.replace('[hive]', '[]'))],
      'under a condition': [['let kilos = 0; if (hive) { ({ kilos } = useKilos(hive)); }', opened, shown, tell], right],
      'what is worked out while it is shown, in another order': [
        [call, opened, tell],
        hook('hive', state, fill, shown),
      ],
    };
    for (const [name, [host, made]] of Object.entries(faults)) expect(answer(host, made), name).not.toBe('same');
  });
});

describe('a method of a class that is handed over by itself', () => {
  const app = (member: string, shown: string) =>
    `export class App {\n  ${member}\n  render() {\n    return ${shown};\n  }\n}\n`;
  const answer = (member: string) => {
    const before = { 'App.jsx': app(member, '<button onClick={() => this.weigh(1)}>x</button>') };
    const after = {
      'App.jsx': `import { Row } from './Row';\n${app(member, '<Row onWeigh={this.weigh} />')}`,
      'Row.jsx': `export function Row({ onWeigh }) {\n  return <button onClick={() => onWeigh(1)}>x</button>;\n}\n`,
    };
    const proof = proveFiles(memoryProject(before), memoryProject(after), Object.keys(after));
    return proof.answer === 'same' ? 'same' : proof.code;
  };
  it('needs no object where it is an arrow or tied, and set nowhere else', () => {
    expect(answer('weigh = (kilos) => this.go(kilos);')).toBe('same');
    expect(answer('constructor() { this.weigh = this.weigh.bind(this); }\n  weigh(kilos) { this.go(kilos); }')).toBe(
      'same',
    );
    expect(answer('weigh(kilos) { this.go(kilos); }')).toBe('method-unbound');
    expect(answer('weigh = (kilos) => this.go(kilos);\n  swap() { this.weigh = this.other; }')).toBe('method-unbound');
    expect(answer('weigh = function (kilos) { this.go(kilos); };')).toBe('method-unbound');
    // Not the member of this class, of its objects, or not there from the start.
    expect(answer('weigh(kilos) { this.go(kilos); }\n  part() { return class { weigh = () => 1; }; }')).toBe(
      'method-unbound',
    );
    expect(answer('static weigh = () => 1;\n  weigh(kilos) { this.go(kilos); }')).toBe('method-unbound');
    expect(answer('load() { this.weigh = this.weigh.bind(this); }\n  weigh(kilos) { this.go(kilos); }')).toBe(
      'method-unbound',
    );
  });
});
