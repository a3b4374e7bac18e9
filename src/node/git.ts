/** Commits, made by the real git. */
import { GitError, simpleGit } from 'simple-git';
import { problem, type Problem } from '../core/problems/problems.js';

/** Why nothing can be committed: no repository, or changes of the files that are not committed yet. */
export async function commitTrouble(root: string, paths: readonly string[]): Promise<Problem | undefined> {
  return attempt(root, async () => {
    const status = await simpleGit(root).status(['--', ...paths]);
    const open = status.files[0];
    return open && problem('git-failed', { path: open.path }, 'the file has changes that are not committed');
  });
}

/** One commit of these files as they are now, and of nothing else. */
export async function commit(root: string, paths: readonly string[], message: string): Promise<Problem | undefined> {
  return attempt(root, async () => {
    const git = simpleGit(root);
    await git.add([...paths]);
    await git.commit(message, [...paths]);
    return undefined;
  });
}

async function attempt(root: string, run: () => Promise<Problem | undefined>): Promise<Problem | undefined> {
  try {
    return await run();
  } catch (error) {
    if (!(error instanceof GitError)) throw error;
    return problem('git-failed', { path: root }, error.message.split('\n')[0]!.replace(/^fatal: /, ''));
  }
}
