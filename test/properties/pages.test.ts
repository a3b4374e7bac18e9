/** Generated pages written in every language that can: proven, and the same in the framework's own rendering and in a browser. */
import type { Browser } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { isProblem, languages, MemoryFiles, Project, textOf, type FileSet } from '../../src/core/index.js';
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

describe.each(languages.filter((l) => l.hypertext))('generated pages in $label', (language) => {
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
