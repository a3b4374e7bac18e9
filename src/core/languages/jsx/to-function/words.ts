/** Code of a component in words that a class and a function have in common. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node, ParsedScript } from '../../../script/parser.js';
import { bindCall } from '../../../script/this-members.js';
import type { ScriptScopes } from '../../../script/scopes.js';
import { bare, childrenOf, nodeWithin, type FunctionNode } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import { renderedText } from '../text.js';
import { plainNames, type Kept } from './class-component.js';

/** What a component is, in words that a class and a function have in common: each by what it is called. */
export type Saying = Map<string, string>;

/** Code in words: white space and comments are nothing, names that mean something of the component are said by what they mean. */
export abstract class Words {
  /** `own`: the component; what is declared outside of it is another thing, whatever its name. */
  constructor(
    readonly text: string,
    readonly script: ParsedScript,
    readonly scopes: ScriptScopes,
    readonly own: Span,
  ) {}

  /** What a piece means, where that is not what is written. */
  protected abstract mean(node: Node): string | undefined;

  /** Each piece by its kind, so that no parentheses are needed; between the pieces operators and words are left. */
  say(node: Node): string {
    const meant = this.mean(node);
    if (meant !== undefined) return meant;
    // What a function is tied to is nothing to it any more; what it is given is.
    const [to, ...given] = bindCall(node)?.args ?? [];
    const target = to && bindCall(node)!.target;
    if (target && (to.type === 'ThisExpression' || (to.type === 'Literal' && to.value === null)))
      return given.length > 0 ? `bind[${[target, ...given].map((n) => this.say(n)).join()}]` : this.say(target);
    switch (node.type) {
      case 'Identifier':
      case 'JSXIdentifier':
        return this.#name(node);
      case 'JSXText':
        return renderedText(this.text.slice(...node.range)).text;
      case 'JSXEmptyExpression':
      case 'TSTypeAnnotation':
      case 'TSTypeParameterInstantiation':
        return '';
      case 'BlockStatement':
        return this.block(node.body);
      case 'ArrowFunctionExpression':
        return `${node.async ? 'async' : ''}[${node.params.map((p) => this.say(p)).join()}]=>{${this.body(node)}}`;
      case 'Property':
        if (node.shorthand) return `Property[${this.text.slice(...node.key.range)}:${this.say(node.value)}]`;
        break;
      default:
    }
    const children = childrenOf(node).sort((a, b) => a.range[0] - b.range[0]);
    if (children.length === 0) return this.text.slice(...node.range);
    let said = '';
    let at = node.range[0];
    for (const child of children) {
      // The type that is written behind a name lies in it.
      if (child.range[0] < at) continue;
      const one = this.say(child);
      said += this.#between(at, child.range[0]) + (one && ` ${one}`);
      at = child.range[1];
    }
    return `${node.type}[${said}${this.#between(at, node.range[1])}]`;
  }

  /** What a call sets, one state after another; undefined for other code. */
  protected abstract sets(node: Node): string | undefined;

  /** A name of the file, or of none, is said to be one, so that nothing that the component declares can take its place. */
  #name(node: TSESTree.Identifier | TSESTree.JSXIdentifier): string {
    if (!this.scopes.referenceOf(node) || node.name === 'undefined') return node.name;
    const { scope, identifiers } = this.scopes.variableOf(node) ?? {};
    const isInner = scope && !/^(?:module|global)$/.test(scope.type);
    return isInner || identifiers?.some((id) => nodeWithin(id, this.own)) ? node.name : `«out ${node.name}»`;
  }

  #between(start: number, end: number): string {
    let raw = '';
    let at = start;
    for (const comment of this.script.comments) {
      if (comment.start < at || comment.end > end) continue;
      raw += this.text.slice(at, comment.start);
      at = comment.end;
    }
    return (raw + this.text.slice(at, end)).replace(/[\s(),;]+/g, '');
  }

  /** A function but for its name. */
  fn(fn: FunctionNode): string {
    return `${fn.async ? 'async' : ''}[${fn.params.map((p) => this.say(p)).join()}]{${this.body(fn)}}`;
  }

  /** What hangs on a component: a function by what it does, whatever form it has. */
  hung(value: Node): string {
    return value.type === 'FunctionExpression' ? this.fn(value) : this.say(value);
  }

  body(fn: FunctionNode): string {
    if (fn.body.type === 'BlockStatement') return fn.body.body.map((s) => this.statement(s)).join('');
    const sets = this.sets(fn.body);
    return sets === undefined ? `return ${this.say(fn.body)};` : `${sets};`;
  }

  record(properties: readonly Node[]): string {
    return `{${properties.map((p) => this.say(p)).join()}}`;
  }

  block(statements: readonly Node[]): string {
    return `{${statements.map((s) => this.statement(s)).join('')}}`;
  }

  statement(node: Node): string {
    if (node.type === 'ReturnStatement' && node.argument) return `return ${this.say(node.argument)};`;
    const said = this.say(node);
    return said === '' || said.endsWith(';') ? said : `${said};`;
  }
}

/** Without white space, but where it parts two words. */
export function tight(raw: string): string {
  return raw.replace(/\s+/g, ' ').replace(/ ?([^\w$ ]) ?/g, '$1');
}

export function meaning(kind: string, name: string, otherwise?: string): string {
  return otherwise === undefined ? `«${kind} ${name}»` : `«${kind} ${name}|${otherwise}»`;
}

export function wayOf({ isRef, isOnce }: Kept): string {
  return isRef ? 'ref' : isOnce ? 'once' : 'kept';
}

/** Sets in words; `from`: the value by what it was. */
export function setSaid(name: string, value: string, isFrom: boolean): string {
  return `«set ${name}»(${isFrom ? `from ${value}` : value})`;
}

/** Declarations whose every declarator says nothing are nothing. */
export function declared(
  words: Words,
  node: TSESTree.VariableDeclaration,
  isNothing: (d: TSESTree.VariableDeclarator) => boolean,
): string | undefined {
  const left = node.declarations.filter((d) => !isNothing(d));
  if (left.length === node.declarations.length) return undefined;
  return left.length === 0 ? '' : `${node.kind} ${left.map((d) => words.say(d)).join(',')};`;
}

/** Props taken apart with a rest or patterns inside, which may as well stand in the parameters. */
export function openedIn(
  words: Words,
  statements: readonly Node[],
  isProps: (init: Node) => boolean,
): { opened: string; rest: string } {
  let opened = '';
  let rest = '';
  for (const statement of statements) {
    const [only, more] =
      statement.type === 'VariableDeclaration' && statement.kind === 'const' ? statement.declarations : [];
    const isOpened =
      only?.init && !more && only.id.type === 'ObjectPattern' && !plainNames(only.id) && isProps(bare(only.init));
    if (isOpened) opened += words.say(only.id);
    else rest += words.statement(statement);
  }
  return { opened, rest };
}
