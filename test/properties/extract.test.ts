/** Every legal region of generated components: parses, has no unresolved name, proves the same, renders the same. */
import { createElement } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
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
import { generateComponent } from '../support/generate.js';
import { memoryProject } from '../support/projects.js';
import { loadModule } from '../support/react.js';

const COMPONENTS = 520;
const BATCH = 65;

function html(files: FileSet, props: Record<string, unknown>): string {
  return renderToStaticMarkup(createElement(loadModule(files, 'Demo.jsx').default as never, props));
}

/** What went wrong with one component, each entry naming its seed and region; and how many regions were cut. */
function check(seed: number): { faults: string[]; regions: number; refused: number } {
  const { text, props } = generateComponent(seed);
  const project = memoryProject({ 'Demo.jsx': text });
  const model = project.model('Demo.jsx');
  if (isProblem(model))
    return { faults: [`seed ${seed}: the generator made ${model.message}`], regions: 0, refused: 0 };
  const before = html(project.files, props);
  const faults: string[] = [];
  let refused = 0;
  const regions = candidateRegions(
    text,
    model.components.flatMap((c) => c.markup),
    1,
  );
  for (const region of regions) {
    const at = `seed ${seed}, offsets ${region.start}-${region.end}`;
    const change = extract(project, { path: 'Demo.jsx', range: region });
    if (isProblem(change)) {
      if (change.code === 'names-unresolved') faults.push(`${at}: ${change.message}`);
      refused++;
      continue;
    }
    if (change.proof.answer !== 'same') faults.push(`${at}: ${change.proof.answer}, ${change.proof.detail}`);
    const after = applied(project.files, change);
    const lost = unresolvedNames(
      project,
      new Project(after, project.ports),
      change.files.map((f) => f.path),
    );
    if (lost.length > 0) faults.push(`${at}: unresolved ${lost.join()}`);
    const now = html(after, props);
    if (now !== before) faults.push(`${at}: renders otherwise\n  before ${before}\n  after  ${now}`);
  }
  return { faults, regions: regions.length, refused };
}

describe('extract on generated components', () => {
  for (let first = 1; first <= COMPONENTS; first += BATCH) {
    it(`seeds ${first} to ${first + BATCH - 1}`, () => {
      const results = Array.from({ length: BATCH }, (_, i) => check(first + i));
      expect(results.flatMap((r) => r.faults)).toEqual([]);
      const total = results.reduce((n, r) => n + r.regions, 0);
      expect(total).toBeGreaterThan(BATCH * 2);
      expect(results.reduce((n, r) => n + r.refused, 0) / total).toBeLessThan(0.1);
    });
  }
});
