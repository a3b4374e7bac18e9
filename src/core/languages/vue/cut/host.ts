/** Edits to the host's file beside the use: the import of the new component, its registration, what nothing uses any more. */
import type { TSESTree } from '@typescript-eslint/types';
import { problem, type Problem } from '../../../problems/problems.js';
import { nodeWithin, spanOf } from '../../../script/walk.js';
import type { Edit, Span } from '../../../text/edits.js';
import { indentAt } from '../../../text/layout.js';
import { droppedImports, relativeSource, type Importing } from '../../imports.js';
import { keyName, propertyOf } from '../definition.js';
import type { Habits } from './habits.js';
import type { Scene } from './scene.js';

/** A file, as far as what it imports and registers goes. */
export type Host = Pick<Scene, 'text' | 'lowered'> & { readonly request: { readonly file: { readonly path: string } } };

/** The lowered file, for what is asked of its imports. */
export function importingOf(scene: Host, written: ReadonlySet<string> = new Set()): Importing {
  const { definition, script, scopes } = scene.lowered;
  // The lowering leaves `defineProps<{ hives: Hive[] }>()` out.
  const macros = [...definition.macros.values()].flatMap(
    (call) => scene.text.slice(...call.range).match(/[\w$]+/g) ?? [],
  );
  return { text: scene.text, script, scopes, request: scene.request, kept: new Set([...macros, ...written]) };
}

/** `removed`: what leaves the host. */
export function hostEdits(scene: Scene, habits: Habits, target: string, removed: readonly Span[]): Edit[] | Problem {
  const { name } = scene.request;
  const { quote: q, semi, lineEnd: nl } = habits;
  const line = `import ${name} from ${q}${relativeSource(scene.request.file.path, target)}${q}${semi}`;
  const { definition } = scene.lowered;
  const block = definition.api === 'setup' ? scene.sfc.setup : scene.sfc.script;
  if (!block) return newScript(scene, habits, line);
  if (block.src !== undefined)
    return problem('region-template', { path: scene.request.file.path }, 'has its script in another file');
  if (definition.api === 'options' && !definition.options)
    return problem(
      'region-template',
      { path: scene.request.file.path },
      'belongs to a component that is no plain object of options',
    );
  const dropped = droppedImports(importingOf(scene), removed);
  const gone = goneRegistrations(scene, 'components', removed);
  const edits = withImport(scene, block.inner, line, dropped, habits);
  if (definition.api === 'setup') return edits;
  return [
    ...edits,
    ...unregistered(scene, removed),
    ...registration(scene, definition.options!, name, gone, nl, habits),
  ];
}

function newScript(scene: Scene, habits: Habits, line: string): Edit[] {
  const nl = habits.lineEnd;
  const at = scene.sfc.template?.start ?? 0;
  const text =
    habits.vue.major >= 3
      ? `<script setup>${nl}${line}${nl}</script>${nl}${nl}`
      : `<script>${nl}${line}${nl}${nl}export default {${nl}${habits.indent}components: { ${scene.request.name} }${habits.comma}${nl}}${habits.semi}${nl}</script>${nl}${nl}`;
  return [{ start: at, end: at, text }];
}

/** The import behind the last one; imports that nothing uses any more are taken out around it. */
export function withImport(scene: Host, inner: Span, line: string, dropped: readonly Edit[], habits: Habits): Edit[] {
  const { text } = scene;
  const nl = habits.lineEnd;
  const imports = scene.lowered.script.program.body.filter(
    (s) => s.type === 'ImportDeclaration' && nodeWithin(s, inner),
  );
  const last = imports[imports.length - 1];
  if (!last) {
    const start = inner.start + /^[ \t]*(?:\r?\n)?/.exec(text.slice(inner.start, inner.end))![0].length;
    const head = text[start - 1] === '\n' ? '' : nl;
    return [
      ...dropped,
      {
        start,
        end: start,
        text: `${head}${habits.scriptIndent}${line}${nl}${/^\s*$/.test(text.slice(start, inner.end)) ? '' : nl}`,
      },
    ];
  }
  const end = last.range[1] + /^[ \t]*;?[ \t]*(?:\/\/[^\n\r]*)?/.exec(text.slice(last.range[1]))![0].length;
  const around = dropped.findIndex((e) => e.start <= end && end < e.end);
  if (around < 0) return [...dropped, { start: end, end, text: nl + indentAt(text, last.range[0]) + line }];
  const blank = /\n[ \t]*\r?\n$/.test(text.slice(dropped[around]!.start, dropped[around]!.end)) ? nl : '';
  return dropped.map((e, i) => (i === around ? { ...e, text: indentAt(text, last.range[0]) + line + nl + blank } : e));
}

/** Registrations of what only the region used. */
export function unregistered(
  scene: Host,
  removed: readonly Span[],
  kinds: readonly string[] = ['directives', 'filters'],
): Edit[] {
  const { text } = scene;
  const { options } = scene.lowered.definition;
  return kinds.flatMap((name): Edit[] => {
    const gone = goneRegistrations(scene, name, removed);
    const property = options?.properties.find((p) => p.type === 'Property' && keyName(p.key) === name);
    const value = options && propertyOf(options, name);
    if (!property || gone.length === 0 || value?.type !== 'ObjectExpression') return [];
    const staying = value.properties.filter((p) => !gone.includes(p as TSESTree.Property));
    if (staying.length > 0)
      return [
        {
          ...spanOf(value),
          text: listed(
            text,
            value,
            staying.map((p) => text.slice(...p.range)),
          ),
        },
      ];
    const tail = /^[ \t]*,?[ \t]*/.exec(text.slice(property.range[1]))![0];
    const head = /(?:[ \t]*\r?\n)*[ \t]*$/.exec(text.slice(0, property.range[0]))![0];
    return [{ start: property.range[0] - head.length, end: property.range[1] + tail.length, text: '' }];
  });
}

/** An object with other entries, laid out as it was. */
function listed(text: string, object: TSESTree.ObjectExpression, entries: readonly string[]): string {
  const written = text.slice(...object.range);
  const last = object.properties.at(-1);
  if (!written.includes('\n') || !last) return `{ ${entries.join(', ')} }`;
  const nl = written.includes('\r\n') ? '\r\n' : '\n';
  const indent = indentAt(text, last.range[0]);
  const comma = /,\s*\}$/.test(written) ? ',' : '';
  return `{${nl}${entries.map((e) => indent + e).join(`,${nl}`)}${comma}${nl}${indentAt(text, object.range[1] - 1)}}`;
}

export function goneRegistrations(scene: Host, option: string, removed: readonly Span[]): TSESTree.Property[] {
  const { options } = scene.lowered.definition;
  const registered = options && propertyOf(options, option);
  if (registered?.type !== 'ObjectExpression') return [];
  return registered.properties.filter((p): p is TSESTree.Property => {
    if (p.type !== 'Property' || p.value.type !== 'Identifier') return false;
    const variable = scene.lowered.scopes.moduleScope.set.get(p.value.name);
    const uses = variable?.references ?? [];
    return uses.length > 0 && uses.every((r) => removed.some((span) => nodeWithin(r.identifier, span)));
  });
}

export function registration(
  scene: Host,
  options: TSESTree.ObjectExpression,
  name: string,
  gone: readonly TSESTree.Property[],
  nl: string,
  habits: Habits,
): Edit[] {
  const { text } = scene;
  const components = propertyOf(options, 'components');
  if (components?.type !== 'ObjectExpression') {
    const indent = options.properties[0]
      ? indentAt(text, options.properties[0].range[0])
      : habits.scriptIndent + habits.indent;
    const named = options.properties.find((p) => p.type === 'Property' && keyName(p.key) === 'name');
    const entry = `components: { ${name} }`;
    const apart = text.slice(...options.range).includes('\n') ? nl + indent : ' ';
    if (named) return [{ start: named.range[1], end: named.range[1], text: `,${apart}${entry}` }];
    if (options.properties.length === 0) {
      const inner = habits.scriptIndent + habits.indent;
      const written = `{${nl}${inner}components: { ${name} }${habits.comma}${nl}${habits.scriptIndent}}`;
      return [{ ...spanOf(options), text: written }];
    }
    const start = options.range[0] + 1;
    if (!text.slice(...options.range).includes('\n')) return [{ start, end: start, text: ` ${entry},` }];
    const more = options.properties.length > 0 ? ',' : habits.comma;
    return [{ start, end: start, text: `${nl}${indent}${entry}${more}` }];
  }
  const staying = components.properties.filter((p) => !gone.includes(p as TSESTree.Property));
  const multiline = text.slice(...components.range).includes('\n');
  const last = components.properties[components.properties.length - 1];
  if (gone.length === 0 && last) {
    const indent = multiline ? nl + indentAt(text, last.range[0]) : ' ';
    return [{ start: last.range[1], end: last.range[1], text: `,${indent}${name}` }];
  }
  const entries = [...staying.map((p) => text.slice(...p.range)), name];
  return [{ ...spanOf(components), text: listed(text, components, entries) }];
}
