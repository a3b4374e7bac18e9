/** A tag goes through a component as content: it is written where the component is shown, with what that hands over. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Carries, Carrying, CarryRequest } from '../../language/carrying.js';
import { isStyleProp } from '../../markup/syntax.js';
import { isProblem, problem, type Problem } from '../../problems/problems.js';
import type { Node, ParsedScript } from '../../script/parser.js';
import { ScriptScopes, type Variable } from '../../script/scopes.js';
import { mayFail, runsSurely } from '../../script/surely.js';
import { attributeName, bare, nodeAt, nodeWithin, spanOf, within } from '../../script/walk.js';
import type { Edit, Span } from '../../text/edits.js';
import { indentAt, relocated } from '../../text/layout.js';
import {
  addedImports,
  droppedImports,
  rebasedSource,
  sourceFor,
  type Importing,
  type WantedImport,
} from '../imports.js';
import { readModuleTables } from '../modules.js';
import { habitsOf, type Habits } from './cut/habits.js';
import { useText } from './cut/write.js';
import { changedProps } from './home/props.js';
import { takenApart, type Definition } from './inline/definition.js';
import { callsHook } from './inline/inline.js';
import { fixedIn } from './inline/passed.js';
import { isJsx, tagName } from './markup.js';
import { parseFile } from './source.js';

export const carries: Carries = {
  together: true,
  asContent(request) {
    const { file, name, span } = request.component;
    const at = { path: file.path, span };
    const inner = takenApart(request.component, request.ports, true);
    if ('why' in inner) return problem('through-inner', at, name, inner.why);
    if (isProblem(inner)) return inner;
    const tag = nodeAt(inner.script.program, request.part);
    if (tag?.type !== 'JSXElement') return undefined;
    // Comments between its attributes go along only where its text does.
    if (!request.opens && inner.script.comments.some((c) => within(c, spanOf(tag)))) return undefined;
    const given = givenTo(request, inner, tag);
    return isProblem(given) ? given : new Through(request, inner, tag, given).run();
  },
};

/** What the tag is given, by what the component takes. */
interface Given {
  /** As the tag calls it. */
  readonly name: string;
  /** As the component is given it; undefined for what is the same everywhere. */
  readonly input?: string;
  readonly default?: Node | undefined;
  /** As it is written here. */
  readonly source: string;
}

function givenTo({ component }: CarryRequest, inner: Definition, tag: TSESTree.JSXElement): Given[] | Problem {
  const given: Given[] = [];
  const refuse = (node: Node) =>
    problem('through-needs', { path: inner.path, span: spanOf(node) }, component.name, inner.text.slice(...node.range));
  for (const attribute of tag.openingElement.attributes) {
    if (attribute.type !== 'JSXAttribute') return refuse(attribute);
    const { value } = attribute;
    const expression = value?.type === 'JSXExpressionContainer' ? value.expression : undefined;
    const source = inner.text.slice(...attribute.range);
    const name = attributeName(attribute);
    if (name === 'key' || name === 'ref') return refuse(attribute);
    if (!expression || bare(expression).type === 'Literal') {
      given.push({ name, source });
      continue;
    }
    const input = inputOf(inner, expression);
    if (!input) return refuse(expression);
    given.push({ name, input: input.name, default: input.default, source });
  }
  const [content] = tag.children;
  return content ? refuse(content) : given;
}

function inputOf({ scopes, props, whole }: Definition, node: Node): { name: string; default?: Node } | undefined {
  if (node.type === 'Identifier') {
    const variable = scopes.variableOf(node);
    return variable && props.get(variable);
  }
  const isMember = node.type === 'MemberExpression' && !node.computed && node.property.type === 'Identifier';
  if (!isMember || !whole || node.object.type !== 'Identifier') return undefined;
  return scopes.variableOf(node.object) === whole ? { name: (node.property as TSESTree.Identifier).name } : undefined;
}

/** A file with a tag that shows the component. */
interface Shown {
  readonly path: string;
  readonly text: string;
  readonly script: ParsedScript;
  readonly scopes: ScriptScopes;
  readonly habits: Habits;
}

class Through {
  readonly #habits: Habits;
  readonly #tag: string;

  constructor(
    readonly request: CarryRequest,
    readonly inner: Definition,
    readonly part: TSESTree.JSXElement,
    readonly given: readonly Given[],
  ) {
    const { path, text, script } = inner;
    this.#habits = habitsOf(path, text, script.program, request.project.files);
    this.#tag = tagName(part.openingElement.name);
  }

  run(): Carrying | Problem | undefined {
    const { request, inner, given } = this;
    const inputs = given.flatMap(({ input }) => input ?? []);
    const dropped = new Set(inputs.filter((name) => this.#isForPart(name)));
    const edits = new Map<string, Edit[]>();
    const add = (path: string, more: readonly Edit[]) => edits.set(path, [...(edits.get(path) ?? []), ...more]);
    const lazy = this.#workedOutAlways();
    if (lazy) return lazy;
    const own = this.#innerEdits(dropped);
    if (isProblem(own)) return own;
    let isHandedOver = inputs.length === 0;
    add(inner.path, own);
    for (const { file, span } of request.uses) {
      const shown = this.#shown(file);
      if (isProblem(shown)) return shown;
      const use = nodeAt(shown.script.program, span);
      if (use?.type !== 'JSXElement') return this.#refuse(file.path, span, 'shows it by no plain tag');
      if (this.#isHidden(shown, span)) return undefined;
      const put = this.#put(shown, use, dropped);
      if ('code' in put) return put;
      isHandedOver ||= use.openingElement.attributes.some(
        (a) => a.type === 'JSXAttribute' && inputs.includes(attributeName(a)),
      );
      add(file.path, [put]);
    }
    for (const path of new Set(request.uses.map((u) => u.file.path))) {
      const shown = this.#shown(request.uses.find((u) => u.file.path === path)!.file);
      if (!isProblem(shown) && path !== inner.path) add(path, this.#imported(shown));
    }
    if (!isHandedOver)
      return problem('through-idle', { path: inner.path, span: spanOf(this.part) }, request.component.name, inputs);
    return { edits, dropped: [...dropped], notes: this.#notes() };
  }

  /** A component that changes by itself renders what it writes, and leaves content that is the same as it was. */
  #notes(): string[] {
    const { name } = this.request.component;
    if (!this.inner.statements.some(callsHook)) return [];
    return [
      `what goes through ${name} is rendered with what it is written in, and no longer whenever ${name} changes by itself`,
    ];
  }

  /** Content is worked out where the component is shown, whether the component then shows it or not. */
  #workedOutAlways(): Problem | undefined {
    const { inner, part, request } = this;
    const { fn, scopes, path } = inner;
    if (!request.opens || (!inner.returning && runsSurely(part, fn, scopes))) return undefined;
    const own = takenApart(
      { file: request.component.file, name: this.#tag, span: { start: 0, end: 0 } },
      request.ports,
      true,
    );
    if ('why' in own || isProblem(own)) return undefined;
    const isOfModule = (node: Node) => isOfFile(own, node);
    if (![...own.statements, own.shown].some((node) => mayFail(node, isOfModule))) return undefined;
    return problem(
      'through-inner',
      { path, span: spanOf(part) },
      request.component.name,
      'it works out what it hands on only where it shows it, and that would be done always',
    );
  }

  #shown(file: CarryRequest['component']['file']): Shown | Problem {
    const script = parseFile(file, this.request.ports);
    if (isProblem(script)) return script;
    const { path, text } = file;
    const habits = habitsOf(path, text, script.program, this.request.project.files);
    return { path, text, script, scopes: ScriptScopes.of(script), habits };
  }

  #refuse(path: string, span: Span, why: string): Problem {
    return problem('through-use', { path, span }, this.request.component.name, why);
  }

  /** Whether the component reads an input for the tag alone. */
  #isForPart(name: string): boolean {
    const { props, whole, scopes } = this.inner;
    const uses: Node[] = [];
    const own = ([variable, prop]: [Variable, { name: string }]) => (prop.name === name ? [variable] : []);
    for (const variable of [...props].flatMap(own))
      uses.push(...variable.references.filter((r) => !r.init).map((r) => r.identifier));
    for (const { identifier } of whole?.references ?? []) {
      const member = scopes.parentOf(identifier);
      if (member?.type !== 'MemberExpression' || member.property.type !== 'Identifier') continue;
      if (member.property.name === name) uses.push(identifier);
    }
    return uses.every((use) => nodeWithin(use, spanOf(this.part)));
  }

  #innerEdits(dropped: ReadonlySet<string>): Edit[] | Problem {
    const { inner, part, request } = this;
    const { path, text, script, scopes, fn } = inner;
    const habits = this.#habits;
    const slot = request.slot ?? 'children';
    const isTaken = scopes
      .within(spanOf(fn))
      .some(({ identifier }) => 'name' in identifier && identifier.name === slot);
    if (isTaken)
      return problem(
        'through-inner',
        { path, span: spanOf(fn) },
        request.component.name,
        `it has something else that it calls ${slot}`,
      );
    const name = inner.whole && inner.props.size === 0 ? `${inner.whole.name}.${slot}` : slot;
    const parent = scopes.parentOf(part);
    const put = parent && isJsx(parent) ? this.#among(parent, `{${habits.inner}${name}${habits.inner}}`) : undefined;
    const outlet = put ?? { ...spanOf(part), text: name };
    const type = { name: slot, ...(habits.typed ? { type: 'ReactNode' } : {}) };
    const props = changedProps(inner, dropped, [type], habits);
    const gone = [spanOf(part), ...props.filter((e) => e.text === '')];
    // In the same file the tag is only written elsewhere.
    const isHere = request.uses.some((use) => use.file.path === path);
    const kept = new Set(isHere ? [this.#tag.split('.')[0]!] : []);
    const importing = { text, script, scopes, request: { file: { path } }, kept };
    const needless = droppedImports(importing, gone);
    const isKnown = (scopes.moduleScope.set.get('ReactNode')?.defs.length ?? 0) > 0;
    const wanted: WantedImport[] =
      habits.typed && !isKnown ? [{ source: 'react', imported: 'ReactNode', local: 'ReactNode', typeOnly: true }] : [];
    return [outlet, ...this.#exported(), ...props, ...addedImports(importing, wanted, habits, needless)];
  }

  /** The place of the tag among children; where it is the only one, with its parent in one line as formatters have it. */
  #among(parent: TSESTree.JSXElement | TSESTree.JSXFragment, outlet: string): Edit {
    const { inner, part } = this;
    const { text } = inner;
    const isOnly = parent.children.every((c) => (c as Node) === part || text.slice(...c.range).trim() === '');
    if (!isOnly || parent.type !== 'JSXElement' || !parent.closingElement) return { ...spanOf(part), text: outlet };
    const { openingElement: opening, closingElement: closing } = parent;
    const column = opening.range[0] - (text.lastIndexOf('\n', opening.range[0]) + 1);
    const tags = text.slice(...opening.range) + outlet + text.slice(...closing.range);
    const isShort =
      opening.attributes.length <= 1 && !tags.includes('\n') && column + tags.length <= this.#habits.width;
    return isShort
      ? { start: opening.range[1], end: closing.range[0], text: outlet }
      : { ...spanOf(part), text: outlet };
  }

  /** The tag's component, for the files that show this one. */
  #exported(): Edit[] {
    const { inner, request } = this;
    const isElsewhere = request.uses.some((use) => use.file.path !== inner.path);
    const variable = inner.scopes.moduleScope.set.get(this.#tag);
    const own = inner.script.program.body.find((s) => variable?.identifiers.some((id) => nodeWithin(id, spanOf(s))));
    return isElsewhere && own && !own.type.startsWith('Export') && !own.type.startsWith('Import')
      ? [{ start: own.range[0], end: own.range[0], text: 'export ' }]
      : [];
  }

  /** Whether the name of the tag means something else where the component is shown. */
  #isHidden({ path, script, scopes, text }: Shown, span: Span): boolean {
    const [base = ''] = this.#tag.split('.');
    const there = scopes.visibleIn(scopes.scopeAt(span), base);
    if (!there) return false;
    if (path === this.inner.path) return !scopes.isModuleLevel(there);
    const importing = { text, script, scopes, request: { file: { path } } };
    return !scopes.isModuleLevel(there) || !this.#hasSame(importing, this.#wanted(importing));
  }

  #imported({ path, text, script, scopes, habits }: Shown): Edit[] {
    const importing = { text, script, scopes, request: { file: { path } } };
    const wanted = this.#wanted(importing);
    if (this.#hasSame(importing, wanted)) return [];
    return addedImports(importing, [wanted], habits, []);
  }

  #wanted(importing: Importing): WantedImport {
    const { inner } = this;
    const { path } = importing.request.file;
    const [base = ''] = this.#tag.split('.');
    const entry = readModuleTables(inner.script.program, inner.text).imports.find((i) => i.local === base);
    const source = entry ? rebasedSource(entry.source, inner.path, path) : sourceFor(importing, path, inner.path);
    return { source, imported: entry?.imported ?? base, local: base, typeOnly: false };
  }

  /** Whether a file imports the same thing by that name already. */
  #hasSame({ script, text, request }: Importing, { local, imported, source }: WantedImport): boolean {
    const { resolver } = this.request.project;
    const target = (one: string) => {
      const found = resolver.resolve(request.file.path, one);
      return found.kind === 'file' ? found.path : one;
    };
    return readModuleTables(script.program, text).imports.some(
      (i) => i.local === local && i.imported === imported && target(i.source) === target(source),
    );
  }

  /** The use with the tag in it, and without what is no longer taken. */
  #put(shown: Shown, use: TSESTree.JSXElement, dropped: ReadonlySet<string>): Edit | Problem {
    const { text, habits, path } = shown;
    const { openingElement: opening } = use;
    const { slot } = this.request;
    if (opening.name.type !== 'JSXIdentifier')
      return this.#refuse(path, spanOf(use), `shows what it has (${text.slice(...opening.name.range)})`);
    if (shown.script.comments.some((c) => within(c, spanOf(opening))))
      return this.#refuse(path, spanOf(use), 'has comments between its attributes');
    const attributes = opening.attributes.filter((a) => a.type === 'JSXAttribute');
    if (attributes.length < opening.attributes.length)
      return this.#refuse(path, spanOf(use), 'hands on what it does not name (a spread)');
    if (
      slot === undefined &&
      text.slice(opening.range[1], use.closingElement?.range[0]).trim() !== '' &&
      !opening.selfClosing
    )
      return this.#refuse(path, spanOf(use), 'has content there already');
    const styled = attributes.find((a) => isStyleProp(attributeName(a)));
    if (styled && this.given.some((g) => g.input === 'className'))
      return this.#refuse(path, spanOf(styled), `has ${attributeName(styled)}, which is turned into className`);
    const span = spanOf(use);
    const margin = indentAt(text, span.start);
    const isBare = slot === undefined && this.#standsBare(shown, use);
    const outer = isBare ? margin + habits.indent : margin;
    const inner = outer + habits.indent;
    const tag = this.#written(shown, use, attributes, dropped, inner);
    if (typeof tag !== 'string') return tag;
    const nl = habits.lineEnd;
    const name = text.slice(...opening.name.range);
    const typed = opening.typeArguments ? text.slice(...opening.typeArguments.range) : '';
    const kept = attributes
      .filter((a) => !dropped.has(attributeName(a)))
      .map((a) => relocated(text, spanOf(a), isBare ? inner : indentAt(text, a.range[0]), [], fixedIn(a)));
    const added = slot === undefined ? [] : [`${slot}={${habits.inner}${tag}${habits.inner}}`];
    const column = isBare ? outer.length : span.start - (text.lastIndexOf('\n', span.start) + 1);
    const own = useText(name + typed, [...kept, ...added], undefined, { indent: outer, column }, habits);
    const opened = own.replace(/(\n[ \t]*)?[ \t]*\/>$/, '$1>');
    if (slot !== undefined)
      return { ...span, text: opening.selfClosing ? own : opened + text.slice(opening.range[1], span.end) };
    const whole = `${opened}${nl}${inner}${tag}${nl}${outer}</${name}>`;
    return { ...span, text: isBare ? `(${nl}${outer}${whole}${nl}${margin})` : whole };
  }

  /** Where tags over several lines are put in parentheses, and there are none yet. */
  #standsBare({ text, scopes }: Shown, use: TSESTree.JSXElement): boolean {
    const parent = scopes.parentOf(use);
    if (!parent || isJsx(parent) || parent.type === 'JSXExpressionContainer') return false;
    return !text.slice(0, use.range[0]).trimEnd().endsWith('(');
  }

  /** The tag as it is written where the component is shown. */
  #written(
    { path, text, habits }: Shown,
    use: TSESTree.JSXElement,
    attributes: readonly TSESTree.JSXAttribute[],
    dropped: ReadonlySet<string>,
    indent: string,
  ): string | Problem {
    const parts = [this.#tag];
    for (const { name, input, default: instead, source } of this.given) {
      if (input === undefined) {
        parts.push(source);
        continue;
      }
      const passed = attributes.find((a) => attributeName(a) === input);
      if (!passed) {
        if (!instead) continue;
        if (bare(instead).type !== 'Literal')
          return this.#refuse(path, spanOf(use), `leaves ${input} out, which it works out by itself then`);
        parts.push(`${name}={${habits.inner}${this.inner.text.slice(...instead.range)}${habits.inner}}`);
        continue;
      }
      const { value } = passed;
      const expression = value?.type === 'JSXExpressionContainer' ? bare(value.expression) : undefined;
      const isGiven = !expression || expression.type === 'Literal';
      if (instead && !isGiven)
        return this.#refuse(path, spanOf(passed), `may hand over no ${input}, for which it has a default`);
      if (expression && !dropped.has(input) && !isReadOnly(expression))
        return this.#refuse(path, spanOf(passed), `would work ${input} out twice: it uses that itself`);
      const given = value ? relocated(text, spanOf(value), indent, [], fixedIn(value)) : undefined;
      parts.push(given === undefined ? name : `${name}=${given}`);
    }
    return `<${parts.join(' ')} />`;
  }
}

/** Whether a name is that of an import, or of something that the file declares: it is there whenever it is read. */
function isOfFile({ scopes }: Definition, node: Node): boolean {
  const variable = node.type === 'Identifier' ? scopes.variableOf(node) : undefined;
  return variable !== undefined && scopes.isModuleLevel(variable);
}

/** What may be written twice: a value by its name. */
function isReadOnly(node: Node): boolean {
  if (node.type === 'MemberExpression') return !node.computed && isReadOnly(bare(node.object));
  return node.type === 'Identifier' || node.type === 'Literal' || node.type === 'ThisExpression';
}
