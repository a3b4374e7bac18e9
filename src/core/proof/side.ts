/** One side of a comparison: the files of it, and what the names in them mean. */
import type { TSESTree } from '@typescript-eslint/types';
import { placeOf } from '../files/paths.js';
import type { Resolution } from '../files/resolve.js';
import type { ProofModule } from '../language/proof-module.js';
import type { Node } from '../script/parser.js';
import { requiredBy, type Variable } from '../script/scopes.js';

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
    /** Whether names are followed through files that did not change and only hand them on. */
    readonly throughOthers = false,
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
    const between =
      target.kind === 'file' && !module && this.throughOthers && depth <= 10 ? this.open(path) : undefined;
    const behind = between && this.exportOf(between, name, depth + 1);
    if (behind?.kind === 'module' && this.modules.has(behind.module.path)) return behind;
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
