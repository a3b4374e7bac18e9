/**
 * Code with other code in the place of some of its names: what a component takes, replaced by what one use passes. Made
 * of edits to the text of the component, so that everything else stays as its author wrote it.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../script/parser.js';
import type { ScriptScopes, Variable } from '../script/scopes.js';
import { identifierEnd } from '../script/scopes.js';
import { bare, forEachChild, isFunction, spanOf } from '../script/walk.js';
import { applyEdits, type Edit, type Span } from '../text/edits.js';
import { indentAt, relocated } from '../text/layout.js';
import { needsParens } from './parens.js';

/** What a name stands for. */
export type Argument =
  | { readonly kind: 'constant'; readonly value: string | boolean | undefined }
  | {
      readonly kind: 'code';
      readonly node: Node;
      /** The syntax of the node in its own file. */
      readonly scopes: ScriptScopes;
      readonly source: string;
      /** The code as it is to be written at an offset of the text that it is put into. */
      readonly write: (offset: number) => string;
      /** Names that are written otherwise at an offset of the text that it is put into. */
      readonly renamed?: (offset: number) => ReadonlyMap<Variable, string>;
      /** A part of the code, edited, with its lines as far in as at an offset of the text that it is put into. */
      readonly move?: (part: Span, edits: readonly Edit[], offset: number) => string;
      /** Markup between tags: how it is written between other tags, or as all that stands between them. */
      readonly content?: (offset: number, alone?: boolean) => string;
    };

/** What is left of an expression once its conditions are decided. */
export type Settled =
  { readonly kind: 'own'; readonly node: Node } | { readonly kind: 'argument'; readonly argument: Argument };

/** Something that cannot be written in the place of a name. */
export class Unwritable extends Error {
  constructor(
    readonly reason: string,
    readonly node: Node,
  ) {
    super(reason);
  }
}

/** Whether code is surely something else than `undefined`. */
export function isSet(node: Node): boolean {
  const inner = bare(node);
  if (isFunction(inner)) return true;
  if (inner.type === 'UnaryExpression') return inner.operator !== 'void';
  if (inner.type === 'ConditionalExpression') return isSet(inner.consequent) && isSet(inner.alternate);
  if (inner.type === 'LogicalExpression')
    return isSet(inner.right) && (inner.operator === '??' || inner.operator === '||' || isSet(inner.left));
  return SET.has(inner.type);
}

const SET = new Set([
  'Literal',
  'TemplateLiteral',
  'ObjectExpression',
  'ArrayExpression',
  'BinaryExpression',
  'JSXElement',
  'JSXFragment',
]);

export class Substitution {
  constructor(
    readonly text: string,
    readonly scopes: ScriptScopes,
    readonly argumentOf: (node: Node) => Argument | undefined,
    readonly renamed: ReadonlyMap<Variable, string> = new Map(),
    /** Markup in code, where a language has it; `undefined` leaves a node to this class. */
    readonly special: (node: Node, self: Substitution) => Edit[] | undefined = () => undefined,
  ) {}

  /** The text of a node with everything replaced in it. */
  textOf(node: Node): string {
    const [from, to] = writtenRange(node);
    const edits = this.edits(node).map((e) => ({ ...e, start: e.start - from, end: e.end - from }));
    return applyEdits(this.text.slice(from, to), edits);
  }

  /** Edits in the range of a node, that of the node itself included. */
  edits(node: Node): Edit[] {
    const special = this.special(node, this);
    if (special) return special;
    const argument = this.argumentOf(node);
    if (argument) return [{ ...wholeName(node), text: this.#operand(argument, node) }];
    const settled = this.settle(node);
    if (settled.kind === 'argument') return [{ ...spanOf(node), text: this.#operand(settled.argument, node) }];
    if (settled.node !== node) return this.#only(node, settled.node);
    switch (node.type) {
      case 'Identifier':
      case 'JSXIdentifier':
        return this.#rename(node);
      case 'Property':
        if (node.shorthand) return this.#shorthand(node);
        break;
      case 'TemplateLiteral':
        return this.#template(node);
      case 'IfStatement': {
        const truth = this.#truth(node.test);
        if (truth !== undefined) return this.#decided(node, truth ? node.consequent : node.alternate);
        break;
      }
      case 'CallExpression': {
        const reduced = this.#reduced(node);
        if (reduced) return reduced;
      }
    }
    const edits: Edit[] = [];
    forEachChild(node, (child) => {
      // A name behind a dot, or before a colon, is no name of a value.
      if (node.type === 'MemberExpression' && child === node.property && !node.computed) return;
      if (node.type === 'Property' && child === node.key && !node.computed) return;
      edits.push(...this.edits(child));
    });
    return edits;
  }

  /** Decides what constants decide. */
  settle(node: Node): Settled {
    const inner = bare(node);
    const argument = this.argumentOf(inner);
    if (argument) return { kind: 'argument', argument };
    if (inner.type === 'ConditionalExpression') {
      const truth = this.#truth(inner.test);
      if (truth !== undefined) return this.settle(truth ? inner.consequent : inner.alternate);
    }
    if (inner.type === 'LogicalExpression') {
      const truth = inner.operator === '??' ? this.#given(inner.left) : this.#truth(inner.left);
      if (truth !== undefined) return this.settle(truth === (inner.operator === '&&') ? inner.right : inner.left);
    }
    if (inner.type === 'UnaryExpression' && inner.operator === '!') {
      const truth = this.#truth(inner.argument);
      if (truth !== undefined) return { kind: 'argument', argument: { kind: 'constant', value: !truth } };
    }
    if (inner.type === 'BinaryExpression' && (inner.operator === '===' || inner.operator === '!==')) {
      const [left, right] = [this.#known(inner.left), this.#known(inner.right)];
      if (left && right && (left.given || right.given)) {
        const value = (left.value === right.value) === (inner.operator === '===');
        return { kind: 'argument', argument: { kind: 'constant', value } };
      }
    }
    return { kind: 'own', node };
  }

  /** Whether nothing is left of a statement. */
  isGone(node: Node): boolean {
    if (node.type !== 'IfStatement') return false;
    const truth = this.#truth(node.test);
    return truth === false && !node.alternate;
  }

  /** Whether a condition holds, where it is no more than one; undefined where what was passed does not decide it. */
  holds(node: Node): boolean | undefined {
    const inner = bare(node);
    if (inner.type !== 'LogicalExpression' || inner.operator === '??') return this.#truth(inner);
    const [left, right] = [this.holds(inner.left), this.holds(inner.right)];
    const decides = inner.operator === '||';
    if (left === decides || right === decides) return decides;
    return left === undefined || right === undefined ? undefined : !decides;
  }

  /** Whether an expression counts as true by what was passed; undefined where that does not decide it. */
  #truth(node: Node): boolean | undefined {
    const settled = this.settle(node);
    if (settled.kind === 'own') return undefined;
    const { argument } = settled;
    if (argument.kind === 'constant') return Boolean(argument.value);
    const inner = bare(argument.node);
    if (inner.type === 'Literal' && !('regex' in inner)) return Boolean(inner.value);
    const isThing =
      isFunction(inner) || ['JSXElement', 'JSXFragment', 'ObjectExpression', 'ArrayExpression'].includes(inner.type);
    return isThing ? true : undefined;
  }

  /** Whether the left side of `??` is there. */
  #given(node: Node): boolean | undefined {
    const known = this.#known(node);
    return known?.given ? known.value != null : undefined;
  }

  #known(node: Node): { value: unknown; given: boolean } | undefined {
    const settled = this.settle(node);
    if (settled.kind === 'argument') {
      const { argument } = settled;
      if (argument.kind === 'constant') return { value: argument.value, given: true };
      const inner = bare(argument.node);
      return inner.type === 'Literal' && !('regex' in inner) ? { value: inner.value, given: true } : undefined;
    }
    const inner = bare(settled.node);
    return inner.type === 'Literal' && !('regex' in inner) ? { value: inner.value, given: false } : undefined;
  }

  /** What stands around the part that is left goes. */
  #only(node: Node, left: Node): Edit[] {
    return [
      { start: node.range[0], end: left.range[0], text: '' },
      ...this.edits(left),
      { start: left.range[1], end: node.range[1], text: '' },
    ];
  }

  /** What an `if` leaves: nothing, one statement, or a block, whose braces stay where it declares something. */
  #decided(node: TSESTree.IfStatement, left: Node | null): Edit[] {
    const nothing = [{ ...spanOf(node), text: '' }];
    if (!left) return nothing;
    if (left.type !== 'BlockStatement') return this.#only(node, left);
    const [first, last] = [left.body[0], left.body.at(-1)];
    if (!first || !last) return nothing;
    if (/^(?:Return|Throw)Statement$/.test(last.type))
      throw new Unwritable('statements behind one that always returns', node);
    if (left.body.some((s) => /Declaration$/.test(s.type))) return this.#only(node, left);
    const inner = { start: first.range[0], end: last.range[1] };
    const edits = left.body.flatMap((s) => this.edits(s));
    const text = relocated(
      this.text,
      inner,
      indentAt(this.text, node.range[0]),
      edits,
      [],
      indentAt(this.text, inner.start),
    );
    return [{ ...spanOf(node), text }];
  }

  #rename(node: Node): Edit[] {
    const variable = this.scopes.variableOf(node);
    const name = variable && this.renamed.get(variable);
    return name === undefined ? [] : [{ ...wholeName(node), text: name }];
  }

  /** `{ hive }` becomes `{ hive: hives[0] }`. */
  #shorthand(node: TSESTree.Property): Edit[] {
    const value = node.value.type === 'AssignmentPattern' ? node.value.left : node.value;
    const argument = this.argumentOf(value);
    const key = this.text.slice(...node.key.range);
    const variable = this.scopes.variableOf(value);
    const name = variable && this.renamed.get(variable);
    const after = node.value.type === 'AssignmentPattern' ? this.edits(node.value.right) : [];
    if (argument) {
      const text = this.#operand(argument, node.value);
      return [{ ...spanOf(node), text: text === key ? key : `${key}: ${text}` }];
    }
    return name === undefined ? after : [{ ...wholeName(node.key), text: `${key}: ${name}` }, ...after];
  }

  /** Words that were passed become part of the template; a template that is all words is one of them. */
  #template(node: TSESTree.TemplateLiteral): Edit[] {
    const whole = this.wordOf(node);
    if (whole !== undefined) return [{ ...spanOf(node), text: quoted(whole) }];
    const words = node.expressions.map((e) => this.#word(e));
    return node.expressions.flatMap((expression, i): Edit[] => {
      const word = words[i];
      if (word === undefined) return this.edits(expression);
      const start = node.quasis[i]!.range[1] - 2;
      const end = node.quasis[i + 1]!.range[0] + 1;
      return [{ start, end, text: word.replace(/[`\\]|\$\{/g, '\\$&') }];
    });
  }

  /** The text that a template comes to when all that stands in it was passed as words. */
  wordOf(node: Node): string | undefined {
    if (node.type !== 'TemplateLiteral' || node.expressions.length === 0) return undefined;
    const words = node.expressions.map((e) => this.#word(e));
    if (!words.every((w) => w !== undefined)) return undefined;
    return node.quasis.map((q, i) => (q.value.cooked ?? '') + (words[i] ?? '')).join('');
  }

  #word(node: Node): string | undefined {
    const known = this.#known(node);
    return known?.given && typeof known.value === 'string' ? known.value : undefined;
  }

  /** A call of a function that was passed as such: its body, with what the call passes. */
  #reduced(call: TSESTree.CallExpression): Edit[] | undefined {
    const callee = this.argumentOf(bare(call.callee));
    if (callee?.kind === 'constant') return undefined;
    const fn = callee && bare(callee.node);
    if (!fn || !isFunction(fn)) return undefined;
    const given = new Map<Variable, Argument>();
    fn.params.forEach((parameter, i) => {
      const variable = parameter.type === 'Identifier' ? callee.scopes.variableOf(parameter) : undefined;
      const passed = call.arguments[i];
      if (!variable || passed?.type === 'SpreadElement')
        throw new Unwritable('a function that takes its parameters apart', call);
      const reads = variable.references.length;
      if (passed && reads > 1 && !isPlain(passed)) throw new Unwritable('a function that uses a value twice', call);
      given.set(
        variable,
        passed
          ? { kind: 'code', node: passed, scopes: this.scopes, source: this.text, write: () => this.textOf(passed) }
          : { kind: 'constant', value: undefined },
      );
    });
    const inside = new Substitution(
      callee.source,
      callee.scopes,
      (node) => {
        const variable = node.type === 'Identifier' ? callee.scopes.variableOf(node) : undefined;
        return variable && callee.scopes.referenceOf(node) ? given.get(variable) : undefined;
      },
      callee.renamed?.(call.range[0]),
    );
    const written = (part: Node): string =>
      callee.move?.(spanOf(part), inside.edits(part), call.range[0]) ?? inside.textOf(part);
    const parent = this.scopes.parentOf(call);
    if (fn.body.type !== 'BlockStatement') {
      const text = inside.textOf(fn.body);
      return [{ ...spanOf(call), text: needsParens(fn.body, parent, call) ? `(${text})` : text }];
    }
    const isWhole = parent && isFunction(parent) && parent.body === call;
    const only = fn.body.body.length === 1 ? fn.body.body[0]! : undefined;
    if (only?.type === 'ExpressionStatement' && !fn.async) {
      if (isWhole || parent?.type === 'ExpressionStatement')
        return [
          {
            ...spanOf(call),
            text: written(isWhole && !('native' in parent) ? fn.body : only.expression),
          },
        ];
    }
    // A handler in a template is statements without braces.
    if (isWhole && 'native' in parent && !fn.async)
      return [{ ...spanOf(call), text: fn.body.body.map((s) => inside.textOf(s).replace(/;$/, '')).join('; ') }];
    if (!isWhole || fn.async) throw new Unwritable('a function with statements', call);
    return [{ ...spanOf(call), text: written(fn.body) }];
  }

  #operand(argument: Argument, site: Node): string {
    if (argument.kind === 'constant')
      return typeof argument.value === 'string' ? quoted(argument.value) : String(argument.value);
    const text = argument.write(site.range[0]);
    return needsParens(argument.node, this.scopes.parentOf(site), site) ? `(${text})` : text;
  }
}

/** A language may read more of the text as one name than the name itself. */
function writtenRange(node: Node): TSESTree.Range {
  return 'written' in node ? (node.written as TSESTree.Range) : node.range;
}

/** A name without the type that is written behind it. */
function wholeName(node: Node): Span {
  return { start: node.range[0], end: identifierEnd(node) };
}

export function quoted(value: string): string {
  const escaped = value.replace(/[\\\n\r\u2028\u2029]/g, (c) => JSON.stringify(c).slice(1, -1));
  return escaped.includes("'") && !escaped.includes('"') ? `"${escaped}"` : `'${escaped.replace(/'/g, "\\'")}'`;
}

/** A name or a member of one: read again and again without a second thought. */
export function isPlain(node: Node): boolean {
  const inner = bare(node);
  if (inner.type === 'Identifier' || inner.type === 'Literal' || inner.type === 'ThisExpression') return true;
  if (inner.type === 'ChainExpression') return isPlain(inner.expression);
  return inner.type === 'MemberExpression' && isPlain(inner.object) && (!inner.computed || isPlain(inner.property));
}
