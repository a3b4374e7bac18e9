/**
 * What a reader marked in real packages, and what of it Verkstad sees. `npm run bench:judge -- DIR [--show] [--half tune|held]
 * [--package NAME]`, with DIR as scripts fetch packages: DIR/KIND/NAME, DIR/NAME. Marks: scripts/judge/marks.txt.
 *
 * Rules. Two stretches are the same where the lines that they share are at least half of all lines that either has. A repeat
 * is found where one group, also one inside of another, has at least two and at least half of its places. Places that are to
 * stay apart are reported where one group has two of them. A cut is found where a proposal has its stretch; a first proposal
 * is at a marked place, or not. A name is good where a reader wrote it down, near where half of its words are in one of those.
 */
import { existsSync, readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import {
  findRepeats,
  isProblem,
  Lines,
  pagesInto,
  Project,
  proposeRegions,
  textOf,
  loadLanguages,
} from '../dist/core/index.js';
import { DiskFiles, nodePorts } from '../dist/node/index.js';

await loadLanguages();

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { show: { type: 'boolean', default: false }, half: { type: 'string' }, package: { type: 'string' } },
});
const root = positionals[0];
if (!root || !existsSync(root)) {
  console.error('usage: npm run bench:judge -- DIR [--show] [--half tune|held] [--package NAME]');
  process.exit(2);
}

const packages = readMarks(readFileSync(new URL('judge/marks.txt', import.meta.url), 'utf8')).filter(
  (p) => (!values.half || p.half === values.half) && (!values.package || p.name.includes(values.package)),
);
const tally = new Map();
for (const pack of packages) {
  const dir = folderOf(pack.name);
  if (!dir) {
    console.log(`not there: ${pack.name} (npm pack ${pack.name}@${pack.version})`);
    continue;
  }
  judge(pack, dir);
}
print();

function readMarks(text) {
  const result = [];
  for (const line of text.split('\n')) {
    const [what, ...rest] = line.trim().split(/\s+/);
    if (!what || what.startsWith('#')) continue;
    const pack = result.at(-1);
    if (what === 'package') {
      const [name, version, kind, half] = rest;
      result.push({ name, version, kind, half, repeats: [], cuts: [], apart: [], small: [] });
    } else if (what === 'repeat') pack.repeats.push({ kind: rest[0], places: places(rest.slice(1)) });
    else if (what === 'apart') pack.apart.push({ places: places(rest) });
    else if (what === 'small') pack.small.push(rest[0]);
    else {
      const [path, lines, ...names] = rest;
      pack.cuts.push({ what, ...place(path, lines), names });
    }
  }
  return result;
}

function places(words) {
  let file;
  return words.map((word) => {
    const at = word.lastIndexOf(':');
    if (at >= 0) file = word.slice(0, at);
    return place(file, word.slice(at + 1));
  });
}

function place(path, lines) {
  const [first, last] = lines.split('-').map(Number);
  return { path, first, last };
}

function folderOf(name) {
  const plain = name.replace('@', '').replaceAll('/', '-');
  const kinds = readdirSync(root, { withFileTypes: true }).filter((e) => e.isDirectory());
  return [join(root, plain), ...kinds.map((kind) => join(root, kind.name, plain))].find((dir) => existsSync(dir));
}

function same(a, b) {
  if (a.path !== b.path) return false;
  const shared = Math.min(a.last, b.last) - Math.max(a.first, b.first) + 1;
  return shared * 2 >= Math.max(a.last, b.last) - Math.min(a.first, b.first) + 1;
}

function judge(pack, dir) {
  const named = [...pack.repeats, ...pack.apart].flatMap((mark) => mark.places.map((p) => p.path));
  const files = new DiskFiles(dir, { named: [...named, ...pack.cuts.map((c) => c.path), ...pack.small] });
  const project = new Project(files, nodePorts());
  const linesOf = new Map();
  const stretch = (path, { start, end }) => {
    if (!linesOf.has(path)) linesOf.set(path, new Lines(textOf(files, path) ?? ''));
    const lines = linesOf.get(path);
    return { path, first: lines.position(start).line, last: lines.position(Math.max(start, end - 1)).line };
  };
  const say = (text) => values.show && console.log(`  ${pack.name}: ${text}`);
  const apart = (p, mark) => Math.abs(p.first - mark.first) + Math.abs(p.last - mark.last);
  const told = (p) => `${p.path}:${p.first}-${p.last}`;
  const count = (what, kind, hit) => {
    for (const key of [`${pack.half} ${what} ${kind}`, `${pack.half} ${what} all`]) {
      const [hits, all] = tally.get(key) ?? [0, 0];
      tally.set(key, [hits + (hit ? 1 : 0), all + 1]);
    }
  };

  if (pack.repeats.length + pack.apart.length > 0) {
    const groups = findRepeats(project).groups.map((g) => ({ ...g, at: g.places.map((p) => stretch(p.path, p)) }));
    const met = (group, mark) => mark.places.filter((p) => group.at.some((at) => same(p, at))).length;
    for (const mark of pack.repeats) {
      // A frame is what is around: that it stands in the same pages is all that can be compared.
      const hit =
        mark.kind === 'frame'
          ? groups.find((g) => g.kind === 'frame' && mark.places.every((p) => g.at.some((at) => at.path === p.path)))
          : groups.find((g) => g.kind !== 'frame' && met(g, mark) >= Math.max(2, mark.places.length / 2));
      count(`repeats ${pack.kind}`, mark.kind, hit);
      if (!hit) say(`missed ${mark.kind} ${mark.places.map(told).join(' ')}`);
    }
    for (const mark of pack.apart) {
      const hit = groups.find((g) => g.kind !== 'frame' && met(g, mark) >= 2);
      count('look-alikes reported', pack.kind, hit);
      if (hit) say(`reported as ${hit.name}, to stay apart: ${mark.places.map(told).join(' ')}`);
    }
  }
  // A page is weighed as the component of Vue that it becomes; what is proposed there is told where it stands in the page.
  const plansOf = (path) => {
    const written = pack.kind === 'html' ? pagesInto(project, [path], 'vue') : undefined;
    const page = written?.pages.get(path);
    if (written && !page) return [];
    const plans = proposeRegions(written?.project ?? project, page?.path ?? path);
    if (isProblem(plans)) return [];
    if (!page) return plans;
    const inPage = (proposal) => ({ ...proposal, region: page.from(proposal.region) });
    return plans.map((plan) => ({ ...plan, proposals: plan.proposals.map(inPage) }));
  };
  for (const path of new Set(pack.cuts.map((c) => c.path))) {
    const plans = plansOf(path);
    const proposals = plans
      .flatMap((plan) => [
        ...plan.proposals.map((p) => ({ ...p, span: p.region })),
        ...plan.hooks.map((h) => ({ ...h, span: { start: h.statements[0].start, end: h.statements.at(-1).end } })),
      ])
      .flatMap((p) => (p.span ? [{ name: p.name, ...stretch(path, p.span) }] : []));
    const marks = pack.cuts.filter((c) => c.path === path);
    for (const mark of marks) {
      // Of one in another, the one that is meant.
      const hit = proposals.filter((p) => same(p, mark)).sort((a, b) => apart(a, mark) - apart(b, mark))[0];
      count(`cuts ${pack.kind}`, mark.what, hit);
      if (hit) {
        count('names', nameClass(hit.name, mark.names), true);
        if (nameClass(hit.name, mark.names) !== 'good') say(`named ${hit.name}: ${mark.names.join(' ')}`);
      } else say(`missed ${mark.what} ${told(mark)} ${mark.names[0]}`);
    }
    const first = proposals[0];
    if (first)
      count(
        'first proposals at a marked place',
        pack.kind,
        marks.some((m) => same(first, m)),
      );
    for (const p of proposals) {
      const known = marks.some((m) => same(p, m));
      count('proposals at a marked place', pack.kind, known);
      if (!known) say(`not marked: ${told(p)} ${p.name}`);
    }
  }
  for (const path of pack.small) {
    const proposed = plansOf(path).flatMap((plan) => plan.proposals);
    count('small ones left alone', pack.kind, proposed.length === 0);
    if (proposed.length > 0) say(`proposed in ${path}: ${proposed.map((p) => p.name).join(' ')}`);
  }
}

function wordsOf(name) {
  return name.split(/(?=[A-Z])/).map((word) => word.toLowerCase());
}

function nameClass(name, names) {
  if (names.includes(name)) return 'good';
  const own = wordsOf(name);
  const near = names.some((other) => {
    const words = wordsOf(other);
    return own.filter((word) => words.includes(word)).length * 2 >= Math.max(own.length, words.length);
  });
  return near ? 'near' : 'poor';
}

function print() {
  const rows = [...new Set([...tally.keys()].map((key) => key.slice(key.indexOf(' ') + 1)))].sort();
  const cell = (key) => {
    const [hits, all] = tally.get(key) ?? [0, 0];
    return all ? `${hits} of ${all} (${Math.round((100 * hits) / all)} %)` : '–';
  };
  console.log('\n| | tuned on | held back |\n| --- | ---: | ---: |');
  for (const row of rows.filter((r) => !r.startsWith('names')))
    console.log(`| ${row} | ${cell(`tune ${row}`)} | ${cell(`held ${row}`)} |`);
  const named = (half, kind) => {
    const n = tally.get(`${half} names ${kind}`)?.[1] ?? 0;
    const all = tally.get(`${half} names all`)?.[1] ?? 0;
    return all ? `${n} of ${all} (${Math.round((100 * n) / all)} %)` : '–';
  };
  for (const kind of ['good', 'near', 'poor'])
    console.log(`| names ${kind} | ${named('tune', kind)} | ${named('held', kind)} |`);
}
