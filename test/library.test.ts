/** `verkstad/project` as others use it: the examples of docs/library.md are run, and what must not happen by oversight. */
import { spawnSync } from 'node:child_process';
import {
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parse } from 'valibot';
import { afterAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { isProblem } from '../src/core/index.js';
import { formats } from '../src/library/formats/index.js';
import { openProject, type OpenProject, type PlanDocument, type StepName } from '../src/library/index.js';
import { STEPS } from '../src/library/steps.js';

const HOME = new URL('..', import.meta.url).pathname;
const folder = mkdtempSync(join(tmpdir(), 'verkstad-library-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

let demo: string;
let count = 0;
/** A copy of a demo; its packages and `verkstad` itself are found as those of an installation are. */
function copyOf(example: string): void {
  demo = join(folder, `demo${++count}`);
  cpSync(join(HOME, 'examples', example), demo, {
    recursive: true,
    filter: (path) => !/node_modules|\/dist|\.verkstad/.test(path.slice(HOME.length)),
  });
  mkdirSync(join(demo, 'node_modules'));
  for (const name of readdirSync(join(HOME, 'node_modules')).filter((n) => !n.startsWith('.')))
    symlinkSync(join(HOME, 'node_modules', name), join(demo, 'node_modules', name), 'dir');
  symlinkSync(HOME, join(demo, 'node_modules/verkstad'), 'dir');
}
beforeEach(() => copyOf('apiary-react'));

async function opened(): Promise<OpenProject> {
  const project = await openProject(demo);
  if (isProblem(project)) throw new Error(project.message);
  return project;
}

function given<T>(result: T): Exclude<T, { readonly instead: readonly string[] }> {
  if (isProblem(result)) throw new Error(result.message);
  return result as Exclude<T, { readonly instead: readonly string[] }>;
}

describe('the examples of docs/library.md', () => {
  const text = readFileSync(join(HOME, 'docs/library.md'), 'utf8');
  const blocks = [...text.matchAll(/^```js\n([\s\S]*?)^```/gm)].map(([, code]) => code!);

  it('are there', () => expect(blocks.length).toBe(5));

  it.each(blocks.map((code, i) => [i + 1, code] as const))('%i prints what it says', (_, code) => {
    writeFileSync(join(demo, 'example.mjs'), code);
    const { status, stdout, stderr } = spawnSync(process.execPath, ['example.mjs'], { cwd: demo, encoding: 'utf8' });
    expect(stderr).toBe('');
    expect(status).toBe(0);
    const said = [...code.matchAll(/^\/\/ → (.*)$/gm)].map(([, line]) => line);
    expect(stdout.trimEnd().split('\n')).toEqual(said);
  });
});

describe('a project that is opened', () => {
  it('gives what the formats say', async () => {
    const project = await opened();
    const { proposals, plan } = given(await project.propose());
    expect(() => {
      parse(formats.survey, project.survey());
      parse(formats.tree, project.tree());
      parse(formats.repeats, project.repeats({ minWorth: -Infinity }));
      parse(formats.propose, proposals);
      parse(formats.plan, plan);
    }).not.toThrow();
  });

  it('looks at what is asked for, and says where there is nothing', async () => {
    const project = await opened();
    expect(given(project.survey({ paths: ['src/pages'] })).files.map((f) => f.path)).toEqual([
      'src/pages/AssociationPage.tsx',
      'src/pages/KeepersPage.tsx',
      'src/pages/PricesPage.tsx',
    ]);
    expect(project.survey({ paths: ['src/Gone.tsx'] })).toMatchObject({ code: 'file-unknown', path: 'src/Gone.tsx' });
    expect(await openProject(join(demo, 'nowhere'))).toMatchObject({ code: 'root-missing' });
  });

  it('does not write over a text that was changed meanwhile', async () => {
    writeFileSync(
      join(demo, 'src/Rows.jsx'),
      `import { shift } from './shift';\nexport const Rows = ({ hives }) => {\n  let at = 0;\n  return (\n    <ul>\n      {hives.map((hive) => (\n        <li key={hive}>\n          <b>{hive}</b>\n        </li>\n      ))}\n    </ul>\n  );\n};\n`,
    );
    writeFileSync(join(demo, 'src/shift.js'), 'export const shift = 1;\n');
    const project = await opened();
    const step = given(
      await project.step('extract', { path: 'src/Rows.jsx', at: { lines: [7, 9] }, name: 'HiveItem' }),
    );
    expect(step.trouble).toBeUndefined();
    const text = readFileSync(join(demo, 'src/Rows.jsx'), 'utf8');
    writeFileSync(join(demo, 'src/Rows.jsx'), text.replace('<b>', '<i>').replace('</b>', '</i>'));
    expect(await project.write(step)).toMatchObject({ code: 'changed-meanwhile' });
    expect(existsSync(join(demo, 'src/HiveItem.jsx'))).toBe(false);
  });

  it('does not write what is not proven, unless that is meant', async () => {
    const work = STEPS.extract;
    const proof = { answer: 'different', code: 'code-kind', detail: '"a" became "b"' } as const;
    const unproven = vi.spyOn(STEPS, 'extract').mockImplementation(async (...asked) => {
      const done = given(await work(...asked));
      return { ...done, change: { ...done.change, proof } };
    });
    const project = await opened();
    const at = { lines: [154, 182] } as const;
    const step = given(await project.step('extract', { path: 'src/App.tsx', at, name: 'PageHeader' }));
    unproven.mockRestore();
    expect(step.trouble).toMatchObject({ code: 'proof-different', path: 'src/App.tsx', line: 154 });
    expect(await project.write(step)).toMatchObject({ code: 'proof-different' });
    expect(existsSync(join(demo, 'src/PageHeader.tsx'))).toBe(false);
    given(await project.write(step, { unproven: true }));
    expect(existsSync(join(demo, 'src/PageHeader.tsx'))).toBe(true);
  });

  it('reads the files anew after a write', async () => {
    const project = await opened();
    const at = { lines: [154, 182] } as const;
    const first = given(await project.step('extract', { path: 'src/App.tsx', at, name: 'PageHeader' }));
    given(await project.write(first));
    expect(given(project.survey()).components.map((c) => c.name)).toContain('PageHeader');
    const back = given(await project.step('inline', { component: 'PageHeader' }));
    expect(back.document).toMatchObject({ step: 'inline', proof: { answer: 'same' } });
    given(await project.undo());
    expect(given(project.survey()).components.map((c) => c.name)).not.toContain('PageHeader');
  });
});

describe('plans', () => {
  it('stop where a step is refused, and say what is left', async () => {
    const project = await opened();
    const { plan } = given(await project.propose({ paths: ['src/App.tsx'] }));
    const [one, two, ...more] = plan.steps;
    const renamed = { ...plan, steps: [one!, { ...two!, name: 'App' }, ...more] } as PlanDocument;
    const done = given(await project.apply(renamed));
    expect(done.steps.map((s) => s.name)).toEqual([one!.name]);
    expect(done.stopped?.code).toBe('name-taken');
    expect(done.left[0]).toBe('App');
    parse(formats.applied, done);
    expect(await project.apply({ ...plan, steps: [{ step: 'dance' }] } as never)).toMatchObject({
      code: 'plan-format',
    });
  });

  it('hold steps that part a component and join it again', async () => {
    copyOf('apiary-vue');
    const project = await opened();
    const path = 'src/HarvestBoard.vue';
    const before = readFileSync(join(demo, path), 'utf8');
    const { plan } = given(await project.propose({ paths: [path] }));
    const place = { name: 'HarvestBoard', component: 'HarvestBoard', path, lines: [1, 2], range: [0, 1] } as const;
    const steps = [
      { step: 'part', ...place },
      { step: 'join', ...place },
    ] as unknown as PlanDocument['steps'];
    const done = given(await project.apply({ ...plan, steps }));
    expect(done.stopped).toBeUndefined();
    expect(done.steps.map((s) => s.step)).toEqual(['part', 'join']);
    expect(readFileSync(join(demo, path), 'utf8').replace(/\s+/g, ' ')).toBe(before.replace(/\s+/g, ' '));
  });

  it('every kind of step is registered', () => {
    const kinds: readonly StepName[] = [
      'extract',
      'forms',
      'hook',
      'module',
      'home',
      'inline',
      'inputs',
      'unify',
      'frame',
      'function',
      'join',
      'part',
      'page',
      'through',
    ];
    expect(Object.keys(STEPS).sort()).toEqual([...kinds].sort());
  });
});
