/**
 * Speed, as ratios within one run: the survey of generated projects against the bare parse of the same files by the
 * same parser; growth; memory; start-up; a second run after one changed file. `npm run bench`.
 */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Project, survey, loadLanguages } from '../dist/core/index.js';
import { DiskCache, DiskFiles, nodePorts, oxcParser } from '../dist/node/index.js';

await loadLanguages();

const SIZES = process.argv.includes('--quick') ? [200, 800] : [500, 2000, 8000];
const BIN = fileURLToPath(new URL('../dist/cli/bin.js', import.meta.url));
const ROUNDS = 3;

/** One page component as such apps have them: about 90 lines, three imports of other files. */
function source(i, count) {
  const other = (n) => `Part${(i * 7 + n * 131 + 1) % count}`;
  const imports = [1, 2, 3].map((n) => `import { ${other(n)} } from './${other(n)}';`);
  const block = (n) => `
      {open && rows.length > ${n} ? (
        <section className="apiary-${n}" onClick={() => setOpen(!open)}>
          <h2>Apiary ${n} of {keeper.name}</h2>
          <ul>
            {rows.filter((row) => row.kilos > ${n}).map((row, index) => (
              <li key={row.id} title={row.name}>
                {index + 1}. <b>{row.name}</b> {formatKilos(row.kilos)}
                <button type="button" disabled={index === ${n}} onClick={() => remove(row.id)}>Remove</button>
              </li>
            ))}
          </ul>
          <${other((n % 3) + 1)} rows={rows} keeper={keeper} />
        </section>
      ) : null}`;
  return `import { useEffect, useMemo, useState } from 'react';
${[...new Set(imports)].join('\n')}

interface Row {
  id: string;
  name: string;
  kilos: number;
}

function formatKilos(kilos: number) {
  return \`\${kilos.toFixed(1)} kg\`;
}

export function Part${i}({ rows, keeper }: { rows: Row[]; keeper: { name: string } }) {
  const [open, setOpen] = useState(true);
  const [removed, setRemoved] = useState<string[]>([]);
  const total = useMemo(() => rows.reduce((sum, row) => sum + row.kilos, 0), [rows]);
  useEffect(() => {
    document.title = keeper.name;
  }, [keeper]);
  const remove = (id: string) => setRemoved([...removed, id]);
  return (
    <main>
      <h1>Part ${i}: {formatKilos(total)}</h1>${[0, 1, 2, 3].map(block).join('')}
    </main>
  );
}
`;
}

function median(list) {
  return [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];
}

function timed(run) {
  globalThis.gc?.();
  const begin = process.hrtime.bigint();
  run();
  return Number(process.hrtime.bigint() - begin) / 1e6;
}

const folder = mkdtempSync(join(tmpdir(), 'verkstad-bench-'));
const rows = [];
try {
  for (const size of SIZES) {
    const root = join(folder, String(size));
    mkdirSync(root);
    const texts = Array.from({ length: size }, (_, i) => source(i, size));
    texts.forEach((text, i) => writeFileSync(join(root, `Part${i}.tsx`), text));
    writeFileSync(join(root, 'package.json'), '{}');
    const bytes = texts.reduce((n, t) => n + t.length, 0);
    const parse = [];
    const whole = [];
    for (let i = 0; i < ROUNDS; i++) {
      parse.push(timed(() => texts.forEach((text) => oxcParser.parse(text, 'tsx'))));
      whole.push(timed(() => survey(new Project(new DiskFiles(root), nodePorts()))));
    }
    const env = { XDG_CACHE_HOME: join(folder, `cache-${size}`) };
    const cached = () => {
      const cache = new DiskCache(root, env);
      survey(new Project(new DiskFiles(root), nodePorts()), { cache });
      cache.save();
    };
    const first = timed(cached);
    writeFileSync(join(root, 'Part0.tsx'), texts[0].replace('Apiary 0', 'Apiary zero'));
    const second = timed(cached);
    const peak = peakOf(root);
    rows.push({
      size,
      kB: bytes / 1000,
      parse: median(parse),
      survey: median(whole),
      ratio: median(whole.map((w, i) => w / parse[i])),
      first,
      second,
      perByte: (peak * 1024) / bytes,
      peak,
    });
  }
} finally {
  rmSync(folder, { recursive: true, force: true });
}

/** Peak resident memory of `verkstad survey` as a process, in kB. */
function peakOf(root) {
  const script = `process.argv.splice(1, 0, ''); await import(${JSON.stringify(new URL('../dist/cli/run.js', import.meta.url).href)}).then(({ run }) => run(['survey', '--no-cache', '--root', ${JSON.stringify(root)}], { cwd: '/', env: {}, out() {}, err() {}, isTerminal: false, columns: 100 })); process.stdout.write(String(process.resourceUsage().maxRSS));`;
  return Number(spawnSync(process.execPath, ['--input-type=module', '-e', script], { encoding: 'utf8' }).stdout);
}

const start = (args) => median(Array.from({ length: 15 }, () => timed(() => spawnSync(process.execPath, args))));
const version = start([BIN, '--version']);
const bare = start(['-e', '0']);
const [small, large] = [rows[0], rows[rows.length - 1]];
const growth = Math.log(large.survey / small.survey) / Math.log(large.size / small.size);

console.log(
  '| files | source | bare parse | survey | survey / parse | second run, one file changed | peak memory a source byte |',
);
console.log('| ---: | ---: | ---: | ---: | ---: | ---: | ---: |');
for (const r of rows) {
  console.log(
    `| ${r.size} | ${(r.kB / 1000).toFixed(1)} MB | ${r.parse.toFixed(0)} ms | ${r.survey.toFixed(0)} ms | ${r.ratio.toFixed(2)} | ${r.second.toFixed(0)} ms, ${((100 * r.second) / r.first).toFixed(1)} % | ${r.perByte.toFixed(1)} |`,
  );
}
console.log(`\ngrowth exponent ${small.size} to ${large.size} files: ${growth.toFixed(2)} (goal: at most 1.15)`);
console.log(
  `start-up: verkstad --version ${version.toFixed(0)} ms, node -e 0 ${bare.toFixed(0)} ms, ratio ${(version / bare).toFixed(2)} (goal: at most 2)`,
);
