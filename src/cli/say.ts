/** Problems in words, with place, source frame and way out. */
import { Lines, textOf, type Problem, type Project } from '../core/index.js';
import type { Colors, Host } from './host.js';
import { escapedJson } from './terminal.js';

/** `file:line:column`, as far as the place is known. */
export function placeOf(problem: Problem, project: Project | undefined): string {
  const text = problem.span && project ? textOf(project.files, problem.path) : undefined;
  if (text === undefined || !problem.span) return problem.path;
  const { line, column } = new Lines(text).position(problem.span.start);
  return `${problem.path}:${line}:${column}`;
}

export function sayProblem(problem: Problem, project: Project | undefined, colors: Colors): string {
  const out = [`${colors.red('✖')} ${colors.bold(placeOf(problem, project))} ${problem.message}`];
  const text = problem.span && project ? textOf(project.files, problem.path) : undefined;
  if (text !== undefined && problem.span) out.push(frame(text, problem.span, colors));
  for (const way of problem.instead) out.push(`  ${colors.cyan('→')} ${way}`);
  return out.join('\n') + '\n';
}

/** The line of a span with marks under it; a span over several lines is marked to the end of its first. */
export function frame(text: string, span: { start: number; end: number }, colors: Colors): string {
  const lines = new Lines(text);
  const { line, column } = lines.position(span.start);
  const source = lines.lineText(line);
  const shown = source.length > 160 ? `${source.slice(0, 157)}…` : source;
  const gutter = String(line).padStart(6);
  const width = Math.max(1, Math.min(span.end - span.start, shown.length - column + 1));
  const lead = source.slice(0, column - 1).replace(/[^\t]/g, ' ');
  return `${colors.dim(`${gutter} │`)} ${shown}\n${colors.dim(`${' '.repeat(6)} │`)} ${lead}${colors.red('─'.repeat(width))}`;
}

/** A refusal as one JSON document. */
export function refusalJson(problem: Problem, project: Project | undefined): string {
  const text = problem.span && project ? textOf(project.files, problem.path) : undefined;
  const lines = text !== undefined && problem.span ? new Lines(text).range(problem.span) : undefined;
  return json({
    format: 'verkstad/refusal@1',
    code: problem.code,
    message: problem.message,
    path: problem.path,
    ...(lines ? { lines } : {}),
    instead: problem.instead,
  });
}

export function json(document: object): string {
  return `${escapedJson(JSON.stringify(document, null, 2))}\n`;
}

export function report(
  host: Host,
  problem: Problem,
  project: Project | undefined,
  colors: Colors,
  asJson: boolean,
): void {
  if (asJson) host.out(refusalJson(problem, project));
  else host.err(sayProblem(problem, project, colors));
}
