/** `extract`: cut one region out, prove it, check its types, write it. */
import { isProblem, Lines, problem, textOf, type ExtractChange } from '../../core/index.js';
import { STEPS, type NamedPiece } from '../../library/steps.js';
import { endStep, type StepOptions } from '../ending.js';
import { parseNamed, parseRange } from '../range.js';
import { seamGiven, type SeamOptions } from '../seam.js';
import type { Ended, Session } from '../session.js';

export interface ExtractOptions extends StepOptions, SeamOptions {
  readonly sameFile?: boolean;
  readonly props?: 'auto' | 'members' | 'objects';
}

export async function extractCommand(session: Session, given: string, options: ExtractOptions): Promise<Ended> {
  const range = parseRange(given);
  const named = range ? undefined : parseNamed(given);
  const at = range ?? named;
  if (!at) return problem('range-format', { path: given }, given);
  const path = session.path(at.file);
  if (isProblem(path)) return path;
  const file = session.project.source(path);
  if (isProblem(file)) return file;
  const span = range?.span(new Lines(file.text));
  if (range && !span) return problem('range-outside', { path }, new Lines(file.text).count);
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
    at: span ? { range: [span.start, span.end] as const } : pieceCalled(session, path, named!.name),
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
  const { dissolved } = change;
  const times = dissolved?.uses.length ?? 0;
  const gone = dissolved
    ? `; ${dissolved.name} is gone, called at ${times === 1 ? 'one place' : `${times} places`}`
    : '';
  return endStep(session, done, { headline, took: `lines ${from}-${till}, ${describe(change)}${gone}` }, options);
}

/** A component of the file, else a function of one. */
function pieceCalled({ project }: Session, path: string, name: string): NamedPiece {
  const model = project.model(path);
  const isComponent = !isProblem(model) && model.components.some((c) => c.name === name && c.kind !== 'helper');
  return isComponent ? { component: name } : { helper: name };
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
