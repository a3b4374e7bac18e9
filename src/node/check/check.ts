/** Same behaviour? The levels of a check, each a witness of its own, from the quickest to the one that sees most. */
import { compareVersions, Lines, OverlayFiles, Project, textOf, type VersionsCompared } from '../../core/index.js';
import { isDerived } from '../type-config.js';
import { HOW_TO_GET_TYPESCRIPT, typescriptOf } from '../peers.js';
import { newErrors, ProjectTypes, type TypesOf } from '../types.js';
import type { Before } from './before.js';
import type { BrowserOptions } from './browser.js';
import { answerOf, LEVELS, type Answer, type Difference, type Level, type LevelReport, type Spot } from './report.js';

export interface CheckRequest {
  readonly root: string;
  readonly project: Project;
  readonly before: Before;
  /** The last level; those before it are checked as well. */
  readonly level: Level;
  readonly browser: BrowserOptions;
  /** Called as a level begins. */
  readonly onLevel?: (level: Level) => void;
}

export interface CheckReport {
  readonly answer: Answer;
  readonly against: string;
  /** Files that differ. */
  readonly changed: readonly string[];
  readonly levels: readonly LevelReport[];
}

export async function check(request: CheckRequest): Promise<CheckReport> {
  const { root, project: after, before: state, level } = request;
  const changed = [...state.contents.keys()].sort();
  const texts = new Map([...state.contents].map(([path, was]) => [path, was?.toString('utf8')]));
  const before = new Project(new OverlayFiles(after.files, texts), after.ports);
  const wanted = LEVELS.slice(0, LEVELS.indexOf(level) + 1);
  const levels: LevelReport[] = [];
  // None is closed before all levels are done: they share what they have read.
  const opened = new Map<Project, ProjectTypes>();
  const typesOf: TypesOf = (project, near) => {
    if (!typescriptOf(root)) return undefined;
    const types = opened.get(project) ?? new ProjectTypes(root, project.files, near);
    opened.set(project, types);
    return types;
  };
  try {
    const versions = compareVersions(before, after, changed);
    const { renamed } = versions;
    for (const one of changed.length > 0 ? wanted : []) {
      request.onLevel?.(one);
      if (one === 'expand') levels.push(expandReport(before, after, versions));
      else if (one === 'types') levels.push(typesReport(typesOf, before, after, changed));
      else if (one === 'render') {
        const { checkRender } = await import('./render.js');
        levels.push(await checkRender({ root, before, after, contents: state.contents, renamed, typesOf }));
      } else {
        const { checkBrowser } = await import('./browser.js');
        levels.push(await checkBrowser({ root, contents: state.contents, ...request.browser }));
      }
    }
  } finally {
    for (const types of opened.values()) types.dispose();
  }
  const answers = levels.map((l) => l.answer);
  const answer = answers.includes('different') ? 'different' : answers.includes('unchecked') ? 'unchecked' : 'same';
  return { answer, against: state.label, changed, levels };
}

function expandReport(before: Project, after: Project, versions: VersionsCompared): LevelReport {
  const { compared, renamed, result, left } = versions;
  const differences: Difference[] = [];
  const others = left.map(({ path, why }) => ({ what: path, why }));
  if (result.answer === 'different') {
    const was = result.before && spotOf(before, result.before.path, result.before.span.start, renamed);
    const is = result.after && spotOf(after, result.after.path, result.after.span.start, []);
    const what = is?.path ?? was?.path ?? 'the changed files';
    differences.push({
      level: 'expand',
      what,
      words: result.detail,
      ...(was ? { before: was } : {}),
      ...(is ? { after: is } : {}),
    });
  } else if (result.answer === 'unknown') others.unshift({ what: 'the changed files', why: result.detail });
  const isRead = result.answer !== 'unknown';
  return {
    level: 'expand',
    // What is no source (a style sheet, a picture) is for other levels to look at.
    answer: answerOf(isRead ? compared : [], differences, isRead ? [] : others),
    compared: isRead ? compared : [],
    figures: `${compared.length} ${compared.length === 1 ? 'component' : 'components'}${renamed.length > 0 ? `, ${renamed.length} moved` : ''}`,
    differences,
    left: others,
  };
}

function spotOf(
  project: Project,
  path: string,
  offset: number,
  renamed: readonly { readonly from: string; readonly to: string }[],
): Spot {
  // The proof knows a moved file by its new path.
  const own = renamed.find((r) => r.to === path)?.from ?? path;
  const text = textOf(project.files, own) ?? textOf(project.files, path) ?? '';
  const { line, column } = new Lines(text).position(Math.min(offset, text.length));
  return { path: own, line, column };
}

function typesReport(typesOf: TypesOf, before: Project, after: Project, changed: readonly string[]): LevelReport {
  const isTyped = (path: string) => /\.[cm]?tsx?$/.test(path);
  const near = changed.find((p) => isTyped(p) || isDerived(p)) ?? after.sources().find(isTyped);
  const nothing = (why: string): LevelReport => ({
    level: 'types',
    answer: 'unchecked',
    compared: [],
    figures: '',
    differences: [],
    left: [{ what: 'all files', why }],
  });
  if (near === undefined) return nothing('no file has types');
  const types = typesOf(after, near);
  if (!types) return nothing(HOW_TO_GET_TYPESCRIPT);
  if (types.config === undefined) return nothing('the project has no tsconfig.json');
  const pathsOf = (project: Project) => project.sources().filter((p) => isTyped(p) && types.checks(p));
  const now = pathsOf(after);
  types.use(after.files, changed);
  const found = types.errors(now);
  // Where there is none now, none is new.
  if (found.length > 0) types.use(before.files, changed);
  const known = found.length > 0 ? types.errors(pathsOf(before)) : [];
  const differences = newErrors(known, found).map((error): Difference => {
    const { line, column } = new Lines(textOf(after.files, error.path) ?? '').position(error.offset);
    const after_ = { path: error.path, line, column };
    return { level: 'types', what: error.path, words: `${error.message} (TS${error.code})`, after: after_ };
  });
  const files = `${now.length} ${now.length === 1 ? 'file' : 'files'}`;
  const errors = `${found.length} ${found.length === 1 ? 'error' : 'errors'} against ${known.length}`;
  const figures = `${files}, ${found.length > 0 ? errors : 'no error'}`;
  return { level: 'types', answer: answerOf(now, differences, []), compared: now, figures, differences, left: [] };
}
