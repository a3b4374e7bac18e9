/**
 * How good and how fast proposals are: the boundaries that good developers had cut, found again in pages that were made
 * monoliths; and the time that a component of 3,000 lines takes. `npm run bench:propose`; `-- --show` writes out what was missed.
 */
import { readFileSync } from 'node:fs';
import { MemoryFiles, Project, proposeInlines, proposeRegions, weigh, loadLanguages } from '../dist/core/index.js';
import { nodePorts } from '../dist/node/index.js';
import { judgeFactored, readFactored } from './factored.mjs';

await loadLanguages();

const cases = readFactored();
// Written when all constants stood, and not looked at before the first figures were printed.
const isFresh = ({ name }) => name.startsWith('fresh-');
const known = cases.filter((one) => !isFresh(one));
const sets = {
  'calibrated on': known.filter((_, i) => i % 2 === 0),
  'held back': known.filter((_, i) => i % 2 === 1),
  'written afterwards': cases.filter(isFresh),
};
const share = (part, whole) => (whole === 0 ? '–' : (part / whole).toFixed(2));

console.log('| set | pages | children | proposed | precision | recall | seams | same name | a word in common |');
console.log('| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: |');
for (const [half, some] of Object.entries(sets)) {
  const r = judgeFactored(some);
  console.log(
    `| ${half} | ${some.length} | ${r.children} | ${r.proposed} | ${share(r.found, r.proposed)} | ${share(r.found, r.children)} | ${share(r.seams, r.found)} | ${share(r.sameName, r.found)} | ${share(r.sharedWord, r.found)} |`,
  );
  if (!process.argv.includes('--show')) continue;
  for (const kind of ['missed', 'extra', 'refused', 'apart', 'names'])
    for (const line of r[kind]) console.log(`  ${kind.padEnd(8)} ${line}`);
}

/** What the demo shows, eight times over. */
const demo = readFileSync(new URL('../examples/apiary-react/src/App.tsx', import.meta.url), 'utf8');
const open = '<div className="page">';
const [first, last] = [demo.indexOf(open) + open.length, demo.lastIndexOf('</div>')];
const text = demo.slice(0, first) + demo.slice(first, last).repeat(8) + demo.slice(last);
const times = [];
for (let round = 0; round < 5; round++) {
  const ports = nodePorts();
  const project = new Project(new MemoryFiles({ 'Long.tsx': text }), ports);
  const read = timed(() => {
    project.model('Long.tsx');
    const file = project.source('Long.tsx');
    return file.language.prove(file, ports).scopes;
  });
  const proposed = timed(() => {
    const plans = proposeRegions(project, 'Long.tsx', { lines: 200 });
    weigh(project, plans, { props: 8 });
    proposeInlines(project, ['Long.tsx']);
  });
  times.push({ read, proposed });
}
const median = (key) => times.map((t) => t[key]).sort((a, b) => a - b)[2];
const [read, proposed] = [median('read'), median('proposed')];
console.log(
  `\na component of ${text.split('\n').length} lines: read and resolved in ${read.toFixed(0)} ms, proposed in ${proposed.toFixed(0)} ms (goal: at most ${(2 * read + 1000).toFixed(0)} ms)`,
);

function timed(run) {
  const begin = process.hrtime.bigint();
  run();
  return Number(process.hrtime.bigint() - begin) / 1e6;
}
