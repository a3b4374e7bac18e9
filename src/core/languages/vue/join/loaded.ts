/** How scripts come by Vue: the global build, parts taken out of it, builds with a compiler; and the imports that stand in for them. */
import type { TSESTree } from '@typescript-eslint/types';
import type { ScriptScopes } from '../../../script/scopes.js';
import { bare } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';

/** Builds of Vue that can read templates at run time. */
export const WITH_COMPILER = /(?:^|\/)vue(?:@[\w.]+)?\/dist\/vue\.(?:esm|global)|^https?:.*\/vue(?:@[\w.]+)?$/;

/** `const { createApp, ref } = Vue`. */
export function isVueParts(statement: TSESTree.ProgramStatement | undefined): boolean {
  if (statement?.type !== 'VariableDeclaration' || statement.declarations.length !== 1) return false;
  const [{ id, init }] = statement.declarations;
  return (
    id.type === 'ObjectPattern' &&
    init !== null &&
    bare(init).type === 'Identifier' &&
    (init as TSESTree.Identifier).name === 'Vue'
  );
}

export function isOldVue(text: string): boolean {
  return /\bnew\s+Vue\s*\(|\bVue\.(?:component|use|directive|filter|mixin)\s*\(/.test(text);
}

export function vueImport(names: readonly string[]): string[] {
  const unique = [...new Set(names)];
  return unique.length > 0 ? [`import { ${unique.join(', ')} } from 'vue';`] : [];
}

export function usesVue(scopes: ScriptScopes, span: Span): boolean {
  return scopes
    .within(span)
    .some((r) => (r.identifier as { name?: string }).name === 'Vue' && (!r.resolved || r.resolved.defs.length === 0));
}
