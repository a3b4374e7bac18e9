/** `check` as a process, to the level that needs no browser: what it compares with, what it catches, what it says. */
import { isLate } from '../src/node/check/pair.js';
import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parse } from 'valibot';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { formats } from '../src/library/formats/index.js';
import { fingerprint } from '../src/core/index.js';
import { isKnown, randomOf, valueOf, type Called } from '../src/node/check/values.js';
import type { Shape } from '../src/node/check/shapes.js';

const HOME = new URL('..', import.meta.url).pathname;
const folder = mkdtempSync(join(tmpdir(), 'verkstad-check-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const FILES: Record<string, string> = {
  'package.json': '{ "name": "apiary", "private": true, "type": "module" }\n',
  'tsconfig.json':
    '{ "compilerOptions": { "strict": true, "jsx": "react-jsx", "module": "ESNext", "moduleResolution": "Bundler", "skipLibCheck": true } }\n',
  'vite.config.ts': "import react from '@vitejs/plugin-react';\nexport default { plugins: [react()] };\n",
  'src/hives.ts': `export interface Hive {
  id: string;
  name: string;
  kilos?: number;
  kind: 'forest' | 'flower';
}
`,
  'src/HiveList.tsx': `import type { Hive } from './hives';

interface HiveListProps {
  hives: Hive[];
  onOpen: (id: string) => void;
  note?: React.ReactNode;
}

export function HiveList({ hives, onOpen, note }: HiveListProps) {
  return (
    <section>
      <h2>Hives</h2>
      <ul>
        {hives.map((hive) => (
          <li key={hive.id} className={hive.kind}>
            <b>{hive.name}</b> {hive.kilos === undefined ? 'not weighed' : \`\${hive.kilos} kg\`}
            <button type="button" onClick={() => onOpen(hive.id)}>
              Open
            </button>
          </li>
        ))}
      </ul>
      {note}
    </section>
  );
}
`,
  'src/Apiary.tsx': `import { HiveList } from './HiveList';

export default function Apiary() {
  return (
    <main>
      <h1>Old quarry</h1>
      <HiveList hives={[{ id: '1', name: 'Linden', kind: 'forest' }]} onOpen={() => undefined} />
    </main>
  );
}
`,
  'src/Scale.jsx': `export function Scale({ reading }) {
  return <output>{reading.kilos} kg</output>;
}
`,
};

let root: string;
let number = 0;
beforeEach(() => {
  root = join(folder, `project${++number}`);
  for (const [path, text] of Object.entries(FILES)) write(path, text);
  symlinkSync(join(HOME, 'node_modules'), join(root, 'node_modules'), 'dir');
  cpSync(root, `${root}-before`, { recursive: true, verbatimSymlinks: true });
});

function write(path: string, text: string): void {
  mkdirSync(join(root, path, '..'), { recursive: true });
  writeFileSync(join(root, path), text);
}
function edit(path: string, find: string, instead: string): void {
  const text = readFileSync(join(root, path), 'utf8');
  expect(text).toContain(find);
  write(path, text.replace(find, instead));
}
function run(command: string, args: readonly string[]) {
  const env = { ...process.env, NO_COLOR: '1', GIT_CONFIG_GLOBAL: '/dev/null', GIT_CONFIG_NOSYSTEM: '1' };
  const { status, stdout, stderr } = spawnSync(command, args, { cwd: root, encoding: 'utf8', env });
  return { status, stdout, stderr };
}
const verkstad = (...args: string[]) => run(process.execPath, [join(HOME, 'dist/cli/bin.js'), ...args]);
const git = (...args: string[]) =>
  run('git', ['-c', 'user.name=Keeper', '-c', 'user.email=keeper@example.org', ...args]);
const check = (...args: string[]) => verkstad('check', '--against', `../project${number}-before`, ...args);
function data(...args: string[]) {
  const { status, stdout } = check('--json', ...args);
  return { status, ...parse(formats.check, JSON.parse(stdout)) };
}

describe('an action that only one side could do in time', () => {
  const after = (line: string) =>
    `elementHandle.click: Timeout 4000ms exceeded.\nCall log:\n  - attempting click action\n  - ${line}`;
  it.each([
    ['waiting for element to be visible, enabled and stable', true],
    ['<div class="veil"></div> intercepts pointer events', false],
    ['element is not enabled', false],
    ['element is not visible', false],
  ])('%s', (line, late) => expect(isLate(after(line))).toBe(late));
});

describe('projects of other kinds', () => {
  it('goes by the config that has the file, where tsconfig.json only refers to others', () => {
    write('tsconfig.app.json', `{ "include": ["src"], ${FILES['tsconfig.json']!.trim().slice(1)}`);
    write('tsconfig.node.json', '{ "compilerOptions": { "module": "NodeNext" }, "include": ["vite.config.ts"] }');
    const references = ['node', 'app'].map((name) => ({ path: `./tsconfig.${name}.json` }));
    write('tsconfig.json', JSON.stringify({ files: [], references }));
    const cut = verkstad('extract', 'src/HiveList.tsx:15-20');
    expect([cut.status, cut.stdout]).toEqual([0, expect.stringContaining('no new errors')]);
    edit('src/HiveItem.tsx', 'hive.name', 'hive.title');
    const found = data('--level', 'types');
    expect(found.status).toBe(1);
    expect(found.differences.map((d) => d.words).join()).toContain("'title' does not exist");
  });

  it('can be run without types', () => {
    for (const at of [root, `${root}-before`]) {
      for (const path of ['src/Apiary.tsx', 'src/HiveList.tsx', 'src/hives.ts', 'vite.config.ts'])
        rmSync(join(at, path));
      writeFileSync(join(at, 'vite.config.js'), FILES['vite.config.ts']!);
      writeFileSync(join(at, 'src/Scale.samples.js'), 'export const heavy = { reading: { kilos: 31 } };\n');
    }
    write('src/Scale.jsx', `// One reading.\n${FILES['src/Scale.jsx']!}`);
    const asked = data('--level', 'types');
    expect([asked.status, asked.levels[1]]).toEqual([
      3,
      expect.objectContaining({ answer: 'unchecked', compared: [] }),
    ]);
    const run = data('--level', 'render');
    expect([run.status, ...run.levels.map((l) => l.answer)]).toEqual([0, 'same', 'unchecked', 'same']);
  });
});

describe('what check compares with', () => {
  it('takes a revision, a folder, or the last change, and never touches the working tree', () => {
    expect(check().stdout).toContain('no file differs');
    expect(verkstad('check', '--against', 'last').stderr).toContain('no change of Verkstad is on record');
    git('init', '-q');
    writeFileSync(join(root, '.gitignore'), 'node_modules\n.verkstad\n');
    git('add', '-A');
    git('commit', '-qm', 'Start');
    expect(verkstad('check', '--against', 'no-such-thing').stderr).toContain('no revision that git knows');
    expect(verkstad('extract', 'src/HiveList.tsx:15-20', '--no-types').status).toBe(0);
    for (const against of [['--against', 'HEAD'], ['--against', 'last'], []]) {
      const done = verkstad('check', '--level', 'expand', ...against);
      expect([done.status, done.stdout]).toEqual([0, expect.stringMatching(/expand +same/)]);
    }
    expect(git('status', '--porcelain').stdout.trim().split('\n').sort()).toEqual([
      '?? src/HiveItem.tsx',
      'M src/HiveList.tsx',
    ]);
    // Made by hand, and not committed.
    edit('src/HiveList.tsx', '<h2>Hives</h2>', '<h2>All hives</h2>');
    const found = verkstad('check', '--against', 'HEAD', '--level', 'expand');
    expect(found.status).toBe(1);
    expect(found.stdout).toContain('src/HiveList.tsx:12:');
  });
});

describe('what check catches', () => {
  it('renders components with made values, both versions the same', () => {
    edit('src/HiveList.tsx', "'not weighed'", "('not weighed')");
    const found = data();
    expect(found.levels.map((l) => [l.level, l.answer])).toEqual([
      ['expand', 'same'],
      ['types', 'same'],
      ['render', 'unchecked'],
    ]);
    const render = found.levels[2]!;
    expect(render.compared).toEqual(['src/Apiary.tsx#Apiary', 'src/HiveList.tsx#HiveList']);
    // Nothing is known of what the scale is given, until somebody says it.
    expect(render.left).toEqual([
      { what: 'src/Scale.jsx#Scale', why: expect.stringContaining('src/Scale.samples.js') as string },
    ]);
    write(
      'src/Scale.samples.js',
      'export const light = { reading: { kilos: 3 } };\nexport const heavy = { reading: { kilos: 41 } };\n',
    );
    expect(data().levels[2]).toMatchObject({ answer: 'same', left: [] });
    edit('src/Scale.jsx', '{reading.kilos} kg', '{reading.kilos > 40 ? 40 : reading.kilos} kg');
    const scale = data().differences.filter((d) => d.level === 'render');
    expect(scale).toEqual([
      expect.objectContaining({
        what: 'src/Scale.jsx#Scale',
        words: expect.stringContaining('with the sample heavy') as string,
      }),
    ]);
  });

  it.each<[string, string, string, string, RegExp]>([
    ['a lost class', 'className={hive.kind}', '', 'render', /class="(?:forest|flower)"/],
    ['a lost text', ' kg`', ' kg `', 'render', /Open/],
    ['a lost slot', '{note}', '', 'render', /«note»/],
    ['a wrong type', 'onOpen(hive.id)', 'onOpen(hive.kilos)', 'types', /not assignable/],
    ['a handler that does something else', 'onOpen(hive.id)', 'onOpen(hive.name)', 'expand', /./],
    ['a component that fails', 'hives.map((hive)', '(hives as any).nothing.map((hive: Hive)', 'render', /it fails now/],
  ])('%s, at the level that sees it', (_, find, instead, level, says) => {
    edit('src/HiveList.tsx', find, instead);
    const found = data('--level', level);
    expect([found.answer, found.status]).toEqual(['different', 1]);
    const words = found.differences.filter((d) => d.level === level).map((d) => d.words);
    expect(words.join('\n')).toMatch(says);
  });

  it('follows a file that was moved, and says what cannot be checked', () => {
    mkdirSync(join(root, 'src/list'));
    renameSync(join(root, 'src/HiveList.tsx'), join(root, 'src/list/HiveList.tsx'));
    edit('src/list/HiveList.tsx', "'./hives'", "'../hives'");
    edit('src/Apiary.tsx', "'./HiveList'", "'./list/HiveList'");
    const moved = data();
    expect(moved.levels.map((l) => l.answer)).toEqual(['same', 'same', 'unchecked']);
    expect(moved.levels[0]!.figures).toContain('1 moved');
    expect(moved.levels[2]!.compared).toContain('src/list/HiveList.tsx#HiveList');
    edit('src/list/HiveList.tsx', 'type="button"', 'type="submit"');
    expect(data('--level', 'expand').differences[0]).toMatchObject({
      before: { path: 'src/HiveList.tsx' },
      after: { path: 'src/list/HiveList.tsx' },
    });
    rmSync(join(root, 'node_modules'));
    const without = check('--level', 'render');
    expect(without.stdout).toContain('vite is not installed');
  });
});

describe('apply --check', () => {
  it('checks each step, and refuses a level that is none', () => {
    const path = 'src/HiveList.tsx';
    const text = readFileSync(join(root, path), 'utf8');
    const range = [text.indexOf('<li'), text.indexOf('</li>') + '</li>'.length];
    const step = { step: 'extract', name: 'HiveItem', component: 'HiveList', path, lines: [14, 20], range };
    const files = [{ path, fingerprint: fingerprint(text) }];
    write('plan.json', JSON.stringify({ format: 'verkstad/plan@1', files, steps: [step] }));
    expect(verkstad('apply', 'plan.json', '--check', 'everything').status).toBe(2);
    const done = verkstad('apply', 'plan.json', '--check', 'render');
    expect(done.stdout).toMatch(/1 of 1 step taken/);
    expect(done.status, done.stderr).toBe(0);
    expect(done.stdout).toMatch(/check: expand same, types same, render (?:same|unchecked)/);
  });
});

describe('made values', () => {
  const hive: Shape = {
    kind: 'record',
    members: [
      { name: 'id', optional: false, shape: { kind: 'string' } },
      { name: 'kilos', optional: true, shape: { kind: 'number' } },
      {
        name: 'kind',
        optional: false,
        shape: {
          kind: 'union',
          of: [
            { kind: 'literal', value: 'forest' },
            { kind: 'literal', value: 'flower' },
          ],
        },
      },
      { name: 'onOpen', optional: false, shape: { kind: 'function', returns: { kind: 'boolean' } } },
    ],
  };

  it('are the same for the same seed, keep to the shape, and write down calls', () => {
    const seen = new Set<string>();
    for (let seed = 1; seed <= 40; seed++) {
      const calls: Called[] = [];
      const make = () => valueOf(hive, randomOf(seed), calls) as Record<string, unknown>;
      const [a, b] = [make(), make()];
      expect(JSON.stringify(a)).toBe(JSON.stringify(b));
      expect(['forest', 'flower']).toContain(a.kind);
      expect(typeof (a.onOpen as () => unknown)()).toBe('boolean');
      expect(calls).toEqual([{ name: 'onOpen', given: 0 }]);
      seen.add(`${String('kilos' in a)} ${String(a.kind)}`);
    }
    expect(seen.size).toBe(4);
    expect(isKnown(hive)).toBe(true);
    expect(isKnown({ kind: 'record', members: [{ name: 'x', optional: false, shape: { kind: 'unknown' } }] })).toBe(
      false,
    );
  });
});
