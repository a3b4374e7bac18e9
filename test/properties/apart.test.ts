/** Generated components are taken apart from what they know, and both versions are played in a DOM: the same is shown and called. */
import { describe, expect, it } from 'vitest';
import { apart, applied, isProblem, MemoryFiles, Project, textOf, type FileSet } from '../../src/core/index.js';
import { nodePorts } from '../../src/node/index.js';
import { madeWithRequests, playWithServer } from '../support/generate-requests.js';
import { deedsOf, madeWithStates } from '../support/generate-states.js';
import { play } from '../support/play.js';

const COMPONENTS = 120;

/** The files with a component taken apart; a code where that is refused. */
function taken(files: FileSet, path: string, component: string): FileSet | string {
  const change = apart(new Project(files, nodePorts()), { path, component });
  if (isProblem(change)) return change.code;
  expect(change.proof.answer === 'same' ? '' : change.proof.detail).toBe('');
  const after = applied(files, change);
  const hooks = (text = '') => text.match(/\b(?:useState|useEffect|fetch|setState)\(/g)?.length ?? 0;
  // All that is kept and done is where it was.
  expect(hooks(textOf(after, path))).toBe(hooks(textOf(files, path)));
  return after;
}

describe('apart', () => {
  it(`of ${COMPONENTS} components that keep states: the same at every point`, async () => {
    const entry = { file: 'Apiary.jsx', export: 'Apiary', props: { place: 'ford', hives: ['ford 1', 'mill 2'] } };
    let same = 0;
    for (let seed = 1; seed <= COMPONENTS; seed++) {
      const before = new MemoryFiles(madeWithStates(seed).files);
      const was = await play(before, entry, deedsOf(seed));
      for (const component of ['Apiary', 'HivePart']) {
        const after = taken(before, `${component}.jsx`, component);
        if (typeof after === 'string') throw new Error(`${seed} ${component}: ${after}`);
        same++;
        const text = after.list().map((path) => textOf(after, path));
        expect(await play(after, entry, deedsOf(seed)), `${seed} ${component}\n${text.join('\n')}`).toEqual(was);
      }
    }
    expect(same).toBe(COMPONENTS * 2);
  }, 120_000);

  it(`of ${COMPONENTS} components that load and send: the same shown and asked at every point`, async () => {
    for (let seed = 1; seed <= COMPONENTS; seed++) {
      const before = new MemoryFiles({ 'Apiary.jsx': madeWithRequests(seed) });
      const after = taken(before, 'Apiary.jsx', 'Apiary');
      if (typeof after === 'string') throw new Error(`${seed}: ${after}`);
      expect(await playWithServer(after, seed), String(seed)).toEqual(await playWithServer(before, seed));
    }
  }, 120_000);
});
