/** Several places made one, with one thing planted wrong each time: the proof must catch it. */
import { describe, expect, it } from 'vitest';
import { proveFiles } from '../src/core/index.js';
import { memoryProject } from './support/projects.js';

type Files = Record<string, string>;

function answer(before: Files, after: Files): string {
  return proveFiles(memoryProject(before), memoryProject(after), [
    ...new Set([...Object.keys(before), ...Object.keys(after)]),
  ]).answer;
}

/** `right` proves the same; with each of the replacements in one of its files it must not. */
function catches(before: Files, right: Files, faults: readonly (readonly [path: string, from: string, to: string])[]) {
  expect(answer(before, right), 'without a fault').toBe('same');
  for (const [path, from, to] of faults) {
    expect(right[path], `${path} holds ${from}`).toContain(from);
    const wrong = { ...right, [path]: right[path]!.replace(from, to) };
    expect(answer(before, wrong), `${from} became ${to}`).not.toBe('same');
  }
}

describe('what must be caught in unify', () => {
  const PAGE = `import { useState } from 'react';
export function Page({ tab, open }) {
  const [query, setQuery] = useState('');
  return (
    <main title={query}>
      <section id="panel-heather" aria-labelledby="tab-heather" hidden={tab !== 'heather'} className="panel">
        <h3>Heather</h3>
        <button onClick={() => setQuery('h')}>Show</button>
      </section>
      <section className="panel" id="panel-clover" aria-labelledby="tab-clover" hidden={tab !== 'clover'}>
        <h3>Clover</h3>
        <button onClick={open}>Show</button>
        <p>sets quickly</p>
      </section>
    </main>
  );
}
`;
  const UNIFIED = `import { useState } from 'react';
import { Panel } from './Panel';
export function Page({ tab, open }) {
  const [query, setQuery] = useState('');
  return (
    <main title={query}>
      <Panel kind="heather" tab={tab} title="Heather" onShow={() => setQuery('h')} />
      <Panel kind="clover" tab={tab} title="Clover" onShow={open} note="sets quickly" />
    </main>
  );
}
`;
  const PANEL = `export function Panel({ kind, tab, title, onShow, note }) {
  return (
    <section id={\`panel-\${kind}\`} aria-labelledby={\`tab-\${kind}\`} hidden={tab !== kind} className="panel">
      <h3>{title}</h3>
      <button onClick={onShow}>Show</button>
      {note && <p>{note}</p>}
    </section>
  );
}
`;

  it('in what a place passes, and in how the component takes it', () => {
    catches({ 'Page.jsx': PAGE }, { 'Page.jsx': UNIFIED, 'Panel.jsx': PANEL }, [
      ['Page.jsx', 'kind="clover"', 'kind="heather"'],
      ['Page.jsx', 'title="Clover"', 'title="clover"'],
      ['Page.jsx', ' note="sets quickly"', ''],
      ['Page.jsx', 'title="Heather"', 'title="Heather" note="sets quickly"'],
      ['Page.jsx', "setQuery('h')", "setQuery('c')"],
      ['Page.jsx', 'onShow={open}', 'onShow={() => setQuery(tab)}'],
      ['Page.jsx', 'tab={tab} title="Clover"', 'title="Clover"'],
      ['Panel.jsx', 'panel-${kind}', 'panel${kind}'],
      ['Panel.jsx', 'tab-${kind}', 'tab-${title}'],
      ['Panel.jsx', 'tab !== kind', 'tab === kind'],
      ['Panel.jsx', '{note && <p>{note}</p>}', '<p>{note}</p>'],
      ['Panel.jsx', '{note && <p>{note}</p>}', '{!note && <p>{note}</p>}'],
      ['Panel.jsx', 'className="panel"', 'className="panels"'],
      ['Panel.jsx', 'note }', 'note = "later" }'],
    ]);
  });

  const NAV = (active: string) => `export default function Page() {
  return <nav><a href="/a"${active === 'a' ? ' className="on"' : ''}>A</a><a href="/b"${active === 'b' ? ' className="on"' : ''}>B</a>${active}</nav>;
}
`;
  const FRAMED = (active: string) => `import Frame from './Frame';
export default function Page() {
  return <Frame active="${active}">${active}</Frame>;
}
`;
  const FRAME = `export default function Frame({ active, children }) {
  return <nav><a href="/a" className={active === 'a' ? 'on' : undefined}>A</a><a href="/b" className={active === 'b' ? 'on' : undefined}>B</a>{children}</nav>;
}
`;
  it('in a frame: the active entry, the content', () => {
    const before = { 'One.jsx': NAV('a'), 'Two.jsx': NAV('b') };
    catches(before, { 'One.jsx': FRAMED('a'), 'Two.jsx': FRAMED('b'), 'Frame.jsx': FRAME }, [
      ['One.jsx', 'active="a"', 'active="b"'],
      ['Two.jsx', '>b<', '>a<'],
      ['Frame.jsx', "active === 'b' ? 'on' : undefined", "active === 'b' ? undefined : 'on'"],
      ['Frame.jsx', "active === 'a' ? 'on' : undefined", "active === 'a' ? 'on' : ''"],
      ['Frame.jsx', '{children}', ''],
    ]);
  });

  const ROWS = `export const Rows = ({ go }) => (
  <ul>
    <li title="north"><button onClick={() => go('n')}>North</button></li>
    <li title="south"><button onClick={() => go('s')}>South</button></li>
  </ul>
);
`;
  const LIST = `import { Row } from './Row';
const ROWS = [
  { title: 'north', to: 'n', text: 'North' },
  { title: 'south', to: 's', text: 'South' },
];
export const Rows = ({ go }) => (
  <ul>
    {ROWS.map((row) => <Row key={row.title} title={row.title} to={row.to} text={row.text} go={go} />)}
  </ul>
);
`;
  const ROW = `export const Row = ({ title, to, text, go }) => <li title={title}><button onClick={() => go(to)}>{text}</button></li>;
`;
  it('in a list of records', () => {
    catches({ 'Rows.jsx': ROWS }, { 'Rows.jsx': LIST, 'Row.jsx': ROW }, [
      ['Rows.jsx', "text: 'South'", "text: 'south'"],
      ['Rows.jsx', "to: 'n'", "to: 's'"],
      ['Rows.jsx', "  { title: 'south', to: 's', text: 'South' },\n", ''],
      ['Rows.jsx', "title: 'south', to", "title: 'north', to"],
      ['Rows.jsx', 'text={row.text}', 'text={row.title}'],
      ['Row.jsx', 'go(to)', 'go(text)'],
    ]);
  });

  const HOST = (url: string, name: string) => `import { useEffect, useState } from 'react';
export function Host${name}({ area }) {
  const [${name}, set${name}] = useState([]);
  useEffect(() => {
    fetch('${url}' + area).then((data) => set${name}(data));
  }, [area]);
  if (!area) return null;
  return <p>{${name}.length}</p>;
}
`;
  const USING = (url: string, name: string) => `import { useRows } from './useRows';
export function Host${name}({ area }) {
  const ${name} = useRows('${url}', area);
  if (!area) return null;
  return <p>{${name}.length}</p>;
}
`;
  const HOOK = `import { useEffect, useState } from 'react';
export function useRows(url, area) {
  const [rows, setRows] = useState([]);
  useEffect(() => {
    fetch(url + area).then((data) => setRows(data));
  }, [area]);
  return rows;
}
`;
  it('in a hook: arguments, dependencies, order, what it gives back', () => {
    const before = { 'A.jsx': HOST('/a', 'hives'), 'B.jsx': HOST('/b', 'keepers') };
    catches(before, { 'A.jsx': USING('/a', 'hives'), 'B.jsx': USING('/b', 'keepers'), 'useRows.js': HOOK }, [
      ['B.jsx', "'/b'", "'/a'"],
      ['B.jsx', ', area)', ', keepers)'],
      ['useRows.js', '[area]', '[]'],
      ['useRows.js', '[area]', '[area, url]'],
      ['useRows.js', 'useState([])', 'useState(null)'],
      ['useRows.js', 'return rows', 'return setRows'],
      ['useRows.js', 'setRows(data)', 'setRows(url)'],
      ['useRows.js', '  return rows', '  useEffect(() => {}, []);\n  return rows'],
      [
        'A.jsx',
        "  const hives = useRows('/a', area);\n  if (!area) return null;",
        "  if (!area) return null;\n  const hives = useRows('/a', area);",
      ],
    ]);
  });

  const HELPERS = (name: string, unit: string) => `function ${name}(n) {
  return n.toFixed(1) + ' ${unit}';
}
export const show${name} = (n) => ${name}(n);
`;
  const CALLING = (name: string, unit: string) => `import { amount } from './amount';
function ${name}(n) {
  return amount(n, '${unit}');
}
export const show${name} = (n) => ${name}(n);
`;
  it('in a function that others now call', () => {
    const before = { 'a.js': HELPERS('kilos', 'kg'), 'b.js': HELPERS('litres', 'l') };
    const amount = "export function amount(n, unit) {\n  return n.toFixed(1) + ' ' + unit;\n}\n";
    const same = 'export function amount(n, unit) {\n  return n.toFixed(1) + unit;\n}\n';
    catches(before, { 'a.js': CALLING('kilos', ' kg'), 'b.js': CALLING('litres', ' l'), 'amount.js': same }, [
      ['a.js', "' kg'", "' l'"],
      ['amount.js', 'toFixed(1)', 'toFixed(2)'],
      ['amount.js', '+ unit', '- unit'],
    ]);
    // What comes to the same by adding up strings is more than the proof looks into.
    expect(
      answer(before, { 'a.js': CALLING('kilos', 'kg'), 'b.js': CALLING('litres', 'l'), 'amount.js': amount }),
    ).not.toBe('same');
  });

  it('in a component that is used though it shows something else', () => {
    const card = 'export const Card = ({ name }) => <p className="card"><b>{name}</b></p>;\n';
    const before = {
      'Card.jsx': card,
      'Use.jsx': 'export const Use = ({ hive }) => <div><p className="card"><b>{hive.name}</b></p></div>;\n',
    };
    const using =
      "import { Card } from './Card';\nexport const Use = ({ hive }) => <div><Card name={hive.name} /></div>;\n";
    catches(before, { 'Card.jsx': card, 'Use.jsx': using }, [
      ['Use.jsx', 'hive.name', 'hive.title'],
      ['Card.jsx', 'className="card"', 'className="cards"'],
    ]);
  });
});
