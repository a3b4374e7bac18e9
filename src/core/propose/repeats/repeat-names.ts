/** Names for what places have in common. */
import type { Alignment } from '../../forms/align.js';
import type { Forms } from '../../forms/forms.js';
import type { RepeatKind } from '../../analyze/repeats/candidates.js';
import { isProblem } from '../../problems/problems.js';
import type { Project } from '../../project/project.js';
import type { Markup } from '../../markup/model.js';
import { textOf } from '../../files/files.js';
import { componentNameFromFile } from '../../files/paths.js';
import { proposeNames } from '../names.js';
import type { RepeatPlace } from './repeats.js';

export function nameOfRepeat(
  project: Project,
  kind: RepeatKind,
  places: readonly RepeatPlace[],
  alignment: Alignment,
  forms: Forms,
): string {
  if (kind === 'frame') return 'PageLayout';
  if (kind === 'logic') return logicName(alignment, forms);
  // What every place would be called is what they have in common; a heading of one of them is not.
  const proposals = places.slice(0, MOST_ASKED).map((place) => namesAt(project, place));
  const first = proposals[0]!;
  const common = first.find((name) => proposals.every((names) => names.includes(name)));
  return common ?? first[first.length - 1]!;
}

/** Places that are asked for a name. */
const MOST_ASKED = 5;

function namesAt(project: Project, place: RepeatPlace): string[] {
  const host = place.component ?? componentNameFromFile(place.path);
  const text = textOf(project.files, place.path) ?? '';
  const names = proposeNames(markupAt(project, place), { text, host, comment: undefined, loop: undefined });
  return [...names, `${host}Part`];
}

/** The markup nodes of a place. */
export function markupAt(project: Project, place: RepeatPlace): Markup[] {
  const file = project.source(place.path);
  if (isProblem(file)) return [];
  const lists = file.language.lists(file, project.ports);
  if (isProblem(lists)) return [];
  for (const list of lists) {
    const nodes = list.filter((n) => n.start >= place.start && n.end <= place.end && n.kind !== 'comment');
    if (nodes[0]?.start === place.start && nodes[nodes.length - 1]!.end === place.end) return nodes;
  }
  return [];
}

/** The name that most of the functions have, else the first. */
function logicName(alignment: Alignment, forms: Forms): string {
  const names = alignment.places.flatMap(({ first, end }) => {
    for (let node = first; node < end; node++) if (forms.labelOf(node) === 'binding') return [forms.valueOf(node)];
    return [];
  });
  const counts = new Map<string, number>();
  for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 'shared';
}
