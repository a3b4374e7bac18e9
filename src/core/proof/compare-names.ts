/**
 * Names of both sides. They are equal when they are bound to the same thing; what a side declares for itself is paired with what the
 * other one does, and compared where it is first met.
 */
import type { Node } from '../script/parser.js';
import type { Variable } from '../script/scopes.js';
import { isFunction, nodeWithin, type FunctionNode } from '../script/walk.js';
import type { NewComponent } from './expansion.js';
import { Mismatch, type MismatchCode } from './mismatch.js';
import type { Meaning, Side, Turn } from './side.js';
import type { ProofModule } from '../language/proof-module.js';
import { declares, functionBehind, isOnlyCalled, nameAt, outerEnv, place } from './questions.js';
import { isModuleFunction } from './splice.js';
import { type Code, type Env } from './values.js';

/** A variable of the second side, at one of the uses of what declares it. */
export type Bound = Variable | { readonly env: Env; readonly variable: Variable };

export abstract class NameComparison {
  protected readonly expansions = new Map<Env, Map<Variable, Bound>>();
  protected readonly toBefore = new Map<Bound, Variable>();
  protected readonly toAfter = new Map<Variable, Bound>();
  protected readonly compared: Set<Node> = new Set();
  /** Statements of the first side that were found again inside a new component. */
  protected readonly found: Set<Node> = new Set();
  readonly expanded = new Set<Variable>();
  protected readonly ownStatements: Map<Node, ProofModule> = new Map();
  protected readonly usedStatements: Set<Node> = new Set();

  constructor(
    readonly before: Side,
    readonly after: Side,
    readonly turn: Turn,
    /** The new component that a variable of the second side is, if it is one. */
    readonly newComponent: (meaning: Meaning) => NewComponent | undefined,
    /** The component that a variable of the second side is, whether it was there before or not. */
    readonly existingComponent: (meaning: Meaning) => NewComponent | undefined,
    /** Whether a variable of the second side is a constant that the first side does not have. */
    readonly newConstant: (meaning: Meaning) => boolean,
    /** Called when two module-level names in different places are taken for the same. */
    readonly moved: (before: Variable, beforeModule: ProofModule, after: Variable, afterModule: ProofModule) => void,
  ) {}

  /** Compares two pieces of code, two functions, all that two nodes hold. */
  abstract code(a: Code, b: Code): void;
  protected abstract functions(x: FunctionNode, a: Code, y: FunctionNode, b: Code): void;
  protected abstract children(a: Code, b: Code): void;

  /** Declarations of new components that nothing on the first side explains. */
  leftovers(): { node: Node; module: ProofModule }[] {
    return [...this.ownStatements]
      .filter(([node]) => !this.usedStatements.has(node))
      .map(([node, module]) => ({ node, module }));
  }

  protected isReference(code: Code): boolean {
    return (
      code.module.scopes.referenceOf(code.node) !== undefined || code.module.scopes.variableOf(code.node) !== undefined
    );
  }

  protected names(a: Code, b: Code): void {
    const left = this.before.meaningOf(a.module, a.node);
    const right = this.after.meaningOf(b.module, b.node);
    // Where both sides declare the name, the declarations around it are already being compared.
    if (
      left.kind === 'local' &&
      right.kind === 'local' &&
      declares(left.variable, a.node) &&
      declares(right.variable, b.node)
    )
      this.pair(left.variable, right.variable, a, b);
    else this.meanings(left, right, a, b);
  }

  meanings(left: Meaning, right: Meaning, a: Code, b: Code): void {
    const fail = (): never => this.differ(a, b, 'name-meaning', `"${nameAt(a)}" means something else now`);
    if (left.kind === 'global' && right.kind === 'global') {
      const isOwn = a.module.ownName?.(left.name) || b.module.ownName?.(left.name);
      if (left.name !== right.name || (isOwn && a.module.path !== b.module.path)) fail();
    } else if (left.kind === 'outside' && right.kind === 'outside') {
      if (left.key !== right.key) fail();
    } else if (left.kind === 'module' && right.kind === 'module') {
      this.pair(left.variable, right.variable, a, b);
      if (left.module.path !== right.module.path || left.variable.name !== right.variable.name)
        this.moved(left.variable, left.module, right.variable, right.module);
    } else if (left.kind === 'local' && right.kind === 'local') {
      const isNew = this.pair(left.variable, right.variable, a, b);
      if (isNew) this.definitions(left.variable, a, right.variable, b);
    } else if (
      !isMadeName(left, right, a, b) &&
      !this.leftComponent(left, right, a, b) &&
      !this.leftConstant(left, right, a, b)
    )
      fail();
  }

  /**
   * A function that a component declared for itself and only calls, and that asks for nothing of it, may as well stand in a
   * module. Whoever is handed it might tell that of one use of the component from that of another.
   */
  protected leftComponent(left: Meaning, right: Meaning, a: Code, b: Code): boolean {
    const made = left.kind === 'local' ? this.newComponent(right) : undefined;
    const local = left.kind === 'local' ? functionBehind(left.variable) : undefined;
    if (left.kind !== 'local' || right.kind !== 'module' || !made || !local) return false;
    if (a.module.scopes.isReassigned(left.variable) || !isOnlyCalled(left.variable, a.module)) return false;
    if (!this.pair(left.variable, right.variable, a, b)) return true;
    this.expanded.add(made.variable);
    this.found.add(local.statement);
    this.functions(local.fn, { ...a, node: local.fn, env: undefined }, made.fn, {
      node: made.fn,
      module: made.module,
      env: undefined,
    });
    return true;
  }

  /** A constant of a component that is the same text for all of them may as well stand in a module. */
  protected leftConstant(left: Meaning, right: Meaning, a: Code, b: Code): boolean {
    if (left.kind !== 'local' || right.kind !== 'module' || !this.newConstant(right)) return false;
    const [was, is] = [writtenOut(left.variable), writtenOut(right.variable)];
    if (!was || !is || a.module.scopes.isReassigned(left.variable)) return false;
    if (this.pair(left.variable, right.variable, a, b)) {
      this.expanded.add(right.variable);
      this.found.add(was.statement);
      this.code({ ...a, node: was.init }, { node: is.init, module: right.module, env: undefined });
    }
    return true;
  }

  /** What an expanded function declares is another thing at each of its uses. */
  protected boundIn(variable: Variable, code: Code): Bound {
    if (variable.scope.type === 'module') return variable;
    let env = code.env;
    const id = variable.identifiers[0];
    const holds = (owner: Node) => id && nodeWithin(id, { start: owner.range[0], end: owner.range[1] });
    while (env && (env.splice || env.module !== code.module || !holds(env.owner))) env = env.parent;
    if (!env) return variable;
    const inEnv = this.expansions.get(env) ?? new Map<Variable, Bound>();
    this.expansions.set(env, inEnv);
    const known = inEnv.get(variable) ?? { env, variable };
    inEnv.set(variable, known);
    return known;
  }

  /** Takes two variables for the same from here on. True when that is new; throws when it contradicts an earlier pair. */
  pair(left: Variable, right: Variable, a: Code, b: Code): boolean {
    const bound = this.boundIn(right, b);
    const known = this.toAfter.get(left);
    const back = this.toBefore.get(bound);
    if (known === bound && (back === left || isModuleFunction(left))) return false;
    // Two functions of one text may become one.
    if (known || (back && !(isModuleFunction(left) && isModuleFunction(back))))
      this.differ(a, b, 'name-pairing', `"${left.name}" and "${right.name}" are not the same thing`);
    this.toAfter.set(left, bound);
    this.toBefore.set(bound, left);
    return true;
  }

  /** Local declarations met by a reference before (or without) their statements being walked side by side. */
  protected definitions(left: Variable, a: Code, right: Variable, b: Code): void {
    const x = left.defs[0]!;
    const y = right.defs[0]!;
    if (x.type !== y.type) this.differ(a, b, 'name-declared', `"${left.name}" is declared in another way`);
    if (x.type === 'Parameter' || x.type === 'CatchClause')
      this.differ(a, b, 'name-bound', `"${left.name}" is bound at another place`);
    const leftNode = x.type === 'Variable' ? x.parent : x.node;
    const rightNode = y.type === 'Variable' ? y.parent : y.node;
    if (!leftNode || !rightNode) return;
    const own = this.ownStatements.has(rightNode);
    if (own) {
      this.usedStatements.add(rightNode);
      this.found.add(leftNode);
    }
    if (this.compared.has(rightNode)) return;
    this.compared.add(rightNode);
    const env = own ? b.env : outerEnv(b.env, rightNode, b.module);
    if (x.type === 'Variable' && y.type === 'Variable')
      this.children({ ...a, node: leftNode, env: undefined }, { ...b, node: rightNode, env });
    else if (isFunction(leftNode) && isFunction(rightNode))
      this.functions(leftNode, { ...a, node: leftNode }, rightNode, { ...b, node: rightNode, env });
    else this.children({ ...a, node: leftNode }, { ...b, node: rightNode, env });
  }

  protected differ(a: Code, b: Code, code: MismatchCode, message: string): never {
    throw new Mismatch(code, message, place(a), place(b));
  }
}

/** Whether a name that no source can have is what the component of one file is given by that name on both sides. */
function isMadeName(left: Meaning, right: Meaning, a: Code, b: Code): boolean {
  if (left.kind !== 'local' || right.kind !== 'global' || a.module.path !== b.module.path) return false;
  return /[.:]/.test(right.name) && left.variable.name === right.name && left.variable.defs[0]?.type === 'Parameter';
}

/** A constant that is a word, a number or the like, and the statement that declares it. */
function writtenOut({ defs: [definition] }: Variable): { init: Node; statement: Node } | undefined {
  if (definition?.type !== 'Variable' || definition.parent.kind !== 'const') return undefined;
  const { init } = definition.node;
  return init?.type === 'Literal' ? { init, statement: definition.parent } : undefined;
}
