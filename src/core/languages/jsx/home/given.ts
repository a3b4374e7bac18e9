/** What a tag hands over of what leaves its component, and where the inner component reads it. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { attributeName, bare } from '../../../script/walk.js';
import type { Leaving } from '../../homes/leaving.js';
import type { Pair } from './scene.js';

/** What the tag hands over of what leaves. */
export interface Given {
  readonly prop: string;
  /** What the inner component calls it, where it takes its props apart. */
  readonly variable: Variable | undefined;
  /** Where it is read: its name, or `props.query` where all props are taken as one. */
  readonly reads: readonly Node[];
  /** A name that leaves, and nothing else. */
  readonly plain?: Variable;
  /** Code that becomes a constant of the inner component, and its name. */
  readonly value?: Node;
  readonly local?: string;
  /** The one place where the code is written itself. */
  readonly site?: Node;
}

export function givenTo({ inner, outer }: Pair, { attributes, declared }: Leaving): Given[] {
  return attributes.map((attribute): Given => {
    const prop = attributeName(attribute);
    const variable = [...inner.props].find(([, p]) => p.name === prop)?.[0];
    const own = variable?.references.flatMap((r) => (r.init ? [] : [r.identifier])) ?? [];
    const reads: Node[] = [...own, ...wholeReads(inner, prop)];
    const value = attribute.value?.type === 'JSXExpressionContainer' ? attribute.value.expression : undefined;
    const name =
      value &&
      handedName(
        value,
        reads.every((read) => isCallee(read, inner)),
      );
    const plain = name && outer.scopes.variableOf(name);
    if (plain && declared.includes(plain)) return { prop, variable, reads, plain };
    if (!value || reads.length === 0) return { prop, variable, reads };
    const [only] = reads;
    const isAlone = reads.length === 1 && inner.scopes.parentOf(only!)?.type === 'JSXExpressionContainer';
    return { prop, variable, reads, value, ...(isAlone ? { site: only! } : {}) };
  });
}

function wholeReads({ whole, scopes }: Pair['inner'], prop: string): Node[] {
  return (whole?.references ?? []).flatMap(({ identifier }) => {
    const parent = scopes.parentOf(identifier);
    const isIt =
      parent?.type === 'MemberExpression' && parent.property.type === 'Identifier' && parent.property.name === prop;
    return isIt ? [parent] : [];
  });
}

function isCallee(read: Node, { scopes }: Pair['inner']): boolean {
  const call = scopes.parentOf(read);
  return call?.type === 'CallExpression' && call.callee === read;
}

/** The name that is handed over; of a function that does nothing but call it with what it is given, where that is called as well. */
function handedName(value: Node, isCalled: boolean): TSESTree.Identifier | undefined {
  const code = bare(value);
  if (code.type === 'Identifier') return code;
  if (!isCalled || code.type !== 'ArrowFunctionExpression' || code.async) return undefined;
  const call = bare(code.body);
  const isHandedOn =
    call.type === 'CallExpression' &&
    call.callee.type === 'Identifier' &&
    call.arguments.length === code.params.length &&
    call.arguments.every((a, i) => {
      const parameter = code.params[i]!;
      return a.type === 'Identifier' && parameter.type === 'Identifier' && a.name === parameter.name;
    });
  return isHandedOn ? (call.callee as TSESTree.Identifier) : undefined;
}
