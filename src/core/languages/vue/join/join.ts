/** What can be joined: a Vue file with blocks elsewhere, a page with templates in it, a script with templates in strings. */
import { isProblem } from '../../../problems/problems.js';
import type { Joined } from '../../../language/joining.js';
import { joinBlocks, partBlocks, whole } from './blocks.js';
import { gather } from './gather.js';
import { needsBuild } from './obstacles.js';
import { joinPage } from './page.js';

export const joining: Joined = {
  join(project, path, options) {
    if (path.endsWith('.vue')) return joinBlocks(project, path);
    if (/\.html?$/.test(path)) return joinPage(project, path, options);
    const file = /\.[cm]?[jt]s$/.test(path) ? project.source(path) : undefined;
    if (!file || isProblem(file)) return undefined;
    const script = { path, text: file.text, typed: /ts$/.test(path), offset: 0 };
    const found = gather(project, script, { find: () => undefined });
    if (!found || isProblem(found)) return found;
    const unbuilt = needsBuild(project, path, options);
    if (unbuilt) return unbuilt;
    return { ...found, edits: new Map([[path, found.edits]]), deleted: [], notes: [] };
  },
  part: partBlocks,
  whole,
};
