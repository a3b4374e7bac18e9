/**
 * Runs Verkstad on real code, in memory and one change at a time; prints a table, and nothing is written to DIR.
 *
 *   npm run real -- DIR [--step extract|unify] [--sample N] [--seed S] [--keep OUT] [--failures] [--no-types] [--limit N]
 *
 * extract: every region of every file below DIR that a person might cut out. unify: the best repeats of each project,
 * a hundred unless --limit says otherwise.
 */
import { mkdirSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import {
  applied,
  candidateRegions,
  extract,
  findRepeats,
  isProblem,
  Lines,
  Project,
  textOf,
  unify,
} from '../dist/core/index.js';
import { DiskFiles, nodePorts, ProjectTypes } from '../dist/node/index.js';
import { random } from './planted.mjs';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    sample: { type: 'string' },
    seed: { type: 'string', default: '1' },
    keep: { type: 'string' },
    step: { type: 'string', default: 'extract' },
    limit: { type: 'string', default: '100' },
    failures: { type: 'boolean', default: false },
    'no-types': { type: 'boolean', default: false },
  },
});
const root = positionals[0] && resolve(positionals[0]);
if (!root || !['extract', 'unify'].includes(values.step) || !statSync(root, { throwIfNoEntry: false })?.isDirectory()) {
  console.error('usage: npm run real -- DIR [--step extract|unify] [--sample N] [--seed S] [--keep OUT] [--failures]');
  process.exit(2);
}

/** Each package is a project of its own; a folder with a package.json or, failing that, DIR itself. */
function projectRoots(dir) {
  const kinds = readdirSync(dir).filter((name) => statSync(join(dir, name)).isDirectory());
  const found = [dir, ...kinds.map((k) => join(dir, k))].flatMap((d) =>
    readdirSync(d)
      .map((name) => join(d, name))
      .filter(
        (p) =>
          statSync(p, { throwIfNoEntry: false })?.isDirectory() &&
          statSync(join(p, 'package.json'), { throwIfNoEntry: false }),
      ),
  );
  return statSync(join(dir, 'package.json'), { throwIfNoEntry: false }) || found.length === 0
    ? [dir]
    : [...new Set(found)].sort();
}

const checkers = new Map();
/** Types of a project, as `verkstad extract` would have them; made when the first typed file is met. */
function typesFor(dir, project, path) {
  if (values['no-types'] || !/\.(?:[cm]?tsx?|vue)$/.test(path)) return {};
  if (!checkers.has(dir)) checkers.set(dir, new ProjectTypes(dir, project.files, path));
  return { types: checkers.get(dir) };
}

const totals = {
  files: 0,
  lines: 0,
  components: 0,
  unreadable: 0,
  regions: 0,
  same: 0,
  refused: 0,
  different: 0,
  unknown: 0,
  unresolved: 0,
  unparsed: 0,
  crashed: 0,
};
const reasons = new Map();
const failures = [];
const rows = [];
const cases = [];
const started = Date.now();

for (const dir of projectRoots(root)) {
  const project = new Project(new DiskFiles(dir), nodePorts());
  const row = {
    project: dir.slice(root.length + 1) || '.',
    files: 0,
    components: 0,
    regions: 0,
    same: 0,
    refused: 0,
    other: 0,
    seconds: 0,
  };
  const begin = Date.now();
  for (const path of project.sources()) {
    const model = project.model(path);
    totals.files++;
    row.files++;
    if (isProblem(model)) {
      totals.unreadable++;
      count(`unreadable: ${model.code}`);
      continue;
    }
    const text = textOf(project.files, path);
    totals.lines += new Lines(text).count;
    const components = model.components.filter((c) => c.kind !== 'helper');
    totals.components += components.length;
    row.components += components.length;
    if (values.step !== 'extract') continue;
    const roots = [...model.components.flatMap((c) => c.markup), ...model.mounts];
    for (const region of candidateRegions(text, roots)) {
      const run = () => extract(project, { path, range: region, ...typesFor(dir, project, path) });
      cases.push({ project, dir, path, region, row, run });
    }
  }
  if (values.step === 'unify') {
    const repeats = findRepeats(project);
    for (const repeat of repeats.groups.slice(0, Number(values.limit))) {
      const region = repeat.places[0];
      const run = () => unify(project, { repeats, repeat, ...typesFor(dir, project, region.path) });
      cases.push({ project, dir, path: region.path, region, row, run, repeat });
    }
  }
  row.seconds += (Date.now() - begin) / 1000;
  rows.push(row);
}

const next = random(Number(values.seed));
const chosen =
  values.sample === undefined
    ? cases
    : cases
        .map((c) => ({ c, at: next() }))
        .sort((a, b) => a.at - b.at)
        .slice(0, Number(values.sample))
        .map(({ c }) => c);
if (values.keep) rmSync(values.keep, { recursive: true, force: true });

chosen.forEach(({ project, dir, path, region, row, run, repeat }, index) => {
  const begin = Date.now();
  totals.regions++;
  row.regions++;
  const text = textOf(project.files, path);
  const lines = new Lines(text).range(region);
  let result;
  let outcome;
  try {
    result = run();
    outcome = isProblem(result) ? 'refused' : result.proof.answer;
    if (isProblem(result) && result.code === 'names-unresolved') outcome = 'unresolved';
  } catch (error) {
    outcome = 'crashed';
    result = error;
  }
  totals[outcome]++;
  if (outcome === 'same') row.same++;
  else if (outcome === 'refused') row.refused++;
  else row.other++;
  if (outcome !== 'same') {
    const why =
      outcome === 'crashed'
        ? String(result.stack).split('\n').slice(0, 3).join(' | ')
        : isProblem(result)
          ? `${result.code}: ${result.message}`
          : result.proof.detail;
    count(`${outcome}: ${why.replace(/"[^"]*"/g, '"…"').slice(0, 150)}`);
    if (outcome !== 'refused')
      failures.push(
        `${outcome} ${repeat ? `${repeat.id} ${repeat.kind} ` : ''}${dir.slice(root.length + 1)}/${path}:${lines[0]}-${lines[1]}  ${why}`,
      );
  }
  row.seconds += (Date.now() - begin) / 1000;
  if (values.keep) keep(index + 1, { project, path, lines, result, outcome, repeat });
});

function count(reason) {
  reasons.set(reason, (reasons.get(reason) ?? 0) + 1);
}

/** One case as files, for a person or another program to judge. */
function keep(number, { project, path, lines, result, outcome, repeat }) {
  const out = join(values.keep, String(number));
  const isChange = outcome !== 'crashed' && !isProblem(result);
  const record = {
    path,
    component: isChange ? result.name : null,
    lines,
    step: values.step,
    ...(repeat
      ? {
          id: repeat.id,
          kind: repeat.kind,
          places: repeat.places.map((p) => ({
            path: p.path,
            lines: new Lines(textOf(project.files, p.path)).range(p),
          })),
        }
      : {}),
    answer: isChange ? result.proof.answer : null,
    refusal: isChange ? null : { code: result.code ?? 'crash', message: result.message },
    notes: isChange ? result.notes : [],
  };
  write(join(out, 'case.json'), JSON.stringify(record, null, 2) + '\n');
  if (!isChange) {
    for (const at of new Set(repeat ? repeat.places.map((p) => p.path) : [path]))
      write(join(out, 'before', at), textOf(project.files, at));
    return;
  }
  const after = applied(project.files, result);
  for (const file of result.files) {
    const before = textOf(project.files, file.path);
    if (before !== undefined) write(join(out, 'before', file.path), before);
    const text = textOf(after, file.path);
    if (text !== undefined) write(join(out, 'after', file.path), text);
  }
}

function write(path, text) {
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(path, text);
}

const seconds = (Date.now() - started) / 1000;
console.log(
  `| project | files | components | ${values.step === 'unify' ? 'repeats' : 'regions'} | same | refused | other | seconds a file |`,
);
console.log('| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: |');
for (const r of rows)
  console.log(
    `| ${r.project} | ${r.files} | ${r.components} | ${r.regions} | ${r.same} | ${r.refused} | ${r.other} | ${(r.seconds / Math.max(1, r.files)).toFixed(3)} |`,
  );
console.log(
  `\n${totals.files} files, ${totals.lines} lines, ${totals.components} components, ${totals.unreadable} files not readable`,
);
console.log(
  `${totals.regions} ${values.step === 'unify' ? 'repeats' : 'regions'}: ${totals.same} same, ${totals.refused} refused (${((100 * totals.refused) / Math.max(1, totals.regions)).toFixed(1)} %), ${totals.different} different, ${totals.unknown} cannot tell, ${totals.unresolved} with unresolved names, ${totals.crashed} crashed; ${seconds.toFixed(1)} s`,
);
for (const [reason, n] of [...reasons].sort((a, b) => b[1] - a[1])) console.log(`${String(n).padStart(6)}  ${reason}`);
if (values.failures) for (const line of failures) console.log(line);
process.exitCode = totals.crashed + totals.different + totals.unknown + totals.unresolved > 0 ? 1 : 0;
