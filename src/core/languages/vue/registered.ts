/** Filters and directives that a component knows by names of its module: used by a template, they are uses of those names. */
import type { TSESTree } from '@typescript-eslint/types';
import * as make from '../../script/make.js';
import type { Node } from '../../script/parser.js';
import { rewrite } from '../../script/rewrite.js';
import { attributeName, spanOf } from '../../script/walk.js';
import { keysOf, pascal, propertyOf, type Definition } from './definition.js';

/** What stands in front of the name of a filter. */
export const FILTER = '$filter:';

export interface Registered {
  /** By the name that the template uses, the name of the import. */
  readonly filters: ReadonlyMap<string, string>;
  /** By the name in Pascal case. */
  readonly directives: ReadonlyMap<string, string>;
}

/** `imported`: names that the scripts import. */
export function registeredBy(definition: Definition, imported: ReadonlySet<string>): Registered {
  const { options, api } = definition;
  const table = (option: string, keyOf: (name: string) => string): ReadonlyMap<string, string> => {
    const value = options && propertyOf(options, option);
    const entries = (value ? keysOf(value) : []).flatMap(({ name, node }): [string, string][] =>
      node.type === 'Property' && node.value.type === 'Identifier' && imported.has(node.value.name)
        ? [[keyOf(name), node.value.name]]
        : [],
    );
    return new Map(entries);
  };
  const inSetup = [...imported].flatMap((name): [string, string][] =>
    /^v[A-Z]/.test(name) ? [[name.slice(1), name]] : [],
  );
  return {
    filters: api === 'options' ? table('filters', (name) => name) : new Map(),
    directives: api === 'options' ? table('directives', pascal) : new Map(inSetup),
  };
}

/** The name of a directive in Pascal case: `TransferDom` of `v-transfer-dom:body.once`. */
export function directiveName(attribute: string): string {
  return pascal(/^v-([\w-]+)/.exec(attribute)?.[1] ?? '');
}

/** Uses of what is registered, as uses of the imports behind it. */
export function registeredOpened(shown: Node, { filters, directives }: Registered): Node {
  if (filters.size === 0 && directives.size === 0) return shown;
  const replaced = (node: Node): Node | undefined => {
    if (node.type === 'Identifier' && node.name.startsWith(FILTER)) {
      const local = filters.get(node.name.slice(FILTER.length));
      return local === undefined ? undefined : make.identifier(local, spanOf(node));
    }
    if (node.type !== 'JSXAttribute') return undefined;
    const name = attributeName(node);
    const local = name.startsWith('v-') ? directives.get(directiveName(name)) : undefined;
    if (local === undefined) return undefined;
    const value = valueOf(node);
    const span = spanOf(node);
    const given = value ? [rewrite(value, replaced)] : [];
    return make.jsxAttribute(name, make.call(make.identifier(local, make.at(span.start)), given, span), span);
  };
  return rewrite(shown, replaced);
}

function valueOf({ value }: TSESTree.JSXAttribute): Node | undefined {
  if (!value) return undefined;
  return value.type === 'JSXExpressionContainer' ? value.expression : value;
}
