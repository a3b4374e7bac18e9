/** `propose`: where to cut, all cuts together; what every new component would take, and what the host would look like. */
import { writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import {
  DEFAULT_LIMITS,
  findRepeats,
  isOthers,
  isProblem,
  languageOf,
  pagesInto,
  pathsOf,
  planOf,
  problem,
  proposeInlines,
  proposeRegions,
  textOf,
  weigh,
  withProven,
  withRepeats,
  type Alternatives,
  type ComponentPlan,
  type Goal,
  type HookProposal,
  type OutlineNode,
  type PagesWritten,
  type Problem,
  type Project,
  type Repeat,
  type Weighed,
} from '../../core/index.js';
import { DiskCache } from '../../node/cache.js';
import { historyOf, type History } from '../../node/history.js';
import { keepPlan } from '../../node/plans.js';
import type { PlanDocument, ProposeDocument } from '../formats.js';
import { EXIT, type CommonOptions, type Host } from '../host.js';
import { alternativesText, linesOf, proposedText, statesText, turnedDownList, type Found } from '../proposed.js';
import { json } from '../say.js';
import type { Ended, Session } from '../session.js';
import { pathsIn } from './repeats.js';

export interface ProposeOptions extends CommonOptions {
  readonly goal?: string;
  readonly out?: string;
  readonly limit: number;
  readonly alternatives?: boolean;
  readonly states?: boolean;
  readonly turnedDown?: boolean;
  /** Language that plain pages are written in, to be weighed as its components. */
  readonly into?: string;
  /** The window of history, as git reads it. */
  readonly since?: string;
}

export async function proposeCommand(
  session: Session,
  given: readonly string[],
  options: ProposeOptions,
): Promise<Ended> {
  const only = pathsIn(session, given);
  if (isProblem(only)) return only;
  const goal = goalOf(options.goal);
  if (isProblem(goal)) return goal;
  for (const path of only.named ?? []) {
    const missing = only.paths?.some((p) => p === path || p.startsWith(`${path}/`));
    if (!missing) return problem('file-unknown', { path });
  }
  const paths = only.paths ?? session.project.sources();
  const written = options.into === undefined ? undefined : pagesOf(session, paths, options.into);
  if (isProblem(written)) return written;
  const nowAt = (path: string) => written?.pages.get(path)?.path ?? path;
  return propose(written ? { ...session, project: written.project } : session, {
    paths: paths.map(nowAt),
    named: new Set([...(only.named ?? [])].map(nowAt)),
    isNamed: given.length > 0,
    goal,
    written,
    options,
  });
}

/** What is looked into, and how. */
interface Asked {
  readonly paths: readonly string[];
  readonly named: ReadonlySet<string>;
  /** A person named files or folders. */
  readonly isNamed: boolean;
  readonly goal: Goal;
  readonly written: PagesWritten | undefined;
  readonly options: ProposeOptions;
}

async function propose(session: Session, asked: Asked): Promise<Ended> {
  const { options } = asked;
  const found = await find(session, asked);
  if (isProblem(found)) return found;
  const planText = json(planDocument(session, found));
  const unwritten =
    keepPlan(session.root, planText) ??
    (options.out === undefined ? undefined : writeOut(session.host, options.out, planText));
  if (unwritten) return unwritten;
  const { host } = session;
  if (session.json) host.out(json(document(session, found)));
  else if (options.alternatives) host.out(alternativesText(session, found.weighed.alternatives));
  else if (options.states) host.out(statesText(session, found.weighed));
  else if (options.turnedDown) host.out(turnedDownList(session, found.plans));
  else {
    host.out(proposedText(session, found, asked.isNamed, options.limit));
    const cuts = found.plans.reduce((n, p) => n + p.proposals.length + p.hooks.length, 0);
    const count = cuts + found.splits.length + found.repeats.length;
    if (count > 0) {
      const file = options.out ?? 'all';
      session.note(`take them with \`verkstad apply ${file}\`, or some: \`verkstad apply 1 2\``);
    }
  }
  return EXIT.done;
}

function writeOut(host: Host, path: string, text: string): Problem | undefined {
  try {
    writeFileSync(resolve(host.cwd, path), text);
    return undefined;
  } catch (error) {
    return problem('out-failed', { path }, (error as NodeJS.ErrnoException).code ?? String(error));
  }
}

/** Components with proposals first, the one that gains most before the others. */
function numbered(plans: readonly ComponentPlan[]): ComponentPlan[] {
  const gain = (plan: ComponentPlan) => [...plan.proposals, ...plan.hooks].reduce((sum, p) => sum + p.worth.total, 0);
  return [...plans].sort((a, b) => gain(b) - gain(a) || (a.path < b.path ? -1 : a.path > b.path ? 1 : 0));
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
function pagesOf(session: Session, paths: readonly string[], into: string): PagesWritten | Problem {
  const pages = paths.filter((path) => languageOf(path)?.page);
  if (pages.length === 0) return problem('into-needless', { path: '--into' }, 'all that is asked about');
  return pagesInto(session.project, pages, into);
}

async function find(session: Session, { paths: all, named, goal, written, options }: Asked): Promise<Found | Problem> {
  const { project, root, config } = session;
  // A file that a person names is looked into, whatever it is.
  const leftOut = all.filter((path) => !named.has(path) && isOthers(path, textOf(project.files, path) ?? ''));
  const paths = all.filter((path) => !leftOut.includes(path));
  const made: ComponentPlan[] = [];
  const unread: Problem[] = [...(written?.unwritten ?? [])];
  const isUnwritten = new Set(unread.map(({ path }) => path));
  const plain = paths.filter((path) => !languageOf(path)?.cut && !isUnwritten.has(path) && showsAny(project, path));
  const cache = new DiskCache(root, session.host.env);
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
  const plans = numbered(withProven(project, beside));
  const props = config.limits?.props ?? DEFAULT_LIMITS.props;
  const weighed = weigh(project, plans, { props, cache });
  cache.save();
  const splits = proposeInlines(project, paths);
  const ours = new Set(project.sources());
  const history = await historyOf(root, options.since ?? WINDOW, (path) => ours.has(path));
  // Only a person who asks for history is told that there is none.
  if (isProblem(history)) return history;
  if (!history && options.since !== undefined)
    return problem('git-failed', { path: root }, 'the folder is in no repository with commits');
  const isAsked = (path: string) => paths.includes(path);
  return {
    plans,
    splits,
    repeats: unified,
    otherRepeats: (groups?.groups.length ?? 0) - unified.length,
    weighed,
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

function goalOf(given: string | undefined): Goal | Problem {
  const goal: { lines?: number; props?: number } = {};
  for (const part of given?.split(',') ?? []) {
    const match = /^\s*(lines|props)\s*=\s*([1-9]\d*)\s*$/.exec(part);
    if (!match) return problem('goal-format', { path: '--goal' }, given!);
    goal[match[1] as 'lines' | 'props'] = Number(match[2]);
  }
  return goal;
}

function planDocument(session: Session, { plans, splits, repeats, written }: Found): PlanDocument {
  const { files, steps } = planOf(session.project, plans, splits, repeats, written);
  return {
    format: 'verkstad/plan@1',
    files: files.map((file) => ({ ...file })),
    steps: steps.map((step): PlanDocument['steps'][number] => {
      const place = { lines: pair(step.lines), range: pair(step.range) };
      if (step.step === 'hook') return { ...step, ...place, statements: step.statements.map(pair) };
      if (step.step !== 'unify') return { ...step, ...place };
      const places = step.places.map((p) => ({ ...p, lines: pair(p.lines), range: pair(p.range) }));
      return { ...step, ...place, places };
    }),
  };
}

function pair([first, last]: readonly [number, number]): [number, number] {
  return [first, last];
}

function document(session: Session, found: Found): ProposeDocument {
  const { plans, unread, plain } = found;
  return {
    format: 'verkstad/propose@1',
    proposals: proposalDocuments(session, found),
    components: plans.map(({ path, component, lines, size, outline, fine, turnedDown }) => ({
      id: `${path}#${component}`,
      lines: [lines[0], lines[1]],
      size,
      outline: outline.map(outlineDocument),
      fine: [...fine],
      turnedDown: turnedDown.map(({ region, reason, why, instead }) => ({
        lines: linesOf(session, path, region),
        reason,
        why,
        ...(instead === undefined ? {} : { instead }),
      })),
    })),
    ...weighedDocument(found.weighed),
    ...(found.history ? { history: historyDocument(found.history) } : {}),
    unread: unread.map((p) => p.path),
    notWeighed: [...plain],
    ...(found.written ? { pages: pageDocuments(found.written) } : {}),
    leftOut: [...found.leftOut],
  };
}

function pageDocuments({ into, pages }: PagesWritten): NonNullable<ProposeDocument['pages']> {
  return [...pages].map(([path, { name, path: to }]) => ({ path, name, to, into }));
}

function proposalDocuments(session: Session, { plans, splits, repeats }: Found): ProposeDocument['proposals'] {
  let id = 0;
  const first = repeats.map((repeat) => repeatDocument(session, repeat));
  const cuts = plans.flatMap((plan) => {
    const first = id;
    const regions = plan.proposals.map((p): ProposeDocument['proposals'][number] => {
      id++;
      const { region, seam } = p;
      return {
        id: String(id),
        step: 'extract',
        name: p.name,
        component: `${p.path}#${p.component}`,
        path: p.path,
        lines: linesOf(session, p.path, region),
        range: [region.start, region.end],
        ...(p.says === undefined ? {} : { says: p.says }),
        seam: { props: [...seam.props], events: [...seam.events], slots: [...seam.slots] },
        worth: p.worth,
        why: [...p.why],
        ...(p.inside === undefined ? {} : { inside: String(first + p.inside + 1) }),
      };
    });
    return [...regions, ...plan.hooks.map((hook) => hookDocument(session, hook, String(++id)))];
  });
  const back = splits.map(({ name, path, component, uses, hosts, seam, worth, why }): (typeof cuts)[number] => ({
    id: String(++id),
    step: 'inline',
    name,
    component: `${uses[0]!.path}#${hosts[0] ?? ''}`,
    path,
    lines: linesOf(session, path, component),
    range: [component.start, component.end],
    seam: { props: [...seam.props], events: [...seam.events], slots: [...seam.slots] },
    worth,
    why: [...why],
  }));
  return [...first, ...cuts, ...back];
}

function repeatDocument(session: Session, repeat: Repeat): ProposeDocument['proposals'][number] {
  const { id, kind, name, places, inputs, hostNames, worth } = repeat;
  const [first] = places;
  const called = (kinds: Repeat['inputs'][number]['kind'][], isEvent: boolean) => [
    ...inputs.filter((input) => kinds.includes(input.kind)).map((input) => ({ name: input.name })),
    ...hostNames.filter((host) => host.event === isEvent).map((host) => ({ name: host.name })),
  ];
  return {
    id,
    step: 'unify',
    name,
    component: `${first!.path}#${first!.component ?? ''}`,
    path: first!.path,
    lines: linesOf(session, first!.path, first!),
    range: [first!.start, first!.end],
    seam: {
      props: called(['prop', 'flag'], false),
      events: called(['event'], true),
      slots: inputs.filter((input) => input.kind === 'slot').map((input) => ({ name: input.name })),
    },
    worth,
    why: [`${kind}, ${places.length} places`],
    places: places.map((p) => ({ path: p.path, lines: linesOf(session, p.path, p), range: [p.start, p.end] })),
  };
}

function hookDocument(session: Session, hook: HookProposal, id: string): ProposeDocument['proposals'][number] {
  const { name, path, statements, seam, results, worth, why } = hook;
  const span = { start: statements[0]!.start, end: statements.at(-1)!.end };
  return {
    id,
    step: 'hook',
    name,
    component: `${path}#${hook.component}`,
    path,
    lines: linesOf(session, path, span),
    range: [span.start, span.end],
    seam: { props: [...seam.props], events: [], slots: [] },
    worth,
    why: [...why],
    statements: statements.map(({ start, end }) => [start, end]),
    results: [...results],
  };
}

type WeighedDocument = Pick<ProposeDocument, 'states' | 'drilled' | 'classes' | 'reasons' | 'alternatives' | 'inputs'>;

function weighedDocument({ states, drilled, classes, reasons, alternatives, inputs }: Weighed): WeighedDocument {
  return {
    states: states.map(({ home, ...state }) => ({
      ...state,
      readers: [...state.readers],
      writers: [...state.writers],
      ...(home ? { home: { component: home.component, lighter: [...home.lighter] } } : {}),
    })),
    drilled: drilled.map(({ name, through }) => ({ name, through: [...through] })),
    classes: [...classes],
    reasons: reasons.map(({ component, groups, shared }) => ({
      component,
      groups: groups.map(({ names, effects }) => ({ names: [...names], effects })),
      shared: [...shared],
    })),
    alternatives: alternatives.map(({ component, value, forms, places, ways }) => ({
      component,
      value,
      forms: [...forms],
      places: places.map(([first, last]): [number, number] => [first, last]),
      section: figures(ways[0]),
      variant: figures(ways[1]),
    })),
    inputs: inputs.map((i) => ({
      ...i,
      flags: [...i.flags],
      handedOn: [...i.handedOn],
      alike: i.alike.map((a) => ({ ...a })),
      unused: [...i.unused],
      instead: [...i.instead],
      combinations: i.combinations && {
        used: i.combinations.used.map((list) => [...list]),
        possible: i.combinations.possible,
      },
    })),
  };
}

function figures({ components, lines: [host, longest], crossing, twice }: Alternatives['ways'][number]) {
  return { components, lines: { host, longest }, crossing, twice };
}

function historyDocument({ since, commits, often, together }: History): NonNullable<ProposeDocument['history']> {
  return {
    since,
    commits,
    often: often.map((f) => ({ ...f })),
    together: together.map(({ paths: [a, b], ...rest }) => ({ paths: [a, b] as [string, string], ...rest })),
  };
}

function outlineDocument({
  label,
  title,
  made,
  children,
}: OutlineNode): ProposeDocument['components'][number]['outline'][number] {
  return { label, title, made, children: children.map(outlineDocument) };
}
