/** What a file takes from React, by the names that it has for it. */
import type { Node, ParsedScript } from '../../../script/parser.js';
import { requiredBy, type ScriptScopes, type Variable } from '../../../script/scopes.js';
import type { ClassComponent, ClassNode } from './class-component.js';

/** Modules that have classes to build on and hooks as well. */
const SOURCES = /^(?:react|preact\/compat|@wordpress\/element)$/;

export class ReactNames {
  /** Imported by their names. */
  readonly used = new Set<string>();
  /** All that are asked for. */
  readonly asked = new Set<string>();

  constructor(readonly component: ClassComponent) {}

  /** A function of React by the name that the file has for it. */
  of(name: string): string {
    this.asked.add(name);
    const { scopes, text, node, source } = this.component;
    const { superClass } = node;
    // A file that names React alone goes on doing so; its own class did.
    if (superClass?.type === 'MemberExpression') return `${text.slice(...superClass.object.range)}.${name}`;
    const named = scopes.moduleScope.set.get(name);
    const isThere = named && named.defs.length > 0 && importedFrom(named) === source;
    if (!isThere && scopes.declares(name)) return `React.${name}`;
    this.used.add(name);
    return name;
  }
}

/** The module that what a class is built on comes from; undefined where it is not one of React. */
export function reactSource(
  { program }: ParsedScript,
  scopes: ScriptScopes,
  { superClass }: ClassNode,
): string | undefined {
  const root = superClass?.type === 'MemberExpression' ? superClass.object : superClass;
  const variable = root ? scopes.variableOf(root) : undefined;
  // A page that loads React by itself has it under its name.
  if (!variable || variable.defs.length === 0)
    return superClass?.type === 'MemberExpression' && program.body.every((s) => s.type !== 'ImportDeclaration')
      ? 'react'
      : undefined;
  const imported = importedFrom(variable);
  const [definition] = variable.defs;
  const required =
    superClass?.type === 'MemberExpression' && definition?.type === 'Variable'
      ? requiredBy(definition.node.init)?.source
      : undefined;
  const source = imported ?? required;
  return source !== undefined && SOURCES.test(source) ? source : undefined;
}

function importedFrom(variable: Variable): string | undefined {
  const statement = variable.defs[0]?.parent as Node | undefined;
  return statement?.type === 'ImportDeclaration' ? statement.source.value : undefined;
}
