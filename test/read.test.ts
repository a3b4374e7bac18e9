/** What is read from real-looking projects: components, bindings, markup, imports, the tree. */
import { describe, expect, it } from 'vitest';
import {
  isProblem,
  languages,
  MemoryFiles,
  Resolver,
  snap,
  survey,
  walkMarkup,
  type ComponentModel,
  type Markup,
} from '../src/core/index.js';
import { oxcParser } from '../src/node/index.js';
import { memoryProject } from './support/projects.js';

function componentsOf(text: string, path = 'App.tsx'): readonly ComponentModel[] {
  const model = memoryProject({ [path]: text }).model(path);
  if (isProblem(model)) throw new Error(model.message);
  return model.components;
}

function kinds(nodes: readonly Markup[]): string[] {
  const found: string[] = [];
  walkMarkup(nodes, (node) => void found.push(node.kind === 'element' ? `<${node.name}>` : node.kind));
  return found;
}

describe('components', () => {
  it.each([
    ['function', 'export default function Hive() { return <p/>; }', 'Hive', 'default'],
    ['arrow', 'export const Hive = () => <p/>;', 'Hive', 'named'],
    ['memo', 'const Hive = memo(() => <p/>);\nexport default Hive;', 'Hive', 'default'],
    [
      'forwardRef in memo',
      'export const Hive = React.memo(React.forwardRef((props, ref) => <p ref={ref}/>));',
      'Hive',
      'named',
    ],
    ['named function in a wrapper', 'export default observer(function Hive() { return <p/>; });', 'Hive', 'default'],
    [
      'connect',
      'class Hive extends Component { render() { return <p/>; } }\nexport default connect(a)(Hive);',
      'Hive',
      'default',
    ],
    [
      'class expression',
      'export const Hive = class extends PureComponent { render() { return <p/>; } };',
      'Hive',
      'named',
    ],
    [
      'createClass',
      'const Hive = React.createClass({ render() { return <p/>; } });\nmodule.exports = Hive;',
      'Hive',
      'default',
    ],
    ['anonymous default', 'export default () => <p/>;', 'App', 'default'],
    ['a helper', 'function renderHive() { return <p/>; }', 'renderHive', 'none'],
    ['assigned to a member', 'Hives.Row = function () { return <p/>; };', 'Row', 'none'],
  ])('%s', (_, text, name, exported) => {
    expect(componentsOf(text).map((c) => [c.name, c.exported])).toEqual([[name, exported]]);
  });

  it('knows what a function component binds and does', () => {
    const [component] = componentsOf(`
      export function Apiary({ hives, keeper: person = null, ...rest }: { hives: string[]; keeper?: string }) {
        const [open, setOpen] = useState(false);
        const [state, dispatch] = useReducer(reduce, {});
        const box = useRef(null);
        const theme = useContext(Theme);
        const total = hives.length;
        const { data } = useQuery('x');
        const save = useCallback(() => {}, []);
        function handleOpen() { const inner = 1; return inner; }
        useEffect(() => { window.addEventListener('resize', save); setTimeout(save, 5); });
        return <p ref={box}>{total}</p>;
      }`);
    const named = (kind: string) => component!.bindings.filter((b) => b.kind === kind).map((b) => b.name);
    expect(named('state')).toEqual(['open', 'state']);
    expect(named('setter')).toEqual(['setOpen', 'dispatch']);
    expect(named('ref')).toEqual(['box']);
    expect(named('context')).toEqual(['theme']);
    expect(named('derived')).toEqual(['total']);
    expect(named('hook')).toEqual(['data']);
    expect(named('handler')).toEqual(['save', 'handleOpen']);
    expect(named('effect')).toHaveLength(1);
    expect(component!.deeds).toEqual(['holds a subscription', 'loads data', 'runs timers', 'touches refs']);
    expect(component!.props).toEqual([
      { name: 'hives', type: 'string[]', required: true },
      { name: 'keeper', type: 'string', required: false, default: 'null' },
    ]);
    expect(component!.openProps).toBe(true);
  });

  it('knows what a class component binds', () => {
    const [component] = componentsOf(`
      export class Notes extends Component<{ label: string }, {}> {
        constructor(props) { super(props); this.state = { text: '', open: 1 }; }
        componentDidMount() { fetch('/x'); }
        handleSave() {}
        renderRow() { return <li/>; }
        render() { const { extra } = this.props; return <p>{this.props.label}{extra}</p>; }
      }`);
    expect(component!.bindings.filter((b) => b.kind === 'state').map((b) => b.name)).toEqual(['text', 'open']);
    expect(component!.props.map((p) => p.name)).toEqual(['label', 'extra']);
    expect(component!.deeds).toEqual(['loads data']);
    expect(component!.kind).toBe('class');
  });
});

describe('markup', () => {
  it('reads branches, loops, outlets, fragments, comments and parts', () => {
    const [component] = componentsOf(`
      export function App({ a, list, children }) {
        return <>
          {/* note */}
          {a && <b/>}
          {a ? <i/> : null}
          {list?.filter(Boolean).map(({ id }, i) => { const x = id; return <li key={id}>{x}</li>; })}
          {Array.from(list, (x) => <u/>)}
          {render(<s/>)}
          <Card icon={<em/>} {...a}>{children}</Card>
        </>;
      }`);
    expect(kinds(component!.markup)).toEqual([
      'fragment',
      'comment',
      'branch',
      '<b>',
      'branch',
      '<i>',
      'loop',
      '<li>',
      'expression',
      'loop',
      '<u>',
      'expression',
      '<s>',
      '<Card>',
      '<em>',
      'outlet',
    ]);
  });

  it('gives every node its place in the file', () => {
    const text = 'export function App({ é }) {\r\n  return <p title="ä">{é && <b>🐝 x</b>}</p>;\r\n}\r\n';
    const [component] = componentsOf(text);
    const slices: string[] = [];
    walkMarkup(component!.markup, (node) => void slices.push(text.slice(node.start, node.end)));
    expect(slices).toEqual(['<p title="ä">{é && <b>🐝 x</b>}</p>', '{é && <b>🐝 x</b>}', '<b>🐝 x</b>', '🐝 x']);
  });

  it('counts offsets from a byte order mark on', () => {
    const text = '\uFEFFexport const A = () => <p>x</p>;';
    const [component] = componentsOf(text);
    expect(text.slice(component!.markup[0]!.start, component!.markup[0]!.end)).toBe('<p>x</p>');
  });
});

describe('snapping', () => {
  const text = `export function App({ hives }) {
  return (
    <main>
      <h1>Hives</h1>
      {hives.map((hive) => (
        <p key={hive}>
          <b>{hive}</b>
        </p>
      ))}
      <footer>end</footer>
    </main>
  );
}
`;
  const take = (from: string, to: string): string | undefined => {
    const lists = languages()[0]!.lists({ path: 'App.jsx', text }, { script: oxcParser });
    if (isProblem(lists)) throw new Error(lists.message);
    const start = text.indexOf(from);
    const region = snap(text, { start, end: text.indexOf(to, start) + to.length }, lists);
    return region && text.slice(region.start, region.end).replace(/\s+/g, ' ');
  };
  it.each([
    ['an exact element', '<h1>', '</h1>', '<h1>Hives</h1>'],
    ['an opening tag alone', '<p key', '>', '<p key={hive}> <b>{hive}</b> </p>'],
    ['text inside an element', 'ives</h1>', 'ives', 'Hives'],
    ['an element and the opening tag around it', '<main>', 'Hives</h1>', '<h1>Hives</h1>'],
    ['siblings', '<h1>', '))}', '<h1>Hives</h1> {hives.map((hive) => ( <p key={hive}> <b>{hive}</b> </p> ))}'],
    [
      'a half-covered run',
      '1>Hives',
      '<b>',
      '<h1>Hives</h1> {hives.map((hive) => ( <p key={hive}> <b>{hive}</b> </p> ))}',
    ],
    [
      'the return around an element',
      'return (',
      '</main>\n  );',
      text.slice(text.indexOf('<main>'), text.indexOf('</main>') + 7).replace(/\s+/g, ' '),
    ],
  ])('%s', (_, from, to, taken) => expect(take(from, to)).toBe(taken));
});

describe('imports', () => {
  const files = new MemoryFiles({
    'tsconfig.json':
      '{ "extends": "./base.json", // with a remark\n "compilerOptions": { "paths": { "@/*": ["./src/*"], "hive": ["src/hive/index.ts"] }, }, }',
    'base.json': '{ "compilerOptions": { "jsx": "react-jsx" } }',
    'packages/b/jsconfig.json': '{ "compilerOptions": { "baseUrl": "lib" } }',
    'packages/b/lib/deep/Row.jsx': '',
    'package.json': '{ "name": "apiary" }',
    'packages/kit/package.json': '{ "name": "@bee/own", "main": "dist/kit.js" }',
    'packages/kit/src/index.ts': '',
    'packages/kit/mixins/locale.js': '',
    'packages/kit/src/parts/Comb.vue': '',
    'src/hive/index.ts': '',
    'src/App.tsx': '',
    'src/Row.tsx': '',
    'src/a.css': '',
  });
  const resolver = new Resolver(files);
  it.each([
    ['src/App.tsx', './Row', { kind: 'file', path: 'src/Row.tsx' }],
    ['src/App.tsx', './Row.js', { kind: 'file', path: 'src/Row.tsx' }],
    ['src/App.tsx', './hive', { kind: 'file', path: 'src/hive/index.ts' }],
    ['src/hive/index.ts', '..', { kind: 'missing', source: '..' }],
    ['src/App.tsx', '@/hive', { kind: 'file', path: 'src/hive/index.ts' }],
    ['src/App.tsx', 'hive', { kind: 'file', path: 'src/hive/index.ts' }],
    ['src/App.tsx', '/src/Row.tsx', { kind: 'file', path: 'src/Row.tsx' }],
    ['src/App.tsx', './a.css', { kind: 'asset', path: 'src/a.css' }],
    ['src/App.tsx', './bee.svg?raw', { kind: 'asset', path: 'src/bee.svg' }],
    ['src/App.tsx', '@bee/kit/icons', { kind: 'package', name: '@bee/kit' }],
    ['src/App.tsx', 'apiary/src/Row', { kind: 'file', path: 'src/Row.tsx' }],
    ['src/App.tsx', '@bee/own', { kind: 'file', path: 'packages/kit/src/index.ts' }],
    ['src/App.tsx', '@bee/own/mixins/locale', { kind: 'file', path: 'packages/kit/mixins/locale.js' }],
    ['packages/kit/src/index.ts', '@/parts/Comb.vue', { kind: 'file', path: 'packages/kit/src/parts/Comb.vue' }],
    ['packages/kit/src/index.ts', '~/mixins/locale', { kind: 'file', path: 'packages/kit/mixins/locale.js' }],
    ['packages/b/lib/x.js', 'deep/Row', { kind: 'file', path: 'packages/b/lib/deep/Row.jsx' }],
    ['src/App.tsx', './nothing', { kind: 'missing', source: './nothing' }],
  ])('%s imports %s', (from, source, expected) => expect(resolver.resolve(from, source)).toEqual(expected));

  it('reads settings through extends', () => expect(resolver.jsxSetting('src/App.tsx')).toBe('react-jsx'));
});

describe('the tree of a project', () => {
  const result = survey(
    memoryProject({
      'index.html': '<script type="module" src="/src/main.tsx"></script>',
      'src/main.tsx': `import { createRoot } from 'react-dom/client';\nimport { App } from './parts';\ncreateRoot(x).render(<App />);`,
      'src/parts/index.ts': `export * from './App';\nexport { default as Row, Cell } from './Row';`,
      'src/parts/App.tsx': `import { Row } from '.';\nimport * as P from './Panel';\nconst Late = lazy(() => import('./Late'));\nexport function App() { return <main><Row/><P.Panel/><Late/></main>; }`,
      'src/parts/Row.tsx': `export function Cell() { return <td/>; }\nfunction Row() { return <tr><Cell/></tr>; }\nexport default memo(Row);`,
      'src/parts/Panel.tsx': `export const Panel = () => <section><Panel/></section>;`,
      'src/parts/Late.tsx': `export default function Late() { return <p/>; }\nexport const Unused = () => <i/>;`,
      'src/bad.tsx': 'const = 1;',
      'src/empty.tsx': ' \n',
      'src/lost.tsx': `import { x } from './gone';\nexport const y = x;`,
    }),
  );

  it('finds the entry, follows re-exports, namespaces and lazy imports, marks circles', () => {
    const edges = [...result.graph.nodes.values()].map(
      (n) => `${n.component.name}: ${n.renders.map((id) => id.split('#')[1]).join(' ')}`,
    );
    expect(edges.sort()).toEqual(['App: Row Panel Late', 'Cell: ', 'Late: ', 'Panel: Panel', 'Row: Cell', 'Unused: ']);
    expect(result.graph.entries).toEqual(['src/main.tsx']);
    expect(result.graph.roots).toEqual(['src/parts/App.tsx#App', 'src/parts/Late.tsx#Unused']);
  });

  it('lists what cannot be read, and goes on', () => {
    expect(result.files.filter((f) => f.problem).map((f) => [f.path, f.problem!.code])).toEqual([
      ['src/bad.tsx', 'file-syntax'],
      ['src/empty.tsx', 'file-empty'],
    ]);
    expect(result.graph.unresolved).toEqual([{ path: 'src/lost.tsx', source: './gone' }]);
  });
});

describe('code in a template', () => {
  it('that is open at the end of one piece and closed in another is no code', () => {
    const project = memoryProject({
      'Hives.vue': '<template>\n  <li :ref="`hive-${hive.id} in hives" :key="h`">{{ hive.name }}</li>\n</template>\n',
    });
    expect(project.model('Hives.vue')).toMatchObject({ code: 'file-syntax' });
  });
});

describe('a project in several languages', () => {
  const { graph, findings } = survey(
    memoryProject({
      'index.html': `<header><h1 id="top">Apiary</h1><nav><a href="#hives">hives</a><a href="#top">up</a></nav></header>
        <section id="top"><div id="app"></div></section><script type="module" src="/src/main.js"></script>`,
      'scale.html': `<div id="scale"></div><script type="module">import Scale from './src/Scale.vue';
        import { createApp } from 'vue'; createApp(Scale).mount('#scale');</script>`,
      'src/main.js': `import { createApp } from 'vue';\nimport App from './App.vue';\nimport HiveCard from './HiveCard.vue';
        const app = createApp(App);\napp.component('hive-card', HiveCard).mount('#app');`,
      'src/App.vue': `<script setup>\nimport { Chart } from './Chart';\n</script>\n<template><hive-card /><Chart /></template>`,
      'src/HiveCard.vue': '<template><p id="card">card</p></template>',
      'src/Scale.vue': '<template><HiveCard /></template>',
      'src/Chart.jsx': 'export const Chart = () => <svg><g/></svg>;',
    }),
  );

  it('is one tree: from the page to what it mounts, by registered names, into other languages', () => {
    const edges = [...graph.nodes.values()].map((n) => `${n.id}: ${n.renders.map((id) => id.split('#')[1]).join(' ')}`);
    expect(edges.sort()).toEqual([
      'index.html#Index: App',
      'src/App.vue#App: HiveCard Chart',
      'src/Chart.jsx#Chart: ',
      'src/HiveCard.vue#HiveCard: ',
      'src/Scale.vue#Scale: HiveCard',
    ]);
    expect(graph.roots).toEqual(['src/Scale.vue#Scale', 'index.html#Index']);
  });

  it('names ids that stand twice and references to ids that are nowhere', () => {
    expect(findings.filter((f) => f.code.startsWith('id-')).map((f) => `${f.path} ${f.message}`)).toEqual([
      'index.html id "top" stands 2 times, first in line 1',
      'index.html href names "hives", an id that is nowhere',
    ]);
  });
});
