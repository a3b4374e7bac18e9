/**
 * Whole jobs, and how far the steps get: `npm run bench:jobs -- [NAME …] [--show]`.
 *
 * Each folder of test/jobs holds a small project, what a developer would make of it by hand (written before any step was tried) and the
 * commands that are to get there. Fully: every file is what was wanted, but for its formatting. Partly: every step was proven and
 * written, or some were, and something differs. Not: nothing was done. --show says what differs.
 */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { parseArgs } from 'node:util';
import * as prettier from 'prettier';

const HOME = new URL('..', import.meta.url).pathname;
const JOBS = join(HOME, 'test/jobs');
const STYLE = { singleQuote: true, printWidth: 120 };

export function jobNames() {
  return readdirSync(JOBS).sort();
}

/** A job as it is kept: what is done, from what to what. Paths of files are those in its project. */
export function jobCalled(name) {
  const folder = join(JOBS, name);
  const read = (side) =>
    new Map(
      readdirSync(join(folder, side), { recursive: true, withFileTypes: true })
        .filter((entry) => entry.isFile())
        .map((entry) => {
          const path = join(entry.parentPath, entry.name);
          return [path.slice(join(folder, side).length + 1), readFileSync(path, 'utf8')];
        }),
    );
  const before = read('before');
  // What is not said to become another file stays.
  const wanted = new Map([...before, ...read('wanted')]);
  return { ...JSON.parse(readFileSync(join(folder, 'job.json'), 'utf8')), before, wanted };
}

/** Runs the commands of a job on a copy: the files then, and what each command that did not end well said. */
export function done({ steps, before }) {
  const root = mkdtempSync(join(tmpdir(), 'verkstad-job-'));
  try {
    const framework = [...before.keys()].some((path) => path.endsWith('.vue'))
      ? { vue: '^3.5.0' }
      : { react: '^19.0.0' };
    writeFileSync(join(root, 'package.json'), JSON.stringify({ name: 'job', type: 'module', dependencies: framework }));
    writeFileSync(join(root, '.prettierrc'), JSON.stringify(STYLE));
    for (const [path, text] of before) {
      mkdirSync(dirname(join(root, path)), { recursive: true });
      writeFileSync(join(root, path), text);
    }
    const refused = steps.flatMap((words) => {
      try {
        execFileSync(process.execPath, [join(HOME, 'dist/cli/bin.js'), ...words], { cwd: root, stdio: 'pipe' });
        return [];
      } catch (failure) {
        return [`${words.join(' ')}\n${failure.stderr}`];
      }
    });
    const paths = readdirSync(join(root, 'src'), { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile())
      .map((entry) => join(entry.parentPath, entry.name).slice(root.length + 1));
    return { after: new Map(paths.map((path) => [path, readFileSync(join(root, path), 'utf8')])), refused };
  } finally {
    rmSync(root, { recursive: true, force: true });
  }
}

/** A text as the formatter writes it, and without blank lines, which it leaves to people. */
const formatted = async (path, text) =>
  text === undefined
    ? ''
    : sortedImports((await prettier.format(text, { ...STYLE, filepath: path })).replace(/\n\s*\n/g, '\n'));

/** Which import stands before which one, and which name in it, nobody would mind. */
const sortedImports = (text) =>
  text.replace(/(?:^import .*;\n)+/gm, (lines) => {
    const named = lines.replace(/\{ (.*) \}/g, (_, names) => `{ ${names.split(', ').sort().join(', ')} }`);
    return `${named.trimEnd().split('\n').sort().join('\n')}\n`;
  });

/** Files that are not what was wanted, with both texts. */
export async function differing(wanted, after) {
  const found = [];
  for (const path of new Set([...wanted.keys(), ...after.keys()])) {
    const [right, is] = [await formatted(path, wanted.get(path)), await formatted(path, after.get(path))];
    if (right !== is) found.push({ path, right, is });
  }
  return found;
}

/** How far the commands of a job get, with the files then. */
export async function reachedBy(job) {
  const { after, refused } = done(job);
  const differs = await differing(job.wanted, after);
  const isDone = refused.length < job.steps.length;
  return { reached: isDone ? (differs.length === 0 ? 'fully' : 'partly') : 'not', after, refused, differs };
}

async function main() {
  const { values, positionals } = parseArgs({ allowPositionals: true, options: { show: { type: 'boolean' } } });
  const unknown = positionals.find((name) => !existsSync(join(JOBS, name, 'job.json')));
  if (unknown !== undefined) {
    console.error(`there is no job "${unknown}"; those that there are: ${jobNames().join(', ')}`);
    process.exit(2);
  }
  const counts = { fully: 0, partly: 0, not: 0 };
  for (const name of positionals.length > 0 ? positionals : jobNames()) {
    const job = jobCalled(name);
    const { reached, refused, differs } = await reachedBy(job);
    counts[reached]++;
    const why = job.missing ?? (differs.length > 0 ? `differs: ${differs.map(({ path }) => path).join(', ')}` : '');
    console.log(`${reached.padEnd(7)}${name.padEnd(26)}${why}`);
    if (!values.show) continue;
    for (const text of refused) console.log(text);
    for (const { path, right, is } of differs) console.log(`\n--- ${path}, as wanted\n${right}--- as it is\n${is}`);
  }
  console.log(`\n${counts.fully} fully, ${counts.partly} partly, ${counts.not} not`);
}

if (process.argv[1] === new URL(import.meta.url).pathname) await main();
