/** A component of React that asks of one value in many places, written so that it asks once. */
import type { TSESTree } from '@typescript-eslint/types';
import { assembled, type Divided, type Forms, type Piece } from '../../language/forming.js';
import { isProblem, problem } from '../../problems/problems.js';
import type { Node } from '../../script/parser.js';
import {
  answersTo,
  argumentFor,
  askedBy,
  conditionOf,
  decided,
  earlyReturn,
  shownBy,
  statementsOf,
  type Answer,
  type Asking,
} from '../../script/question.js';
import { ScriptScopes } from '../../script/scopes.js';
import { bare, isFunction, spanOf } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';
import { indentAt, indentUnitOf, lineEndOf, relocated } from '../../text/layout.js';
import { Substitution } from '../substitution.js';
import { findComponents } from './candidates.js';
import { fixedIn, inMarkup } from './inline/passed.js';
import { isJsx } from './markup.js';
import { parseFile } from './source.js';

export const forms: Forms = {
  divide({ file, component, ports, question, booleans }) {
    const script = parseFile(file, ports);
    if (isProblem(script)) return script;
    const at = { path: file.path, span: { start: component.start, end: component.end } };
    const { candidates } = findComponents(script.program);
    const fn = candidates.find((c) => (c.name ?? component.name) === component.name)?.node;
    if (!fn || !isFunction(fn)) return problem('forms-unclear', at, component.name, 'it is no function');
    const scopes = ScriptScopes.of(script);
    const shown = shownBy(fn);
    if (!shown) return problem('forms-unclear', at, component.name, 'it does not end in a return');
    const places = askedBy(fn, scopes, question, booleans);
    if (places.length === 0) return undefined;
    const divided = new Dividing(file.text, shown, statementsOf(fn), scopes, places).run(answersTo(places, question));
    if (typeof divided === 'string') return problem('forms-unclear', at, component.name, divided);
    return { places: places.length, ...divided };
  },
};

/** What a form shows. */
interface Shown {
  readonly answer: Answer;
  readonly text: string;
  readonly isShown: boolean;
  /** The tag of the outermost element; undefined for what is none. */
  readonly tag: string | undefined;
}

class Dividing {
  constructor(
    readonly text: string,
    readonly shown: Node,
    readonly statements: readonly TSESTree.Statement[],
    readonly scopes: ScriptScopes,
    readonly places: readonly Asking[],
  ) {}

  /** A text says why it cannot be. */
  run(answers: readonly Answer[]): Pick<Divided, 'edits' | 'forms' | 'isApart'> | string {
    const { shown, statements } = this;
    const last = statements.at(-1);
    let left = answers;
    const early: { readonly statement: TSESTree.Statement; readonly shown: Node; readonly answer: Answer }[] = [];
    for (const statement of statements) {
      const returned = earlyReturn(statement);
      const asking = returned && this.#askingOf(returned.test);
      if (!asking) continue;
      const taken = left.filter((answer) => decided(asking, answer) === true);
      if (taken.length !== 1 || taken.length === left.length) return 'it returns early for more than one answer';
      left = left.filter((answer) => answer !== taken[0]);
      early.push({ statement, shown: returned.shown, answer: taken[0]! });
    }
    const first = early[0]?.statement;
    // With nothing in between, they are one choice.
    const isOne = first && statements.length - statements.indexOf(first) === early.length + 1;
    const all = isOne
      ? this.#together({ start: first.range[0], end: last!.range[1] }, [
          ...early,
          ...left.map((answer) => ({ shown, answer })),
        ])
      : this.#apart(shown, left, early);
    const tags = all.forms.map(({ tag }) => tag);
    const isApart = new Set(tags).size === tags.length && !tags.includes(undefined);
    return { ...assembled(all.pieces), isApart };
  }

  #together(
    span: Span,
    answered: readonly { readonly shown: Node; readonly answer: Answer }[],
  ): { pieces: Piece[]; forms: Shown[] } {
    const outer = indentAt(this.text, span.start);
    const unit = indentUnitOf(this.text);
    const forms = answered.map(({ shown, answer }) => this.#shown(shown, answer, outer + unit));
    const semi = this.text[span.end - 1] === ';' ? ';' : '';
    return { pieces: [{ span, parts: ['return ', ...this.#choice(forms, outer, unit), semi] }], forms };
  }

  /** Each where it is returned; what is left for several answers as a choice. */
  #apart(
    shown: Node,
    left: readonly Answer[],
    early: readonly { readonly shown: Node; readonly answer: Answer }[],
  ): { pieces: Piece[]; forms: Shown[] } {
    const forms: Shown[] = [];
    const pieces = early.map((one): Piece => {
      const span = this.#withParens(one.shown);
      const form = this.#shown(one.shown, one.answer, indentAt(this.text, span.start));
      forms.push(form);
      return { span, parts: [form] };
    });
    const span = this.#withParens(shown);
    const outer = indentAt(this.text, span.start);
    const unit = left.length > 1 ? indentUnitOf(this.text) : '';
    const rest = left.map((answer) => this.#shown(shown, answer, outer + unit));
    pieces.push({ span, parts: rest.length > 1 ? this.#choice(rest, outer, unit) : rest });
    return { pieces, forms: [...forms, ...rest] };
  }

  /** One form for each condition, each in parentheses and lines of its own. */
  #choice(forms: readonly Shown[], outer: string, unit: string): Piece['parts'] {
    const nl = lineEndOf(this.text);
    return forms.flatMap((form, i) => {
      const isLast = i === forms.length - 1;
      const head = isLast ? '' : `${conditionOf(this.places, form.answer, this.text)} ? `;
      const own = form.isShown ? [`${head}(${nl}${outer}${unit}`, form, `${nl}${outer})`] : [head, form];
      return isLast ? own : [...own, ' : '];
    });
  }

  #askingOf(test: Node): Asking | undefined {
    const inner = bare(test);
    const asking = this.places.find((p) => p.node === inner);
    if (asking || inner.type !== 'UnaryExpression' || inner.operator !== '!') return asking;
    const turned = this.places.find((p) => p.node === bare(inner.argument));
    return turned && { ...turned, isNot: !turned.isNot };
  }

  /** With the parentheses right around it: a form stands in a line of its own. */
  #withParens(node: Node): Span {
    const { start, end } = spanOf(node);
    const open = /\(\s*$/.exec(this.text.slice(0, start));
    const close = /^\s*\)/.exec(this.text.slice(end));
    return open && close ? { start: open.index, end: end + close[0].length } : { start, end };
  }

  #shown(shown: Node, answer: Answer, indent: string): Shown {
    const { text, scopes, places } = this;
    const argumentOf = (node: Node) => argumentFor(places, node, answer);
    const substitution = new Substitution(text, scopes, argumentOf, new Map(), inMarkup({ text }));
    const settled = substitution.settle(shown);
    if (settled.kind === 'argument') return { answer, text: 'null', isShown: false, tag: undefined };
    const root = bare(settled.node);
    const from = indentAt(text, root.range[0]);
    const own = relocated(text, spanOf(root), indent, substitution.edits(root), fixedIn(root), from);
    if (root.type === 'Literal') return { answer, text: own, isShown: false, tag: undefined };
    const tag = root.type === 'JSXElement' ? text.slice(...root.openingElement.name.range) : undefined;
    return { answer, text: isJsx(root) ? own : `<>{${own}}</>`, isShown: true, tag };
  }
}
