/** `extract`: cut one region out, prove it, check its types, write it. */
import { isProblem, Lines, problem, textOf, type ExtractChange } from '../../core/index.js';
import { STEPS } from '../../library/steps.js';
import { endStep, type StepOptions } from '../ending.js';
import { parseRange } from '../range.js';
import { seamGiven, type SeamOptions } from '../seam.js';
import type { Ended, Session } from '../session.js';

export interface ExtractOptions extends StepOptions, SeamOptions {
  readonly sameFile?: boolean;
  readonly props?: 'auto' | 'members' | 'objects';
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
  const seam = seamGiven(path, options, (text) => {
    const piece = parseRange(`${path}:${text}`);
    if (!piece) return problem('seam-lines', { path }, text);
    const lines = new Lines(file.text);
    const at = piece.span(lines);
    return at ? { range: [at.start, at.end] } : problem('range-outside', { path }, lines.count);
  });
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
