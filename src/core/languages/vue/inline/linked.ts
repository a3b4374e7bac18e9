/** What the host needs once a component stands in it: imports, registrations, declarations, styles. */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { TSESTree } from '@typescript-eslint/types';
import type { Variable } from '../../../script/scopes.js';
import { nodeWithin, spanOf } from '../../../script/walk.js';
import type { InlineRequest } from '../../../language/inlining.js';
import type { Edit, Span } from '../../../text/edits.js';
import { indentAt, reindent } from '../../../text/layout.js';
import { addedImports, droppedImports, importsOf, rebasedSource, type WantedImport } from '../../imports.js';
import { Unwritable } from '../../substitution.js';
import { pascal, propertyOf } from '../definition.js';
import { camelized } from '../markup.js';
import { readModuleTables } from '../../modules.js';
import { habitsOf, type Habits } from '../cut/habits.js';
import { goneRegistrations, importingOf, registration, unregistered, type Host } from '../cut/host.js';
import { hasAttribute } from '../sfc.js';
import type { Definition } from './definition.js';
import type { Place } from './place.js';

/** What a component declares, as the host's script writes it, without indentation. */
export interface Declared {
  readonly text: string;
  readonly option?: string;
}

/** Edits to the host beside the use; `use`: what goes, and what stands there then. */
export function linkHost(
  request: InlineRequest,
  definition: Definition,
  place: Place,
  declared: readonly Declared[],
  use: Edit,
): Edit[] | Problem {
  const habits = habitsOf(place.sfc, request.project.files);
  const host: Host = { text: place.text, lowered: place.lowered, request };
  const wanted = wantedImports(request, definition, place);
  if (isProblem(wanted)) return wanted;
  // In a text that is only for comparing, nothing is drawn.
  const styles = request.returnsEarly ? [] : movedStyles(definition, place, request);
  if (isProblem(styles)) return styles;
  const { definition: own } = place.lowered;
  const block = own.api === 'setup' ? place.sfc.setup : place.sfc.script;
  if (!block)
    return wanted.length + declared.length > 0 ? [newScript(place, wanted, declared, habits), ...styles] : styles;
  // What was passed stands in the new text, with the names that it reads.
  const written = namesIn([use.text, ...declared.map((d) => d.text)]);
  for (const name of [place.tag.tag, pascal(place.tag.tag), camelized(place.tag.tag)]) written.delete(name);
  const importing = importingOf(host, written);
  const body = importing.script.program.body.filter((s) => nodeWithin(s, block.inner));
  const scene = { ...importing, script: { ...importing.script, program: { ...importing.script.program, body } } };
  const dropped = droppedImports(importing, [use]);
  const edits = [...importEdits(scene, block.inner, wanted, dropped, habits, place), ...styles];
  if (own.api === 'setup') return [...edits, ...behind(place, declared, habits)];
  const unseen = own.options ? wanted.find((w) => !/^[A-Z]/.test(w.local)) : wanted[0];
  if (unseen)
    throw new Unwritable(`it needs "${unseen.local}", which the template of the host would not see`, place.use);
  if (!own.options) return edits;
  const names = wanted.map((w) => w.local).join(', ');
  const gone = goneRegistrations(host, 'components', [use]).filter(
    (p) => p.value.type !== 'Identifier' || !written.has(p.value.name),
  );
  const registered = names
    ? registration(host, own.options, names, gone, habits.lineEnd, habits)
    : unregistered(host, [use], ['components', 'directives', 'filters']);
  return [...edits, ...registered, ...intoOptions(place, own.options, declared, habits)];
}

/** Every word of new text, and what a tag with hyphens is called in the script. */
function namesIn(texts: readonly string[]): Set<string> {
  const words = texts.flatMap((text) => text.match(/[\p{L}_$][\p{L}\p{N}_$-]*/gu) ?? []);
  return new Set(words.flatMap((word) => [...word.split('-'), camelized(word), pascal(word)]));
}

/** What the code of the component imports and the host does not. */
function wantedImports(request: InlineRequest, definition: Definition, place: Place): WantedImport[] | Problem {
  const { lowered, sfc, path } = definition;
  const refuse = (name: string) => problem('inline-shadowed', { path: request.file.path, span: request.use }, name);
  const resolve = (from: string, source: string) => {
    const found = request.project.resolver.resolve(from, source);
    return 'path' in found ? found.path : source;
  };
  const kept: Span[] = [sfc.template!.inner, ...definition.declared.map((d) => spanOf(d.node))];
  const used = new Set<Variable>();
  for (const span of kept)
    for (const { resolved } of lowered.scopes.within(span))
      if (resolved && resolved.defs.length > 0 && lowered.scopes.isModuleLevel(resolved)) used.add(resolved);
  const tables = [sfc.script, sfc.setup].flatMap((b) =>
    b ? readModuleTables(b.script.program, definition.text).imports : [],
  );
  const hostTables = [place.sfc.script, place.sfc.setup].flatMap((b) =>
    b ? readModuleTables(b.script.program, place.text).imports : [],
  );
  const wanted: WantedImport[] = [];
  for (const variable of used) {
    const entry = tables.find((i) => i.local === variable.name);
    if (!entry)
      return problem(
        'inline-component',
        { path, span: request.component.span },
        request.component.name,
        'it shows itself',
      );
    const there = hostTables.find(
      (i) => i.imported === entry.imported && resolve(request.file.path, i.source) === resolve(path, entry.source),
    );
    if (there) {
      if (there.local !== variable.name) return refuse(variable.name);
      continue;
    }
    const { scopes, definition: host } = place.lowered;
    const taken = scopes.moduleScope.set.get(variable.name)?.defs.length ?? 0;
    if (
      taken > 0 ||
      scopes.references.some((r) => (r.identifier as { name?: unknown }).name === variable.name) ||
      host.members.some((m) => m.name === variable.name)
    )
      return refuse(variable.name);
    wanted.push({
      source: rebasedSource(entry.source, path, request.file.path),
      imported: entry.imported,
      local: variable.name,
      typeOnly: entry.typeOnly,
    });
  }
  return wanted;
}

export function importEdits(
  scene: Parameters<typeof addedImports>[0],
  inner: Span,
  wanted: readonly WantedImport[],
  dropped: readonly Edit[],
  habits: Habits,
  place: Pick<Place, 'text'>,
): Edit[] {
  if (wanted.length === 0) return [...dropped];
  const isThere = scene.script.program.body.some((s) => s.type === 'ImportDeclaration');
  const indent = /^(?:[ \t]*\r?\n)*([ \t]*)\S/.exec(place.text.slice(inner.start, inner.end))?.[1] ?? '';
  if (isThere) {
    return addedImports(scene, wanted, { ...habits, lineEnd: habits.lineEnd + indent }, dropped);
  }
  const start = inner.start + /^[ \t]*(?:\r?\n)?/.exec(place.text.slice(inner.start, inner.end))![0].length;
  const nl = habits.lineEnd;
  const lines = importsOf(wanted, habits).map((line) => indent + line + nl);
  return [...dropped, { start, end: start, text: lines.join('') + nl }];
}

function newScript(place: Place, wanted: readonly WantedImport[], declared: readonly Declared[], habits: Habits): Edit {
  const nl = habits.lineEnd;
  const at = place.sfc.template?.start ?? 0;
  const body = [importsOf(wanted, habits).join(nl), ...declared.map((d) => d.text)].filter(Boolean).join(nl + nl);
  return { start: at, end: at, text: `<script setup>${nl}${body}${nl}</script>${nl}${nl}` };
}

/** Declarations behind those of the setup. */
function behind(place: Place, declared: readonly Declared[], { lineEnd: nl, scriptIndent }: Habits): Edit[] {
  if (declared.length === 0) return [];
  const { inner } = place.sfc.setup!;
  const at = inner.start + place.text.slice(inner.start, inner.end).trimEnd().length;
  return [{ start: at, end: at, text: nl + nl + declared.map(({ text }) => indented(text, scriptIndent)).join(nl) }];
}

/** Members behind those that the options of the host have. */
function intoOptions(
  place: Place,
  options: TSESTree.ObjectExpression,
  declared: readonly Declared[],
  { lineEnd: nl, indent, scriptIndent, comma }: Habits,
): Edit[] {
  return [...new Set(declared.map((d) => d.option!))].map((option) => {
    const members = declared.filter((d) => d.option === option).map((d) => d.text);
    const value = propertyOf(options, option);
    const last = value?.type === 'ObjectExpression' ? value.properties.at(-1) : undefined;
    if (last) {
      const at = last.range[1];
      const to = indentAt(place.text, last.range[0]);
      return { start: at, end: at, text: members.map((text) => `,${nl}${indented(text, to)}`).join('') };
    }
    const outer = scriptIndent + indent;
    const written = members.map((text) => indented(text, outer + indent)).join(`,${nl}`);
    const end = options.properties.at(-1)?.range[1] ?? options.range[0] + 1;
    const lead = options.properties.length > 0 ? ',' : '';
    return { start: end, end, text: `${lead}${nl}${outer}${option}: {${nl}${written}${comma}${nl}${outer}}` };
  });
}

function indented(text: string, indent: string): string {
  return indent + reindent(text, '', indent);
}

/** Style blocks of the component, behind those of the host, where they reach nothing else there. */
function movedStyles(definition: Definition, place: Place, request: InlineRequest): Edit[] | Problem {
  const { sfc, text } = definition;
  if (sfc.styles.length === 0) return [];
  const template = place.sfc.template
    ? place.text.slice(place.sfc.template.inner.start, place.sfc.template.inner.end)
    : '';
  for (const block of sfc.styles) {
    const css = text.slice(block.inner.start, block.inner.end);
    const reaches = [...css.matchAll(/\.([A-Za-z_][\w-]*)/g)].find(([, name]) =>
      new RegExp(`(?<![\\w-])${name!}(?![\\w-])`).test(template),
    );
    const tags = hasAttribute(block.node, 'scoped') && /(?:^|[},])\s*[a-z][\w-]*[\s,{:]/.test(css);
    if (reaches ?? tags)
      return problem(
        'inline-component',
        { path: definition.path, span: request.component.span },
        request.component.name,
        'its styles would reach other parts of the host',
      );
  }
  const end = place.text.trimEnd().length;
  return [{ start: end, end, text: sfc.styles.map((b) => `\n\n${text.slice(b.start, b.end)}`).join('') }];
}
