/** What a component needs of its own file, at the place where it is put: imported there, brought along, or exported. */
import type { TSESTree } from '@typescript-eslint/types';
import { problem, type Problem } from '../../../problems/problems.js';
import type { Variable } from '../../../script/scopes.js';
import { nodeWithin, spanOf } from '../../../script/walk.js';
import type { InlineRequest } from '../../../language/inlining.js';
import { withComments } from '../../../text/layout.js';
import type { Edit, Span } from '../../../text/edits.js';
import { sourceFor, rebasedSource, type WantedImport } from '../../imports.js';
import { readModuleTables } from '../../modules.js';
import type { Definition } from './definition.js';
import type { Place } from './passed.js';

export interface Needs {
  readonly renamed: ReadonlyMap<Variable, string>;
  /** Declarations that come along, as text. */
  readonly declarations: readonly string[];
  readonly brought: readonly string[];
  readonly imports: readonly WantedImport[];
  readonly ownEdits: readonly Edit[];
}

const NOTHING: Needs = { renamed: new Map(), declarations: [], brought: [], imports: [], ownEdits: [] };

/** `kept`: the code of the component that is put back. */
export function needsOf(
  request: InlineRequest,
  definition: Definition,
  place: Place,
  kept: readonly Span[],
  freeName: (name: string) => string,
): Needs | Problem {
  const { scopes } = definition;
  const wanted = moduleNames(definition, kept);
  const isOwn = (v: Variable) => nodeWithin(v.identifiers[0]!, spanOf(definition.statement));
  const itself = [...wanted].find(isOwn);
  if (itself) return refusal(request, `it shows itself`);
  const visible = (name: string) => place.scopes.visibleIn(place.scopes.scopeAt(spanOf(place.use)), name);
  const caught = globalNames(definition, kept).find((name) => visible(name));
  if (caught !== undefined) return problem('inline-shadowed', at(request), caught);
  if (definition.path === place.path) {
    for (const variable of wanted) {
      const there = visible(variable.name);
      // Read twice, the same file has two sets of variables: the place of the declaration tells.
      const same = there?.identifiers[0]?.range[0] === variable.identifiers[0]!.range[0];
      if (!same) return problem('inline-shadowed', at(request), variable.name);
    }
    return NOTHING;
  }
  return new Linking(request, definition, place, freeName, visible).run(wanted, scopes);
}

function at(request: InlineRequest) {
  return { path: request.file.path, span: request.use };
}

function refusal(request: InlineRequest, why: string): Problem {
  const { component } = request;
  return problem('inline-component', { path: component.file.path, span: component.span }, component.name, why);
}

/** Names in spans of the component's file that nothing in the file declares. */
function globalNames({ scopes }: Definition, spans: readonly Span[]): string[] {
  return spans
    .flatMap((span) => scopes.within(span))
    .filter(({ resolved }) => !resolved || resolved.defs.length === 0)
    .map(({ identifier }) => String((identifier as { name?: unknown }).name));
}

/** Variables of the module that spans of it read. */
function moduleNames({ scopes }: Definition, spans: readonly Span[]): Set<Variable> {
  const found = new Set<Variable>();
  for (const span of spans)
    for (const { resolved } of scopes.within(span))
      if (resolved && resolved.defs.length > 0 && scopes.isModuleLevel(resolved)) found.add(resolved);
  return found;
}

class Linking {
  readonly #renamed = new Map<Variable, string>();
  readonly #imports: WantedImport[] = [];
  readonly #ownEdits: Edit[] = [];
  readonly #moving = new Set<TSESTree.ProgramStatement>();

  constructor(
    readonly request: InlineRequest,
    readonly definition: Definition,
    readonly place: Place,
    readonly freeName: (name: string) => string,
    readonly visible: (name: string) => Variable | undefined,
  ) {}

  run(wanted: ReadonlySet<Variable>, scopes: Definition['scopes']): Needs | Problem {
    const { definition, request } = this;
    const queue = [...wanted];
    const seen = new Set(queue);
    for (let variable = queue.shift(); variable; variable = queue.shift()) {
      if (scopes.isImport(variable)) {
        const trouble = this.#import(variable);
        if (trouble) return trouble;
        continue;
      }
      const statement = definition.script.program.body.find((s) => nodeWithin(variable.identifiers[0]!, spanOf(s)))!;
      if (request.brings) {
        if (request.brought.has(variable.name) || this.#moving.has(statement)) continue;
        const there = this.visible(variable.name) ?? this.place.scopes.moduleScope.set.get(variable.name);
        if (there && there.defs.length > 0) return problem('inline-shadowed', at(request), variable.name);
        this.#moving.add(statement);
        for (const next of moduleNames(definition, [spanOf(statement)])) {
          if (seen.has(next)) continue;
          seen.add(next);
          queue.push(next);
        }
        continue;
      }
      const trouble = this.#exported(variable, statement);
      if (trouble) return trouble;
    }
    const moving = definition.script.program.body.filter((s) => this.#moving.has(s));
    return {
      renamed: this.#renamed,
      declarations: moving.map((s) => {
        const whole = withComments(definition.text, spanOf(s));
        return definition.text.slice(whole.start, whole.end).replace(/^export (?!default)/m, '');
      }),
      brought: moving.flatMap((s) =>
        scopes.moduleScope.variables
          .filter((v) => v.identifiers.some((id) => nodeWithin(id, spanOf(s))))
          .map((v) => v.name),
      ),
      imports: this.#imports,
      ownEdits: this.#ownEdits,
    };
  }

  #import(variable: Variable): Problem | undefined {
    const { definition, place, request } = this;
    const entry = readModuleTables(definition.script.program, definition.text).imports.find(
      (i) => i.local === variable.name,
    );
    if (!entry || variable.defs[0]?.type !== 'ImportBinding')
      return refusal(request, `it needs "${variable.name}", which comes by require`);
    const target = this.#resolved(definition.path, entry.source);
    const own = this.#imported(target, entry.imported, entry.typeOnly);
    if (own !== undefined) return this.#same(variable, own);
    // The host itself can be what the component imports from.
    if (target === place.path) return this.#ofHost(variable, entry.imported);
    this.#want(variable, rebasedSource(entry.source, definition.path, place.path), entry.imported, entry.typeOnly);
    return undefined;
  }

  #resolved(from: string, source: string): string {
    const found = this.request.project.resolver.resolve(from, source);
    return 'path' in found ? found.path : source;
  }

  /** What the host calls a name of a module that it imports already. */
  #imported(target: string, imported: string, typeOnly: boolean): string | undefined {
    const { script, text, path } = this.place;
    return readModuleTables(script.program, text).imports.find(
      (i) => i.imported === imported && (typeOnly || !i.typeOnly) && this.#resolved(path, i.source) === target,
    )?.local;
  }

  #same(variable: Variable, local: string): Problem | undefined {
    if (!this.#means(local, this.place.scopes.moduleScope.set.get(local)))
      return problem('inline-shadowed', at(this.request), local);
    if (local !== variable.name) this.#renamed.set(variable, local);
    return undefined;
  }

  #ofHost(variable: Variable, imported: string): Problem | undefined {
    const found = readModuleTables(this.place.script.program, this.place.text).exports.find((e) => e.name === imported);
    const local = found && this.place.scopes.moduleScope.set.get(found.local);
    if (!local || !this.#means(local.name, local)) return problem('inline-shadowed', at(this.request), variable.name);
    if (local.name !== variable.name) this.#renamed.set(variable, local.name);
    return undefined;
  }

  #exported(variable: Variable, statement: TSESTree.ProgramStatement): Problem | undefined {
    const { definition, place, request } = this;
    const exported = readModuleTables(definition.script.program, definition.text).exports.find(
      (e) => e.local === variable.name && e.source === undefined,
    );
    if (!exported) {
      if (
        statement.type !== 'VariableDeclaration' &&
        statement.type !== 'FunctionDeclaration' &&
        !statement.type.startsWith('TS')
      )
        return refusal(request, `it needs "${variable.name}", which cannot be exported`);
      if (!this.#ownEdits.some((e) => e.start === statement.range[0]))
        this.#ownEdits.push({ start: statement.range[0], end: statement.range[0], text: 'export ' });
    }
    const own = exported && this.#imported(definition.path, exported.name, false);
    if (own !== undefined) return this.#same(variable, own);
    const scene = { ...place, request: { file: { path: place.path } } };
    const isType = variable.defs.every((d) => d.type === 'Type');
    this.#want(variable, sourceFor(scene, place.path, definition.path), exported?.name ?? variable.name, isType);
    return undefined;
  }

  #want(variable: Variable, source: string, imported: string, typeOnly: boolean): void {
    const isFree = !this.visible(variable.name) && !this.place.scopes.moduleScope.set.get(variable.name)?.defs.length;
    const local = isFree ? variable.name : this.freeName(variable.name);
    if (local !== variable.name) this.#renamed.set(variable, local);
    this.#imports.push({ source, imported, local, typeOnly });
  }

  #means(name: string, variable: Variable | undefined): boolean {
    return variable !== undefined && this.visible(name) === variable;
  }
}
