/**
 * Trying out whatever there is to try: every target from a clean start, then everything filled in and every button on
 * top of that, then deeper, as far as the budget goes. The same script on both versions, compared after each action.
 */
import { fingerprint } from '../../core/index.js';
import type { Pair, Told } from './pair.js';
import type { Pairs } from './pairs.js';
import { nameOf, type Seen, type SeenNode } from './seen.js';
import type { Action } from './side.js';

export interface Budget {
  /** Actions that may still be taken. */
  steps: number;
  /** When to end, in real time. */
  readonly end: number;
}

/** A difference with the way to it. */
export interface Found {
  readonly told: Told;
  readonly path: readonly Action[];
  readonly pair: Pair;
}

export interface Explored {
  /** States that look different from one another. */
  readonly states: number;
  readonly targets: number;
  readonly actions: number;
  readonly found: readonly Found[];
  /** What was not the same twice, even before: nothing can be said of it. */
  readonly unsteady: readonly Unsteady[];
  /** The budget was too small for all of it. */
  readonly more: boolean;
}

export interface Unsteady {
  readonly words: string;
  /** One side took too long. */
  readonly late?: true;
  readonly path: readonly Action[];
}

export interface Course {
  readonly budget: Budget;
  readonly pairs: Pairs;
  /** Pairs of the older version with itself. */
  readonly twins: Pairs;
  /** Compares how both look, dot by dot. */
  readonly pixels: (pair: Pair) => Promise<Told | undefined>;
}

/** What an action from a clean start leads to. */
interface Outcome {
  readonly action: Action;
  readonly key: string;
  /** Targets that were not there before. */
  readonly news: readonly Action[];
  readonly leaves: boolean;
}

interface Done {
  readonly action: Action;
  readonly briefly: boolean;
}

/** Differences after which looking further says nothing new. */
const ENOUGH = 1;
const DEEP = 4;
/** A page that is unsteady in so many places is not looked at further. */
const UNSTEADY = 3;
/** How often it is looked again before a difference counts. */
const TRIES = 3;
const TABS = 60;

export class Explorer {
  readonly #states = new Set<string>();
  readonly #found: Found[] = [];
  readonly #unsteady: Unsteady[] = [];
  /** What was done with a pair since it was opened. */
  readonly #done = new WeakMap<Pair, Done[]>();
  #actions = 0;
  #targets = 0;
  #more = false;

  constructor(readonly course: Course) {}

  async run(): Promise<Explored> {
    const start = await this.#start();
    if (start) {
      const outcomes = await this.#each(start);
      await this.#filled(start, outcomes);
      await this.#deeper(start, outcomes);
    }
    const [states, targets, actions] = [this.#states.size, this.#targets, this.#actions];
    return { states, targets, actions, found: this.#found, unsteady: this.#unsteady, more: this.#more };
  }

  #over(): boolean {
    const { budget } = this.course;
    const over = budget.steps <= 0 || Date.now() > budget.end;
    if (over) this.#more = true;
    return over || this.#found.length >= ENOUGH || this.#unsteady.length >= UNSTEADY;
  }

  /** The page as it is when it has been loaded, when it has come to rest, and on the way of the Tab key. */
  async #start(): Promise<Seen | undefined> {
    const pair = await this.#fresh();
    if (!(await this.#compare(pair, [], false))) return undefined;
    await pair.settle();
    const seen = await this.#compare(pair, [], true);
    if (!seen) return undefined;
    this.#targets = targetsOf(seen).length;
    if (await this.#tabs(pair)) return undefined;
    this.#back(pair);
    return seen;
  }

  async #tabs(pair: Pair): Promise<boolean> {
    const action: Action = { kind: 'press', node: 0, words: 'press Tab', value: 'Tab' };
    const path: Action[] = [];
    for (let i = 0; i < TABS; i++) {
      path.push(action);
      await Promise.all([pair.before, pair.after].map((side) => side.page.keyboard.press('Tab')));
      const [was, is] = await pair.see();
      if (was.focus !== is.focus) {
        this.#found.push({ told: (await pair.told([was, is], false))!, path, pair });
        return true;
      }
      if (was.focus <= 0) break;
    }
    return false;
  }

  /** Every target by itself, from a clean start. */
  async #each(start: Seen): Promise<Outcome[]> {
    const outcomes: Outcome[] = [];
    const rest = keyOf(start);
    let pair: Pair | undefined;
    for (const action of targetsOf(start)) {
      if (this.#over()) break;
      pair ??= await this.#opened();
      const seen = await this.#take(pair, [action]);
      if (!seen) {
        pair = undefined;
        continue;
      }
      const key = keyOf(seen);
      const known = new Set(targetsOf(start).map((t) => t.words));
      const news = targetsOf(seen).filter((t) => !known.has(t.words));
      outcomes.push({ action, key, news, leaves: pathOf(seen) !== pathOf(start) });
      // What changed nothing needs no new start.
      if (key !== rest || seen.url !== start.url) {
        this.#back(pair);
        pair = undefined;
      }
    }
    this.#back(pair);
    return outcomes;
  }

  /** All fields filled in, and each button on top of that, and what it brings on top of that: what is kept, and what is lost. */
  async #filled(start: Seen, outcomes: readonly Outcome[]): Promise<void> {
    const rest = keyOf(start);
    const isFill = ({ action }: Outcome) =>
      action.kind === 'type' || action.kind === 'choose' || isBox(start.nodes[action.node]!);
    const fills = outcomes.filter(isFill).map((o) => o.action);
    if (fills.length === 0) return;
    const others = outcomes.filter((o) => !isFill(o) && !o.leaves && o.action.kind === 'click');
    // What sends a form first, then what brings something new.
    const rank = ({ action, news, key }: Outcome) =>
      (start.nodes[action.node]!.attributes.type === 'submit' ? 100 : 0) + news.length + Number(key !== rest);
    others.sort((a, b) => rank(b) - rank(a));
    for (const { action, news } of others)
      for (const next of news.length > 0 ? news.slice(0, 3) : [undefined])
        this.#back((await this.#walked(start, fills, [action, ...(next ? [next] : [])]))?.pair);
  }

  /** States that were reached, one action further each. */
  async #deeper(start: Seen, outcomes: readonly Outcome[]): Promise<void> {
    const rest = keyOf(start);
    const queue = outcomes
      .filter((o) => o.key !== rest && !o.leaves)
      .map((o) => ({ path: [o.action], news: o.news }))
      .sort((a, b) => b.news.length - a.news.length);
    const reached = new Set<string>();
    while (queue.length > 0 && !this.#over()) {
      const { path, news } = queue.shift()!;
      for (const action of news.length > 0 ? news.slice(0, 6) : targetsOf(start).slice(0, 4)) {
        const walked = await this.#walked(start, path, [action]);
        if (!walked) continue;
        const { seen, pair } = walked;
        this.#back(pair);
        const key = keyOf(seen);
        if (reached.has(key) || path.length + 1 >= DEEP || pathOf(seen) !== pathOf(start)) continue;
        reached.add(key);
        const known = new Set([...targetsOf(start), ...news].map((t) => t.words));
        queue.push({ path: [...path, action], news: targetsOf(seen).filter((t) => !known.has(t.words)) });
      }
    }
  }

  /**
   * From a clean start: what was tried by itself before is done without looking, then each further action is compared.
   * Undefined where the way ends: a target that is not there, a difference, the budget.
   */
  async #walked(
    start: Seen,
    before: readonly Action[],
    then: readonly Action[],
  ): Promise<{ readonly seen: Seen; readonly pair: Pair } | undefined> {
    if (this.#over()) return undefined;
    const pair = await this.#opened();
    const path: Action[] = [];
    let seen: Seen | undefined = start;
    for (const [i, wanted] of [...before, ...then].entries()) {
      const there: Action | undefined = seen && again(seen, wanted);
      if (!there) break;
      path.push(there);
      seen = i < before.length ? await this.#passed(pair, path) : await this.#take(pair, path);
      if (!seen) return undefined;
    }
    if (path.length > before.length && seen) return { seen, pair };
    this.#back(pair);
    return undefined;
  }

  #back(pair: Pair | undefined): void {
    if (pair) this.course.pairs.back(pair);
  }

  async #fresh(): Promise<Pair> {
    const pair = await this.course.pairs.next();
    this.#done.set(pair, []);
    return pair;
  }

  async #opened(): Promise<Pair> {
    const pair = await this.#fresh();
    await pair.settle();
    await pair.see();
    pair.agree();
    return pair;
  }

  /** Does the last action of a path; false where only one side could, and that counts. */
  async #perform(pair: Pair, path: readonly Action[], briefly: boolean): Promise<boolean> {
    this.course.budget.steps--;
    this.#actions++;
    const action = path.at(-1)!;
    this.#done.set(pair, [...(this.#done.get(pair) ?? []), { action, briefly }]);
    const failed = await pair.perform(action, briefly);
    if (failed?.late) this.#unsteady.push({ ...failed, path: [...path] });
    return !failed || (!failed.late && !(await this.#counts(pair, path, failed, false)));
  }

  /** The last action of a path on the way to another one; what one of them then shows. */
  async #passed(pair: Pair, path: readonly Action[]): Promise<Seen | undefined> {
    if (!(await this.#perform(pair, path, true))) return undefined;
    const [seen] = await pair.see();
    pair.agree();
    return seen;
  }

  /** The last action of a path; what is then seen, or undefined where it differs. */
  async #take(pair: Pair, path: readonly Action[]): Promise<Seen | undefined> {
    return (await this.#perform(pair, path, false)) ? this.#compare(pair, path, true) : undefined;
  }

  /** What is seen; undefined where the sides differ, which is kept. A state that is new is looked at more closely. */
  async #compare(pair: Pair, path: readonly Action[], closely: boolean): Promise<Seen | undefined> {
    const seen = await pair.see();
    const key = keyOf(seen[0]);
    const isNew = closely && !this.#states.has(key);
    if (closely) this.#states.add(key);
    const told = await this.#lasting(pair, isNew, isNew ? undefined : seen);
    if (told && (await this.#counts(pair, path, told, !closely))) return undefined;
    pair.agree();
    return seen[0];
  }

  /** What differs and goes on to. What the browser does in its own time passes while that of the page stands still. */
  async #lasting(pair: Pair, closely: boolean, first?: readonly [Seen, Seen]): Promise<Told | undefined> {
    for (let left = TRIES; ; left--) {
      const seen = (left === TRIES ? first : undefined) ?? (await pair.see(closely));
      const told = (await pair.told(seen, closely)) ?? (closely ? await this.course.pixels(pair) : undefined);
      if (!told || left === 0) return told;
      await pair.wait();
    }
  }

  /**
   * Whether a difference is one: it comes again from a clean start, and the older version does not differ from itself
   * there. It is kept then; else the page is unsteady, which is said.
   */
  async #counts(pair: Pair, path: readonly Action[], told: Told, atLoad: boolean): Promise<boolean> {
    const done = this.#done.get(pair) ?? [];
    const { pairs, twins } = this.course;
    const again = await this.#repeated(pairs, done, atLoad);
    let isSteady = again?.words === told.words;
    for (let i = 0; isSteady && i < 2; i++) isSteady = (await this.#repeated(twins, done, atLoad)) === undefined;
    if (isSteady) this.#found.push({ told, path: [...path], pair });
    else this.#unsteady.push({ words: told.words, path: [...path] });
    return isSteady;
  }

  /** What differs when the same is done with a new pair. */
  async #repeated(pairs: Pairs, done: readonly Done[], atLoad: boolean): Promise<Told | undefined> {
    const pair = await pairs.next();
    try {
      if (!atLoad) await pair.settle();
      for (const { action, briefly } of done) {
        await pair.see();
        pair.agree();
        const failed = await pair.perform(action, briefly);
        if (failed) return failed;
      }
      return await this.#lasting(pair, !atLoad);
    } finally {
      pairs.back(pair);
    }
  }
}

function pathOf(seen: Seen): string {
  return seen.url.replace(/#.*/, '');
}

/** What makes a state another one than those that were seen before. */
function keyOf({ url, title, nodes }: Seen): string {
  const parts = nodes.map((n) => `${n.tag}${n.parent}${JSON.stringify(n.attributes)}${n.text}${n.held}${n.visible}`);
  return fingerprint(`${url} ${title} ${parts.join('\n')}`);
}

/** The same target in another state, wherever it stands there. */
function again(seen: Seen, wanted: Action): Action | undefined {
  return targetsOf(seen).find((t) => t.words === wanted.words);
}

function isBox(node: SeenNode): boolean {
  return node.tag === 'input';
}

const BY_ROLE = /^(?:button|tab|checkbox|radio|switch|menuitem|option|link|combobox|slider|treeitem)$/;
const CLICKS = /\b(?:onClick|onMouseDown|onPointerDown)\b/;

/** Everything that can be clicked, typed in, chosen, checked or pressed; alike ones are told apart by their number. */
export function targetsOf({ nodes }: Seen): Action[] {
  const found: Action[] = [];
  const counts = new Map<string, number>();
  const add = (kind: Action['kind'], node: number, verb: string, value?: string) => {
    const words = `${verb} ${nameOf(nodes, node)}`;
    const count = (counts.get(words) ?? 0) + 1;
    counts.set(words, count);
    found.push({
      kind,
      node,
      words: count > 1 ? `${words} (${count})` : words,
      ...(value === undefined ? {} : { value }),
    });
  };
  nodes.forEach((node, i) => {
    const { tag, attributes: a, handlers, visible } = node;
    if (!visible || a.disabled !== undefined || a.inert !== undefined) return;
    const type = a.type ?? 'text';
    if (tag === 'textarea' || (tag === 'input' && TYPED[type] !== undefined && a.readonly === undefined))
      add('type', i, 'type into', TYPED[type] ?? ' bee 7');
    else if (tag === 'input' && /^(?:checkbox|radio|button|submit|reset|image)$/.test(type)) add('click', i, 'click');
    else if (tag === 'select') {
      const options = nodes.filter((n, at) => n.tag === 'option' && isBelow(nodes, at, i));
      const other = options.map((o) => o.attributes.value ?? o.text).find((value) => value !== node.held);
      if (other !== undefined) add('choose', i, `choose "${other}" in`, other);
    } else if (tag === 'a' && a.href !== undefined) {
      if (isInside(a.href)) add('click', i, 'click');
    } else if (tag === 'button' || tag === 'summary') add('click', i, 'click');
    else if (CLICKS.test(handlers) && tag !== 'form') add('click', i, 'click');
    if (a.role !== undefined && BY_ROLE.test(a.role) && tag !== 'a' && tag !== 'input' && tag !== 'select')
      add('press', i, 'press Enter on', 'Enter');
  });
  return found;
}

/** What is typed into a field of a type. */
const TYPED: Record<string, string> = {
  text: ' bee 7',
  search: 'a',
  email: 'bee@example.org',
  url: 'http://example.org',
  tel: '0170 11',
  password: 'honey 7',
  number: '7',
};

function isBelow(nodes: readonly SeenNode[], index: number, above: number): boolean {
  for (let at = nodes[index]!.parent; at >= 0; at = nodes[at]!.parent) if (at === above) return true;
  return false;
}

/** An address that stays in the application. */
function isInside(href: string): boolean {
  return !/^(?:[a-z]+:)?\/\//i.test(href.replace(/^http:\/\/app/, '')) && !/^(?:mailto|tel|javascript):/i.test(href);
}
