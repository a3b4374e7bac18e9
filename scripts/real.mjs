/**
 * Runs Verkstad on real code, in memory and one case at a time; prints a table, and nothing is written to DIR.
 *
 *   npm run real -- DIR [--step NAME[,NAME]] [--witness] [--sample N] [--seed S] [--half 1|2] [--keep OUT] [--failures]
 *                       [--no-types] [--limit N]
 *
 * Steps (scripts/real/cases.mjs): extract every region that a person might cut out; unify the best repeats, a hundred of
 * each project unless --limit says otherwise; inline every component; hook; plan, everything that is proposed for a file;
 * back, a region cut out and put back. --witness runs every case that is called the same, before and after, with the real
 * runtime, and lists what differs. --half takes one half of the files, by their fingerprints: one to look at, one to hold back.
 */
import { mkdirSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { fingerprint, isProblem, Lines, Project, textOf, loadLanguages } from '../dist/core/index.js';
import { DiskFiles, nodePorts, ProjectTypes } from '../dist/node/index.js';
import { random } from './planted.mjs';
import { STEPS } from './real/cases.mjs';

await loadLanguages();

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    sample: { type: 'string' },
    seed: { type: 'string', default: '1' },
    half: { type: 'string' },
    keep: { type: 'string' },
    step: { type: 'string', default: 'extract' },
    limit: { type: 'string', default: '100' },
    witness: { type: 'boolean', default: false },
    failures: { type: 'boolean', default: false },
    'no-types': { type: 'boolean', default: false },
  },
});
const root = positionals[0] && resolve(positionals[0]);
const steps = values.step === 'all' ? Object.keys(STEPS) : values.step.split(',');
if (!root || steps.some((step) => !(step in STEPS)) || !statSync(root, { throwIfNoEntry: false })?.isDirectory()) {
  console.error(
    `usage: npm run real -- DIR [--step ${Object.keys(STEPS).join('|')}|all] [--witness] [--sample N] [--seed S] [--half 1|2] [--keep OUT] [--failures]`,
  );
  process.exit(2);
}

/** Each package is a project of its own; a folder with a package.json or, failing that, DIR itself. */
function projectRoots(dir) {
  const isFolder = (p) => statSync(p, { throwIfNoEntry: false })?.isDirectory();
  const hasPackage = (p) => statSync(join(p, 'package.json'), { throwIfNoEntry: false });
  if (hasPackage(dir)) return [dir];
  const below = (d) =>
    readdirSync(d)
      .map((name) => join(d, name))
      .filter(isFolder);
  const found = [dir, ...below(dir)].flatMap(below).filter(hasPackage);
  return found.length === 0 ? [dir] : [...new Set(found)].sort();
}

const OUTCOMES = ['same', 'refused', 'different', 'unknown', 'unresolved', 'crashed'];
const totals = { files: 0, lines: 0, components: 0, cases: 0, ...Object.fromEntries(OUTCOMES.map((o) => [o, 0])) };
const reasons = new Map();
const failures = [];
const rows = [];
const started = Date.now();
const next = random(Number(values.seed));
const isChosen = (path) =>
  values.half === undefined || Number.parseInt(fingerprint(path).slice(-1), 36) % 2 === Number(values.half) - 1;
const toWitness = [];
let kept = 0;
if (values.keep) rmSync(values.keep, { recursive: true, force: true });

for (const dir of projectRoots(root)) {
  const begin = Date.now();
  const project = new Project(new DiskFiles(dir), nodePorts());
  const row = {
    project: dir.slice(root.length + 1) || '.',
    files: 0,
    components: 0,
    cases: 0,
    ...Object.fromEntries(OUTCOMES.map((o) => [o, 0])),
  };
  for (const path of project.sources()) {
    const model = project.model(path);
    row.files++;
    if (isProblem(model)) {
      count(`unreadable: ${model.code}`);
      continue;
    }
    totals.lines += new Lines(textOf(project.files, path)).count;
    row.components += model.components.filter((c) => c.kind !== 'helper').length;
  }
  totals.files += row.files;
  totals.components += row.components;
  let checker;
  const types = (path) => {
    if (values['no-types'] || !/\.(?:[cm]?tsx?|vue)$/.test(path)) return {};
    return { types: (checker ??= new ProjectTypes(dir, project.files, path)) };
  };
  for (const step of steps)
    for (const one of chosen(
      [...STEPS[step](project, { types, limit: Number(values.limit) })].filter((c) => isChosen(c.path)),
    ))
      take(row, step, { ...one, project, dir });
  rows.push({ ...row, seconds: (Date.now() - begin) / 1000 });
}

/** A sample is taken of every project alike: N of each. */
function chosen(cases) {
  if (values.sample === undefined) return cases;
  return cases
    .map((c) => ({ c, at: next() }))
    .sort((a, b) => a.at - b.at)
    .slice(0, Number(values.sample))
    .map(({ c }) => c);
}

function take(row, step, one) {
  totals.cases++;
  row.cases++;
  const { project, dir, path, region, repeat } = one;
  const lines = new Lines(textOf(project.files, path)).range(region);
  let result;
  try {
    result = one.run();
  } catch (error) {
    result = {
      outcome: 'crashed',
      problem: { code: 'crash', message: String(error.stack).split('\n').slice(0, 3).join(' | ') },
    };
  }
  const { outcome } = result;
  totals[outcome]++;
  row[outcome]++;
  const where = `${step} ${repeat ? `${repeat.id} ${repeat.kind} ` : ''}${dir.slice(root.length + 1)}/${path}:${lines[0]}-${lines[1]}`;
  if (outcome !== 'same') {
    const why = result.problem ? `${result.problem.code}: ${result.problem.message}` : result.detail;
    count(
      `${outcome}: ${why
        .replace(/"[^"]*"/g, '"…"')
        .replace(/<[^>]*>/g, '<…>')
        .slice(0, 150)}`,
    );
    if (outcome !== 'refused') failures.push(`${outcome} ${where}  ${why}`);
  }
  const number = ++kept;
  if (outcome === 'same' && values.witness) {
    const { files, seenFrom } = result;
    toWitness.push({ dir, project, files, seenFrom, where, number });
  }
  if (values.keep) keep(number, step, lines, one, result);
}

function count(reason) {
  reasons.set(reason, (reasons.get(reason) ?? 0) + 1);
}

/** One case as files, for a person or another program to judge. */
function keep(number, step, lines, { project, dir, path, repeat }, result) {
  const out = join(values.keep, String(number));
  const isChange = result.files !== undefined;
  const places = repeat?.places.map((p) => ({
    path: p.path,
    lines: new Lines(textOf(project.files, p.path)).range(p),
  }));
  const record = {
    project: dir,
    path,
    lines,
    step,
    component: result.name ?? null,
    ...(repeat ? { id: repeat.id, kind: repeat.kind, places } : {}),
    answer: isChange ? result.outcome : null,
    refusal: isChange ? null : { code: result.problem.code, message: result.problem.message },
    notes: result.notes ?? [],
  };
  write(join(out, 'case.json'), JSON.stringify(record, null, 2) + '\n');
  const touched = isChange ? [...result.files.keys()] : [...new Set(places ? places.map((p) => p.path) : [path])];
  for (const at of touched) {
    const before = textOf(project.files, at);
    if (before !== undefined) write(join(out, 'before', at), before);
    const after = result.files?.get(at);
    if (after != null) write(join(out, 'after', at), after);
  }
}

function write(path, text) {
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(path, text);
}

const seconds = (Date.now() - started) / 1000;
console.log('| project | files | components | cases | same | refused | other | seconds a file |');
console.log('| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: |');
for (const r of rows)
  console.log(
    `| ${r.project} | ${r.files} | ${r.components} | ${r.cases} | ${r.same} | ${r.refused} | ${r.cases - r.same - r.refused} | ${(r.seconds / Math.max(1, r.files)).toFixed(3)} |`,
  );
console.log(`\n${totals.files} files, ${totals.lines} lines, ${totals.components} components`);
console.log(
  `${steps.join(', ')}: ${totals.cases} cases: ${totals.same} same, ${totals.refused} refused (${((100 * totals.refused) / Math.max(1, totals.cases)).toFixed(1)} %), ${totals.different} different, ${totals.unknown} cannot tell, ${totals.unresolved} with unresolved names, ${totals.crashed} crashed; ${seconds.toFixed(1)} s`,
);
for (const [reason, n] of [...reasons].sort((a, b) => b[1] - a[1])) console.log(`${String(n).padStart(6)}  ${reason}`);
if (values.failures) for (const line of failures) console.log(line);

let doubtful = 0;
if (values.witness) {
  const { witness } = await import('./real/witness.mjs');
  const ran = new Map();
  const seen = { same: 0, different: 0, fails: 0, 'not run': 0 };
  const unlike = [];
  await witness(
    toWitness,
    (one, verdict) => {
      seen[verdict.answer]++;
      if (verdict.answer !== 'not run') ran.set(one, (ran.get(one) ?? true) && verdict.answer === 'same');
      if (verdict.answer === 'different' || verdict.answer === 'fails') unlike.push({ one, verdict });
    },
    { log: (text) => console.error(text) },
  );
  doubtful = [...ran.values()].filter((same) => !same).length;
  console.log(
    `\nwitness: of ${toWitness.length} cases called the same ${ran.size} were run: ${ran.size - doubtful} the same, ${doubtful} not; ${toWitness.length - ran.size} could not be run (${Object.entries(
      seen,
    )
      .map(([k, v]) => `${v} ${k}`)
      .join(', ')} in all runs)`,
  );
  for (const { one, verdict: v } of unlike) {
    console.log(
      `${v.answer} #${one.number} ${one.where}  run ${v.file}${v.depth ? ` with depth ${v.depth}` : ''}: ${v.reason ?? ''} ${v.where ?? ''}`,
    );
    if (v.before !== undefined) console.log(`    before …${v.before}…\n    after  …${v.after}…`);
  }
}
process.exitCode = totals.crashed + totals.different + totals.unknown + totals.unresolved + doubtful > 0 ? 1 : 0;
