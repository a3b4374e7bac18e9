/** States of generated components go home, and both versions are played in a DOM: the same is shown and called at every point. */
import { describe, expect, it } from 'vitest';
import { applied, home, isProblem, MemoryFiles, Project } from '../../src/core/index.js';
import { nodePorts } from '../../src/node/index.js';
import { deedsOf, madeWithStates } from '../support/generate-states.js';
import { play, type Seen } from '../support/play.js';

const COMPONENTS = 220;

/** Effects that went run at another place in their turn, which the note says. */
function sorted(seen: readonly Seen[]): Seen[] {
  return seen.map(({ html, calls }) => ({ html, calls: [...calls].sort() }));
}

describe('home', () => {
  const counts = { same: 0, refused: new Map<string, number>(), both: 0 };
  const entry = {
    file: 'Apiary.jsx',
    export: 'Apiary',
    props: { place: 'ford', hives: ['ford 1', 'mill 2', 'quarry 3'] },
  };

  it(`of ${COMPONENTS} generated components: the same at every point`, async () => {
    for (let seed = 1; seed <= COMPONENTS; seed++) {
      const { files, states } = madeWithStates(seed);
      const before = new MemoryFiles(files);
      const project = new Project(before, nodePorts());
      const deeds = deedsOf(seed);
      let was: Seen[] | undefined;
      for (const state of states) {
        const change = home(project, { component: 'Apiary', names: [state], in: 'HivePart' });
        if (isProblem(change)) {
          counts.refused.set(change.code, (counts.refused.get(change.code) ?? 0) + 1);
          continue;
        }
        expect(change.proof.answer === 'same' ? '' : `${seed} ${state}: ${change.proof.detail}`).toBe('');
        counts.same++;
        const after = applied(before, change);
        was ??= await play(before, entry, deeds);
        const now = await play(after, entry, deeds);
        const isElsewhere = change.notes.some((note) => note.includes('ran behind'));
        const text = change.files.map((f) => f.text).join('\n');
        expect(isElsewhere ? sorted(now) : now, `${seed} ${state}\n${text}`).toEqual(isElsewhere ? sorted(was) : was);

        // And up again.
        const back = home(new Project(after, nodePorts()), { component: 'HivePart', names: [state], in: 'Apiary' });
        if (isProblem(back)) continue;
        expect(back.proof.answer === 'same' ? '' : `${seed} ${state} up: ${back.proof.detail}`).toBe('');
        counts.both++;
        const again = await play(applied(after, back), entry, deeds);
        expect(sorted(again), `${seed} ${state} up`).toEqual(sorted(was));
      }
    }
    expect(counts.same).toBeGreaterThan(200);
    expect(counts.both).toBeGreaterThan(60);
    expect([...counts.refused.keys()].sort()).toEqual(['home-lifetime', 'home-shared']);
  }, 120_000);
});
