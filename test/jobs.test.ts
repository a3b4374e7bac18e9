/** Whole jobs: what a developer would write by hand does what was there, and so does where the commands get. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { MemoryFiles } from '../src/core/index.js';
import { jobCalled, jobNames, reachedBy, type Job } from '../scripts/bench-jobs.mjs';
import { play, type Deed } from './support/play.js';
import { renderVue } from './support/vue.js';

/** How far the steps get today: a job that gets further is written down here. */
const REACHED = {
  'button-of-flags-react': 'partly',
  'class-loads-react': 'fully',
  'class-to-function-react': 'partly',
  'drilled-react': 'fully',
  'form-vue': 'fully',
  'header-react': 'fully',
  'hook-react': 'fully',
  'loads-vue': 'fully',
  'render-methods-react': 'partly',
  'screens-react': 'fully',
  'screens-vue': 'fully',
  'variants-vue': 'fully',
};

/** What is seen of a project when it is played, or rendered on a server. */
function seen({ entry, deeds = [] }: Job, texts: ReadonlyMap<string, string>): Promise<unknown> {
  const files = new MemoryFiles(Object.fromEntries(texts));
  if (entry.file.endsWith('.vue')) return renderVue(files, entry.file, entry.props);
  const calls = (entry.calls ?? []).map((name) => [name, (...args: unknown[]) => void log(name, args.length)]);
  const props = { ...entry.props, ...(Object.fromEntries(calls) as object) };
  return play(files, { ...entry, props }, deeds as unknown as Deed[]);
}

describe('jobs', () => {
  const own = globalThis.fetch;
  beforeAll(() => {
    globalThis.fetch = ((address: string) => {
      log('asked', address);
      return Promise.resolve({ ok: true, json: () => Promise.resolve(['spring', 'summer']) });
    }) as unknown as typeof fetch;
  });
  afterAll(() => {
    globalThis.fetch = own;
  });

  it('are all written down', () => {
    expect(jobNames()).toEqual(Object.keys(REACHED));
  });

  for (const [name, expected] of Object.entries(REACHED))
    it(`${name}: ${expected}`, async () => {
      const job = jobCalled(name);
      const before = await seen(job, job.before);
      expect(JSON.stringify(before).length).toBeGreaterThan(20);
      expect(await seen(job, job.wanted)).toEqual(before);
      if (job.missing !== undefined) return expect(job.steps).toEqual([]);
      const { reached, after, refused } = await reachedBy(job);
      expect(refused).toEqual([]);
      expect(reached).toBe(expected);
      expect(await seen(job, after)).toEqual(before);
    }, 60_000);
});
