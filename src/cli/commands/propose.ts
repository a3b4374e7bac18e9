/** `propose`: where to cut, all cuts together; what every new component would take, and what the host would look like. */
import { writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import {
  isProblem,
  languageOf,
  Lines,
  planOf,
  problem,
  proposeRegions,
  textOf,
  type ComponentPlan,
  type Goal,
  type OutlineNode,
  type Problem,
  type RegionProposal,
} from '../../core/index.js';
import { keepPlan } from '../../node/plans.js';
import type { PlanDocument, ProposeDocument } from '../formats.js';
import { EXIT, type Colors, type CommonOptions, type Host } from '../host.js';
import { json, report } from '../say.js';
import { colorsFor, openSession, type Session } from '../session.js';
import { pathsIn } from './repeats.js';

export interface ProposeOptions extends CommonOptions {
  readonly goal?: string;
  readonly out?: string;
  readonly limit: number;
}

interface Found {
  readonly plans: readonly ComponentPlan[];
  readonly unread: readonly Problem[];
  /** Files of languages that have no components. */
  readonly plain: readonly string[];
}

export async function proposeCommand(host: Host, paths: readonly string[], options: ProposeOptions): Promise<number> {
  const session = await openSession(host, options, paths[0]);
  if (isProblem(session)) {
    report(host, session, undefined, colorsFor(host, options.color), options.json ?? false);
    return EXIT.usage;
  }
  const refuse = (trouble: Problem) => {
    report(host, trouble, session.project, session.colors, session.json);
    return EXIT.usage;
  };
  const only = pathsIn(session, paths);
  if (isProblem(only)) return refuse(only);
  const goal = goalOf(options.goal);
  if (isProblem(goal)) return refuse(goal);
  for (const path of only.named ?? []) {
    const missing = only.paths?.some((p) => p === path || p.startsWith(`${path}/`));
    if (!missing) return refuse(problem('file-unknown', { path }));
  }
  const found = find(session, only.paths ?? session.project.sources(), goal);
  const plan = numbered(found.plans);
  const planText = json(planDocument(session, plan));
  const unwritten =
    keepPlan(session.root, planText) ?? (options.out === undefined ? undefined : writeOut(host, options.out, planText));
  if (unwritten) return refuse(unwritten);
  if (session.json) host.out(json(document(session, plan, found)));
  else {
    host.out(text(session, plan, found, paths.length > 0, options.limit));
    const count = plan.reduce((n, p) => n + p.proposals.length, 0);
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
  const gain = (plan: ComponentPlan) => plan.proposals.reduce((sum, p) => sum + p.worth.total, 0);
  return [...plans].sort((a, b) => gain(b) - gain(a) || (a.path < b.path ? -1 : a.path > b.path ? 1 : 0));
}

function find(session: Session, paths: readonly string[], goal: Goal): Found {
  const plans: ComponentPlan[] = [];
  const unread: Problem[] = [];
  const plain = paths.filter((path) => !languageOf(path)?.cut);
  for (const path of paths) {
    const found = proposeRegions(session.project, path, goal);
    if (isProblem(found)) unread.push(found);
    else plans.push(...found);
  }
  return { plans, unread, plain };
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

function planDocument(session: Session, plans: readonly ComponentPlan[]): PlanDocument {
  const { files, steps } = planOf(session.project, plans);
  return {
    format: 'verkstad/plan@1',
    files: files.map((file) => ({ ...file })),
    steps: steps.map((step) => ({ ...step, lines: [...step.lines], range: [...step.range] })),
  };
}

function document(session: Session, plans: readonly ComponentPlan[], { unread, plain }: Found): ProposeDocument {
  let id = 0;
  const proposals = plans.flatMap((plan) => {
    const first = id;
    return plan.proposals.map((p): ProposeDocument['proposals'][number] => {
      id++;
      const { region, seam } = p;
      return {
        id: String(id),
        step: 'extract',
        name: p.name,
        component: `${p.path}#${p.component}`,
        path: p.path,
        lines: linesOf(session, p),
        range: [region.start, region.end],
        seam: { props: [...seam.props], events: [...seam.events], slots: [...seam.slots] },
        worth: p.worth,
        why: [...p.why],
        ...(p.inside === undefined ? {} : { inside: String(first + p.inside + 1) }),
      };
    });
  });
  return {
    format: 'verkstad/propose@1',
    proposals,
    components: plans.map(({ path, component, lines, size, outline, fine }) => ({
      id: `${path}#${component}`,
      lines: [lines[0], lines[1]],
      size,
      outline: outline.map(outlineDocument),
      fine: [...fine],
    })),
    unread: unread.map((p) => p.path),
    notWeighed: [...plain],
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

function linesOf(session: Session, { path, region }: RegionProposal): [number, number] {
  const [first, last] = new Lines(textOf(session.project.files, path) ?? '').range(region);
  return [first, last];
}

// Words

function text(
  session: Session,
  plans: readonly ComponentPlan[],
  { unread, plain }: Found,
  named: boolean,
  limit: number,
): string {
  const { colors: c } = session;
  const cut = plans.filter((p) => p.proposals.length > 0);
  const out: string[] = [];
  let id = 0;
  for (const [i, plan] of cut.entries()) {
    if (i < limit) out.push(...ofComponent(session, plan, id), '');
    id += plan.proposals.length;
  }
  if (cut.length > limit) out.push(c.dim(`… ${cut.length - limit} more components; --limit shows more`), '');
  const fine = plans.filter((p) => p.proposals.length === 0);
  // A person who asks about a file wants an answer for each component in it; of a project the rest is a number.
  const told = named && fine.length <= FINE_TOLD ? fine : [];
  for (const plan of told)
    out.push(`${c.green('✓')} ${c.bold(plan.component)}  ${c.dim(plan.path)}  fine as it is: ${plan.fine.join('; ')}`);
  const rest = fine.length - told.length;
  if (rest > 0)
    out.push(
      `${c.green('✓')} ${rest} ${cut.length ? 'other ' : ''}${rest === 1 ? 'component is' : 'components are'} fine as ${rest === 1 ? 'it is' : 'they are'}`,
    );
  if (plans.length === 0 && plain.length === 0) out.push('no components here');
  if (plain.length > 0)
    out.push(
      c.dim(
        `not weighed: ${plain.length === 1 ? plain[0]! : `${plain.length} plain pages`}; \`verkstad extract FILE:FROM-TO --into vue\`, or jsx, cuts there`,
      ),
    );
  for (const trouble of unread) out.push(c.dim(`not read: ${trouble.path} ${trouble.message}`));
  return `${out.join('\n').trimEnd()}\n`;
}

const FINE_TOLD = 12;

function ofComponent(session: Session, plan: ComponentPlan, first: number): string[] {
  const { colors: c } = session;
  const { size, proposals } = plan;
  const lines = `${size.before} ${c.dim('→')} about ${size.after} lines`;
  const count = `${proposals.length} ${proposals.length === 1 ? 'component' : 'components'} out of it`;
  const out = [`${c.bold(plan.component)}  ${c.dim(`${plan.path}:${plan.lines[0]}`)}  ${lines}, ${count}`, ''];
  proposals.forEach((proposal, i) =>
    out.push(...ofProposal(session, proposal, first + i + 1, depthOf(proposals, proposal))),
  );
  out.push('', c.dim(`  ${plan.component} would show`));
  out.push(...drawn(plan.outline, '  ', c));
  return out;
}

function depthOf(proposals: readonly RegionProposal[], { inside }: RegionProposal): number {
  return inside === undefined ? 0 : 1 + depthOf(proposals, proposals[inside]!);
}

function ofProposal(session: Session, proposal: RegionProposal, id: number, depth: number): string[] {
  const { colors: c } = session;
  const { name, seam, worth, why } = proposal;
  const [from, to] = linesOf(session, proposal);
  const pad = '  '.repeat(depth);
  const list = (word: string, names: readonly { readonly name: string }[]) =>
    names.length > 0 ? [`${word} ${names.map((n) => n.name).join(', ')}`] : [];
  const crossing = [...list('props', seam.props), ...list('events', seam.events), ...list('slots', seam.slots)];
  const head = `${c.cyan(String(id).padStart(3))}  ${pad}${c.bold(name)}  ${c.dim(`${from}-${to}`)}  worth ${worth.total}`;
  return [
    head,
    ...wrapped(crossing.length > 0 ? crossing.join(c.dim(' · ')) : 'nothing crosses', `     ${pad}`),
    ...wrapped(why.join('; '), `     ${pad}`).map((line) => c.dim(line)),
  ];
}

/** At most about a hundred columns, broken after commas. */
function wrapped(line: string, pad: string): string[] {
  const out: string[] = [];
  let current = '';
  for (const word of line.split(' ')) {
    if (current && pad.length + stripVTControlCharacters(`${current} ${word}`).length > 100) {
      out.push(pad + current);
      current = '';
    }
    current += (current ? ' ' : '') + word;
  }
  return [...out, pad + current];
}

function drawn(nodes: readonly OutlineNode[], lead: string, c: Colors): string[] {
  return nodes.flatMap((node, i) => {
    const isLast = i === nodes.length - 1;
    const title = node.title ? `  ${c.dim(node.title)}` : '';
    const label = node.made ? c.cyan(`◆ ${node.label}`) : node.label;
    return [
      `${lead}${c.dim(isLast ? '└─ ' : '├─ ')}${label}${title}`,
      ...drawn(node.made ? node.children.filter(hasMade) : node.children, `${lead}${isLast ? '   ' : c.dim('│  ')}`, c),
    ];
  });
}

/** What a new component holds is its own affair, but for further new ones. */
function hasMade(node: OutlineNode): boolean {
  return node.made === true || node.children.some(hasMade);
}
