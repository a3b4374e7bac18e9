/**
 * State goes down, between two components with script setup: the statements that keep it leave the outer script for the inner
 * one. What the inner one was given of it is its own now; what they read of the outer one is handed down.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { HomeRequest, Homing } from '../../../language/homing.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { attributeName, calleeName, isFunction, nodeWithin, spanOf } from '../../../script/walk.js';
import type { Edit } from '../../../text/edits.js';
import { indentAt, relocated, withComments } from '../../../text/layout.js';
import { askedOf } from '../../homes/asked.js';
import { FreeNames } from '../../homes/free-names.js';
import type { Host, Leaving, Need } from '../../homes/leaving.js';
import {
  droppedImports,
  importsOf,
  rebasedSource,
  removedLines,
  wholeLines,
  type WantedImport,
} from '../../imports.js';
import { readModuleTables } from '../../modules.js';
import { Substitution, Unwritable } from '../../substitution.js';
import { habitsOf, type Habits } from '../cut/habits.js';
import { importingOf } from '../cut/host.js';
import { lower } from '../lower.js';
import { loweredIn, takenApart, type Definition } from '../inline/definition.js';
import { HandedOver, scriptNames, writtenSpan } from '../inline/handed.js';
import { importEdits } from '../inline/linked.js';
import { useIn, type Place } from '../inline/place.js';
import { TemplateText } from '../inline/template.js';
import { tagAt } from '../cut/scene.js';
import { isRef } from '../setup.js';
import { parseSfc } from '../sfc.js';
import { saidOf, unheld, type NewProp } from './macros.js';
import { changedTag } from './tag.js';

const KEEPERS = /^(?:ref|shallowRef|reactive|shallowReactive|customRef)$/;

export function down(request: HomeRequest): Homing | Problem {
  const { outer, inner, ports } = request;
  const at = { path: outer.file.path, span: outer.span };
  const sfc = parseSfc(outer.file, ports);
  if (isProblem(sfc)) return sfc;
  const lowered = lower(sfc);
  const tag = tagAt(sfc.shown, request.use.start);
  const use = useIn(lowered, request.use);
  if (!tag || !use) return problem('home-outer', at, outer.name, 'it shows the other one by no plain tag');
  if (!sfc.setup) return problem('home-outer', at, outer.name, 'it has no script setup');
  const definition = takenApart(inner, ports);
  const refuse = (why: string) => problem('home-inner', { path: inner.file.path, span: inner.span }, inner.name, why);
  if ('why' in definition) return refuse(definition.why);
  if (isProblem(definition)) return definition;
  if (definition.sfc.script) return refuse('it has options');
  const fn = lowered.scopes.moduleScope.set.get(lowered.name)?.defs[0]?.node;
  if (!fn || !('params' in fn) || !isFunction(fn))
    return problem('home-outer', at, outer.name, 'it is written in an unusual way');
  const host: Host = {
    text: sfc.text,
    scopes: lowered.scopes,
    fn,
    use,
    holds: isRef,
    keeps,
    isEffect: () => false,
    settings: () => undefined,
  };
  const asked = askedOf(request, host);
  if (isProblem(asked)) return asked;
  const { leaving, lost } = asked;
  try {
    return new Down(request, { sfc, lowered, tag, use, text: sfc.text }, definition, host, leaving).run(lost);
  } catch (error) {
    if (!(error instanceof Unwritable)) throw error;
    return refuse(error.reason);
  }
}

/** Names of what a statement keeps. */
function keeps(statement: Node): string[] {
  const [only] = statement.type === 'VariableDeclaration' ? statement.declarations : [];
  const isKept = only?.init && KEEPERS.test(calleeName(only.init) ?? '');
  return isKept && only.id.type === 'Identifier' ? [only.id.name] : [];
}

/** A name that what goes reads, by what the inner component is given for it. */
interface Input extends NewProp {
  readonly need: Need;
  /** What the use has for it already. */
  readonly isNew: boolean;
}

class Down {
  readonly #habits: Habits;
  readonly #renamed = new Map<Variable, string>();
  readonly #free: FreeNames;

  constructor(
    readonly request: HomeRequest,
    readonly place: Place,
    readonly definition: Definition,
    readonly host: Host,
    readonly leaving: Leaving,
  ) {
    this.#habits = habitsOf(definition.sfc, request.project.files);
    this.#free = new FreeNames(namesOf(definition));
  }

  run(lost: string | undefined): Homing | Problem {
    const { request, leaving, definition, place } = this;
    const given = leaving.attributes;
    const gone = new Set(given.map((a) => attributeName(a)));
    for (const name of gone) if (!/^on[A-Z]|:/.test(name)) this.#free.free(name);
    // What a model was called in the script.
    for (const { name, local } of definition.lowered.definition.models)
      if (gone.has(`v-model:${name}`)) this.#free.free(local);
    for (const variable of leaving.declared) this.#renamed.set(variable, this.#free.take(variable.name));
    const inputs: Input[] = [];
    for (const need of leaving.needs) {
      const input = this.#inputFor(need, gone);
      if ('code' in input) return input;
      inputs.push(input);
    }
    const added = inputs.filter((input) => input.isNew);
    const wanted = this.#imports();
    if (isProblem(wanted)) return wanted;
    const props = definition.lowered.definition.propsLocal ?? 'props';
    const { script, template } = this.#inward(given, inputs, props);
    const statements = leaving.statements.map((s) => this.#statement(s, inputs, props));
    const readsProps = [...script.map((e) => e.text), ...statements].some((text) => text.includes(`${props}.`));
    const said = saidOf(definition, gone, added, readsProps, this.#habits);
    if (typeof said === 'string') throw new Unwritable(said, place.use);
    const resets = leaving.resets.map((reset) => wholeLines(place.text, spanOf(reset)));
    const spans = [...leaving.statements, ...given].map(spanOf);
    const passed = new Map(added.map(({ name, need }) => [name, need.variable.name.replace(/^props\./, '')]));
    const outerEdits: Edit[] = [
      ...removedLines(
        place.text,
        leaving.statements.map((s) => withComments(place.text, spanOf(s))),
      ),
      ...resets,
      ...changedTag(place, given, passed, habitsOf(place.sfc, request.project.files)),
      ...droppedImports(
        importingOf({ text: place.text, lowered: place.lowered, request: { file: request.outer.file } }),
        spans,
      ),
    ];
    const innerEdits: Edit[] = [
      ...script,
      ...template,
      ...this.#placed([...said.statements, ...statements], wanted, said.edits),
    ];
    return {
      edits: new Map([
        [request.outer.file.path, [...outerEdits, ...unheld(place.text, place.lowered.definition, outerEdits)]],
        [request.inner.file.path, innerEdits],
      ]),
      files: new Map(),
      moved: leaving.declared.map((v) => v.name),
      names: request.names.map((name) => this.#renamed.get(leaving.declared.find((v) => v.name === name)!)!),
      added: added.map(({ name, type }) => ({ name, ...(this.#habits.typed ? { type } : {}) })),
      dropped: [...gone].map((name) => name.replace(/^v-model:/, '')),
      resets,
      notes: [
        ...(lost === undefined ? [] : [`asked for although ${lost}`]),
        ...[...this.#renamed]
          .filter(([v, to]) => v.name !== to)
          .map(([v, to]) => `${v.name} is called ${to} in ${request.inner.name}`),
      ],
    };
  }

  #inputFor(need: Need, gone: ReadonlySet<string>): Input | Problem {
    const { request, host, place, definition } = this;
    const { variable, sites } = need;
    const plain = variable.name.replace(/^props\./, '');
    const at = { path: request.outer.file.path, span: spanOf(sites[0]!) };
    const cross = (how: string) => problem('home-crosses', at, plain.replace(/^.*:/, ''), request.outer.name, how);
    const definitionOf = variable.defs[0];
    const init = definitionOf?.type === 'Variable' ? definitionOf.node.init : undefined;
    if (variable.name.includes(':')) return cross('sends');
    if (definitionOf?.type === 'FunctionName' || (init && isFunction(init))) return cross('calls');
    for (const site of sites) {
      const parent = host.scopes.parentOf(site);
      if (parent?.type === 'AssignmentExpression' && parent.left === site) return cross('writes to');
      if (parent?.type === 'UpdateExpression') return cross('writes to');
      if (
        parent?.type === 'CallExpression' &&
        parent.callee.type === 'Identifier' &&
        parent.callee.name.startsWith('$')
      )
        return cross('needs the ref of');
    }
    for (const attribute of place.use.openingElement.attributes) {
      if (attribute.type !== 'JSXAttribute' || attribute.value?.type !== 'JSXExpressionContainer') continue;
      const { expression } = attribute.value;
      const name = attributeName(attribute);
      const isIt = expression.type === 'Identifier' && host.scopes.referenceOf(expression)?.resolved === variable;
      if (isIt && !gone.has(name) && definition.lowered.definition.props.some((p) => p.name === name))
        return { need, name, type: '', isNew: false };
    }
    const typed = this.#habits.typed ? request.types?.typeAt(at.path, writtenSpan(sites[0]!)) : undefined;
    const type = typed && typed.names.length === 0 ? typed.text : 'any';
    return { need, name: this.#free.take(plain), type, isNew: true };
  }

  /** What the moved script imports and the inner one does not. */
  #imports(): WantedImport[] | Problem {
    const { request, leaving, place, definition } = this;
    const refuse = (name: string) =>
      problem('home-shadowed', { path: request.inner.file.path, span: request.inner.span }, name, request.inner.name);
    const tables = [place.sfc.script, place.sfc.setup].flatMap((b) =>
      b ? readModuleTables(b.script.program, place.text).imports : [],
    );
    const own = definition.sfc.setup
      ? readModuleTables(definition.sfc.setup.script.program, definition.text).imports
      : [];
    const resolve = (from: string, source: string) => {
      const found = request.project.resolver.resolve(from, source);
      return 'path' in found ? found.path : source;
    };
    const wanted: WantedImport[] = [];
    for (const { name } of leaving.moduleLevel) {
      const entry = tables.find((i) => i.local === name);
      if (!entry) return problem('home-crosses', { path: request.outer.file.path }, name, request.outer.name, 'uses');
      const there = own.find((i) => i.local === name);
      const isSame =
        there?.imported === entry.imported &&
        resolve(request.inner.file.path, there.source) === resolve(request.outer.file.path, entry.source);
      if (isSame) continue;
      if (there || this.#free.has(name)) return refuse(name);
      const source = rebasedSource(entry.source, request.outer.file.path, request.inner.file.path);
      wanted.push({ source, imported: entry.imported, local: name, typeOnly: entry.typeOnly });
    }
    const caught = [...leaving.globals].find(
      (name) => definition.lowered.scopes.moduleScope.set.get(name)?.defs.length,
    );
    return caught === undefined ? wanted : refuse(caught);
  }

  /** What names of the outer component are called in the inner one. */
  #names(inputs: readonly Input[], props: string, inScript: boolean): Map<Variable, string> {
    const names = new Map<Variable, string>();
    for (const [variable, name] of this.#renamed)
      names.set(variable, inScript && isRef(variable) ? `${name}.value` : name);
    for (const { need, name } of inputs) names.set(need.variable, inScript ? `${props}.${name}` : name);
    return names;
  }

  /** The inner component's own code, with its own names for what it was given. */
  #inward(
    given: readonly TSESTree.JSXAttribute[],
    inputs: readonly Input[],
    props: string,
  ): { script: Edit[]; template: Edit[] } {
    const { definition, place } = this;
    const kept = (names: Map<Variable, string>) =>
      new Map([...names].filter(([variable, name]) => variable.name !== name));
    const handed = new HandedOver(
      definition,
      place,
      {
        inTemplate: () => kept(this.#names(inputs, props, false)),
        inScript: (node) => new Map([...scriptNames(place, node), ...this.#names(inputs, props, true)]),
      },
      true,
    );
    for (const attribute of given) {
      const { value } = attribute;
      if (value?.type === 'JSXExpressionContainer')
        handed.values.set(attributeName(attribute), handed.code(value.expression));
    }
    const substitution = new Substitution(
      definition.text,
      definition.lowered.scopes,
      (node) => handed.argument(node),
      new Map(),
      (node, self) => handed.special(node, self),
    );
    const template = new TemplateText(definition.text, definition.fn, substitution);
    const declared = definition.declared.flatMap(({ node }) => loweredIn(definition, spanOf(node)));
    return {
      script: declared.flatMap((node) => substitution.edits(node)),
      template: template.edits(definition.roots),
    };
  }

  /** A statement of the outer script, as the inner one has it. */
  #statement(statement: Node, inputs: readonly Input[], props: string): string {
    const { place, host } = this;
    const sites = new Map(
      inputs.flatMap(({ need, name }) => need.sites.map((site) => [site, `${props}.${name}`] as const)),
    );
    const renamed = new Map([...this.#renamed].filter(([variable, name]) => variable.name !== name));
    const substitution = new Substitution(
      place.text,
      host.scopes,
      () => undefined,
      renamed,
      (node) => {
        const name = sites.get(node);
        return name === undefined ? undefined : [{ ...writtenSpan(node), text: name }];
      },
    );
    const span = withComments(place.text, spanOf(statement));
    const { scriptIndent: indent, lineEnd } = this.#habits;
    const before = this.leaving.statements[this.leaving.statements.indexOf(statement) - 1];
    const apart = before && /\n[ \t]*\r?\n/.test(place.text.slice(before.range[1], span.start)) ? lineEnd : '';
    return (
      apart +
      indent +
      relocated(place.text, span, indent, substitution.edits(statement), [], indentAt(place.text, span.start))
    );
  }

  /** Behind the macros of the inner script, or in a script of its own. */
  #placed(statements: readonly string[], wanted: readonly WantedImport[], said: readonly Edit[]): Edit[] {
    const { definition } = this;
    const { sfc, text } = definition;
    const { lineEnd: nl } = this.#habits;
    const block = statements.map((s) => s.trimEnd()).join(nl);
    if (!sfc.setup) {
      const at = sfc.template?.start ?? 0;
      const lang = this.place.sfc.syntax.startsWith('ts') ? ' lang="ts"' : '';
      const imports = wanted.length > 0 ? `${importsOf(wanted, this.#habits).join(nl)}${nl}${nl}` : '';
      return [{ start: at, end: at, text: `<script setup${lang}>${nl}${imports}${block}${nl}</script>${nl}${nl}` }];
    }
    const { inner } = sfc.setup;
    const first = definition.declared[0]?.node;
    const importing = importingOf({ text, lowered: definition.lowered, request: { file: this.request.inner.file } });
    const body = importing.script.program.body.filter((s) => nodeWithin(s, inner));
    const scene = { ...importing, script: { ...importing.script, program: { ...importing.script.program, body } } };
    const imports = importEdits(scene, inner, wanted, [], this.#habits, { text });
    if (first) {
      const at = withComments(text, spanOf(first)).start;
      const indent = indentAt(text, at);
      return [
        ...imports,
        ...said,
        { start: at, end: at, text: `${block.slice(indent.length)}${nl}${isApart(text, at) ? nl : ''}${indent}` },
      ];
    }
    const end = inner.start + text.slice(inner.start, inner.end).trimEnd().length;
    // The last thing said may be gone: then the statements take its room.
    const room = said.find((e) => e.start <= end && e.end > end);
    const others = said.filter((e) => e !== room);
    if (room) return [...imports, ...others, { ...room, text: `${isApart(text, room.start) ? '' : nl}${block}${nl}` }];
    return [...imports, ...said, { start: end, end, text: `${nl}${nl}${block}` }];
  }
}

/** Whether a blank line stands before a place. */
function isApart(text: string, at: number): boolean {
  return /\n[ \t]*\r?\n[ \t]*$/.test(text.slice(0, at));
}

/** Names that mean something in the inner component. */
function namesOf({ lowered }: Definition): Set<string> {
  const names = new Set<string>();
  for (const { identifier } of lowered.scopes.references)
    names.add(String((identifier as { name?: unknown }).name).replace(/^props\./, ''));
  for (const { name } of lowered.definition.members) names.add(name);
  for (const { name } of lowered.definition.props) names.add(name);
  for (const name of lowered.imports) names.add(name);
  return names;
}
