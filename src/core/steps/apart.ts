/** The step that takes what a component shows apart from what it knows: its markup becomes a component that only takes and reports. */
import type { ComponentModel, Markup } from '../markup/model.js';
import { walkMarkup } from '../markup/walk.js';
import { regionOf } from '../markup/region.js';
import type { Span } from '../text/edits.js';
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import { extract, type ExtractChange, type ExtractRequest } from './extract.js';

export interface ApartRequest extends Omit<ExtractRequest, 'range' | 'into' | 'showing'> {
  /** Its name in the file. */
  readonly component: string;
}

/** The change, proven or not (see `proof`), or why there can be none. */
export function apart(project: Project, { component: name, ...request }: ApartRequest): ExtractChange | Problem {
  return withinDepth(request.path, () => {
    const at = { path: request.path };
    const file = project.source(request.path);
    if (isProblem(file)) return file;
    const { label, lacks } = file.language;
    if (lacks.apart !== undefined) return problem('apart-language', at, label, lacks.apart);
    const model = project.model(request.path);
    if (isProblem(model)) return model;
    const components = model.components.filter((c) => c.kind !== 'helper');
    const component = components.find((c) => c.name === name);
    const known = components.map((c) => c.name);
    if (!component) return problem('apart-unknown', at, name, known);
    const main = mainOf(component);
    if (!showsMore(main)) return problem('apart-nothing', { ...at, span: component }, name);
    return extract(project, { name: nameFor(name), ...request, range: regionOf(main), showing: true });
  });
}

/** Whether there is more than a lone component, or components around the content that was given. */
function showsMore(main: readonly Markup[]): boolean {
  const [only] = main;
  const isLone = main.length === 1 && only?.kind === 'element' && only.component && only.children.length === 0;
  let holdsElements = false;
  walkMarkup(main, (node) => {
    holdsElements ||= node.kind === 'element';
    return !holdsElements;
  });
  return holdsElements && !isLone && !main.every(isAround);
}

function isAround(node: Markup): boolean {
  if (node.kind === 'outlet') return true;
  return (
    node.kind === 'element' && node.component && node.children.length > 0 && shownIn(node.children).every(isAround)
  );
}

/** The biggest thing that it gives back: what stands there while something is missing or has failed is no part of it. */
function mainOf({ markup }: ComponentModel): readonly Markup[] {
  const [first] = bySize(shownIn(markup));
  if (!first) return [];
  // What has no text of its own is all that stands there.
  if (first.kind === 'fragment' && first.children[0]?.start === first.start) return shownIn(first.children);
  if (first.kind !== 'branch') return [first];
  const bodies = bySize(
    first.arms.map(({ body }) => shownIn(body)).flatMap((body) => (body.length > 0 ? regionOf(body) : [])),
  );
  const [main, ...others] = bodies;
  const isMain = main && others.every((other) => lengthOf(other) * 3 < lengthOf(main));
  return isMain ? main.nodes : [first];
}

function shownIn(nodes: readonly Markup[]): readonly Markup[] {
  return nodes.filter((node) => node.kind !== 'comment');
}

function bySize<T extends Span>(pieces: readonly T[]): T[] {
  return [...pieces].sort((a, b) => lengthOf(b) - lengthOf(a));
}

function lengthOf({ start, end }: Span): number {
  return end - start;
}

/** `HivesView` for `Hives`, and `Hives` for `HivesContainer`. */
function nameFor(name: string): string {
  const shown = name.replace(/Container$/, '');
  if (shown !== name && shown !== '') return shown;
  return /View$/.test(name) ? `${name}Content` : `${name}View`;
}
