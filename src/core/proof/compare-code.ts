/**
 * The comparison itself. Two syntax trees are walked side by side; wherever the second one uses a component that the
 * first side does not have, the use is expanded: parameters stand for what was passed, content for what stood between
 * the tags, and what the component declares is matched with what the host no longer declares. Names are equal when they
 * are bound to the same thing.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { visitorKeys } from '@typescript-eslint/visitor-keys';
import { changedMembers } from '../script/effects.js';
import type { Node } from '../script/parser.js';
import type { Variable } from '../script/scopes.js';
import { isPropsObject } from '../script/scopes.js';
import { bindCall, memberOfThis } from '../script/this-members.js';
import { mayFail, runsSurely } from '../script/surely.js';
import { ranBefore } from '../script/pure.js';
import { firstWait, isSettled } from '../script/waiting.js';
import { bare, calleeName, isFunction, nodeWithin, runsNow, type FunctionNode } from '../script/walk.js';
import type { NewComponent } from './expansion.js';
import type { HelperCalls } from './helper-calls.js';
import { Mismatch, type MismatchCode } from './mismatch.js';
import { inOrderOf, type Spliced } from './order.js';
import type { Meaning, Side, Turn } from './side.js';
import type { ProofModule } from '../language/proof-module.js';
import {
  adapterFits,
  became,
  calledOnThis,
  declares,
  describe,
  functionBehind,
  isName,
  isOnlyCalled,
  isOwner,
  isPattern,
  isShown,
  isTypeStatement,
  nameAt,
  outerEnv,
  place,
  returns,
  samePrimitive,
  SKIPPED_KEYS,
  soleCall,
  soleExpression,
  soleStatement,
  textOf,
  usesThis,
} from './questions.js';
import { chosenOf, knownOf } from './known.js';
import { isGivenOn, isOfOwn, isOnly, isWaitedFor, openedBy, patternOf, type Opened } from './opened.js';
import { bindRecord, bindReturned, isModuleFunction, literal, ownerOf } from './splice.js';
import { withoutNewLists } from './turns.js';
import {
  handedOver,
  heldBy,
  heldCall,
  isStable,
  mayMove,
  selfAt,
  valueOf,
  type Code,
  type Env,
  type Value,
} from './values.js';

/** A variable of the second side, at one of the uses of what declares it. */
type Bound = Variable | { readonly env: Env; readonly variable: Variable };

export abstract class CodeComparison {
  protected readonly expansions = new Map<Env, Map<Variable, Bound>>();
  protected readonly toBefore = new Map<Bound, Variable>();
  protected readonly toAfter = new Map<Variable, Bound>();
  protected readonly compared = new Set<Node>();
  /** Statements of the first side that were found again inside a new component. */
  protected readonly found = new Set<Node>();
  /** What stands around the place that is being compared and gives it a lifetime of its own. */
  protected around: string[] = [];
  protected later = 0;
  protected depth = 0;
  readonly expanded = new Set<Variable>();
  protected readonly ownStatements = new Map<Node, ProofModule>();
  protected readonly usedStatements = new Set<Node>();

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

  /** A function that gives markup back, on its way out. */
  protected abstract readonly helpers: HelperCalls | undefined;

  /** What a name of an expanded component stands for. */
  protected abstract given(code: Code): ReturnType<typeof valueOf>;

  /** Whether a value that is read later than it was handed over may be newer then. */
  protected abstract mayReadSooner(read: Code, value: Code): boolean;

  /** Whether a statement stands where it stood. */
  protected abstract isInPlace(x: Node, a: Code, y: Code): boolean;

  /** Whether a statement that runs may be found in an expanded component; and it is. */
  protected abstract mayStandElsewhere(statement: Node): boolean;
  protected abstract doneElsewhere(a: Code, b: Code): void;

  /** The second side's own statements, in the order in which they are compared. */
  protected abstract inTurn(left: readonly Node[], a: Code, own: readonly Code[]): readonly Code[];

  /** Compares what two pieces of markup show. */
  protected abstract shown(a: Code, b: Code): void;

  /** Declarations of new components that nothing on the first side explains. */
  leftovers(): { node: Node; module: ProofModule }[] {
    return [...this.ownStatements]
      .filter(([node]) => !this.usedStatements.has(node))
      .map(([node, module]) => ({ node, module }));
  }

  code(a: Code, b: Code): void {
    let left: Code = unpassed({ ...a, node: bare(a.node) });
    let right = unpassed(this.folded(this.settle({ ...b, node: bare(b.node) })));
    if (isShown(left.node) || isShown(right.node)) return this.shown(left, right);
    if (left.node.type === 'ChainExpression' && right.node.type !== 'ChainExpression')
      left = { ...left, node: left.node.expression };
    if (right.node.type === 'ChainExpression' && left.node.type !== 'ChainExpression')
      right = { ...right, node: right.node.expression };
    const x = left.node;
    const y = right.node;
    if (this.ofInstance(left, right)) return;
    const shows = this.helpers?.called(y, right, this.later, false);
    if (shows) return this.code(left, shows);
    // What is given back is waited for in any case.
    if (y.type === 'AwaitExpression' && x.type !== 'AwaitExpression' && this.waitsWithin(y.argument, right))
      return this.code(left, { ...right, node: y.argument });
    if (y.type === 'CallExpression') {
      if (this.reducedCall(left, right)) return;
    }
    if (isName(x) && isName(y) && this.isReference(left) && this.isReference(right)) return this.names(left, right);
    if (isFunction(x) && isFunction(y)) return this.functions(x, left, y, right);
    const handed = isFunction(x) ? this.helpers?.handed(y, right, this.later) : undefined;
    if (isFunction(x) && handed) return this.functions(x, left, handed.node as FunctionNode, handed);
    if (isFunction(x) && y.type === 'Identifier') {
      const made = this.callable(right);
      if (made && isFunction(made.node))
        return this.functions(x, left, made.node, right.module.instance ? this.ownFunction(made, right) : made);
    }
    if (!isFunction(x) && isFunction(y)) {
      const passed = this.passedOn(y, right);
      if (passed) return this.code(left, passed);
    }
    if (x.type !== y.type) this.differ(left, right, 'code-kind', `${describe(x)} became ${describe(y)}`);
    if (y.type === 'ThisExpression') {
      this.sameThis(left, right);
      return;
    }
    if (x.type === 'CallExpression' && y.type === 'CallExpression') this.callee(left, right);
    if (x.type === 'BlockStatement' && y.type === 'BlockStatement') return this.statements(x.body, left, y.body, right);
    if (y.type === 'ClassBody' && this.helpers) {
      const body = y.body.filter((m) => !this.helpers!.declares(m, right.module));
      return this.children(left, { ...right, node: { ...y, body } });
    }
    const conditional =
      x.type === 'ConditionalExpression' ||
      x.type === 'LogicalExpression' ||
      x.type === 'IfStatement' ||
      x.type === 'SwitchStatement';
    if (conditional) return this.within('a condition', () => this.children(left, right));
    this.children(left, right);
  }

  /** A function of another file that stands where a component has one of its own. */
  protected ownFunction(made: Code, { module: self }: Code): Code {
    const owner = made.node as FunctionNode;
    const env: Env = {
      owner,
      module: made.module,
      component: false,
      values: new Map(),
      parent: made.env,
      later: this.later,
      self,
    };
    return { ...made, env };
  }

  /** A member of a component, or a call of one, that the first side has a made name for, and the second reaches by `this`. */
  protected ofInstance(a: Code, b: Code): boolean {
    const [x, y] = [a.node, b.node];
    const asked = y.type === 'CallExpression' ? bare(y.callee) : y;
    const isOnThis = asked.type === 'MemberExpression' && bare(asked.object).type === 'ThisExpression';
    const self = isOnThis ? selfAt({ ...b, node: asked }) : undefined;
    const made = x.type === 'CallExpression' ? bare(x.callee) : x;
    const name = made.type === 'Identifier' && this.isReference({ ...a, node: made }) ? made.name : undefined;
    if (!self || name === undefined || self.path !== a.module.path || self.instance?.(y) !== name) return false;
    if (x.type !== 'CallExpression' || y.type !== 'CallExpression') return x === made;
    const given = y.arguments.slice(self.instance(asked) === name ? 0 : 1);
    if (given.length !== x.arguments.length) this.differ(a, b, 'call-arguments', 'the call passes other arguments');
    x.arguments.forEach((argument, i) => this.code({ ...a, node: argument }, { ...b, node: given[i]! }));
    return true;
  }

  /** Follows parameters to what they stand for. */
  protected settle(code: Code): Code {
    const held = heldBy(code);
    if (held) return this.settle(held);
    const found = this.given(code);
    if (!found) {
      const member = handedOver(code);
      return member && member !== 'absent' ? this.settle({ ...member, node: bare(member.node) }) : code;
    }
    const { value, env } = found;
    switch (value.kind) {
      case 'absent':
        return code;
      case 'children': {
        const only = value.children.length === 1 ? value.children[0]! : undefined;
        if (only?.type === 'JSXText' || !only) return code;
        return this.settle({
          node: only.type === 'JSXExpressionContainer' ? bare(only.expression) : only,
          module: value.module,
          env: value.env,
        });
      }
      case 'rest':
        return code;
      case 'code': {
        const isLater = this.later > env.later || (env.named === true && code.node.range[0] >= firstWait(env.owner));
        // A call is given what is there when it is made; a component is given what comes afterwards as well.
        const changes = env.named ? value.code.module.changing?.(value.code.node) : undefined;
        const isMoving = changes === 'now' || (env.named === true && mayMove(value.code));
        const isBehind = isMoving && ranBefore(code.node, env.owner);
        const isCopied = isBehind || (changes !== undefined && isLater);
        const isRead = isCopied || (isLater && !isStable(value.code));
        if (isRead && !isTarget(code) && !this.mayReadSooner(code, value.code)) {
          throw new Mismatch(
            'read-early',
            `"${textOf(value.code)}" is now read while rendering; before, it was read later`,
            undefined,
            place(code),
          );
        }
        const changed = isLater && !isTarget(code) ? this.changedMember(value.code) : undefined;
        if (changed !== undefined)
          throw new Mismatch(
            'value-changed',
            `"${textOf(value.code)}" is handed over as it is while rendering, and "${changed}" is changed in place`,
            undefined,
            place(code),
          );
        const settled = this.settle({ ...value.code, node: bare(value.code.node) });
        const held = code.module.opensAt?.(code.node) ? settled.module.held?.(settled.node) : undefined;
        return held ? this.settle({ ...settled, node: held }) : settled;
      }
    }
  }

  /** A member that a value takes out of a record, where a compared file changes such members. */
  protected changedMember({ node }: Code): string | undefined {
    const member = bare(node);
    if (member.type !== 'MemberExpression' || member.computed || member.property.type !== 'Identifier')
      return undefined;
    const { name } = member.property;
    for (const module of this.before.modules.values()) {
      const changed = this.#changed.get(module) ?? changedMembers(module.script.program);
      this.#changed.set(module, changed);
      if (changed.has(name)) return name;
    }
    return undefined;
  }

  readonly #changed = new Map<ProofModule, ReadonlySet<string>>();

  /** What was handed over decides a condition and fills a template. */
  protected folded(code: Code): Code {
    // `{ ...given }` is the record that was given.
    const { node } = code;
    const only = node.type === 'ObjectExpression' && node.properties.length === 1 ? node.properties[0]! : undefined;
    if (only?.type === 'SpreadElement') {
      const record = this.settle({ ...code, node: bare(only.argument) });
      if (record.node.type === 'ObjectExpression' && record.env !== code.env) return this.folded(record);
    }
    const known = knownOf(code);
    if (known?.given) return literal(known.value, code);
    const chosen = chosenOf(code);
    return chosen ? this.folded(this.settle({ ...chosen, node: bare(chosen.node) })) : code;
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

  protected functions(x: FunctionNode, a: Code, y: FunctionNode, b: Code): void {
    if (x.async !== y.async || x.generator !== y.generator)
      this.differ(a, b, 'function-mode', 'the function runs in another way');
    const isThisAsked = usesThis(x) || usesThis(y);
    const isHome = this.helpers?.isAtHome(b, y) === true;
    if ((x.type === 'ArrowFunctionExpression') !== (y.type === 'ArrowFunctionExpression') && isThisAsked && !isHome)
      this.differ(a, b, 'this-kind', '"this" means something else');
    if (x.type !== 'ArrowFunctionExpression' && x.id && y.type !== 'ArrowFunctionExpression' && y.id)
      this.bindings(x.id, a, y.id, b);
    const later = runsNow(x, a.module.scopes.parentOf(x)) ? 0 : 1;
    this.later += later;
    // The outermost function is the component itself: what it declares lives as long as it does.
    const around = this.depth++ > 0 ? 'a function' : undefined;
    this.within(around, () => {
      const [was, is] = [soleCall(x), soleCall(y)];
      const isByName = was && is && this.isCallByName({ ...a, node: was }, { ...b, node: is });
      if (!isByName && this.handedOn(y, b)) {
        const reduced = this.reduce(y, b);
        if (reduced?.env?.named && reduced.env.owner.async && !x.async)
          this.differ(a, b, 'function-mode', 'what is given at once is waited for now');
        if (reduced && adapterFits(x, y)) {
          x.params.forEach((p, i) => this.bindings(p, a, y.params[i]!, b));
          // Nobody takes what the handler of a native event gives back.
          const { node } = reduced;
          // Where both sides drop what a call gives, it is the same what that is.
          const [done, does] = [soleStatement(x), soleStatement(y)];
          const value = node.type === 'BlockStatement' ? soleExpression(node) : node;
          if (done && does && value) return this.code({ ...a, node: done }, { ...reduced, node: value });
          const opens = 'native' in y && y.native && x.body.type !== 'BlockStatement' && node.type === 'BlockStatement';
          return this.bodies(x.body, a, (opens ? soleExpression(node) : undefined) ?? node, reduced);
        }
      }
      if (x.params.length !== y.params.length)
        this.differ(a, b, 'function-parameters', 'the function takes other arguments');
      x.params.forEach((p, i) => this.bindings(p, a, y.params[i]!, b));
      this.bodies(x.body, a, y.body, b);
    });
    this.depth--;
    this.later -= later;
    // What is bound inside is met afresh each time: one function can stand for several that read the same.
    for (const [left, right] of this.toAfter) {
      if (!left.identifiers.some((id) => nodeWithin(id, { start: x.range[0], end: x.range[1] }))) continue;
      this.toAfter.delete(left);
      this.toBefore.delete(right);
    }
  }

  /** `(event) => onSelect(hive, event)`: the call that is all the function does, when its callee was handed over as a function. */
  protected handedOn(fn: FunctionNode, code: Code): readonly Node[] | undefined {
    const call = soleCall(fn);
    if (!call) return undefined;
    const callee = this.callable({ ...code, node: calledOnThis(call)?.target ?? call.callee });
    return callee ? call.arguments : undefined;
  }

  /** What was handed over, where a function does nothing but call it with all that it is given itself. */
  protected passedOn(fn: FunctionNode, code: Code): Code | undefined {
    const call = soleCall(fn);
    const value = call && valueOf({ ...code, node: call.callee })?.value;
    if (!call || value?.kind !== 'code' || call.arguments.length !== fn.params.length) return undefined;
    // Whoever calls with more than is passed on would tell the two apart.
    const all = ('native' in fn && fn.native) || fn.params.some((p) => p.type === 'RestElement');
    if (!all) return undefined;
    const same = fn.params.every((parameter, i) => {
      const argument = call.arguments[i]!;
      const [p, a] =
        parameter.type === 'RestElement' && argument.type === 'SpreadElement'
          ? [parameter.argument, argument.argument]
          : [parameter, argument];
      return p.type === 'Identifier' && a.type === 'Identifier' && p.name === a.name;
    });
    return same ? value.code : undefined;
  }

  protected callable(code: Code): Code | undefined {
    if (this.given(code)) {
      const settled = this.settle(code);
      return isFunction(settled.node) ? settled : undefined;
    }
    const node = bare(code.node);
    if (node.type !== 'Identifier' || !code.module.scopes.variableOf(node)) return undefined;
    const made = this.newComponent(this.after.meaningOf(code.module, node));
    if (!made) return undefined;
    this.expanded.add(made.variable);
    return { node: made.fn, module: made.module, env: undefined };
  }

  /** The body of the function that is called, its parameters standing for the arguments. */
  protected reduce(fn: FunctionNode, code: Code): Code | undefined {
    const call = soleCall(fn)!;
    return this.enter(call, { ...code, node: call });
  }

  protected enter(call: TSESTree.CallExpression, code: Code): Code | undefined {
    const onThis = calledOnThis(call);
    const callee = this.callable({ ...code, node: onThis?.target ?? call.callee });
    if (!callee || !isFunction(callee.node)) return undefined;
    const target = callee.node;
    const values = new Map<Variable, Value>();
    const args = this.arguments(onThis?.args ?? call.arguments, code);
    let ok = true;
    target.params.forEach((parameter, i) => {
      if (parameter.type === 'Identifier') {
        const variable = callee.module.scopes.variableOf(parameter);
        const arg = args[i];
        if (variable) values.set(variable, arg ? { kind: 'code', code: arg } : { kind: 'absent' });
      } else if (parameter.type === 'RestElement' && parameter.argument.type === 'Identifier') {
        const variable = callee.module.scopes.variableOf(parameter.argument);
        if (variable) values.set(variable, { kind: 'rest', items: args.slice(i) });
      } else ok = bindRecord(parameter, callee, args[i], values);
    });
    if (!ok) return undefined;
    const isNamed = !valueOf({ ...code, node: onThis?.target ?? call.callee });
    if (isNamed) this.workedOutBefore(values, target, callee.module);
    const env: Env = {
      owner: target,
      module: callee.module,
      component: false,
      values,
      parent: callee.env,
      later: this.later,
      ...(isNamed ? { named: true } : {}),
      ...(onThis && code.module.instance ? { self: code.module } : {}),
    };
    return { node: target.body, module: callee.module, env };
  }

  /** What a call works out before it is made has to be asked for whenever the function runs, where working it out may fail. */
  protected workedOutBefore(values: ReadonlyMap<Variable, Value>, fn: FunctionNode, { scopes }: ProofModule): void {
    for (const [variable, value] of values) {
      if (value.kind !== 'code') continue;
      const { node, module } = value.code;
      const isHolder = (object: Node) =>
        object.type === 'ThisExpression' ||
        /^(?:props|state)$/.test(memberOfThis(object) ?? '') ||
        (object.type === 'Identifier' && isHeld(object, module));
      const isWhole = module.held?.(bare(node)) ?? module.heldCallee?.(bare(node), undefined);
      if (isWhole || !mayFail(node, isHolder)) continue;
      if (!variable.references.some((r) => runsSurely(r.identifier, fn, scopes)))
        throw new Mismatch(
          'value-eager',
          `"${textOf(value.code)}" is worked out in any case now; before, it was in some`,
          undefined,
          { module, node },
        );
    }
  }

  protected arguments(list: readonly Node[], code: Code): Code[] {
    const result = list.flatMap((argument): Code[] => {
      if (argument.type === 'SpreadElement') {
        const found = valueOf({ ...code, node: argument.argument });
        if (found?.value.kind === 'rest') return [...found.value.items];
      }
      return [{ ...code, node: argument }];
    });
    // An argument that was left out and one that is undefined are the same to a function that names its parameters.
    while (result.length > 0 && valueOf(result[result.length - 1]!)?.value.kind === 'absent') result.pop();
    return result;
  }

  /** A call of a function that was handed over is the body of that function. */
  protected reducedCall(a: Code, b: Code): boolean {
    const y = b.node as TSESTree.CallExpression;
    if (this.boundMethod(a, b)) return true;
    const answer = this.#answers.get(y);
    if (answer) {
      this.code(a, answer);
      return true;
    }
    if (this.isCallByName(a, b)) return false;
    const sent = heldCall(y, b);
    if (sent && a.node.type === 'CallExpression') {
      this.code({ ...a, node: a.node.callee }, sent.callee);
      if (sent.args.length !== a.node.arguments.length)
        this.differ(a, b, 'call-arguments', 'the call passes other arguments');
      a.node.arguments.forEach((argument, i) => this.code({ ...a, node: argument }, { ...b, node: sent.args[i]! }));
      return true;
    }
    const body = this.enter(y, b);
    if (body) {
      const expression = body.node.type === 'BlockStatement' ? soleExpression(body.node) : body.node;
      if (body.env?.named && body.env.owner.async && !isWaitedFor(y, b.module.scopes))
        this.differ(a, b, 'function-mode', 'what is given at once is waited for now');
      if (!expression)
        this.differ(a, b, 'function-several', 'a function with several statements stands for one expression');
      this.code(a, { ...body, node: expression });
      return true;
    }
    const x = a.node;
    if (x.type !== 'CallExpression') return false;
    const args = this.arguments(y.arguments, b);
    const spread = args.length !== y.arguments.length || args.some((arg, i) => arg.node !== y.arguments[i]);
    if (!spread) return false;
    if (args.length !== x.arguments.length) this.differ(a, b, 'call-arguments', 'the call passes other arguments');
    this.code({ ...a, node: x.callee }, { ...b, node: y.callee });
    x.arguments.forEach((argument, i) => this.code({ ...a, node: argument }, args[i]!));
    return true;
  }

  /** A call of a module's function that is called so on both sides: whether it is the same one is asked of the name. */
  protected isCallByName(a: Code, b: Code): boolean {
    const [x, y] = [a.node, b.node];
    if (x.type !== 'CallExpression' || y.type !== 'CallExpression') return false;
    const [left, right] = [bare(x.callee), bare(y.callee)];
    if (left.type !== 'Identifier' || right.type !== 'Identifier') return false;
    const [was, is] = [this.before.meaningOf(a.module, left), this.after.meaningOf(b.module, right)];
    if (is.kind !== 'module') return false;
    // One that a component declared for itself may have left it under another name.
    return was.kind === 'local'
      ? functionBehind(was.variable) !== undefined
      : was.kind === 'module' && left.name === right.name;
  }

  /** `f.bind(this, x)` is `g.bind(null, x)` where `g` stands for `f.bind(this)`. */
  protected boundMethod(a: Code, b: Code): boolean {
    const x = bindCall(a.node);
    const y = bindCall(b.node);
    if (!x || !y || !valueOf({ ...b, node: y.target })) return false;
    const inner = this.settle({ ...b, node: y.target });
    const bound = bindCall(inner.node);
    if (!bound || bound.args.length !== 1 || x.args.length !== y.args.length) return false;
    this.code({ ...a, node: x.target }, { ...inner, node: bound.target });
    this.code({ ...a, node: x.args[0]! }, { ...inner, node: bound.args[0]! });
    x.args.slice(1).forEach((argument, i) => this.code({ ...a, node: argument }, { ...b, node: y.args[i + 1]! }));
    return true;
  }

  /** A method that is handed over as a bare function loses its object. */
  protected callee(a: Code, b: Code): void {
    const callee = bare((b.node as TSESTree.CallExpression).callee);
    if (!valueOf({ ...b, node: callee })) return;
    const settled = this.settle({ ...b, node: callee }).node;
    if (settled.type !== 'MemberExpression') return;
    const object = bare(settled.object);
    const isProps =
      (object.type === 'MemberExpression' &&
        object.property.type === 'Identifier' &&
        object.property.name === 'props') ||
      (object.type === 'Identifier' && /props$/i.test(object.name));
    if (!isProps)
      this.differ(a, b, 'method-unbound', `a method was handed over without its object and loses its "this"`);
  }

  protected sameThis(a: Code, b: Code): void {
    for (let node = b.module.scopes.parentOf(b.node); node; node = b.module.scopes.parentOf(node)) {
      if (node.type === 'ArrowFunctionExpression') {
        if (isOwner(b.env, node)) this.differ(a, b, 'this-moved', '"this" means something else in the new component');
      } else if (isFunction(node)) {
        if (isOwner(b.env, node)) this.differ(a, b, 'this-moved', '"this" means something else in the new component');
        return;
      }
    }
  }

  protected bodies(x: Node, a: Code, y: Node, b: Code): void {
    const shows = this.helpers?.body(y, b);
    const given = shows && (x.type === 'BlockStatement' ? this.onlyReturn(x) : x);
    if (given) return this.code({ ...a, node: given }, shows);
    if (x.type === 'BlockStatement' && y.type === 'BlockStatement') return this.statements(x.body, a, y.body, b);
    // `() => f()` and `() => { f(); }` differ only in what they give back, and that is compared where it is used.
    const left = x.type === 'BlockStatement' ? this.onlyReturn(x) : x;
    const right = y.type === 'BlockStatement' ? this.onlyReturn(y) : y;
    if (left && right) return this.code({ ...a, node: left }, { ...b, node: right });
    if (x.type === 'BlockStatement' && y.type !== 'BlockStatement') {
      const body = y.type === 'CallExpression' ? this.enter(y, b) : undefined;
      const fn = b.module.scopes.parentOf(y);
      if (body?.env?.named && body.env.owner.async && fn && isFunction(fn) && !fn.async)
        this.differ(a, b, 'function-mode', 'what is given at once is waited for now');
      if (body?.node.type === 'BlockStatement') return this.statements(x.body, a, body.node.body, body);
    }
    // Declarations that went along leave a bare arrow function behind.
    if (x.type === 'BlockStatement' && right) {
      const last = x.body[x.body.length - 1];
      if (last?.type === 'ReturnStatement' && last.argument) {
        this.code({ ...a, node: last.argument }, { ...b, node: right });
        return this.checkGone(x.body.slice(0, -1), a, b);
      }
    }
    this.differ({ ...a, node: x }, { ...b, node: y }, 'function-body', 'the function does something else');
  }

  protected onlyReturn(block: TSESTree.BlockStatement): Node | undefined {
    const only = block.body.length === 1 ? block.body[0]! : undefined;
    return only?.type === 'ReturnStatement' ? (only.argument ?? undefined) : undefined;
  }

  protected statements(xs: readonly Node[], a: Code, ys: readonly Node[], b: Code): void {
    const gone: Node[] = [];
    const done: Node[] = [];
    const depth = this.around.length;
    const left = xs.filter((s) => !isTypeStatement(s));
    const others = ys.filter((s) => !this.helpers?.declares(s, b.module));
    const isNew = (name: string) => !a.module.scopes.declares(name);
    const right = this.ordered(
      left,
      a,
      others.map((s) => withoutNewLists(s, isNew)).filter((s) => s !== undefined),
      b,
    );
    let j = 0;
    for (const x of left) {
      const y = right[j];
      if (y && this.isInPlace(x, a, y)) {
        j++;
        this.compared.add(y.node);
        if (isFunction(x) && isFunction(y.node)) this.functions(x, { ...a, node: x }, y.node, y);
        else this.code({ ...a, node: x }, y);
      } else if (x.type === 'VariableDeclaration' || x.type === 'FunctionDeclaration') gone.push(x);
      else if (this.mayStandElsewhere(x)) done.push(x);
      else
        this.differ(
          { ...a, node: x },
          y ?? b,
          y ? 'statement-kind' : 'statement-gone',
          y ? `${describe(x)} became ${describe(y.node)}` : `${describe(x)} is gone`,
        );
      if (returns(x)) this.around.push('a return before it');
    }
    if (j < right.length) this.differ(a, right[j]!, 'statement-added', `${describe(right[j]!.node)} was added`);
    this.around.length = depth;
    for (const x of done) this.doneElsewhere({ ...a, node: x }, b);
    this.checkGone(gone, a, b);
  }

  protected ordered(left: readonly Node[], a: Code, ys: readonly Node[], b: Code): Code[] {
    const right = this.spliced(
      ys.filter((s) => !isTypeStatement(s)),
      b,
    );
    if (right.every((s) => !s.call)) {
      const own = right.map((s) => s.code);
      return [...this.inTurn(left, a, own)];
    }
    const ordered = inOrderOf(left, a.module, right);
    if ('second' in ordered)
      this.differ(
        a,
        ordered.second.code,
        'statement-order',
        `${describe(ordered.second.code.node)} now runs before what it ran behind`,
      );
    return ordered.map((s) => s.code);
  }

  /** Statements with every call of a new function that only declares and gives back (a hook) replaced by its own. */
  protected spliced(statements: readonly Node[], b: Code): Spliced[] {
    const opened = statements.map((node) => {
      const hook = this.hookCall(node, b);
      return { node, hook, started: hook ? undefined : this.started(node, b) };
    });
    if (opened.every(({ hook, started }) => !hook && !started))
      return statements.map((node) => ({ code: { ...b, node } }));
    const values = new Map<Variable, Value>();
    const outer = b.env;
    const env: Env = {
      owner: ownerOf(b),
      module: b.module,
      component: false,
      splice: true,
      values,
      parent: outer,
      later: outer?.later ?? 0,
    };
    return opened.flatMap(({ node, hook, started }): Spliced[] => {
      if (started) {
        const inside = started.inside.map((code): Spliced => ({ code, call: node }));
        const pattern = patternOf(node, started.call);
        const returned = started.answer?.node;
        if (pattern && returned && isOfOwn(returned, started, b.module.scopes))
          bindReturned(pattern, b, returned, started.answer, values);
        else if (!isOnly(node, started.call) || started.answer) inside.push({ code: { ...b, env, node } });
        return inside;
      }
      if (!hook) return [{ code: { ...b, env, node } }];
      const own = (hook.body.node as TSESTree.BlockStatement).body.filter((s) => !isTypeStatement(s));
      const last = own[own.length - 1];
      const returned = last?.type === 'ReturnStatement' ? last.argument : undefined;
      if (hook.pattern) bindReturned(hook.pattern, b, returned, hook.body, values);
      const inside = own.filter((s) => s.type !== 'ReturnStatement');
      return inside.map((s) => ({ code: { ...hook.body, node: s }, call: node }));
    });
  }

  /** What the calls of new functions come to whose statements stand in front of them. */
  readonly #answers = new Map<Node, Code>();

  /** The call of a new function of several statements, or of one that waits, that a statement begins with. */
  protected started(statement: Node, b: Code): Opened | undefined {
    const before = this.before.modules.get(b.module.path);
    const opened = openedBy(statement, b.module.scopes, (call) => {
      // A function that was there by that name is called by its name: it may have left, and is compared as a whole.
      if (call.callee.type === 'Identifier' && before?.scopes.declares(call.callee.name)) return undefined;
      const callee = valueOf({ ...b, node: call.callee }) ? undefined : this.callable({ ...b, node: call.callee });
      const fn = callee?.node;
      if (!fn || !isFunction(fn)) return undefined;
      const isOne = !fn.async && (fn.body.type !== 'BlockStatement' || soleExpression(fn.body) !== undefined);
      const body = isOne ? undefined : this.enter(call, { ...b, node: call });
      return body && { body, fn };
    });
    if (opened?.answer) this.#answers.set(opened.call, opened.answer);
    return opened;
  }

  /** Whether a call is one of a new function that waits by itself for what it gives, so that waiting for the call changes nothing. */
  protected waitsWithin(call: Node, b: Code): boolean {
    const answer = this.#answers.get(call);
    if (answer) return isSettled(answer.node, answer.module.scopes) || isGivenOn(call, b.module.scopes);
    if (call.type !== 'CallExpression' || valueOf({ ...b, node: call.callee })) return false;
    const callee = this.callable({ ...b, node: call.callee });
    const fn = callee?.node;
    if (!fn || !isFunction(fn) || !fn.async) return false;
    const given = fn.body.type === 'BlockStatement' ? soleExpression(fn.body) : fn.body;
    return given !== undefined && (isSettled(given, callee.module.scopes) || isGivenOn(call, b.module.scopes));
  }

  protected hookCall(statement: Node, b: Code): { body: Code; pattern: Node | undefined } | undefined {
    const declarator =
      statement.type === 'VariableDeclaration' && statement.declarations.length === 1
        ? statement.declarations[0]
        : undefined;
    const expression = statement.type === 'ExpressionStatement' ? statement.expression : declarator?.init;
    const call = expression ? bare(expression) : undefined;
    if (call?.type !== 'CallExpression' || call.callee.type !== 'Identifier' || !/^use[A-Z]/.test(call.callee.name))
      return undefined;
    const body = this.enter(call, { ...b, node: call });
    return body?.node.type === 'BlockStatement' ? { body, pattern: declarator?.id } : undefined;
  }

  protected checkGone(gone: readonly Node[], a: Code, b: Code): void {
    for (const statement of gone) {
      if (!this.found.has(statement))
        this.differ({ ...a, node: statement }, b, 'statement-lost', `${describe(statement)} is gone`);
    }
  }

  /** Patterns bind names in step; defaults and keys are compared as code. */
  protected bindings(x: Node, a: Code, y: Node, b: Code): void {
    if (x.type === 'TSParameterProperty' || y.type === 'TSParameterProperty')
      return this.code({ ...a, node: x }, { ...b, node: y });
    if (x.type === 'Identifier' && y.type === 'Identifier') {
      const left = a.module.scopes.variableOf(x);
      const right = b.module.scopes.variableOf(y);
      if (left && right) this.pair(left, right, { ...a, node: x }, { ...b, node: y });
      return;
    }
    if (x.type !== y.type)
      this.differ({ ...a, node: x }, { ...b, node: y }, 'function-parameters', 'the function takes other arguments');
    if (x.type === 'ObjectPattern' && y.type === 'ObjectPattern' && 'byName' in x)
      return this.bindingsByName(x, a, y, b);
    // What is bound is a pattern; defaults and computed keys are code like any other.
    this.children({ ...a, node: x }, { ...b, node: y }, (l, r) => {
      const isCode =
        (x.type === 'AssignmentPattern' && l.node === x.right) ||
        (x.type === 'Property' && l.node === x.key) ||
        !isPattern(l.node);
      if (isCode) this.code(l, r);
      else this.bindings(l.node, l, r.node, r);
    });
  }

  /** What a made parameter takes is paired by name: it lists all that is read, and one side may read less. */
  protected bindingsByName(x: TSESTree.ObjectPattern, a: Code, y: TSESTree.ObjectPattern, b: Code): void {
    const named = (pattern: TSESTree.ObjectPattern) =>
      pattern.properties.filter((p): p is TSESTree.Property => p.type === 'Property' && p.key.type === 'Identifier');
    const nameOf = (p: TSESTree.Property) => (p.key as TSESTree.Identifier).name;
    for (const left of named(x)) {
      const right = named(y).find((p) => nameOf(p) === nameOf(left));
      if (right) this.bindings(left.value, a, right.value, b);
    }
  }

  protected children(a: Code, b: Code, each: (l: Code, r: Code) => void = (l, r) => this.code(l, r)): void {
    const x = a.node as unknown as Record<string, unknown>;
    const y = b.node as unknown as Record<string, unknown>;
    const keys = visitorKeys[a.node.type] ?? [];
    for (const key of Object.keys(x)) {
      if (SKIPPED_KEYS.has(key) || keys.includes(key)) continue;
      if (key === 'optional' && a.node.type !== 'MemberExpression' && a.node.type !== 'CallExpression') continue;
      if (!samePrimitive(x[key], y[key])) this.differ(a, b, 'code-value', became(a.node, b.node, x[key], y[key]));
    }
    for (const key of keys) {
      if (SKIPPED_KEYS.has(key)) continue;
      const left = x[key] as Node | (Node | null)[] | null | undefined;
      const right = y[key] as Node | (Node | null)[] | null | undefined;
      if (Array.isArray(left) && Array.isArray(right)) {
        if (left.length !== right.length) this.differ(a, b, 'code-parts', `${describe(a.node)} has other parts`);
        left.forEach((item, i) => this.maybe(item, a, right[i], b, each));
      } else this.maybe(left as Node | null, a, right as Node | null, b, each);
    }
  }

  protected maybe(
    x: Node | null | undefined,
    a: Code,
    y: Node | null | undefined,
    b: Code,
    each: (l: Code, r: Code) => void,
  ): void {
    if (!x && !y) return;
    if (!x || !y) this.differ(a, b, 'code-parts', `${describe(a.node)} has other parts`);
    each({ ...a, node: x }, { ...b, node: y });
  }

  protected within(what: string | undefined, run: () => void): void {
    if (what !== undefined) this.around.push(what);
    run();
    if (what !== undefined) this.around.pop();
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

/** Whether a name is there whatever happens: the props of a component, a ref. */
function isHeld(name: Node, { scopes, held }: ProofModule): boolean {
  const variable = scopes.variableOf(name);
  if (!variable) return true;
  const init = variable.defs[0]?.type === 'Variable' ? variable.defs[0].node.init : undefined;
  const isRef = init != null && calleeName(init) === 'useRef';
  return isPropsObject(scopes, variable) || isRef || held?.(name) !== undefined;
}

/** A constant that is a word, a number or the like, and the statement that declares it. */
function writtenOut({ defs: [definition] }: Variable): { init: Node; statement: Node } | undefined {
  if (definition?.type !== 'Variable' || definition.parent.kind !== 'const') return undefined;
  const { init } = definition.node;
  return init?.type === 'Literal' ? { init, statement: definition.parent } : undefined;
}

/** Whether a name is only given a new value here, and not read. */
function isTarget({ node, module }: Code): boolean {
  const parent = module.scopes.parentOf(node);
  return parent?.type === 'AssignmentExpression' && parent.left === node && parent.operator === '=';
}

/** A parameter that only a language's own form of a component has stands, where nothing is passed, for its default. */
function unpassed(code: Code): Code {
  if (code.node.type !== 'Identifier' || !code.node.name.includes(':')) return code;
  const { scopes } = code.module;
  const definition = scopes.variableOf(code.node)?.defs[0];
  const holder = definition?.type === 'Parameter' ? scopes.parentOf(definition.name) : undefined;
  return holder?.type === 'AssignmentPattern' ? { ...code, node: holder.right } : code;
}
