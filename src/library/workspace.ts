/** A project that is open: where it stands, what its configuration says, its files with what has been read of them. */
import { Project, isProblem, type Problem } from '../core/index.js';
import { readConfig, type Config } from '../node/config.js';
import { DiskFiles } from '../node/disk.js';
import { nodePorts } from '../node/ports.js';

export interface Workspace {
  /** Absolute path. */
  readonly root: string;
  readonly config: Config;
  readonly project: Project;
  /** Where the user keeps caches is said there. */
  readonly env: Readonly<Record<string, string | undefined>>;
}

/** Reads what is on the disk below `root`; `named`: a path that is meant, whatever the ignore rules say. */
export async function openWorkspace(root: string, env: Workspace['env'], named?: string): Promise<Workspace | Problem> {
  const config = await readConfig(root);
  if (isProblem(config)) return config;
  const files = new DiskFiles(root, {
    ...(named === undefined ? {} : { named: [named] }),
    ...(config.exclude ? { exclude: config.exclude } : {}),
    ...(config.maxFileBytes ? { maxFileBytes: config.maxFileBytes } : {}),
  });
  const project = await Project.open(files, {
    ...nodePorts(),
    ...(config.readsChildren ? { readsChildren: new Set(config.readsChildren) } : {}),
  });
  return { root, config, project, env };
}
