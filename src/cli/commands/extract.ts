/** `extract`: cut one region out, prove it, check its types, write it. */
import { isProblem, Lines, problem, textOf, type ExtractChange, type Problem } from '../../core/index.js';
import { STEPS, type Place, type SeamAsked } from '../../library/steps.js';
import { endStep, type StepOptions } from '../ending.js';
import { parseRange } from '../range.js';
import type { Ended, Session } from '../session.js';

export interface ExtractOptions extends StepOptions {
  readonly sameFile?: boolean;
  readonly props?: 'auto' | 'members' | 'objects';
  readonly input?: readonly string[];
  readonly event?: readonly string[];
  readonly slot?: readonly string[];
  readonly stays?: readonly string[];
  readonly along?: readonly string[];
}

export async function extractCommand(session: Session, given: string, options: ExtractOptions): Promise<Ended> {
  const range = parseRange(given);
  if (!range) return problem('range-format', { path: given }, given);
  const path = session.path(range.file);
  if (isProblem(path)) return path;
  const file = session.project.source(path);
  if (isProblem(file)) return file;
  const span = range.span(new Lines(file.text));
  if (!span) return problem('range-outside', { path }, new Lines(file.text).count);
  const to = options.to === undefined ? undefined : session.path(options.to);
  if (isProblem(to)) return to;
  const { name, props, sameFile, into } = options;
  const seam = seamGiven(path, file.text, options);
  if (isProblem(seam)) return seam;
  const request = {
    path,
    at: { range: [span.start, span.end] as const },
    ...(name === undefined ? {} : { name }),
    ...(to === undefined ? {} : { to }),
    ...(props === undefined ? {} : { props }),
    ...(sameFile ? { sameFile } : {}),
    ...(into === undefined ? {} : { into }),
    ...(seam ? { seam } : {}),
  };
  const done = await STEPS.extract(session, request, options.types);
  if (isProblem(done)) return done;
  const { change } = done;
  const [from, till] = new Lines(textOf(session.project.files, path) ?? '').range(change.region);
  const headline = `${path} ${session.colors.dim('→')} ${change.target}`;
  return endStep(session, done, { headline, took: `lines ${from}-${till}, ${describe(change)}` }, options);
}

/** `--input NAME=CODE`, `--event NAME=CODE`, `--slot NAME=LINES`; undefined where none was given. */
function seamGiven(
  path: string,
  text: string,
  { input = [], event = [], slot = [], stays = [], along = [] }: ExtractOptions,
): SeamAsked | Problem | undefined {
  if ([input, event, slot, stays, along].every((list) => list.length === 0)) return undefined;
  const named = new Map<string, Record<string, string>>();
  for (const [kind, list] of Object.entries({ inputs: input, events: event })) {
    const codes: Record<string, string> = {};
    for (const one of list) {
      const [, name, code] = /^\s*([^=]*?)\s*=\s*([\s\S]+)$/.exec(one) ?? [];
      if (!name || code === undefined) return problem('seam-format', { path }, one, 'it has no code behind the =');
      if (name in codes) return problem('seam-format', { path }, name, 'it is given twice');
      codes[name] = code;
    }
    named.set(kind, codes);
  }
  const slots: Record<string, Place> = {};
  const lines = new Lines(text);
  for (const one of slot) {
    const [, name = 'children', from] = /^(?:([A-Za-z_$][\w$]*)=)?(.*)$/.exec(one)!;
    const range = parseRange(`${path}:${from}`);
    if (!range) return problem('seam-lines', { path }, one);
    const span = range.span(lines);
    if (!span) return problem('range-outside', { path }, lines.count);
    if (name in slots) return problem('seam-format', { path }, name, 'it is given twice');
    slots[name] = { range: [span.start, span.end] };
  }
  return { inputs: named.get('inputs')!, events: named.get('events')!, slots, stays, along };
}

function describe(change: ExtractChange): string {
  const { nodes } = change.region;
  const shown = nodes.filter((n) => n.kind !== 'comment');
  const word = (n: (typeof nodes)[number]) =>
    n.kind === 'element'
      ? `<${n.name}>`
      : n.kind === 'branch'
        ? 'a condition'
        : n.kind === 'loop'
          ? 'a loop'
          : n.kind === 'text'
            ? 'text'
            : n.kind === 'fragment'
              ? 'a fragment'
              : 'an expression';
  return shown.length <= 3
    ? shown.map(word).join(', ')
    : `${word(shown[0]!)} to ${word(shown[shown.length - 1]!)}, ${shown.length} siblings`;
}
