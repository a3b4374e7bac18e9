/**
 * Writes the markup of a component in the place of a tag that shows it: what is passed in the place of what is taken,
 * what it declares in the function around, what it needs of its module beside that.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { ScriptScopes, type Scope, type Variable } from '../../../script/scopes.js';
import { bare, calleeName, isFunction, nodeWithin, spanOf, walk, within } from '../../../script/walk.js';
import type { Inlines, InlineRequest, Inlining } from '../../../language/inlining.js';
import type { Edit, Span } from '../../../text/edits.js';
import { indentAt, indentUnitOf, relocated, relocation, withComments } from '../../../text/layout.js';
import { applyEdits } from '../../../text/edits.js';
import { addedImports, droppedImports, wholeLines, wordsIn } from '../../imports.js';
import { isSet, Substitution, Unwritable, type Argument } from '../../substitution.js';
import { isHookName } from '../../../script/quiet.js';
import { habitsOf } from '../cut/habits.js';
import { isJsx, tagName } from '../markup.js';
import { parseFile } from '../source.js';
import { definitionOf, namesTaken, type Definition } from './definition.js';
import { needsOf } from './needs.js';
import { fixedIn, inMarkup, passedBy, type Passed, type Place } from './passed.js';
import { homeOf, type Home } from './home.js';
import { declaredIn, namesAround } from './names.js';
import { withoutComponent } from './without.js';

export const inlining: Inlines = {
  inline(request) {
    const definition = definitionOf(request.component, request.ports, request.returnsEarly);
    if (isProblem(definition)) return definition;
    const script = parseFile(request.file, request.ports);
    if (isProblem(script)) return script;
    const at = { path: request.file.path, span: request.use };
    const use = elementAt(script.program, request.use);
    if (!use) return problem('inline-use', at, request.component.name, 'it is no plain tag');
    const place: Place = {
      path: request.file.path,
      text: request.file.text,
      script,
      scopes: ScriptScopes.of(script),
      use,
    };
    try {
      return new Writing(request, definition, place).run();
    } catch (error) {
      if (!(error instanceof Unwritable)) throw error;
      return problem('inline-use', at, request.component.name, `it passes ${error.reason}`);
    }
  },

  without(component, ports, brought, shared) {
    const definition = definitionOf(component, ports, true);
    return isProblem(definition) ? definition : withoutComponent(definition, component.name, brought, shared);
  },
};

function elementAt(program: Node, span: Span): TSESTree.JSXElement | undefined {
  let found: TSESTree.JSXElement | undefined;
  walk(program, (node) => {
    if (node.range[0] > span.start || node.range[1] < span.end) return false;
    // `{<HiveRow />}` is a use with its braces.
    const inner = node.type === 'JSXExpressionContainer' ? bare(node.expression) : node;
    if (inner.type === 'JSXElement' && node.range[0] === span.start && node.range[1] === span.end) found ??= inner;
    return undefined;
  });
  return found;
}

class Writing {
  readonly #home: Home | undefined;
  readonly #indent: string;
  readonly #taken: Set<string>;

  constructor(
    readonly request: InlineRequest,
    readonly definition: Definition,
    readonly place: Place,
  ) {
    this.#home = homeOf(place);
    const unit = this.#home?.concise && definition.statements.length > 0 ? indentUnit(place) : '';
    this.#indent = indentAt(place.text, place.use.range[0]) + unit;
    this.#taken = namesAround(place);
  }

  run(): Inlining | Problem {
    const { request, definition, place } = this;
    const habits = habitsOf(place.path, place.text, place.script.program, request.project.files);
    const trouble = this.#homeTrouble();
    if (trouble) return trouble;
    const from = indentAt(definition.text, definition.shown.range[0]);
    const parens = this.#needsParens() ? habits.indent : '';
    const indentFor = (offset: number) => {
      const own = indentAt(definition.text, offset);
      const isStatement = definition.statements.some((s) => s.range[0] <= offset && s.range[1] >= offset);
      const base = isStatement ? (this.#home?.indent ?? '') : this.#indent + parens;
      const start = isStatement ? indentAt(definition.text, definition.statements[0]!.range[0]) : from;
      return base + (own.startsWith(start) ? own.slice(start.length) : '');
    };
    const passed = passedBy(place, indentFor, habits.indent, namesTaken(definition));
    this.#checkContent(passed);
    const shows = definition.returning ?? [definition.shown];
    const kept = [...shows.map(spanOf), ...definition.statements.map(spanOf), ...defaultsOf(definition, passed)];
    const needs = needsOf(request, definition, place, kept, (name) => this.#free(name));
    if (isProblem(needs)) return needs;
    const renamed = new Map([...needs.renamed, ...this.#clashes(passed)]);
    const substitution = new Substitution(
      definition.text,
      definition.scopes,
      (node) => this.#argument(node, passed),
      renamed,
      inMarkup(definition),
    );
    const shown = this.#shown(substitution, passed);
    const statements = definition.statements.map((s) => this.#statement(s, substitution));
    const edits = this.#placed(shown, statements, habits.semi, habits.lineEnd);
    const before = place.script.program.body.find((s) => nodeWithin(place.use, spanOf(s)))!;
    const start = withComments(place.text, spanOf(before)).start;
    const declared = needs.declarations.map((text) => text + habits.lineEnd + habits.lineEnd).join('');
    // What was passed stands in the new text, with the names that it reads.
    const words = wordsIn(edits);
    words.delete(tagName(place.use.openingElement.name).split('.')[0]!);
    const scene = { ...place, request, kept: words };
    return {
      edits: [
        ...edits,
        ...(declared ? [{ start, end: start, text: declared }] : []),
        ...addedImports(scene, needs.imports, habits, droppedImports(scene, [spanOf(place.use)])),
      ],
      ownEdits: needs.ownEdits,
      brought: needs.brought,
      notes: [
        ...[...renamed]
          .filter(([v, to]) => !definition.scopes.isImport(v) && v.name !== to)
          .map(([v, to]) => `${v.name} of ${request.component.name} is called ${to} now`),
        ...lostComments(definition, edits).map((c) => `gone with ${request.component.name}: ${c}`),
      ],
    };
  }

  /** Content between the tags that the component never shows would be lost, with all that it loads and does. */
  #checkContent(passed: Passed): void {
    const takes = new Set([...this.definition.props.values()].map((p) => p.name));
    if (passed.values.has('children') && !takes.has('children') && !this.definition.whole)
      throw new Unwritable('content that the component does not show', this.place.use);
  }

  #homeTrouble(): Problem | undefined {
    const { definition, request } = this;
    if (definition.statements.length === 0) return undefined;
    const at = { path: request.file.path, span: request.use };
    const home = this.#home;
    const refuse = (why: string) => problem('inline-use', at, request.component.name, why);
    if (!home) return refuse('it declares something, and no function stands around the use');
    const hook = definition.statements.some((s) => callsHook(s));
    if (hook && !home.isComponent) return refuse('it keeps a state, which every turn of the loop has for itself');
    if (hook && home.under !== undefined) return refuse(`it keeps a state, and is shown under ${home.under}`);
    if (hook && home.early) return refuse('it keeps a state, and the component around it returns before that');
    const isFunctions = definition.statements.every((s) => isHandler(s));
    if (home.under !== undefined && !isFunctions)
      return refuse(`it works something out, and is shown under ${home.under}`);
    return undefined;
  }

  #argument(node: Node, { values }: Passed): Argument | undefined {
    const { definition } = this;
    const { scopes, props, whole } = definition;
    const absent = (fallback: Node | undefined): Argument =>
      fallback ? asArgument(fallback, definition) : { kind: 'constant', value: undefined };
    if (
      node.type === 'MemberExpression' &&
      node.object.type === 'Identifier' &&
      whole &&
      scopes.variableOf(node.object) === whole
    ) {
      const name = (node.property as TSESTree.Identifier).name;
      return values.get(name) ?? absent(undefined);
    }
    if (node.type !== 'Identifier' && node.type !== 'JSXIdentifier') return undefined;
    const variable = scopes.referenceOf(node)?.resolved;
    const prop = variable ? props.get(variable) : undefined;
    if (!prop) return undefined;
    const value = values.get(prop.name);
    if (value && prop.default && value.kind === 'code' && !isSet(value.node))
      throw new Unwritable(`a value for ${prop.name} that can be missing`, node);
    return value && !(value.kind === 'constant' && value.value === undefined && prop.default)
      ? value
      : absent(prop.default);
  }

  /** Names that the component declares and that the host has already, or that would catch a name in what is passed. */
  #clashes(passed: Passed): Map<Variable, string> {
    const { definition } = this;
    const { scopes, fn, statements } = definition;
    const clashing = new Set<Variable>();
    for (const variable of declaredIn(definition)) {
      const isOuter = statements.some((s) => variable.identifiers.some((id) => nodeWithin(id, spanOf(s))));
      if (isOuter && variable.scope.block === fn && this.#taken.has(variable.name)) clashing.add(variable);
    }
    for (const { identifier } of scopes.within(spanOf(fn.body))) {
      const member = scopes.parentOf(identifier);
      const argument = this.#argument(identifier, passed) ?? (member && this.#argument(member, passed));
      if (argument?.kind !== 'code') continue;
      const free = argument.scopes.within(spanOf(argument.node)).map((r) => (r.identifier as { name?: unknown }).name);
      for (
        let scope: Scope | null = scopes.scopeAt(spanOf(identifier));
        scope && scope.block !== fn;
        scope = scope.upper
      )
        for (const variable of scope.variables)
          if (variable.defs.length > 0 && free.includes(variable.name)) clashing.add(variable);
    }
    return new Map([...clashing].map((variable) => [variable, this.#free(variable.name)]));
  }

  #free(name: string): string {
    const own = this.request.component.name;
    const longer = own[0]!.toLowerCase() + own.slice(1) + name[0]!.toUpperCase() + name.slice(1);
    const inside = new Set(declaredIn(this.definition).map((v) => v.name));
    for (let i = 1; ; i++) {
      const candidate = i === 1 ? longer : `${longer}${i}`;
      if (this.#taken.has(candidate) || inside.has(candidate)) continue;
      this.#taken.add(candidate);
      return candidate;
    }
  }

  #statement(statement: Node, substitution: Substitution): string {
    const { definition } = this;
    const span = withComments(definition.text, spanOf(statement));
    const indent = this.#home!.indent;
    const before = definition.statements[definition.statements.indexOf(statement) - 1];
    const apart = before && /\n[ \t]*\r?\n/.test(definition.text.slice(before.range[1], span.start));
    return (
      (apart ? '\n' : '') +
      indent +
      relocated(definition.text, span, indent, substitution.edits(statement), fixedIn(statement))
    );
  }

  /** Whether what is shown stands where an expression stands, over several lines. */
  #needsParens(): boolean {
    const { place, definition } = this;
    const parent = place.scopes.parentOf(place.use);
    if (!parent || isJsx(parent)) return false;
    return !this.#isInParens() && /\n/.test(definition.text.slice(...definition.shown.range));
  }

  #isInParens(): boolean {
    return /\(\s*$/.test(this.place.text.slice(0, this.place.use.range[0]));
  }

  /** The markup of the component as it stands in the place of the use. */
  #shown(substitution: Substitution, { key }: Passed): string {
    const { definition, place } = this;
    const parent = place.scopes.parentOf(place.use)!;
    const among = isJsx(parent);
    // What is decided not to return early does not.
    const left = definition.returning?.filter((s) => !substitution.isGone(s));
    if (left && left.length > 1) return called(definition, left, substitution, among);
    const parens = this.#needsParens();
    const indent = this.#indent + (parens ? indentUnit(place) : '');
    const settled = substitution.settle(definition.shown);
    if (settled.kind === 'argument') {
      const { argument } = settled;
      if (key) throw new Unwritable('a key to something that is no element', key);
      if (argument.kind === 'constant')
        return among
          ? typeof argument.value === 'string'
            ? `{${JSON.stringify(argument.value)}}`
            : ''
          : argument.value === undefined
            ? 'null'
            : JSON.stringify(argument.value);
      if (among)
        return (
          argument.content?.(definition.shown.range[0]) ??
          (isJsx(bare(argument.node))
            ? argument.write(definition.shown.range[0])
            : `{${argument.write(definition.shown.range[0])}}`)
        );
      return argument.write(definition.shown.range[0]);
    }
    const root = bare(settled.node);
    const write = (span: Span, edits: readonly Edit[]) =>
      relocated(definition.text, span, indent, edits, fixedIn(root), indentAt(definition.text, root.range[0]));
    const edits = substitution.edits(root);
    if (key) {
      if (
        root.type !== 'JSXElement' ||
        root.openingElement.attributes.some((a) => a.type === 'JSXAttribute' && a.name.name === 'key')
      )
        throw new Unwritable('a key to something that is no element', key);
      const at = root.openingElement.name.range[1];
      edits.push({ start: at, end: at, text: ` ${place.text.slice(...key.range)}` });
    }
    if (root.type === 'JSXFragment' && among) {
      const first = root.openingFragment.range[1];
      const last = root.closingFragment.range[0];
      const inside = definition.text.slice(first, last);
      // White space without a line end in it is shown.
      const start = first + /^\s*\n\s*|/.exec(inside)![0].length;
      const end = last - /\s*\n\s*$|$/.exec(inside)![0].length;
      return relocated(definition.text, { start, end }, indent, edits, fixedIn(root), indentAt(definition.text, start));
    }
    const text = write(spanOf(root), edits);
    // As formatters have it: the braces of an attribute are enough.
    const isInBraces = parent.type === 'JSXExpressionContainer';
    const [open, close] = isInBraces ? ['', ''] : ['(', ')'];
    if (isJsx(root)) return parens ? `${open}\n${indent}${text}\n${this.#indent}${close}` : text;
    const isNothing = root.type === 'Literal' && root.value === null;
    if (among) return isNothing ? '' : `{${text}}`;
    const isBound = isFunction(parent) || parent.type === 'ReturnStatement' || this.#isInParens();
    return isBound || isNothing ? text : `(${text})`;
  }

  /** The use replaced, the statements put before it. */
  #placed(shown: string, statements: readonly string[], semi: string, nl: string): Edit[] {
    const { place } = this;
    const parent = place.scopes.parentOf(place.use)!;
    const inBraces =
      parent.type === 'JSXExpressionContainer' &&
      parent.expression === place.use &&
      isJsx(place.scopes.parentOf(parent)!);
    const use = spanOf(inBraces ? parent : place.use);
    const edit: Edit =
      shown === '' && isJsx(parent)
        ? wholeLines(place.text, use)
        : { ...use, text: inBraces && !shown.startsWith('<') ? `{${shown}}` : shown };
    const home = this.#home;
    if (statements.length === 0 || !home) return [edit];
    const block = statements.join(nl);
    if (!home.concise) {
      const before = home.before?.range[1];
      if (before !== undefined) return [edit, { start: before, end: before, text: nl + block }];
      const at = withComments(place.text, spanOf(home.statement)).start;
      return [edit, { start: at, end: at, text: `${block.slice(home.indent.length)}${nl}${nl}${home.indent}` }];
    }
    const body = home.body;
    const unit = indentUnit(place);
    const outer = home.indent.slice(0, home.indent.length - unit.length);
    const text = applyEdits(
      place.text.slice(body.start, body.end),
      relocation(place.text, body, home.indent, [edit], fixedIn(home.fn), outer),
    );
    return [{ ...body, text: `{${nl}${block}${nl}${nl}${home.indent}return ${text}${semi || ';'}${nl}${outer}}` }];
  }
}

/** Comments in a component that stand nowhere in what is written, each on one line. */
function lostComments({ text, script, fn }: Definition, edits: readonly Edit[]): string[] {
  const plain = (piece: string) => piece.replace(/\s+/g, ' ').trim();
  const written = plain(edits.map((e) => e.text).join(' '));
  const own = script.comments.filter((c) => within(c, spanOf(fn))).map((c) => plain(text.slice(c.start, c.end)));
  return own.filter((comment) => !written.includes(comment));
}

/** A component that returns in several places, as a function that is called on the spot. */
function called({ text }: Definition, returning: readonly Node[], substitution: Substitution, among: boolean): string {
  const start = returning[0]!.range[0];
  const edits = returning
    .flatMap((s) => substitution.edits(s))
    .map((e) => ({ ...e, start: e.start - start, end: e.end - start }));
  const body = applyEdits(text.slice(start, returning.at(-1)!.range[1]), edits);
  const code = `(() => { ${body} })()`;
  return among ? `{${code}}` : code;
}

function indentUnit(place: Place): string {
  return indentUnitOf(place.text);
}

export function asArgument(node: Node, definition: Pick<Definition, 'text' | 'scopes'>): Argument {
  const inner = bare(node);
  if (inner.type === 'Literal' && (typeof inner.value === 'string' || typeof inner.value === 'boolean'))
    return { kind: 'constant', value: inner.value };
  const text = definition.text.slice(...node.range);
  return { kind: 'code', node, scopes: definition.scopes, source: definition.text, write: () => text };
}

/** Defaults of what the use does not pass. */
function defaultsOf({ props }: Definition, { values }: Passed): Span[] {
  return [...props.values()].flatMap((p) => (p.default && !values.has(p.name) ? [spanOf(p.default)] : []));
}

export function callsHook(statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (isFunction(node)) return false;
    if (node.type === 'CallExpression' && isHookName(calleeName(node))) found = true;
    return undefined;
  });
  return found;
}

function isHandler(statement: Node): boolean {
  if (statement.type === 'FunctionDeclaration') return true;
  return (
    statement.type === 'VariableDeclaration' && statement.declarations.every((d) => d.init && isFunction(bare(d.init)))
  );
}
