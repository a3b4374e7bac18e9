/** `survey`: the whole at a glance. */
import { namedTrouble } from '../../library/asked.js';
import { surveyDocument } from '../../library/documents.js';
import { DEFAULT_LIMITS, isProblem, languageOf, notRead, notReadWords, survey, type Survey } from '../../core/index.js';
import { lineCount } from '../../core/analyze/survey.js';
import { DiskCache } from '../../node/cache.js';
import { EXIT, type Colors, type CommonOptions } from '../host.js';
import { outline, type OutlineRow } from '../outline.js';
import { json } from '../say.js';
import type { Ended, Session } from '../session.js';

export interface SurveyOptions extends CommonOptions {
  readonly limit: number;
  readonly all?: boolean;
  readonly cache: boolean;
  readonly failOn?: string;
}

export function surveyCommand(session: Session, paths: readonly string[], options: SurveyOptions): Ended {
  const only: string[] = [];
  for (const given of paths) {
    const path = session.path(given);
    if (isProblem(path)) return path;
    const missing = path === '' ? undefined : namedTrouble(session, path);
    if (missing) return missing;
    only.push(path);
  }
  const cache = options.cache ? new DiskCache(session.root, session.host.env) : undefined;
  const limits = { ...DEFAULT_LIMITS, ...withoutUndefined(session.config.limits ?? {}) };
  const result = survey(session.project, {
    limits,
    ...(cache ? { cache } : {}),
    ...(only.length && !only.includes('')
      ? { only: (path) => only.some((o) => path === o || path.startsWith(`${o}/`)) }
      : {}),
  });
  cache?.save();
  session.host.out(session.json ? json(surveyDocument(session, result)) : text(session, result, options));
  const failing =
    options.failOn === 'hint'
      ? result.findings
      : options.failOn === 'warning'
        ? result.findings.filter((f) => f.severity === 'warning')
        : [];
  return failing.length > 0 ? EXIT.found : EXIT.done;
}

function withoutUndefined<T extends object>(value: T): { [K in keyof T]: NonNullable<T[K]> } {
  return Object.fromEntries(Object.entries(value).filter(([, v]) => v !== undefined)) as {
    [K in keyof T]: NonNullable<T[K]>;
  };
}

/** Elements from which a component has something to cut. */
const LEAST_SHOWN = 8;

/** What stands beside the application: tests, mocks, examples, documentation. */
const BESIDE =
  /(?:^|\/)(?:__\w+__|tests?|specs?|mocks?|e2e|examples?|demos?|docs?|stories|fixtures?|playground)\/|\.(?:test|spec|stories|story|mock)\.\w+$/i;

/** The roots by how much they carry, in lines of all that they show; what stands beside the application comes last. */
function weightiestFirst({ nodes, roots }: Survey['graph']): string[] {
  const carried = (root: string) => {
    const seen = new Set([root]);
    for (const id of seen) for (const shown of nodes.get(id)?.renders ?? []) seen.add(shown);
    return [...seen].reduce((sum, id) => {
      const { lines } = nodes.get(id)?.component ?? { lines: [0, -1] };
      return sum + lines[1] - lines[0] + 1;
    }, 0);
  };
  const entries = roots.map((root) => ({
    root,
    beside: BESIDE.test(nodes.get(root)?.path ?? ''),
    lines: carried(root),
  }));
  return entries.sort((a, b) => Number(a.beside) - Number(b.beside) || b.lines - a.lines).map(({ root }) => root);
}

const COLUMNS = [
  { title: 'lines', width: 6 },
  { title: 'state', width: 6 },
  { title: 'props', width: 6 },
  { title: 'branch', width: 7 },
  { title: 'depth', width: 6 },
] as const;

function text(session: Session, result: Survey, options: SurveyOptions): string {
  const { colors: c } = session;
  const width = Math.max(80, Math.min(session.host.columns, 120));
  const out: string[] = [];
  out.push(...headline(result, c));
  const others = notReadWords(notRead(session.project));
  if (others) out.push(c.dim(`not read: ${others}`));
  out.push('');
  const limit = options.all ? Infinity : 40;
  const rows = outline(result.graph, weightiestFirst(result.graph), limit);
  const shown = rows.slice(0, limit);
  const nameWidth = width - COLUMNS.reduce((n, col) => n + col.width, 0) - 28;
  if (result.attention.length > 0) {
    out.push(c.bold('Worth a look'));
    result.attention.slice(0, options.limit).forEach(({ id, reasons }, i) => {
      const node = result.graph.nodes.get(id)!;
      out.push(
        `  ${String(i + 1).padStart(2)}  ${c.bold(node.component.name)}  ${c.dim(`${node.path}:${node.component.lines[0]}`)}`,
      );
      out.push(...wrapped(reasons.join('; '), width - 8).map((line) => `      ${line}`));
    });
    const more = result.attention.length - options.limit;
    if (more > 0) out.push(c.dim(`      … ${more} more; --limit ${result.attention.length} shows them`));
    out.push('');
  } else if (rows.length > 0) out.push('No component stands out: none is long, deep, wide or busy.', '');
  if (rows.length > 0) {
    out.push(
      c.dim(
        `${'component'.padEnd(nameWidth)}${COLUMNS.map((col) => col.title.padStart(col.width)).join('')}  does, besides showing`,
      ),
    );
    for (const row of shown) out.push(componentLine(row, nameWidth, c));
    if (rows.length > shown.length) out.push(c.dim(`… ${rows.length - shown.length} more; --all shows them`));
    out.push('');
  }
  out.push(...idsOf(result, c), ...troubles(result, c));
  // What shows next to nothing is long for another reason, as a table of routes is: there is no markup to cut.
  const first = result.attention
    .map(({ id }) => result.graph.nodes.get(id)!)
    .find(({ component }) => component.elements >= LEAST_SHOWN);
  if (first)
    out.push(
      c.dim(
        languageOf(first.path)?.cut
          ? `next: verkstad propose ${first.path}   says where to cut it`
          : `next: verkstad extract ${first.path}:FROM-TO --into vue   cuts lines FROM to TO out of it, proven`,
      ),
    );
  return `${out.join('\n').trimEnd()}\n`;
}

function headline({ files, graph }: Survey, c: Colors): string[] {
  const components = [...graph.nodes.values()].filter((n) => n.component.kind !== 'helper');
  const stateful = components.filter((n) => n.component.stateful).length;
  const lines = files.reduce((n, f) => n + f.lines, 0);
  const count = (n: number, one: string) => `${n.toLocaleString('en')} ${one}${n === 1 ? '' : 's'}`;
  const parts = [count(files.length, 'file'), count(lines, 'line'), count(components.length, 'component')];
  if (components.length > 0) parts.push(`${stateful} stateful, ${components.length - stateful} only show`);
  return [`${c.bold('survey')}  ${parts.join(' · ')}`];
}

function componentLine({ node, lead, mark }: OutlineRow, nameWidth: number, c: Colors): string {
  const { component } = node;
  const dot = component.stateful ? c.yellow('●') : c.dim('○');
  const file = lead === '' ? node.path : node.path.slice(node.path.lastIndexOf('/') + 1);
  const plain = `${lead}● ${component.name}`;
  const room = nameWidth - plain.length - 2;
  const where = room > 6 ? ` ${shortened(file, room)}` : '';
  const name = `${c.dim(lead)}${dot} ${mark === 'first' ? c.bold(component.name) : c.dim(component.name)}${c.dim(where)}${' '.repeat(Math.max(1, nameWidth - plain.length - where.length))}`;
  if (mark === 'again') return `${name}${c.dim('  shown above')}`;
  if (mark === 'circle') return `${name}${c.dim('  shows itself')}`;
  const figures = [
    lineCount(component),
    component.state.length,
    component.props.length,
    component.branches,
    component.depth,
  ];
  const cells = figures.map((n, i) =>
    n === 0 ? c.dim('·'.padStart(COLUMNS[i]!.width)) : String(n).padStart(COLUMNS[i]!.width),
  );
  const deeds = component.deeds.join(', ');
  return `${name}${cells.join('')}${deeds ? `  ${c.cyan(shortened(deeds, 26))}` : ''}`.trimEnd();
}

function shortened(text: string, width: number): string {
  return text.length <= width ? text : `${text.slice(0, Math.max(1, width - 1))}…`;
}

/** Ids that stand twice, and references to ids that are nowhere. */
function idsOf({ findings }: Survey, c: Colors): string[] {
  const found = findings.filter((f) => f.code === 'id-twice' || f.code === 'id-missing');
  const shown = found
    .sort((a, b) => a.code.localeCompare(b.code) * -1 || a.path.localeCompare(b.path) || a.lines[0] - b.lines[0])
    .slice(0, 10)
    .map((f) => `  ${c.yellow('!')} ${f.path}:${f.lines[0]} ${f.message}`);
  if (found.length > shown.length) shown.push(c.dim(`  … ${found.length - shown.length} more; --json lists them all`));
  return shown.length > 0 ? [c.bold('Ids'), ...shown, ''] : [];
}

function troubles({ files, graph }: Survey, c: Colors): string[] {
  const out: string[] = [];
  for (const file of files) {
    if (file.problem)
      out.push(
        `${c.yellow('!')} ${file.path}${file.problem.line ? `:${file.problem.line}:${file.problem.column}` : ''} ${file.problem.message}`,
      );
  }
  for (const { path, source } of graph.unresolved)
    out.push(`${c.yellow('!')} ${path} imports "${source}", which is not there`);
  if (out.length > 10) out.splice(10, out.length, c.dim(`… ${out.length - 10} more; --json lists them all`));
  return out.length > 0 ? [c.bold('Not read, or not found'), ...out.map((line) => `  ${line}`), ''] : [];
}

function wrapped(text: string, width: number): string[] {
  const lines: string[] = [];
  let line = '';
  for (const word of text.split(' ')) {
    if (line && line.length + word.length + 1 > width) {
      lines.push(line);
      line = word;
    } else line = line ? `${line} ${word}` : word;
  }
  return line ? [...lines, line] : lines;
}
