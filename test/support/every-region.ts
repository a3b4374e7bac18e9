/** Regions of generated components, in any language: cut, with no unresolved name, proven and rendered the same. */
import { describe, expect, it } from 'vitest';
import {
  applied,
  candidateRegions,
  extract,
  isProblem,
  unresolvedNames,
  Project,
  type FileSet,
} from '../../src/core/index.js';
import { memoryProject, seeded } from './projects.js';

export interface Generated {
  readonly files: Record<string, string>;
  readonly props: Record<string, unknown>;
}

/** One language: how its components are made, rendered and compiled. */
export interface Kind {
  readonly language: string;
  readonly entry: string;
  readonly make: (seed: number) => Generated;
  readonly html: (files: FileSet, props: Record<string, unknown>) => string | Promise<string>;
  readonly errors: (files: FileSet, paths: readonly string[]) => readonly string[];
}

const COMPONENTS = 520;
const BATCH = 26;

/** How many regions of each component are cut: a number, or `all` of them, which takes a quarter of an hour. */
const REGIONS = process.env.REGIONS === 'all' ? Infinity : Number(process.env.REGIONS ?? 1);

/** What went wrong with one component, each entry naming its seed and region; and how many regions were cut. */
async function check(kind: Kind, seed: number): Promise<{ faults: string[]; regions: number; refused: number }> {
  const { entry } = kind;
  const { files, props } = kind.make(seed);
  const project = memoryProject(files);
  const model = project.model(entry);
  if (isProblem(model))
    return { faults: [`seed ${seed}: the generator made ${model.message}`], regions: 0, refused: 0 };
  const before = await kind.html(project.files, props);
  const faults: string[] = [];
  let refused = 0;
  const roots = model.components.flatMap((c) => c.markup);
  const next = seeded(seed);
  const all = candidateRegions(files[entry]!, roots, 1).map((region) => ({ region, at: next() }));
  const regions = all
    .sort((a, b) => a.at - b.at)
    .slice(0, REGIONS)
    .map(({ region }) => region);
  for (const region of regions) {
    const at = `seed ${seed}, offsets ${region.start}-${region.end}`;
    const change = extract(project, { path: entry, range: region });
    if (isProblem(change)) {
      if (change.code === 'names-unresolved') faults.push(`${at}: ${change.message}`);
      refused++;
      continue;
    }
    if (change.proof.answer !== 'same') faults.push(`${at}: ${change.proof.answer}, ${change.proof.detail}`);
    const after = applied(project.files, change);
    const paths = change.files.map((f) => f.path);
    const lost = unresolvedNames(project, new Project(after, project.ports), paths);
    if (lost.length > 0) faults.push(`${at}: unresolved ${lost.join()}`);
    faults.push(...kind.errors(after, paths).map((error) => `${at}: ${error}`));
    const now = await Promise.resolve(kind.html(after, props)).catch(String);
    if (now !== before) faults.push(`${at}: renders otherwise\n  before ${before}\n  after  ${now}`);
  }
  return { faults, regions: regions.length, refused };
}

export function cutsEveryRegion(kind: Kind): void {
  describe(`extract on generated components: ${kind.language}`, () => {
    for (let first = 1; first <= COMPONENTS; first += BATCH) {
      it(`seeds ${first} to ${first + BATCH - 1}`, async () => {
        const results = [];
        for (let seed = first; seed < first + BATCH; seed++) results.push(await check(kind, seed));
        expect(results.flatMap((r) => r.faults)).toEqual([]);
        const total = results.reduce((n, r) => n + r.regions, 0);
        expect(total).toBeGreaterThan(BATCH / 2);
        expect(results.reduce((n, r) => n + r.refused, 0) / total).toBeLessThan(0.1);
      });
    }
  });
}
