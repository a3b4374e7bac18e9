/** Where something stands, in lines and offsets; what is asked of the text between. */
import { Lines, textOf, type Repeat } from '../core/index.js';
import type { RepeatsDocument } from './formats/index.js';
import type { Workspace } from './workspace.js';

/** Lines that go away: those of all places, less one definition, a line for each use and an import for each file. */
export function linesFewer({ project }: Pick<Workspace, 'project'>, { places, alignment }: Repeat): number {
  const lines = linesOfAll(project, places).map(([from, to]) => to - from + 1);
  const files = new Set(places.map((p) => p.path)).size;
  const all = lines.reduce((a, b) => a + b, 0);
  return Math.max(0, all - lines[alignment.reference]! - places.length - files);
}

export function placesOf(
  workspace: Pick<Workspace, 'project'>,
  repeat: Repeat,
): RepeatsDocument['groups'][number]['places'] {
  const lines = linesOfAll(workspace.project, repeat.places);
  return repeat.places.map(({ path, start, end, component }, i) => ({
    path,
    lines: lines[i]!,
    range: [start, end],
    ...(component === undefined ? {} : { component }),
  }));
}

/** The first and the last line of each place; a file with thousands of them is read once. */
function linesOfAll(project: Workspace['project'], places: Repeat['places']): [from: number, to: number][] {
  const files = new Map<string, Lines>();
  return places.map((place) => {
    const lines = files.get(place.path) ?? new Lines(textOf(project.files, place.path) ?? '');
    files.set(place.path, lines);
    return lines.range(place);
  });
}

/** The source between two offsets; each file is read once. */
export function slicer(workspace: Pick<Workspace, 'project'>): (path: string, start: number, end: number) => string {
  const texts = new Map<string, string>();
  return (path, start, end) => {
    const text = texts.get(path) ?? textOf(workspace.project.files, path) ?? '';
    texts.set(path, text);
    return text.slice(start, end);
  };
}

export function linesOf(
  workspace: Pick<Workspace, 'project'>,
  path: string,
  span: { start: number; end: number },
): [number, number] {
  const [first, last] = new Lines(textOf(workspace.project.files, path) ?? '').range(span);
  return [first, last];
}
