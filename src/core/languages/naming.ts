/** Names of new files, after those around them. */
import { basename, dirname, extname } from '../files/paths.js';
import { roomFor } from './rooms.js';
import type { Project } from '../project/project.js';

/** The file for a new component: beside the host, named as the files around it are. */
export function fileFor(project: Project, hostPath: string, name: string, kind: 'markup' | 'logic' = 'markup'): string {
  const dir = roomFor(project.files, hostPath);
  const host = basename(hostPath).replace(/\.[^.]*$/, '');
  const beside = project.files.list().filter((p) => dirname(p) === dir && extname(p) === extname(hostPath));
  const stems = beside.map((p) => basename(p).replace(/\.[^.]*$/, '')).filter((s) => s !== 'index');
  const kebab = stems.filter((s) => /^[a-z0-9]+(-[a-z0-9]+)+$/.test(s)).length;
  const pascal = stems.filter((s) => /^[A-Z]/.test(s)).length;
  const camel = stems.filter((s) => /^[a-z]+[A-Z]/.test(s)).length;
  const suffix = /\.(component|view|screen)$/.exec(host)?.[0] ?? '';
  const kebabed = name
    .replace(/([a-z0-9])([A-Z])/g, '$1-$2')
    .replace(/([A-Z])([A-Z][a-z])/g, '$1-$2')
    .toLowerCase();
  const stem = kebab > pascal || suffix ? kebabed : camel > pascal ? name[0]!.toLowerCase() + name.slice(1) : name;
  const extension = kind === 'logic' ? extname(hostPath).replace(/x$/, '') : extname(hostPath);
  return (dir ? `${dir}/` : '') + stem + (kind === 'logic' ? '' : suffix) + extension;
}
