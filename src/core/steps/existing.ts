/** Whether one of the places is a component already, so that the others can use it. */
import type { Alignment } from '../forms/align.js';
import type { Forms } from '../forms/forms.js';
import { isProblem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import type { Given } from '../propose/repeats/input.js';
import type { Repeat } from '../propose/repeats/repeats.js';
import type { ExistingComponent, Passed } from '../language/unifying.js';

/** `passed` turns what a place hands over into source spans. */
export function existingComponent(
  project: Project,
  forms: Forms,
  repeat: Repeat,
  passed: (given: Given) => Passed,
): ExistingComponent | undefined {
  if (repeat.kind === 'logic') return undefined;
  for (const [place, { path, start, end }] of repeat.places.entries()) {
    const model = project.model(path);
    if (isProblem(model)) continue;
    const component = model.components.find(
      ({ kind, markup, openProps }) =>
        kind === 'function' &&
        !openProps &&
        markup.length === 1 &&
        markup[0]!.start === start &&
        markup[0]!.end === end,
    );
    if (!component || component.exported === 'none') continue;
    const passes = passesFor(
      forms,
      repeat,
      place,
      component.props.map((p) => p.name),
      passed,
    );
    if (passes)
      return {
        place,
        name: component.name,
        path,
        exported: component.exported === 'default' ? 'default' : 'named',
        passes,
      };
  }
  return undefined;
}

/** Undefined where the component takes something that a place does not have, or differs in what is no prop of it. */
function passesFor(
  forms: Forms,
  { alignment, inputs }: Repeat,
  place: number,
  props: readonly string[],
  passed: (given: Given) => Passed,
): Map<string, Passed>[] | undefined {
  const passes = alignment.places.map(() => new Map<string, Passed>());
  for (const input of inputs) {
    const own = input.values[place];
    const name = own && propOf(forms, own);
    const plain = input.sites.length > 0 && input.sites.every((s) => s.kind === 'whole' && !s.head && !s.tail);
    if (name === undefined || !props.includes(name) || !plain || passes[place]!.has(name)) return undefined;
    for (const [p, value] of input.values.entries()) {
      if (!value) return undefined;
      passes[p]!.set(name, passed(value));
    }
  }
  for (const name of props) {
    if (passes[place]!.has(name)) continue;
    const nodes = namesAt(forms, alignment, place, name);
    if (!nodes) return undefined;
    nodes.forEach((node, p) => passes[p]!.set(name, passed({ kind: 'code', node })));
  }
  return passes;
}

/** The prop that a value is, when it is nothing but a prop. */
function propOf(forms: Forms, given: Given): string | undefined {
  if (given.kind === 'code') return forms.labelOf(given.node) === 'name' ? forms.valueOf(given.node) : undefined;
  if (given.kind !== 'markup' || given.nodes.length !== 1) return undefined;
  return forms.labelOf(given.nodes[0]!) === 'outlet' ? forms.valueOf(given.nodes[0]!) : undefined;
}

/** Where a name of the component stands at every place; undefined where it does not. */
function namesAt(forms: Forms, alignment: Alignment, place: number, name: string): number[] | undefined {
  const { first, end } = alignment.places[alignment.reference]!;
  for (let node = first; node < end; node++) {
    const own = alignment.counterparts[place]![node - first]!;
    if (own === -1 || forms.labelOf(own) !== 'name' || forms.valueOf(own) !== name) continue;
    const nodes = alignment.counterparts.map((c) => c[node - first]!);
    return nodes.includes(-1) ? undefined : nodes;
  }
  return undefined;
}
