/** Astro: the pages of its fixtures as the real framework builds them, before and after; and whole jobs on the demo. */
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import {
  applied,
  extract,
  findRepeats,
  isProblem,
  MemoryFiles,
  Project,
  planOf,
  proposeRegions,
  runStep,
  survey,
  textOf,
  unify,
  Whereabouts,
  type FileSet,
} from '../src/core/index.js';
import { nodePorts } from '../src/node/index.js';
import { builtPages, hasAstro, writtenSite } from './support/astro.js';
import { filesBelow, memoryProject } from './support/projects.js';

const FIXTURES = new URL('./fixtures/astro', import.meta.url).pathname;
const BIN = new URL('../dist/cli/bin.js', import.meta.url).pathname;
const DEMO = new URL('../examples/apiary-astro', import.meta.url).pathname;

interface Case {
  readonly pages?: readonly string[];
}

const cases = readdirSync(FIXTURES).flatMap((name) => {
  const { pages } = JSON.parse(readFileSync(join(FIXTURES, name, 'case.json'), 'utf8')) as Case;
  return pages ? [{ name, pages }] : [];
});

/** One site for all fixtures: each in a folder of its own, its pages shown by pages of the site. */
function siteOf(side: 'before' | 'after'): Map<string, string> {
  const site = new Map([['package.json', '{ "type": "module" }']]);
  for (const { name, pages } of cases) {
    const files = new Map(filesBelow(join(FIXTURES, name, 'before')));
    if (side === 'after') for (const [path, text] of filesBelow(join(FIXTURES, name, 'after'))) files.set(path, text);
    for (const [path, text] of files) if (path.startsWith('src/')) site.set(`src/cases/${name}/${path}`, text);
    for (const [i, page] of pages.entries())
      site.set(`src/pages/${name}/${i}.astro`, `---\nimport Page from '../../cases/${name}/${page}';\n---\n<Page />\n`);
  }
  return site;
}

function allOf(files: FileSet): Map<string, string> {
  return new Map(files.list().map((path) => [path, textOf(files, path)!]));
}

describe.runIf(hasAstro)('as the real Astro builds them', () => {
  it(`${cases.length} fixtures show on both sides the same`, () => {
    const pages = cases.flatMap(({ name, pages }) => pages.map((_, i) => `${name}/${i}/index.html`));
    const before = builtPages(siteOf('before'), pages);
    const after = builtPages(siteOf('after'), pages);
    expect(before.size).toBeGreaterThan(cases.length);
    for (const [page, html] of before) {
      expect(html.length, page).toBeGreaterThan(60);
      expect(after.get(page), page).toBe(html);
    }
  });

  it('the demo is one layout, its cards one component and its long page parts, and shows the same', () => {
    const demo = new MemoryFiles(new Map(filesBelow(DEMO)));
    let project = new Project(demo, nodePorts());
    const names: string[] = [];
    for (;;) {
      const repeats = findRepeats(project);
      const repeat = repeats.groups.find(({ step }) => step !== undefined);
      if (!repeat) break;
      const change = unify(project, { repeats, repeat });
      if (isProblem(change)) throw new Error(change.message);
      expect(change.proof.answer).toBe('same');
      names.push(`${change.target}: ${change.seam.props.map((p) => `${p.name}: ${p.type ?? ''}`).join(', ')}`);
      project = new Project(applied(project.files, change), project.ports);
    }
    expect(names).toEqual([
      'src/layouts/PageLayout.astro: title: string, heading: string',
      'src/components/Keeper.astro: src: string, alt: string, title: string, text: string, label: string',
    ]);
    const plans = proposeRegions(project, 'src/pages/index.astro');
    if (isProblem(plans)) throw new Error(plans.message);
    const plan = planOf(project, plans);
    const where = new Whereabouts(plan.steps);
    for (const step of plan.steps) {
      const change = runStep(project, step, where);
      if (isProblem(change)) throw new Error(change.message);
      expect(change.proof.answer).toBe('same');
      where.after(change);
      project = new Project(applied(project.files, change), project.ports);
    }
    expect(plan.steps.length).toBe(3);
    const pages = ['index.html', 'keepers/index.html', 'visit/index.html'];
    expect(builtPages(allOf(project.files), pages)).toEqual(builtPages(allOf(demo), pages));
  });
});

describe.runIf(hasAstro)('check --level render', () => {
  const before = new Map(filesBelow(join(FIXTURES, 'row-of-a-list', 'before')));
  const row = filesBelow(join(FIXTURES, 'row-of-a-list', 'after'));
  const after = new Map([...before, ...[...row].filter(([path]) => path.startsWith('src/'))]);
  const component = 'src/components/HiveList.astro';

  it.each([
    ['the same', after, 'same'],
    [
      'a planted fault',
      new Map([
        ...after,
        ['src/components/HiveRow.astro', after.get('src/components/HiveRow.astro')!.replace('===', '!==')],
      ]),
      'different',
    ],
  ])('renders both versions with the real Astro: %s', (_, changed, answer) => {
    const [was, is] = [writtenSite(before), writtenSite(changed)];
    try {
      const args = [BIN, 'check', '--root', is, '--against', was, '--level', 'render', '--json'];
      const { stdout } = spawnSync(process.execPath, args, { encoding: 'utf8' });
      const { levels } = JSON.parse(stdout) as { levels: { level: string; answer: string; compared: string[] }[] };
      const render = levels.find(({ level }) => level === 'render');
      expect(render).toMatchObject({ answer });
      // With values made of what `interface Props` says.
      expect(render?.compared).toContain(`${component}#HiveList`);
    } finally {
      for (const root of [was, is]) rmSync(root, { recursive: true, force: true });
    }
  });
});

describe('Astro', () => {
  it('is one tree with what it shows of other languages', () => {
    const project = memoryProject({
      'src/pages/index.astro':
        "---\nimport Scale from '../Scale.jsx';\n---\n<main><Scale client:load kilos={3} /></main>\n",
      'src/Scale.jsx': 'export default function Scale({ kilos }) {\n  return <output>{kilos} kg</output>;\n}\n',
    });
    const { graph, files } = survey(project);
    expect(files.map((f) => f.language)).toEqual(['jsx', 'astro']);
    const page = [...graph.nodes.values()].find((n) => n.component.name === 'Home');
    expect(page?.renders).toEqual(['src/Scale.jsx#Scale']);
  });

  it('takes an island along with its import and its directive', () => {
    const project = memoryProject({
      'package.json': '{}',
      'src/Page.astro':
        "---\nimport Scale from './Scale.jsx';\nconst hive = { kilos: 3 };\n---\n<main>\n  <h1>Scales</h1>\n  <section>\n    <Scale client:visible kilos={hive.kilos} />\n  </section>\n</main>\n",
      'src/Scale.jsx': 'export default () => <output />;\n',
    });
    const text = textOf(project.files, 'src/Page.astro')!;
    const range = { start: text.indexOf('<section'), end: text.indexOf('</section>') + 10 };
    const change = extract(project, { path: 'src/Page.astro', range, name: 'ScalePart' });
    if (isProblem(change)) throw new Error(change.message);
    expect(change.proof.answer).toBe('same');
    const [host, part] = ['src/Page.astro', 'src/ScalePart.astro'].map(
      (p) => change.files.find((f) => f.path === p)!.text,
    );
    expect(host).not.toContain('Scale.jsx');
    expect(part).toContain("import Scale from './Scale.jsx';");
    expect(part).toContain('<Scale client:visible kilos={hive.kilos} />');
  });

  it.each([
    ['an end tag of nothing', '<main>\n<p>Hives</b></p></main>', 2, '</b> closes nothing'],
    ['a fence without an end', '---\nconst a = 1;\n<p>{a}</p>\n', 1, 'the fence is not closed'],
    ['a brace without an end', '<p>{hives</p>\n', 1, 'a brace is not closed'],
    ['code that is none', '---\nconst a = 1;\n---\n<p>{a +}</p>\n', 4, 'Unexpected token'],
  ])('says where %s is', (_, text, line, message) => {
    const project = memoryProject({ 'Page.astro': text });
    const model = project.model('Page.astro');
    expect(isProblem(model) && model.message).toContain(message);
    const at = isProblem(model) ? (model.span?.start ?? 0) : 0;
    expect(text.slice(0, at).split('\n').length).toBe(line);
  });
});
