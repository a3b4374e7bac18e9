/** Writing to disk: a process killed between any two writes leaves the old state, or one that the next start puts right. */
import { spawn, spawnSync } from 'node:child_process';
import {
  chmodSync,
  existsSync,
  linkSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { hostname, tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { createFile, editFile, isProblem } from '../src/core/index.js';
import { Journal, realOperations, type DiskOperations } from '../src/node/index.js';
import { filesBelow } from './support/projects.js';

const DIST = new URL('../dist', import.meta.url).href;
const BEFORE = { 'src/App.jsx': 'one\n', 'src/Row.jsx': 'row\n' };

let root: string;
beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'verkstad-journal-'));
  mkdirSync(join(root, 'src'));
  for (const [path, text] of Object.entries(BEFORE)) writeFileSync(join(root, path), text);
});
afterEach(() => rmSync(root, { recursive: true, force: true }));

const change = () => ({
  step: 'extract',
  files: [
    editFile('src/App.jsx', 'one\n', [{ start: 0, end: 3, text: 'two' }]),
    createFile('src/parts/New.jsx', 'new\n'),
    editFile('src/Row.jsx', 'row\n', [{ start: 0, end: 0, text: '// ' }]),
  ],
});
const AFTER = { 'src/App.jsx': 'two\n', 'src/Row.jsx': '// row\n', 'src/parts/New.jsx': 'new\n' };

/** The project's own files, the journal left out. */
function state(): Record<string, string> {
  return Object.fromEntries([...filesBelow(root)].filter(([path]) => !path.startsWith('.verkstad/')));
}

/** Names that a run writes beside its places, and that are gone when it has ended. */
function leftBeside(): string[] {
  return readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((path) => /\.(?:verkstad-)?new$/.test(path));
}

/** A disk on which operation number `stop` fails, and no other. */
function failingAt(stop: number): DiskOperations {
  let left = stop;
  const failing =
    <T extends unknown[]>(run: (...args: T) => void) =>
    (...args: T) => {
      if (left-- === 0) throw Object.assign(new Error('no space'), { code: 'ENOSPC' });
      run(...args);
    };
  const real = realOperations;
  return {
    write: failing((path: string, text: string, like?: Parameters<DiskOperations['write']>[2]) =>
      real.write(path, text, like),
    ),
    rename: failing((from: string, to: string) => real.rename(from, to)),
    remove: (path) => real.remove(path),
  };
}

/** Does `work` in a process of its own that kills itself before its disk operation number `stop`. */
function killedAt(stop: number, work: string): boolean {
  const script = `
    import { Journal, realOperations } from '${DIST}/node/index.js';
    let left = ${stop};
    const die = (run) => (...args) => { if (left-- === 0) process.kill(process.pid, 'SIGKILL'); return run(...args); };
    const disk = { write: die(realOperations.write), rename: die(realOperations.rename), remove: die(realOperations.remove) };
    const journal = new Journal(${JSON.stringify(root)}, disk);
    ${work}
  `;
  return spawnSync(process.execPath, ['--input-type=module', '-e', script]).signal === 'SIGKILL';
}

describe('journal', () => {
  it('writes, undoes, and undoes in order', () => {
    const journal = new Journal(root);
    expect(isProblem(journal.write(change(), 'first'))).toBe(false);
    expect(state()).toEqual(AFTER);
    journal.write(
      { step: 'extract', files: [editFile('src/App.jsx', 'two\n', [{ start: 0, end: 3, text: 'six' }])] },
      'second',
    );
    expect(journal.entries().map((e) => [e.id, e.state])).toEqual([
      [1, 'done'],
      [2, 'done'],
    ]);
    expect(journal.undo(1)).toMatchObject([{ id: 2 }, { id: 1 }]);
    expect(state()).toEqual(BEFORE);
    expect(journal.undo()).toMatchObject({ code: 'undo-nothing' });
  });

  it('writes nothing where a file changed meanwhile, or stands in the way', () => {
    writeFileSync(join(root, 'src/Row.jsx'), 'edited\n');
    expect(new Journal(root).write(change(), 'x')).toMatchObject({ code: 'changed-meanwhile', path: 'src/Row.jsx' });
    expect(state()).toEqual({ ...BEFORE, 'src/Row.jsx': 'edited\n' });
    writeFileSync(join(root, 'src/Row.jsx'), 'row\n');
    mkdirSync(join(root, 'src/parts'));
    writeFileSync(join(root, 'src/parts/New.jsx'), 'mine\n');
    expect(new Journal(root).write(change(), 'x')).toMatchObject({ code: 'target-exists' });
    expect(new Journal(root).entries()).toEqual([]);
  });

  it('refuses to undo over an edit, and names the file', () => {
    const journal = new Journal(root);
    journal.write(change(), 'x');
    writeFileSync(join(root, 'src/parts/New.jsx'), 'edited\n');
    expect(journal.undo()).toMatchObject({ code: 'undo-edited', path: 'src/parts/New.jsx' });
    expect(state()).toEqual({ ...AFTER, 'src/parts/New.jsx': 'edited\n' });
  });

  it('writes nothing outside the root, through a link neither', () => {
    const outside = mkdtempSync(join(tmpdir(), 'verkstad-outside-'));
    symlinkSync(outside, join(root, 'src/link'));
    for (const path of ['../escape.jsx', 'src/link/escape.jsx']) {
      expect(new Journal(root).write({ step: 'extract', files: [createFile(path, 'x')] }, 'x')).toMatchObject({
        code: 'target-outside',
      });
    }
    expect([...filesBelow(outside)]).toEqual([]);
    rmSync(outside, { recursive: true });
  });

  it.each(['write', 'undo'])('survives being killed at any moment of %s', (kind) => {
    const work = kind === 'write' ? `journal.write(${JSON.stringify(change())}, 'x');` : 'journal.undo();';
    let kills = 0;
    for (let stop = 0; ; stop++) {
      if (kind === 'undo') new Journal(root).write(change(), 'x');
      const killed = killedAt(stop, work);
      if (killed) kills++;
      const recovered = new Journal(root).recover();
      expect(isProblem(recovered), `stopped at ${stop}`).toBe(false);
      const now = JSON.stringify(state());
      expect([JSON.stringify(BEFORE), JSON.stringify(AFTER)], `stopped at ${stop}`).toContain(now);
      expect(new Journal(root).entries().every((e) => e.state === 'done' || e.state === 'undone')).toBe(true);
      if (!killed) {
        expect(now).toBe(JSON.stringify(kind === 'write' ? AFTER : BEFORE));
        break;
      }
      if (now === JSON.stringify(AFTER)) new Journal(root).undo();
      expect(state()).toEqual(BEFORE);
    }
    expect(kills).toBeGreaterThan(7);
  });

  it('takes a change whole or not at all, whatever fails', () => {
    let failures = 0;
    for (let stop = 0; ; stop++) {
      const result = new Journal(root, failingAt(stop)).write(change(), 'x');
      expect(leftBeside()).toEqual([]);
      if (!isProblem(result)) break;
      failures++;
      expect(result).toMatchObject({ code: stop >= 8 ? 'write-broken' : 'write-failed' });
      expect(result.message).toContain('the disk is full');
      if (result.code === 'write-broken')
        expect(new Journal(root).recover()).toMatchObject({ takenBack: [{ state: 'undone' }] });
      expect(state(), `failed at ${stop}`).toEqual(BEFORE);
      expect(existsSync(join(root, 'src/parts'))).toBe(result.code === 'write-broken');
    }
    expect(failures).toBe(10);
    expect(state()).toEqual(AFTER);
    expect(new Journal(root, failingAt(3)).undo()).toMatchObject({ code: 'write-failed' });
    expect(state()).toEqual(AFTER);
    expect(isProblem(new Journal(root).undo())).toBe(false);
    expect(state()).toEqual(BEFORE);
  });

  it('writes all bytes or nothing where the system takes only a part', () => {
    const big = 'x'.repeat(200_000);
    writeFileSync(join(root, 'src/App.jsx'), big);
    const script = `
      import { Journal } from '${DIST}/node/index.js';
      import { editFile } from '${DIST}/core/index.js';
      process.on('SIGXFSZ', () => {});
      const files = [editFile('src/App.jsx', 'x'.repeat(200000), [{ start: 0, end: 0, text: 'y'.repeat(300000) }])];
      console.log(JSON.stringify(new Journal(${JSON.stringify(root)}).write({ step: 'extract', files }, 'x')));
    `;
    // Blocks of 1,024 bytes; the record holds both texts.
    for (const blocks of [300, 600, 1_000]) {
      const run = `ulimit -f ${blocks}; exec ${process.execPath} --input-type=module -e "$0"`;
      const done = spawnSync('bash', ['-c', run, script], { encoding: 'utf8' });
      expect(done.stdout, done.stderr).toContain(blocks === 1_000 ? '"done"' : '"write-failed"');
      expect(readFileSync(join(root, 'src/App.jsx'), 'utf8').length).toBe(blocks === 1_000 ? 500_000 : 200_000);
    }
  });

  it('keeps permissions and links, and refuses what is not to be written', () => {
    chmodSync(join(root, 'src/App.jsx'), 0o755);
    chmodSync(join(root, 'src/Row.jsx'), 0o600);
    writeFileSync(join(root, 'real.jsx'), 'real\n');
    symlinkSync('../real.jsx', join(root, 'src/Link.jsx'));
    const linked = editFile('src/Link.jsx', 'real\n', [{ start: 0, end: 4, text: 'more' }]);
    const journal = new Journal(root);
    expect(isProblem(journal.write({ step: 'extract', files: [...change().files, linked] }, 'x'))).toBe(false);
    expect(statSync(join(root, 'src/App.jsx')).mode & 0o777).toBe(0o755);
    expect(statSync(join(root, 'src/Row.jsx')).mode & 0o777).toBe(0o600);
    expect(readFileSync(join(root, 'real.jsx'), 'utf8')).toBe('more\n');
    journal.undo();
    expect(statSync(join(root, 'src/App.jsx')).mode & 0o777).toBe(0o755);
    expect(state()).toEqual({ ...BEFORE, 'real.jsx': 'real\n', 'src/Link.jsx': 'real\n' });

    chmodSync(join(root, 'src/Row.jsx'), 0o444);
    expect(journal.write(change(), 'x')).toMatchObject({ code: 'file-locked', path: 'src/Row.jsx' });
    chmodSync(join(root, 'src/Row.jsx'), 0o644);
    linkSync(join(root, 'src/Row.jsx'), join(root, 'Other.jsx'));
    expect(journal.write(change(), 'x')).toMatchObject({ code: 'file-locked', path: 'src/Row.jsx' });
    expect(state()).toMatchObject(BEFORE);
  });

  it('follows no link to its own folder, and goes around what lies in the way', () => {
    const outside = mkdtempSync(join(tmpdir(), 'verkstad-outside-'));
    symlinkSync(outside, join(root, '.verkstad'));
    expect(new Journal(root).write(change(), 'x')).toMatchObject({ code: 'own-folder', path: '.verkstad' });
    rmSync(join(root, '.verkstad'));
    mkdirSync(join(root, '.verkstad'));
    symlinkSync(outside, join(root, '.verkstad/journal'));
    expect(new Journal(root).write(change(), 'x')).toMatchObject({ code: 'own-folder', path: '.verkstad/journal' });
    expect([...filesBelow(outside)]).toEqual([]);
    expect(state()).toEqual(BEFORE);
    rmSync(outside, { recursive: true });
  });

  it('carries out nothing that this user did not write', () => {
    const journal = new Journal(root);
    journal.write(change(), 'x');
    const at = join(root, '.verkstad/journal/0001.json');
    const text = readFileSync(at, 'utf8');
    for (const forged of [
      text.replace('"done"', '"open"'),
      text.replace('"src/Row.jsx"', '"../../etc/cron.d/x"'),
      text.replace(/"seal": "[0-9a-f]+"/, '"seal": ""'),
    ]) {
      expect(forged).not.toBe(text);
      writeFileSync(at, forged);
      expect(journal.recover()).toMatchObject({ takenBack: [] });
      expect(journal.entries()).toEqual([]);
      expect(journal.contents().foreign).toHaveLength(1);
      expect(journal.undo()).toMatchObject({ code: 'undo-foreign' });
      expect(journal.undo(1)).toMatchObject({ code: 'undo-foreign' });
      expect(state()).toEqual(AFTER);
    }
  });

  it('names a damaged entry and puts it aside; the others go on', () => {
    const journal = new Journal(root);
    journal.write(change(), 'x');
    writeFileSync(join(root, '.verkstad/journal/0002.json'), '{"half');
    writeFileSync(join(root, '.verkstad/journal/0003.json'), '{}');
    expect(journal.recover()).toMatchObject({
      damaged: ['.verkstad/journal/0002.json.damaged', '.verkstad/journal/0003.json.damaged'],
    });
    expect(journal.undo()).toMatchObject([{ id: 1 }]);
    expect(state()).toEqual(BEFORE);
  });

  it('leaves a way out where a crash was followed by an edit', () => {
    expect(killedAt(5, `journal.write(${JSON.stringify(change())}, 'x');`)).toBe(true);
    writeFileSync(join(root, 'src/App.jsx'), 'mine\n');
    const journal = new Journal(root);
    expect(journal.recover()).toMatchObject({ takenBack: [], stuck: [{ path: 'src/App.jsx' }] });
    const another = { step: 'extract', files: [createFile('src/Other.jsx', 'x')] };
    const refused = journal.write(another, 'y');
    expect(refused).toMatchObject({ code: 'journal-open' });
    expect(isProblem(refused) && refused.instead[0]).toContain('undo 1 --as-is');
    expect(journal.leave(1)).toMatchObject({ state: 'left' });
    expect(leftBeside()).toEqual([]);
    expect(isProblem(journal.write(another, 'y'))).toBe(false);
    expect(state()['src/App.jsx']).toBe('mine\n');
  });

  it('waits for another run, says who it is, and takes over from one that died', async () => {
    new Journal(root).write(change(), 'x');
    const lock = join(root, '.verkstad/lock');
    const child = spawn(process.execPath, ['-e', 'setTimeout(() => {}, 60_000)']);
    writeFileSync(lock, JSON.stringify({ pid: child.pid, host: hostname(), began: '', doing: 'verkstad extract' }));
    const waits: string[] = [];
    const script = `
      import { Journal } from '${DIST}/node/index.js';
      const journal = new Journal(${JSON.stringify(root)}, undefined, (who) => console.log(who));
      console.log(JSON.stringify(journal.undo()));
    `;
    const other = spawn(process.execPath, ['--input-type=module', '-e', script]);
    for await (const chunk of other.stdout) {
      waits.push(String(chunk));
      if (waits.length === 1) {
        expect(state()).toEqual(AFTER);
        child.kill('SIGKILL');
      }
    }
    expect(waits.join('')).toMatch(/^verkstad extract \(process \d+ on .*\)\n\[\{/);
    expect(state()).toEqual(BEFORE);
    expect(existsSync(lock)).toBe(false);
  });

  it('keeps the last hundred changes', () => {
    const journal = new Journal(root);
    for (let i = 0; i < 103; i++) journal.write({ step: 'extract', files: [createFile(`src/${i}.jsx`, 'x')] }, 'x');
    expect(journal.entries().map((e) => e.id)).toEqual(Array.from({ length: 100 }, (_, i) => i + 4));
  }, 60_000);
});
