/** Unify and frame on everything that is found: in the labelled set, and in generated projects with planted repeats. */
import { describe, expect, it } from 'vitest';
import { applied, findRepeats, isProblem, MemoryFiles, Project, unify, type FileSet } from '../../src/core/index.js';
import { nodePorts } from '../../src/node/ports.js';
import { matches, readCases } from '../../scripts/labelled.mjs';
import { plantedProject } from '../../scripts/planted.mjs';
import { Lines } from '../../src/core/text/lines.js';
import { inOrder, loadModule, renderHtml } from '../support/react.js';

const projectOf = (files: Record<string, string>) => new Project(new MemoryFiles(files), nodePorts());

/** Props for any component of the labelled set: what is looked at has the members that these components read. */
const anything: Readonly<Record<string, unknown>> = {
  id: 'n',
  name: 'North',
  title: 'North meadow',
  place: 'Ford',
  text: 'text',
  url: '#n',
  kilos: 12,
  hives: 7,
  year: 2025,
  message: 'lost',
  date: '2025-05-04',
  label: 'Heather',
  mail: 'm@lindenau.example',
  seen: '2025-05-04',
  notes: 'none',
};
const rows = [anything, { ...anything, id: 's', name: 'South' }];
const named = (names: string, value: unknown) => names.split(' ').map((name) => [name, value] as const);
const some: Record<string, unknown> = Object.fromEntries([
  ...named('hives keepers harvests apiaries rows people items heather clover todo doing done others counts', rows),
  ...named('hive keeper queen removing user error failure best a b', anything),
  ...named('kilos losses mites total page pages current count year nights jars n step', 3),
  ...named('query text name title by place tab notes', 'heather'),
  ...named('get set save drop sort go open onOpen print discard close remove reset again reload', () => false),
]);

/** HTML of every exported component that can be shown with these props. */
async function pages(files: FileSet, paths: readonly string[]): Promise<Map<string, string>> {
  const shown = new Map<string, string>();
  for (const path of paths.filter((p) => /\.[jt]sx$/.test(p))) {
    let exported: readonly string[] = [];
    try {
      exported = Object.keys(loadModule(files, path)).filter((name) => /^[A-Z]|^default$/.test(name));
    } catch {
      // It imports a package that is only named in the labelled set.
    }
    for (const name of exported) {
      try {
        shown.set(`${path}#${name}`, inOrder(await renderHtml(files, { file: path, export: name, props: some })));
      } catch {
        // These props do not fit it.
      }
    }
  }
  return shown;
}

describe('unify', () => {
  it('makes one of every group of the labelled set, proven and rendered the same', async () => {
    let [unified, compared] = [0, 0];
    const refused: string[] = [];
    for (const { name, files } of readCases()) {
      const project = projectOf(files);
      const repeats = findRepeats(project);
      const before =
        repeats.groups.length > 0 ? await pages(project.files, project.sources()) : new Map<string, string>();
      for (const repeat of repeats.groups) {
        if (!repeat.step) continue;
        const result = unify(project, { repeats, repeat });
        if (isProblem(result)) {
          refused.push(`${name}: ${result.code}`);
          continue;
        }
        expect(result.proof, `${name}: ${repeat.name}`).toMatchObject({ answer: 'same' });
        unified++;
        const after = await pages(applied(project.files, result), project.sources());
        for (const [page, html] of before) {
          expect(after.get(page), `${name}: ${repeat.name}, ${page}`).toBe(html);
          compared++;
        }
      }
    }
    expect(unified).toBeGreaterThan(35);
    expect(compared).toBeGreaterThan(35);
    expect(refused.length).toBeLessThan(4);
  }, 120_000);

  it('finds what the labels name, and little else', () => {
    let [wanted, hit, reported, wrong] = [0, 0, 0, 0];
    for (const { files, groups } of readCases()) {
      const found = findRepeats(projectOf(files)).groups.map((group) =>
        group.places.map((p) => ({ path: p.path, lines: new Lines(files[p.path]!).range(p) })),
      );
      wanted += groups.size;
      reported += found.length;
      for (const places of groups.values()) if (found.some((f) => matches(places, f))) hit++;
      for (const f of found) if (![...groups.values()].some((places) => matches(places, f))) wrong++;
    }
    expect(hit / wanted).toBeGreaterThanOrEqual(0.95);
    expect(1 - wrong / reported).toBeGreaterThanOrEqual(0.95);
  });

  for (const seed of [1, 2, 3]) {
    it(`finds and unifies what was planted, seed ${seed}`, () => {
      const { files, groups } = plantedProject(90, seed);
      const project = projectOf(files);
      const repeats = findRepeats(project);
      const found = repeats.groups.map((g) =>
        g.places.map((p) => ({ path: p.path, lines: new Lines(files[p.path]!).range(p) })),
      );
      for (const group of groups)
        expect(
          found.some((f) => matches(group.places, f)),
          `${group.kind} at ${JSON.stringify(group.places)}`,
        ).toBe(true);
      const due = repeats.groups.filter((repeat) => repeat.step);
      expect(due.length).toBeGreaterThanOrEqual(groups.length);
      const answers = due.map((repeat) => {
        const result = unify(project, { repeats, repeat });
        return isProblem(result) ? result.code : result.proof.answer;
      });
      expect(answers.filter((a) => a !== 'same')).toEqual([]);
    }, 60_000);
  }
});
