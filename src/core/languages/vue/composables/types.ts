/** Types of what a composable is given, and of the types of the file that it needs. */
import { keyName } from '../definition.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { nodeWithin, spanOf, within } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import { withComments } from '../../../text/layout.js';
import { relativeSource, repeatedImports, sourceFor } from '../../imports.js';
import { inputName } from '../../naming.js';
import { written, type Source } from './source.js';

export interface Parameter {
  /** What the composable calls it, and what the component has it by. */
  readonly name: string;
  readonly value: string;
  readonly reads: readonly Node[];
  readonly type?: string;
}

export interface TypedParameters {
  readonly parameters: readonly Parameter[];
  readonly imports: readonly string[];
  /** Declarations of types that nothing else uses: they go along. */
  readonly moving: readonly Span[];
  /** Where the file has to export a type. */
  readonly exported: readonly number[];
  readonly notes: readonly string[];
}

/** `values`: what is handed over, by its name, with the places where it is read; `types`: types of the file that are used. */
export function typesOf(
  source: Source,
  values: ReadonlyMap<string, readonly Node[]>,
  types: readonly Variable[],
): TypedParameters {
  const typing = new Typing(source);
  const parameters = [...values].map(([value, reads]): Parameter => {
    const given = { name: parameterName(source, value, reads), value, reads };
    if (!source.habits.typed) return given;
    const isProps = value === source.lowered.definition.propsLocal;
    return { ...given, type: isProps ? typing.ofProps(reads) : typing.at(reads[0]!) };
  });
  for (const type of types) typing.needs(type);
  const unknown = parameters.filter((p) => p.type === 'any').map((p) => p.name);
  return {
    parameters,
    ...typing.links(),
    notes: unknown.length > 0 ? [`no type could be found for ${unknown.join(', ')}: written as any`] : [],
  };
}

/** What is handed over is no constant of the module, and is not named like one. */
function parameterName({ scopes, span }: Source, value: string, reads: readonly Node[]): string {
  const name = inputName(value);
  const isShort = reads.some((read) => {
    const parent = scopes.parentOf(read);
    return parent?.type === 'Property' && parent.shorthand;
  });
  const isTaken = scopes
    .within(span)
    .some(({ identifier }) => identifier.type === 'Identifier' && identifier.name === name);
  return isShort || isTaken ? value : name;
}

class Typing {
  readonly #local = new Set<Variable>();
  readonly #imported = new Set<Variable>();
  readonly #foreign = new Map<string, { readonly module: string } | { readonly path: string }>();

  constructor(readonly source: Source) {}

  /** The type that holds where something is read; `any` where it is not known. */
  at(node: Node): string {
    const { request, sfc, scopes } = this.source;
    const answer = request.types?.typeAt(sfc.path, spanOf(node));
    if (!answer || /^(?:unknown|\{\}|never)$/.test(answer.text)) return 'any';
    for (const { name, from } of answer.names) {
      const variable = scopes.moduleScope.set.get(name);
      if (from !== 'here') this.#foreign.set(name, from);
      else if (variable && scopes.isImport(variable)) this.#imported.add(variable);
      else if (variable) this.needs(variable);
    }
    return answer.text;
  }

  /** The members that are read, where all reads are of members. */
  ofProps(reads: readonly Node[]): string {
    const { scopes } = this.source;
    const members = new Map<string, Node>();
    for (const read of reads) {
      const member = scopes.parentOf(read);
      const isMember = member?.type === 'MemberExpression' && !member.computed && member.object === read;
      const name = isMember ? keyName(member.property) : undefined;
      if (!member || name === undefined) return 'any';
      if (!members.has(name)) members.set(name, member);
    }
    return `{ ${[...members].map(([name, member]) => `${name}: ${this.at(member)}`).join('; ')} }`;
  }

  /** Takes a type of the file, and those that it is made of. */
  needs(type: Variable): void {
    if (this.#local.has(type)) return;
    this.#local.add(type);
    const declared = declarationOf(type);
    for (const { resolved } of declared ? this.source.scopes.within(spanOf(declared)) : []) {
      if (!resolved || resolved.defs.length === 0) continue;
      if (this.source.scopes.isImport(resolved)) this.#imported.add(resolved);
      else if (this.source.scopes.isModuleLevel(resolved)) this.needs(resolved);
    }
  }

  links(): Omit<TypedParameters, 'parameters' | 'notes'> {
    const { sfc, scopes, span, request, habits } = this.source;
    const { pad, quote, semi } = habits;
    const target = request.target!;
    const moving = this.#moving();
    const leaving = [...moving].map((v) => withComments(sfc.text, spanOf(this.#statement(v)!)));
    const staying = [...this.#local].filter((v) => !moving.has(v));
    const inBody = (v: Variable) =>
      v.references.some((r) => [span, ...leaving].some((part) => nodeWithin(r.identifier, part)));
    const named = [...this.#imported].filter((v) => !inBody(v));
    const lines = repeatedImports(written(this.source), named, target, habits).map((line) =>
      line.replace(/^import (?!type\b)/, 'import type '),
    );
    const from = relativeSource(target, sfc.path);
    const own = staying.map((v) => v.name).join(', ');
    const foreign = [...this.#foreign].map(([name, at]) => {
      const path = 'module' in at ? at.module : sourceFor(written(this.source), target, at.path);
      return { name, line: `import type {${pad}${name}${pad}} from ${quote}${path}${quote}${semi}` };
    });
    const isBound = (name: string) => {
      const variable = scopes.moduleScope.set.get(name);
      return variable !== undefined && scopes.isImport(variable) && inBody(variable);
    };
    return {
      imports: [
        ...lines,
        ...foreign.filter(({ name }) => !isBound(name)).map(({ line }) => line),
        ...(own ? [`import type {${pad}${own}${pad}} from ${quote}${from}${quote}${semi}`] : []),
      ],
      moving: leaving.sort((a, b) => a.start - b.start),
      exported: staying.flatMap((v) => {
        const statement = this.#statement(v);
        return statement && statement.type !== 'ExportNamedDeclaration' ? [statement.range[0]] : [];
      }),
    };
  }

  /** Types that only the statements use, or other types that go along. */
  #moving(): Set<Variable> {
    const { span } = this.source;
    const moving = new Set([...this.#local].filter((v) => this.#statement(v)?.type !== 'ExportNamedDeclaration'));
    for (let again = true; again;) {
      again = false;
      const gone = [span, ...[...moving].map((v) => spanOf(this.#statement(v)!))];
      for (const type of moving) {
        const isOwn = type.references.every((r) => gone.some((part) => nodeWithin(r.identifier, part)));
        if (isOwn) continue;
        moving.delete(type);
        again = true;
        break;
      }
    }
    return moving;
  }

  /** The statement at the top of the script that declares a type. */
  #statement(type: Variable): Node | undefined {
    const declared = declarationOf(type);
    const { body } = this.source.setup.script.program;
    return declared && body.find((s) => within(spanOf(declared), spanOf(s)));
  }
}

function declarationOf({ defs }: Variable): Node | undefined {
  const node = defs[0]?.node as Node | undefined;
  return node?.type === 'TSInterfaceDeclaration' || node?.type === 'TSTypeAliasDeclaration' ? node : undefined;
}
