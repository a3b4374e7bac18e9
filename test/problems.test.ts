/** Every code of the catalogue is provoked once: here by small projects and bad requests, or in another test that names it. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  apart,
  dissolve,
  extract,
  findRepeats,
  fingerprint,
  home,
  hook,
  module,
  inline,
  isProblem,
  join as joinFiles,
  part,
  Project,
  problemCodes,
  forms,
  inputs,
  through,
  toFunction,
  unify,
  type ExtractChange,
  type ExtractRequest,
  type FileSet,
  type Problem,
  type ProblemCode,
  type UnifyStepRequest,
  type WantedSeam,
} from '../src/core/index.js';
import { nodePorts } from '../src/node/index.js';
import { stepTrouble } from '../src/library/steps.js';
import type { TypesAnswer } from '../src/library/types.js';
import { withinDepth } from '../src/core/problems/problems.js';
import { applyEdits } from '../src/core/text/edits.js';
import { locked } from '../src/node/journal/lock.js';
import { memoryProject } from './support/projects.js';

type Files = Record<string, string>;

const ROW = `export const Row = ({ hive }) => <li>{hive.name}</li>;\n`;
const APP = `import { Row } from './Row';
export const App = ({ hives, open }) => (
  <main>
    <h1>Apiary</h1>
    <ul>{hives.map((hive) => <Row key={hive.id} hive={hive} />)}</ul>
    {open && <p>open</p>}
  </main>
);
`;

// Asked of the library

const asked: [ProblemCode, () => unknown][] = [];
const ask = (code: ProblemCode, run: () => unknown) => asked.push([code, run]);

/** Cuts from the first place where `from` stands to the end of the next `to`. */
function cut(files: Files, path: string, from: string, to: string, more: Partial<ExtractRequest> = {}) {
  const start = files[path]!.indexOf(from);
  const end = files[path]!.indexOf(to, start) + to.length;
  return extract(memoryProject(files), { path, range: { start, end }, ...more });
}

function one(files: Files, more: Partial<UnifyStepRequest> = {}) {
  const project = memoryProject(files);
  const repeats = findRepeats(project, { minWorth: -Infinity });
  const repeat = repeats.groups[0];
  if (!repeat) throw new Error('nothing stands more than once');
  return unify(project, { repeats, repeat, ...more });
}

const react = { 'App.jsx': APP, 'Row.jsx': ROW };
const vue = (template: string, script = '', more: Files = {}): Files => ({
  'App.vue': `<template>\n${template}\n</template>\n${script}`,
  ...more,
});

// What a person asks of a boundary
const BOARD = `import { useState } from 'react';
export const Board = ({ hives }) => {
  const [chosen, setChosen] = useState(null);
  return (
    <main title={chosen}>
      <ul>{hives.map((hive) => <li key={hive.id} hidden={hive.id === chosen}><b>{hive.name}</b><button onClick={() => setChosen(hive.id)}>Choose</button></li>)}</ul>
    </main>
  );
};
`;
const board = (seam: WantedSeam, from = '<li', to = '</li>') =>
  cut({ 'App.jsx': BOARD }, 'App.jsx', from, to, { seam });
ask('seam-missing', () => board({ inputs: { isOld: 'hive.kilos > 99' } }));
ask('seam-format', () => board({ events: { 'choose(id, at)': 'setChosen(id)' } }));
ask('seam-format', () => board({ events: { 'swap(a, b)': 'swap(b, a)' } }));
ask('seam-format', () => board({ inputs: { children: 'hive.name' } }));
ask('seam-slot', () => board({ slots: { children: { start: 0, end: 30 } } }));
ask('seam-along', () => board({ along: ['chosen'] }, '<ul', '</ul>'));
ask('seam-stays', () => board({ stays: ['keepers'] }));
const half = vue(
  '<main><p v-if="open" @click="open = false; note = 1">{{ note }}</p><i>{{ note }}{{ open }}</i></main>',
  '<script setup>\nimport { ref } from "vue";\nconst open = ref(true);\nconst note = ref(0);\n</script>',
);
ask('seam-handler', () =>
  cut(half, 'App.vue', '<p', '</p>', {
    name: 'NotePart',
    to: 'NotePart.vue',
    seam: { events: { close: 'open = false' } },
  }),
);
const guarded = vue(
  '<main><p v-if="kilos > 3">{{ kilos }}</p></main>',
  '<script setup>\ndefineProps(["kilos"]);\n</script>',
);
ask('seam-outside', () =>
  cut(guarded, 'App.vue', '<p', '</p>', {
    name: 'NotePart',
    to: 'NotePart.vue',
    seam: { inputs: { heavy: 'kilos > 3' } },
  }),
);
ask('seam-along', () =>
  cut(half, 'App.vue', '<p', '</p>', { name: 'NotePart', to: 'NotePart.vue', seam: { along: ['note'] } }),
);
const SECTIONS = `export const App = ({ a, b }) => (\n  <main>\n    <section><h2>North</h2><p>{a}</p><button onClick={() => a.go()}>Go</button></section>\n    <section><h2>South</h2><p>{b}</p><button onClick={() => b.go()}>Go</button></section>\n  </main>\n);\n`;
ask('seam-repeat', () => one({ 'App.jsx': SECTIONS }, { seam: { events: { go: 'start' } } }));

ask('file-deep', () =>
  memoryProject({ 'A.jsx': `export const a = ${'('.repeat(9000)}1${')'.repeat(9000)};` }).model('A.jsx'),
);
ask('file-unreadable', () => {
  const files: FileSet = {
    list: () => ['A.jsx'],
    read: () => ({ unreadable: 'io', detail: 'EACCES', bytes: 1 }),
  };
  return new Project(files, nodePorts()).source('A.jsx');
});
ask('file-unknown', () => memoryProject(react).source('None.jsx'));
ask('file-language', () => memoryProject({ 'a.css': 'p {}' }).source('a.css'));
ask('component-unknown', () => inline(memoryProject(react), { component: 'Rows' }));
ask('component-several', () => inline(memoryProject({ ...react, 'Other.jsx': ROW }), { component: 'Row' }));
// State that goes home
const HOST = `import { useState } from 'react';
import { Row } from './Row';
const ROWS = [];
export const shown = () => <Host />;
export function Host({ hives, ROWS_OF }) {
  const [open, setOpen] = useState(false);
  const [rows, setRows] = useState(shown);
  const [place, setPlace] = useState('ford');
  return <main title={place} onClick={() => setPlace('mill')}><Row open={open} onOpen={setOpen} rows={rows} onRows={setRows} hives={hives} /></main>;
}
`;
const LOW = `import { useState } from 'react';
export const Row = ({ open, onOpen, rows, hives }) => {
  const [own, setOwn] = useState(hives.length);
  return <li onClick={() => onOpen(!open)}>{rows}{own}<b onClick={() => setOwn(1)} /></li>;
};
`;
const HOMES = { 'Host.jsx': HOST, 'Row.jsx': LOW };
const bring = (files: Files, component: string, name: string, to?: string) =>
  home(memoryProject(files), { component, names: [name], ...(to === undefined ? {} : { in: to }) });
const inHost = (from: string, to: string) => ({ ...HOMES, 'Host.jsx': HOST.replace(from, to) });
/** The tag with something around it. */
const within = (before: string, behind: string) => ({
  ...HOMES,
  'Host.jsx': HOST.replace(/<Row .*?\/>/, (tag) => before + tag + behind),
});
const inRow = (from: string, to: string) => ({ ...HOMES, 'Row.jsx': LOW.replace(from, to) });
const classes: Files = {
  'Hive.jsx': `import { Component } from 'react';
export class Hive extends Component { state = {}; render() { return <p>{this.state.kilos}</p>; } }
export class Guard extends Component { componentDidCatch() {} render() { return <p />; } }
export class Tie extends Component { render() { return <p>{tie(this)}</p>; } }
export class Wait extends Component { hear = async () => { await 1; log(this.props.place); }; render() { return <p onClick={this.hear} />; } }
export class Big extends Hive { render() { return <p />; } }
`,
};
const asFunction = (component: string, files: Files = classes, path = 'Hive.jsx') =>
  toFunction(memoryProject(files), { path, component });
const SIGN = `export const Sign = ({ open, kind }) => <p className={open ? 'a' : 'b'}>{kind === 'x' ? <input /> : <input id="y" />}</p>;
export const Board = ({ open }) => { if (open) { return <b />; } else { return <i />; } };
`;
const formed = (by: string, more: object = {}, component = 'Sign') =>
  forms(memoryProject({ 'Sign.jsx': SIGN }), { component, by, ...more });
ask('forms-question', () => formed('count(kind)'));
ask('forms-nothing', () => formed('place'));
ask('forms-unclear', () => formed('open', {}, 'Board'));
ask('forms-lifetime', () => formed('kind'));
ask('forms-names', () => formed('open', { names: ['OpenSign'], newLifetime: true }));
ask('forms-language', () =>
  forms(memoryProject({ 'Sign.astro': '---\nconst { open } = Astro.props;\n---\n<p>{open}</p>' }), {
    component: 'Sign',
    by: 'open',
  }),
);
const FRAME = `import { useState } from 'react';
import { Scale } from './Scale';
const Frame = ({ place, kilos }) => <p>{place}<Scale kilos={kilos} /></p>;
const Own = ({ kilos }) => { const [open] = useState(true); return <p title={open}>own <Scale kilos={kilos} open={open} /></p>; };
const Whole = ({ kilos }) => <Scale kilos={kilos} />;
const Idle = ({ kilos }) => <p>idle <Scale kilos={kilos} /></p>;
const Kept = ({ kilos }) => <p>{kilos}</p>;
const Alone = ({ kilos }) => <p>alone <Scale kilos={kilos} /></p>;
const Open = ({ kilos, ...rest }) => <p {...rest}><Scale kilos={kilos} /></p>;
const Taken = ({ kilos }) => <p>taken <Scale kilos={kilos} /></p>;
export const Yard = (props) => <div><Frame place="x" kilos={1} /><Own kilos={1} /><Whole kilos={1} /><Idle /><Kept kilos={1} /><Open kilos={1} /><Taken {...props} /></div>;
`;
const handed = (component: string, more: object = {}) =>
  through(memoryProject({ 'Yard.jsx': FRAME, 'Scale.jsx': 'export const Scale = ({ kilos }) => <b>{kilos}</b>;' }), {
    component,
    ...more,
  });
const PRESS = `const Press = ({ icon, label }) => <b>{icon}{label}</b>;
const Alone = ({ icon }) => <b>{icon}</b>;
const Told = ({ icon, ...rest }) => <b {...rest}>{icon}</b>;
const Given = ({ icon }) => <b>{icon}</b>;
export const Yard = (props) => <p><Press icon="a" label="b" /><Press icon="c" label="d" /><Told /><Told /><Given {...props} /></p>;
`;
const without = (component: string, names?: readonly string[]) =>
  inputs(memoryProject({ 'Yard.jsx': PRESS }), { component, ...(names ? { names } : {}) });
ask('inputs-nothing', () => without('Press'));
ask('inputs-unknown', () => without('Press', ['size']));
ask('inputs-differ', () => without('Press', ['icon']));
ask('inputs-unshown', () => without('Alone'));
ask('inputs-component', () => without('Told'));
ask('inputs-use', () => without('Given', ['icon']));
ask('inputs-language', () =>
  inputs(memoryProject({ 'Sign.astro': '---\nconst { open } = Astro.props;\n---\n<p>{open}</p>' }), {
    component: 'Sign',
  }),
);
ask('through-nothing', () => handed('Kept'));
ask('through-input', () => handed('Frame', { inputs: ['place'] }));
ask('through-unused', () => handed('Alone'));
ask('through-needs', () => handed('Own'));
ask('through-idle', () => handed('Idle'));
ask('through-whole', () => handed('Whole'));
ask('through-inner', () => handed('Open'));
ask('through-use', () => handed('Taken'));
ask('through-target', () => handed('Frame', { in: 'Kept' }));
ask('through-language', () =>
  through(memoryProject({ 'Sign.astro': '---\nconst { open } = Astro.props;\n---\n<p>{open}</p>' }), {
    component: 'Sign',
  }),
);
ask('function-unknown', () => asFunction('Hives'));
ask('function-class', () => asFunction('Guard'));
ask('function-unclear', () => asFunction('Tie'));
ask('function-late', () => asFunction('Wait'));
ask('function-reached', () => asFunction('Hive'));
ask('function-language', () => asFunction('App', vue('<p>a</p>'), 'App.vue'));
ask('home-shared', () => bring(HOMES, 'Host', 'place', 'Row'));
ask('home-place', () => bring(within('{hives.map(() => ', ')}'), 'Host', 'open', 'Row'));
ask('home-lifetime', () => bring(within('{hives && ', '}'), 'Host', 'open', 'Row'));
ask('home-unknown', () => bring(HOMES, 'Host', 'closed'));
ask('home-nowhere', () => bring(HOMES, 'Host', 'place'));
ask('home-target', () => bring(HOMES, 'Host', 'open', 'Host'));
ask('home-needs', () => bring(HOMES, 'Row', 'own', 'Host'));
ask('home-circular', () => bring(HOMES, 'Host', 'rows', 'Row'));
ask('home-shadowed', () =>
  bring(
    { ...inHost('useState(false)', 'useState(ROWS)'), 'Row.jsx': LOW.replace('own,', 'ROWS,') },
    'Host',
    'open',
    'Row',
  ),
);
ask('home-inner', () => bring(inRow('({ open, onOpen, rows, hives })', '({ open, ...rest })'), 'Host', 'open', 'Row'));
ask('home-outer', () => {
  const host = `import { Row } from './Row';\nexport class Host extends React.Component {\n  render() {\n    return <Row open={this.props.open} />;\n  }\n}\n`;
  return bring({ ...HOMES, 'Host.jsx': host }, 'Row', 'own', 'Host');
});
const SETUP = {
  'App.vue':
    '<script setup>\nimport { ref } from "vue";\nimport Row from "./Row.vue";\nconst open = ref(false);\nconst count = ref(0);\nfunction toggle() {\n  open.value = !open.value;\n  count.value++;\n}\n</script>\n<template><p>{{ count }}<Row :open="open" @toggle="toggle" /></p></template>\n',
  'Row.vue':
    '<script setup>\nimport { ref } from "vue";\ndefineProps(["open"]);\nconst own = ref(1);\n</script>\n<template><p @click="$emit(\'toggle\')">{{ open }}{{ own }}</p></template>\n',
};
ask('home-crosses', () => bring(SETUP, 'App', 'open', 'Row'));
ask('home-language', () => bring(SETUP, 'Row', 'own', 'App'));
ask('inline-tested', () =>
  inline(
    memoryProject({
      'Sign.jsx': 'export const Sign = () => <b />;',
      'Sign.test.jsx': "import { Sign } from './Sign';\nshow(<Sign />);",
    }),
    {
      component: 'Sign',
    },
  ),
);
ask('inline-unused', () => inline(memoryProject(react), { component: 'App' }));
const HELPERS = `export const App = ({ hives, row }) => {
  const head = () => <h1>{hives.length}</h1>;
  const foot = () => {
    for (const hive of hives) if (hive.old) return <p>old</p>;
    return <p>new</p>;
  };
  return <main>{head()}{foot()}{row(head)}</main>;
};
export const Twice = () => {
  const head = () => <h1>two</h1>;
  return <main>{head()}</main>;
};
`;
const dissolved = (helper: string, files: Files = { 'App.jsx': HELPERS }) =>
  dissolve(memoryProject(files), { path: Object.keys(files)[0]!, helper });
ask('helper-unknown', () => dissolved('side'));
ask('helper-several', () => dissolved('head'));
ask('helper-use', () => dissolved('App.head'));
ask('helper-body', () => dissolved('foot'));
const BASE = `import { Component } from 'react';
export class Base extends Component {
  part() { return <p>base</p>; }
  render() { return <main>{this.part()}</main>; }
}
`;
ask('helper-use', () =>
  dissolved('part', {
    'Base.jsx': BASE,
    'Hive.jsx': `import { Base } from './Base';\nexport class Hive extends Base {\n  part() { return <p>hive</p>; }\n}\n`,
  }),
);
ask('helper-use', () =>
  dissolved('part', { 'Base.jsx': BASE.replace('{this.part()}', '{this.props.show(this)}{this.part()}') }),
);
ask('helper-language', () => dissolved('head', { 'App.vue': '<template><p>a</p></template>' }));
const takenApart = (component: string, files: Files) =>
  apart(memoryProject(files), { path: Object.keys(files)[0]!, component });
ask('apart-language', () => takenApart('Page', { 'index.html': '<main><h1>Hives</h1></main>' }));
ask('apart-unknown', () => takenApart('Hive', react));
ask('apart-nothing', () =>
  takenApart('Keepers', {
    'Keepers.jsx': `import { Known } from './known';
export function Keepers({ children }) {
  return <Known.Provider value="all">{children}</Known.Provider>;
}
`,
  }),
);
ask('target-meant', () =>
  extract(memoryProject({ ...react, 'hive.js': 'export const hive = 1;\n' }), {
    path: 'App.jsx',
    range: { start: APP.indexOf('<'), end: APP.lastIndexOf('>') + 1 },
    to: 'Hive.jsx',
  }),
);
ask('inline-place', () =>
  inline(memoryProject(react), { component: 'Row', at: { path: 'App.jsx', range: { start: 0, end: 4 } } }),
);
ask('inline-shadowed', () =>
  inline(
    memoryProject({
      'App.jsx': `const kit = (x) => x;\nconst Row = ({ hive }) => <li>{kit(hive.name)}</li>;\nexport const App = ({ hive, kit }) => <ul title={kit}><Row hive={hive} /></ul>;\n`,
    }),
    { component: 'Row' },
  ),
);
ask('name-invalid', () => cut(react, 'App.jsx', '<h1>', '</h1>', { name: 'not a name' }));
ask('target-language', () => cut(react, 'App.jsx', '<h1>', '</h1>', { to: 'Title.vue' }));
ask('into-needless', () => cut(react, 'App.jsx', '<h1>', '</h1>', { into: 'vue' }));
const PAGE = `<!DOCTYPE html>\n<body>\n<main><h1>Hives</h1><p>a</p><p>b</p><p>c</p></main>\n</body>\n`;
ask('into-unknown', () => cut({ 'page.html': PAGE }, 'page.html', '<main>', '</main>', { into: 'plain' }));
ask('into-body', () =>
  cut({ 'part.html': '<main><p>a</p><p>b</p><p>c</p><p>d</p></main>' }, 'part.html', '<main>', '</main>', {
    into: 'vue',
  }),
);
ask('region-key', () =>
  cut(
    { 'App.jsx': `export const App = ({ hives, row }) => <ul>{hives.map((h) => <li {...row(h)}>{h.id}</li>)}</ul>;\n` },
    'App.jsx',
    '<li',
    '</li>',
  ),
);
ask('region-private-type', () =>
  cut(
    {
      'App.tsx': `export function App() {\n  type Hive = { name: string };\n  const hive: Hive = { name: 'a' };\n  const others: Hive[] = [hive];\n  return <main><p>{hive.name}{((x: Hive) => x.name)(hive)}</p>{others.length}{hive.name}</main>;\n}\n`,
    },
    'App.tsx',
    '<p>',
    '</p>',
  ),
);
ask('same-file-vue', () => cut(vue('<main><p>a</p><b /></main>'), 'App.vue', '<p>', '</p>', { sameFile: true }));
ask('region-roots', () =>
  cut(
    vue('<main><p>a</p><p>b</p><b /></main>', '', { 'package.json': '{ "dependencies": { "vue": "2.7.0" } }' }),
    'App.vue',
    '<p>a',
    'b</p>',
  ),
);
ask('region-space', () => cut(vue('<main>a {{ b }} <i>c</i> {{ d }} e</main>'), 'App.vue', '{{ b }}', '{{ d }}'));
ask('region-template', () =>
  cut(vue('<main><p>{{ a }}</p><b /></main>', '<script src="./app.js"></script>\n'), 'App.vue', '<p>', '</p>'),
);
ask('region-circle', () =>
  cut(
    vue(
      '<main><p><App :hive="hive.below" /></p><b /></main>',
      `<script>\nexport default { name: 'App', props: ['hive'] };\n</script>\n`,
    ),
    'App.vue',
    '<p>',
    '</p>',
  ),
);
const TWICE = (a: string, b: string) =>
  `export const A = ({ x, y }) => (\n  <main>\n    ${a}\n    <i>between them</i>\n    ${b}\n  </main>\n);\n`;
const card = (name: string) =>
  `<div className="card"><h2 className="card__head">${name}</h2><p>in the meadow</p><b>all of it</b></div>`;
const CARDS = { 'A.jsx': TWICE(card('One'), card('Two')) };
ask('repeat-places', () => one(CARDS, { only: [0] }));
ask('list-apart', () => one(CARDS, { asList: true }));
ask('list-values', () =>
  one({ 'A.jsx': TWICE(card('{x}'), card('{y}')).replace('    <i>between them</i>\n', '') }, { asList: true }),
);
const vueCard = (name: string, more = '') =>
  `<section><div class="card"><h2 class="card__head">${name}</h2><p ${more}>in the meadow</p><b>all of it</b></div></section>`;
const scoped = '<style scoped>\n.card { color: red; }\n</style>\n';
ask('unify-styles', () =>
  one({
    'A.vue': `<template>\n${vueCard('One')}\n</template>\n${scoped}`,
    'B.vue': `<template>\n${vueCard('Two')}\n</template>\n${scoped.replace('red', 'blue')}`,
  }),
);
const LOGIC = (n: number) =>
  `const total = hives.filter((hive) => hive.kilos > ${n}).map((hive) => hive.kilos * 2).reduce((sum, kilos) => sum + kilos, 0);\nconst mean = Math.round(total / hives.length);\nconst words = [total, mean].join(' of ');`;
const CARD = (hive: string) =>
  `<section class="hive"><h2 class="hive__name">{{ ${hive} }}</h2><p class="hive__note" title="a note">kilos of honey in this hive</p><button type="button" class="hive__more">More</button></section>`;
ask('unify-language', () => {
  const [a, b] = ['South', 'North'].map((name) => CARD('a').replace('a note', name));
  const script = `<script>\nexport default { data: start, props: ['a'] };\nfunction start() { return {} }\n</script>`;
  return one({ 'Hives.vue': `<template><main>${a}${b}</main></template>\n${script}\n` }, { asList: true });
});
ask('unify-listed', () =>
  one({
    'A.vue': `<template><p>{{ words }}</p></template>\n<script setup>\nimport { hives } from './hives';\n${LOGIC(1)}\n</script>\n`,
    'B.vue': `<template><b>{{ words }}</b></template>\n<script setup>\nimport { hives } from './hives';\n${LOGIC(1)}\n</script>\n`,
    'hives.js': 'export const hives = [];\n',
  }),
);
ask('join-nothing', () => joinFiles(memoryProject(react), 'App.jsx'));
ask('join-folder', () =>
  joinFiles(
    memoryProject({ 'a/App.vue': '<template src="../b/app.html"></template>\n', 'b/app.html': '<p>a</p>\n' }),
    'a/App.vue',
  ),
);
ask('join-template', () =>
  joinFiles(memoryProject({ 'app.js': "Vue.component('hive-row', { template: '<p>' + name + '</p>' });\n" }), 'app.js'),
);
ask('part-language', () => part(memoryProject(react), 'App.jsx'));
const HOOKED = {
  'App.jsx': `import { useEffect, useState } from 'react';\nexport function App({ id }) {\n  const [hive, setHive] = useState(null);\n  useEffect(() => { read(id).then(setHive); }, [id]);\n  return <p>{hive}</p>;\n}\nconst useHive = 1;\n`,
};
const hooked = (name: string) => {
  const text = HOOKED['App.jsx'];
  const span = (from: string, to: string) => ({ start: text.indexOf(from), end: text.indexOf(to) + to.length });
  const statements = [span('const [hive', '(null);'), span('useEffect(() ', '[id]);')];
  return hook(memoryProject(HOOKED), { path: 'App.jsx', statements, name });
};
/** A component that sends a request, and what else its file declares. */
const SENDS = {
  'App.jsx': `import { useState } from 'react';
export const Hive = ({ id }) => {
  const [visits, setVisits] = useState([]);
  const load = () => {
    fetch('/api/visits/' + id).then((r) => r.json()).then((found) => setVisits(found));
  };
  const [first, second] = [load(), visits.length];
  return <p onClick={load}>{first}{second}</p>;
};
const shown = <b>dry</b>;
export default function weigh() { return 1; }
export const text = () => shown;
`,
};
const sentAs = (
  from: string,
  to: string,
  asked: { name?: string; to?: string } = {},
  files: Record<string, string> = SENDS,
) => {
  const text = files['App.jsx']!;
  const span = { start: text.indexOf(from), end: text.indexOf(to) + to.length };
  return module(memoryProject(files), { path: 'App.jsx', wanted: { span }, ...asked });
};
const named = (name: string, files: Record<string, string> = SENDS) =>
  module(memoryProject(files), { path: 'App.jsx', wanted: { names: [name] } });
ask('module-tied', () => sentAs('setVisits(found)', 'setVisits(found)'));
ask('module-code', () => sentAs('load = ()', 'fetch('));
ask('module-name', () => sentAs('visits.length', 'visits.length'));
ask('module-taken', () => sentAs('fetch(', 'r.json())', { name: 'load' }));
ask('module-target', () => sentAs('fetch(', 'r.json())', { to: 'App.css' }));
ask('module-needs', () => named('text'));
ask('module-name-unknown', () => named('visits'));
ask('module-commonjs', () =>
  named('kilos', { 'App.jsx': "const a = require('a');\nconst kilos = () => a;\nmodule.exports = kilos;\n" }),
);
ask('module-script', () =>
  module(memoryProject({ 'App.vue': '<template><p>dry</p></template>\n' }), {
    path: 'App.vue',
    wanted: { names: ['kilos'] },
  }),
);
ask('hook-name', () => hooked('hive'));
ask('hook-taken', () => hooked('useHive'));

ask('list-key', () =>
  one(
    {
      'A.jsx': `export const A = () => (\n  <main>\n    ${card('One')}\n    ${card('One')}\n    ${card('Two')}\n  </main>\n);\n`,
    },
    { asList: true },
  ),
);
const SUM = (name: string) =>
  `function ${name}(hives) {\n  const full = hives.filter((hive) => hive.kilos > 12);\n  const sum = full.reduce((all, hive) => all + hive.kilos, 0);\n  return Math.round((sum / full.length) * 100) / 100;\n}\n`;
ask('unify-logic', () =>
  one({
    'A.jsx': `export ${SUM('mean')}export const A = ({ hives }) => <p>{mean(hives)}</p>;\n`,
    'B.jsx': `${SUM('average')}const B = ({ hives }) => <b>{average(hives)}</b>;\nmodule.exports = { B };\n`,
  }),
);
ask('project-locked', () => {
  const at = join(root, 'locked');
  mkdirSync(join(at, '.verkstad'), { recursive: true });
  const owner = { pid: 1, host: 'elsewhere', began: '', doing: 'extract' };
  writeFileSync(join(at, '.verkstad/lock'), JSON.stringify(owner));
  return locked(
    join(at, '.verkstad'),
    'undo',
    () => 'done',
    () => undefined,
    60,
  );
});

ask('edits-conflict', () =>
  withinDepth('App.jsx', () =>
    applyEdits('a b c', [
      { start: 0, end: 3, text: '' },
      { start: 2, end: 5, text: '' },
    ]),
  ),
);
const made = () => cut(react, 'App.jsx', '<h1>', '</h1>') as ExtractChange;
const place = { path: 'App.jsx', span: { start: 0, end: 1 } };
const done = (change: ExtractChange, types: TypesAnswer) => ({ change, types, at: place, title: '', document: {} });
const untyped = { answer: 'skipped', errors: [] } as const;
for (const answer of ['different', 'unknown'] as const)
  ask(`proof-${answer}`, () =>
    stepTrouble(done({ ...made(), proof: { answer, code: 'code-kind', detail: '"a" became "b"' } }, untyped)),
  );
ask('types-worse', () => {
  const error = { path: 'App.jsx', offset: 0, code: 2322, message: 'Type "a" is not "b".' };
  return stepTrouble(done(made(), { answer: 'worse', errors: [error] }));
});

/** What no small project was found to bring about, and why it is there all the same. */
const UNPROVOKED: readonly ProblemCode[] = [
  // For a language that has components and cannot put them back: there is none so far.
  'inline-language',
  // Nets below other refusals, met on real code.
  'names-unresolved',
  'unify-circular',
  'unify-crossing',
  'unify-hole',
  'into-apart',
  // Of a step that the browser catches and the proof does not.
  'check-differs',
];

// Asked on the command line

const BIN = new URL('../dist/cli/bin.js', import.meta.url).pathname;
let root: string;
const lines: [ProblemCode, Files, readonly string[], ((at: string) => void)?][] = [];
const line = (code: ProblemCode, args: readonly string[], more: Files = {}, before?: (at: string) => void) =>
  lines.push([code, more, args, ...(before ? [before] : [])] as (typeof lines)[number]);

line('range-format', ['extract', 'App.jsx']);
line('seam-lines', ['extract', 'App.jsx:3-7', '--slot', 'title']);
line('range-outside', ['extract', 'App.jsx:900-901']);
line('entry-unknown', ['tree', 'Nobody']);
line('root-missing', ['survey', '--root', 'nowhere']);
line('config-invalid', ['survey'], { 'verkstad.config.json': '{ "minWorth": "much" }' });
line('goal-format', ['propose', 'App.jsx', '--goal', 'short']);
const BIG = {
  'Big.jsx': `export const Big = ({ hives }) => (\n  <main>\n${Array.from({ length: 3 }, (_, s) => `    <section className="s${s}">\n      <h2>Part ${s}</h2>\n${Array.from({ length: 40 }, (_, i) => `      <p id="p${s}-${i}">{hives[${i}].name} <b>{hives[${i}].kilos}</b></p>\n`).join('')}    </section>\n`).join('')}  </main>\n);\n`,
};
line('out-failed', ['propose', 'Big.jsx', '--out', 'App.jsx/plan.json'], BIG);
line('plan-number', ['apply', '99'], BIG, (at) =>
  spawnSync(process.execPath, [BIN, 'propose', 'Big.jsx'], { cwd: at }),
);
line('plan-none', ['apply', '1']);
line('plan-format', ['apply', 'plan.json'], { 'plan.json': '{ "format": "another" }' });
line('plan-large', ['apply', 'plan.json'], { 'plan.json': `"${'x'.repeat(70e6)}"` });
const plan = (files: { path: string; fingerprint: string }[], steps: unknown[]) =>
  JSON.stringify({ format: 'verkstad/plan@1', files, steps });
line('plan-other-text', ['apply', 'plan.json'], {
  'plan.json': plan([{ path: 'App.jsx', fingerprint: 'another' }], []),
});
line('repeat-unknown', ['unify', 'm00000']);
line('check-no-last', ['check', '--against', 'last']);
line('check-against', ['check', '--against', 'no-such-revision'], {}, (at) =>
  spawnSync('git', ['init', '-q'], { cwd: at }),
);
const known = [{ path: 'App.jsx', fingerprint: fingerprint(APP) }];
const step = (name: string, from: string, to: string) => {
  const range = [APP.indexOf(from), APP.indexOf(to) + to.length];
  return { step: 'extract', name, component: 'App', path: 'App.jsx', lines: [1, 1], range };
};
const wrongly = [step('List', '<ul>', '</ul>'), step('Line', '<Row ', 'hive={hive} />')];
line('plan-order', ['apply', 'plan.json'], { 'plan.json': plan(known, wrongly) });
line('name-taken', ['apply', 'plan.json'], { 'plan.json': plan(known, [step('Row', '<h1>', '</h1>')]) });
line('check-level', ['apply', 'plan.json', '--check', 'all'], { 'plan.json': plan(known, []) });
line('git-failed', ['apply', 'plan.json', '--commit'], { 'plan.json': plan(known, [step('Title', '<h1>', '</h1>')]) });
const [cards] = findRepeats(memoryProject({ 'package.json': '{}', ...react, ...CARDS })).groups;
line('repeat-place', ['unify', cards!.id, '--only', '1,9'], CARDS);
line('repeat-kind', ['frame', cards!.id], CARDS);

beforeAll(() => {
  root = mkdtempSync(join(tmpdir(), 'verkstad-problems-'));
});
afterAll(() => rmSync(root, { recursive: true, force: true }));

describe('problems', () => {
  it.each(asked)('%s', (code, run) => {
    const found = run() as Problem;
    if (!isProblem(found)) throw new Error('no problem');
    expect(found.code, found.message).toBe(code);
    expect(found.message.length).toBeGreaterThan(5);
    expect(found.instead.length).toBeGreaterThan(0);
  });

  it.each(lines)(
    '%s on the command line',
    (code, more, args, before) => {
      const at = mkdtempSync(join(root, 'p-'));
      for (const [path, text] of Object.entries({ 'package.json': '{}', ...react, ...more })) {
        mkdirSync(dirname(join(at, path)), { recursive: true });
        writeFileSync(join(at, path), text);
      }
      before?.(at);
      const { stdout, status } = spawnSync(process.execPath, [BIN, ...args, '--json'], { cwd: at, encoding: 'utf8' });
      expect(JSON.parse(stdout)).toBeTruthy();
      expect(stdout).toContain(`"code": "${code}"`);
      expect([2, 3]).toContain(status);
    },
    30_000,
  );

  it('are all provoked somewhere', () => {
    const here = new Set<string>([...asked.map(([code]) => code), ...lines.map(([code]) => code)]);
    const folder = new URL('.', import.meta.url).pathname;
    const texts = readdirSync(folder, { recursive: true, encoding: 'utf8' })
      .filter((path) => (path.endsWith('.test.ts') && path !== 'problems.test.ts') || path.endsWith('case.json'))
      .map((path) => readFileSync(join(folder, path), 'utf8'))
      .join('\n');
    const isNamed = (code: string) => new RegExp(`['"]${code}['"]`).test(texts);
    const left = [...problemCodes].filter((code) => !here.has(code) && !isNamed(code));
    expect(left.sort()).toEqual([...UNPROVOKED].sort());
  });
});
