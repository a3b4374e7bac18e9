/** Proposals as documents: `verkstad/propose@1` and `verkstad/plan@1`. */
import {
  planOf,
  type Alternatives,
  type HookProposal,
  type OutlineNode,
  type PagesWritten,
  type Repeat,
  type PlanSeam,
} from '../core/index.js';
import type { History } from '../node/history.js';
import type { PlanDocument, ProposeDocument } from './formats/index.js';
import { linesOf } from './places.js';
import type { Found } from './propose.js';
import type { Workspace } from './workspace.js';

export function planDocument(
  workspace: Workspace,
  { plans, splits, repeats, written, homes, modules }: Found,
): PlanDocument {
  const { files, steps } = planOf(workspace.project, plans, splits, repeats, written, homes, modules);
  return {
    format: 'verkstad/plan@1',
    files: files.map((file) => ({ ...file })),
    steps: steps.map((step): PlanDocument['steps'][number] => {
      const place = { lines: pair(step.lines), range: pair(step.range) };
      if (step.step === 'module') {
        const { names, ...rest } = step;
        return { ...rest, ...place, ...(names ? { names: [...names] } : {}) };
      }
      if (step.step === 'forms' || step.step === 'inputs') {
        const { names, ...rest } = step;
        return { ...rest, ...place, ...(names ? { names: [...names] } : {}) };
      }
      if (step.step === 'through') {
        const { inputs, ...rest } = step;
        return { ...rest, ...place, ...(inputs ? { inputs: [...inputs] } : {}) };
      }
      if (step.step === 'hook') return { ...step, ...place, statements: step.statements.map(pair) };
      if (step.step === 'extract') {
        const { seam, ...rest } = step;
        return { ...rest, ...place, ...(seam ? { seam: seamDocument(seam) } : {}) };
      }
      if (step.step === 'home') return { ...step, ...place, states: [...step.states] };
      if (step.step !== 'unify') return { ...step, ...place };
      const places = step.places.map((p) => ({ ...p, lines: pair(p.lines), range: pair(p.range) }));
      const { seam, ...rest } = step;
      return { ...rest, ...place, places, ...(seam ? { seam: seamDocument(seam) } : {}) };
    }),
  };
}

function seamDocument({ slots, stays, along, ...coded }: PlanSeam) {
  const pieces = Object.entries(slots ?? {}).map(([name, range]) => [name, pair(range)] as const);
  return {
    ...coded,
    ...(slots ? { slots: Object.fromEntries(pieces) } : {}),
    ...(stays ? { stays: [...stays] } : {}),
    ...(along ? { along: [...along] } : {}),
  };
}

function pair([first, last]: readonly [number, number]): [number, number] {
  return [first, last];
}

export function proposeDocument(workspace: Workspace, found: Found): ProposeDocument {
  const { plans, unread, plain } = found;
  return {
    format: 'verkstad/propose@1',
    proposals: proposalDocuments(workspace, found),
    components: plans.map(({ path, component, lines, size, outline, fine, turnedDown }) => ({
      id: `${path}#${component}`,
      lines: [lines[0], lines[1]],
      size,
      outline: outline.map(outlineDocument),
      fine: [...fine],
      turnedDown: turnedDown.map(({ region, reason, why, instead }) => ({
        lines: linesOf(workspace, path, region),
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

function proposalDocuments(
  workspace: Workspace,
  { plans, splits, repeats, homes, modules }: Found,
): ProposeDocument['proposals'] {
  let id = 0;
  const first = repeats.map((repeat) => repeatDocument(workspace, repeat));
  const cuts = plans.flatMap((plan) => {
    const first = id;
    const regions = plan.proposals.map((p): ProposeDocument['proposals'][number] => {
      id++;
      const { region, seam, content } = p;
      const offered = content && {
        lines: linesOf(workspace, p.path, content.span),
        range: [content.span.start, content.span.end] as [number, number],
        seam: { props: [...content.seam.props], events: [...content.seam.events], slots: [...content.seam.slots] },
      };
      return {
        id: String(id),
        step: 'extract',
        name: p.name,
        component: `${p.path}#${p.component}`,
        path: p.path,
        lines: linesOf(workspace, p.path, region),
        range: [region.start, region.end],
        ...(p.says === undefined ? {} : { says: p.says }),
        ...(p.helper === undefined ? {} : { helper: p.helper }),
        seam: { props: [...seam.props], events: [...seam.events], slots: [...seam.slots] },
        worth: p.worth,
        why: [...p.why],
        ...(offered ? { content: offered } : {}),
        ...(p.inside === undefined ? {} : { inside: String(first + p.inside + 1) }),
      };
    });
    return [...regions, ...plan.hooks.map((hook) => hookDocument(workspace, hook, String(++id)))];
  });
  const back = splits.map(({ name, path, component, uses, hosts, seam, worth, why }): (typeof cuts)[number] => ({
    id: String(++id),
    step: 'inline',
    name,
    component: `${uses[0]!.path}#${hosts[0] ?? ''}`,
    path,
    lines: linesOf(workspace, path, component),
    range: [component.start, component.end],
    seam: { props: [...seam.props], events: [...seam.events], slots: [...seam.slots] },
    worth,
    why: [...why],
  }));
  const brought = homes.map(({ name, path, component, home, seam, worth, why }): (typeof cuts)[number] => ({
    id: String(++id),
    step: 'home',
    name,
    component: `${path}#${component.name}`,
    path,
    lines: linesOf(workspace, path, component),
    range: [component.start, component.end],
    seam: { props: [...seam.props], events: [...seam.events], slots: [] },
    worth,
    why: [...why],
    home,
  }));
  const sent = modules.map(({ name, path, component, region, target, seam, worth, why }): (typeof cuts)[number] => ({
    id: String(++id),
    step: 'module',
    name,
    component: `${path}#${component}`,
    path,
    lines: linesOf(workspace, path, region),
    range: [region.start, region.end],
    seam: { props: [...seam.props], events: [], slots: [] },
    worth,
    why: [...why],
    to: target,
  }));
  return [...first, ...cuts, ...back, ...brought, ...sent];
}

function repeatDocument(workspace: Workspace, repeat: Repeat): ProposeDocument['proposals'][number] {
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
    lines: linesOf(workspace, first!.path, first!),
    range: [first!.start, first!.end],
    seam: {
      props: called(['prop', 'flag'], false),
      events: called(['event'], true),
      slots: inputs.filter((input) => input.kind === 'slot').map((input) => ({ name: input.name })),
    },
    worth,
    why: [`${kind}, ${places.length} places`],
    places: places.map((p) => ({ path: p.path, lines: linesOf(workspace, p.path, p), range: [p.start, p.end] })),
  };
}

function hookDocument(workspace: Workspace, hook: HookProposal, id: string): ProposeDocument['proposals'][number] {
  const { name, path, statements, seam, results, worth, why } = hook;
  const span = { start: statements[0]!.start, end: statements.at(-1)!.end };
  return {
    id,
    step: 'hook',
    name,
    component: `${path}#${hook.component}`,
    path,
    lines: linesOf(workspace, path, span),
    range: [span.start, span.end],
    seam: { props: [...seam.props], events: [], slots: [] },
    worth,
    why: [...why],
    statements: statements.map(({ start, end }) => [start, end]),
    results: [...results],
  };
}

type WeighedDocument = Pick<ProposeDocument, 'states' | 'drilled' | 'classes' | 'reasons' | 'alternatives' | 'inputs'>;

function weighedDocument({
  states,
  drilled,
  classes,
  reasons,
  alternatives,
  inputs,
}: Found['weighed']): WeighedDocument {
  return {
    states: states.map(({ home, ...state }) => ({
      ...state,
      readers: [...state.readers],
      writers: [...state.writers],
      ...(home ? { home: { component: home.component, lighter: [...home.lighter] } } : {}),
    })),
    drilled: drilled.map(({ name, through, content }) => ({
      name,
      through: [...through],
      ...(content
        ? { content: content.dropped.map(({ component, inputs: without }) => ({ component, without: [...without] })) }
        : {}),
    })),
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
