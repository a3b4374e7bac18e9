/** What a use hands over, as the code of the component is to have it: in its template, and in its script. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { bare, isFunction, nodeWithin, spanOf } from '../../../script/walk.js';
import type { Edit, Span } from '../../../text/edits.js';
import { isSet, Substitution, Unwritable, type Argument } from '../../substitution.js';
import { emitBinding } from '../body.js';
import { isRef } from '../setup.js';
import type { Definition } from './definition.js';
import type { Place } from './place.js';

/** Names of the host in a piece of its template, where they are not the same in the component. */
export interface Names {
  readonly inTemplate: (node: Node) => ReadonlyMap<Variable, string>;
  readonly inScript: (node: Node) => ReadonlyMap<Variable, string>;
}

export class HandedOver {
  /** By the names of the lowered component. */
  readonly values = new Map<string, Argument>();

  constructor(
    readonly definition: Definition,
    readonly place: Place,
    readonly names: Names,
    /** Whether what is not handed over is left as it is. */
    readonly leavesOthers = false,
  ) {}

  code(node: Node): Argument {
    const { lowered, text } = this.place;
    const inner = bare(node);
    if (inner.type === 'Literal' && (typeof inner.value === 'string' || typeof inner.value === 'boolean'))
      return { kind: 'constant', value: inner.value };
    const isScript = (offset: number) =>
      this.definition.declared.some(({ node: d }) => d.range[0] <= offset && offset < d.range[1]);
    const renamed = (offset: number) => (isScript(offset) ? this.names.inScript(node) : this.names.inTemplate(node));
    const write = (offset: number) => {
      const names = renamed(offset);
      return names.size === 0
        ? text.slice(...node.range)
        : new Substitution(text, lowered.scopes, () => undefined, names).textOf(node);
    };
    return { kind: 'code', node, scopes: lowered.scopes, source: text, write, renamed };
  }

  argument(node: Node): Argument | undefined {
    if (node.type !== 'Identifier' && node.type !== 'JSXIdentifier') return undefined;
    const { lowered, props } = this.definition;
    const variable = lowered.scopes.referenceOf(node)?.resolved;
    const prop = variable ? props.get(variable) : undefined;
    if (!prop || prop.name === 'children' || prop.name.startsWith('slot:')) return undefined;
    const value = this.values.get(prop.name);
    if (!value && this.leavesOthers) return undefined;
    if (!value) return prop.default ? this.#own(prop.default) : { kind: 'constant', value: undefined };
    const isWritten = prop.default && prop.default.range[0] < prop.default.range[1];
    if (isWritten && value.kind === 'code' && !isSet(value.node))
      throw new Unwritable(`"${prop.name}" can be missing, and has a default`, node);
    return value;
  }

  #own(node: Node): Argument {
    const inner = bare(node);
    if (inner.type === 'Literal' && (typeof inner.value === 'string' || typeof inner.value === 'boolean'))
      return { kind: 'constant', value: inner.value };
    const { text, lowered } = this.definition;
    return { kind: 'code', node, scopes: lowered.scopes, source: text, write: () => text.slice(...node.range) };
  }

  /** Code that is no plain name: a call that sends, and what is read as one with the `value` behind it. */
  special(node: Node, self: Substitution): Edit[] | undefined {
    const sent = this.#sent(node, self);
    if (sent || node.type !== 'Identifier' || !('written' in node)) return sent;
    const argument = this.argument(node);
    return argument?.kind === 'code' ? [{ ...writtenSpan(node), text: argument.write(node.range[0]) }] : undefined;
  }

  /** What is sent goes to what listens. */
  #sent(node: Node, self: Substitution): Edit[] | undefined {
    if (
      node.type !== 'CallExpression' ||
      node.callee.type !== 'Identifier' ||
      !node.callee.name.startsWith(emitBinding(''))
    )
      return undefined;
    const listener = this.argument(node.callee);
    if (!listener && this.leavesOthers) return undefined;
    if (listener?.kind !== 'code') throw new Unwritable('it sends an event that nothing listens to', node);
    const parent = this.definition.lowered.scopes.parentOf(node);
    const [only, ...others] = node.arguments;
    const handsOn = only?.type === 'Identifier' && only.name === '$event' && others.length === 0;
    // What is handed on as it came is for the listener alone.
    if (handsOn && parent && 'native' in parent) return [{ ...spanOf(node), text: listener.write(node.range[0]) }];
    if (isFunction(bare(listener.node))) return undefined;
    const args = node.arguments.map((a) => self.textOf(a)).join(', ');
    return [{ ...spanOf(node), text: `${listener.write(node.range[0])}(${args})` }];
  }
}

/** What a name of the script stands for with all that is read as one with it: `query.value`, `props.query`. */
export function writtenSpan(node: Node): Span {
  const [start, end] = 'written' in node ? (node.written as TSESTree.Range) : node.range;
  return { start, end };
}

/** What the script of the host calls the names in a piece of its template: a ref is read by its value, a prop from the props. */
export function scriptNames({ lowered, sfc }: Place, node: Node): ReadonlyMap<Variable, string> {
  const { definition, scopes } = lowered;
  const renamed = new Map<Variable, string>();
  for (const { identifier, resolved } of scopes.within(spanOf(node))) {
    if (!resolved || resolved.defs.length === 0) continue;
    const inTemplate =
      sfc.template && resolved.identifiers.some((id) => id.range[1] > 0 && nodeWithin(id, sfc.template!.inner));
    if (inTemplate && !nodeWithin(resolved.identifiers[0]!, spanOf(node)))
      throw new Unwritable('it works something out, which every turn of the loop has for itself', identifier);
    if (resolved.name.startsWith('this.')) renamed.set(resolved, resolved.name);
    else if (resolved.name.startsWith('props.')) {
      if (definition.propsLocal === undefined && !definition.propsPattern)
        throw new Unwritable('what it works out needs props that the script of the host does not name', identifier);
      if (definition.propsLocal !== undefined)
        renamed.set(resolved, `${definition.propsLocal}.${resolved.name.slice('props.'.length)}`);
    } else if (isRef(resolved)) renamed.set(resolved, `${resolved.name}.value`);
  }
  return renamed;
}
