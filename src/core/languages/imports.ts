/** Imports of a script: repeated for a new file, added to the host, taken out where nothing is left to use them. */
import type { TSESTree } from '@typescript-eslint/types';
import { DefinitionType } from '@typescript-eslint/scope-manager';
import { dirname, extname, OUTSIDE, placeOf, relativeFrom } from '../files/paths.js';
import type { Edit, Span } from '../text/edits.js';
import { headEnd } from './head.js';
import { requiredBy, type Variable } from '../script/scopes.js';
import { isRelative, sourceAsked } from '../script/sources.js';
import { nodeWithin, spanOf, walk } from '../script/walk.js';
import type { Node, ParsedScript } from '../script/parser.js';
import type { ScriptScopes } from '../script/scopes.js';

/** A file with a script, as far as its imports go. */
export interface Importing {
  readonly text: string;
  readonly script: ParsedScript;
  readonly scopes: ScriptScopes;
  readonly request: { readonly file: { readonly path: string } };
  /** Names that are used where the scopes do not see it. */
  readonly kept?: ReadonlySet<string>;
  /** Where an import goes that is the first of its file, and what then stands around it, where that is not at the head of the text. */
  readonly firstImport?: { readonly offset: number; readonly around: readonly [string, string] } | undefined;
}

/** How a file writes its imports. */
export interface ImportHabits {
  readonly quote: "'" | '"';
  readonly semi: string;
  readonly pad: ' ' | '';
}

/** A source as written in the host's file, for a file in another folder. */
export function rebasedSource(source: string, hostPath: string, targetPath: string): string {
  if (!isRelative(source) || dirname(hostPath) === dirname(targetPath)) return source;
  const path = placeOf(hostPath, source);
  return path === undefined ? source : relativeFrom(dirname(OUTSIDE + targetPath), path);
}

/** Paths that code asks for wherever it stands (`import('./x')`, `new URL('./x', import.meta.url)`), as another folder writes them. */
export function rebasedLoads(root: Node, hostPath: string, targetPath: string): Edit[] {
  // What is imported at the head of a file is written for that file already.
  if (dirname(hostPath) === dirname(targetPath) || isImporting(root)) return [];
  const edits: Edit[] = [];
  walk(root, (node) => {
    const asked = sourceAsked(node);
    if (!asked) return;
    const source = rebasedSource(asked.value, hostPath, targetPath);
    if (source !== asked.value) edits.push({ start: asked.range[0] + 1, end: asked.range[1] - 1, text: source });
  });
  return edits;
}

/** The source by which one file names another with its extension. */
export function relativeSource(from: string, to: string): string {
  return relativeFrom(dirname(from), to);
}

/** What is left of a span when others are taken out of it. */
export function without(span: Span, taken: readonly Span[]): Span[] {
  const spans: Span[] = [];
  let at = span.start;
  for (const keep of [...taken].sort((a, b) => a.start - b.start)) {
    if (keep.start > at) spans.push({ start: at, end: keep.start });
    at = Math.max(at, keep.end);
  }
  spans.push({ start: at, end: span.end });
  return spans;
}

/** How files of the project write an import of `to` from `from`: with an extension where the host does so. */
export function sourceFor(scene: Importing, from: string, to: string): string {
  const written = scene.script.program.body
    .flatMap((s) => (s.type === 'ImportDeclaration' ? [s.source.value] : []))
    .find((source) => /^\.{1,2}\/.*\.[cm]?[jt]sx?$/.test(source));
  const relative = relativeFrom(dirname(from), to);
  // Only a module of code is known without its end.
  if (!/\.[cm]?[jt]sx?$/.test(to)) return relative;
  if (written === undefined) return relative.slice(0, relative.length - extname(to).length).replace(/\b\/index$/, '');
  return /\.jsx?$/.test(written) ? relative.replace(/\.tsx?$/, '.js') : relative;
}

/** Import lines for a new file at `path` that binds the given variables of the host's imports. */
export function repeatedImports(
  scene: Importing,
  variables: readonly Variable[],
  path: string,
  habits: ImportHabits,
): string[] {
  const lines: string[] = [];
  const wanted = new Set(variables);
  for (const statement of scene.script.program.body) {
    if (statement.type === 'ImportDeclaration') {
      const used = statement.specifiers.filter((s) => wanted.has(scene.scopes.variableOf(s.local)!));
      if (used.length > 0) lines.push(importLine(scene, statement, used, path, habits));
    } else if (statement.type === 'VariableDeclaration') {
      for (const declarator of statement.declarations) {
        const names = variables.filter(
          (v) => v.defs[0]?.type === DefinitionType.Variable && v.defs[0].node === declarator,
        );
        const required = requiredBy(declarator.init);
        if (names.length === 0 || !required) continue;
        const source = rebasedSource(required.source, scene.request.file.path, path);
        const pattern =
          declarator.id.type === 'Identifier' ? declarator.id.name : `{ ${names.map((v) => v.name).join(', ')} }`;
        const member = required.member ? `.${required.member}` : '';
        lines.push(
          `${statement.kind} ${pattern} = require(${habits.quote}${source}${habits.quote})${member}${habits.semi}`,
        );
      }
    }
  }
  return lines;
}

function importLine(
  scene: Importing,
  statement: TSESTree.ImportDeclaration,
  used: readonly TSESTree.ImportClause[],
  path: string,
  habits: ImportHabits,
): string {
  const parts: string[] = [];
  const named: string[] = [];
  for (const specifier of used) {
    if (specifier.type === 'ImportSpecifier') named.push(scene.text.slice(...specifier.range));
    else parts.push(scene.text.slice(...specifier.range));
  }
  if (named.length) parts.push(`{${habits.pad}${named.join(', ')}${habits.pad}}`);
  const source = rebasedSource(statement.source.value, scene.request.file.path, path);
  const kind = statement.importKind === 'type' ? 'type ' : '';
  const attributes = scene.text.slice(statement.source.range[1], statement.range[1]).replace(/;$/, '').trimEnd();
  return `import ${kind}${parts.join(', ')} from ${habits.quote}${source}${habits.quote}${attributes}${habits.semi}`;
}

/** Edits that drop the import bindings which only the removed spans used. */
export function droppedImports(scene: Importing, removed: readonly Span[]): Edit[] {
  const edits: Edit[] = [];
  const gone = (variable: Variable | undefined) => isNeedless(scene, removed, variable);
  for (const statement of scene.script.program.body) {
    if (statement.type === 'ImportDeclaration') {
      const going = statement.specifiers.filter((s) => gone(scene.scopes.variableOf(s.local)));
      if (going.length === 0) continue;
      if (going.length === statement.specifiers.length) edits.push(wholeLines(scene.text, spanOf(statement)));
      else edits.push(...droppedSpecifiers(scene, statement, new Set(going)));
    } else if (statement.type === 'VariableDeclaration' && statement.declarations.length === 1) {
      const declarator = statement.declarations[0];
      if (
        declarator.id.type === 'Identifier' &&
        requiredBy(declarator.init) &&
        gone(scene.scopes.variableOf(declarator.id))
      )
        edits.push(wholeLines(scene.text, spanOf(statement)));
    }
  }
  return edits;
}

/** Every word of new text, which may be the name of something that is imported. */
export function wordsIn(edits: readonly Edit[]): Set<string> {
  return new Set(edits.flatMap((e) => e.text.match(/[\p{L}_$][\p{L}\p{N}_$]*/gu) ?? []));
}

/** Whether an imported name is used in what is removed alone. */
export function isNeedless(scene: Importing, removed: readonly Span[], variable: Variable | undefined): boolean {
  if (variable === undefined || variable.name === 'React' || scene.kept?.has(variable.name)) return false;
  // A `require` counts its own declaration as a writing reference.
  const uses = variable.references.filter((r) => !r.init);
  return uses.length > 0 && uses.every((r) => removed.some((span) => nodeWithin(r.identifier, span)));
}

/** The clause between `import` and `from` with the names that stay; on one line where that is short enough. */
function droppedSpecifiers(
  scene: Importing,
  statement: TSESTree.ImportDeclaration,
  going: ReadonlySet<TSESTree.ImportClause>,
): Edit[] {
  const staying = statement.specifiers.filter((s) => !going.has(s));
  const named = staying.filter((s) => s.type === 'ImportSpecifier').map((s) => scene.text.slice(...s.range));
  const others = staying.filter((s) => s.type !== 'ImportSpecifier').map((s) => scene.text.slice(...s.range));
  const text = scene.text;
  const first = statement.specifiers[0]!;
  const open = text.indexOf('{', statement.range[0]);
  const braced = open >= 0 && open < statement.source.range[0];
  const start = first.type === 'ImportSpecifier' ? open : first.range[0];
  const end = braced ? text.indexOf('}', open) + 1 : statement.specifiers[statement.specifiers.length - 1]!.range[1];
  const braces = braced ? text.slice(open, end) : '';
  const pad = /^\{\s/.test(braces) ? ' ' : '';
  let list = `{${pad}${named.join(', ')}${pad}}`;
  const lineLength = start - statement.range[0] + list.length + statement.range[1] - end;
  if (braces.includes('\n') && lineLength > 80) {
    const indent = /\n([ \t]*)\S/.exec(braces)![1]!;
    const comma = /,\s*\}$/.test(braces) ? ',' : '';
    list = `{\n${named.map((n) => indent + n).join(',\n')}${comma}\n}`;
  }
  return [{ start, end, text: [...others, ...(named.length ? [list] : [])].join(', ') }];
}

/** Removal of a span with the line ends that only it fills; a blank line on both sides leaves one. */
export function wholeLines(text: string, span: Span): Edit {
  let start = span.start;
  while (start > 0 && /[ \t]/.test(text[start - 1]!)) start--;
  let end = span.end;
  while (/[ \t;]/.test(text[end] ?? '')) end++;
  if (start > 0 && text[start - 1] !== '\n') return { start: span.start, end: span.end, text: '' };
  if (text[end] === '\r') end++;
  if (text[end] === '\n') end++;
  else if (end < text.length) return { start: span.start, end: span.end, text: '' };
  const blankBefore =
    start === 0 || /(?:\n[ \t]*|\{[ \t]*|<script[^>]*>[ \t]*)\r?\n$/.test(text.slice(Math.max(0, start - 200), start));
  const blankAfter = /^[ \t]*\r?\n/.exec(text.slice(end));
  if (blankBefore && blankAfter) end += blankAfter[0].length;
  // At the end of the file, or of a block in it, no blank line is left behind.
  if (end === text.length || /^[ \t]*(?:<\/(?:script|style)|\})/.test(text.slice(end, end + 40)))
    while (start > 1 && /\n\r?\n?$/.test(text.slice(0, start)) && /\n[ \t]*\r?\n$/.test(text.slice(0, start)))
      start = text.lastIndexOf('\n', start - 2) + 1;
  return { start, end, text: '' };
}

/** Removal of several spans; neighbours go as one, so that no gap is left between them. */
export function removedLines(text: string, spans: readonly Span[]): Edit[] {
  const merged: Span[] = [];
  for (const span of [...spans].sort((a, b) => a.start - b.start)) {
    const last = merged.at(-1);
    if (last && /^[\s;]*$/.test(text.slice(last.end, span.start)))
      merged[merged.length - 1] = { start: last.start, end: span.end };
    else merged.push(span);
  }
  return merged.map((span) => wholeLines(text, span));
}

interface ImportPlace {
  readonly offset: number;
  readonly behind: 'imports' | 'directive' | 'nothing';
  readonly around?: readonly [string, string];
}

/** `import …`, and `const x = require('…')` at the head of a file. */
export function isImporting(statement: Node): boolean {
  if (statement.type === 'ImportDeclaration') return true;
  return statement.type === 'VariableDeclaration' && statement.declarations.some((d) => requiredBy(d.init));
}

/** Where a new import goes: behind the last import, else behind directives and the comment at the head. */
export function importPlace(scene: Importing): ImportPlace {
  const body = scene.script.program.body;
  let last: Span | undefined;
  for (const statement of body) if (isImporting(statement)) last = spanOf(statement);
  const directive = body.filter((s) => s.type === 'ExpressionStatement' && 'directive' in s && s.directive);
  if (last) return { offset: lineEndFrom(scene.text, last.end), behind: 'imports' };
  if (scene.firstImport) return { ...scene.firstImport, behind: 'nothing' };
  const after = directive[directive.length - 1];
  if (after) return { offset: lineEndFrom(scene.text, after.range[1]), behind: 'directive' };
  const head = headEnd(scene.script, scene.text);
  if (head > 0) return { offset: lineEndFrom(scene.text, head), behind: 'directive' };
  const shebang = /^(?:\uFEFF)?(?:#![^\n]*\n)?/.exec(scene.text)![0].length;
  return { offset: shebang, behind: 'nothing' };
}

/** `edits` with new import lines put in at a place, which may itself be among what goes. */
export function placedImport(
  scene: Importing,
  place: ImportPlace,
  edits: readonly Edit[],
  lines: readonly string[],
  nl: string,
): Edit[] {
  const block = lines.join(nl);
  const result = [...edits];
  const isGone = (e: Edit) => e.start <= place.offset && place.offset < e.end;
  // Where a fence is made for it, an import stands in front of what is changed there.
  const around = edits.findIndex((e) => isGone(e) && !(place.around && e.start === place.offset));
  if (around >= 0) {
    // The place itself goes: the new lines take its room, and a blank line that went with it comes back.
    const gone = edits[around]!;
    const blank = place.behind !== 'imports' || /\n[ \t]*\r?\n$/.test(scene.text.slice(gone.start, gone.end));
    result[around] = { ...gone, text: block + nl + (blank ? nl : '') };
    return result;
  }
  const [before, after] = place.around ?? ['', nl + nl];
  const text = { imports: nl + block, directive: nl + nl + block, nothing: before + block + after }[place.behind];
  return [{ start: place.offset, end: place.offset, text }, ...result];
}

function lineEndFrom(text: string, offset: number): number {
  const rest = /^[ \t]*;?[ \t]*(?:\/\/[^\n\r]*)?/.exec(text.slice(offset))![0];
  return offset + rest.length;
}

/** One import of values and one of types for each source, however many parts of a cut asked for it. */
export function mergedImports(lines: readonly string[], habits: ImportHabits): string[] {
  const pattern = /^import (type )?(?:([\w$]+)(?:\s*,\s*|(?= from )))?(?:\{\s*([^}]*?),?\s*\})?\s*from (.*)$/s;
  const groups = new Map<string, { readonly defaults: Set<string>; readonly names: Set<string>; lines: number }>();
  const read = (line: string) => {
    const [all, type = '', own, names, source] = pattern.exec(line) ?? [];
    return all === undefined ? undefined : { key: `${type}${source!}`, type, own, names, source: source! };
  };
  for (const line of lines) {
    const one = read(line);
    if (!one) continue;
    const group = groups.get(one.key) ?? { defaults: new Set(), names: new Set(), lines: 0 };
    groups.set(one.key, group);
    group.lines++;
    if (one.own !== undefined) group.defaults.add(one.own);
    for (const name of one.names?.split(',') ?? []) if (name.trim()) group.names.add(name.trim());
  }
  const written = new Set<string>();
  return lines.flatMap((line) => {
    const one = read(line);
    const group = one && groups.get(one.key)!;
    // Two names for one default are two imports.
    if (!group || group.lines === 1 || group.defaults.size > 1) return [line];
    if (written.has(one.key)) return [];
    written.add(one.key);
    const clause = group.names.size > 0 ? `{${habits.pad}${[...group.names].join(', ')}${habits.pad}}` : '';
    return [`import ${one.type}${[...group.defaults, clause].filter(Boolean).join(', ')} from ${one.source}`];
  });
}

export interface WantedImport {
  /** As the file writes it. */
  readonly source: string;
  /** `default`, `*`, or the exported name. */
  readonly imported: string;
  readonly local: string;
  readonly typeOnly: boolean;
}

/** `dropped`, and names brought in: into the braces of an import that is there, else by lines behind the others. */
export function addedImports(
  scene: Importing,
  wanted: readonly WantedImport[],
  habits: ImportHabits & { readonly lineEnd: string },
  dropped: readonly Edit[],
): Edit[] {
  let edits = [...dropped];
  const lines: WantedImport[] = [];
  for (const entry of wanted) {
    const last = entry.imported === 'default' || entry.imported === '*' ? undefined : lastNamed(scene, entry);
    const goes = last && edits.find((e) => e.start <= last.range[0] && e.end >= last.range[1]);
    // Other names of the import stay.
    const left = goes && /\s*\}$/.exec(goes.text);
    if (left) {
      const text = `${goes.text.slice(0, left.index)}, ${clauseOf(entry)}${left[0]}`;
      edits = edits.map((e) => (e === goes ? { ...e, text } : e));
    } else if (last && !goes) edits.push({ start: last.range[1], end: last.range[1], text: `, ${clauseOf(entry)}` });
    else lines.push(entry);
  }
  const written = importsOf(lines, habits);
  return written.length > 0 ? placedImport(scene, importPlace(scene), edits, written, habits.lineEnd) : edits;
}

function clauseOf({ imported, local }: WantedImport): string {
  return imported === local ? local : `${imported} as ${local}`;
}

/** The last name in braces of an import from the same source. */
function lastNamed(scene: Importing, { source, typeOnly }: WantedImport): TSESTree.ImportSpecifier | undefined {
  for (const statement of scene.script.program.body) {
    if (statement.type !== 'ImportDeclaration' || statement.source.value !== source) continue;
    if ((statement.importKind === 'type') !== typeOnly) continue;
    const last = statement.specifiers.at(-1);
    if (last?.type === 'ImportSpecifier') return last;
  }
  return undefined;
}

/** Import lines, one for each source. */
export function importsOf(wanted: readonly WantedImport[], { quote, semi, pad }: ImportHabits): string[] {
  const groups = new Map<string, WantedImport[]>();
  for (const entry of wanted) {
    const key = `${entry.typeOnly ? 'type ' : ''}${entry.source}`;
    groups.set(key, [...(groups.get(key) ?? []), entry]);
  }
  return [...groups.values()].flatMap((entries) => {
    const { source, typeOnly } = entries[0]!;
    const line = (clause: string) => `import ${typeOnly ? 'type ' : ''}${clause} from ${quote}${source}${quote}${semi}`;
    const all = entries.filter((e) => e.imported === '*').map((e) => line(`* as ${e.local}`));
    const main = entries.filter((e) => e.imported === 'default').map((e) => e.local);
    const named = entries.filter((e) => e.imported !== '*' && e.imported !== 'default').map(clauseOf);
    const parts = [...main, ...(named.length > 0 ? [`{${pad}${named.join(', ')}${pad}}`] : [])];
    return parts.length > 0 ? [...all, line(parts.join(', '))] : all;
  });
}
