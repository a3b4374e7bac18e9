/**
 * The real git. Reading starts no other program: a repository can come with settings and hooks that name programs, so
 * those are switched off on each call, the working tree is never handed to git (its filters would run), and no lock is taken.
 */
import { execFile } from 'node:child_process';
import { problem, type Problem } from '../core/problems/problems.js';

/** Git's own words, first line. */
export class GitError extends Error {}

const MOST_BYTES = 512_000_000;

/** Settings that would start a program, or change what is read. */
const QUIET = [
  'core.fsmonitor=false',
  'core.hooksPath=/dev/null',
  'core.pager=cat',
  'core.alternateRefsCommand=',
  'core.sshCommand=false',
  'core.untrackedCache=false',
  'credential.helper=',
  'diff.external=',
  'log.showSignature=false',
  'protocol.allow=never',
].flatMap((setting) => ['-c', setting]);

/** Variables of the person's shell that would do the same; git reads them before any setting. */
const LOUD =
  /^GIT_(?:EXTERNAL_DIFF|PAGER|SSH|SSH_COMMAND|ASKPASS|EDITOR|SEQUENCE_EDITOR|PROXY_COMMAND|CONFIG.*|DIR|WORK_TREE|INDEX_FILE|TRACE.*)$/;

/** What a reading command of git answers. Throws GitError where git does. */
export function readGit(root: string, args: readonly string[]): Promise<Buffer> {
  const env = Object.fromEntries(Object.entries(process.env).filter(([name]) => !LOUD.test(name)));
  return run(root, [...QUIET, '--no-pager', ...args], {
    ...env,
    GIT_OPTIONAL_LOCKS: '0',
    GIT_TERMINAL_PROMPT: '0',
    GIT_NO_LAZY_FETCH: '1',
  });
}

/** Parts of an answer that end in NUL. */
export function listed(answer: Buffer): string[] {
  return answer.toString('utf8').split('\0').filter(Boolean);
}

export async function isRepository(root: string): Promise<boolean> {
  try {
    return (await readGit(root, ['rev-parse', '--is-inside-work-tree'])).toString().trim() === 'true';
  } catch (error) {
    if (error instanceof GitError) return false;
    throw error;
  }
}

/** Why nothing can be committed: no repository, or changes of the files that are not committed yet. */
export async function commitTrouble(root: string, paths: readonly string[]): Promise<Problem | undefined> {
  return attempt(root, async () => {
    const [open] = listed(await run(root, ['status', '--porcelain', '-z', '--', ...paths], process.env));
    return open === undefined
      ? undefined
      : problem('git-failed', { path: open.slice(3) }, 'the file has changes that are not committed');
  });
}

/** One commit of these files as they are now, and of nothing else; by the person's own settings, hooks included. */
export async function commit(root: string, paths: readonly string[], message: string): Promise<Problem | undefined> {
  return attempt(root, async () => {
    await run(root, ['add', '--', ...paths], process.env);
    await run(root, ['commit', '--quiet', '-m', message, '--', ...paths], process.env);
    return undefined;
  });
}

function run(root: string, args: readonly string[], env: NodeJS.ProcessEnv): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const options = { cwd: root, env, encoding: 'buffer', maxBuffer: MOST_BYTES, windowsHide: true } as const;
    const child = execFile('git', args, options, (error, stdout, stderr) => {
      if (!error) return resolve(stdout);
      const said = stderr
        .toString('utf8')
        .trim()
        .split('\n')[0]!
        .replace(/^(?:fatal|error): /, '');
      const missing = (error as NodeJS.ErrnoException).code === 'ENOENT';
      reject(new GitError(missing ? 'git is not installed' : said || error.message));
    });
    child.stdin?.end();
  });
}

async function attempt(root: string, act: () => Promise<Problem | undefined>): Promise<Problem | undefined> {
  try {
    return await act();
  } catch (error) {
    if (!(error instanceof GitError)) throw error;
    return problem('git-failed', { path: root }, error.message);
  }
}
