/** What a file takes from React, by the names that it has for it. */
import type { Node } from '../../../script/parser.js';
import { type ClassComponent } from './class-component.js';

export class ReactNames {
  /** Imported by their names. */
  readonly used = new Set<string>();
  /** All that are asked for. */
  readonly asked = new Set<string>();

  constructor(readonly component: ClassComponent) {}

  /** A function of React by the name that the file has for it. */
  of(name: string): string {
    this.asked.add(name);
    const { scopes } = this.component;
    const named = scopes.moduleScope.set.get(name);
    const isOther =
      named &&
      named.defs.length > 0 &&
      !(named.defs[0]!.type === 'ImportBinding' && isFrom(named.defs[0]!.parent, importedFrom(this.component)));
    const { superClass } = this.component.node;
    // A file that names React alone goes on doing so; its own class did.
    if (superClass?.type === 'MemberExpression')
      return `${this.component.text.slice(...superClass.object.range)}.${name}`;
    if (isOther || (this.component.scopes.declares(name) && !named)) return `React.${name}`;
    this.used.add(name);
    return name;
  }
}

/** The module that the file takes React from: `react`, or the one that its `Component` comes from. */
export function importedFrom({ script, node }: ClassComponent): string {
  const base = node.superClass?.type === 'Identifier' ? node.superClass.name : 'React';
  const found = script.program.body.find(
    (s) => s.type === 'ImportDeclaration' && s.specifiers.some((i) => i.local.name === base),
  );
  return found?.type === 'ImportDeclaration' ? found.source.value : 'react';
}

function isFrom(statement: Node | null | undefined, source: string): boolean {
  return statement?.type === 'ImportDeclaration' && statement.source.value === source;
}
