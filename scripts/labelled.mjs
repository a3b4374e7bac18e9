/**
 * The labelled set of small projects: reads the cases of test/labelled and compares what `findRepeats` reports with what
 * a developer would name. A line that begins with `«name` opens a place of the group of that name (`«frame:name` for a
 * frame), a line `»` closes it; neither is part of the file.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { findRepeats, Lines, MemoryFiles, Project, loadLanguages } from '../dist/core/index.js';
import { nodePorts } from '../dist/node/index.js';

await loadLanguages();

const FOLDER = new URL('../test/labelled/', import.meta.url);

export function readCases() {
  return readdirSync(FOLDER)
    .filter((name) => name.endsWith('.txt'))
    .sort()
    .flatMap((file) =>
      readFileSync(new URL(file, FOLDER), 'utf8')
        .split(/^=== /m)
        .slice(1)
        .map((text) => readCase(file, text)),
    );
}

function readCase(file, text) {
  const [title, ...parts] = text.split(/^--- /m);
  const files = {};
  const groups = new Map();
  for (const part of parts) {
    const [path, ...source] = part.split('\n');
    const lines = [];
    // Places may stand inside of others.
    const around = [];
    for (const line of source) {
      if (line.startsWith('«')) around.push({ group: line.slice(1).trim(), first: lines.length + 1 });
      else if (line.trim() === '»') {
        const open = around.pop();
        groups.set(open.group, [...(groups.get(open.group) ?? []), { path, lines: [open.first, lines.length] }]);
      } else lines.push(line);
    }
    files[path] = lines.join('\n');
  }
  return { name: `${file}: ${title.trim()}`, files, groups };
}

/** What is reported for a case, as places with lines. */
export function reportedFor({ files }) {
  const project = new Project(new MemoryFiles(files), nodePorts());
  return findRepeats(project).groups.map((group) => ({
    group,
    places: group.places.map(({ path, start, end }) => ({ path, lines: new Lines(files[path]).range({ start, end }) })),
  }));
}

/** Two places are one when most of their lines are. */
function samePlace(a, b) {
  if (a.path !== b.path) return false;
  const common = Math.min(a.lines[1], b.lines[1]) - Math.max(a.lines[0], b.lines[0]) + 1;
  const all = Math.max(a.lines[1], b.lines[1]) - Math.min(a.lines[0], b.lines[0]) + 1;
  return common / all >= 0.6;
}

/** A group is found when all its places are, and no more than one besides. */
export function matches(wanted, reported) {
  const found = wanted.filter((place) => reported.some((other) => samePlace(place, other)));
  return found.length === wanted.length && reported.length <= wanted.length + 1;
}

export function judge(cases) {
  const missed = [];
  const wrong = [];
  let wanted = 0;
  let reported = 0;
  let hits = 0;
  for (const one of cases) {
    const found = reportedFor(one);
    wanted += one.groups.size;
    reported += found.length;
    for (const [name, places] of one.groups) {
      if (found.some((f) => matches(places, f.places))) hits++;
      else missed.push(`${one.name}: ${name}`);
    }
    for (const f of found) {
      if ([...one.groups.values()].some((places) => matches(places, f.places))) continue;
      const { group } = f;
      wrong.push(
        `${one.name}: ${group.kind} ${group.name} ×${group.places.length} worth ${group.worth.total} at ${f.places.map((p) => `${p.path}:${p.lines.join('-')}`).join(' ')}`,
      );
    }
  }
  return { cases: cases.length, wanted, reported, hits, missed, wrong };
}
