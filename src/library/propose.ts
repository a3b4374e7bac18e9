/** What `propose` finds: every component weighed, with what repeats, what goes back, and the history beside it. */
import {
  DEFAULT_LIMITS,
  findRepeats,
  isOthers,
  isProblem,
  languageOf,
  pagesInto,
  pathsOf,
  problem,
  proposeHomes,
  proposeInlines,
  proposeModules,
  proposeRegions,
  textOf,
  weigh,
  withContent,
  withContentOffered,
  withHelpers,
  withoutClashes,
  withProven,
  withRepeats,
  type ComponentPlan,
  type DrilledOffer,
  type Goal,
  type HomeProposal,
  type ModuleProposal,
  type PagesWritten,
  type Problem,
  type Project,
  type Repeat,
  type SplitProposal,
  type Weighed,
} from '../core/index.js';
import { DiskCache } from '../node/cache.js';
import { historyOf, type History } from '../node/history.js';
import { pathsAsked } from './asked.js';
import type { Workspace } from './workspace.js';

/** What was weighed, as it is shown and written. */
export interface Found {
  /** The one that gains most first. */
  readonly plans: readonly ComponentPlan[];
  readonly splits: readonly SplitProposal[];
  /** States that go to a component below before anything is cut. */
  readonly homes: readonly HomeProposal[];
  /** Requests that leave components for modules, before anything else. */
  readonly modules: readonly ModuleProposal[];
  /** What stands more than once and is made one before anything is cut; of a whole project only. */
  readonly repeats: readonly Repeat[];
  /** Groups of a whole project that are left to a person. */
  readonly otherRepeats: number;
  readonly weighed: Omit<Weighed, 'drilled'> & { readonly drilled: readonly DrilledOffer[] };
  readonly history: History | undefined;
  readonly unread: readonly Problem[];
  /** Files of languages that have no components. */
  readonly plain: readonly string[];
  /** Pages that were weighed as components. */
  readonly written: PagesWritten | undefined;
  /** Generated, vendored, tests. */
  readonly leftOut: readonly string[];
}

/** Components with proposals first, the one that gains most before the others. */
function numbered(plans: readonly ComponentPlan[]): ComponentPlan[] {
  const gain = (plan: ComponentPlan) => [...plan.proposals, ...plan.hooks].reduce((sum, p) => sum + p.worth.total, 0);
  return [...plans].sort((a, b) => gain(b) - gain(a) || (a.path < b.path ? -1 : a.path > b.path ? 1 : 0));
}

/** What is weighed, and how. */
export interface ProposeAsked {
  /** Files or folders, relative to the root; all where it is left out. */
  readonly paths?: readonly string[];
  readonly goal?: Goal;
  /** Id of the language that plain pages are written in, to be weighed as its components. */
  readonly into?: string;
  /** The window of history, as git reads it. */
  readonly since?: string;
}

export interface Proposed {
  /** With pages written as components, where that was asked for. */
  readonly workspace: Workspace;
  readonly found: Found;
}

/** Where to cut, all cuts together, and what is weighed beside them. */
export async function proposed(
  given: Workspace,
  { paths: wanted, goal, into, since }: ProposeAsked,
): Promise<Proposed | Problem> {
  const only = pathsAsked(given, wanted ?? []);
  if (isProblem(only)) return only;
  for (const path of only.named ?? []) {
    const missing = only.paths?.some((p) => p === path || p.startsWith(`${path}/`));
    if (!missing) return problem('file-unknown', { path });
  }
  const paths = only.paths ?? given.project.sources();
  const written = into === undefined ? undefined : pagesOf(given, paths, into);
  if (isProblem(written)) return written;
  const nowAt = (path: string) => written?.pages.get(path)?.path ?? path;
  const workspace = written ? { ...given, project: written.project } : given;
  const found = await weighAll(workspace, {
    paths: paths.map(nowAt),
    named: new Set([...(only.named ?? [])].map(nowAt)),
    goal: goal ?? {},
    written,
    since,
  });
  return isProblem(found) ? found : { workspace, found };
}

interface Looked {
  readonly paths: readonly string[];
  readonly named: ReadonlySet<string>;
  readonly goal: Goal;
  readonly written: PagesWritten | undefined;
  readonly since: string | undefined;
}

const WINDOW = '1 year ago';
/** Repeats that a plan begins with; each is tried out when it is proposed. */
const MOST_UNIFIED = 12;

/** A page that only starts an application shows nothing that could be weighed. */
function showsAny(project: Project, path: string): boolean {
  const model = project.model(path);
  return !isProblem(model) && model.components.length > 0;
}

/** Pages among the files, as components of another language; a problem where there is none. */
function pagesOf(workspace: Workspace, paths: readonly string[], into: string): PagesWritten | Problem {
  const pages = paths.filter((path) => languageOf(path)?.page);
  if (pages.length === 0) return problem('into-needless', { path: '--into' }, 'all that is asked about');
  return pagesInto(workspace.project, pages, into);
}

async function weighAll(
  workspace: Workspace,
  { paths: all, named, goal, written, since }: Looked,
): Promise<Found | Problem> {
  const { project, root, config, env } = workspace;
  // A file that a person names is looked into, whatever it is.
  const leftOut = all.filter((path) => !named.has(path) && isOthers(path, textOf(project.files, path) ?? ''));
  const paths = all.filter((path) => !leftOut.includes(path));
  const made: ComponentPlan[] = [];
  const unread: Problem[] = [...(written?.unwritten ?? [])];
  const isUnwritten = new Set(unread.map(({ path }) => path));
  const plain = paths.filter((path) => !languageOf(path)?.cut && !isUnwritten.has(path) && showsAny(project, path));
  const cache = new DiskCache(root, env);
  const occupied = pathsOf(project);
  for (const path of paths.filter((path) => !isUnwritten.has(path))) {
    const found = proposeRegions(project, path, goal, occupied);
    if (isProblem(found)) unread.push(found);
    else made.push(...found);
  }
  // Pages are weighed together: what frames them, and the rows of their tables, come before any cut.
  const groups = named.size > 0 && !written ? undefined : findRepeats(project, { paths });
  const { unified, plans: beside } = groups
    ? withRepeats(project, groups, made, MOST_UNIFIED)
    : { unified: [], plans: made };
  const whole = withHelpers(project, withContent(project, withProven(project, beside)));
  const props = config.limits?.props ?? DEFAULT_LIMITS.props;
  const weighed = weigh(project, whole, { props, cache });
  cache.save();
  const { plans, homes } = withoutClashes(numbered(whole), proposeHomes(project, weighed.states));
  // What is to keep a state stays.
  const splits = proposeInlines(project, paths).filter(({ id }) => !homes.some(({ home }) => home === id));
  const modules = proposeModules(
    project,
    paths,
    unified.flatMap((repeat) => repeat.places),
  );
  const ours = new Set(project.sources());
  const history = await historyOf(root, since ?? WINDOW, (path) => ours.has(path));
  // Only a person who asks for history is told that there is none.
  if (isProblem(history)) return history;
  if (!history && since !== undefined)
    return problem('git-failed', { path: root }, 'the folder is in no repository with commits');
  const isAsked = (path: string) => paths.includes(path);
  return {
    plans,
    splits,
    homes,
    modules,
    repeats: unified,
    otherRepeats: (groups?.groups.length ?? 0) - unified.length,
    weighed: { ...weighed, drilled: withContentOffered(project, weighed.drilled) },
    history: history && about(history, isAsked),
    unread,
    plain,
    written,
    leftOut,
  };
}

/** The part of a history that is about some of the files. */
function about(history: History, isAsked: (path: string) => boolean): History {
  return {
    ...history,
    often: history.often.filter((f) => isAsked(f.path)),
    together: history.together.filter((t) => t.paths.some(isAsked)),
  };
}
