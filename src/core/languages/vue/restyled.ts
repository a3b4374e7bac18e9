/** Scoped styles and a tag that is written in another template: its outermost element has the scope of the one that it stands in. */
import type { Ports } from '../../language/ports.js';
import type { ProjectView } from '../../language/project.js';
import type { ElementNode, Markup } from '../../markup/model.js';
import { isProblem } from '../../problems/problems.js';
import { rulesIn } from '../style-rules.js';
import { mayMatch, styledOf, type Styled } from '../stylesheet.js';
import { pascal } from './definition.js';
import { hasAttribute, type Sfc } from './sfc.js';

/** Whether scoped rules of a file reach what a tag in its template shows outermost; `own`: or what goes through its outlets. */
export function restyles({ styles, text }: Sfc, ports: Ports, roots: readonly Styled[], own: boolean): boolean {
  const scoped = styles.filter((block) => hasAttribute(block.node, 'scoped'));
  return scoped.some((block) => {
    const css = text.slice(block.inner.start, block.inner.end);
    const entries = block.src === undefined ? ports.styles?.parse(css, block.lang ?? 'css') : undefined;
    if (!entries) return true;
    return rulesIn(entries)
      .flatMap((rule) => rule.selectors)
      .some(
        ({ reach, subject }) =>
          (reach === 'outlet' && own) || (reach === 'scoped' && roots.some((root) => mayMatch(subject, root))),
      );
  });
}

/** What a tag of the file at `path` shows outermost, where that is one element; none of several has the scope. */
export function rootsOf(project: ProjectView, path: string, tag: string, seen: Set<string> = new Set()): Styled[] {
  const unknown: Styled = { tag: undefined, classes: new Set(), open: true, id: undefined };
  const model = project.model(path);
  if (isProblem(model)) return [unknown];
  const source = model.imports.find((i) => pascal(i.local) === pascal(tag))?.source;
  const found = source === undefined ? undefined : project.resolver.resolve(path, source);
  const target = found?.kind === 'file' && !seen.has(found.path) ? project.model(found.path) : undefined;
  if (found?.kind !== 'file' || !target || isProblem(target)) return [unknown];
  seen.add(found.path);
  const [shown, ...others] = target.components.flatMap((c) => c.markup.filter((n) => n.kind !== 'comment'));
  if (!shown || others.length > 0) return [];
  return rootsIn(shown).flatMap((root) => {
    const own = styledOf(root);
    if (!root.component) return [own];
    return rootsOf(project, found.path, root.name, seen).map((inner) => ({
      ...inner,
      classes: new Set([...inner.classes, ...own.classes]),
      open: inner.open || own.open,
    }));
  });
}

/** One arm of a choice at a time is shown. */
function rootsIn(node: Markup): ElementNode[] {
  if (node.kind === 'element') return [node];
  return node.kind === 'branch' ? node.arms.flatMap((arm) => arm.body.flatMap(rootsIn)) : [];
}
