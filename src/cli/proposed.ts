/** What `propose` prints for people: the cuts of each component, what it would show, and what else there is to weigh. */
import { linesOf } from '../library/places.js';
import type { Found } from '../library/propose.js';
import {
  Lines,
  textOf,
  type ComponentPlan,
  type HomeProposal,
  type ModuleProposal,
  type HookProposal,
  type OutlineNode,
  type RegionProposal,
  type Span,
  type SplitProposal,
  type TurnedDown,
} from '../core/index.js';
import type { Colors } from './host.js';
import { signature } from './repeated.js';
import { nameIn } from './proposed-tables.js';
import { isCut, LONG, remarksOn } from './remarks.js';
import type { Session } from './session.js';
import { WIDTH, wrapped } from './wrapped.js';

/** Of components that are fine, at most that many are named. */
const FINE_TOLD = 12;

/** Where something stands now: in the page, when its component is still to be written. */
function shownAt({ written }: Found, session: Session, path: string, span: Span): { path: string; lines: string } {
  const page = written && [...written.pages].find(([, one]) => one.path === path);
  const [at, lines] = page
    ? [page[0], new Lines(textOf(written.before.files, page[0])!).range(page[1].from(span))]
    : [path, linesOf(session, path, span)];
  return { path: at, lines: lines.join('-') };
}

export function proposedText(session: Session, found: Found, named: boolean, limit: number): string {
  const { colors: c } = session;
  const { plans, splits, homes, modules, unread, plain, leftOut } = found;
  const cut = plans.filter(isCut);
  const out: string[] = repeatsFirst(session, found);
  let id = 0;
  for (const [i, plan] of cut.entries()) {
    if (i < limit) out.push(...ofComponent(session, found, plan, id), ...remarksOn(session, plan, found), '');
    id += plan.proposals.length + plan.hooks.length;
  }
  if (cut.length > limit) out.push(c.dim(`… ${cut.length - limit} more components; --limit shows more`), '');
  for (const split of splits) out.push(...ofSplit(session, split, ++id));
  for (const one of homes) out.push(...ofHome(session, one, ++id));
  for (const one of modules) out.push(...ofModule(session, one, ++id));
  if (splits.length + homes.length + modules.length > 0) out.push('');
  const fine = plans.filter((p) => !isCut(p));
  for (const plan of fine) {
    const remarks = remarksOn(session, plan, found);
    if (remarks.length > 0)
      out.push(`${c.bold(plan.component)}  ${c.dim(`${plan.path}:${plan.lines[0]}`)}`, ...remarks, '');
  }
  out.push(...fineText(session, fine, named, cut.length > 0));
  if (plans.length === 0 && plain.length === 0) out.push('no components here');
  if (plain.length > 0)
    out.push(
      c.dim(
        `not weighed: ${plain.length === 1 ? plain[0]! : `${plain.length} plain pages`}; --into vue, or jsx, weighs ${plain.length === 1 ? 'it' : 'them'} as components`,
      ),
    );
  if (leftOut.length > 0)
    out.push(
      c.dim(
        `${leftOut.length} ${leftOut.length === 1 ? 'file' : 'files'} left out as generated, vendored or tests; name a file to look into it`,
      ),
    );
  for (const trouble of unread) out.push(c.dim(`not read: ${trouble.path} ${trouble.message}`));
  return `${out.join('\n').trimEnd()}\n`;
}

/** What is made one before anything is cut, a line or two each. */
function repeatsFirst(session: Session, { repeats, otherRepeats }: Found): string[] {
  const { colors: c } = session;
  const groups = otherRepeats === 1 ? 'group' : 'groups';
  const others = otherRepeats > 0 ? [c.dim(`  ${otherRepeats} ${groups} more: verkstad repeats`)] : [];
  if (repeats.length + others.length === 0) return [];
  const lines = repeats.flatMap((repeat) => {
    const { id, name, kind, places, worth } = repeat;
    const files = new Set(places.map((p) => p.path));
    const { path } = places[0]!;
    const room = WIDTH - `  ${id}  ${name}  ${kind}, ${places.length} places in   worth ${worth.total}`.length;
    const where =
      files.size > 1 ? `${files.size} files` : path.length <= room ? path : path.slice(path.lastIndexOf('/') + 1);
    const head = `${id}  ${c.bold(name)}  ${kind}, ${places.length} places in ${where}  ${c.dim(`worth ${worth.total}`)}`;
    return [head, ...signature(repeat, WIDTH, c).map((line) => `      ${line}`)];
  });
  return [
    `${c.bold(repeats.length > 0 ? 'Made one first' : 'Left to you')}  ${c.dim('what stands more than once')}`,
    ...lines.map((line) => `  ${line}`),
    ...others,
    '',
  ];
}

/** A person who asks about a file wants an answer for each component in it; of a project the rest is a number. */
function fineText(session: Session, uncut: readonly ComponentPlan[], named: boolean, others: boolean): string[] {
  const { colors: c } = session;
  const barred = uncut.filter(isBarred);
  const fine = uncut.filter((plan) => !isBarred(plan));
  const told = named && fine.length <= FINE_TOLD ? fine : [];
  const out = told.map(
    (plan) => `${c.green('✓')} ${c.bold(plan.component)}  ${c.dim(plan.path)}  fine as it is: ${plan.fine.join('; ')}`,
  );
  const rest = fine.length - told.length;
  if (rest > 0)
    out.push(
      `${c.green('✓')} ${rest} ${others ? 'other ' : ''}${rest === 1 ? 'component is' : 'components are'} fine as ${rest === 1 ? 'it is' : 'they are'}`,
    );
  if (named) return [...barred.flatMap((plan) => barredText(session, plan)), ...out];
  if (barred.length > 0) {
    const names = barred.slice(0, 3).map((plan) => plan.component);
    const more = barred.length > 3 ? ' …' : '';
    const isOne = barred.length === 1;
    out.push(
      `${c.yellow('○')} ${barred.length} ${isOne ? 'component is' : 'components are'} long, and what could be cut is barred: ${names.join(', ')}${more}; name ${isOne ? 'its file' : 'a file'} to see why`,
    );
  }
  return out;
}

/** Long, with parts that could be cut if something did not stand in the way. */
function isBarred({ size, turnedDown }: ComponentPlan): boolean {
  return size.before > LONG && turnedDown.some((one) => one.reason !== 'worth');
}

/** Parts that are told with what bars them. */
const BARRED_TOLD = 6;

function barredText(session: Session, plan: ComponentPlan): string[] {
  const { colors: c } = session;
  const barred = plan.turnedDown.filter((one) => one.reason !== 'worth');
  const more = barred.length - BARRED_TOLD;
  return [
    `${c.yellow('○')} ${c.bold(plan.component)}  ${c.dim(plan.path)}  nothing to cut as it stands: ${plan.fine[0] ?? ''}`,
    ...barred.slice(0, BARRED_TOLD).flatMap((one) => turnedDownText(session, plan, one)),
    ...(more > 0 ? [c.dim(`     … ${more} more; --turned-down shows all`)] : []),
  ];
}

function turnedDownText(session: Session, { path }: ComponentPlan, one: TurnedDown): string[] {
  const [first, last] = linesOf(session, path, one.region);
  const instead = one.instead === undefined ? '' : `; ${one.instead}`;
  const [head, ...rest] = wrapped(`${one.why}${instead}`, ' '.repeat(16));
  return [`     ${`${first}-${last}`.padEnd(11)}${head!.trimStart()}`, ...rest];
}

/** All that was considered and turned down, a line or two each. */
export function turnedDownList(session: Session, plans: readonly ComponentPlan[]): string {
  const { colors: c } = session;
  const out = plans.flatMap((plan) =>
    plan.turnedDown.length === 0
      ? []
      : [
          `${c.bold(plan.component)}  ${c.dim(plan.path)}`,
          ...plan.turnedDown.flatMap((one) => turnedDownText(session, plan, one)),
          '',
        ],
  );
  return out.length === 0 ? 'nothing was turned down\n' : `${out.join('\n').trimEnd()}\n`;
}

// Cuts

function ofComponent(session: Session, found: Found, plan: ComponentPlan, first: number): string[] {
  const { colors: c } = session;
  const { size, proposals, hooks } = plan;
  const lines = `${size.before} ${c.dim('→')} about ${size.after} lines`;
  const counted = (n: number, word: string) => (n === 0 ? [] : [`${n} ${word}${n === 1 ? '' : 's'}`]);
  const made = [...counted(proposals.length, 'component'), ...counted(hooks.length, 'hook')];
  const count = `${made.join(' and ')} out of it`;
  const page = shownAt(found, session, plan.path, { start: 0, end: 0 }).path;
  const where = page === plan.path ? `${plan.path}:${plan.lines[0]}` : `${page} → ${plan.path}`;
  const out = [`${c.bold(plan.component)}  ${c.dim(where)}  ${lines}, ${count}`, ''];
  proposals.forEach((proposal, i) => {
    const at = shownAt(found, session, plan.path, proposal.region).lines;
    out.push(...ofProposal(session, proposal, first + i + 1, { depth: depthOf(proposals, proposal), lines: at }));
  });
  hooks.forEach((hook, i) => out.push(...ofHook(session, hook, first + proposals.length + i + 1)));
  if (proposals.length === 0) return out;
  out.push('', c.dim(`  ${plan.component} would show`));
  out.push(...drawn(plan.outline, '  ', c));
  return out;
}

function ofHook(session: Session, hook: HookProposal, id: number): string[] {
  const { colors: c } = session;
  const { name, path, statements, seam, results, worth, why } = hook;
  const places = statements.map((span) =>
    linesOf(session, path, span)
      .join('-')
      .replace(/^(\d+)-\1$/, '$1'),
  );
  const crossing = [
    ...(seam.props.length > 0 ? [`takes ${seam.props.map((p) => p.name).join(', ')}`] : []),
    ...(results.length > 0 ? [`gives ${results.join(', ')}`] : []),
  ];
  return [
    `${c.cyan(String(id).padStart(3))}  ${c.bold(name)}  ${c.dim(places.join(', '))}  worth ${worth.total}`,
    ...wrapped(crossing.length > 0 ? crossing.join(c.dim(' · ')) : 'nothing crosses', '     '),
    ...wrapped(why.join('; '), '     ').map((line) => c.dim(line)),
  ];
}

function depthOf(proposals: readonly RegionProposal[], { inside }: RegionProposal): number {
  return inside === undefined ? 0 : 1 + depthOf(proposals, proposals[inside]!);
}

function ofProposal(
  session: Session,
  proposal: RegionProposal,
  id: number,
  { depth, lines }: { readonly depth: number; readonly lines: string },
): string[] {
  const { colors: c } = session;
  const { name, worth, why } = proposal;
  const pad = '  '.repeat(depth);
  const crossing = crossingOf(proposal);
  const says = proposal.says === undefined ? '' : `  ${c.dim(shortened(proposal.says))}`;
  const head = `${c.cyan(String(id).padStart(3))}  ${pad}${c.bold(name)}  ${c.dim(lines)}  worth ${worth.total}${says}`;
  return [
    head,
    ...wrapped(crossing.length > 0 ? crossing.join(c.dim(' · ')) : 'nothing crosses', `     ${pad}`),
    ...wrapped(why.join('; '), `     ${pad}`).map((line) => c.dim(line)),
  ];
}

function ofSplit(session: Session, split: SplitProposal, id: number): string[] {
  const { colors: c } = session;
  const { name, path, component, hosts, worth, why } = split;
  const [from, to] = linesOf(session, path, component);
  return [
    `${c.cyan(String(id).padStart(3))}  put back ${c.bold(name)}  ${c.dim(`${path}:${from}-${to}`)}  into ${hosts.join(', ')}  worth ${worth.total}`,
    ...wrapped(crossingOf(split).join(c.dim(' · ')), '     '),
    ...wrapped(why.join('; '), '     ').map((line) => c.dim(line)),
  ];
}

function ofHome(session: Session, one: HomeProposal, id: number): string[] {
  const { colors: c } = session;
  const { name, path, component, home, worth, why } = one;
  const [from, to] = linesOf(session, path, component);
  return [
    `${c.cyan(String(id).padStart(3))}  bring home ${c.bold(name)}  ${c.dim(`${path}:${from}-${to}`)}  ${component.name} ${c.dim('→')} ${nameIn(home)}  worth ${worth.total}`,
    ...wrapped(crossingOf(one).join(c.dim(' · ')), '     ').filter((line) => line.trim()),
    ...wrapped(why.join('; '), '     ').map((line) => c.dim(line)),
  ];
}

function ofModule(session: Session, one: ModuleProposal, id: number): string[] {
  const { colors: c } = session;
  const { name, path, region, component, target, seam, worth, why } = one;
  const lines = linesOf(session, path, region)
    .join('-')
    .replace(/^(\d+)-\1$/, '$1');
  const takes = seam.props.length > 0 ? `takes ${seam.props.map((p) => p.name).join(', ')}` : 'nothing crosses';
  return [
    `${c.cyan(String(id).padStart(3))}  take out ${c.bold(name)}  ${c.dim(`${path}:${lines}`)}  ${component} ${c.dim('→')} ${target}  worth ${worth.total}`,
    ...wrapped(takes, '     '),
    ...wrapped(why.join('; '), '     ').map((line) => c.dim(line)),
  ];
}

function crossingOf({ seam }: Pick<RegionProposal, 'seam'>): string[] {
  const list = (word: string, names: readonly { readonly name: string }[]) =>
    names.length > 0 ? [`${word} ${names.map((n) => n.name).join(', ')}`] : [];
  return [...list('props', seam.props), ...list('events', seam.events), ...list('slots', seam.slots)];
}

function drawn(nodes: readonly OutlineNode[], lead: string, c: Colors): string[] {
  return nodes.flatMap((node, i) => {
    const isLast = i === nodes.length - 1;
    const title = node.title ? `  ${c.dim(node.title)}` : '';
    const label = node.made ? c.cyan(`◆ ${node.label}`) : node.label;
    return [
      `${lead}${c.dim(isLast ? '└─ ' : '├─ ')}${label}${title}`,
      ...drawn(node.made ? madeIn(node.children) : node.children, `${lead}${isLast ? '   ' : c.dim('│  ')}`, c),
    ];
  });
}

/** What a new component holds is its own affair, but for further new ones. */
function madeIn(nodes: readonly OutlineNode[]): OutlineNode[] {
  return nodes.flatMap((node) => (node.made ? [node] : madeIn(node.children)));
}

/** So many characters of what a region says are enough to know it. */
const SAID = 40;

function shortened(said: string): string {
  return `“${said.length > SAID ? `${said.slice(0, SAID - 1).trimEnd()}…` : said}”`;
}
