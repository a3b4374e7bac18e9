/** What leaves a component together with a state: who else uses it decides whether it can. In any language that has statements. */
import type { TSESTree } from '@typescript-eslint/types';
import { isWrittenOut, unkept } from '../../script/literals.js';
import type { Node } from '../../script/parser.js';
import { isPropsObject, type ScriptScopes, type Variable } from '../../script/scopes.js';
import { bare, isFunction, nodeWithin, spanOf, type FunctionNode } from '../../script/walk.js';

/** A component and the tag in it that what leaves is for. */
export interface Host {
  readonly text: string;
  readonly scopes: ScriptScopes;
  readonly fn: FunctionNode;
  readonly use: TSESTree.JSXElement;
  /** Whether a variable holds a value that is written to by its name. */
  readonly holds: (variable: Variable) => boolean;
  /** Names of what a statement keeps for as long as the component lives. */
  readonly keeps: (statement: Node) => readonly string[];
  /** Whether a statement is an effect that says what it depends on. */
  readonly isEffect: (statement: Node) => boolean;
  /** Every place that sets a state; undefined where that cannot be told, or it is none. */
  readonly settings: (variable: Variable) => readonly Setting[] | undefined;
}

/** A call that sets a state, and the literal that it is given. */
export interface Setting {
  readonly call: Node;
  readonly value: Node | undefined;
}

/** A name of the host that what leaves reads. */
export interface Need {
  /** As the host writes it: `hives`, or `props.hives`. */
  readonly value: string;
  readonly variable: Variable;
  readonly sites: readonly Node[];
}

export interface Leaving {
  /** In text order. */
  readonly statements: readonly Node[];
  readonly declared: readonly Variable[];
  /** Attributes of the tag that hand over something of it. */
  readonly attributes: readonly TSESTree.JSXAttribute[];
  readonly needs: readonly Need[];
  /** Statements of functions that stay, by which a state is set to what it begins with. */
  readonly resets: readonly TSESTree.ExpressionStatement[];
  /** The same in functions that leave. */
  readonly ownResets: readonly TSESTree.ExpressionStatement[];
  readonly moduleLevel: readonly Variable[];
  /** Names that nothing in the file declares. */
  readonly globals: ReadonlySet<string>;
}

/** Who else uses a name, for people. */
export interface Shared {
  readonly name: string;
  readonly by: string;
  readonly at: Node;
}

/** The statement of a function's own that a node stands in. */
export function ownStatementOf({ fn }: Pick<Host, 'fn'>, node: Node): Node | undefined {
  return fn.body.type === 'BlockStatement' ? fn.body.body.find((s) => nodeWithin(node, spanOf(s))) : undefined;
}

/** Names that a statement of the function declares. */
export function declaredBy({ scopes }: Pick<Host, 'scopes'>, statement: Node): Variable[] {
  const inner = scopes.scopeAt(spanOf(statement));
  const scope = isFunction(statement) ? inner.upper! : inner;
  return scope.variables.filter(({ defs }) => defs.some(({ name }) => nodeWithin(name, spanOf(statement))));
}

class Search {
  readonly going = new Set<Node>();
  readonly attributes = new Set<TSESTree.JSXAttribute>();
  readonly resets = new Set<TSESTree.ExpressionStatement>();

  constructor(readonly host: Host) {}

  /** Whether a statement can leave, and with it all that uses its names; who stands in the way. */
  blocked(statement: Node, assumed: ReadonlySet<Node>): Shared | undefined {
    const { scopes, use } = this.host;
    const together = new Set([...assumed, statement]);
    for (const variable of declaredBy(this.host, statement)) {
      if (scopes.isReassigned(variable) && !this.host.holds(variable))
        return { name: variable.name, by: 'an assignment', at: variable.identifiers[0]! };
      for (const { identifier, init } of variable.references) {
        const at = identifier as Node;
        if (init || nodeWithin(at, spanOf(statement))) continue;
        if (use.openingElement.attributes.some((a) => a.type === 'JSXAttribute' && nodeWithin(at, spanOf(a)))) continue;
        const own = ownStatementOf(this.host, at);
        if (own && together.has(own)) continue;
        if (own && !nodeWithin(use, spanOf(own)) && canLeave(this.host, own)) {
          const further = this.blocked(own, together);
          if (!further) {
            for (const one of this.#with(own, together)) together.add(one);
            continue;
          }
          if (this.#resetAt(at)) continue;
          return { name: variable.name, by: this.#words(own, further), at };
        }
        if (own && this.#resetAt(at)) continue;
        return { name: variable.name, by: this.#user(at, own), at };
      }
    }
    return undefined;
  }

  /** Takes the statement and all that has to go with it. */
  take(statement: Node): void {
    if (this.going.has(statement)) return;
    this.going.add(statement);
    for (const variable of declaredBy(this.host, statement))
      for (const { identifier, init } of variable.references) {
        const at = identifier as Node;
        const attribute = this.host.use.openingElement.attributes.find((a) => nodeWithin(at, spanOf(a)));
        if (attribute?.type === 'JSXAttribute') this.attributes.add(attribute);
        const own = ownStatementOf(this.host, at);
        if (init || !own || this.going.has(own) || attribute) continue;
        const stays =
          nodeWithin(this.host.use, spanOf(own)) || !canLeave(this.host, own) || this.blocked(own, this.going);
        const reset = stays ? this.#resetAt(at) : undefined;
        if (reset) this.resets.add(reset);
        else this.take(own);
      }
  }

  /** Constants and functions that are only there for what goes. */
  takeNeeds(): void {
    const { scopes } = this.host;
    for (const going of this.going)
      for (const { resolved } of scopes.within(spanOf(going))) {
        const own = resolved && !scopes.isModuleLevel(resolved) && ownStatementOf(this.host, resolved.identifiers[0]!);
        if (!own || this.going.has(own) || !isPlain(own)) continue;
        const isOnlyHere = declaredBy(this.host, own).every(
          (variable) =>
            !scopes.isReassigned(variable) &&
            variable.references.every(({ identifier }) => {
              const at = ownStatementOf(this.host, identifier);
              return at !== undefined && (at === own || this.going.has(at));
            }),
        );
        if (isOnlyHere) this.going.add(own);
      }
  }

  ownResets(): TSESTree.ExpressionStatement[] {
    const found = new Set<TSESTree.ExpressionStatement>();
    for (const statement of this.going)
      for (const variable of declaredBy(this.host, statement))
        for (const { identifier } of variable.references) {
          const reset = this.#resetAt(identifier);
          if (reset && !this.resets.has(reset)) found.add(reset);
        }
    return [...found];
  }

  #with(statement: Node, together: ReadonlySet<Node>): Node[] {
    const search = new Search(this.host);
    for (const one of together) search.going.add(one);
    search.take(statement);
    return [...search.going];
  }

  /** `setQuery('')` as a statement, where the state begins as that. */
  #resetAt(identifier: Node): TSESTree.ExpressionStatement | undefined {
    const { scopes } = this.host;
    const parent = scopes.parentOf(identifier);
    const statement = parent && scopes.parentOf(parent);
    if (statement?.type !== 'ExpressionStatement' || scopes.parentOf(statement)?.type !== 'BlockStatement')
      return undefined;
    const given =
      parent?.type === 'CallExpression' && parent.callee === identifier && parent.arguments.length === 1
        ? parent.arguments[0]!
        : parent?.type === 'AssignmentExpression' && parent.left === identifier && parent.operator === '='
          ? parent.right
          : undefined;
    const variable = scopes.variableOf(identifier);
    const first = variable && beginning(variable);
    if (!given || !first || !isWrittenOut(given) || !isWrittenOut(first)) return undefined;
    return this.#plain(given) === this.#plain(first) ? statement : undefined;
  }

  #plain(node: Node): string {
    return this.host.text.slice(...bare(node).range).replace(/\s+/g, '');
  }

  #words(own: Node, further: Shared): string {
    const [name] = declaredBy(this.host, own);
    return name ? `${name.name}, which ${further.by} uses` : further.by;
  }

  #user(at: Node, own: Node | undefined): string {
    const { scopes, use } = this.host;
    const name = own && own.type !== 'ReturnStatement' ? declaredBy(this.host, own)[0]?.name : undefined;
    if (name !== undefined) return name;
    if (nodeWithin(at, spanOf(use))) return `what <${tagOf(use)}> is given as content`;
    const tag = scopes
      .ancestorsOf(at)
      .find((a): a is TSESTree.JSXElement => a.type === 'JSXElement' && /^[A-Z]/.test(tagOf(a)));
    if (tag) return `<${tagOf(tag)}>`;
    return own?.type === 'ReturnStatement' || !own ? 'the markup' : 'a statement';
  }
}

/** What a state begins as. */
function beginning(variable: Variable): Node | undefined {
  const definition = variable.defs[0];
  const init = definition?.type === 'Variable' ? definition.node.init : undefined;
  const call = init && bare(init);
  if (!call) return undefined;
  const value = unkept(call);
  if (value !== call) return value;
  return call.type === 'CallExpression' ? call.arguments[0] : undefined;
}

function tagOf({ openingElement: { name } }: TSESTree.JSXElement): string {
  return name.type === 'JSXIdentifier' ? name.name : name.type === 'JSXMemberExpression' ? name.property.name : '';
}

/** Declarations of one name each, and effects that say what they depend on. */
function canLeave({ isEffect }: Host, statement: Node): boolean {
  if (statement.type === 'VariableDeclaration')
    return statement.declarations.length === 1 && statement.kind !== 'using';
  return statement.type === 'FunctionDeclaration' || isEffect(statement);
}

/** A function, or a constant that is worked out without a call. */
function isPlain(statement: Node): boolean {
  if (statement.type === 'FunctionDeclaration') return true;
  const init =
    statement.type === 'VariableDeclaration' && statement.declarations.length === 1
      ? statement.declarations[0].init
      : undefined;
  if (!init) return false;
  const code = unkept(init);
  return isFunction(code) || isWrittenOut(code);
}

/** What leaves with the statements that declare `names`; who stands in the way of one of them. */
export function leavingWith(host: Host, first: readonly Node[]): Leaving | Shared {
  const search = new Search(host);
  for (const statement of first) {
    const shared = search.blocked(statement, new Set(first));
    if (shared) return shared;
  }
  for (const statement of first) search.take(statement);
  search.takeNeeds();
  const statements = [...search.going].sort((a, b) => a.range[0] - b.range[0]);
  const declared = statements.flatMap((s) => declaredBy(host, s));
  const attributes = host.use.openingElement.attributes.filter(
    (a): a is TSESTree.JSXAttribute => a.type === 'JSXAttribute' && search.attributes.has(a),
  );
  const spans = [...statements, ...attributes].map(spanOf);
  const needs = new Map<string, { value: string; variable: Variable; sites: Node[] }>();
  const moduleLevel = new Set<Variable>();
  const globals = new Set<string>();
  const inside = (variable: Variable) => variable.identifiers.some((id) => spans.some((span) => nodeWithin(id, span)));
  for (const span of spans)
    for (const { identifier, resolved: variable } of host.scopes.within(span)) {
      if (!variable || variable.defs.length === 0) globals.add(String((identifier as { name?: unknown }).name));
      if (!variable || variable.defs.length === 0 || inside(variable)) continue;
      if (host.scopes.isModuleLevel(variable)) {
        moduleLevel.add(variable);
        continue;
      }
      const site = wholeRead(host, identifier, variable);
      const value = host.text.slice(...site.range);
      const need = needs.get(value) ?? { value, variable, sites: [] };
      need.sites.push(site);
      needs.set(value, need);
    }
  return {
    statements,
    declared,
    attributes,
    needs: [...needs.values()],
    resets: [...search.resets],
    ownResets: search.ownResets(),
    moduleLevel: [...moduleLevel],
    globals,
  };
}

/** `props.hives` for `props`, where that is what the component is given. */
function wholeRead({ scopes }: Host, identifier: Node, variable: Variable): Node {
  const parent = scopes.parentOf(identifier);
  const isMember =
    parent?.type === 'MemberExpression' &&
    parent.object === identifier &&
    !parent.computed &&
    isPropsObject(scopes, variable);
  return isMember ? parent : identifier;
}
