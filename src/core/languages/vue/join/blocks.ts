/** Blocks of a Vue file that stand in files of their own: `<template src="./hive.html">`. Brought in, and taken out. */
import { textOf } from '../../../files/files.js';
import { basename, dirname, extname, join as joined } from '../../../files/paths.js';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { ProjectView } from '../../../language/project.js';
import { applyEdits, type Edit, type Span } from '../../../text/edits.js';
import { indentAt, lineEndOf, relocated } from '../../../text/layout.js';
import type { Joining } from '../../../language/joining.js';
import { attributeOf, parseSfc, type Block, type Sfc } from '../sfc.js';
import { isElement, spanOf } from '../markup.js';
import type { TemplateChildNode } from '../template.js';
import { literally } from '../../../text/pattern.js';
import { templateParser } from '../template.js';

/** Edits that bring every block of a file in; undefined where all of them stand in it. */
function broughtIn(
  project: ProjectView,
  sfc: Sfc,
): { readonly edits: readonly Edit[]; readonly sources: readonly string[] } | Problem | undefined {
  const nl = lineEndOf(sfc.text);
  const edits: Edit[] = [];
  const sources: string[] = [];
  for (const block of [sfc.template, sfc.script, ...sfc.styles]) {
    if (block?.src === undefined || /^[a-z]+:|^\/\//.test(block.src)) continue;
    const source = joined(dirname(sfc.path), block.src);
    const content = source === undefined ? undefined : textOf(project.files, source);
    const at = { path: sfc.path, span: { start: block.start, end: block.end } };
    if (source === undefined || content === undefined) return problem('join-missing', at, block.src);
    if (source.startsWith('..') || dirname(source) !== dirname(sfc.path)) return problem('join-folder', at, block.src);
    const kind = block.node.tag;
    const lang = extname(source).slice(1);
    const usual = { template: 'html', script: 'js', style: 'css' }[kind];
    const marked = block.lang === undefined && lang !== usual && lang !== 'mjs' ? ` lang="${lang}"` : '';
    const src = attributeOf(block.node, 'src')!;
    const inner = nl + (kind === 'template' ? markup(project, content.trimEnd()) : content.trimEnd()) + nl;
    edits.push({ start: src.loc.start.offset - 1, end: src.loc.end.offset, text: marked });
    const opening = openingEnd(sfc.text, block);
    const closed = sfc.text.slice(opening - 2, opening) === '/>';
    const slash = opening - 2 - (/\s*$/.exec(sfc.text.slice(0, opening - 2))?.[0].length ?? 0);
    if (closed) edits.push({ start: slash, end: block.end, text: `>${inner}</${kind}>` });
    else edits.push({ start: opening, end: block.end - `</${kind}>`.length, text: inner });
    sources.push(source);
  }
  return edits.length > 0 ? { edits, sources } : undefined;
}

/** Behind the `>` of a block's opening tag; its attributes hold none. */
function openingEnd(text: string, block: Block): number {
  return text.indexOf('>', block.start) + 1;
}

/** Markup one step in, but for what stands in it as it is shown. */
function markup(project: ProjectView, content: string): string {
  const unit = '  ';
  const parsed = templateParser(project.ports)?.parse(content, 'html');
  const fixed = parsed ? asWritten(parsed.root.children, content) : [];
  return unit + relocated(content, { start: 0, end: content.length }, unit, [], fixed, '');
}

/** The file as it would be with all of its blocks in it. */
export function whole(project: ProjectView, path: string): string | Problem {
  const file = project.source(path);
  if (isProblem(file)) return file;
  const sfc = parseSfc(file, project.ports);
  if (isProblem(sfc)) return sfc;
  const found = broughtIn(project, sfc);
  if (isProblem(found)) return found;
  return found ? applyEdits(file.text, found.edits) : file.text;
}

export function joinBlocks(project: ProjectView, path: string): Joining | Problem | undefined {
  const file = project.source(path);
  if (isProblem(file)) return file;
  const sfc = parseSfc(file, project.ports);
  if (isProblem(sfc)) return sfc;
  const found = broughtIn(project, sfc);
  if (!found || isProblem(found)) return found;
  const before = applyEdits(file.text, found.edits);
  const needed = found.sources.filter((source) => isNeeded(project, source, path));
  return {
    components: [basename(path).replace(/\.vue$/, '')],
    edits: new Map([[path, found.edits]]),
    created: new Map(),
    deleted: found.sources.filter((source) => !needed.includes(source)),
    notes: needed.map((source) => `${source} stays: other files name it as well`),
    before: new Map([[path, before]]),
  };
}

/** Whether a file other than `path` names a file. */
function isNeeded(project: ProjectView, source: string, path: string): boolean {
  const name = basename(source);
  const stem = name.replace(/\.[cm]?[jt]s$/, '');
  const asked = new RegExp(`['"/](?:${[name, stem].map((n) => literally(n)).join('|')})['"]`);
  return project.files
    .list()
    .some((other) => other !== path && other !== source && asked.test(textOf(project.files, other) ?? ''));
}

export function partBlocks(project: ProjectView, path: string): Joining | Problem {
  const file = project.source(path);
  if (isProblem(file)) return file;
  const sfc = parseSfc(file, project.ports);
  if (isProblem(sfc)) return sfc;
  const stem = path.replace(/\.vue$/, '');
  const edits: Edit[] = [];
  const created = new Map<string, string>();
  const { template, script, setup, text } = sfc;
  const out = (block: Block, extension: string, fixed: readonly Span[]) => {
    const content = text.slice(block.inner.start, block.inner.end);
    const first = block.inner.start + /^\s*/.exec(content)![0].length;
    const last = block.inner.start + content.trimEnd().length;
    const written = relocated(text, { start: first, end: last }, '', [], fixed, indentAt(text, first));
    created.set(stem + extension, written + lineEndOf(text));
    const opening = openingEnd(text, block);
    edits.push({ start: opening - 1, end: opening - 1, text: ` src="./${basename(stem)}${extension}"` });
    edits.push({ start: block.inner.start, end: block.inner.end, text: '' });
  };
  if (template && template.src === undefined && text.slice(template.inner.start, template.inner.end).trim())
    out(template, `.${template.lang ?? 'html'}`, asWritten(sfc.shown, text));
  if (script && !setup && script.src === undefined) out(script, `.${script.lang ?? 'js'}`, []);
  if (created.size === 0) return problem('part-nothing', { path });
  const existing = [...created.keys()].find((p) => project.files.read(p));
  if (existing !== undefined) return problem('target-exists', { path: existing }, existing);
  return {
    components: [basename(stem)],
    edits: new Map([[path, edits]]),
    created,
    deleted: [],
    notes: setup ? ['the script stays: Vue reads `<script setup>` only in the file itself'] : [],
    before: new Map([[path, text]]),
  };
}

/** What stands in `<pre>` and in attributes over several lines is content. */
function asWritten(nodes: readonly TemplateChildNode[], text: string): Span[] {
  return nodes.flatMap((node): Span[] => {
    if (!isElement(node)) return [];
    if (node.tag === 'pre' || node.tag === 'textarea') return [spanOf(node)];
    const values = node.props.map((p) => ({ start: p.loc.start.offset, end: p.loc.end.offset }));
    return [...values.filter((v) => text.slice(v.start, v.end).includes('\n')), ...asWritten(node.children, text)];
  });
}
