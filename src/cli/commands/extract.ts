/** `extract`: cut one region out, prove it, check its types, write it. */
import {
  extract,
  isProblem,
  Lines,
  problem,
  type ExtractChange,
  type Problem,
  type Span,
  type TypeOracle,
} from '../../core/index.js';
import { checkTypes, endStep, typesFor, type StepOptions, type TypesAnswer } from '../ending.js';
import type { ChangeDocument } from '../formats.js';
import { parseRange } from '../range.js';
import type { Ended, Session } from '../session.js';

export interface ExtractOptions extends StepOptions {
  readonly sameFile?: boolean;
  readonly props?: 'auto' | 'members' | 'objects';
}

interface Checked {
  readonly change: ExtractChange;
  readonly types: TypesAnswer;
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
  const checked = await cutAndCheck(session, path, span, options, to);
  if (isProblem(checked)) return checked;
  const { change, types } = checked;
  const taken = new Lines(file.text).range(change.region);
  return endStep(
    session,
    {
      change,
      types,
      at: { path, span: change.region },
      headline: `${path} ${session.colors.dim('→')} ${change.target}`,
      took: `lines ${taken[0]}-${taken[1]}, ${describe(change)}`,
      title: `extract ${change.name} from ${path}`,
      document: { taken: takenOf(file.text, path, change.region) },
    },
    options,
  );
}

export function takenOf(text: string, path: string, { start, end }: Span): NonNullable<ChangeDocument['taken']> {
  const [first, last] = new Lines(text).range({ start, end });
  return { path, lines: [first, last], range: [start, end] };
}

/** Cuts with whole objects first; where that loses a narrowed type, once more member by member. */
export async function cutAndCheck(
  session: Session,
  path: string,
  range: { start: number; end: number },
  options: ExtractOptions,
  to: string | undefined,
): Promise<Checked | Problem> {
  const oracle = await typesFor(session, path);
  const style = options.props ?? session.config.props ?? 'auto';
  const attempt = (props: 'auto' | 'members' | 'objects', types: TypeOracle | undefined) =>
    extract(session.project, {
      path,
      range,
      props,
      ...(options.name === undefined ? {} : { name: options.name }),
      ...(to === undefined ? {} : { to }),
      ...(options.sameFile ? { sameFile: true } : {}),
      ...(options.into === undefined ? {} : { into: options.into }),
      ...(types ? { types } : {}),
    });
  const first = attempt(style, oracle);
  if (isProblem(first)) return first;
  const checked = await checkTypes(session, first, oracle, options.types);
  if (checked.answer !== 'worse' || style !== 'auto') return { change: first, types: checked };
  const second = attempt('members', oracle);
  if (isProblem(second)) return { change: first, types: checked };
  const again = await checkTypes(session, second, oracle, options.types);
  return again.answer === 'worse' ? { change: first, types: checked } : { change: second, types: again };
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
