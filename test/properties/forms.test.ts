/** Generated components become one for each form, and both versions are shown for everything that they can be given: the same. */
import { describe, expect, it } from 'vitest';
import { applied, forms, isProblem, MemoryFiles, Project, textOf, type FileSet } from '../../src/core/index.js';
import { nodePorts } from '../../src/node/index.js';
import { KINDS, madeWithForms } from '../support/generate-forms.js';
import { play } from '../support/play.js';
import { renderVue } from '../support/vue.js';

const COMPONENTS = 120;
const ASKED = ['kind', 'open', "kind === 'brood'"];

function divided(files: FileSet, by: string): FileSet {
  const change = forms(new Project(files, nodePorts()), { component: 'Comb', by, newLifetime: true });
  if (isProblem(change)) throw new Error(`${change.code} ${change.message}`);
  expect(change.proof.answer === 'same' ? '' : change.proof.detail).toBe('');
  expect(change.forms.length).toBeGreaterThan(1);
  return applied(files, change);
}

const texts = (files: FileSet) => files.list().map((path) => textOf(files, path)).join('\n'); // prettier-ignore

describe('forms', () => {
  it(`of ${COMPONENTS} components of React: the same whatever they are given`, async () => {
    const entry = { file: 'Yard.jsx', export: 'Yard', props: {} };
    const deeds = Array.from({ length: 6 }, () => ({ press: 0 }));
    for (let seed = 1; seed <= COMPONENTS; seed++) {
      const before = new MemoryFiles(madeWithForms(seed).react);
      const after = divided(before, ASKED[seed % ASKED.length]!);
      expect(await play(after, entry, deeds), `${seed}\n${texts(after)}`).toEqual(await play(before, entry, deeds));
    }
  }, 120_000);

  it(`of ${COMPONENTS} components of Vue: the same whatever they are given`, async () => {
    for (let seed = 1; seed <= COMPONENTS; seed++) {
      const before = new MemoryFiles(madeWithForms(seed).vue);
      const after = divided(before, ASKED[seed % ASKED.length]!);
      for (const kind of KINDS)
        for (const open of [true, false]) {
          const shown = (files: FileSet) => renderVue(files, 'Comb.vue', { kind, open, kilos: 3 });
          expect(await shown(after), `${seed}\n${texts(after)}`).toBe(await shown(before));
        }
    }
  }, 120_000);
});
