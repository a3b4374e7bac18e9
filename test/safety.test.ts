/** What a person trusts without asking: reading runs nothing, hostile data end in a message, nothing controls the terminal. */
import { execFileSync, spawnSync, type SpawnSyncReturns } from 'node:child_process';
import {
  chmodSync,
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
import { dirname, join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';

const BIN = new URL('../dist/cli/bin.js', import.meta.url).pathname;

const HIVES = `export const Hives = ({ hives }) => (
  <ul>
    {hives.map((hive) => (
      <li key={hive.id}>{hive.name}</li>
    ))}
  </ul>
);
`;

let root: string;
beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'verkstad-safety-'));
  write({ 'package.json': '{}', 'src/Hives.jsx': HIVES });
});
afterEach(() => rmSync(root, { recursive: true, force: true }));

function write(files: Record<string, string>): void {
  for (const [path, text] of Object.entries(files)) {
    mkdirSync(dirname(join(root, path)), { recursive: true });
    writeFileSync(join(root, path), text);
  }
}

function verkstad(
  args: readonly string[],
  options: { cwd?: string; env?: Record<string, string> } = {},
): SpawnSyncReturns<string> {
  return spawnSync(process.execPath, [BIN, ...args], {
    cwd: options.cwd ?? root,
    encoding: 'utf8',
    timeout: 60_000,
    env: { ...process.env, ...options.env },
  });
}

const VUE_BOARD = `<script setup lang="ts">
defineProps<{ hives: { name: string; kilos: number }[] }>();
</script>

<template>
  <ul>
    <li v-for="hive in hives" :key="hive.name">{{ hive.name }} {{ hive.kilos }}</li>
  </ul>
</template>
`;
const ASTRO_BOARD = `---
interface Props {
  hives: { name: string; kilos: number }[];
}
const { hives } = Astro.props;
---

<ul>
  {hives.map((hive) => (
    <li>{hive.name} {hive.kilos}</li>
  ))}
</ul>
`;
const JSX_BOARD = `export function Board({ hives }: { hives: { name: string; kilos: number }[] }) {
  return (
    <ul>
      {hives.map((hive) => (
        <li key={hive.name}>{hive.name} {hive.kilos}</li>
      ))}
    </ul>
  );
}
`;

describe('reading runs nothing', () => {
  it('whatever the settings and hooks of the repository say', () => {
    const ran = join(root, '..', `ran-${root.split('-').at(-1)!}`);
    mkdirSync(ran);
    const git = (...args: string[]) => execFileSync('git', args, { cwd: root, stdio: 'pipe' });
    const program = (name: string) => {
      const at = join(ran, `${name}.sh`);
      writeFileSync(at, `#!/bin/sh\necho ran > '${join(ran, name)}'\ncat\n`);
      chmodSync(at, 0o755);
      return at;
    };
    git('init', '-q');
    git('config', 'user.email', 'keeper@example.org');
    git('config', 'user.name', 'Keeper');
    git('add', '.');
    git('commit', '-qm', 'one');
    for (const setting of [
      'core.fsmonitor',
      'diff.external',
      'diff.hive.textconv',
      'diff.hive.command',
      'filter.hive.clean',
      'filter.hive.smudge',
      'gpg.program',
      'core.pager',
      'core.editor',
      'core.sshCommand',
      'core.askPass',
      'credential.helper',
      'core.alternateRefsCommand',
    ])
      git('config', setting, program(setting));
    git('config', 'log.showSignature', 'true');
    for (const hook of [
      'post-index-change',
      'post-checkout',
      'reference-transaction',
      'pre-auto-gc',
      'fsmonitor-watchman',
    ])
      writeFileSync(join(root, '.git/hooks', hook), readFileSync(program(hook)), { mode: 0o755 });
    write({
      '.gitattributes': '*.jsx filter=hive diff=hive\n',
      'src/Hives.jsx': HIVES.replace('ul>', 'ol>').replace('<ul', '<ol'),
    });
    for (const args of [
      ['survey'],
      ['propose', '--since', '1 year ago'],
      ['repeats'],
      ['check', '--against', 'HEAD', '--level', 'expand'],
    ]) {
      const done = verkstad(args, { env: { GIT_EXTERNAL_DIFF: program('env-diff'), GIT_PAGER: program('env-pager') } });
      expect(done.status, done.stderr).toBeLessThan(3);
    }
    expect(readdirSync(ran).filter((name) => !name.endsWith('.sh'))).toEqual([]);
    // The canaries are alive: git by itself does start them.
    spawnSync('git', ['diff', 'HEAD'], { cwd: root, input: '', timeout: 20_000 });
    expect(readdirSync(ran).filter((name) => !name.endsWith('.sh')).length).toBeGreaterThan(0);
    rmSync(ran, { recursive: true });
  });

  it('nor does a journal or a plan that came with the project', () => {
    const entry = {
      format: 'verkstad/journal@2',
      id: 1,
      at: '',
      step: 'extract',
      title: 'theirs',
      state: 'open',
      token: 'ab',
      files: [{ path: '../../planted.txt', before: 'x', after: null }],
    };
    write({ '.verkstad/journal/0001.json': JSON.stringify({ seal: '', entry }) });
    const done = verkstad(['survey']);
    expect(done.status).toBe(0);
    expect(done.stderr).toContain('was not begun by you');
    expect(existsSync(join(root, '../planted.txt'))).toBe(false);
    expect(verkstad(['undo']).stderr).toContain('not written by you');
    expect(verkstad(['undo', '--list']).stdout).toContain('never carried out');
    rmSync(join(root, '.verkstad'), { recursive: true });
    symlinkSync(tmpdir(), join(root, '.verkstad'));
    expect(verkstad(['propose', 'src']).stderr).toContain('is a link');
  });
});

describe('hostile data', () => {
  const deep = (open: string, close: string, times = 10_000) => open.repeat(times) + close.repeat(times);
  const cases: Record<string, string> = {
    'Deep.jsx': `export const A = () => <p>{${deep('(', ')')}}</p>;`,
    'Lists.tsx': `export const a = ${deep('[', ']')};`,
    'Tags.jsx': `export const A = () => ${deep('<a>', '</a>')};`,
    'Types.ts': `type A = ${deep('A<', '>')};`,
    'Arrows.ts': `${'a=>'.repeat(20_000)}1`,
    'Strings.ts': `x=${'(")"+'.repeat(10_000)}1`,
    'Deep.vue': `<template>${deep('<div>', '</div>')}</template>`,
    'Code.vue': `<template><p>{{ ${deep('(', ')')} }}</p></template>`,
    'Script.vue': `<script setup>\nconst a = ${deep('[', ']')};\n</script>\n<template><p /></template>`,
    'deep.html': `<!doctype html><body>${deep('<div>', '</div>')}`,
    'open.html': '<p a="'.repeat(10_000),
  };
  it.each(Object.keys(cases))('%s ends in a message', (name) => {
    write({ [`src/${name}`]: cases[name]! });
    for (const args of [
      ['survey', '--no-cache'],
      ['extract', `src/${name}:1-1`, '--dry-run'],
    ]) {
      const done = verkstad(args);
      expect(done.signal, done.stderr).toBe(null);
      expect(done.status, done.stderr).toBeLessThan(4);
      expect(done.stderr).not.toContain('fault of Verkstad');
    }
  });

  it.each([
    '[]',
    '"x"',
    '{ "extends": [["a"], 5, "./tsconfig"] }',
    '{ "extends": ["./tsconfig.json", "./tsconfig"], "compilerOptions": null }',
    '{ "compilerOptions": { "paths": [1, 2], "baseUrl": {} } }',
    '{ "references": "x", "files": 5, "include": {} }',
  ])('a tsconfig of any shape: %s', (config) => {
    const app = `import x from '@/y';\nexport const T = ({ a }: { a: string }) => (\n  <main>\n    <p>{a}</p>\n    <b>{x}</b>\n  </main>\n);\n`;
    write({ 'tsconfig.json': config, 'src/T.tsx': app });
    const done = verkstad(['extract', 'src/T.tsx:4-4', '--dry-run']);
    expect([done.status, done.stderr]).toEqual([0, expect.stringContaining('no new errors')]);
  });

  it('patterns that would take for ever are refused, or left out', () => {
    const slow = `src/${'*a'.repeat(30)}b`;
    write({ [`src/${'a'.repeat(60)}.jsx`]: 'export const A = () => <p>a</p>;\n', '.gitignore': `${slow}\nleft.jsx\n` });
    write({ 'left.jsx': 'export const Left = () => <p>a</p>;\n' });
    const done = verkstad(['tree']);
    expect([done.status, done.stdout.includes('Left')]).toEqual([0, false]);
    for (const pattern of [slow, 'src/+(+(a)+)+(a)b', `${'**/'.repeat(40)}x`, `${'{a,b}'.repeat(20)}*`]) {
      write({ 'verkstad.config.json': JSON.stringify({ exclude: [pattern] }) });
      const refused = verkstad(['survey']);
      expect([refused.status, refused.stderr]).toEqual([2, expect.stringContaining('longer than anybody waits')]);
    }
  });

  it('a plan of any size is refused by it', () => {
    write({ 'big.json': ' '.repeat(20_000_000) });
    const done = verkstad(['apply', 'big.json']);
    expect([done.status, done.stderr]).toEqual([2, expect.stringContaining('larger than a plan can be')]);
  });
});

describe('the terminal', () => {
  it('is controlled by nothing that comes from the project', () => {
    const name = 'src/Bad\u001b[2J\u202e.jsx';
    write({
      [name]: HIVES.replace('Hives', 'Hives2'),
      'src/Broken.jsx': 'const a = "\u001b]0;owned\u0007";\nconst = ;\n',
    });
    for (const args of [
      ['survey', '--color', 'always'],
      ['repeats'],
      ['extract', 'src/Broken.jsx:1-2'],
      ['survey', '--json'],
    ]) {
      const { stdout, stderr } = verkstad(args);
      const own = (stdout + stderr).replace(/\u001b\[\d+m/g, '');
      expect(own).not.toMatch(/[\x00-\x08\x0b-\x1f\x7f-\x9f\u202e]/);
    }
    expect(verkstad(['survey']).stdout).toContain('\\x1b[2J');
    // A pipe has no colours, and no words for them either.
    const piped = verkstad(['survey', 'src/Hives.jsx'], { env: { FORCE_COLOR: '1' } });
    expect(piped.stdout).not.toMatch(/\x1b|\\x1b\[\d/);
  });

  it('a reader that goes away changes neither the code nor what is done', () => {
    const piped = (command: string) =>
      spawnSync(
        'bash',
        ['-c', `set -o pipefail; ${process.execPath} ${BIN} ${command} | true; echo "\${PIPESTATUS[0]}"`],
        { cwd: root, encoding: 'utf8' },
      );
    for (const command of ['survey', 'extract src/Hives.jsx:4-4']) {
      const done = piped(command);
      expect([done.stdout.trim(), done.stderr]).toEqual(['0', '']);
    }
    expect(existsSync(join(root, 'src/HiveItem.jsx'))).toBe(true);
  });

  it('hears of our own faults by a code of their own', () => {
    const planted = 'data:text/javascript,Number.prototype.toLocaleString=()=>{throw(Error("planted"))}';
    const done = verkstad(['survey'], { env: { NODE_OPTIONS: `--import ${planted}` } });
    expect(done.status).toBe(4);
    expect(done.stderr).toMatch(/fault of Verkstad[\s\S]*planted[\s\S]*please report it/);
  });
});

describe('what was asked', () => {
  it.each([
    [['survey', '--fail-on', 'nonsense'], 'nonsense'],
    [['repeats', '--min-worth', 'abc'], 'not a number'],
    [['repeats', '--min-worth', ''], 'not a number'],
    [['survey', 'src/None.jsx'], 'not among the files'],
    [['repeats', 'src/None.jsx'], 'not among the files'],
    [['propose', 'src/None.jsx'], 'not among the files'],
    [['survey', 'src/empty.jsx'], 'is empty'],
    [['survey', 'notes.txt'], 'no language that Verkstad reads'],
  ])('%j ends with 2', (args, words) => {
    write({ 'src/empty.jsx': '', 'notes.txt': 'x' });
    const done = verkstad(args);
    expect([done.status, done.stderr]).toEqual([2, expect.stringContaining(words)]);
  });

  // Languages are loaded by the files that are there: nothing may ask for one that no file of the project is in.
  it.each([
    ['Vue', 'src/Board.vue', VUE_BOARD, 'src/Part.astro'],
    ['Astro', 'src/Board.astro', ASTRO_BOARD, 'src/Part.vue'],
    ['JSX', 'src/Board.tsx', JSX_BOARD, 'src/Part.vue'],
  ])('does all that it does where every file is %s', (_, path, text, elsewhere) => {
    write({ [path]: text, 'tsconfig.json': '{ "compilerOptions": { "strict": true } }' });
    for (const command of ['survey', 'tree', 'repeats', 'propose']) {
      const { status, stderr } = verkstad([command]);
      expect([command, status, stderr]).toEqual([command, 0, expect.not.stringContaining('fault') as string]);
    }
    const line = text.split('\n').findIndex((one) => one.includes('<li')) + 1;
    const refused = verkstad(['extract', `${path}:${line}`, '--to', elsewhere]);
    expect(refused.stderr).toContain('does not end in a file extension for this language');
    const done = verkstad(['extract', `${path}:${line}`, '--name', 'HiveRow']);
    expect([done.status, done.stderr]).toEqual([0, '']);
    expect(done.stdout).toContain('kilos: number');
    expect(verkstad(['undo']).status).toBe(0);
  });

  it('counts and names what is not read', () => {
    write({
      'a.svelte': '',
      'b.svelte': '',
      'views/c.blade.php': '',
      'd.component.ts': '@Component({ selector: "hive" })\nexport class Hive {}\n',
    });
    expect(verkstad(['survey']).stdout).toContain('not read: 2 .svelte, 1 .blade.php, 1 Angular class');
    expect(JSON.parse(verkstad(['survey', '--json']).stdout)).toMatchObject({
      notRead: [{ what: '.svelte', files: 2 }, {}, {}],
    });
    const { stdout } = verkstad(['repeats']);
    expect(stdout).toContain('nothing stands more than once that one would unify, in 2 files read');
    expect(stdout).toContain('not read: 2 .svelte');
  });

  it('undo finds, from the top of several packages, what was done in one of them', () => {
    write({ 'packages/app/package.json': '{}', 'packages/app/src/Hives.jsx': HIVES });
    expect(verkstad(['extract', 'packages/app/src/Hives.jsx:4-4']).status).toBe(0);
    expect(existsSync(join(root, 'packages/app/src/HiveItem.jsx'))).toBe(true);
    expect(verkstad(['undo', '--list']).stdout).toContain('extract HiveItem');
    const done = verkstad(['undo']);
    expect([done.status, done.stderr]).toEqual([0, expect.stringContaining('in packages/app')]);
    expect(readFileSync(join(root, 'packages/app/src/Hives.jsx'), 'utf8')).toBe(HIVES);
  });
});
