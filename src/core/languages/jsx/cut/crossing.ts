/** One thing that crosses the boundary of a region, and the plainest kind of it: a member that is read. */
import type { TSESTree } from '@typescript-eslint/types';
import { eventNameFor, isEventName } from '../../events.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { spanOf } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import type { Crossed } from '../../../language/cutting.js';
import type { Scene } from './scene.js';

/** One place in the moved text, and what stands there once the prop has a name. */
export interface Site {
  readonly span: Span;
  readonly write: (prop: string) => string;
}

export interface Crossing {
  /** Same key, same prop. */
  readonly key: string;
  /** What the prop would like to be called. */
  readonly wanted: string;
  /** What it could be called when that name is taken, best first. */
  readonly otherwise?: readonly string[];
  /** What the host passes: an expression in its own terms. */
  readonly value: string;
  readonly event: boolean;
  readonly slot: boolean;
  /** Expression of the host whose type the prop has. */
  readonly typed: Span | undefined;
  /** Set for callbacks with arguments put in front: the variables behind those arguments. */
  readonly extras: readonly Variable[];
  /** A state setter that is only ever given values, no updater functions. */
  readonly setter: boolean;
  readonly variable: Variable | undefined;
  readonly sites: Site[];
  /** Set for what differs between places that become one. */
  readonly given?: Crossed;
}

export type Draft = Omit<Crossing, 'sites'>;

/** A member that is read of a variable or of `this`: `props.hive`, where the chain ends or a call begins. */
export function memberOf(
  scene: Scene,
  node: Node,
): (TSESTree.MemberExpression & { property: TSESTree.Identifier }) | undefined {
  const parent = scene.scopes.parentOf(node);
  if (parent?.type !== 'MemberExpression' || parent.object !== node || parent.computed) return undefined;
  return parent.property.type === 'Identifier'
    ? (parent as TSESTree.MemberExpression & { property: TSESTree.Identifier })
    : undefined;
}

export function memberCrossing(
  scene: Scene,
  member: TSESTree.MemberExpression & { property: TSESTree.Identifier },
  variable?: Variable,
): { draft: Draft; site: Site } {
  const value = scene.slice(member);
  const name = member.property.name;
  const handler = /^handle[A-Z]/.test(name);
  const wanted = handler ? eventNameFor(name) : name;
  const draft: Draft = {
    key: `member ${value}`,
    wanted,
    value,
    event: isEventName(wanted),
    slot: name === 'children',
    typed: spanOf(member),
    extras: [],
    setter: false,
    variable,
  };
  return { draft, site: { span: spanOf(member), write: (prop) => prop } };
}
