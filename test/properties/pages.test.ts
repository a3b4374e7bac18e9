/** Generated pages written in every language that can: proven, and the same in the framework's own rendering and in a browser. */
import type { Browser } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  applied,
  findRepeats,
  isProblem,
  languages,
  MemoryFiles,
  pagesInto,
  planOf,
  planTrouble,
  Project,
  proposeRegions,
  runStep,
  textOf,
  Whereabouts,
  withProven,
  withRepeats,
  type FileSet,
} from '../../src/core/index.js';
import { writePages } from '../../src/core/steps/pages.js';
import { nodePorts } from '../../src/node/index.js';
import { CHROMIUM, openBrowser } from '../support/browser.js';
import { generatePage } from '../support/generate-page.js';
import { bodyOutline, bodyText, fragmentOutline } from '../support/pages.js';
import { renderHtml } from '../support/react.js';
import { renderVue } from '../support/vue.js';

const PAGES = process.env.REGIONS === undefined ? 60 : 400;

function rendered(files: FileSet, file: string, name: string): Promise<string> {
  return file.endsWith('.vue') ? renderVue(files, file, {}) : renderHtml(files, { file, export: name, props: {} });
}

describe.each(languages().filter((l) => l.hypertext))('generated pages in $label', (language) => {
  let browser: Browser | undefined;
  beforeAll(async () => void (browser = CHROMIUM === undefined ? undefined : await openBrowser()));
  afterAll(async () => browser?.close());

  it(`${PAGES} pages show the same`, async () => {
    const tab = await browser?.newPage();
    const words = async (body: string) => {
      await tab!.setContent(`<!DOCTYPE html><body>${body}</body>`);
      return tab!.evaluate(`document.body.innerText.split('\\n').map((l) => l.trim()).filter(Boolean).join('\\n')`);
    };
    for (let seed = 1; seed <= PAGES; seed++) {
      const page = generatePage(seed);
      const project = new Project(new MemoryFiles(new Map([['hive.html', page]])), nodePorts());
      const result = writePages(project, ['hive.html'], language);
      if (isProblem(result)) throw new Error(`seed ${seed}: ${result.message}\n${page}`);
      const written = result.pages.get('hive.html')!;
      const { files } = result.project;
      const { proof } = written;
      if (proof.answer !== 'same')
        throw new Error(`seed ${seed}: ${proof.detail}\n${page}\n${textOf(files, written.path)}`);
      const html = await rendered(files, written.path, written.name);
      expect(fragmentOutline(html), `seed ${seed}\n${page}\n${textOf(files, written.path)}`).toBe(bodyOutline(page));
      if (tab) expect(await words(html), `seed ${seed}\n${page}\n${html}`).toBe(await words(bodyText(page)));
    }
  }, 300_000);
});

const SITES = process.env.REGIONS === undefined ? 12 : 60;

describe.each(languages().filter((l) => l.hypertext))('plans for generated sites in $label', ({ id }) => {
  it(`${SITES} sites of two pages show the same after every step`, async () => {
    let cuts = 0;
    for (let seed = 1; seed <= SITES; seed++) {
      const pages = new Map([seed, seed + 1000].map((s, i) => [`hive${i}.html`, generatePage(s)]));
      const start = new Project(new MemoryFiles(pages), nodePorts());
      const written = pagesInto(start, [...pages.keys()], id);
      if (isProblem(written)) throw new Error(written.message);
      expect(written.unwritten.map((p) => p.message)).toEqual([]);
      const components = [...written.pages.values()];
      const paths = components.map(({ path }) => path);
      const plans = paths.flatMap((path) => {
        const found = proposeRegions(written.project, path, { lines: 8 });
        return isProblem(found) ? [] : found;
      });
      const beside = withRepeats(written.project, findRepeats(written.project, { paths }), plans, 8);
      const plan = planOf(written.project, withProven(written.project, beside.plans), [], beside.unified, written);
      expect(planTrouble(start, plan)).toBeUndefined();
      const where = new Whereabouts(plan.steps);
      let project = start;
      for (const step of plan.steps) {
        const change = runStep(project, step, where);
        if (isProblem(change)) throw new Error(`seed ${seed}, ${step.step} ${step.name}: ${change.message}`);
        expect(change.proof.answer, `seed ${seed}, ${step.step} ${step.name}`).toBe('same');
        where.after(change);
        project = new Project(applied(project.files, change), project.ports);
        if (step.step !== 'page') cuts++;
      }
      for (const { path, name } of plan.steps.length > 0 ? components : []) {
        if (textOf(project.files, path) === undefined) continue;
        const [now, was] = [project, written.project].map(({ files }) => rendered(files, path, name));
        expect(fragmentOutline(await now!), `seed ${seed}, ${path}`).toBe(fragmentOutline(await was!));
      }
    }
    expect(cuts).toBeGreaterThan(SITES);
  }, 300_000);
});
