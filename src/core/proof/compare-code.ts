/**
 * The comparison itself. Two syntax trees are walked side by side; wherever the second one uses a component that the
 * first side does not have, the use is expanded: parameters stand for what was passed, content for what stood between
 * the tags, and what the component declares is matched with what the host no longer declares. Names are equal when they
 * are bound to the same thing.
 */
import { statementsOf } from './known.js';
import type { TSESTree } from '@typescript-eslint/types';
import { visitorKeys } from '@typescript-eslint/visitor-keys';
import type { Node } from '../script/parser.js';
import { placeOf } from '../files/paths.js';
import { isRelative, sourceAsked } from '../script/sources.js';
import { bindCall, classAround, isFixed, memberOfThis } from '../script/this-members.js';
import { bare, isFunction, nodeWithin, runsNow, type FunctionNode } from '../script/walk.js';
import type { HelperCalls } from './helper-calls.js';
import { inOrderOf } from './order.js';
import {
  adapterFits,
  became,
  describe,
  isName,
  isOwner,
  isPattern,
  isShown,
  isTypeStatement,
  returns,
  samePrimitive,
  SKIPPED_KEYS,
  soleCall,
  soleExpression,
  soleStatement,
  usesThis,
} from './questions.js';
import { isWaitedFor } from './opened.js';
import { withoutNewLists } from './turns.js';
import { heldCall, selfAt, valueOf, type Code, type Env } from './values.js';

import { CallComparison } from './compare-calls.js';

export abstract class CodeComparison extends CallComparison {
  /** What stands around the place that is being compared and gives it a lifetime of its own. */
  protected around: string[] = [];
  protected depth = 0;

  /** A function that gives markup back, on its way out. */
  protected abstract readonly helpers: HelperCalls | undefined;

  /** Whether a statement stands where it stood. */
  protected abstract isInPlace(x: Node, a: Code, y: Code): boolean;

  /** Whether a statement that runs may be found in an expanded component; and it is. */
  protected abstract mayStandElsewhere(statement: Node): boolean;

  protected abstract doneElsewhere(a: Code, b: Code): void;

  /** The second side's own statements, in the order in which they are compared. */
  protected abstract inTurn(left: readonly Node[], a: Code, own: readonly Code[]): readonly Code[];

  /** Compares what two pieces of markup show. */
  protected abstract shown(a: Code, b: Code): void;

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
    if (this.sameSource(left, right)) return;
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

  /** A path means another file from another folder; of what a file knows of itself, only how it was built is the same everywhere. */
  protected sameSource(a: Code, b: Code): boolean {
    const [from, to] = [a.module.path, b.module.path];
    if (from === to) return false;
    const parent = b.module.scopes.parentOf(b.node);
    const isBuilt =
      parent?.type === 'MemberExpression' && parent.property.type === 'Identifier' && parent.property.name === 'env';
    if (b.node.type === 'MetaProperty' && b.node.meta.name === 'import' && !isBuilt)
      this.differ(a, b, 'name-meaning', '"import.meta" means another file now');
    const [was, is] = [sourceAsked(a.node), sourceAsked(b.node)];
    if (!was || !is) return false;
    const place = isRelative(is.value) ? placeOf(to, is.value) : undefined;
    const isSame = isRelative(was.value)
      ? place !== undefined && placeOf(from, was.value) === place
      : was.value === is.value;
    if (!isSame) this.differ(a, b, 'name-meaning', `"${is.value}" means another file now`);
    return true;
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

  /** A call of a function that was handed over is the body of that function. */
  protected reducedCall(a: Code, b: Code): boolean {
    const y = b.node as TSESTree.CallExpression;
    if (this.boundMethod(a, b)) return true;
    const answer = this.answers.get(y);
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
    const { node: settled, module } = this.settle({ ...b, node: callee });
    if (settled.type !== 'MemberExpression') return;
    const object = bare(settled.object);
    const [own, body] = [memberOfThis(settled), classAround(settled, module.scopes)];
    if (own !== undefined && body && isFixed(body, own)) return;
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
    const taken = ys.flatMap((s) => statementsOf({ ...b, node: s }));
    const others = taken.filter((s) => !this.helpers?.declares(s, b.module));
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
}

/** A parameter that only a language's own form of a component has stands, where nothing is passed, for its default. */
function unpassed(code: Code): Code {
  if (code.node.type !== 'Identifier' || !code.node.name.includes(':')) return code;
  const { scopes } = code.module;
  const definition = scopes.variableOf(code.node)?.defs[0];
  const holder = definition?.type === 'Parameter' ? scopes.parentOf(definition.name) : undefined;
  return holder?.type === 'AssignmentPattern' ? { ...code, node: holder.right } : code;
}
