/** Types of what crosses, and the names in them that the new file has to import. */
import type { TSESTree } from '@typescript-eslint/types';
import { unkept } from '../../../script/literals.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { calleeName, isFunction } from '../../../script/walk.js';
import type { TypeName } from '../../../language/cutting.js';
import type { Edit } from '../../../text/edits.js';
import { typeOnOneLine } from '../../../text/layout.js';
import { relativeSource, repeatedImports } from '../../imports.js';
import type { Crossing } from './crossing.js';
import type { Boundary } from './crossings.js';
import { hasModels, type Habits } from './habits.js';
import { importingOf } from './host.js';
import { plainName, type Scene } from './scene.js';
import type { Typed } from './write.js';

export interface Shape {
  readonly crossings: readonly Typed[];
  /** Imports of types that the new file needs. */
  readonly imports: readonly string[];
  /** `export` in front of types of the host that are used from the new file. */
  readonly edits: readonly Edit[];
  readonly notes: readonly string[];
}

export function typedCrossings(scene: Scene, boundary: Boundary, habits: Habits, target: string): Shape {
  const named = boundary.crossings.map((c): Typed => {
    const declared = declaredAs(c, scene);
    return { ...c, local: localName(c, scene, habits), ...(declared === undefined ? {} : { declared }) };
  });
  if (!habits.typed) return { crossings: named, imports: [], edits: [], notes: [] };
  const typing = new Typing(scene);
  const crossings = named.map((c): Typed => {
    if (c.kind === 'event' && c.given?.takes) {
      typing.typeOf(c);
      return { ...c, argTypes: c.given.takes.map(({ type }) => type ?? 'any') };
    }
    if (c.kind === 'event')
      return { ...c, argTypes: c.args.map((a) => typing.typeOf({ typed: a.span, variable: a.variable }) ?? 'any') };
    if (c.kind === 'slot') return c;
    return { ...c, type: c.type ?? typing.typeOf(c) ?? 'any' };
  });
  const isOptions = scene.lowered.definition.api === 'options';
  const text = crossings
    .flatMap((c) => [isOptions ? (c.declared ?? '') : (c.type ?? ''), ...(c.argTypes ?? [])])
    .concat(assertedIn(scene))
    .join('\n');
  const unknown = crossings
    .filter((c) => c.type === 'any' && !boundary.crossings.some((b) => b.name === c.name && b.type))
    .map((c) => c.name);
  return {
    crossings,
    ...typing.links(text, target, habits, new Set(boundary.moduleLevel)),
    notes: unknown.length ? [`no type could be found for ${unknown.join(', ')}: written as any`] : [],
  };
}

/** Types that the region asserts: `($attrs.style as StyleValue)`. */
function assertedIn({ text, region }: Scene): string[] {
  return [...text.slice(region.start, region.end).matchAll(/\bas\s+([A-Za-z_$][\w$.<>[\]| ]*)/g)].map(
    ([, type]) => type!,
  );
}

/** A model that is written as a computed value cannot have the name of its prop. */
function localName(crossing: Crossing, scene: Scene, habits: Habits): string {
  const computed = scene.lowered.definition.api === 'options' || !hasModels(habits);
  return crossing.kind === 'model' && computed ? `${crossing.name}Model` : crossing.name;
}

/** How the host declares a prop that it hands on under its own name; a default of its own is in the value already. */
function declaredAs({ kind, name, variable, given }: Crossing, { lowered }: Scene): string | undefined {
  if (kind !== 'prop' || given || !variable || !/^(?:props|this)\./.test(variable.name)) return undefined;
  const prop = plainName(variable) === name ? lowered.definition.props.find((p) => p.name === name) : undefined;
  const type = prop?.type;
  if (type === undefined || !(CONSTRUCTORS.test(type) || /\bas\s/.test(type))) return undefined;
  // Vue makes `true` of an empty text for a Boolean: the host has done so with what it was given, not with its default.
  const isMade = prop!.default !== undefined && !/^(?:true|false)$/.test(prop!.default);
  if (isMade && type.includes('Boolean')) return undefined;
  return prop!.required ? `{ type: ${type}, required: true }` : /\bas\s/.test(type) ? `{ type: ${type} }` : type;
}

const CONSTRUCTOR = '(?:String|Number|Boolean|Array|Object|Function|Date|Symbol)';
const CONSTRUCTORS = new RegExp(`^(?:${CONSTRUCTOR}|\\[ ?${CONSTRUCTOR}(?:, ?${CONSTRUCTOR})*,? ?\\])$`);

/** The type of a prop that is declared by a constructor: `String`, `[String, Object]`, `Array as PropType<Hive[]>`. */
function ofConstructor(type: string): string {
  const asserted = /\bas\s+(?:PropType<([\s\S]*)>|\(\s*\)\s*=>\s*([\s\S]*))$/.exec(type);
  if (asserted) return (asserted[1] ?? asserted[2])!.trim();
  const listed = /^\[([\s\w,]*)\]$/.exec(type)?.[1];
  // Code that works a constructor out is no type.
  if (listed === undefined && !/^\w+$/.test(type)) return /\|\||&&/.test(type) ? 'any' : type;
  const names = (listed ?? type).split(',').map((name) => name.trim());
  return names.map((name) => CONSTRUCTED[name] ?? name).join(' | ');
}

const CONSTRUCTED: Record<string, string> = {
  String: 'string',
  Number: 'number',
  Boolean: 'boolean',
  Array: 'any[]',
  Object: 'Record<string, any>',
  Function: '(...args: any[]) => any',
};

/** `Hive` of `Hive[]` and `Array<Hive>`; undefined for what is no single array. */
function elementOf(type: string): string | undefined {
  const listed = /^(?:Array|ReadonlyArray)<(.*)>$/.exec(type)?.[1];
  const element = listed ?? /^(.*)\[\]$/.exec(type)?.[1];
  let depth = 0;
  for (const c of element ?? '') {
    if ('<([{'.includes(c)) depth++;
    else if ('>)]}'.includes(c)) depth--;
    if (depth < 0 || (depth === 0 && listed === undefined && '|&?'.includes(c))) return undefined;
  }
  return element;
}

class Typing {
  readonly #nodes: readonly Node[];
  readonly #foreign = new Map<string, Exclude<TypeName['from'], 'here'>>();

  constructor(readonly scene: Scene) {
    this.#nodes = [scene.sfc.script, scene.sfc.setup].flatMap((block) => block?.script.program.body ?? []);
  }

  typeOf({ typed, variable, given }: Pick<Crossing, 'typed' | 'variable' | 'given'>): string | undefined {
    if (given) {
      for (const name of given.typeNames) if (name.from !== 'here') this.#foreign.set(name.name, name.from);
      return given.type;
    }
    const answer = typed && this.scene.request.types?.typeAt(this.scene.request.file.path, typed);
    for (const name of answer?.names ?? []) if (name.from !== 'here') this.#foreign.set(name.name, name.from);
    // A type that nothing is known of would only stand in the way.
    if (answer && /^(?:unknown|\{\}|never)$/.test(answer.text)) return undefined;
    return answer?.text ?? (variable && this.#declared(variable));
  }

  #declared(variable: Variable): string | undefined {
    const name = plainName(variable);
    const prop = this.scene.lowered.definition.props.find((p) => p.name === name);
    if (prop?.type !== undefined && /^(?:props|this)\./.test(variable.name)) return ofConstructor(prop.type);
    const definition = variable.defs[0];
    if (definition?.type === 'FunctionName') return '(...args: any[]) => any';
    if (definition?.type !== 'Variable') return this.#ofLoop(variable);
    const { id, init } = definition.node;
    if (id.type !== 'Identifier') return undefined;
    if (id.typeAnnotation) return this.#text(id.typeAnnotation.typeAnnotation);
    return init ? this.#ofValue(init) : undefined;
  }

  #text(node: Node): string {
    return typeOnOneLine(this.scene.text.slice(...node.range));
  }

  #ofValue(init: Node): string | undefined {
    if (init.type === 'TSAsExpression' && init.typeAnnotation.type !== 'TSTypeReference') return undefined;
    if (init.type === 'TSAsExpression') return this.#text(init.typeAnnotation);
    const value = unkept(init);
    if (isFunction(value)) return '(...args: any[]) => any';
    if (value.type === 'Literal' && value.value !== null) return typeof value.value;
    if (value.type === 'TemplateLiteral') return 'string';
    if (value.type !== 'CallExpression' || !/^(?:ref|shallowRef|computed|reactive)$/.test(calleeName(value) ?? ''))
      return undefined;
    const given = value.typeArguments?.params[0];
    if (given) return this.#text(given);
    const first = value.arguments[0];
    if (!first || calleeName(value) === 'computed') return undefined;
    return this.#ofValue(first);
  }

  /** `hive` in `v-for="hive in hives"`, where the type of `hives` is written as an array. */
  #ofLoop(variable: Variable): string | undefined {
    const fn = variable.defs[0]?.node;
    const parameter = variable.identifiers[0];
    const call = fn && this.scene.lowered.scopes.parentOf(fn);
    if (!fn || call?.type !== 'CallExpression' || call.callee.type !== 'MemberExpression' || !('params' in fn))
      return undefined;
    const [item, index] = fn.params as TSESTree.Parameter[];
    if (index === parameter) return 'number';
    const source = call.callee.object;
    if (item !== parameter || source.type !== 'Identifier') return undefined;
    const list = this.scene.lowered.scopes.variableOf(source);
    const type = list && list !== variable ? this.#declared(list) : undefined;
    return type && elementOf(type);
  }

  /**
   * Imports for the names that the types mention, and exports for those that the host declares. `repeated`: what the
   * new file imports already.
   */
  links(
    text: string,
    target: string,
    habits: Habits,
    repeated: ReadonlySet<Variable>,
  ): Pick<Shape, 'imports' | 'edits'> {
    const { scene } = this;
    const mentioned = (name: string) => new RegExp(`(?<![\\w$.])${name.replaceAll('$', '\\$')}(?![\\w$])`).test(text);
    const importing = importingOf(scene);
    const imported = scene.lowered.scopes.moduleScope.variables.filter(
      (v) => scene.lowered.scopes.isImport(v) && mentioned(v.name),
    );
    const edits: Edit[] = [];
    const own: string[] = [];
    for (const node of this.#nodes) {
      const inner = node.type === 'ExportNamedDeclaration' && node.declaration ? node.declaration : node;
      if (inner.type !== 'TSInterfaceDeclaration' && inner.type !== 'TSTypeAliasDeclaration') continue;
      if (!mentioned(inner.id.name)) continue;
      own.push(inner.id.name);
      if (inner === node) edits.push({ start: node.range[0], end: node.range[0], text: 'export ' });
    }
    const { quote: q, semi, pad } = habits;
    const from = relativeSource(target, scene.request.file.path);
    const missing = imported.filter((v) => !repeated.has(v));
    const lines = repeatedImports(importing, missing, target, habits).map((line) =>
      line.replace(/^import (?!type\b)/, 'import type ').replace(/([{,]\s*)type\s+(?=\w)/g, '$1'),
    );
    const known = new Set([...imported.map((v) => v.name), ...own]);
    const others = [...this.#foreign].flatMap(([name, at]) => {
      const source = 'module' in at ? at.module : relativeSource(target, at.path).replace(/\.tsx?$/, '');
      return mentioned(name) && !known.has(name)
        ? [`import type {${pad}${name}${pad}} from ${q}${source}${q}${semi}`]
        : [];
    });
    return {
      imports: [
        ...lines,
        ...others,
        ...(own.length ? [`import type {${pad}${own.join(', ')}${pad}} from ${q}${from}${q}${semi}`] : []),
      ],
      edits,
    };
  }
}
