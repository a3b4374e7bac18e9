/**
 * Names of one script, resolved. Wraps the scope manager so that the rest of the core asks in terms of positions:
 * which variable does this identifier mean, which references lie in this span, which names are free.
 */
import { analyze, DefinitionType, type Scope, type Variable, type Reference } from '@typescript-eslint/scope-manager';
import type { TSESTree } from '@typescript-eslint/types';
import type { Span } from '../text/edits.js';
import type { Node, ParsedScript } from './parser.js';
import { forEachChild, nodeWithin, spanOf } from './walk.js';

export type { Scope, Variable, Reference };
export { DefinitionType };

/** Scopes are asked for again and again of one script, which never changes. */
const known = new WeakMap<ParsedScript, ScriptScopes>();

export class ScriptScopes {
  static of(script: ParsedScript): ScriptScopes {
    let scopes = known.get(script);
    if (!scopes) known.set(script, (scopes = new ScriptScopes(script)));
    return scopes;
  }

  readonly moduleScope: Scope;
  readonly #scopes: readonly Scope[];
  readonly #variables = new Map<Node, Variable>();
  readonly #references = new Map<Node, Reference>();
  readonly #declared = new Map<Node, Variable>();
  readonly #parents = new Map<Node, Node>();
  /** All references in text order. */
  readonly references: readonly Reference[];

  constructor(readonly script: ParsedScript) {
    const manager = analyze(script.program, { sourceType: 'module', lib: [], jsxPragma: null, jsxFragmentName: null });
    const global = manager.globalScope!;
    this.moduleScope = global.childScopes.find((scope) => scope.type === 'module') ?? global;
    this.#scopes = manager.scopes;
    const references: Reference[] = [];
    for (const scope of manager.scopes) {
      for (const reference of scope.references) {
        references.push(reference);
        this.#references.set(reference.identifier, reference);
        if (reference.resolved) this.#variables.set(reference.identifier, reference.resolved);
      }
      for (const variable of scope.variables) {
        for (const identifier of variable.identifiers) this.#declared.set(identifier, variable);
      }
    }
    this.references = references.sort((a, b) => a.identifier.range[0] - b.identifier.range[0]);
    const link = (node: Node): void =>
      forEachChild(node, (child) => {
        this.#parents.set(child, node);
        link(child);
      });
    link(script.program);
  }

  /** The variable that a reference or a declaring identifier means; undefined for globals and plain names. */
  variableOf(identifier: Node): Variable | undefined {
    return this.#variables.get(identifier) ?? this.#declared.get(identifier);
  }

  referenceOf(identifier: Node): Reference | undefined {
    return this.#references.get(identifier);
  }

  parentOf(node: Node): Node | undefined {
    return this.#parents.get(node);
  }

  ancestorsOf(node: Node): Node[] {
    const result: Node[] = [];
    for (let parent = this.#parents.get(node); parent; parent = this.#parents.get(parent)) result.push(parent);
    return result;
  }

  /** References whose identifier lies in the span, in text order. */
  within(span: Span): Reference[] {
    const list = this.references;
    let low = 0;
    let high = list.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (list[middle]!.identifier.range[0] < span.start) low = middle + 1;
      else high = middle;
    }
    const result: Reference[] = [];
    for (let i = low; i < list.length && list[i]!.identifier.range[0] < span.end; i++) {
      if (identifierEnd(list[i]!.identifier) <= span.end) result.push(list[i]!);
    }
    return result;
  }

  /** The innermost scope that holds a place. */
  scopeAt(place: Span): Scope {
    let scope: Scope = this.moduleScope;
    for (const candidate of this.#scopes) {
      const { range } = candidate.block;
      if (range[0] > place.start || range[1] < place.end) continue;
      const inner = scope.block.range;
      if (range[1] - range[0] <= inner[1] - inner[0]) scope = candidate;
    }
    return scope;
  }

  /** The variable that a name means in a scope; undefined where it would be a global. */
  visibleIn(from: Scope, name: string): Variable | undefined {
    for (let scope: Scope | null = from; scope; scope = scope.upper) {
      const variable = scope.set.get(name);
      if (variable && variable.defs.length > 0) return variable;
    }
    return undefined;
  }

  isModuleLevel(variable: Variable): boolean {
    return variable.scope === this.moduleScope || variable.scope.type === 'global';
  }

  /** The statement at the top of the file that declares a variable. */
  statementOf(variable: Variable): TSESTree.ProgramStatement | undefined {
    const id = variable.identifiers[0];
    return id && this.script.program.body.find((statement) => nodeWithin(id, spanOf(statement)));
  }

  /** What a statement declares at the top of the file. */
  declaredBy(statement: Node): Variable[] {
    return this.moduleScope.variables.filter((v) => v.identifiers.some((id) => nodeWithin(id, spanOf(statement))));
  }

  /** Whether anything in the file declares a name. */
  declares(name: string): boolean {
    return this.#scopes.some(({ set }) => (set.get(name)?.defs.length ?? 0) > 0);
  }

  /** Bound by an `import`, or at the top of the file by a `require` call. */
  isImport(variable: Variable): boolean {
    const definition = variable.defs[0];
    if (definition?.type === DefinitionType.ImportBinding) return true;
    if (definition?.type !== DefinitionType.Variable || variable.scope !== this.moduleScope) return false;
    return requiredBy(definition.node.init) !== undefined;
  }

  /** Whether anything but its declaration writes the variable. */
  isReassigned(variable: Variable): boolean {
    return variable.references.some((reference) => reference.isWrite() && !reference.init);
  }

  /** References in functions inside of the one that declares the variable: they see what it holds when they run. */
  laterReferences(variable: Variable): Reference[] {
    return variable.references.filter(({ from }) => from.variableScope !== variable.scope.variableScope);
  }

  /** Names that no declaration in the file explains: globals, or mistakes. */
  unresolved(): Reference[] {
    return this.references.filter((reference) => !reference.resolved || reference.resolved.defs.length === 0);
  }
}

/** Whether a name is that of a type and of nothing that runs. */
export function isTypeOnly(variable: Variable): boolean {
  return variable.defs.every((d) => d.type === DefinitionType.Type);
}

/** Whether a variable is the props object of a component: the one plain first parameter of a function with a capital name. */
export function isPropsObject(scopes: ScriptScopes, variable: Variable): boolean {
  const definition = variable.defs[0];
  if (definition?.type !== DefinitionType.Parameter || scopes.isReassigned(variable)) return false;
  const fn = definition.node;
  if (!('params' in fn) || !Array.isArray(fn.params) || fn.params[0] !== definition.name) return false;
  if ('id' in fn && fn.id && 'name' in fn.id) return /^[A-Z]/.test(fn.id.name);
  let holder = scopes.parentOf(fn);
  // Wrappers such as `memo(…)` around the function.
  while (holder?.type === 'CallExpression') holder = scopes.parentOf(holder);
  if (holder?.type === 'ExportDefaultDeclaration') return true;
  return holder?.type === 'VariableDeclarator' && holder.id.type === 'Identifier' && /^[A-Z]/.test(holder.id.name);
}

/** `require('x')` and `require('x').member`. */
export function requiredBy(
  node: Node | null | undefined,
): { readonly source: string; readonly member?: string } | undefined {
  if (node?.type === 'MemberExpression' && !node.computed && node.property.type === 'Identifier') {
    const inner = requiredBy(node.object);
    return inner && inner.member === undefined ? { source: inner.source, member: node.property.name } : undefined;
  }
  if (node?.type !== 'CallExpression' || node.callee.type !== 'Identifier' || node.callee.name !== 'require')
    return undefined;
  const argument = node.arguments[0];
  return argument?.type === 'Literal' ? { source: String(argument.value) } : undefined;
}

/** End of the name alone: an annotated identifier's range takes in its annotation. */
export function identifierEnd(identifier: Node): number {
  const { name, typeAnnotation } = identifier as TSESTree.Identifier;
  return typeof name === 'string' && typeAnnotation ? identifier.range[0] + name.length : identifier.range[1];
}
