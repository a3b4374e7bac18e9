/** Generated components that hand on what they do not use: with it as content they show, call and begin the same at every point. */
import { describe, expect, it } from 'vitest';
import {
  applied,
  isProblem,
  MemoryFiles,
  Project,
  proveWrittenOut,
  textOf,
  through,
  type FileSet,
} from '../../src/core/index.js';
import { nodePorts } from '../../src/node/index.js';
import { madeHanded } from '../support/generate-handed.js';
import { play } from '../support/play.js';
import { renderVue } from '../support/vue.js';

const COMPONENTS = 120;

/** The files with all of it as content; undefined where that is refused for a reason. */
function carried(files: FileSet, inputs: readonly string[]): FileSet | undefined {
  const change = through(new Project(files, nodePorts()), { component: 'Frame', inputs });
  if (isProblem(change)) {
    expect(change.message).toMatch(/works out what it hands on only where|would work kilos out twice/);
    return undefined;
  }
  expect(change.proof.answer === 'same' ? '' : change.proof.detail).toBe('');
  return applied(files, change);
}

const texts = (files: FileSet) => files.list().map((path) => textOf(files, path)).join('\n'); // prettier-ignore

describe('through', () => {
  it(`of ${COMPONENTS} components of React: the same at every point`, async () => {
    const entry = { file: 'Yard.jsx', export: 'Yard', props: {} };
    const deeds = [0, 1, 0, 1, 2, 0, 3, 1].map((press) => ({ press }));
    let done = 0;
    for (let seed = 1; seed <= COMPONENTS; seed++) {
      const { react, inputs } = madeHanded(seed);
      const before = new MemoryFiles(react);
      const after = carried(before, inputs);
      if (!after) continue;
      done++;
      expect(await play(after, entry, deeds), `${seed}\n${texts(after)}`).toEqual(await play(before, entry, deeds));
    }
    expect(done).toBeGreaterThan(COMPONENTS * 0.8);
  }, 120_000);

  /** Each is a way in which content may go wrong; none may pass for the same. */
  const FAULTS: readonly (readonly [what: string, file: string, written: RegExp, instead: string])[] = [
    ['another value', 'Yard.jsx', /<Scale kilos=\{kilos\}/, '<Scale kilos={kilos + 1}'],
    ['a report that is lost', 'Yard.jsx', /(<Scale [^/]*) onWeigh=\{[^/]*\} \/>/, '$1 />'],
    ['a place that is lost', 'Frame.jsx', /\{children\}/, '{null}'],
    ['another place', 'Frame.jsx', /(<button[\s\S]*?<\/button>)([\s\S]*?)\{children\}/, '{children}$1$2'],
    ['a condition more', 'Frame.jsx', /\{children\}/, '{open && kilos && children}'],
    ['shown twice', 'Frame.jsx', /\{children\}/, '{children}{children}'],
    ['a key', 'Yard.jsx', /<Scale kilos/, '<Scale key={kilos} kilos'],
  ];
  it('is not called the same with a fault in it', () => {
    const met = new Set<string>();
    for (let seed = 1; seed <= 40; seed++) {
      const { react, inputs } = madeHanded(seed);
      const before = new MemoryFiles(react);
      const after = carried(before, inputs);
      for (const [what, path, written, instead] of after ? FAULTS : []) {
        const text = textOf(after!, path)!;
        const wrong = text.replace(written, instead);
        if (wrong === text) continue;
        met.add(what);
        const all = Object.fromEntries(after!.list().map((one) => [one, textOf(after!, one)!]));
        const planted = new Project(new MemoryFiles({ ...all, [path]: wrong }), nodePorts());
        const proof = proveWrittenOut(new Project(before, nodePorts()), planted, 'Frame.jsx#Frame', after!.list());
        expect('answer' in proof ? proof.answer : proof.code, `${what} ${wrong}`).not.toBe('same');
      }
    }
    expect([...met].sort()).toEqual(FAULTS.map(([what]) => what).sort());
  }, 120_000);

  it(`of ${COMPONENTS} components of Vue: the same`, async () => {
    let done = 0;
    for (let seed = 1; seed <= COMPONENTS; seed++) {
      const { vue, inputs } = madeHanded(seed);
      const before = new MemoryFiles(vue);
      const after = carried(before, inputs.filter((name) => name !== 'onWeigh')); // prettier-ignore
      if (!after) continue;
      done++;
      expect(await renderVue(after, 'Yard.vue', {}), `${seed}\n${texts(after)}`).toBe(
        await renderVue(before, 'Yard.vue', {}),
      );
    }
    expect(done).toBeGreaterThan(COMPONENTS * 0.8);
  }, 120_000);
});
