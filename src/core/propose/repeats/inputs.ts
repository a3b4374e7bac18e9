/**
 * From holes to an interface: what one component for all places would be given. Differences that go together are one
 * input; a literal that shares its head or tail with others is a template around one; what only one place has is optional.
 */
import { type Alignment, type AttributeHole, type Hole, type RunHole, type ValueHole } from '../../forms/align.js';
import type { Forms } from '../../forms/forms.js';
import { languageOf } from '../../language/registry.js';
import { attributesOf } from '../../forms/parts.js';
import { commonEnds } from './common-ends.js';
import type { Given, Input, Site } from './input.js';
import { LOOKS_UP } from '../said.js';
import { InputNames } from './input-names.js';

export interface InputOptions {
  /** Source text of a node. */
  readonly textOf: (node: number) => string;
  /** Keep handlers open for the sake of their literals, so that a place can be all data. */
  readonly literals?: boolean;
  /** Names that the places read of their hosts, outside of what the inputs stand for. */
  readonly taken?: (inputs: readonly Input[]) => ReadonlySet<string>;
}

/** Undefined where some difference is of a kind that no input can carry. */
export function inputsOf(forms: Forms, alignment: Alignment, options: InputOptions): Input[] | undefined {
  return new Inputs(forms, alignment, options).build();
}

const ID_ATTRIBUTES =
  /^@(?:id|htmlFor|for|name|href|list|form|headers|aria-(?:labelledby|controls|describedby|owns|activedescendant|details|errormessage|flowto)|data-[\w-]+)$/;

interface OptionalPart {
  readonly run: RunHole;
  /** Differences inside that go with it. */
  readonly taken: readonly Hole[];
  /** The difference inside that says whether the part is there. */
  readonly by?: ValueHole;
  /** Set where that is no difference by itself. */
  readonly added?: ValueHole;
  readonly input?: Input;
}

class Inputs {
  readonly #parents: Int32Array;
  readonly #first: number;
  readonly #count: number;
  readonly #names: InputNames;

  constructor(
    readonly forms: Forms,
    readonly alignment: Alignment,
    readonly options: InputOptions,
  ) {
    const reference = alignment.places[alignment.reference]!;
    this.#first = reference.first;
    this.#count = alignment.places.length;
    this.#parents = forms.parentsWithin(reference);
    const differing = alignment.holes.flatMap((h) => (h.kind === 'value' ? [h.node] : []));
    this.#names = new InputNames(forms, (node) => this.#parentOf(node), new Set(differing), this.#first);
  }

  build(): Input[] | undefined {
    const holes = this.#withExpressions(this.#withTexts(this.#withHandlers(this.alignment.holes)));
    const optional = holes.filter((h): h is RunHole => h.kind === 'optional');
    const parts: OptionalPart[] = optional.map((run) => this.#optional(run, holes));
    // What an optional part takes along is no difference of its own.
    const taken = new Set(parts.flatMap((p) => p.taken));
    // What goes into a record goes there as it is.
    const records = holes.filter((h): h is AttributeHole => h.kind === 'attribute' && this.#opensInto(h));
    const whole = records.flatMap(({ node }) => node ?? []);
    const isInRecord = (h: Hole) => h.kind !== 'attribute' && whole.some((node) => this.#isInside(h, node));
    const rest = holes.filter((h) => h.kind !== 'optional' && !taken.has(h) && !isInRecord(h));
    const choices = this.#choices(rest);
    const chosen = new Set(
      choices.flatMap((c) => c.sites.flatMap((s) => (s.kind === 'choice' ? [s.hole as Hole] : []))),
    );
    const values = [
      ...rest.filter((h): h is ValueHole => h.kind === 'value' && !chosen.has(h)),
      ...parts.flatMap((p) => p.added ?? []),
    ];
    const inputs: Input[] = [...this.#values(values), ...choices];
    const attributes = rest.filter((h): h is AttributeHole => h.kind === 'attribute' && !chosen.has(h));
    inputs.push(...this.#attributes(attributes));
    for (const part of parts) {
      const guarded = part.by && inputs.find((i) => i.sites.some((s) => s.kind === 'whole' && s.hole === part.by));
      if (guarded) guarded.sites.push({ kind: 'guard', hole: part.run });
      else inputs.push(part.input ?? this.#slot(part.run));
    }
    for (const hole of rest) if (hole.kind === 'slot') inputs.push(this.#slot(hole));
    if (inputs.some((input) => !this.#carries(input))) return undefined;
    const merged = mergeEqual(inputs, (given) => this.#print(given));
    this.#names.assign(merged, this.options.taken?.(merged) ?? new Set());
    return merged.map((input) => this.#withDefault(input)).sort((x, y) => orderOf(x) - orderOf(y));
  }

  #parentOf(node: number): number {
    return this.#parents[node - this.#first] ?? -1;
  }

  #labelAbove(node: number): string {
    const above = this.#parentOf(node);
    return above === -1 ? '' : this.forms.labelOf(above);
  }

  // Handlers

  /** A handler that differs in more than what is known anyway is handed over whole. */
  #withHandlers(holes: readonly Hole[]): Hole[] {
    const byHandler = new Map<number, Hole[]>();
    const outside: Hole[] = [];
    for (const hole of holes) {
      const handler = this.#handlerAround(hole);
      if (handler === undefined) outside.push(hole);
      else byHandler.set(handler, [...(byHandler.get(handler) ?? []), hole]);
    }
    const known = new Set(outside.flatMap((hole) => (hole.kind === 'value' ? this.#vectorsOf(hole) : [])));
    for (const [attribute, inside] of byHandler) {
      const literal = (hole: Hole) =>
        hole.kind === 'value' && /^(?:string|number)$/.test(this.forms.labelOf(hole.node));
      const open = inside.every(
        (hole) =>
          literal(hole) &&
          (this.options.literals === true || this.#vectorsOf(hole as ValueHole).some((vector) => known.has(vector))),
      );
      if (open) outside.push(...inside);
      else outside.push(this.#handlerHole(attribute));
    }
    return outside.sort((x, y) => positionOf(x) - positionOf(y));
  }

  /**
   * A text that is looked up is one thing, whatever its key and the words that stand in for it; and the tools that gather
   * texts find only what is written out.
   */
  #withTexts(holes: readonly Hole[]): Hole[] {
    return this.#widened(
      holes,
      holes.map((hole) => this.#textAround(hole)),
    );
  }

  /**
   * An expression that differs in several ways that nothing else shares is handed over whole, by the name of the attribute
   * that it is for: `disabled`, and not each thing that it depends on.
   */
  #withExpressions(holes: readonly Hole[]): Hole[] {
    const uses = new Map<string, number>();
    const vectors = holes.map((hole) => (hole.kind === 'value' ? new Set(this.#vectorsOf(hole)) : new Set<string>()));
    for (const vector of vectors.flatMap((own) => [...own])) uses.set(vector, (uses.get(vector) ?? 0) + 1);
    const around = holes.map((hole) => this.#expressionAround(hole));
    const isOwn = (i: number) => [...vectors[i]!].every((vector) => uses.get(vector) === 1);
    const several = around.map((expression) => {
      if (expression === undefined) return undefined;
      const inside = around.flatMap((other, i) => (other === expression ? [i] : []));
      return inside.filter(isOwn).length > 1 ? expression : undefined;
    });
    return this.#widened(holes, several);
  }

  /** The holes, those that have a node to widen to as one hole at that node. */
  #widened(holes: readonly Hole[], nodes: readonly (number | undefined)[]): Hole[] {
    const found = new Set<number>();
    return holes.flatMap((hole, i): Hole[] => {
      const node = nodes[i];
      if (node === undefined) return [hole];
      if (found.has(node)) return [];
      found.add(node);
      const at = this.#labelAbove(node) === 'shown' ? this.#parentOf(node) : node;
      const values = this.alignment.counterparts.map((counterparts) => {
        const other = counterparts[at - this.#first]!;
        return other === -1 ? undefined : other;
      });
      return [{ kind: 'value', node: at, values }];
    });
  }

  /** All of the attribute's code that a difference stands in, where that can be read outside of the place. */
  #expressionAround(hole: Hole): number | undefined {
    if (hole.kind !== 'value' || hole.values.includes(undefined)) return undefined;
    let expression: number | undefined;
    for (let at = hole.node; at !== -1; at = this.#parentOf(at)) {
      const label = this.forms.labelOf(at);
      if (/^(?:branch|loop|arm|outlet)$|Function|^@(?:on[A-Z]|key|ref)/.test(label)) return undefined;
      if (expression === undefined && this.#labelAbove(at).startsWith('@')) expression = at;
    }
    if (expression === undefined || expression === hole.node) return undefined;
    const code = expression;
    return this.alignment.places.some((place, p) => this.#readsBound(code, place, p)) ? undefined : code;
  }

  /** The look-up around a difference, where all that it reads is known outside and it is read whenever the place is. */
  #textAround(hole: Hole): number | undefined {
    if (hole.kind !== 'value' || hole.values.includes(undefined)) return undefined;
    const { forms, alignment } = this;
    let call: number | undefined;
    for (let at = hole.node; at !== -1; at = this.#parentOf(at)) {
      const label = forms.labelOf(at);
      if (/^(?:branch|loop|arm|outlet)$|Function|Conditional|Logical|^@(?:on[A-Z]|key)/.test(label)) return undefined;
      if (call === undefined && label.startsWith('CallExpression') && this.#looksUp(at)) call = at;
    }
    const bound = call !== undefined && alignment.places.some((place, p) => this.#readsBound(call, place, p));
    return bound ? undefined : call;
  }

  #looksUp(call: number): boolean {
    const { forms } = this;
    const [callee, first] = forms.partsOf(call);
    if (callee === undefined || first === undefined || forms.labelOf(first) !== 'string') return false;
    const member = forms.partsOf(callee).find((part) => forms.labelOf(part) === 'member');
    return LOOKS_UP.test(forms.valueOf(forms.labelOf(callee) === 'name' ? callee : (member ?? callee)));
  }

  #readsBound(call: number, { first, end }: { first: number; end: number }, p: number): boolean {
    const { forms } = this;
    const own = this.alignment.counterparts[p]![call - this.#first]!;
    if (own === -1) return true;
    const bound = new Set<string>();
    for (let node = first; node < end; node++) if (forms.labelOf(node) === 'binding') bound.add(forms.valueOf(node));
    for (let node = own; node < own + forms.size[own]!; node++)
      if (forms.labelOf(node) === 'name' && bound.has(forms.valueOf(node))) return true;
    return false;
  }

  #handlerAround(hole: Hole): number | undefined {
    if (hole.kind === 'attribute') return undefined;
    const node = hole.kind === 'value' ? hole.node : hole.parent;
    let found: number | undefined;
    for (let at = node; at !== -1; at = this.#parentOf(at)) if (/^@on[A-Z]/.test(this.forms.labelOf(at))) found = at;
    return found;
  }

  #handlerHole(attribute: number): ValueHole {
    const node = attribute + 1;
    const values = this.alignment.counterparts.map((counterparts) => {
      const other = counterparts[attribute - this.#first]!;
      return other === -1 ? undefined : other + 1;
    });
    return { kind: 'value', node, values };
  }

  // Values

  /** All that a literal could share with others: itself, and what is left of it without a common head and tail. */
  #vectorsOf(hole: ValueHole): string[] {
    const full = this.#vector(hole);
    const split = this.#split(hole);
    return split ? [full, vectorKey(split.middles)] : [full];
  }

  #vector(hole: ValueHole): string {
    return vectorKey(hole.values.map((node) => (node === undefined ? undefined : this.#print(this.#given(node)))));
  }

  #values(holes: readonly ValueHole[]): Input[] {
    const uses = new Map<string, number>();
    for (const hole of holes)
      for (const vector of new Set(this.#vectorsOf(hole))) uses.set(vector, (uses.get(vector) ?? 0) + 1);
    return holes.map((hole): Input => {
      const split = this.#split(hole);
      const full = this.#vector(hole);
      const shared = split && (uses.get(vectorKey(split.middles)) ?? 0) > 1;
      const alone = (uses.get(full) ?? 0) <= 1;
      if (split && ((shared && (alone || split.isId)) || (split.isId && split.bounded))) {
        return {
          name: '',
          kind: 'prop',
          sites: [{ kind: 'whole', hole, head: split.head, tail: split.tail }],
          values: split.middles.map((text) => (text === undefined ? undefined : { kind: 'string', text })),
        };
      }
      const values = hole.values.map((node) => (node === undefined ? undefined : this.#given(node)));
      return {
        name: '',
        kind: this.#kindOf(hole, values),
        sites: [{ kind: 'whole', hole, head: '', tail: '' }],
        values,
      };
    });
  }

  #kindOf(hole: ValueHole, values: readonly (Given | undefined)[]): Input['kind'] {
    const above = this.#parentOf(hole.node);
    if (above !== -1 && /^@on[A-Z]/.test(this.forms.labelOf(above))) return 'event';
    return values.some((v) => v?.kind === 'markup') ? 'slot' : 'prop';
  }

  /** A literal of an attribute or of code with the same head or tail at every place. */
  #split(
    hole: ValueHole,
  ):
    | { head: string; tail: string; middles: readonly (string | undefined)[]; isId: boolean; bounded: boolean }
    | undefined {
    const { forms } = this;
    const present = hole.values.filter((v) => v !== undefined);
    if (!present.every((node) => forms.labelOf(node) === 'string')) return undefined;
    const texts = hole.values.map((node) => (node === undefined ? undefined : forms.valueOf(node)));
    const parts = commonEnds(texts.filter((t) => t !== undefined));
    if (!parts) return undefined;
    const { head, tail } = parts;
    const attribute = forms.labelOf(this.#parentOf(hole.node));
    const isId = ID_ATTRIBUTES.test(attribute) && (attribute !== '@href' || head.startsWith('#'));
    const middles = texts.map((t) => t?.slice(head.length, t.length - tail.length));
    return { head, tail, middles, isId, bounded: /[-_:.]/.test(head + tail) };
  }

  #given(node: number): Given {
    const label = this.forms.labelOf(node);
    if (label === 'string' || label === 'text') return { kind: 'string', text: this.forms.valueOf(node) };
    if (label === 'shown') return { kind: 'code', node: node + 1 };
    if (this.forms.roleOf(node) === 'markup') return { kind: 'markup', nodes: [node] };
    return { kind: 'code', node };
  }

  #print(given: Given): string {
    switch (given.kind) {
      case 'string':
        return given.text;
      case 'flag':
        return 'true';
      case 'code':
        return `{${this.options.textOf(given.node)}}`;
      case 'markup':
        return given.nodes.map((n) => this.options.textOf(n)).join('');
      case 'record':
        return given.entries.map(({ name, given: own }) => `${name}=${this.#print(own)}`).join(' ');
    }
  }

  // Parts that come and go

  /** What a component has at some places only goes to it as one record: it may tell what is undefined from what is not there. */
  #attributes(holes: readonly AttributeHole[]): Input[] {
    const byElement = new Map<number, AttributeHole[]>();
    const inputs: Input[] = [];
    for (const hole of holes) {
      if (this.#opensInto(hole)) byElement.set(hole.element, [...(byElement.get(hole.element) ?? []), hole]);
      else inputs.push(this.#attribute(hole));
    }
    return [...inputs, ...[...byElement.values()].map((own) => this.#record(own))];
  }

  #opensInto({ element, name }: AttributeHole): boolean {
    const { forms } = this;
    if (!/^<[A-Z]/.test(forms.labelOf(element)) || /^(?:ref|key)$/.test(name)) return false;
    if (!languageOf(forms.file(element).path)?.opensRecords) return false;
    // Of two records of attributes the later one wins, name by name.
    return this.alignment.counterparts.every((found) => {
      const there = found[element - this.#first]!;
      return there === -1 || attributesOf(forms, there).every((a) => forms.labelOf(a) !== '{...}');
    });
  }

  #record(holes: readonly AttributeHole[]): Input {
    const values = this.alignment.places.map((_, p): Given | undefined => {
      const entries = holes.flatMap(({ name, values: own }) => {
        const attribute = own[p];
        return attribute === undefined ? [] : [{ name, given: this.#given(attribute + 1) }];
      });
      return entries.length > 0 ? { kind: 'record', entries } : undefined;
    });
    return { name: '', kind: 'prop', sites: [{ kind: 'spread', hole: holes[0]!, holes }], values };
  }

  #attribute(hole: AttributeHole): Input {
    const values = hole.values.map((attribute) => (attribute === undefined ? undefined : this.#given(attribute + 1)));
    const kind = /^on[A-Z]/.test(hole.name) ? 'event' : 'prop';
    return { name: '', kind, sites: [{ kind: 'whole', hole, head: '', tail: '' }], values };
  }

  #optional(run: RunHole, holes: readonly Hole[]): OptionalPart {
    const inside = holes.filter((hole) => hole !== run && run.nodes.some((node) => this.#isInside(hole, node)));
    // Only an element of its own can be put behind a condition as it stands.
    if (run.nodes.length !== 1 || !this.forms.labelOf(run.nodes[0]!).startsWith('<')) return { run, taken: inside };
    const only = inside.length === 1 ? inside[0]! : undefined;
    if (inside.length === 0) {
      const text = this.#soleText(run);
      if (text) return { run, taken: [], by: text, added: text };
      const values = run.values.map((nodes): Given | undefined => (nodes.length > 0 ? { kind: 'flag' } : undefined));
      return { run, taken: [], input: { name: '', kind: 'flag', sites: [{ kind: 'guard', hole: run }], values } };
    }
    // A text that is surely there says by itself whether its part is.
    const present = only?.kind === 'value' ? only.values.filter((v) => v !== undefined) : [];
    const isText = (node: number) =>
      /^(?:text|string)$/.test(this.forms.labelOf(node)) && this.forms.valueOf(node) !== '';
    if (only?.kind === 'value' && present.length > 0 && present.every(isText)) return { run, taken: [], by: only };
    return { run, taken: inside };
  }

  /** The text of a part that shows nothing else: it says what the part is better than a switch could. */
  #soleText(run: RunHole): ValueHole | undefined {
    const { forms } = this;
    const texts = run.nodes.flatMap((root) => {
      const inside: number[] = [];
      for (let node = root; node < root + forms.size[root]!; node++)
        if (['text', 'shown', 'branch', 'loop', 'outlet'].includes(forms.labelOf(node))) inside.push(node);
      return inside;
    });
    const only = texts.length === 1 ? texts[0]! : undefined;
    if (only === undefined || forms.labelOf(only) !== 'text') return undefined;
    const values = this.alignment.counterparts.map((c) =>
      c[only - this.#first] === -1 ? undefined : c[only - this.#first],
    );
    return { kind: 'value', node: only, values };
  }

  #isInside(hole: Hole, node: number): boolean {
    const at = hole.kind === 'value' ? hole.node : hole.kind === 'attribute' ? hole.element : hole.parent;
    return at >= node && at < node + this.forms.size[node]!;
  }

  #slot(run: RunHole): Input {
    const values = run.values.map((nodes): Given | undefined =>
      nodes.length === 0 ? undefined : { kind: 'markup', nodes },
    );
    return { name: '', kind: 'slot', sites: [{ kind: 'whole', hole: run, head: '', tail: '' }], values };
  }

  /** The one entry that is another: the active link of a navigation, at another place on every page. */
  #choices(holes: readonly Hole[]): Input[] {
    const families = new Map<
      string,
      { hole: ValueHole | AttributeHole; odd: number; on: Given | undefined; off: Given | undefined }[]
    >();
    for (const hole of holes) {
      if (hole.kind !== 'value' && hole.kind !== 'attribute') continue;
      const attribute = hole.kind === 'value' ? this.#labelAbove(hole.node) : `@${hole.name}`;
      if (!attribute.startsWith('@') || /^@on[A-Z]/.test(attribute)) continue;
      const values = hole.values.map((v) =>
        v === undefined ? undefined : this.#given(hole.kind === 'attribute' ? v + 1 : v),
      );
      const printed = values.map((v) => (v === undefined ? '' : this.#print(v)));
      const distinct = [...new Set(printed)];
      if (distinct.length !== 2) continue;
      const longer = distinct[0]!.length > distinct[1]!.length ? distinct[0]! : distinct[1]!;
      const odd = printed.indexOf(longer);
      if (printed.filter((p) => p === longer).length !== 1) continue;
      const off = values[printed.findIndex((p) => p !== longer)];
      const key = JSON.stringify([attribute, distinct.sort()]);
      families.set(key, [...(families.get(key) ?? []), { hole, odd, on: values[odd], off }]);
    }
    return [...families.values()].flatMap((family): Input[] => {
      const places = new Set(family.map((f) => f.odd));
      if (family.length < 2 || places.size !== family.length) return [];
      const keys = family.map((f) =>
        this.#names.keyFor(f.hole.kind === 'value' ? this.#parentOf(this.#parentOf(f.hole.node)) : f.hole.element),
      );
      if (keys.some((k) => k === undefined) || new Set(keys).size !== keys.length) return [];
      const sites = family.map(({ hole, on, off }, i): Site => ({ kind: 'choice', hole, key: keys[i]!, on, off }));
      const values = Array.from({ length: this.#count }, (_, p): Given | undefined => {
        const at = family.findIndex((f) => f.odd === p);
        return at < 0 ? undefined : { kind: 'string', text: keys[at]! };
      });
      return [{ name: '', kind: 'prop', sites, values }];
    });
  }

  /** Equal values at all places but one, of three or more: the one that most have need not be passed. */
  #withDefault(input: Input): Input {
    if (input.kind !== 'prop' || this.#count < 3 || input.values.includes(undefined)) return input;
    const counts = new Map<string, number>();
    for (const value of input.values) counts.set(this.#print(value!), (counts.get(this.#print(value!)) ?? 0) + 1);
    const [most, count] = [...counts].reduce((x, y) => (y[1] > x[1] ? y : x));
    const held = input.values.find((value) => this.#print(value!) === most)!;
    const isLiteral =
      held.kind === 'string' || (held.kind === 'code' && /^(?:number|boolean)$/.test(this.forms.labelOf(held.node)));
    if (count !== this.#count - 1 || !isLiteral) return input;
    return {
      ...input,
      default: held,
      values: input.values.map((value) => (this.#print(value!) === most ? undefined : value)),
    };
  }

  /** Spreads cannot be told apart by name; a key belongs to the place. */
  #carries(input: Input): boolean {
    if (input.kind === 'slot' && input.values.some((given, p) => given?.kind === 'markup' && this.#isBound(given, p)))
      return false;
    const entries = input.values.map((given) => (given?.kind === 'record' ? given.entries.map((e) => e.given) : []));
    if (entries.some((list, p) => list.some((given) => this.#isBound(given, p)))) return false;
    // What is there at some places only cannot be worked out from what is bound where it stands: there is nothing to call.
    const isMissing = input.values.includes(undefined) && input.sites.some((site) => site.hole.kind === 'attribute');
    if (isMissing && input.values.some((given, p) => given !== undefined && this.#readsAround(given, p))) return false;
    return input.sites.every((site) => {
      if (site.kind === 'spread') return true;
      // A component may tell a prop that is undefined from one that is not there.
      if (site.hole.kind === 'attribute') {
        const isNative = /^<[a-z]/.test(this.forms.labelOf(site.hole.element));
        return isNative && (site.hole.name !== 'ref' || this.#areRefs(input));
      }
      if (site.hole.kind !== 'value') return true;
      const label = this.forms.labelOf(this.#parentOf(site.hole.node));
      return label === '@ref' ? this.#areRefs(input) : label !== '{...}' && label !== 'turn';
    });
  }

  /** Whether all that is handed over for a ref is a value, and no name of the place. */
  #areRefs({ values }: Input): boolean {
    const isValue = languageOf(this.forms.file(this.#first).path)?.refsAreValues === true;
    return isValue && values.every((given) => given === undefined || given.kind === 'code');
  }

  /** Whether what a place hands over reads what is bound in that place around it: only where it stands is that known. */
  #isBound(given: Given, p: number): boolean {
    const { path } = this.forms.file(this.alignment.places[p]!.first);
    return languageOf(path)?.scopedContent !== true && this.#readsAround(given, p);
  }

  #readsAround(given: Given, p: number): boolean {
    const { forms } = this;
    const nodes = given.kind === 'markup' ? given.nodes : given.kind === 'code' ? [given.node] : [];
    const place = this.alignment.places[p]!;
    const isWithin = (node: number) => nodes.some((root) => node >= root && node < root + forms.size[root]!);
    const bound = new Set<string>();
    for (let node = place.first; node < place.end; node++)
      if (forms.labelOf(node) === 'binding' && !isWithin(node)) bound.add(forms.valueOf(node));
    return nodes.some((root) => {
      for (let node = root; node < root + forms.size[root]!; node++)
        if (forms.labelOf(node) === 'name' && bound.has(forms.valueOf(node))) return true;
      return false;
    });
  }
}

function positionOf(hole: Hole): number {
  return hole.kind === 'value'
    ? hole.node
    : hole.kind === 'attribute'
      ? (hole.node ?? hole.element)
      : (hole.nodes[0] ?? hole.parent);
}

function orderOf(input: Input): number {
  const rank = { prop: 0, flag: 1, slot: 2, event: 3 }[input.kind];
  return rank * 1e9 + Math.min(...input.sites.map((s) => positionOf(s.hole)));
}

function vectorKey(values: readonly (string | undefined)[]): string {
  return JSON.stringify(values.map((v) => v ?? null));
}

/** Inputs that are handed the same at every place are one. */
function mergeEqual(inputs: readonly Input[], print: (given: Given) => string): Input[] {
  const byVector = new Map<string, Input>();
  for (const input of inputs) {
    const plain = input.kind === 'flag' || input.kind === 'slot' ? `${input.kind}:` : '';
    const key = plain + vectorKey(input.values.map((v) => (v === undefined ? undefined : `${v.kind}:${print(v)}`)));
    const known = byVector.get(key);
    if (known) known.sites.push(...input.sites);
    else byVector.set(key, { ...input, sites: [...input.sites] });
  }
  return [...byVector.values()];
}
