/**
 * A comparison that goes by way of a text that nobody writes, in which a component stands written out in another one. What stands
 * in that component on both sides of the whole never moved; what moved may be found in it.
 */
import type { Node } from '../script/parser.js';
import { CodeComparison } from './compare-code.js';
import type { ProofModule } from '../language/proof-module.js';
import { isCounterpart, isOneText, sortedAs } from './order.js';
import { aligned, describe, hookIn } from './questions.js';
import { valueOf, type Code, type Env, type Value } from './values.js';

/** What is not asked then. */
export interface Allowed {
  /** Whether a statement of an expanded component stands in it on both sides of the whole: when it runs is no question. */
  readonly resident: (statement: Node, module: ProofModule) => boolean;
}

export abstract class WayComparison extends CodeComparison {
  /** Statements of expanded components, each at the use that was met last. */
  protected readonly ownEnvs: Map<Node, Env> = new Map();
  /** What expanded components do beside declaring, in text order. */
  protected readonly deeds: Code[] = [];
  /** Reads of what is handed down that were, or are, as old as the last rendering. */
  readonly sooner = new Set<Code>();
  /** Effects that run in another component than before. */
  readonly elsewhere: Code[] = [];

  abstract readonly allowed: Allowed | undefined;

  protected given(code: Code): ReturnType<typeof valueOf> {
    return valueOf(code) ?? this.madeOf(code);
  }

  /** A constant that an expanded component has for what it was handed before. */
  protected madeOf({ node, module }: Code): { value: Value & { kind: 'code' }; env: Env } | undefined {
    const variable = this.allowed && node.type === 'Identifier' ? module.scopes.referenceOf(node)?.resolved : undefined;
    const definition = variable?.defs[0];
    if (!variable || definition?.type !== 'Variable' || definition.parent.kind !== 'const') return undefined;
    const { parent: statement } = definition;
    const { id, init } = definition.node;
    const env = this.ownEnvs.get(statement);
    if (!env || !init || id.type !== 'Identifier' || this.allowed!.resident(statement, module)) return undefined;
    if ([...this.before.modules.values()].some(({ scopes }) => scopes.declares(variable.name))) return undefined;
    this.usedStatements.add(statement);
    return { value: { kind: 'code', code: { node: init, module, env } }, env };
  }

  /** What is handed down is as new as the last rendering; where it is kept, it is as new as can be. */
  protected mayReadSooner(read: Code, { node, module }: Code): boolean {
    const isSooner = this.allowed !== undefined && module.changing?.(node) !== undefined;
    if (isSooner) this.sooner.add(read);
    return isSooner;
  }

  protected mayStandElsewhere({ type }: Node): boolean {
    return this.allowed !== undefined && this.depth === 1 && type !== 'ReturnStatement';
  }

  protected inTurn(left: readonly Node[], a: Code, own: readonly Code[]): readonly Code[] {
    const isHost = this.allowed !== undefined && this.depth === 1;
    return isHost ? sortedAs(left, own, (x, y) => this.isInPlace(x, a, y), a.module.calls) : own;
  }

  /** Whether a statement stands where it stood; what has no name is known by its text where others may have left. */
  protected isInPlace(x: Node, { module }: Code, y: Code): boolean {
    if (!isCounterpart(x, y, module.path)) return false;
    const isNamed = /Declaration$|^ReturnStatement$/.test(x.type);
    return !this.allowed || this.depth !== 1 || isNamed || isOneText({ ...y, node: x, module }, y);
  }

  /** A statement that an expanded component has now: the one that reads so, else the first that calls the same. */
  protected doneElsewhere(a: Code, b: Code): void {
    const open = this.deeds.filter(({ node }) => !this.usedStatements.has(node) && aligned(a.node, node));
    const y = open.find((deed) => isOneText(a, deed)) ?? open.find(({ node }) => hookIn(node) === hookIn(a.node));
    if (!y) this.differ(a, b, 'statement-gone', `${describe(a.node)} is gone`);
    this.usedStatements.add(y.node);
    if (!this.allowed!.resident(y.node, y.module)) this.elsewhere.push(y);
    this.code(a, y);
  }
}
