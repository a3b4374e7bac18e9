/**
 * Calls of functions that the first side does not have, and values handed over: a parameter stands for what was passed, a call for
 * what the function does or comes to. When a value is read, and whether it is worked out at all, has to be the same.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { changedMembers } from '../script/effects.js';
import type { Node } from '../script/parser.js';
import { isPropsObject, type Variable } from '../script/scopes.js';
import { isShownMember } from '../script/this-members.js';
import { mayFail, runsSurely } from '../script/surely.js';
import { ranBefore } from '../script/pure.js';
import { firstWait, isSettled } from '../script/waiting.js';
import { bare, isFunction, type FunctionNode } from '../script/walk.js';
import { Mismatch } from './mismatch.js';
import type { Spliced } from './order.js';
import type { ProofModule } from '../language/proof-module.js';
import { calledOnThis, functionBehind, isTypeStatement, place, soleCall, soleExpression, textOf } from './questions.js';
import { chosenOf, knownOf } from './known.js';
import { isGivenOn, isOfOwn, isOnly, openedBy, patternOf, type Opened } from './opened.js';
import { bindRecord, bindReturned, literal, ownerOf } from './splice.js';
import { handedOver, heldBy, isStable, mayMove, valueOf, type Code, type Env, type Value } from './values.js';
import { NameComparison } from './compare-names.js';

export abstract class CallComparison extends NameComparison {
  protected later = 0;
  /** What the calls of new functions come to whose statements stand in front of them. */
  protected readonly answers: Map<Node, Code> = new Map();

  /** What a name of an expanded component stands for. */
  protected abstract given(code: Code): ReturnType<typeof valueOf>;

  /** Whether a value that is read later than it was handed over may be newer then. */
  protected abstract mayReadSooner(read: Code, value: Code): boolean;

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
        isShownMember(object) ||
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
    if (opened?.answer) this.answers.set(opened.call, opened.answer);
    return opened;
  }

  /** Whether a call is one of a new function that waits by itself for what it gives, so that waiting for the call changes nothing. */
  protected waitsWithin(call: Node, b: Code): boolean {
    const answer = this.answers.get(call);
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
}

/** Whether a name is there whatever happens: the props of a component, what holds a value. */
function isHeld(name: Node, { scopes, held }: ProofModule): boolean {
  const variable = scopes.variableOf(name);
  return !variable || isPropsObject(scopes, variable) || held?.(name) !== undefined;
}

/** Whether a name is only given a new value here, and not read. */
function isTarget({ node, module }: Code): boolean {
  const parent = module.scopes.parentOf(node);
  return parent?.type === 'AssignmentExpression' && parent.left === node && parent.operator === '=';
}
