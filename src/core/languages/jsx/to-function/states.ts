/** What a class keeps, as states and refs. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import { bare, isFunction, walk } from '../../../script/walk.js';
import { type Kept } from './class-component.js';
import { statesSet } from './sets.js';
import { type Code } from './code.js';

export class States {
  constructor(readonly code: Code) {}

  lines(): string[] {
    const { component, plan, habits } = this.code;
    const unit = this.code.habits.indent;
    const set = this.#setStates();
    const line = (code: string) => `${unit}${code}${habits.semi}`;
    const lines: string[] = [];
    if (component.context)
      lines.push(
        line(
          `const ${this.code.name('context')} = ${this.code.react.of('useContext')}(${this.code.slice(component.context)})`,
        ),
      );
    if (plan.each)
      for (const [name, first] of component.states)
        lines.push(
          ...this.code.aboveOf(first, unit),
          line(
            `const [${[this.code.name(`state ${name}`), ...(set.has(name) ? [this.code.name(`set ${name}`)] : [])].join(', ')}] = ${this.code.react.of('useState')}${this.#stateType(name, first)}(${this.#firstValue(first)})`,
          ),
        );
    else if (component.first) {
      const type = component.types[1] && habits.typed ? `<${this.code.slice(component.types[1])}>` : '';
      const [state, set] = [this.code.name('whole'), this.code.name('set')];
      lines.push(
        line(
          `const [${state}, ${set}] = ${this.code.react.of('useState')}${type}(${this.#firstValue(component.first)})`,
        ),
      );
      if (this.#changesWhole())
        lines.push(
          line(
            `const ${this.code.name('change')} = (change${type ? `: Partial${type}` : ''}) => ${set}((current) => ({ ...current, ...change }))`,
          ),
        );
    }
    for (const kept of component.kept.values())
      lines.push(
        ...this.code.aboveOf(kept.node, unit),
        line(
          kept.isOnce
            ? this.#once(kept)
            : `const ${this.code.name(`kept ${kept.name}`)} = ${this.code.react.of('useRef')}${this.#refOf(kept)}`,
        ),
      );
    return lines;
  }

  /** What is made once and never set again: a state that nothing sets. */
  #once({ name, value, type }: Kept): string {
    const said = type && this.code.habits.typed ? `<${this.code.slice(type.typeAnnotation)}>` : '';
    const code = this.code.moved(value!, this.code.habits.indent);
    return `const [${this.code.name(`kept ${name}`)}] = ${this.code.react.of('useState')}${said}(() => ${code.startsWith('{') ? `(${code})` : code})`;
  }

  /** States that something sets. */
  #setStates(): ReadonlySet<string> {
    const names = new Set<string>();
    walk(this.code.component.node.body, (node) => {
      const call = this.code.setCall(node);
      for (const { name } of (call && statesSet(this.code.component, call)?.sets) ?? []) names.add(name);
    });
    return names;
  }

  #changesWhole(): boolean {
    let found = false;
    walk(this.code.component.node.body, (node) => {
      const call = this.code.setCall(node);
      found ||= call !== undefined && !statesSet(this.code.component, call)?.from;
    });
    return found;
  }

  #refOf({ value, type, isRef }: Kept): string {
    if (isRef) {
      const call = bare(value!) as TSESTree.CallExpression;
      return `${call.typeArguments ? this.code.component.text.slice(...call.typeArguments.range) : ''}(null)`;
    }
    const said = type && this.code.habits.typed ? this.code.slice(type.typeAnnotation) : undefined;
    if (value) return `${said ? `<${said}>` : ''}(${this.code.slice(value)})`;
    return said ? `<${said} | undefined>(undefined)` : this.code.habits.typed ? '<any>(undefined)' : '()';
  }

  #stateType(name: string, first: Node): string {
    const { types, script } = this.code.component;
    const record = types[1];
    if (!record || !this.code.habits.typed) return '';
    const member = memberType(record, name, script.program.body);
    const isPlain = member && /^(?:string|number|boolean)$/.test(this.code.slice(member));
    // What is written out there says as much.
    if (isPlain && first.type === 'Literal' && typeof first.value === this.code.slice(member)) return '';
    return member ? `<${this.code.slice(member)}>` : `<${this.code.slice(record)}['${name}']>`;
  }

  /** What runs once stays what runs once. */
  #firstValue(first: Node): string {
    const code = this.code.moved(first, this.code.habits.indent);
    let runs = false;
    walk(first, (node) => {
      if (isFunction(node)) return false;
      runs ||=
        node.type === 'CallExpression' || node.type === 'NewExpression' || node.type === 'TaggedTemplateExpression';
      return !runs;
    });
    return runs ? `() => ${code.startsWith('{') ? `(${code})` : code}` : code;
  }
}

/** What a record says of one of its members, where the file says it. */
export function memberType(record: Node, name: string, body: readonly Node[]): Node | undefined {
  const members = (node: Node): readonly Node[] => {
    if (node.type === 'TSTypeLiteral') return node.members;
    if (node.type !== 'TSTypeReference' || node.typeName.type !== 'Identifier' || node.typeArguments) return [];
    const { name: wanted } = node.typeName;
    for (const statement of body) {
      const it = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
      if (it?.type === 'TSInterfaceDeclaration' && it.id.name === wanted && it.extends.length === 0)
        return it.body.body;
      if (it?.type === 'TSTypeAliasDeclaration' && it.id.name === wanted && !it.typeParameters)
        return members(it.typeAnnotation);
    }
    return [];
  };
  const found = members(record).find(
    (m) => m.type === 'TSPropertySignature' && m.key.type === 'Identifier' && m.key.name === name,
  );
  return found?.type === 'TSPropertySignature' && !found.optional ? found.typeAnnotation?.typeAnnotation : undefined;
}
