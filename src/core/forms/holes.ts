/** Where the places of an alignment differ: the differences of every pairing with the reference, put together. */
import type { Forms } from './forms.js';
import { attributesOf, siblingsIn } from './parts.js';

/** Consecutive siblings of the neutral form: nodes `[first, end)`. */
export interface Place {
  readonly first: number;
  readonly end: number;
}

/** A leaf, an expression or one piece of markup that differs. */
export interface ValueHole {
  readonly kind: 'value';
  /** In the reference. */
  readonly node: number;
  /** Node at each place; undefined where an optional part around it is not there. */
  readonly values: readonly (number | undefined)[];
}

/** Siblings that differ: `optional` where each place has all of them or none, else a `slot`. */
export interface RunHole {
  readonly kind: 'slot' | 'optional';
  readonly parent: number;
  /** The reference's siblings; for a slot there may be none. */
  readonly nodes: readonly number[];
  /** The sibling before them in the reference. */
  readonly after: number | undefined;
  readonly values: readonly (readonly number[])[];
}

/** An attribute that some places have and others do not. */
export interface AttributeHole {
  readonly kind: 'attribute';
  readonly element: number;
  readonly name: string;
  /** In the reference, when it has it. */
  readonly node: number | undefined;
  readonly values: readonly (number | undefined)[];
}

export type Hole = ValueHole | RunHole | AttributeHole;

interface RunDifference {
  readonly parent: number;
  /** Positions among the reference's siblings. */
  readonly from: number;
  readonly to: number;
}

interface AttributeDifference {
  readonly element: number;
  readonly label: string;
}

/** One place paired with the reference. */
export interface Paired {
  /** The node that answers to each node of the reference, by its index less the first; -1 for none. */
  readonly counterparts: Int32Array;
  /** Nodes of the reference whose value differs or that are something else here. */
  readonly replaced: ReadonlyMap<number, number>;
  readonly runs: readonly RunDifference[];
  readonly attributes: readonly AttributeDifference[];
}

/** Puts the differences of all pairings together. */
export class Holes {
  readonly #parents: Int32Array;

  constructor(
    readonly forms: Forms,
    readonly reference: Place,
    readonly pairings: readonly Paired[],
  ) {
    this.#parents = forms.parentsWithin(reference);
  }

  all(): Hole[] {
    const runs = this.#runs();
    const covered = new Set(runs.filter((r) => r.kind === 'slot').flatMap((r) => r.nodes));
    const replaced = new Set(this.pairings.flatMap((p) => [...p.replaced.keys()]));
    const inside = (node: number): boolean => {
      for (let at = node; at !== -1; at = this.#parents[at - this.reference.first]!)
        if (covered.has(at) || (at !== node && replaced.has(at))) return true;
      return false;
    };
    const values = [...replaced]
      .filter((node) => !inside(node))
      .map((node): ValueHole => ({ kind: 'value', node, values: this.pairings.map((p) => this.#valueAt(p, node)) }));
    const attributes = this.#attributes().filter((hole) => !inside(hole.element) && !replaced.has(hole.element));
    const kept = runs.filter(
      (run) =>
        !replaced.has(run.parent) &&
        !inside(run.parent) &&
        !run.nodes.some((n) => replaced.has(n) && run.kind === 'optional' && run.nodes.length > 1),
    );
    return [...values, ...attributes, ...kept].sort((x, y) => this.#order(x) - this.#order(y));
  }

  #order(hole: Hole): number {
    if (hole.kind === 'value') return hole.node;
    if (hole.kind === 'attribute') return hole.node ?? hole.element;
    return hole.nodes[0] ?? hole.after ?? hole.parent;
  }

  #valueAt(pairing: Paired, node: number): number | undefined {
    const other = pairing.replaced.get(node) ?? pairing.counterparts[node - this.reference.first]!;
    return other === -1 ? undefined : other;
  }

  #attributes(): AttributeHole[] {
    const found = new Map<string, AttributeHole>();
    for (const { element, label } of this.pairings.flatMap((p) => p.attributes)) {
      const key = `${element} ${label}`;
      if (found.has(key)) continue;
      const named = (node: number) => attributesOf(this.forms, node).find((a) => this.forms.labelOf(a) === label);
      const values = this.pairings.map((p) => {
        const other = p.counterparts[element - this.reference.first]!;
        return other === -1 ? undefined : named(other);
      });
      found.set(key, { kind: 'attribute', element, name: label.replace(/^@/, ''), node: named(element), values });
    }
    return [...found.values()];
  }

  #runs(): RunHole[] {
    const byParent = new Map<number, { from: number; to: number }[]>();
    for (const { parent, from, to } of this.pairings.flatMap((p) => p.runs)) {
      const list = byParent.get(parent) ?? [];
      const touching = list.filter((r) => r.from <= to && from <= r.to);
      const rest = list.filter((r) => !touching.includes(r));
      rest.push({
        from: Math.min(from, ...touching.map((r) => r.from)),
        to: Math.max(to, ...touching.map((r) => r.to)),
      });
      byParent.set(parent, rest);
    }
    return [...byParent].flatMap(([parent, intervals]) => intervals.map((run) => this.#run(parent, run)));
  }

  #run(parent: number, { from, to }: { from: number; to: number }): RunHole {
    const { forms } = this;
    const xs = siblingsIn(forms, parent);
    const nodes = xs.slice(from, to);
    const values = this.pairings.map((pairing): number[] => {
      const at = (node: number) => this.#valueAt(pairing, node) ?? -1;
      const other = at(parent);
      if (other === -1) return [];
      const ys = siblingsIn(forms, other);
      const begin = from > 0 ? ys.indexOf(at(xs[from - 1]!)) + 1 : 0;
      const end = to < xs.length ? ys.indexOf(at(xs[to]!)) : ys.length;
      return ys.slice(begin, Math.max(begin, end));
    });
    const whole = this.pairings.every((pairing, p) => {
      const run = values[p]!;
      return (
        run.length === 0 ||
        (run.length === nodes.length &&
          nodes.every((n, i) => pairing.counterparts[n - this.reference.first] === run[i]))
      );
    });
    const after = from > 0 ? xs[from - 1] : undefined;
    return { kind: whole && nodes.length > 0 ? 'optional' : 'slot', parent, nodes, after, values };
  }
}
