/** Content instead of inputs: a piece of a proposed part that most of what crosses is for can stay written in the host. */
import { textOf } from '../files/files.js';
import type { ProofModule } from '../language/proof-module.js';
import type { Seam } from '../language/cutting.js';
import type { Markup } from '../markup/model.js';
import { snap, type Region } from '../markup/region.js';
import { childLists } from '../markup/walk.js';
import { isProblem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import { widthOf, type ComponentPlan, type RegionProposal, type TurnedDown } from '../propose/regions/propose.js';
import { nodeWithin, within } from '../script/walk.js';
import type { Span } from '../text/edits.js';
import { Lines } from '../text/lines.js';
import { extract } from './extract.js';

/** So many props and events are looked at: what takes fewer is told in a line. */
const MANY = 7;
/** The share of a part that may be content, in code units: beyond it little of the part is left. */
const MOST_SHARE = 0.7;
/** The pieces that are tried, those first that most names are only for. */
const TRIED = 3;

/** Plans that say where content would make a boundary narrow: at least half of what crosses must go, proven. */
export function withContent(project: Project, plans: readonly ComponentPlan[]): readonly ComponentPlan[] {
  return plans.map((plan) => {
    const wide = (one: TurnedDown) => one.reason === 'wide';
    if (!plan.proposals.some((p) => widthOf(p.seam) >= MANY) && !plan.turnedDown.some(wide)) return plan;
    const file = project.source(plan.path);
    const module = isProblem(file) ? file : file.language.prove?.(file, project.ports);
    const lists = isProblem(file) ? file : file.language.lists(file, project.ports);
    if (!module || isProblem(module) || isProblem(lists)) return plan;
    const offers = new Offers(project, plan, module, lists);
    const proposals = plan.proposals.map((p): RegionProposal => {
      const offer = widthOf(p.seam) >= MANY ? offers.of(p.region, widthOf(p.seam)) : undefined;
      return offer ? { ...p, content: offer.content, why: [...p.why, offer.words] } : p;
    });
    const turnedDown = plan.turnedDown.map((one) => {
      const region = wide(one) ? snap(module.text, one.region, lists) : undefined;
      const offer = region && offers.of(region, undefined);
      return offer ? { ...one, instead: offer.words } : one;
    });
    return { ...plan, proposals, turnedDown };
  });
}

interface Offer {
  readonly content: { readonly span: Span; readonly seam: Seam };
  readonly words: string;
}

class Offers {
  readonly #lines: Lines;

  constructor(
    readonly project: Project,
    readonly plan: ComponentPlan,
    readonly module: ProofModule,
    readonly lists: readonly (readonly Markup[])[],
  ) {
    this.#lines = new Lines(textOf(project.files, plan.path) ?? '');
  }

  /** `width`: how much crosses without, where the region can be cut so. */
  of(region: Region, width: number | undefined): Offer | undefined {
    const names = this.#crossing(region);
    const before = width ?? names.size;
    const onlyIn = (piece: Span) =>
      [...names.values()].filter((places) => places.every((at) => at >= piece.start && at < piece.end)).length;
    const pieces = piecesIn(region)
      .map((piece) => ({ piece, freed: onlyIn(piece) }))
      .filter(({ freed }) => freed * 2 >= names.size && freed >= MANY / 2)
      .sort((a, b) => b.freed - a.freed || a.piece.end - a.piece.start - (b.piece.end - b.piece.start));
    for (const { piece } of pieces.slice(0, TRIED)) {
      const seam = this.#seamWith(region, piece);
      if (!seam || widthOf(seam) * 2 > before) continue;
      const [first, last] = this.#lines.range(piece);
      const [from, to] = this.#lines.range(region);
      const lines = first === last ? `${first}` : `${first}-${last}`;
      const words = `with ${first === last ? 'line' : 'lines'} ${lines} as content, ${before} inputs become ${widthOf(seam)}: verkstad extract ${this.plan.path}:${from}-${to} --slot ${lines}`;
      return { content: { span: piece, seam }, words };
    }
    return undefined;
  }

  /** What crosses where a piece stays, proven. */
  #seamWith(region: Region, piece: Span): Seam | undefined {
    const change = extract(this.project, {
      path: this.plan.path,
      range: region,
      seam: { slots: { children: piece } },
    });
    return isProblem(change) || change.proof.answer !== 'same' ? undefined : change.seam;
  }

  /** Names of the component that the region uses, with the offsets at which it does. */
  #crossing(region: Span): ReadonlyMap<string, readonly number[]> {
    const { scopes } = this.module;
    const found = new Map<string, number[]>();
    for (const { resolved, identifier } of scopes.within(region)) {
      if (!resolved || resolved.defs.length === 0 || scopes.isModuleLevel(resolved)) continue;
      if (resolved.identifiers.some((id) => nodeWithin(id, region))) continue;
      found.set(resolved.name, [...(found.get(resolved.name) ?? []), identifier.range[0]]);
    }
    return found;
  }
}

/** Siblings in a region, one by one and all that an element holds, that leave enough of it. */
function piecesIn({ nodes, start, end }: Region): Span[] {
  const pieces: Span[] = [];
  const visit = (list: readonly Markup[]): void => {
    const shown = list.filter((node) => node.kind !== 'comment' && node.kind !== 'text');
    const [first, last] = [shown[0], shown.at(-1)];
    if (first && last && first !== last) pieces.push({ start: first.start, end: last.end });
    for (const node of shown) {
      pieces.push({ start: node.start, end: node.end });
      // What a loop makes would be handed over as a function of its turn.
      if (node.kind !== 'loop') for (const inner of childLists(node)) visit(inner);
    }
  };
  for (const node of nodes) for (const inner of childLists(node)) visit(inner);
  return pieces.filter(
    (piece) => within(piece, { start, end }) && piece.end - piece.start <= MOST_SHARE * (end - start),
  );
}
