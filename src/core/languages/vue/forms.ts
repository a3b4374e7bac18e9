/** A component of Vue that asks of one value in many places, written so that it asks once. */
import { assembled, type Divided, type Forms } from '../../language/forming.js';
import { isProblem, problem } from '../../problems/problems.js';
import type { Node } from '../../script/parser.js';
import {
  answersTo,
  argumentFor,
  askedBy,
  conditionOf,
  shownBy,
  type Answer,
  type Asking,
} from '../../script/question.js';
import { isFunction } from '../../script/walk.js';
import type { Edit } from '../../text/edits.js';
import { indentAt, relocated } from '../../text/layout.js';
import { Substitution, Unwritable } from '../substitution.js';
import { fixedIn } from './inline/place.js';
import { TemplateText } from './inline/template.js';
import { lower, type Lowered } from './lower.js';
import { isElement, spanOf } from './markup.js';
import { directiveOf, isDirective } from './pieces.js';
import { parseSfc } from './sfc.js';
import { KIND, type ElementNode, type TemplateChildNode } from './template.js';

export const forms: Forms = {
  divide({ file, component, ports, question, booleans }) {
    const sfc = parseSfc(file, ports);
    if (isProblem(sfc)) return sfc;
    const at = { path: file.path, span: { start: component.start, end: component.end } };
    const lowered = lower(sfc);
    const fn = lowered.scopes.moduleScope.set.get(lowered.name)?.defs[0]?.node;
    const own = fn && 'params' in fn && isFunction(fn) ? fn : undefined;
    const shown = own && shownBy(own);
    const roots = sfc.shown.filter((node) => !isBlank(node, file.text));
    if (!own || !shown || roots.length === 0) return problem('forms-unclear', at, component.name, 'it shows nothing');
    const places = askedBy(own, lowered.scopes, question, booleans);
    if (places.length === 0) return undefined;
    try {
      const dividing = new Dividing(file.text, lowered, shown, roots, places);
      return { places: places.length, ...dividing.run(answersTo(places, question)) };
    } catch (error) {
      if (!(error instanceof Unwritable)) throw error;
      return problem('forms-unclear', at, component.name, error.reason);
    }
  },
};

function isBlank(node: TemplateChildNode, text: string): boolean {
  const { start, end } = spanOf(node);
  return text.slice(start, end).trim() === '';
}

class Dividing {
  readonly #indent: string;

  constructor(
    readonly text: string,
    readonly lowered: Lowered,
    readonly shown: Node,
    readonly roots: readonly TemplateChildNode[],
    readonly places: readonly Asking[],
  ) {
    this.#indent = indentAt(text, spanOf(roots[0]!).start);
  }

  run(answers: readonly Answer[]): Pick<Divided, 'edits' | 'forms' | 'isApart'> {
    const { roots } = this;
    const all = answers.map((answer, i) => {
      const name = i === 0 ? 'if' : i === answers.length - 1 ? 'else' : 'else-if';
      return { answer, ...this.#form(answer, name) };
    });
    const between = `\n${this.#indent}`;
    const parts = all.flatMap(({ answer, before, own, after, isShown }, i) => [
      ...(i > 0 ? [between] : []),
      before,
      { answer, text: own, isShown },
      after,
    ]);
    const span = { start: spanOf(roots[0]!).start, end: spanOf(roots.at(-1)!).end };
    const nodes = all.map(({ left }) => left);
    const isApart = nodes.every((list, i) =>
      nodes.every((other, j) => i === j || !list.some((n) => other.includes(n))),
    );
    return { ...assembled([{ span, parts }]), isApart };
  }

  #form(answer: Answer, name: 'if' | 'else-if' | 'else') {
    const { text, lowered, roots, places } = this;
    const condition = name === 'else' ? 'v-else' : `v-${name}="${this.#quoted(conditionOf(places, answer, text))}"`;
    const argumentOf = (node: Node) => argumentFor(places, node, answer);
    const template = new TemplateText(text, this.shown, new Substitution(text, lowered.scopes, argumentOf));
    const edits = template.edits(roots);
    const left = this.#left(template);
    const elements = left.filter(isElement);
    const only = left.length === 1 ? elements[0] : undefined;
    const span = { start: spanOf(roots[0]!).start, end: spanOf(roots.at(-1)!).end };
    const fixed = fixedIn(roots, lowered);
    if (only && (this.#isSure(template, only) || !isGuarded(only)) && !directiveOf(only, 'for')) {
      const at = spanOf(only).start + 1 + only.tag.length;
      const own = this.#within(only, [...edits, { start: at, end: at, text: ` ${condition}` }], this.#indent);
      return { before: '', own, after: '', isShown: true, left };
    }
    // What is handed to a component lands on its one element; around several, or none, it would be lost.
    if (this.#isOne()) throw new Unwritable('in one of the forms its outermost element may be missing', this.shown);
    const inner = `${this.#indent}  `;
    const own = relocated(text, span, inner, edits, fixed, this.#indent).trim();
    const isShown = own !== '';
    const before = `<template ${condition}>\n${inner}`;
    return { before, own, after: `\n${this.#indent}</template>`, isShown, left };
  }

  /** Whether one element is all that it shows, whichever that is. */
  #isOne(): boolean {
    const shown = this.roots.filter((node) => node.type !== (KIND.comment as number));
    const guarded = this.#chains().flat();
    return (
      shown.length === 1 || (this.#chains().length === 1 && shown.every((n) => guarded.includes(n as ElementNode)))
    );
  }

  /** The outermost nodes that an answer leaves. */
  #left(template: TemplateText): TemplateChildNode[] {
    const chains = this.#chains();
    return this.roots.filter((node) => {
      const chain = chains.find((c) => c.includes(node as ElementNode));
      return !chain || template.left(chain).some((l) => l.node === node);
    });
  }

  #isSure(template: TemplateText, node: ElementNode): boolean {
    const chain = this.#chains().find((c) => c.includes(node));
    return chain !== undefined && template.left(chain).some((l) => l.node === node && l.isSure);
  }

  #chains(): ElementNode[][] {
    const chains: ElementNode[][] = [];
    for (const node of this.roots) {
      if (!isElement(node)) continue;
      if (directiveOf(node, 'if')) chains.push([node]);
      else if (directiveOf(node, 'else', 'else-if')) chains.at(-1)?.push(node);
    }
    return chains;
  }

  /** One element as the edits leave it. */
  #within(node: ElementNode, edits: readonly Edit[], to: string): string {
    const { start, end } = spanOf(node);
    const own = edits.filter((e) => e.start >= start && e.end <= end);
    return relocated(this.text, { start, end }, to, own, fixedIn([node], this.lowered), indentAt(this.text, start));
  }

  #quoted(condition: string): string {
    if (!condition.includes('"')) return condition;
    if (condition.includes("'")) throw new Unwritable('the condition holds quotes of both kinds', this.shown);
    return condition.replaceAll('"', "'");
  }
}

/** Whether an element is there only under a condition. */
function isGuarded(node: ElementNode): boolean {
  return node.props.some((p) => isDirective(p) && ['if', 'else', 'else-if'].includes(p.name));
}
