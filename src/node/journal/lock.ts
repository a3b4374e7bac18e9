/** One writer at a time in a project. A lock whose owner has died counts for nothing. */
import { readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { isProblem, problem, type Problem } from '../../core/problems/problems.js';
import { newToken } from './writing.js';

interface Owner {
  readonly pid: number;
  readonly host: string;
  /** When the process began, as the system counts; empty where it does not tell. A number is given again to others. */
  readonly began: string;
  readonly doing: string;
}

/** How long one run waits for another, in milliseconds. */
const PATIENCE = 20_000;
/** A lock that says nothing is one that is being written, or was cut short. */
const BLANK = 5_000;

/** Runs something while no other process writes in the project; `waits` is told once who holds it. */
export function locked<T>(
  folder: string,
  doing: string,
  run: () => T | Problem,
  waits: (who: string) => void,
  patience = PATIENCE,
): T | Problem {
  const path = join(folder, 'lock');
  const trouble = take(path, doing, waits, patience);
  if (isProblem(trouble)) return trouble;
  try {
    return run();
  } finally {
    rmSync(path, { force: true });
  }
}

function take(path: string, doing: string, waits: (who: string) => void, patience: number): Problem | undefined {
  const own: Owner = { pid: process.pid, host: hostname(), began: beganAt(process.pid), doing };
  let told = false;
  for (const end = Date.now() + patience; ;) {
    try {
      writeFileSync(path, JSON.stringify(own), { flag: 'wx' });
      return undefined;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    }
    const owner = ownerOf(path);
    if (owner === undefined) continue;
    if (owner === 'dead') {
      setAside(path);
      continue;
    }
    const who = owner === 'unknown' ? 'another run' : `${owner.doing} (process ${owner.pid} on ${owner.host})`;
    if (!told) waits(who);
    told = true;
    if (Date.now() > end) return problem('project-locked', { path: '.verkstad/lock' }, who);
    Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 50);
  }
}

/** Undefined: the lock is gone. */
function ownerOf(path: string): Owner | 'dead' | 'unknown' | undefined {
  try {
    const owner = JSON.parse(readFileSync(path, 'utf8')) as Owner;
    if (typeof owner.pid !== 'number') return 'dead';
    if (owner.host !== hostname()) return owner;
    return isAlive(owner) ? owner : 'dead';
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return undefined;
    const age = Date.now() - (statSync(path, { throwIfNoEntry: false })?.mtimeMs ?? 0);
    return age > BLANK ? 'dead' : 'unknown';
  }
}

function isAlive({ pid, began }: Owner): boolean {
  try {
    process.kill(pid, 0);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ESRCH') return false;
  }
  const now = beganAt(pid);
  return began === '' || now === '' || began === now;
}

/** Field 22 of /proc/PID/stat, behind the name in parentheses; Linux only. */
function beganAt(pid: number): string {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? '';
  } catch {
    return '';
  }
}

/** Two runs may find a dead lock at once: only one of them can take it away. */
function setAside(path: string): void {
  const aside = `${path}.${newToken()}`;
  try {
    renameSync(path, aside);
    rmSync(aside, { force: true });
  } catch {
    // Somebody else was first.
  }
}
