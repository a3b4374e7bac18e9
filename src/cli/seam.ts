/** What a person says on the command line of what crosses a boundary. */
import { isProblem, problem, type Problem } from '../core/index.js';
import type { Place, SeamAsked } from '../library/steps.js';

export interface SeamOptions {
  /** `NAME=CODE`, as are events. */
  readonly input?: readonly string[];
  readonly event?: readonly string[];
  /** `NAME=LINES`, or lines alone for what stands between the tags. */
  readonly slot?: readonly string[];
  readonly stays?: readonly string[];
  readonly along?: readonly string[];
}

/** Undefined where nothing was said. `placeOf`: what a range of lines stands for. */
export function seamGiven(
  path: string,
  { input = [], event = [], slot = [], stays = [], along = [] }: SeamOptions,
  placeOf: (text: string) => Place | Problem,
): SeamAsked | Problem | undefined {
  if ([input, event, slot, stays, along].every((list) => list.length === 0)) return undefined;
  const inputs = codesIn(path, input);
  if (isProblem(inputs)) return inputs;
  const events = codesIn(path, event);
  if (isProblem(events)) return events;
  const slots: Record<string, Place> = {};
  for (const one of slot) {
    const [, name = 'children', lines] = /^(?:([A-Za-z_$][\w$]*)=)?(.*)$/.exec(one)!;
    const place = placeOf(lines!);
    if (isProblem(place)) return place;
    if (name in slots) return problem('seam-format', { path }, name, 'it is given twice');
    slots[name] = place;
  }
  return { inputs: inputs.codes, events: events.codes, slots, stays, along };
}

function codesIn(path: string, list: readonly string[]): { readonly codes: Record<string, string> } | Problem {
  const codes: Record<string, string> = {};
  for (const one of list) {
    const [, name, code] = /^\s*([^=]*?)\s*=\s*([\s\S]+)$/.exec(one) ?? [];
    if (!name || code === undefined) return problem('seam-format', { path }, one, 'it has no code behind the =');
    if (name in codes) return problem('seam-format', { path }, name, 'it is given twice');
    codes[name] = code;
  }
  return { codes };
}

/** `14-18`: without a file to look at, lines are as far as it goes. */
export function linesGiven(path: string): (text: string) => Place | Problem {
  return (text) => {
    const [, from, to] = /^(\d+)(?:-(\d+))?$/.exec(text.trim()) ?? [];
    return from === undefined ? problem('seam-lines', { path }, text) : { lines: [Number(from), Number(to ?? from)] };
  };
}
