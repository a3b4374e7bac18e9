/** Plans for generated components and for the demos: every step is proven, and renders the same as what was there before. */
import { createElement } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import { describe, expect, it } from 'vitest';
import {
  applied,
  isProblem,
  planOf,
  planTrouble,
  Project,
  proposeRegions,
  runStep,
  textOf,
  unresolvedNames,
  Whereabouts,
  type FileSet,
  type Goal,
} from '../../src/core/index.js';
import { judgeFactored, monolithOf, readFactored } from '../../scripts/factored.mjs';
import { generateComponent } from '../support/generate.js';
import { generateVue } from '../support/generate-vue.js';
import { filesBelow, memoryProject } from '../support/projects.js';
import { inOrder, loadModule, renderHtml } from '../support/react.js';
import { compileErrors, renderVue } from '../support/vue.js';

type Show = (files: FileSet) => string | Promise<string>;

/** Takes a plan step by step. Faults name the step. */
async function takePlan(
  start: Project,
  path: string,
  goal: Goal,
  show: Show,
): Promise<{ faults: string[]; taken: string[]; project: Project }> {
  const plans = proposeRegions(start, path, goal);
  if (isProblem(plans)) return { faults: [plans.message], taken: [], project: start };
  const plan = planOf(start, plans);
  const faults = [planTrouble(start, plan)?.message ?? []].flat();
  const where = new Whereabouts(plan.steps);
  const before = await show(start.files);
  const taken: string[] = [];
  let project = start;
  for (const step of plan.steps) {
    const change = runStep(project, step, where);
    if (isProblem(change)) {
      faults.push(`${step.name}: ${change.message}`);
      break;
    }
    if (change.proof.answer !== 'same') faults.push(`${step.name}: ${change.proof.answer}, ${change.proof.detail}`);
    if (change.name !== step.name) faults.push(`${step.name} became ${change.name}`);
    where.after(change);
    const after = new Project(applied(project.files, change), project.ports);
    const paths = change.files.map((f) => f.path);
    faults.push(...unresolvedNames(project, after, paths).map((name) => `${step.name}: ${name} has no meaning`));
    faults.push(
      ...compileErrors(
        after.files,
        paths.filter((p) => p.endsWith('.vue')),
      ),
    );
    const now = await Promise.resolve(show(after.files)).catch(String);
    if (now !== before) faults.push(`${step.name}: renders otherwise\n  before ${before}\n  after  ${now}`);
    taken.push(step.name);
    project = after;
  }
  return { faults, taken, project };
}

const SEEDS = Array.from({ length: 60 }, (_, i) => i + 1);

describe('plans for generated components', () => {
  it('in JSX', async () => {
    const results = [];
    for (const seed of SEEDS) {
      const { text, props } = generateComponent(seed);
      const show: Show = (now) =>
        renderToStaticMarkup(createElement(loadModule(now, 'Demo.jsx').default as never, props));
      results.push({ seed, ...(await takePlan(memoryProject({ 'Demo.jsx': text }), 'Demo.jsx', { lines: 8 }, show)) });
    }
    expect(results.filter((r) => r.faults.length > 0).map(({ seed, faults }) => ({ seed, faults }))).toEqual([]);
    expect(results.flatMap((r) => r.taken).length).toBeGreaterThan(SEEDS.length / 2);
  });

  it('in Vue', async () => {
    const results = [];
    for (const seed of SEEDS) {
      const { files, props } = generateVue(seed);
      const show: Show = async (now) => inOrder(await renderVue(now, 'Demo.vue', props));
      results.push({ seed, ...(await takePlan(memoryProject(files), 'Demo.vue', { lines: 8 }, show)) });
    }
    expect(results.filter((r) => r.faults.length > 0).map(({ seed, faults }) => ({ seed, faults }))).toEqual([]);
    expect(results.flatMap((r) => r.taken).length).toBeGreaterThan(SEEDS.length / 2);
  });
});

describe('plans for the demos', () => {
  const demo = (name: string) =>
    new Map(
      [...filesBelow(new URL(`../../examples/${name}`, import.meta.url).pathname)].filter(
        ([path]) => !/node_modules|dist|\.verkstad/.test(path),
      ),
    );
  const lineCount = (project: Project, path: string) => {
    const file = project.source(path);
    return isProblem(file) ? 0 : file.text.split('\n').length;
  };

  it('React: the page becomes a table of contents, and every new component is short', async () => {
    const start = memoryProject(demo('apiary-react'));
    const show: Show = (files) => renderHtml(files, { file: 'src/App.tsx', export: 'default', props: {} });
    const { faults, taken, project } = await takePlan(start, 'src/App.tsx', { lines: 120 }, show);
    expect(faults).toEqual([]);
    for (const name of ['PageHeader', 'Apiaries', 'Inspections', 'Harvests', 'Tabs', 'Reports'])
      expect(taken).toContain(name);
    expect(lineCount(project, 'src/App.tsx')).toBeLessThan(180);
    for (const name of taken) expect(lineCount(project, `src/${name}.tsx`)).toBeLessThanOrEqual(150);
  });

  it('Vue: as well', async () => {
    const start = memoryProject(demo('apiary-vue'));
    const { faults, taken, project } = await takePlan(start, 'src/App.vue', { lines: 150 }, (files) =>
      renderVue(files, 'src/App.vue', {}),
    );
    expect(faults).toEqual([]);
    expect(taken).toContain('Figures');
    expect(lineCount(project, 'src/App.vue')).toBeLessThan(200);
    expect(project.sources().filter((path) => !start.sources().includes(path)).length).toBe(taken.length);
  });

  it('says of what is fine that it is, and why', () => {
    const start = memoryProject(demo('apiary-vue'));
    const plans = proposeRegions(start, 'src/components/HoneyWeight.vue');
    if (isProblem(plans)) throw new Error(plans.message);
    expect(plans.map((p) => p.proposals)).toEqual([[]]);
    expect(plans[0]!.fine).toContain('all of it fits on a screen');
  });

  it('keeps to a limit for what crosses', () => {
    const start = memoryProject(demo('apiary-react'));
    const plans = proposeRegions(start, 'src/App.tsx', { props: 4 });
    if (isProblem(plans)) throw new Error(plans.message);
    const widths = plans.flatMap((p) =>
      p.proposals.map(({ seam }) => seam.props.length + seam.events.length + seam.slots.length),
    );
    expect(widths.length).toBeGreaterThan(3);
    expect(Math.max(...widths)).toBeLessThanOrEqual(4);
  });
});

describe('pages of good developers, made monoliths', () => {
  it('are cut again where they were cut', () => {
    const { children, proposed, found, refused } = judgeFactored(readFactored());
    expect(refused).toEqual([]);
    expect(children).toBeGreaterThan(40);
    expect(found / proposed).toBeGreaterThanOrEqual(0.8);
    expect(found / children).toBeGreaterThanOrEqual(0.8);
  });

  it.each(readFactored())('$name: every step of the plan is proven', async (one) => {
    const { project } = monolithOf(one);
    const start = memoryProject(
      Object.fromEntries(project.files.list().map((path) => [path, textOf(project.files, path)!])),
    );
    const { faults, taken } = await takePlan(start, one.page, { lines: 60 }, () => '');
    expect(faults).toEqual([]);
    expect(taken.length).toBeGreaterThan(1);
  });
});
