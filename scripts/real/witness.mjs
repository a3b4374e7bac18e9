/**
 * The second witness: what the proof calls the same is run, before and after, with the real runtime of its framework.
 * The programs in `scripts/witness/` do that for one file; here it is decided which files are run for a case: every file
 * that it changed, alone and with the real components of the project inside, and files that show it.
 */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, posix } from 'node:path';
import { fileURLToPath } from 'node:url';
import { mkdtempSync } from 'node:fs';
import { pages } from './pages.mjs';

const PROGRAMS = fileURLToPath(new URL('../witness/', import.meta.url));
const CODE = /\.(?:[cm]?[jt]sx?)$/;
/** Files around a case that are run as well. */
const AROUND = 2;

/** Runs the jobs of all cases; calls `say(case, verdict)` with `{ answer, reached, total, where, before, after }`. */
export async function witness(cases, say, { workers = 2, log = () => {} } = {}) {
  const importers = new Map();
  const jobs = cases.flatMap((one) => jobsOf(one, importersOf(one, importers)));
  for (const [program, run] of Object.entries({ react, vue, pages })) {
    const own = jobs.filter((job) => job.program === program);
    if (own.length === 0) continue;
    if (program !== 'pages' && !existsSync(join(PROGRAMS, program, 'node_modules')))
      throw new Error(`run \`npm ci\` in scripts/witness/${program} first`);
    log(`${own.length} runs with ${program}`);
    await run(own, say, workers);
  }
}

/** Which files of a project import which, by relative paths. */
function importersOf({ project, dir }, known) {
  if (known.has(dir)) return known.get(dir);
  const result = new Map();
  known.set(dir, result);
  const paths = new Set(project.files.list());
  for (const path of paths) {
    if (!/\.(?:[cm]?[jt]sx?|vue)$/.test(path)) continue;
    const text = project.files.read(path)?.text ?? '';
    for (const [, source] of text.matchAll(/\bfrom\s*['"](\.[^'"]+)['"]/g)) {
      const base = posix.join(dirname(path), source);
      const target = ['', '.tsx', '.ts', '.jsx', '.js', '.vue', '/index.tsx', '/index.ts', '/index.js', '/index.vue']
        .map((end) => base + end)
        .find((p) => paths.has(p));
      if (target) result.set(target, [...(result.get(target) ?? []), path]);
    }
  }
  return result;
}

function jobsOf(one, importers) {
  const entries = [...one.files].filter(
    ([path, text]) => text !== null && one.project.files.read(path)?.text !== undefined,
  );
  return entries.flatMap(([path]) => {
    if (/\.html?$/.test(path)) return [{ program: 'pages', one, file: path }];
    if (path.endsWith('.vue')) return [{ program: 'vue', one, file: path }];
    if (!CODE.test(path)) return [];
    if (one.seenFrom !== undefined)
      return path === one.seenFrom ? [1, 2].map((depth) => ({ program: 'react', one, file: path, depth })) : [];
    const around = (importers.get(path) ?? []).filter((p) => CODE.test(p) && !one.files.has(p)).slice(0, AROUND);
    return [
      { program: 'react', one, file: path, depth: 0 },
      { program: 'react', one, file: path, depth: 1 },
      ...around.map((file) => ({ program: 'react', one, file, depth: 1 })),
    ];
  });
}

async function react(jobs, say, workers) {
  const { runJobs } = await import(join(PROGRAMS, 'react/lib/pool.mjs'));
  const list = jobs.map(({ one, file, depth }) => ({
    before: one.dir,
    after: one.dir,
    file,
    depth,
    overlayBefore: {},
    overlayAfter: Object.fromEntries(one.files),
  }));
  await runJobs(list, {
    workers,
    timeout: 20_000,
    onResult: (r, _job, i) =>
      say(jobs[i].one, {
        answer: { same: 'same', different: 'different', 'after-fails': 'fails' }[r.result] ?? 'not run',
        file: jobs[i].file,
        depth: jobs[i].depth,
        reached: r.jsxReached,
        total: r.jsxTotal,
        reason: r.reason,
        ...(r.first
          ? { where: `${r.first.where} at ${r.first.pos}`, before: r.first.before, after: r.first.after }
          : {}),
      }),
  });
}

/** Vue 2 has no list of events, and its listeners do not fall through; the runtime of Vue 3 wants to be told. */
function withEmits(text) {
  if (/\bemits\s*:/.test(text)) return text;
  const names = [...new Set([...text.matchAll(/\$emit\(\s*['"]([\w:-]+)['"]/g)].map(([, name]) => name))];
  return names.length === 0
    ? text
    : text.replace(
        /export default (?:defineComponent\(|Vue\.extend\()?\{/,
        (open) => `${open} emits: ${JSON.stringify(names)},`,
      );
}

function isVue2({ project }) {
  const { dependencies, peerDependencies, devDependencies } = JSON.parse(
    project.files.read('package.json')?.text ?? '{}',
  );
  const needs = { ...devDependencies, ...peerDependencies, ...dependencies };
  return /^[~^>=\s]*2\b/.test(needs.vue ?? '') || /^[~^]?1\b/.test(needs.vuepress ?? needs['@vuepress/core'] ?? '');
}

/** Vue's program reads the newer side from a folder that holds what changed, over the older one. */
async function vue(jobs, say, workers) {
  const scratch = mkdtempSync(join(tmpdir(), 'verkstad-witness-'));
  const folders = new Map();
  const folderOf = (one) => {
    if (folders.has(one)) return folders.get(one);
    const folder = join(scratch, String(folders.size + 1));
    for (const [path, text] of one.files) {
      if (text === null) continue;
      mkdirSync(dirname(join(folder, path)), { recursive: true });
      const isNew = one.project.files.read(path)?.text === undefined;
      writeFileSync(join(folder, path), isNew && isVue2(one) ? withEmits(text) : text);
    }
    folders.set(one, folder);
    return folder;
  };
  const child = spawn(process.execPath, [
    join(PROGRAMS, 'vue/render.mjs'),
    '--workers',
    String(workers),
    '--overlay',
    '--batch',
  ]);
  child.stdin.end(
    jobs
      .map(({ one, file }, id) =>
        JSON.stringify({
          before: one.dir,
          after: folderOf(one),
          file,
          id,
          overlay: true,
          ...(isVue2(one) ? { vue2: true } : {}),
        }),
      )
      .join('\n') + '\n',
  );
  let rest = '';
  child.stderr.resume();
  for await (const chunk of child.stdout) {
    const lines = (rest + chunk).split('\n');
    rest = lines.pop();
    for (const line of lines.filter(Boolean)) {
      const r = JSON.parse(line);
      say(jobs[r.id].one, {
        answer: { same: 'same', different: 'different', 'after-fails': 'fails' }[r.status] ?? 'not run',
        file: r.file,
        reason: [r.reason, r.kind].filter(Boolean).join(', '),
        where: r.where,
        before: r.before,
        after: r.after,
        scope: r.scopeDiffers,
      });
    }
  }
}
