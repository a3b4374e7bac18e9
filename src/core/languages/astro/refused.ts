/** What no step does with a region of an Astro file, and why. */
import type { CutRequest } from '../../language/cutting.js';
import type { Ports, SourceFile } from '../../language/ports.js';
import type { UnifyRequest } from '../../language/unifying.js';
import { isProblem, problem, type Problem } from '../../problems/problems.js';
import type { Node } from '../../script/parser.js';
import { spanOf, walk, within } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';
import { nameOf } from './body.js';
import { isComponentTag } from '../jsx/markup.js';
import { slotFor } from './content.js';
import { parseUnit } from './unit.js';

export function refusedCut({ file, region, target, ports }: CutRequest): Problem | undefined {
  if (target === undefined) return problem('same-file-one', { path: file.path, span: region }, 'An Astro file');
  return refusedIn(file, region, ports);
}

export function refusedUnify({ kind, places, target, existing, asList, ports }: UnifyRequest): Problem | undefined {
  const [first] = places;
  const at = { path: first!.file.path, span: first!.span };
  if (kind === 'logic') return problem('unify-language', at, 'logic');
  if (asList) return problem('unify-language', at, 'a list of records');
  if (target === undefined && !existing) return problem('same-file-one', at, 'An Astro file');
  for (const { file, span } of places) {
    const refused = refusedIn(file, span, ports);
    if (refused) return refused;
  }
  return undefined;
}

function refusedIn(file: SourceFile, region: Span, ports: Ports): Problem | undefined {
  const unit = parseUnit(file, ports);
  if (isProblem(unit)) return unit;
  const at = { path: file.path, span: { start: region.start, end: region.end } };
  // What a style sheet reaches, and when a script runs, hangs on the file that it stands in.
  const own = unit.raw.find((raw) => within(raw, region) && !raw.attributes.some((a) => nameOf(a) === 'is:inline'));
  if (own) return problem('region-own-block', { path: file.path, span: own }, `<${own.tag}>`);
  const content = contentLeft(unit.children, region);
  if (content) return problem('region-slot', at, content);
  const member = /\bAstro\.(?:slots|self)\b/.exec(file.text.slice(region.start, region.end))?.[0];
  return member === undefined ? undefined : problem('region-arguments', at, member);
}

/** The slot that some of a region is content for, where other content of the same component goes along with it. */
function contentLeft(children: readonly Node[], region: Span): string | undefined {
  let found: string | undefined;
  for (const root of children)
    walk(root, (node) => {
      if (node.type !== 'JSXElement' || !isComponentTag(node.openingElement.name)) return found === undefined;
      if (within(spanOf(node), region)) return false;
      // A text may reach beyond the part of it that is shown.
      const inside = node.children.filter((child) =>
        child.type === 'JSXText'
          ? child.range[1] > region.start && child.range[0] < region.end
          : within(spanOf(child), region),
      );
      const named = inside.map((child) => slotFor(child)).find((name) => name !== undefined);
      if (named !== undefined && inside.filter((c) => c.type !== 'JSXText' || c.value.trim()).length > 1) found = named;
      return found === undefined;
    });
  return found;
}
