/** What a name of one file means, so that it can be asked whether a name in another place means the same. */
import { DefinitionType } from '@typescript-eslint/scope-manager';
import type { TSESTree } from '@typescript-eslint/types';
import type { Resolver } from '../files/resolve.js';
import type { ScriptScopes, Variable } from '../script/scopes.js';
import { requiredBy } from '../script/scopes.js';

/** Undefined for what belongs to a component or function: it means something else at every place. */
export function originOf(
  variable: Variable | undefined,
  name: string,
  path: string,
  scopes: ScriptScopes,
  resolver: Resolver,
): string | undefined {
  if (!variable || variable.defs.length === 0) return `global ${name}`;
  if (!scopes.isModuleLevel(variable)) return undefined;
  const definition = variable.defs[0]!;
  const imported = (source: string, member: string) => {
    const target = resolver.resolve(path, source);
    const from = 'path' in target ? target.path : source;
    return `${from}#${member}`;
  };
  if (definition.type === DefinitionType.ImportBinding) {
    const { source } = definition.parent as TSESTree.ImportDeclaration;
    const specifier = definition.node;
    if (specifier.type === 'ImportSpecifier')
      return imported(
        source.value,
        specifier.imported.type === 'Identifier' ? specifier.imported.name : specifier.imported.value,
      );
    return imported(source.value, specifier.type === 'ImportDefaultSpecifier' ? 'default' : '*');
  }
  const required = definition.type === DefinitionType.Variable ? requiredBy(definition.node.init) : undefined;
  if (required) return imported(required.source, `${required.member ?? ''}.${variable.name}`);
  return `${path}#${variable.name}`;
}
