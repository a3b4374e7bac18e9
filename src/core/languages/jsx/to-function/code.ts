/** Code of a class as a function has it: what is read of `this` by the names that the function has for it. */
import type { TSESTree } from '@typescript-eslint/types';
import { templateSpans } from '../../../script/literals.js';
import type { Node } from '../../../script/parser.js';
import { bindCall, memberOfThis } from '../../../script/this-members.js';
import { spanOf, walk, type FunctionNode } from '../../../script/walk.js';
import { applyEdits, type Edit, type Span } from '../../../text/edits.js';
import { indentAt, relocated, withComments } from '../../../text/layout.js';
import { wholeLines } from '../../imports.js';
import { type Habits } from '../cut/habits.js';
import { type ClassComponent } from './class-component.js';
import { statesSet, type StateSet } from './sets.js';
import type { Plan } from './naming.js';
import { ReactNames } from './react-names.js';

export class Code {
  /** Where lines stay as they are. */
  readonly fixed: readonly Span[];
  readonly react: ReactNames;

  constructor(
    readonly component: ClassComponent,
    readonly plan: Plan,
    readonly habits: Habits,
  ) {
    this.fixed = templateSpans(component.node);
    this.react = new ReactNames(component);
  }

  name(key: string): string {
    return this.plan.names.get(key)!;
  }

  roleText(role: { kind: 'prop' | 'state'; name: string }): string {
    if (role.kind === 'prop') return this.plan.taking === 'whole' ? `${this.name('props')}.${role.name}` : role.name;
    return this.plan.each ? this.name(`state ${role.name}`) : `${this.name('whole')}.${role.name}`;
  }

  slice(node: Node): string {
    return applyEdits(
      this.component.text.slice(...node.range),
      this.editsIn(node).map((e) => ({ ...e, start: e.start - node.range[0], end: e.end - node.range[0] })),
    );
  }

  /** Code as the function has it, its lines at another depth. */
  moved(node: Node, to: string): string {
    const { text } = this.component;
    return relocated(text, spanOf(node), to, this.editsIn(node), this.fixed);
  }

  editsIn(root: Node): Edit[] {
    const edits: Edit[] = [];
    walk(root, (node) => {
      const edit = this.#editOf(node);
      if (!edit) return true;
      edits.push(...edit);
      return false;
    });
    return edits;
  }

  #editOf(node: Node): Edit[] | undefined {
    const whole = (text: string): Edit[] => [{ ...spanOf(node), text }];
    if (node.type === 'VariableDeclaration' && node.declarations.some((d) => this.#isGone(d))) {
      const left = node.declarations.filter((d) => !this.#isGone(d));
      if (left.length > 0) return whole(`${node.kind} ${left.map((d) => this.slice(d)).join(', ')}${this.habits.semi}`);
      const { start, end } = wholeLines(this.component.text, spanOf(node));
      return [{ start, end, text: '' }];
    }
    if (node.type === 'Property' && node.shorthand) {
      const text = this.#aliasText(node.value);
      return text === undefined ? undefined : whole(`${this.component.text.slice(...node.key.range)}: ${text}`);
    }
    const bound = bindCall(node);
    if (
      bound &&
      node.type === 'CallExpression' &&
      bound.args[0]?.type === 'ThisExpression' &&
      memberOfThis(bound.target)
    ) {
      const target = this.slice(bound.target);
      if (bound.args.length === 1) return whole(target);
      return [
        ...this.editsIn(node.callee),
        { ...spanOf(bound.args[0]), text: 'null' },
        ...bound.args.slice(1).flatMap((a) => this.editsIn(a)),
      ];
    }
    const sets = this.#severalSets(node);
    if (sets) return sets;
    const call = this.setCall(node);
    if (call) return this.#setEdit(call);
    const role = this.component.roleOf(node);
    if (!role || node.type === 'Identifier' || node.type === 'JSXIdentifier') {
      if (role?.kind === 'props') return whole(this.plan.taking === 'whole' ? this.name('props') : this.plan.taking);
      const text = this.#aliasText(node);
      return text === undefined ? undefined : whole(text);
    }
    switch (role.kind) {
      case 'prop':
      case 'state':
        return whole(this.roleText(role));
      case 'props':
        return whole(this.name('props'));
      case 'whole':
        return whole(this.name('whole'));
      case 'context':
        return whole(this.name('context'));
      case 'own':
        return whole(this.name(`own ${role.name}`));
      case 'before':
        return whole(`${this.name('before')}.${role.name}`);
      case 'kept': {
        const { isRef, isOnce } = this.component.kept.get(role.name)!;
        return whole(this.name(`kept ${role.name}`) + (isRef || isOnce ? '' : '.current'));
      }
      default:
        return undefined;
    }
  }

  /** What a record was taken apart into, where the function has no such name. */
  #aliasText(node: Node): string | undefined {
    const { aliases, scopes } = this.component;
    if ((node.type !== 'Identifier' && node.type !== 'JSXIdentifier') || !scopes.referenceOf(node)) return undefined;
    const variable = scopes.variableOf(node);
    const { isFirst, role } = (variable && aliases.get(variable)) ?? {};
    if (role?.kind !== 'prop' && role?.kind !== 'state') return undefined;
    const text = this.roleText(role);
    return isFirst || (role.kind === 'state' && this.plan.each && text !== node.name) ? text : undefined;
  }

  /** A statement, or all that an arrow does, that sets several states by one call: one call for each of them. */
  #severalSets(node: Node): Edit[] | undefined {
    const isArrow = node.type === 'ArrowFunctionExpression';
    const call = isArrow
      ? this.setCall(node.body)
      : node.type === 'ExpressionStatement' && this.setCall(node.expression);
    const set = call && this.plan.each ? statesSet(this.component, call) : undefined;
    if (!set || set.sets.length === 1) return undefined;
    const lines = set.sets.map((s) => `${this.#set(s)}${this.habits.semi}`);
    if (isArrow)
      return [...node.params.flatMap((p) => this.editsIn(p)), { ...spanOf(node.body), text: `{ ${lines.join(' ')} }` }];
    const { indent, lineEnd } = this.habits;
    const nl = lineEnd + indentAt(this.component.text, node.range[0]);
    const text = standsInBlock(this.component, node)
      ? lines.join(nl)
      : `{${nl}${indent}${lines.join(nl + indent)}${nl}}`;
    return [{ ...spanOf(node), text }];
  }

  setCall(node: Node): TSESTree.CallExpression | undefined {
    return node.type === 'CallExpression' && this.component.roleOf(node.callee)?.kind === 'setState' ? node : undefined;
  }

  #setEdit(call: TSESTree.CallExpression): Edit[] {
    const set = statesSet(this.component, call);
    if (this.plan.each) return [{ ...spanOf(call), text: this.#set(set!.sets[0]!) }];
    const callee = { ...spanOf(call.callee), text: this.name(set?.from ? 'set' : 'change') };
    const record = set?.from?.record;
    const inner = call.arguments.flatMap((a) => this.editsIn(a));
    if (!record) return [callee, ...inner];
    const at = record.range[0] + 1;
    const spread = { start: at, end: at, text: ` ...${set.from.param},` };
    return [callee, ...inner, spread];
  }

  #set({ name, value, from }: StateSet): string {
    const setter = this.name(`set ${name}`);
    if (!from) return `${setter}(${this.slice(value)})`;
    const param = /^(?:prev|previous|last|old)?_?[sS]tate$|^_*s$/.test(from.param) ? 'current' : from.param;
    const edits = [...this.editsIn(value), ...from.reads.map((n) => ({ ...spanOf(n), text: param }))];
    const [start, end] = value.range;
    const code = applyEdits(
      this.component.text.slice(start, end),
      edits.map((e) => ({ ...e, start: e.start - start, end: e.end - start })),
    );
    return `${setter}((${param}) => ${code.startsWith('{') ? `(${code})` : code})`;
  }

  /** The statements of a function, at another depth, with the comments between them. */
  inside(fn: FunctionNode, to: string): string {
    const { text } = this.component;
    if (fn.body.type !== 'BlockStatement') return `${to}${this.moved(fn.body, to)}${this.habits.semi}`;
    const from = text.indexOf('\n', fn.body.range[0] + 1) + 1;
    const [first] = fn.body.body;
    if (!first) return '';
    const start = from > 0 && from <= first.range[0] ? from : first.range[0];
    const end = text.slice(0, fn.body.range[1] - 1).trimEnd().length;
    const lead = indentAt(text, first.range[0]);
    const edits = this.editsIn(fn.body);
    const code = relocated(text, { start: Math.min(start, first.range[0]), end }, to, edits, this.fixed, lead);
    const isAtStart = start < first.range[0];
    const head = isAtStart && code.startsWith(lead) ? to + code.slice(lead.length) : isAtStart ? code : to + code;
    return head.replace(/^\s*\n/, '').trimEnd();
  }

  /** The comments right above a piece, at another depth. */
  aboveOf(node: Node, to: string): string[] {
    const { text } = this.component;
    const span = this.lineOf(node);
    const { start } = withComments(text, span);
    const above = text.slice(start, span.start).trimEnd();
    return above
      ? [to + relocated(text, { start, end: start + above.length }, to, [], [], indentAt(text, span.start))]
      : [];
  }

  lineOf(node: Node): Span {
    const entry = this.component.scopes.parentOf(node);
    return spanOf(entry?.type === 'Property' ? entry : node);
  }

  /** A record taken apart whose names mean the same without it. */
  #isGone(declarator: TSESTree.VariableDeclarator): boolean {
    const { component, plan } = this;
    if (declarator === plan.pattern) return true;
    const alias = [...component.aliases.values()].find((a) => a.declarator === declarator);
    if (!alias) return false;
    return alias.role.kind === 'prop' ? plan.taking === 'members' : plan.each;
  }
}

/** Whether a statement has a place for others beside it, rather than being all that a condition or a loop does. */
export function standsInBlock({ scopes }: ClassComponent, statement: Node): boolean {
  return /^(?:BlockStatement|SwitchCase|Program)$/.test(scopes.parentOf(statement)?.type ?? '');
}
