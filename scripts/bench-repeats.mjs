/**
 * How well and how fast repeats are found: precision and recall on the labelled set, what is found of what was planted in
 * generated projects of 500 to 8,000 files, time against the bare parse of the same files, and hostile input.
 * `npm run bench:repeats`, with `-- --quick` on smaller projects.
 */
import { findRepeats, Lines, MemoryFiles, Project, loadLanguages } from '../dist/core/index.js';
import { nodePorts, oxcParser } from '../dist/node/index.js';
import { judge, matches, readCases } from './labelled.mjs';
import { plantedProject } from './planted.mjs';

await loadLanguages();

const SIZES = process.argv.includes('--quick') ? [200, 800] : [500, 2000, 8000];
const KINDS = ['exact', 'parameterised', 'reordered', 'edited', 'logic'];

function timed(run) {
  globalThis.gc?.();
  const begin = process.hrtime.bigint();
  const result = run();
  return { result, ms: Number(process.hrtime.bigint() - begin) / 1e6 };
}

const percent = (part, whole) => (whole === 0 ? '–' : `${((100 * part) / whole).toFixed(1)} %`);

const labelled = judge(readCases());
console.log(
  `labelled set: ${labelled.cases} projects, ${labelled.wanted} groups wanted, ${labelled.reported} reported; precision ${((labelled.reported - labelled.wrong.length) / labelled.reported).toFixed(3)}, recall ${(labelled.hits / labelled.wanted).toFixed(3)} (goal: 0.95 each)`,
);
for (const line of labelled.missed) console.log(`  missed  ${line}`);
for (const line of labelled.wrong) console.log(`  wrong   ${line}`);

console.log(
  `\n| files | source | planted | ${KINDS.join(' | ')} | others reported | bare parse | read | find beyond reading | find / parse | memory a source byte |`,
);
console.log(
  `| ---: | ---: | ---: | ${KINDS.map(() => '---:').join(' | ')} | ---: | ---: | ---: | ---: | ---: | ---: |`,
);
const rows = [];
for (const size of SIZES) {
  const { files, groups } = plantedProject(size, 20260501);
  const texts = Object.values(files);
  const bytes = texts.reduce((n, t) => n + t.length, 0);
  const ports = nodePorts();
  const open = () => new Project(new MemoryFiles(files), ports);
  const parse = timed(() => texts.forEach((text) => void oxcParser.parse(text, 'jsx'))).ms;
  const read = timed(() => {
    const project = open();
    for (const path of project.sources()) {
      const file = project.source(path);
      file.language.read(file, ports);
    }
  }).ms;
  globalThis.gc?.();
  const before = process.memoryUsage();
  const whole = timed(() => findRepeats(open()));
  const after = process.memoryUsage();
  const used =
    after.heapUsed + after.arrayBuffers + after.external - before.heapUsed - before.arrayBuffers - before.external;
  const reported = whole.result.groups.map((g) =>
    g.places.map(({ path, start, end }) => ({ path, lines: new Lines(files[path]).range({ start, end }) })),
  );
  const byPath = new Map();
  for (const places of reported) for (const p of places) byPath.set(p.path, [...(byPath.get(p.path) ?? []), places]);
  const hit = (group) => (byPath.get(group.places[0].path) ?? []).some((places) => matches(group.places, places));
  const found = KINDS.map((kind) => {
    const all = groups.filter((g) => g.kind === kind);
    return percent(all.filter(hit).length, all.length);
  });
  const planted = groups.filter(hit).length;
  const find = Math.max(0, whole.ms - read);
  rows.push({ size, find, whole: whole.ms });
  console.log(
    `| ${size} | ${(bytes / 1e6).toFixed(1)} MB | ${groups.length} | ${found.join(' | ')} | ${reported.length - planted} | ${parse.toFixed(0)} ms | ${read.toFixed(0)} ms | ${find.toFixed(0)} ms | ${(find / parse).toFixed(2)} | ${(used / bytes).toFixed(1)} |`,
  );
}
const [small, large] = [rows[0], rows[rows.length - 1]];
const growth = (key) => (Math.log(large[key] / small[key]) / Math.log(large.size / small.size)).toFixed(2);
console.log(
  `\ngrowth exponent ${small.size} to ${large.size} files: ${growth('whole')} in all, ${growth('find')} beyond reading (goal: at most 1.2)`,
);

const page = `export default function Page() {\n  return (\n    <div className="page">\n${Array.from({ length: 40 }, (_, i) => `      <section id="s${i}"><h2>Part ${i}</h2><p className="t${i}">text <b>${i}</b></p></section>`).join('\n')}\n    </div>\n  );\n}\n`;
const hostile = {
  'ten thousand rows': {
    'src/Rows.jsx': `export const Rows = () => (\n  <ul>\n${'    <li className="row"><b className="name">North</b><i title="x">12 kg</i></li>\n'.repeat(10000)}  </ul>\n);\n`,
  },
  'divs 2,000 deep': {
    'src/Deep.jsx': `export const Deep = () => ${'<div className="d">\n'.repeat(2000)}x${'</div>\n'.repeat(2000)};\n`,
  },
  'minified bundle': {
    'src/bundle.js': `!function(e,t){${Array.from({ length: 20000 }, (_, i) => `function f${i}(n,r){return n.a${i % 7}(r+${i})?e[${i}]:t(n,r,${i % 3})}`).join('')}}(this,{});`,
  },
  'one page 500 times': Object.fromEntries(Array.from({ length: 500 }, (_, i) => [`src/p${i}/Page.jsx`, page])),
};

/** The time of the bare parse, or that it runs out of stack, as it does on what is nested thousands deep. */
function bareParse(texts) {
  try {
    return `${timed(() => texts.forEach((text) => void oxcParser.parse(text, 'jsx'))).ms.toFixed(0)} ms`;
  } catch (error) {
    if (error instanceof RangeError) return 'out of stack';
    throw error;
  }
}

console.log('\n| hostile input | source | groups | best | time | bare parse |');
console.log('| --- | ---: | ---: | --- | ---: | ---: |');
for (const [name, files] of Object.entries(hostile)) {
  const bytes = Object.values(files).reduce((n, t) => n + t.length, 0);
  const parse = bareParse(Object.values(files));
  const { result, ms } = timed(() => findRepeats(new Project(new MemoryFiles(files), nodePorts())));
  const best = result.groups[0];
  console.log(
    `| ${name} | ${(bytes / 1000).toFixed(0)} kB | ${result.groups.length} | ${best ? `${best.name} ×${best.places.length}` : result.leftOut.length ? 'left out' : '–'} | ${ms.toFixed(0)} ms | ${parse} |`,
  );
}
