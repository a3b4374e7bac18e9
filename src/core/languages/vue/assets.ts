/** Files that a template shows: Vue's compiler asks for them by their paths as for modules. */
import { dirname } from '../../files/paths.js';
import type { Ports } from '../../language/ports.js';
import { isProblem } from '../../problems/problems.js';
import { applyEdits } from '../../text/edits.js';
import { rebasedLoads, rebasedSource } from '../imports.js';
import { isDirective, piecesOf } from './pieces.js';
import { parseSfc } from './sfc.js';
import { KIND, type AttributeNode, type ElementNode, type TemplateChildNode } from './template.js';

const SHOWN: ReadonlyMap<string, readonly string[]> = new Map([
  ['img', ['src', 'srcset']],
  ['source', ['src', 'srcset']],
  ['video', ['src', 'poster']],
  ['image', ['href', 'xlink:href']],
  ['use', ['href', 'xlink:href']],
]);

/** A path or an alias in what an attribute says; `srcset` has several: `./comb.png 1x, ./large.png 2x`. */
const PATH = /(?<=^["']?\s*|,\s*)[.~@][^\s,"']*/g;

/** A plain attribute that the compiler makes an import of. */
export function isAsset(tag: string, { name, value }: AttributeNode): boolean {
  return value !== undefined && value.content.search(PATH) >= 0 && SHOWN.get(tag)?.includes(name) === true;
}

/** A file that was written with the paths of `from`, with those of its own folder in all but its imports and styles. */
export function rebased(text: string, from: string, path: string, ports: Ports): string {
  if (dirname(from) === dirname(path)) return text;
  const sfc = parseSfc({ path, text }, ports);
  if (isProblem(sfc)) return text;
  const script = [sfc.script, sfc.setup].flatMap((block) => block?.script.program.body ?? []);
  const shown = piecesOf(sfc.shown, text).flatMap(({ offset }) => sfc.pieces.get(offset) ?? []);
  const edits = [...script, ...shown].flatMap((node) => rebasedLoads(node, from, path));
  const visit = (node: TemplateChildNode): void => {
    if (node.type !== (KIND.element as number)) return;
    const element = node as ElementNode;
    for (const prop of element.props) {
      if (isDirective(prop) || !isAsset(element.tag, prop)) continue;
      const [start, end] = [prop.value!.loc.start.offset, prop.value!.loc.end.offset];
      const moved = text.slice(start, end).replace(PATH, (written) => rebasedSource(written, from, path));
      edits.push({ start, end, text: moved });
    }
    element.children.forEach(visit);
  };
  sfc.shown.forEach(visit);
  return applyEdits(text, edits);
}
