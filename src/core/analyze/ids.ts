/** Ids and what refers to them: an id that can stand twice on the page, a reference to an id that is nowhere. */
import type { Attribute, ComponentModel, ElementNode, Markup } from '../markup/model.js';
import { childLists } from '../markup/walk.js';
import type { Lines } from '../text/lines.js';

export interface IdTrouble {
  readonly code: 'id-twice' | 'id-missing';
  /** 1-based, inclusive. */
  readonly lines: readonly [number, number];
  readonly message: string;
}

/** Attributes whose value is one id, or several with spaces between them. */
const LISTS =
  /^(?:for|htmlFor|form|list|headers|itemref|popovertarget|commandfor|aria-(?:activedescendant|controls|describedby|details|errormessage|flowto|labelledby|owns))$/;
/** Attributes whose value names an id as an address or a selector: `#id`. */
const HASHES = /^(?:href|xlink:href|data-[\w-]+)$/;
/** A colour looks like the address of an id. */
const COLOUR = /^#(?:[\da-f]{3,4}|[\da-f]{6}|[\da-f]{8})$/i;

/** What is wrong in one component. References to nowhere are only told of a page: elsewhere another component may have the id. */
export function idTroubles(component: ComponentModel, lines: Lines): IdTrouble[] {
  const found = new Ids();
  found.visit(component.markup, false);
  const at = (place: Attribute): readonly [number, number] => lines.range(place);
  const troubles: IdTrouble[] = [];
  for (const [id, places] of found.ids) {
    const [first, second] = places;
    if (second)
      troubles.push({
        code: 'id-twice',
        lines: at(second),
        message: `id "${id}" stands ${places.length} times, first in line ${at(first!)[0]}`,
      });
  }
  for (const [id, place] of found.looped)
    troubles.push({ code: 'id-twice', lines: at(place), message: `id "${id}" is the same in every turn of a loop` });
  if (component.kind !== 'page' || found.foreign) return troubles;
  for (const { id, place } of found.references)
    if (!found.ids.has(id))
      troubles.push({
        code: 'id-missing',
        lines: at(place),
        message: `${place.name} names "${id}", an id that is nowhere`,
      });
  return troubles;
}

class Ids {
  readonly ids = new Map<string, Attribute[]>();
  readonly looped = new Map<string, Attribute>();
  readonly references: { readonly id: string; readonly place: Attribute }[] = [];
  /** Something else writes part of the page, and may write ids as well. */
  foreign = false;

  visit(nodes: readonly Markup[], inLoop: boolean): void {
    for (const node of nodes) {
      if (node.kind === 'opaque') this.foreign = true;
      if (node.kind === 'element') this.#element(node, inLoop);
      if (node.kind === 'branch')
        this.#branch(
          node.arms.map((arm) => arm.body),
          inLoop,
        );
      else for (const list of childLists(node)) this.visit(list, inLoop || node.kind === 'loop');
    }
  }

  /** Only one arm is there at a time, so that an id may stand once in each. */
  #branch(arms: readonly (readonly Markup[])[], inLoop: boolean): void {
    const most = new Map<string, Attribute[]>();
    for (const arm of arms) {
      const inner = new Ids();
      inner.visit(arm, inLoop);
      for (const [id, places] of inner.ids) if (places.length > (most.get(id)?.length ?? 0)) most.set(id, places);
      for (const [id, place] of inner.looped) this.looped.set(id, place);
      this.references.push(...inner.references);
      this.foreign ||= inner.foreign;
    }
    for (const [id, places] of most) for (const place of places) this.#add(id, place);
  }

  #add(id: string, place: Attribute): void {
    const places = this.ids.get(id);
    if (places) places.push(place);
    else this.ids.set(id, [place]);
  }

  #element({ attributes, component }: ElementNode, inLoop: boolean): void {
    for (const attribute of attributes) {
      if (attribute.kind !== 'static' || !attribute.text) continue;
      const { name, text } = attribute;
      // The part of a page before the server has written its own.
      if (/\{\{|<[?%]|\{%/.test(text)) this.foreign ||= name === 'id';
      else if (name === 'id' && !component) {
        this.#add(text, attribute);
        if (inLoop) this.looped.set(text, attribute);
      } else if (LISTS.test(name)) {
        for (const id of text.split(/\s+/).filter(Boolean)) this.references.push({ id, place: attribute });
      } else if (
        HASHES.test(name) &&
        /^#[A-Za-z][\w-]*$/.test(text) &&
        text !== '#top' &&
        !(name.startsWith('data-') && COLOUR.test(text))
      ) {
        this.references.push({ id: text.slice(1), place: attribute });
      }
    }
  }
}
