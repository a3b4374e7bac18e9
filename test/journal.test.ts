/** Writing to disk: a process killed between any two writes leaves the old state, or one that the next start puts right. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { createFile, editFile, isProblem } from '../src/core/index.js';
import { Journal } from '../src/node/index.js';
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
  return Object.fromEntries(
    [...filesBelow(root)].filter(([path]) => !path.startsWith('.verkstad/') && !path.endsWith('.verkstad-new')),
  );
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
    expect(existsSync(join(root, '.verkstad'))).toBe(false);
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

  it('keeps a damaged entry from passing unseen', () => {
    new Journal(root).write(change(), 'x');
    const at = join(root, '.verkstad/journal/0001.json');
    writeFileSync(at, readFileSync(at, 'utf8').replace('"done"', '"open"'));
    expect(new Journal(root).recover()).toMatchObject([{ id: 1 }]);
    expect(state()).toEqual(BEFORE);
  });
});
