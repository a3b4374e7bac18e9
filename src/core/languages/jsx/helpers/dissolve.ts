/** A function that gives markup back, out of the way: what it shows stands where it was called. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Dissolves, Dissolving as Dissolved, HelperRequest } from '../../../language/dissolving.js';
import { isProblem, problem } from '../../../problems/problems.js';
import { guarded, helperBody, showsAnyNothing } from '../../../script/helper-body.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { bare, spanOf, within } from '../../../script/walk.js';
import type { Edit, Span } from '../../../text/edits.js';
import { indentAt, reindent, relocated, withComments } from '../../../text/layout.js';
import { droppedImports, wholeLines } from '../../imports.js';
import { isPlain, Substitution, Unwritable, type Argument } from '../../substitution.js';
import { habitsOf, type Habits } from '../cut/habits.js';
import { useText } from '../cut/write.js';
import { fixedIn, inMarkup } from '../inline/passed.js';
import { isJsx } from '../markup.js';
import { heirOf, helperNames, helperOf, type HelperFunction, type HelperUse } from './helper.js';

export const dissolving: Dissolves = {
  list: helperNames,

  find(request) {
    const helper = helperOf(request);
    if (isProblem(helper)) return helper;
    const { name, fn, shown, uses, text, scopes } = helper;
    const body = helperBody(fn, scopes);
    // What is worked out for a tag goes into a component with it.
    const isShell = !('why' in body) && [...body.constants.values()].every((value) => isPlain(value));
    const isTag =
      isShell && shown.type === 'JSXElement' && shown.openingElement.selfClosing && /^[A-Z]/.test(tagOf(shown, text));
    return {
      name,
      shown: spanOf(shown),
      tag: isTag ? tagOf(shown, text) : undefined,
      uses: uses.map((u) => spanOf(u.node)),
    };
  },

  dissolve(request) {
    const helper = helperOf(request);
    if (isProblem(helper)) return helper;
    const heir = heirOf(helper, request.project.files);
    if (heir)
      return problem(
        'helper-use',
        heir,
        helper.name,
        'may be another one, or called, in a class that is built on its own',
      );
    try {
      return new Dissolving(request, helper).run();
    } catch (error) {
      if (!(error instanceof Unwritable)) throw error;
      return problem('helper-body', { path: helper.path, span: spanOf(error.node) }, helper.name, error.reason);
    }
  },
};

function tagOf({ openingElement }: TSESTree.JSXElement, text: string): string {
  return text.slice(...openingElement.name.range);
}

class Dissolving {
  readonly #habits: Habits;
  /** Whether it shows something only at times. */
  readonly #isGuarded: boolean;
  /** Where lines of what is written begin. */
  #indent = '';

  constructor(
    { project }: HelperRequest,
    readonly helper: HelperFunction,
  ) {
    const { path, text, script, fn, scopes } = helper;
    this.#habits = habitsOf(path, text, script.program, project.files);
    const body = helperBody(fn, scopes);
    if ('why' in body) throw new Unwritable(body.why, body.node);
    this.#isGuarded = body.guards.length > 0;
  }

  run(): Dissolved {
    const { path, text, script, scopes, fn, uses, gone } = this.helper;
    // What the body names is written where it was called.
    const kept = new Set(scopes.within(spanOf(fn.body)).map(({ identifier }) => text.slice(...identifier.range)));
    const spans = gone.map((node) => withComments(text, spanOf(node)));
    const importing = { text, script, scopes, kept, request: { file: { path } } };
    const edits = [
      ...uses.flatMap((use) => this.#put(use)),
      ...spans.map((span) => wholeLines(text, span)),
      ...droppedImports(importing, spans),
    ];
    const declared = spanOf(gone[0]!);
    const { start } = withComments(text, declared);
    const above = reindent(text.slice(start, declared.start).trimEnd(), indentAt(text, declared.start), '');
    return { edits, start: fn.range[0], above, comments: this.#comments(gone.map(spanOf)) };
  }

  /** Those that stand in what is gone, and not in what is shown. */
  #comments(gone: readonly Span[]): string[] {
    const { text, script, shown } = this.helper;
    return script.comments
      .filter((c) => gone.some((span) => within(c, span)) && !within(c, spanOf(shown)))
      .map((c) => text.slice(c.start, c.end).replace(/\s+/g, ' '));
  }

  #put(use: HelperUse): Edit[] {
    const { helper } = this;
    const { text, fn, scopes } = helper;
    const indent = indentAt(text, use.node.range[0]);
    const around = this.#tight(use.node);
    const write = (outer: string): Edit => {
      if (use.kind === 'each') return { ...spanOf(use.node), text: this.#each(use.node, outer) };
      const given = new Map<Variable, Node>();
      fn.params.forEach((parameter, i) => {
        const variable = scopes.variableOf(parameter);
        const argument = use.node.arguments[i];
        if (variable && argument) given.set(variable, argument);
      });
      const parent = scopes.parentOf(use.node)!;
      const isChild = parent.type === 'JSXExpressionContainer' && isJsx(scopes.parentOf(parent)!);
      const shown = this.#shown(use.node, given, isChild && showsAnyNothing(parent, scopes), outer);
      if (!isChild) return { ...spanOf(use.node), text: shown };
      const isMarkup = !this.#isGuarded && isJsx(helper.shown);
      return { ...spanOf(parent), text: isMarkup ? shown : `{${shown}}` };
    };
    const edit = write(indent);
    if (!around || !edit.text.includes('\n')) return [edit];
    // What takes several lines does not stand on that of the tags around it.
    const { indent: unit, lineEnd: nl } = this.#habits;
    return [
      { start: around.start, end: around.start, text: nl + indent + unit },
      write(indent + unit),
      { start: around.end, end: around.end, text: nl + indent },
    ];
  }

  /** The braces around a use, where they are all that stands between two tags of one line. */
  #tight(use: Node): Span | undefined {
    const { text, scopes } = this.helper;
    let node: Node | undefined = use;
    while (node && node.type !== 'JSXExpressionContainer') node = scopes.parentOf(node);
    const parent = node && scopes.parentOf(node);
    const isAlone = parent?.type === 'JSXElement' && parent.children.length === 1 && parent.children[0] === node;
    return isAlone && !text.slice(...parent.range).includes('\n') ? spanOf(node!) : undefined;
  }

  /** A function of one thing of a list, which shows it. */
  #each(use: Node, outer: string): string {
    const { text, fn } = this.helper;
    const params = fn.params.map((p) => (p.type === 'Identifier' ? p.name : text.slice(...withoutType(p))));
    const [only] = fn.params;
    const head =
      params.length === 1 && only?.type === 'Identifier' ? this.#alone(params[0]!) : `(${params.join(', ')})`;
    const flat = `${head} => ${this.#shown(use, undefined, false, outer)}`;
    if (!this.#isGuarded || !flat.includes('\n')) return flat;
    // A condition of several lines begins a line of its own.
    const { indent: unit, lineEnd: nl, trailingComma } = this.#habits;
    const shown = this.#shown(use, undefined, false, outer + unit);
    return `${head} =>${nl}${outer}${unit}${shown}${trailingComma ? ',' : ''}${nl}${outer}`;
  }

  /** A parameter by itself, in brackets where the file has them. */
  #alone(name: string): string {
    const { text } = this.helper;
    const bareOnes = text.match(/[(,=]\s*[\w$]+ =>/g)?.length ?? 0;
    const inBrackets = text.match(/\([\w$]+\) =>/g)?.length ?? 0;
    return bareOnes > inBrackets ? name : `(${name})`;
  }

  /** What is shown at a use, as it is written there; `given`: what it passes, where it is a call. */
  #shown(use: Node, given: ReadonlyMap<Variable, Node> | undefined, isChild: boolean, outer: string): string {
    const { fn, scopes } = this.helper;
    const body = helperBody(fn, scopes, given);
    if ('why' in body) throw new Unwritable(body.why, body.node);
    const { indent: unit, lineEnd: nl } = this.#habits;
    const inside = this.#substitution(body.constants, given);
    const shown = bare(body.shown);
    const parent = scopes.parentOf(use)!;
    const isAlone = parent.type === 'JSXExpressionContainer' && body.guards.length === 0;
    if (isAlone && isJsx(shown)) return this.#markup(shown, inside, outer, 0);
    const inner = outer + unit;
    // A condition and what stands before it take room as well.
    const flat = this.#markup(shown, inside, inner, isAlone ? 2 : ROOM);
    // Around a tag that takes several lines stand parentheses.
    const put = flat.includes('\n') && isJsx(shown) ? `(${nl}${inner}${flat}${nl}${outer})` : flat;
    const side = (node: string | Node) => (typeof node === 'string' ? node : this.#operand(node, inside, false));
    const result = guarded<string>(
      body.guards,
      isChild,
      {
        and: (test, rest) => `${this.#operand(test, inside, true)} && ${rest}`,
        choice: (test, x, y) => `${this.#operand(test, inside, false)} ? ${side(x)} : ${side(y)}`,
      },
      put,
    );
    const isTight = /Logical|Binary|Unary|Member/.test(parent.type);
    const isTest = parent.type === 'ConditionalExpression' && parent.test === use;
    const isLoose = body.guards.length > 0 || !/Element|Fragment|Identifier|Member|Call/.test(shown.type);
    return isLoose && (isTight || isTest) ? `(${result})` : result;
  }

  /** `room`: what stands before it on its line, beside the indentation. */
  #markup(shown: Node, inside: Substitution, indent: string, room: number): string {
    const { text } = this.helper;
    const isPlainTag = shown.type === 'JSXElement' && shown.openingElement.selfClosing;
    this.#indent = indent + this.#habits.indent;
    if (isPlainTag && !/\/\/|\/\*/.test(text.slice(...shown.range))) {
      const attributes = shown.openingElement.attributes.map((a) =>
        relocated(text, spanOf(a), this.#indent, inside.edits(a), fixedIn(a)),
      );
      return useText(
        tagOf(shown, text),
        attributes.filter(Boolean),
        undefined,
        { indent, column: indent.length + room },
        this.#habits,
      );
    }
    return relocated(text, spanOf(shown), indent, inside.edits(shown), fixedIn(shown));
  }

  #operand(node: Node, inside: Substitution, isOperand: boolean): string {
    const made = node.type === 'UnaryExpression' && node.operator === '!' ? node : undefined;
    const inner = made ? bare(made.argument) : bare(node);
    const isLoose = /Binary|Logical|Conditional|Arrow|Assignment|Await/.test(inner.type);
    if (made) {
      const text = this.#written(inner, inside);
      return isLoose ? `!(${text})` : `!${text}`;
    }
    const text = this.#written(inner, inside);
    const isWeak =
      /Conditional|Arrow|Assignment/.test(inner.type) ||
      (isOperand && inner.type === 'LogicalExpression' && inner.operator !== '&&');
    return isWeak ? `(${text})` : text;
  }

  /** The code of a node that may have been turned round: its parts are those of the text. */
  #written(node: Node, inside: Substitution): string {
    if (node.type !== 'BinaryExpression') return inside.textOf(node);
    const text = this.helper.text.slice(node.left.range[1], node.right.range[0]);
    const between = text.replace(/[!=]==?/, node.operator);
    return inside.textOf(node.left) + between + inside.textOf(node.right);
  }

  /** Constants and parameters by what they stand for. */
  #substitution(constants: ReadonlyMap<Variable, Node>, given?: ReadonlyMap<Variable, Node>): Substitution {
    const { text, scopes, fn } = this.helper;
    const params = new Set(fn.params.map((p) => scopes.variableOf(p)));
    const argumentOf = (node: Node): Argument | undefined => {
      const variable =
        node.type === 'Identifier' || node.type === 'JSXIdentifier' ? scopes.referenceOf(node)?.resolved : undefined;
      if (!variable) return undefined;
      const value = constants.get(variable) ?? given?.get(variable);
      if (value) {
        const reads = variable.references.filter((r) => !r.init).length;
        if (reads > 1 && !isPlain(value) && value.range[1] - value.range[0] > SHORT)
          throw new Unwritable(`reads "${variable.name}" in several places`, fn);
        if (value.type === 'Literal' && typeof value.value === 'string')
          return { kind: 'constant', value: value.value };
        return { kind: 'code', node: value, scopes, source: text, write: () => this.#valueText(value, inside) };
      }
      return given && params.has(variable) ? { kind: 'constant', value: undefined } : undefined;
    };
    const inside = new Substitution(text, scopes, argumentOf, new Map(), inMarkup({ text }));
    return inside;
  }

  /** A member of a record that is taken apart stands nowhere in the text. */
  #valueText(value: Node, inside: Substitution): string {
    const { text } = this.helper;
    const isMade = value.type === 'MemberExpression' && !(value.property.range[0] > value.object.range[1]);
    if (!isMade) return relocated(text, spanOf(value), this.#indent, inside.edits(value), fixedIn(value));
    const object = inside.textOf(value.object);
    const isTight = /Identifier|Member|This|Call/.test(bare(value.object).type);
    return `${isTight ? object : `(${object})`}.${(value.property as TSESTree.Identifier).name}`;
  }
}

/** What a condition before a tag takes of its line, at least. */
const ROOM = 16;

/** Code that may stand in several places though it was worked out in one, in UTF-16 code units. */
const SHORT = 40;

/** A parameter without the type behind it. */
function withoutType(parameter: Node): [number, number] {
  const type = 'typeAnnotation' in parameter ? parameter.typeAnnotation : undefined;
  return [parameter.range[0], type ? type.range[0] : parameter.range[1]];
}
