/** What a class does when it comes, changes and goes, as effects. */
import type { Node } from '../../../script/parser.js';
import { attributeName, walk, type FunctionNode } from '../../../script/walk.js';
import { type ClassComponent } from './class-component.js';
import type { Code } from './code.js';
import { watched } from './watched.js';

export class Effects {
  /** What is kept and holds an element of the page. */
  readonly #elements: ReadonlySet<string>;

  constructor(readonly code: Code) {
    this.#elements = elementsOf(code.component);
  }

  lines(): string[][] {
    const { component } = this.code;
    const { mount, update, unmount } = component;
    const unit = this.code.habits.indent;
    const { semi, lineEnd: nl } = this.code.habits;
    const out: string[][] = [];
    const watch = watched(component);
    const inner = unit + unit;
    const statements = (fn: FunctionNode | undefined) => (fn ? this.code.inside(fn, inner) : '');
    const call = (parts: readonly string[], dependencies: string, touches: boolean) =>
      `${unit}${this.code.react.of(touches ? 'useLayoutEffect' : 'useEffect')}(() => {${nl}${parts.filter(Boolean).join(nl)}${nl}${unit}}${dependencies})${semi}`;
    const waiting = (fn: FunctionNode | undefined, code: string) =>
      fn?.async && code ? `${inner}(async () => {${nl}${code.replace(/^(?=.)/gm, unit)}${nl}${inner}})()${semi}` : code;
    if (mount ?? unmount) {
      const code = waiting(mount, statements(mount));
      const gone = statements(unmount);
      const cleanup = gone ? `${inner}return () => {${nl}${gone.replace(/^(?=.)/gm, unit)}${nl}${inner}}${semi}` : '';
      const list = watch ? watch.map((role) => this.code.roleText(role)).join(', ') : '';
      const touched = [mount, unmount].some((fn) => fn && this.touches(fn));
      out.push([
        ...(mount ? this.code.aboveOf(component.scopes.parentOf(mount)!, unit) : []),
        call([code, cleanup], `, [${list}]`, touched),
      ]);
    }
    if (update && !watch) {
      const name = this.code.name('before');
      const used = this.#before();
      const record = `{ ${used.map(({ name: of, local }) => (local === of ? of : `${of}: ${local}`)).join(', ')} }`;
      const type = this.code.habits.typed
        ? `<{ ${used.map(({ name: of, local }) => `${of}: typeof ${local}`).join('; ')} } | undefined>(undefined)`
        : '()';
      const known = this.code.name('known');
      const preamble =
        used.length > 0
          ? [
              `${inner}const ${name} = ${known}.current${semi}`,
              `${inner}${known}.current = ${record}${semi}`,
              `${inner}if (!${name}) return${semi}`,
            ]
          : [
              `${inner}if (!${known}.current) {`,
              `${inner}${unit}${known}.current = true${semi}`,
              `${inner}${unit}return${semi}`,
              `${inner}}`,
            ];
      out.push([
        ...this.code.aboveOf(component.scopes.parentOf(update)!, unit),
        `${unit}const ${known} = ${this.code.react.of('useRef')}${used.length > 0 ? type : '(false)'}${semi}`,
        call([...preamble, waiting(update, statements(update))], '', this.touches(update)),
      ]);
    }
    return out;
  }

  /** What an update compares with what was before, each once. */
  #before(): { name: string; local: string }[] {
    const found = new Map<string, string>();
    walk(this.code.component.update!.body, (node) => {
      const role = this.code.component.roleOf(node);
      if (role?.kind === 'before') found.set(role.name, this.code.roleText({ kind: role.of, name: role.name }));
    });
    return [...found].map(([name, local]) => ({ name, local }));
  }

  /** Whether it looks at the page or changes it: that is done before anybody sees it. */
  touches(fn: FunctionNode, met = new Set<FunctionNode>()): boolean {
    if (met.has(fn)) return false;
    met.add(fn);
    let found = false;
    walk(fn.body, (node) => {
      const role = this.code.component.roleOf(node);
      const isElement = role?.kind === 'kept' && this.#elements.has(role.name);
      const method = role?.kind === 'own' ? this.code.component.methods.get(role.name) : undefined;
      const isPage =
        node.type === 'MemberExpression' &&
        node.property.type === 'Identifier' &&
        /^(?:getBoundingClientRect|focus|scroll\w*|offset\w+|client(?:Width|Height)|style|innerHTML)$/.test(
          node.property.name,
        );
      found ||= isElement || isPage || (method !== undefined && this.touches(method.fn, met));
      return !found;
    });
    return found;
  }
}

/** Refs, and what a function that is given as a ref sets. */
function elementsOf(component: ClassComponent): ReadonlySet<string> {
  const found = new Set([...component.kept.values()].flatMap(({ name, isRef }) => (isRef ? [name] : [])));
  walk(component.node.body, (node) => {
    if (node.type !== 'JSXAttribute' || attributeName(node) !== 'ref') return true;
    const note = (root: Node): void =>
      walk(root, (inner) => {
        const role = component.roleOf(inner);
        if (role?.kind === 'kept') found.add(role.name);
        const method = role?.kind === 'own' ? component.methods.get(role.name) : undefined;
        if (method) note(method.fn);
      });
    note(node);
    return false;
  });
  return found;
}
