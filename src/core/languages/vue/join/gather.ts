/**
 * Components whose template stands in a string or in a page, each written as one file. The script keeps what registers
 * and mounts them, the page an empty place to mount in.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { componentNameFromFile, dirname } from '../../../files/paths.js';
import { textOf } from '../../../files/files.js';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { ProjectView } from '../../../language/project.js';
import { isScriptError, type Node } from '../../../script/parser.js';
import { ScriptScopes, type Variable } from '../../../script/scopes.js';
import { nodeWithin, spanOf, walk } from '../../../script/walk.js';
import { applyEdits, type Edit, type Span } from '../../../text/edits.js';
import { indentAt, indentUnitOf, lineEndOf, relocated, withComments } from '../../../text/layout.js';
import { droppedImports, relativeSource, repeatedImports, type Importing, wholeLines } from '../../imports.js';
import { keyName, propertyOf } from '../definition.js';
import { definedIn, type Defined } from './definitions.js';
import { templateOf, type ScriptText, type Templates } from './template-of.js';
import { compilerOptions, obstacleTo } from './obstacles.js';
import { isOldVue, isVueParts, usesVue, vueImport, WITH_COMPILER } from './loaded.js';

export interface GatheredScript {
  readonly edits: readonly Edit[];
  readonly created: ReadonlyMap<string, string>;
  readonly before: ReadonlyMap<string, string>;
  readonly components: readonly string[];
  /** Selectors of templates that are in files now. */
  readonly taken: readonly string[];
}

const DROPPED = new Set(['template', 'el', 'delimiters', 'compilerOptions']);

export function gather(
  project: ProjectView,
  script: ScriptText,
  templates: Templates,
): GatheredScript | Problem | undefined {
  const parsed = project.ports.script.parse(script.text, script.typed ? 'ts' : 'js');
  if (isScriptError(parsed)) return undefined;
  const scopes = new ScriptScopes(parsed);
  const found: { readonly defined: Defined; readonly template: string; readonly selector: string | undefined }[] = [];
  const options = compilerOptions(parsed);
  for (const defined of definedIn(parsed, scopes)) {
    const template = templateOf(defined, script, templates, options);
    if (isProblem(template)) return template;
    if (template) found.push({ defined, ...template });
  }
  if (found.length === 0) return undefined;
  for (const { defined } of found) {
    const obstacle = obstacleTo(defined, script, scopes);
    if (obstacle) return obstacle;
  }
  const gathering = new Gathering(project, script, {
    text: script.text,
    script: parsed,
    scopes,
    request: { file: script },
  });
  for (const { defined } of found) gathering.name(defined);
  for (const { defined, template } of found) {
    const trouble = gathering.write(defined, template);
    if (trouble) return trouble;
  }
  const edits = gathering.edits();
  if (isProblem(edits)) return edits;
  return {
    edits: edits.map((e) => ({ ...e, start: e.start + script.offset, end: e.end + script.offset })),
    created: gathering.created,
    before: gathering.before,
    components: [...gathering.names.values()],
    taken: found.flatMap((f) => f.selector ?? []),
  };
}

class Gathering {
  readonly names = new Map<Defined, string>();
  readonly created = new Map<string, string>();
  readonly before = new Map<string, string>();
  readonly #files = new Map<Defined, string>();
  readonly #moved = new Map<TSESTree.ProgramStatement, Defined>();
  readonly #nl: string;
  readonly #unit: string;

  constructor(
    readonly project: ProjectView,
    readonly script: ScriptText,
    readonly importing: Importing,
  ) {
    this.#nl = lineEndOf(script.text);
    // A script in a page stands indented as a whole.
    this.#unit = indentUnitOf(textOf(project.files, script.path) ?? script.text);
  }

  name(defined: Defined): void {
    // A page has a root of its own, which is called as the page is; `App` belongs to the entry.
    const own = componentNameFromFile(this.script.path);
    const isEntry = /(?:^|\/)(?:index|main|app)\.\w+$/i.test(this.script.path);
    const base = defined.form === 'root' && !isEntry ? own : defined.name || own;
    const dir = dirname(this.script.path);
    const taken = new Set([...this.project.files.list(), ...this.#files.values()].map((p) => p.toLowerCase()));
    for (let i = 1; ; i++) {
      const name = i === 1 ? base : `${base}${i}`;
      const path = `${dir ? `${dir}/` : ''}${name}.vue`;
      if (taken.has(path.toLowerCase())) continue;
      this.names.set(defined, name);
      this.#files.set(defined, path);
      return;
    }
  }

  /** What a component needs of the top of the script, with the statements behind it. */
  #needs(span: Span, seen = new Set<Variable>()): Set<Variable> {
    const { scopes } = this.importing;
    for (const { resolved } of scopes.within(span)) {
      if (!resolved || resolved.defs.length === 0 || !scopes.isModuleLevel(resolved) || seen.has(resolved)) continue;
      seen.add(resolved);
      const own = this.#componentOf(resolved);
      const statement = this.#statementOf(resolved);
      if (!own && statement && !this.#isImported(resolved)) this.#needs(spanOf(statement), seen);
    }
    return seen;
  }

  #componentOf(variable: Variable): Defined | undefined {
    const statement = this.#statementOf(variable);
    return [...this.names.keys()].find((d) => d.form === 'variable' && d.statement === statement);
  }

  #statementOf(variable: Variable): TSESTree.ProgramStatement | undefined {
    const at = variable.identifiers[0];
    return at && this.importing.script.program.body.find((s) => nodeWithin(at, spanOf(s)));
  }

  /** Imported, or taken out of the global `Vue`. */
  #isImported(variable: Variable): boolean {
    return this.importing.scopes.isImport(variable) || isVueParts(this.#statementOf(variable));
  }

  write(defined: Defined, template: string): Problem | undefined {
    const { text, typed } = this.script;
    const needs = [...this.#needs(defined.whole)];
    const along = this.#goAlong(defined, needs);
    if (isProblem(along)) return along;
    const imports = this.#importsOf(defined, needs);
    const statements = along.map((s) => relocated(text, withComments(text, spanOf(s)), '', [], stringsIn(s)));
    const lang = typed ? ' lang="ts"' : '';
    const nl = this.#nl;
    const code = [imports.join(nl), ...statements, `export default ${this.#objectText(defined)};`];
    const blocks = [
      ['script', lang, code.filter(Boolean).join(nl + nl)],
      ['template', '', laidOut(template, this.#unit, nl)],
    ];
    const target = this.#files.get(defined)!;
    this.created.set(
      target,
      blocks.map(([tag, on, inner]) => `<${tag}${on}>${nl}${inner}${nl}</${tag}>${nl}`).join(nl),
    );
    // The same from the pieces as they stand, for the proof.
    const object = applyEdits(text.slice(defined.whole.start, defined.whole.end), this.#dropped(defined));
    const raw = [...imports, ...along.map((s) => text.slice(...s.range)), `export default ${object}`].join('\n');
    this.before.set(target, `<template>${template}</template><script${lang}>${raw}</script>`);
    return undefined;
  }

  #importsOf(defined: Defined, needs: readonly Variable[]): string[] {
    const { scopes } = this.importing;
    const target = this.#files.get(defined)!;
    const imported = needs.filter((v) => scopes.isImport(v));
    const repeated = repeatedImports(this.importing, imported, target, { quote: "'", semi: ';', pad: ' ' });
    return [
      ...vueImport(needs.filter((v) => isVueParts(this.#statementOf(v))).map((v) => v.name)),
      ...(usesVue(scopes, defined.whole) ? ["import * as Vue from 'vue';"] : []),
      ...repeated.map((line) =>
        line.replace(/(['"])([^'"]*)\1;$/, (all, _, from: string) => (WITH_COMPILER.test(from) ? "'vue';" : all)),
      ),
      ...needs.flatMap((v) => {
        const other = this.#componentOf(v);
        if (!other || other === defined) return [];
        return [`import ${v.name} from '${relativeSource(target, this.#files.get(other)!)}';`];
      }),
    ];
  }

  /** Statements that only this component needs, in their order. */
  #goAlong(defined: Defined, needs: readonly Variable[]): TSESTree.ProgramStatement[] | Problem {
    const { path, offset } = this.script;
    const along = new Set<TSESTree.ProgramStatement>();
    for (const variable of needs) {
      const statement = this.#statementOf(variable);
      if (!statement || this.#isImported(variable) || this.#componentOf(variable)) continue;
      const taker = this.#moved.get(statement) ?? defined;
      const span = { start: statement.range[0] + offset, end: statement.range[1] + offset };
      if (statement.type === 'ExportNamedDeclaration' || taker !== defined)
        return problem('join-shared', { path, span }, variable.name);
      this.#moved.set(statement, defined);
      along.add(statement);
    }
    return this.importing.script.program.body.filter((s) => along.has(s));
  }

  /** The object without what a file says by itself, at the margin. */
  #objectText(defined: Defined): string {
    const { text } = this.script;
    const edits = this.#dropped(defined).map((e) => ({
      ...e,
      start: e.start + defined.whole.start,
      end: e.end + defined.whole.start,
    }));
    return relocated(text, defined.whole, '', edits, stringsIn(defined.object));
  }

  #dropped({ object, whole }: Defined): Edit[] {
    const { properties } = object;
    const isDropped = (p: Node) => p.type === 'Property' && DROPPED.has(keyName(p.key) ?? '');
    const edits: Edit[] = [];
    const data = propertyOf(object, 'data');
    // A component's data is made anew for each of its uses.
    if (data?.type === 'ObjectExpression') {
      const { start, end } = spanOf(data);
      edits.push({ start, end: start, text: '() => (' }, { start: end, end, text: ')' });
    }
    const staying = properties.filter((p) => !isDropped(p));
    if (staying.length === 0) edits.push({ ...spanOf(object), text: '{}' });
    else
      properties.forEach((property, i) => {
        if (!isDropped(property)) return;
        const next = properties[i + 1];
        const isTail = properties.slice(i).every(isDropped);
        if (!isTail) edits.push({ start: property.range[0], end: next!.range[0], text: '' });
        else if (!properties[i - 1] || !isDropped(properties[i - 1]!))
          edits.push({
            start: properties[i - 1]!.range[1],
            end: properties[properties.length - 1]!.range[1],
            text: '',
          });
      });
    return edits.map((e) => ({ ...e, start: e.start - whole.start, end: e.end - whole.start }));
  }

  /** Edits of the script: imports instead of objects. */
  edits(): Edit[] | Problem {
    const { script, importing } = this;
    const edits: Edit[] = [];
    const lines: string[] = [];
    const gone: Span[] = [];
    for (const [defined, name] of this.names) {
      const source = relativeSource(script.path, this.#files.get(defined)!);
      const isDefault = defined.statement.type === 'ExportDefaultDeclaration';
      if (isDefault && this.names.size === 1) {
        edits.push({ ...spanOf(defined.statement), text: `export { default } from '${source}';` });
        gone.push(spanOf(defined.statement));
        continue;
      }
      if (defined.form === 'variable') {
        const local = variableName(defined.statement);
        const isExported = defined.statement.type === 'ExportNamedDeclaration';
        lines.push(`import ${local} from '${source}';`);
        edits.push(
          isExported
            ? { ...spanOf(defined.statement), text: `export { ${local} };` }
            : wholeLines(script.text, withComments(script.text, spanOf(defined.statement))),
        );
        gone.push(spanOf(defined.statement));
        continue;
      }
      lines.push(`import ${name} from '${source}';`);
      const el = propertyOf(defined.object, 'el');
      const isOld = script.text.slice(0, defined.whole.start).trimEnd().endsWith('Vue(');
      const place = isOld && el ? `el: ${script.text.slice(...el.range)}, ` : '';
      edits.push({ ...defined.whole, text: isOld ? `{ ${place}render: (h) => h(${name}) }` : name });
      gone.push(defined.whole);
    }
    for (const statement of this.#moved.keys()) {
      edits.push(wholeLines(script.text, withComments(script.text, spanOf(statement))));
      gone.push(spanOf(statement));
    }
    const isGone = (node: Node) => gone.some((span) => nodeWithin(node, span));
    for (const [statement, taker] of this.#moved) {
      const used = importing.scopes.moduleScope.variables
        .filter((v) => this.#statementOf(v) === statement)
        .find((v) => v.references.some((r) => !isGone(r.identifier)));
      const span = { start: statement.range[0] + script.offset, end: statement.range[1] + script.offset };
      if (used)
        return problem('join-shared', { path: script.path, span }, `${used.name} (for ${this.names.get(taker)!})`);
    }
    const { changes, head } = this.#imports(lines, gone);
    const all = [...edits, ...changes];
    return head ? [...all, this.#placed(head, all)] : all;
  }

  /** Imports of the new files behind the others; what was taken out of the global `Vue` is imported. */
  #imports(
    lines: readonly string[],
    gone: readonly Span[],
  ): { readonly changes: readonly Edit[]; readonly head: string } {
    const isGone = (node: Node) => gone.some((span) => nodeWithin(node, span));
    const { text } = this.script;
    const { scopes, script } = this.importing;
    const edits: Edit[] = [];
    const head = [...lines];
    // The build with a compiler in it is needed no more.
    for (const statement of script.program.body)
      if (statement.type === 'ImportDeclaration' && WITH_COMPILER.test(statement.source.value))
        edits.push({ ...spanOf(statement.source), text: "'vue'" });
    for (const statement of script.program.body) {
      if (!isVueParts(statement)) continue;
      const used = scopes.moduleScope.variables.filter(
        (v) => this.#statementOf(v) === statement && v.references.some((r) => !r.init && !isGone(r.identifier)),
      );
      head.unshift(...vueImport(used.map((v) => v.name)));
      edits.push(wholeLines(text, spanOf(statement)));
    }
    const isOutside = (r: { identifier: Node }) =>
      !isGone(r.identifier) && !edits.some((e) => nodeWithin(r.identifier, e));
    if (scopes.unresolved().some((r) => (r.identifier as { name?: string }).name === 'Vue' && isOutside(r)))
      head.unshift(isOldVue(text) ? "import Vue from 'vue';" : "import * as Vue from 'vue';");
    const dropped = droppedImports(this.importing, gone);
    const kept = edits.filter((e) => !dropped.some((d) => d.start <= e.start && e.end <= d.end));
    return { changes: [...kept, ...dropped], head: head.join(this.#nl) };
  }

  /** The new imports behind those that stay, in front of everything where none does. */
  #placed(head: string, edits: readonly Edit[]): Edit {
    const { text } = this.script;
    const nl = this.#nl;
    const { body } = this.importing.script.program;
    const isFree = (at: number) => !edits.some((e) => e.start < at && at < e.end);
    const isGone = (s: Node) => edits.some((e) => e.start <= s.range[0] && e.end >= s.range[1]);
    const imports = body.filter((s) => s.type === 'ImportDeclaration' && !isGone(s));
    const last = imports[imports.length - 1];
    const first = body[0]!.range[0];
    const indent = indentAt(text, last?.range[0] ?? first);
    const lines = head.split(nl).join(nl + indent);
    if (last) return { start: last.range[1], end: last.range[1], text: nl + indent + lines };
    if (isFree(first)) return { start: first, end: first, text: lines + nl + nl + indent };
    // The lines at the top go: in their place.
    const top = edits.find((e) => e.start <= first && first < e.end)!;
    const isApart = /^[ \t]*\r?\n/.test(text.slice(top.end));
    return { start: top.start, end: top.start, text: indent + lines + nl + (isApart ? '' : nl) };
  }
}

/** Text whose lines are content. */
function stringsIn(node: Node): Span[] {
  const found: Span[] = [];
  walk(node, (n) => void (n.type === 'TemplateElement' && found.push(spanOf(n))));
  return found;
}

function variableName(statement: TSESTree.ProgramStatement): string {
  const declaration = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
  const id = declaration?.type === 'VariableDeclaration' ? declaration.declarations[0]?.id : undefined;
  return id?.type === 'Identifier' ? id.name : '';
}

/** The lines of a template, one step in; as they are where white space is content. */
export function laidOut(template: string, unit: string, nl: string): string {
  if (/<(?:pre|textarea)\b/i.test(template)) return template.replace(/^[ \t]*\r?\n|\r?\n[ \t]*$/g, '');
  const lines = template.replace(/^(?:[ \t]*\r?\n)+|\s+$/g, '').split(/\r?\n/);
  const margins = lines.filter((l, i) => l.trim() && (i > 0 || /^\s/.test(l))).map((l) => /^[ \t]*/.exec(l)![0].length);
  const least = Math.min(...margins, Infinity);
  return lines
    .map((l) => (l.trim() ? unit + (/^\s/.test(l) ? l.slice(Math.min(least, /^[ \t]*/.exec(l)![0].length)) : l) : ''))
    .join(nl);
}
