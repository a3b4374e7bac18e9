/**
 * What the proof compares. The form is TS-ESTree with JSX nodes for markup; a language whose templates are written
 * otherwise lowers them to this form. Read afresh from the written text: nothing here comes from a step.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { placeOf } from '../files/paths.js';
import type { Resolution } from '../files/resolve.js';
import type { Node, ParsedScript } from '../script/parser.js';
import { requiredBy, ScriptScopes, type Variable } from '../script/scopes.js';

export interface ProofModule {
  readonly path: string;
  readonly text: string;
  readonly script: ParsedScript;
  readonly scopes: ScriptScopes;
  /** Text between tags as the language renders it; empty when nothing is rendered. */
  readonly renderedText: (raw: string) => string;
  /** Calls that keep something for as long as the component lives, beside those that are named like hooks. */
  readonly keeps?: ReadonlySet<string>;
  /** Attributes that a component does not take land on what it shows. */
  readonly fallsThrough?: boolean;
  /** What the file says of its elements: pragma comments, in their order. */
  readonly pragma?: string;
  /** Set where a component that cannot be seen looks at its children, by its tag. */
  readonly readsChildren?: (tag: string) => true | undefined;
  /** Names of the instance that mean another thing in another component. */
  readonly ownName?: (name: string) => boolean;
  /** Set where the component does something whenever it has been rendered again. */
  readonly rerenders?: boolean;
  /** Calls whose function runs when what it gives is read. */
  readonly lazy?: ReadonlySet<string>;
  /** Set where components can look at those around and inside of them, whatever these are given. */
  readonly neighbours?: Neighbours;
  /**
   * Set where a component calls the functions that it holds with itself as `this`: the made name behind a member of `this`, or
   * behind what a call on it calls; undefined for what is left as it is written.
   */
  readonly instance?: (node: Node) => string | undefined;
  /** Set where a made call gives something that holds a value: the name of the value, when it is asked for by `member`. */
  readonly held?: (call: Node, member?: string) => Node | undefined;
  /**
   * Set where what names stand for changes: `now` where code reads a name that whatever is called may change, `later` where
   * that takes until something else has run.
   */
  readonly changing?: (node: Node) => 'now' | 'later' | undefined;
  /** Names that the markup uses and that nothing in the file declares. */
  readonly undeclared?: readonly string[];
}

/** How the text of a component says that it looks at others. */
export interface Neighbours {
  /** At the component around it. */
  readonly outward: (text: string) => boolean;
  /** At the components inside of it. */
  readonly inward: (text: string) => boolean;
  /** Whether a tag of the framework's own stands in between; some only pass on what they hold. */
  readonly isBetween: (tag: string) => boolean;
  /** Sources of the modules that it gets members from. */
  readonly basesOf: (text: string) => readonly string[];
  /** The name behind an attribute that only the component around it may know, where a base of it says so. */
  readonly known: (text: string, attribute: string) => string | undefined;
}

/**
 * `back`: the first side is what was made of the second. Putting a component back is cutting it out, seen from the other
 * side; but what a file exports has to be there in the newer text.
 */
export type Turn = 'forward' | 'back';

/** What a name means, whatever it is called where it stands. */
export type Meaning =
  | { readonly kind: 'global'; readonly name: string }
  /** From a package or an unchanged file. */
  | { readonly kind: 'outside'; readonly key: string }
  | { readonly kind: 'module'; readonly module: ProofModule; readonly variable: Variable }
  | { readonly kind: 'local'; readonly module: ProofModule; readonly variable: Variable };

/** One side of a comparison: the files that the change touched, and how their imports resolve. */
export class Side {
  constructor(
    readonly modules: ReadonlyMap<string, ProofModule>,
    readonly resolve: (from: string, source: string) => Resolution,
    /** Any other file of the project, to look at what names of it are. */
    readonly open: (path: string) => ProofModule | undefined = () => undefined,
  ) {}

  meaningOf(module: ProofModule, identifier: Node): Meaning {
    const variable = module.scopes.variableOf(identifier);
    const name = (identifier as TSESTree.Identifier).name;
    return variable && variable.defs.length > 0 ? this.meaningOfVariable(module, variable) : { kind: 'global', name };
  }

  meaningOfVariable(module: ProofModule, variable: Variable): Meaning {
    if (!module.scopes.isModuleLevel(variable)) return { kind: 'local', module, variable };
    const origin = importedFrom(variable);
    if (!origin) return { kind: 'module', module, variable };
    return this.exported(module.path, origin.source, origin.name);
  }

  /** What `name` of the module that `source` names is; chased through re-exports as far as the touched files go. */
  exported(from: string, source: string, name: string, depth = 0): Meaning {
    const target = this.resolve(from, source);
    const path =
      target.kind === 'file' || target.kind === 'asset'
        ? target.path
        : target.kind === 'package'
          ? source
          : `missing:${source.startsWith('.') ? (placeOf(from, source) ?? source) : source}`;
    const module = target.kind === 'file' ? this.modules.get(path) : undefined;
    const outside: Meaning = { kind: 'outside', key: `${path}#${name}` };
    if (!module || name === '*' || depth > 10) return outside;
    return this.exportOf(module, name, depth) ?? outside;
  }

  exportOf(module: ProofModule, name: string, depth = 0): Meaning | undefined {
    for (const statement of module.script.program.body) {
      if (statement.type === 'ExportDefaultDeclaration' && name === 'default') {
        const value = statement.declaration;
        const id = value.type === 'Identifier' ? value : 'id' in value ? value.id : undefined;
        const variable = id && module.scopes.variableOf(id);
        if (variable) return this.meaningOfVariable(module, variable);
      }
      if (statement.type === 'ExportNamedDeclaration') {
        for (const specifier of statement.specifiers) {
          if (nameOf(specifier.exported) !== name) continue;
          if (statement.source)
            return this.exported(module.path, statement.source.value, nameOf(specifier.local), depth + 1);
          const variable = module.scopes.moduleScope.set.get(nameOf(specifier.local));
          if (variable) return this.meaningOfVariable(module, variable);
        }
        if (statement.declaration) {
          const variable = module.scopes.moduleScope.set.get(name);
          if (
            variable?.identifiers.some((id) => id.range[0] >= statement.range[0] && id.range[1] <= statement.range[1])
          ) {
            return { kind: 'module', module, variable };
          }
        }
      }
    }
    return commonJsExport(module, name);
  }
}

function commonJsExport(module: ProofModule, name: string): Meaning | undefined {
  for (const statement of module.script.program.body) {
    if (statement.type !== 'ExpressionStatement' || statement.expression.type !== 'AssignmentExpression') continue;
    const { left, right } = statement.expression;
    if (left.type !== 'MemberExpression' || left.object.type !== 'Identifier' || left.object.name !== 'module')
      continue;
    if (right.type === 'Identifier' && name === 'default') {
      const variable = module.scopes.variableOf(right);
      if (variable) return { kind: 'module', module, variable };
    }
    if (right.type === 'ObjectExpression') {
      const variable = module.scopes.moduleScope.set.get(name);
      if (variable) return { kind: 'module', module, variable };
    }
  }
  return undefined;
}

export function nameOf(node: TSESTree.Identifier | TSESTree.StringLiteral): string {
  return node.type === 'Identifier' ? node.name : node.value;
}

/** Where an import binding comes from. */
function importedFrom(variable: Variable): { source: string; name: string } | undefined {
  const definition = variable.defs[0]!;
  if (definition.type === 'ImportBinding') {
    const specifier = definition.node;
    const declaration = definition.parent as TSESTree.ImportDeclaration;
    const name =
      specifier.type === 'ImportDefaultSpecifier'
        ? 'default'
        : specifier.type === 'ImportSpecifier'
          ? nameOf(specifier.imported)
          : '*';
    return { source: declaration.source.value, name };
  }
  const required = definition.type === 'Variable' ? requiredBy(definition.node.init) : undefined;
  if (definition.type !== 'Variable' || !required) return undefined;
  const { source } = required;
  const pattern = definition.node.id;
  if (pattern.type === 'Identifier') return { source, name: required.member ?? 'default' };
  if (pattern.type !== 'ObjectPattern') return undefined;
  for (const property of pattern.properties) {
    if (property.type === 'Property' && property.value === definition.name && property.key.type === 'Identifier')
      return { source, name: property.key.name };
  }
  return undefined;
}
