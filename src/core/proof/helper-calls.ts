/**
 * A function of the second side that gives markup back and that the first side does not have: each of its calls stands for what it
 * shows, and its declaration for nothing.
 */
import { guarded, helperBody, type Nothing } from '../script/helper-body.js';
import * as make from '../script/make.js';
import type { Node } from '../script/parser.js';
import type { Variable } from '../script/scopes.js';
import { classAround, isTied, memberOfThis, tiedBy } from '../script/this-members.js';
import { bare, isFunction, spanOf, type FunctionNode } from '../script/walk.js';
import type { ProofModule } from '../language/proof-module.js';
import { Mismatch } from './mismatch.js';
import { functionBehind, usesThis } from './questions.js';
import type { Code, Env, Value } from './values.js';

/** Where the function begins, in the file of the second side that has it. */
export interface HelperPlace {
  readonly path: string;
  readonly start: number;
}

export class HelperCalls {
  /** Envs of calls, and of the function itself where it is handed over: what its constants stand for is added once. */
  readonly #envs = new WeakMap<Env, Map<Variable, Value>>();

  constructor(readonly place: HelperPlace) {}

  /** What a call of it shows, as one expression; undefined where something else is called. `inMarkup`: it stands between tags. */
  called(call: Node, code: Code, later: number, inMarkup: boolean): Code | undefined {
    if (call.type !== 'CallExpression') return undefined;
    const fn = this.#meant(bare(call.callee), code.module);
    if (!fn) return undefined;
    const passed = new Map<Variable, Node>();
    const values = new Map<Variable, Value>();
    fn.params.forEach((parameter, i) => {
      const variable = parameter.type === 'Identifier' ? code.module.scopes.variableOf(parameter) : undefined;
      const argument = call.arguments[i];
      if (!variable || argument?.type === 'SpreadElement')
        return this.#fail(code, 'takes its arguments in an unusual way');
      if (argument) passed.set(variable, argument);
      values.set(variable, argument ? { kind: 'code', code: { ...code, node: argument } } : { kind: 'absent' });
    });
    if (call.arguments.length > fn.params.length) this.#fail(code, 'is given more than it takes');
    return this.#body(fn, this.#env(fn, values, code, later), code.module, passed, inMarkup);
  }

  /** The function itself where it is handed over by its name. */
  handed(node: Node, code: Code, later: number): Code | undefined {
    const fn = this.#meant(bare(node), code.module);
    if (!fn) return undefined;
    const name = memberOfThis(bare(node));
    const isLoose = name !== undefined && fn.type !== 'ArrowFunctionExpression' && usesThis(fn);
    if (isLoose && !isTied(classAround(bare(node), code.module.scopes)!, name)) this.#fail(code, 'loses its "this"');
    return { node: fn, module: code.module, env: this.#env(fn, new Map(), code, later) };
  }

  /** What the body of the function shows, where it was handed over. */
  body(block: Node, { env, module }: Code): Code | undefined {
    const isOwn = env && this.#envs.has(env) && env.owner.body === block;
    return isOwn ? this.#body(env.owner, env, module, new Map(), false) : undefined;
  }

  /** Whether `this` in a function is that of the place where it stands. */
  isAtHome({ env }: Code, fn: FunctionNode): boolean {
    return env !== undefined && env.owner === fn && this.#envs.has(env);
  }

  /** Whether a statement, or a member of a class, does nothing but declare it, or tie it to its object. */
  declares(node: Node, module: ProofModule): boolean {
    if (module.path !== this.place.path) return false;
    const isIt = (fn: Node | null | undefined) => fn?.range[0] === this.place.start && isFunction(fn);
    if (node.type === 'FunctionDeclaration') return isIt(node);
    if (node.type === 'MethodDefinition') return isIt(node.value);
    if (node.type === 'PropertyDefinition') return isIt(node.value && bare(node.value));
    if (node.type === 'VariableDeclaration')
      return node.declarations.length === 1 && isIt(node.declarations[0].init && bare(node.declarations[0].init));
    if (node.type !== 'ExpressionStatement' || node.expression.type !== 'AssignmentExpression') return false;
    return tiedBy(node.expression) !== undefined && this.#meant(node.expression.left, module) !== undefined;
  }

  #body(fn: FunctionNode, env: Env, module: ProofModule, passed: ReadonlyMap<Variable, Node>, inMarkup: boolean): Code {
    const body = helperBody(fn, module.scopes, passed);
    if ('why' in body) return this.#fail({ node: body.node, module }, body.why);
    const values = this.#envs.get(env)!;
    for (const [variable, node] of body.constants) values.set(variable, { kind: 'code', code: { node, module, env } });
    const node = guarded<Node>(
      body.guards,
      inMarkup,
      {
        and: (test, shown) => make.logical('&&', test, shown, spanOf(fn)),
        choice: (test, shown, otherwise) =>
          make.conditional(test, written(shown, fn), written(otherwise, fn), spanOf(fn)),
      },
      body.shown,
    );
    return { node, module, env };
  }

  #env(owner: FunctionNode, values: Map<Variable, Value>, { module, env: parent }: Code, later: number): Env {
    const env: Env = { owner, module, component: false, values, parent, later, named: true };
    this.#envs.set(env, values);
    return env;
  }

  /** The function, where a name or `this.name` means it. */
  #meant(node: Node, module: ProofModule): FunctionNode | undefined {
    if (module.path !== this.place.path) return undefined;
    if (node.type === 'Identifier') {
      const variable = module.scopes.referenceOf(node)?.resolved;
      const fn = variable && functionBehind(variable)?.fn;
      return fn?.range[0] === this.place.start ? fn : undefined;
    }
    const name = memberOfThis(node);
    const body = name === undefined ? undefined : classAround(node, module.scopes);
    for (const member of body?.body ?? []) {
      if (member.type !== 'MethodDefinition' && member.type !== 'PropertyDefinition') continue;
      const fn = member.value && bare(member.value);
      const isIt = fn && isFunction(fn) && fn.range[0] === this.place.start && !member.static;
      if (isIt && member.key.type === 'Identifier' && member.key.name === name) return fn;
    }
    return undefined;
  }

  #fail({ module, node }: { module: ProofModule; node: Node }, why: string): never {
    throw new Mismatch('function-several', `a function that shows something ${why}`, undefined, { module, node });
  }
}

function written(node: Node | Nothing, fn: Node): Node {
  if (node === 'null') return make.literal(null, spanOf(fn));
  return node === 'undefined' ? make.identifier('undefined', spanOf(fn)) : node;
}
