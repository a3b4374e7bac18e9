/** The interface of the new component: the name and the type of each prop. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Crossed, TypeName, TypeOracle } from '../../../language/cutting.js';
import { isReserved } from '../../../script/reserved.js';
import { DefinitionType, identifierEnd, type Variable } from '../../../script/scopes.js';
import { spanOf, walk } from '../../../script/walk.js';
import { originOf } from '../../origins.js';
import type { Crossing } from './crossing.js';
import { isTypeParameter, type Boundary } from './crossings.js';
import type { Scene } from './scene.js';
import { isTypeOnly } from '../../../script/scopes.js';
import { capital } from '../../../text/words.js';

export interface NamedProp {
  readonly name: string;
  readonly crossing: Crossing;
  readonly type?: string;
  /** Not every use passes it. */
  readonly optional?: boolean;
}

export interface Interface {
  readonly props: readonly NamedProp[];
  /** Names of the host's file, local or imported, that the types mention. */
  readonly typeVariables: readonly Variable[];
  /** Types to import that the host's file does not know. */
  readonly foreignTypes: readonly Exclude<TypeName, { from: 'here' }>[];
  /** Type parameters of the host that the interface needs, as declared. */
  readonly parameters: readonly TSESTree.TSTypeParameter[];
  readonly unknownTypes: readonly string[];
}

/** What React takes out of the props. */
const isReservedProp = (name: string) => name === 'key' || name === 'ref' || isReserved(name);
const PLAIN_NAMES: Record<string, string> = { key: 'itemKey', ref: 'innerRef', class: 'className', for: 'htmlFor' };

export function shapeInterface(scene: Scene, boundary: Boundary, declared: ReadonlySet<string>): Interface {
  const taken = new Set<string>([
    ...boundary.globals,
    ...boundary.moduleLevel.map((v) => v.name),
    ...declared,
    scene.request.name,
  ]);
  const used = new Set<string>();
  const names = new Map<Crossing, string>();
  const keepsName = (crossing: Crossing) =>
    crossing.variable?.name === crossing.wanted &&
    crossing.value === crossing.wanted &&
    !isReservedProp(crossing.wanted);
  // What a person gave a name has it.
  const asked = boundary.crossings.filter(({ given }) => given?.asked);
  const isOpen = ({ wanted }: Crossing) => !taken.has(wanted) && !used.has(wanted) && !isReservedProp(wanted);
  for (const crossing of [...asked.filter(isOpen), ...boundary.crossings.filter(keepsName)]) {
    if (used.has(crossing.wanted)) continue;
    names.set(crossing, crossing.wanted);
    used.add(crossing.wanted);
  }
  for (const crossing of boundary.crossings) {
    if (names.has(crossing)) continue;
    const name = freeName(crossing, (n) => used.has(n) || taken.has(n) || isReservedProp(n));
    names.set(crossing, name);
    used.add(name);
  }
  const typing = scene.dialect.typed(scene.request.file.path) ? new Typing(scene, taken) : undefined;
  const props = boundary.crossings.map((crossing): NamedProp => {
    const type = typing?.typeOf(crossing);
    return {
      name: names.get(crossing)!,
      crossing,
      ...(type === undefined ? {} : { type }),
      ...(crossing.given?.optional ? { optional: true } : {}),
    };
  });
  for (const reference of boundary.types) typing?.noteParameter(reference.resolved!);
  // A type may have been asked for and then written in another way: only what is written counts.
  const text = [...props.map((p) => p.type), ...[...(typing?.parameters ?? [])].map((p) => scene.slice(p))].join('\n');
  const isWritten = ({ name }: { readonly name: string }) =>
    new RegExp(`(?<![\\w$.])${name.replaceAll('$', '\\$')}(?![\\w$])`).test(text);
  return {
    props,
    typeVariables: [...(typing?.variables ?? [])].filter(isWritten),
    foreignTypes: [...(typing?.foreign.values() ?? [])].filter(isWritten),
    parameters: [...(typing?.parameters ?? [])],
    unknownTypes: props.filter((p) => p.type === 'any' && !p.crossing.slot).map((p) => p.name),
  };
}

function freeName(crossing: Crossing, isTaken: (name: string) => boolean): string {
  const wanted = PLAIN_NAMES[crossing.wanted] ?? crossing.wanted;
  if (!isTaken(wanted)) return wanted;
  for (const name of crossing.otherwise ?? []) if (!isTaken(name)) return name;
  const member = /^this\.(props|state)\./.exec(crossing.value)?.[1];
  const tries = crossing.event
    ? []
    : [...(member === 'state' ? [`current${capital(wanted)}`] : []), `${wanted}Value`, `own${capital(wanted)}`];
  for (const name of tries) if (!isTaken(name)) return name;
  for (let i = 2; ; i++) if (!isTaken(`${wanted}${i}`)) return `${wanted}${i}`;
}

/** Types of props as text, with a note of every name that has to come along. */
class Typing {
  readonly variables = new Set<Variable>();
  readonly foreign = new Map<string, Exclude<TypeName, { from: 'here' }>>();
  readonly parameters = new Set<TSESTree.TSTypeParameter>();
  readonly #oracle: TypeOracle | undefined;

  constructor(
    readonly scene: Scene,
    /** Names that the new file has already: a type from elsewhere must be none of them. */
    readonly taken: ReadonlySet<string>,
  ) {
    this.#oracle = scene.request.types;
  }

  typeOf(crossing: Crossing): string {
    if (crossing.given) return this.#typeOfGiven(crossing.given);
    const asked = crossing.typed && this.#ask(crossing.typed);
    // A file that is a component calls what it takes as its host does: the type of the host has no name in it.
    const text = asked ?? (this.scene.dialect.asFile ? undefined : this.#declared(crossing)) ?? 'any';
    if (crossing.setter) {
      const state = /^(?:React\.)?Dispatch<(?:React\.)?SetStateAction<([\s\S]*)>>$/.exec(text)?.[1];
      if (state !== undefined) {
        const name = crossing.variable!.name.replace(/^set/, '');
        return `(${name[0]!.toLowerCase()}${name.slice(1)}: ${state}) => void`;
      }
    }
    if (crossing.extras.length > 0) return this.#withExtras(crossing, text);
    return text;
  }

  #typeOfGiven({ type, typeNames }: Crossed): string {
    for (const name of typeNames) {
      if (name.from === 'here') this.#noteName(name.name);
      else this.foreign.set(name.name, name);
    }
    return type ?? 'any';
  }

  noteParameter(variable: Variable): void {
    const node = variable.defs[0]?.node;
    if (isTypeParameter(variable) && node?.type === 'TSTypeParameter') this.parameters.add(node);
  }

  #ask(span: { start: number; end: number }): string | undefined {
    const found = this.#oracle?.typeAt(this.scene.request.file.path, span);
    if (!found) return undefined;
    const answer = {
      ...found,
      names: found.names.map((name) => (this.#isHere(name) ? { ...name, from: 'here' as const } : name)),
    };
    const origin = (name: TypeName) => JSON.stringify(name.from);
    const clashes = (name: TypeName) => {
      const known = this.foreign.get(name.name);
      return (
        name.from !== 'here' && (this.taken.has(name.name) || (known !== undefined && origin(known) !== origin(name)))
      );
    };
    if (answer.names.some(clashes)) return undefined;
    for (const name of answer.names) {
      if (name.from === 'here') this.#noteName(name.name);
      else this.foreign.set(name.name, name);
    }
    return answer.text;
  }

  /** A name that the host has by an import of just that. */
  #isHere({ name, from }: TypeName): boolean {
    const { scopes, request } = this.scene;
    const variable = scopes.moduleScope.set.get(name);
    if (from === 'here' || !variable) return false;
    const own = originOf(variable, name, request.file.path, scopes, request.project.resolver);
    return own === `${'module' in from ? from.module : from.path}#${name}`;
  }

  #noteName(name: string): void {
    const variable = this.scene.scopes.moduleScope.set.get(name);
    if (variable && variable.defs.length > 0) this.variables.add(variable);
    for (const node of this.scene.above) {
      if (!('typeParameters' in node) || node.typeParameters?.type !== 'TSTypeParameterDeclaration') continue;
      for (const parameter of node.typeParameters.params) {
        if (parameter.name.name !== name) continue;
        this.parameters.add(parameter);
        for (const part of [parameter.constraint, parameter.default]) if (part) this.#noteTypeNode(part);
      }
    }
  }

  /** Whether a type as written means the same in another file: `typeof local` and types of a function's own do not. */
  #canLeave(annotation: TSESTree.Node): boolean {
    const { scopes } = this.scene;
    return scopes.within(spanOf(annotation)).every(({ resolved: variable }) => {
      const kind = variable?.defs[0]?.type;
      if (!variable || kind === undefined) return true;
      if (!scopes.isModuleLevel(variable)) return isTypeParameter(variable);
      return isTypeOnly(variable) || scopes.isImport(variable) || kind === DefinitionType.ClassName;
    });
  }

  #noteTypeNode(node: TSESTree.Node): void {
    walk(node, (child) => {
      if (child.type === 'TSTypeReference' && child.typeName.type === 'Identifier') this.#noteName(child.typeName.name);
      return undefined;
    });
  }

  /** Without a type checker: the annotation that the variable carries itself. */
  #declared(crossing: Crossing): string | undefined {
    const definition = crossing.variable?.defs[0];
    const id = definition?.name;
    const rest =
      id && definition.type === 'Parameter'
        ? (this.#restOf(id, definition.node) ?? this.#memberOf(id, definition.node))
        : undefined;
    if (rest !== undefined) return rest;
    if (id?.type !== 'Identifier' || crossing.value !== crossing.variable?.name || !id.typeAnnotation) return undefined;
    const annotation = id.typeAnnotation.typeAnnotation;
    if (!this.#canLeave(annotation)) return undefined;
    this.#noteTypeNode(annotation);
    return this.scene.slice(annotation);
  }

  /** `rest` in `({ label, ...rest }: Props)` is `Omit<Props, 'label'>`. */
  #restOf(id: TSESTree.Node, fn: TSESTree.Node): string | undefined {
    if (!('params' in fn) || !Array.isArray(fn.params)) return undefined;
    for (const parameter of fn.params as TSESTree.Parameter[]) {
      if (parameter.type !== 'ObjectPattern' || !parameter.typeAnnotation) continue;
      if (!parameter.properties.some((p) => p.type === 'RestElement' && p.argument === id)) continue;
      const keys = parameter.properties.flatMap((p) =>
        p.type === 'Property' && p.key.type === 'Identifier' ? [`'${p.key.name}'`] : [],
      );
      const annotation = parameter.typeAnnotation.typeAnnotation;
      if (!this.#canLeave(annotation)) return undefined;
      this.#noteTypeNode(annotation);
      const whole = this.scene.slice(annotation);
      return keys.length > 0 ? `Omit<${whole}, ${keys.join(' | ')}>` : whole;
    }
    return undefined;
  }

  /** `hive` in `({ hive }: Props)` is `Props['hive']`. */
  #memberOf(id: TSESTree.Node, fn: TSESTree.Node): string | undefined {
    if (!('params' in fn) || !Array.isArray(fn.params)) return undefined;
    for (const parameter of fn.params as TSESTree.Parameter[]) {
      const annotation = parameter.type === 'ObjectPattern' ? parameter.typeAnnotation?.typeAnnotation : undefined;
      if (parameter.type !== 'ObjectPattern' || annotation?.type !== 'TSTypeReference') continue;
      if (!this.#canLeave(annotation)) return undefined;
      for (const property of parameter.properties) {
        if (property.type !== 'Property' || property.computed || property.key.type !== 'Identifier') continue;
        const target = property.value.type === 'AssignmentPattern' ? property.value.left : property.value;
        if (target !== id) continue;
        this.#noteTypeNode(annotation);
        return `${this.scene.slice(annotation)}['${property.key.name}']`;
      }
    }
    return undefined;
  }

  #withExtras(crossing: Crossing, text: string): string {
    if (!text.startsWith('(')) return 'any';
    const extras = crossing.extras.map((variable) => {
      const id = variable.identifiers[0]!;
      const type = this.#ask({ start: id.range[0], end: identifierEnd(id) }) ?? 'any';
      return `${variable.name}: ${type}`;
    });
    return `(${extras.join(', ')}${text[1] === ')' ? '' : ', '}${text.slice(1)}`;
  }
}
