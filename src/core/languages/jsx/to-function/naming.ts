/** How the pieces of a class are called in a function, and in which form they stand, so that nothing hides anything else. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import { isReserved } from '../../../script/reserved.js';
import {
  bare,
  isFunction,
  nodeWithin,
  runsNow,
  spanOf,
  walk,
  within,
  type FunctionNode,
} from '../../../script/walk.js';
import { capital } from '../../../text/words.js';
import { plainNames, type ClassComponent } from './class-component.js';
import { type ReactVersions } from './reached.js';
import { statesSet } from './sets.js';

/** What the function takes: each prop by its name, the pattern that the class took them apart with, or all of them as one. */
type Taking = 'none' | 'members' | 'pattern' | 'whole';
export interface Plan {
  readonly taking: Taking;
  /** The declaration in `render` whose pattern the function takes. */
  readonly pattern: TSESTree.VariableDeclarator | undefined;
  /** Whether each value of the state is a state of its own. */
  readonly each: boolean;
  /** Names in the function by what they are in the class: `own add`, `kept timer`, `set count`, `state`, `context`, `before`. */
  readonly names: ReadonlyMap<string, string>;
  readonly props: readonly string[];
  /** Default props that are taken as defaults of parameters. */
  readonly inPattern: boolean;
}

export interface Trouble {
  readonly node: Node;
  readonly why: string;
}
/** Chooses names and forms so that nothing is hidden by anything else. */
export class Planner {
  readonly #names = new Map<string, string>();
  readonly #taken = new Set<string>();
  /** Where each thing is used, by what it is. */
  readonly #uses = new Map<string, Node[]>();
  readonly #free: ReadonlySet<string>;

  constructor(
    readonly component: ClassComponent,
    readonly react: ReactVersions,
  ) {
    const { node, scopes } = component;
    const span = spanOf(node);
    const free = scopes
      .within(spanOf(node.body))
      .filter(({ resolved }) => !resolved || !resolved.identifiers.some((id) => nodeWithin(id, span)))
      .map(({ identifier }) => String((identifier as { name?: unknown }).name));
    this.#free = new Set([...free, node.id!.name]);
    walk(node.body, (inner) => {
      const role = component.roleOf(inner);
      const parent = scopes.parentOf(inner);
      if (!role || (parent?.type === 'CallExpression' && parent.callee.type === 'Super')) return true;
      const key = 'name' in role ? `${role.kind} ${role.name}` : role.kind;
      this.#uses.set(key, [...(this.#uses.get(key) ?? []), inner]);
      return inner.type !== 'MemberExpression';
    });
  }

  plan(): Plan | Trouble {
    const { component } = this;
    const { methods, kept, states, defaults, context } = component;
    const each = this.#isEach();
    if (!each && component.first?.type !== 'ObjectExpression' && this.#uses.has('setState'))
      return { node: component.first ?? component.node, why: 'what its state begins as is worked out elsewhere' };
    if (!each && component.isPure && this.#uses.has('setState') && countsRenderings(component))
      return { node: component.node, why: 'how often it is rendered shows, and its state has to stay one record' };
    const both = [...this.#uses].find(([key, nodes]) => key.startsWith('before ') && this.#ofBoth(nodes));
    if (both) return { node: both[1][0]!, why: 'it asks what a prop and a state of one name were' };
    for (const name of methods.keys()) this.#name(`own ${name}`, [name, `${name}It`, `do${capital(name)}`]);
    for (const name of kept.keys()) this.#name(`kept ${name}`, [name.replace(/^_+(?=.)/, ''), `${name}Ref`]);
    if (each)
      for (const name of states.keys()) {
        // A prop of that name is known by it to whoever shows the component.
        const wanted = [name, `${name}State`].slice(this.#uses.has(`prop ${name}`) ? 1 : 0);
        this.#name(`state ${name}`, wanted);
        this.#name(`set ${name}`, [`set${capital(name)}`, `set${capital(name)}State`]);
      }
    else if (component.first) {
      this.#name('whole', ['state', 'kept']);
      this.#name('set', ['setState', 'setKept']);
      this.#name('change', ['changeState', 'changeKept']);
    }
    if (context) this.#name('context', ['context', 'contextValue']);
    const props = [...this.#uses.keys()].flatMap((key) => (key.startsWith('prop ') ? [key.slice(5)] : []));
    const taking = this.#taking(props);
    if (taking.taking === 'members') for (const name of props) this.#take(`prop ${name}`, name);
    if (taking.taking === 'whole') this.#name('props', ['props', 'given']);
    if (component.update) {
      this.#name('before', ['before', 'previous', 'beforeUpdate']);
      this.#name('known', ['beforeRef', 'previousRef']);
    }
    const inPattern = defaults.size > 0 && taking.taking !== 'whole';
    const isHung = (defaults.size > 0 && !inPattern) || component.statics.some((s) => s.name === 'defaultProps');
    if (isHung && this.react.newest >= 19)
      return {
        node: component.node,
        why: 'its default props cannot be written into what it takes, and a function has none of its own in React 19',
      };
    return { ...taking, each, names: this.#names, props, inPattern };
  }

  /** Whether states can be told apart: none is read or set with the others. */
  #isEach(): boolean {
    const { component } = this;
    const { states, first } = component;
    if (!first) return !this.#uses.has('whole') && !this.#uses.has('setState');
    if (first.type !== 'ObjectExpression' || states.size !== first.properties.length) return false;
    const isRead = (this.#uses.get('whole') ?? []).every((node) => this.#isOpened(node) || this.#isFirst(node));
    const used = [...this.#uses.keys()].flatMap((key) => (key.startsWith('state ') ? [key.slice(6)] : []));
    const isKnown = used.every((name) => states.has(name));
    const isCalled = [...states].some(([name, first]) => mayBeFunction(name, first));
    const sets = this.#usesOf('setState').every((node) => {
      const set = statesSet(component, callOf(component, node), this.react.oldest);
      return set?.each && set.sets.every(({ name }) => states.has(name));
    });
    // A state that is set to what it was renders nothing again, where a class does.
    const isTold = component.isPure || !this.#uses.has('setState') || !countsRenderings(component);
    return isRead && isKnown && !isCalled && sets && isTold;
  }

  /** Whether what was before is that of a prop and that of a state. */
  #ofBoth(nodes: readonly Node[]): boolean {
    const kinds = nodes.map((node) => this.component.roleOf(node)).map((role) => role?.kind === 'before' && role.of);
    return new Set(kinds).size > 1;
  }

  #isFirst(node: Node): boolean {
    const parent = this.component.scopes.parentOf(node);
    return parent?.type === 'AssignmentExpression' && parent.left === node;
  }

  /** `const { count } = this.state`, of names that stay what they are. */
  #isOpened(node: Node): boolean {
    const parent = this.component.scopes.parentOf(node);
    if (parent?.type !== 'VariableDeclarator') return false;
    const names = plainNames(parent.id);
    const alias = [...this.component.aliases.values()].find(({ declarator }) => declarator === parent);
    if (alias?.isFirst) return true;
    return alias !== undefined && names!.every(({ id, of, otherwise }) => id.name === of && !otherwise);
  }

  #taking(props: readonly string[]): { taking: Taking; pattern: TSESTree.VariableDeclarator | undefined } {
    const { component } = this;
    const wholes = this.#usesOf('props');
    const opened = wholes
      .map((node) => component.scopes.parentOf(node))
      .filter((p) => p?.type === 'VariableDeclarator');
    const direct = [...this.#uses].some(
      ([key, nodes]) => key.startsWith('prop ') && nodes.some((n) => n.type === 'MemberExpression'),
    );
    const [only] = opened;
    if (wholes.length === 0 && props.length === 0) return { taking: 'none', pattern: undefined };
    const isAsked = [...component.aliases.values()].some(({ isFirst, role }) => isFirst && role.kind === 'prop');
    const isOne = !isAsked && wholes.length === 1 && opened.length === 1 && !direct && !component.update;
    if (isOne && only && only.id.type === 'ObjectPattern' && this.#standsInRender(only) && this.#canTake(only.id))
      return { taking: 'pattern', pattern: only };
    const isPlain = wholes.every((node) => this.#isOpened(node));
    const isFree = props.every(
      (name) => !isReserved(name) && name !== 'key' && !this.#taken.has(name) && this.#fits(name, `prop ${name}`),
    );
    return { taking: isPlain && isFree && props.length <= 12 ? 'members' : 'whole', pattern: undefined };
  }

  #standsInRender(declarator: TSESTree.VariableDeclarator): boolean {
    const { render, scopes } = this.component;
    const statement = scopes.parentOf(declarator);
    return (
      statement?.type === 'VariableDeclaration' &&
      statement.kind === 'const' &&
      statement.declarations.length === 1 &&
      scopes.parentOf(statement) === render.body
    );
  }

  /** Whether the pattern can stand in the parameters: its names are free, and default props can be written into it. */
  #canTake(pattern: TSESTree.ObjectPattern): boolean {
    const { defaults } = this.component;
    const plain = plainNames(pattern);
    if (defaults.size > 0 && (!plain || plain.some(({ of, otherwise }) => otherwise && defaults.has(of)))) return false;
    let isFree = true;
    walk(pattern, (node) => {
      if (node.type !== 'Identifier') return;
      const variable = this.component.scopes.variableOf(node);
      const isName = variable?.identifiers.includes(node);
      if (isName) isFree &&= !this.#taken.has(node.name) && !this.#free.has(node.name);
      // A default that is worked out from what only `render` knows.
      else if (variable && within(spanOf(variable.identifiers[0] ?? pattern), spanOf(this.component.render.body)))
        isFree &&= nodeWithin(variable.identifiers[0]!, spanOf(pattern));
    });
    return isFree;
  }

  #usesOf(key: string): readonly Node[] {
    return this.#uses.get(key) ?? [];
  }

  /** Whether a name means nothing else where it is wanted, nor at the top of `render`, which the function becomes. */
  #fits(name: string, key: string): boolean {
    const uses = key.startsWith('set') || key === 'change' ? this.#usesOf('setState') : this.#usesOf(key);
    if (this.#free.has(name) || isReserved(name)) return false;
    const { scopes, render, node, aliases } = this.component;
    const own = scopes.scopeAt(spanOf(render.body)).set.get(name);
    const isAlias = (variable: typeof own) => {
      const role = variable && aliases.get(variable)?.role;
      return role !== undefined && 'name' in role && `${role.kind} ${role.name}` === key;
    };
    if (own && own.defs.length > 0 && !isAlias(own)) return false;
    return uses.every((use) => {
      const variable = scopes.visibleIn(scopes.scopeAt(spanOf(use)), name);
      const isInside = variable?.identifiers.some((id) => nodeWithin(id, spanOf(node)));
      return !isInside || isAlias(variable);
    });
  }

  #take(key: string, name: string): void {
    this.#names.set(key, name);
    this.#taken.add(name);
  }

  #name(key: string, wanted: readonly string[]): void {
    const { methods, kept } = this.component;
    const isElse = (name: string) =>
      (key !== `own ${name}` && methods.has(name)) || (key !== `kept ${name}` && kept.has(name));
    const isFree = (name: string) => !this.#taken.has(name) && !isElse(name) && this.#fits(name, key);
    let name = wanted.find(isFree);
    for (let i = 2; name === undefined; i++) if (isFree(`${wanted[0]!}${i}`)) name = `${wanted[0]!}${i}`;
    this.#take(key, name);
  }
}

/**
 * Whether it shows how often it is rendered: by what it does after each change without asking what was before, or by showing what it
 * keeps beside its state. A class renders again for a state that is set to what it was, a pure one and a function do not.
 */
function countsRenderings(component: ClassComponent): boolean {
  const { body } = component.update ?? {};
  const acts =
    body !== undefined &&
    (body.type !== 'BlockStatement' ||
      body.body.some((s) => s.type !== 'IfStatement' || !asksBefore(component, s.test)));
  return acts || shows(component, component.render, new Set());
}

/** Whether what is shown is worked out from what may change without a rendering. */
function shows(component: ClassComponent, fn: FunctionNode, met: Set<FunctionNode>): boolean {
  if (met.has(fn)) return false;
  met.add(fn);
  let found = false;
  walk(fn.body, (node) => {
    if (isFunction(node) && !runsNow(node, component.scopes.parentOf(node))) return false;
    const role = component.roleOf(node);
    const kept = role?.kind === 'kept' ? component.kept.get(role.name) : undefined;
    const method = role?.kind === 'own' ? component.methods.get(role.name) : undefined;
    found ||=
      (kept !== undefined && !kept.isRef && !kept.isOnce) || (method !== undefined && shows(component, method.fn, met));
    return !found;
  });
  return found;
}

function asksBefore(component: ClassComponent, test: Node): boolean {
  let found = false;
  walk(test, (node) => {
    found ||= component.roleOf(node)?.kind === 'before';
    return !found;
  });
  return found;
}

/** What React would call, where it is kept as a state by itself. */
function mayBeFunction(name: string, first: Node): boolean {
  return (
    isFunction(bare(first)) ||
    /^(?:on[A-Z]|render[A-Z]?|[A-Z])|(?:Component|Callback|Handler|Fn)$|^(?:component|callback|fn|handler)$/.test(name)
  );
}

function callOf({ scopes }: ClassComponent, node: Node): TSESTree.CallExpression {
  return scopes.parentOf(node) as TSESTree.CallExpression;
}
