/** Writing the new component and its use, in the manner of the project. */
import { walkMarkup } from '../../../markup/walk.js';
import type { Edit, Span } from '../../../text/edits.js';
import { indentAt, reindent, relocated } from '../../../text/layout.js';
import { mergedImports } from '../../imports.js';
import { walk, within } from '../../../script/walk.js';
import type { Crossing } from './crossing.js';
import { hasModels, hyphenated, sentName, type Habits } from './habits.js';
import { joined, movedTexts } from './moved.js';
import type { Scene } from './scene.js';

export interface Typed extends Crossing {
  readonly type?: string;
  /** How the host declares it to Vue: `String`, `{ type: Array as PropType<Hive[]>, required: true }`. */
  readonly declared?: string;
  /** Not every use passes it. */
  readonly optional?: boolean;
  /** Types of what an event hands out. */
  readonly argTypes?: readonly string[];
  /** How the template of the new component reads a model. */
  readonly local: string;
}

/** All that a new component is made of. */
export interface Contents {
  readonly scene: Scene;
  readonly habits: Habits;
  readonly crossings: readonly Typed[];
  readonly imports: readonly string[];
  /** What is to be registered, by option: the name in the template with the variable behind it. */
  readonly registered: ReadonlyMap<string, readonly string[]>;
  readonly styles: readonly string[];
  /** Statements of script setup that declare refs of the region and hand them out. */
  readonly exposed: readonly string[];
}

export function writeFile(contents: Contents): string {
  const { habits } = contents;
  const nl = habits.lineEnd;
  const { sfc, lowered } = contents.scene;
  const setup = lowered.definition.api === 'setup' || (!sfc.script && habits.vue.major >= 3);
  const script = setup ? setupScript(contents) : optionsScript(contents);
  const template = writeTemplate(contents);
  const blocks = habits.scriptFirst ? [script, template] : [template, script];
  return [...blocks, ...contents.styles].filter(Boolean).join(nl + nl) + nl;
}

function writeTemplate({ scene, habits, crossings }: Contents): string {
  const nl = habits.lineEnd;
  const text = movedText(scene, crossings, habits);
  const first = scene.nodes[0]!;
  const last = scene.nodes[scene.nodes.length - 1]!;
  // White space next to text is shown, so no line may end there.
  const head = first.kind === 'text' || first.kind === 'expression' ? '' : nl + habits.templateIndent;
  const tail = last.kind === 'text' || last.kind === 'expression' ? '' : nl;
  const lang = scene.sfc.template?.lang;
  return `<template${lang === undefined ? '' : ` lang="${lang}"`}>${head}${text}${tail}</template>`;
}

/** The region as the new component shows it. */
function movedText(scene: Scene, crossings: readonly Typed[], habits: Habits): string {
  const edits: Edit[] = scene.stays.map((span) => removedAttribute(scene.text, span));
  for (const crossing of crossings) {
    const name = crossing.kind === 'event' ? sentName(crossing.name, habits) : crossing.local;
    for (const { span, text } of crossing.sites) {
      const written = text(name);
      if (scene.text.slice(span.start, span.end) !== written)
        edits.push({ ...span, text: quotedAt(scene.text, span, written) });
    }
  }
  return relocated(scene.text, scene.region, habits.templateIndent, edits, fixedSpans(scene));
}

/** Code for an attribute: without the quotes that stand around it, and in quotes where none do. */
function quotedAt(text: string, { start, end }: Span, code: string): string {
  const before = text[start - 1]!;
  if (before === "'") return code.replaceAll("'", '"');
  // `:title=name`; in code an `=` stands behind another one, or in quotes.
  const isBare = /\s[^\s"'=<>]+=$/.test(text.slice(0, start)) && /^[\s/>]/.test(text.slice(end));
  return isBare && !text.slice(start, end).startsWith('"') ? `"${code}"` : code;
}

/** Takes an attribute away with the white space in front of it. */
function removedAttribute(text: string, { start, end }: Span): Edit {
  let from = start;
  while (/\s/.test(text[from - 1]!)) from--;
  return { start: from, end, text: '' };
}

/** Text whose lines must not be moved: what stands in `<pre>`, in strings and in attribute values over several lines. */
function fixedSpans(scene: Scene): Span[] {
  const fixed: Span[] = [];
  walkMarkup(scene.nodes, (node) => {
    if (node.kind !== 'element') return;
    if (node.name === 'pre' || node.name === 'textarea') fixed.push(node);
    for (const attribute of node.attributes) {
      if (attribute.quoted && attribute.name !== 'class' && attribute.name !== 'style') fixed.push(attribute.quoted);
    }
  });
  for (const root of scene.lowered.script.program.body) {
    walk(root, (node) => {
      if (node.type === 'TemplateElement') fixed.push({ start: node.range[0], end: node.range[1] });
    });
  }
  return fixed;
}

// Scripts

function setupScript({ scene, habits, crossings, imports, exposed }: Contents): string {
  const nl = habits.lineEnd;
  const { semi, quote: q, typed } = habits;
  const props = crossings.filter((c) => c.kind === 'prop');
  const models = crossings.filter((c) => c.kind === 'model');
  const events = crossings.filter((c) => c.kind === 'event');
  const older = hasModels(habits) ? [] : models;
  const statements: string[] = [];
  const passed = [...props, ...older];
  const moved = movedTexts(scene, crossings, '', habits);
  const isRead = crossings.some((c) => c.kind === 'prop' && c.sites.some((s) => !within(s.span, scene.region)));
  const holder = older.length || isRead ? 'const props = ' : '';
  if (passed.length && typed) {
    const members = passed.map(
      (c) => `${habits.indent}${c.name}${c.given?.optional || c.optional ? '?' : ''}: ${c.type ?? 'any'}${semi}`,
    );
    const declared = `defineProps<{${nl}${members.join(nl)}${nl}}>()`;
    const defaults = passed.flatMap((c) => (c.given?.default === undefined ? [] : [`${c.name}: ${c.given.default}`]));
    statements.push(
      `${holder}${defaults.length ? `withDefaults(${declared}, { ${defaults.join(', ')} })` : declared}${semi}`,
    );
  } else if (passed.length) statements.push(`${holder}defineProps(${propsOf(passed, habits, '')})${semi}`);
  const sent = [
    ...events.map((c) => ({ name: sentName(c.name, habits), c })),
    ...older.map((c) => ({ name: `update:${c.name}`, c })),
  ];
  if (sent.length) {
    const names = namesOf(
      sent.map(({ name }) => name),
      habits,
      '',
    );
    const isSent = events.some((c) => c.sites.some((s) => !within(s.span, scene.region)));
    const emit = older.length || isSent ? 'const emit = ' : '';
    const tuples = typed && hasTuples(habits);
    const members = sent.map(
      ({ name, c }) => `${habits.indent}${/^\w+$/.test(name) ? name : q + name + q}: [${argumentTypes(c)}]${semi}`,
    );
    statements.push(
      tuples ? `${emit}defineEmits<{${nl}${members.join(nl)}${nl}}>()${semi}` : `${emit}defineEmits(${names})${semi}`,
    );
  }
  for (const c of models) {
    if (hasModels(habits))
      statements.push(
        `const ${c.local} = defineModel${typed ? `<${c.type ?? 'any'}>` : ''}(${q}${c.name}${q}${typed ? ', { required: true }' : ''})${semi}`,
      );
    else
      statements.push(
        `const ${c.local} = computed({${nl}${habits.indent}get: () => props.${c.name},${nl}${habits.indent}set: (value) => emit(${q}update:${c.name}${q}, value)${habits.comma}${nl}})${semi}`,
      );
  }
  const fromVue = older.length ? [`import {${habits.pad}computed${habits.pad}} from ${q}vue${q}${semi}`] : [];
  const body = [
    mergedImports([...fromVue, ...imports], habits).join(nl),
    statements.join(nl),
    exposed.join(nl),
    joined(moved, nl),
  ]
    .filter(Boolean)
    .join(nl + nl);
  if (!body) return '';
  return `<script setup${typed ? ' lang="ts"' : ''}>${nl}${indented(body, habits)}${nl}</script>`;
}

/** A list of names; a record where something is known of half of them. `indent`: of the line that it begins on. */
function propsOf(props: readonly Typed[], habits: Habits, indent: string): string {
  const { lineEnd: nl, comma, indent: unit } = habits;
  const known = props.map((c) => (c.given?.default === undefined ? c.declared : `{ default: ${c.given.default} }`));
  const isPassedAlways = props.every((c) => c.given?.default === undefined);
  if (isPassedAlways && known.filter(Boolean).length * 2 < props.length)
    return namesOf(
      props.map((c) => c.name),
      habits,
      indent,
    );
  // Vue takes anything for `null`.
  const entries = props.map((c, i) => `${c.name}: ${known[i] ?? 'null'}`);
  if (props.length <= FEW && !known.some((k) => k?.includes('required'))) return `{ ${entries.join(', ')} }`;
  return `{${nl}${entries.map((e) => indent + unit + e).join(`,${nl}`)}${comma}${nl}${indent}}`;
}

/** A list of quoted names, the value of an option or the argument of a macro; one in a line where they are too many. */
function namesOf(names: readonly string[], habits: Habits, indent: string): string {
  const { quote: q, lineEnd: nl, comma, indent: unit, width } = habits;
  const all = names.map((name) => q + name + q);
  const flat = `[${all.join(', ')}]`;
  // The name of the option and the comma stand beside it; a macro takes a little more.
  const room =
    width - habits.scriptIndent.length - (indent ? indent.length + 'props: ,'.length : 'defineProps();'.length);
  if (flat.length <= room) return flat;
  return `[${nl}${all.map((name) => indent + unit + name).join(`,${nl}`)}${comma}${nl}${indent}]`;
}

/** So many props stand in one line. */
const FEW = 3;

function hasTuples({ vue }: Habits): boolean {
  return vue.major > 3 || (vue.major === 3 && vue.minor >= 3);
}

function argumentTypes(crossing: Typed): string {
  if (crossing.kind === 'model') return 'value: any';
  const given = { none: [], one: ['$event: any'], all: ['...args: any[]'], named: ['...args: any[]'] }[crossing.event];
  const types = crossing.argTypes ?? [];
  const takes = crossing.given?.takes;
  if (takes) return takes.map(({ name, type }) => `${plainArgument(name)}: ${type ?? 'any'}`).join(', ');
  return [...crossing.args.map((a, i) => `${a.variable.name}: ${types[i] ?? 'any'}`), ...given].join(', ');
}

/** `$event` is a name of templates only. */
function plainArgument(name: string): string {
  return name === '$event' ? 'event' : name;
}

function optionsScript({ scene, habits, crossings, imports, registered }: Contents): string {
  const nl = habits.lineEnd;
  const { quote: q, comma, indent: unit, semi } = habits;
  const models = crossings.filter((c) => c.kind === 'model');
  const props = [...crossings.filter((c) => c.kind === 'prop'), ...models];
  const events = [
    ...crossings.filter((c) => c.kind === 'event').map((c) => sentName(c.name, habits)),
    ...models.map((c) => `update:${c.name}`),
  ];
  const options: string[] = [`name: ${q}${scene.request.name}${q}`];
  for (const [option, entries] of registered) options.push(`${option}: { ${entries.join(', ')} }`);
  if (props.length) options.push(`props: ${propsOf(props, habits, unit)}`);
  if (events.length && (habits.vue.major >= 3 || habits.vue.guessed))
    options.push(`emits: ${namesOf(events, habits, unit)}`);
  const inner = unit + unit;
  const moved = movedTexts(scene, crossings, inner, habits);
  const kept = movedTexts(scene, crossings, inner + unit, habits).filter((m) => m.option === 'data');
  if (kept.length) {
    const entries = kept.map((m) => inner + unit + m.text).join(`,${nl}`);
    options.push(`data() {${nl}${inner}return {${nl}${entries}${comma}${nl}${inner}}${semi}${nl}${unit}}`);
  }
  const derived = moved.filter((m) => m.option === 'computed').map((m) => inner + m.text);
  const methods = moved.filter((m) => m.option === 'methods').map((m) => inner + m.text);
  if (models.length || derived.length) {
    const computed = models.map((c) => {
      const inner = unit + unit + unit;
      return `${unit}${unit}${c.local}: {${nl}${inner}get() {${nl}${inner}${unit}return this.${c.name}${semi}${nl}${inner}},${nl}${inner}set(value) {${nl}${inner}${unit}this.$emit(${q}update:${c.name}${q}, value)${semi}${nl}${inner}}${comma}${nl}${unit}${unit}}`;
    });
    options.push(`computed: {${nl}${[...computed, ...derived].join(`,${nl}`)}${comma}${nl}${unit}}`);
  }
  if (methods.length) options.push(`methods: {${nl}${methods.join(`,${nl}`)}${comma}${nl}${unit}}`);
  const object = `{${nl}${options.map((o) => unit + o).join(`,${nl}`)}${comma}${nl}}`;
  const wrap = wrapperOf(scene);
  const component = `export default ${wrap ? `${wrap.name}(${object})` : object}${semi}`;
  const lines = mergedImports([...(wrap ? [wrap.import] : []), ...imports], habits);
  const body = [lines.join(nl), component].filter(Boolean).join(nl + nl);
  return `<script${habits.typed ? ' lang="ts"' : ''}>${nl}${indented(body, habits)}${nl}</script>`;
}

/** `defineComponent` and the like, where the host's object stands in one. */
function wrapperOf(scene: Scene): { readonly name: string; readonly import: string } | undefined {
  const options = scene.lowered.definition.options;
  const text = options && scene.text.slice(0, options.range[0]);
  const name = text && /\b(defineComponent|Vue\.extend)\s*\(\s*$/.exec(text)?.[1];
  if (!name) return undefined;
  const source = scene.sfc.script!.script.program.body.find(
    (s) => s.type === 'ImportDeclaration' && s.specifiers.some((x) => x.local.name === name.split('.')[0]),
  );
  return (
    source && {
      name,
      import:
        name === 'Vue.extend'
          ? scene.text.slice(...source.range)
          : scene.text.slice(...source.range).replace(/\{[\s\S]*\}/, `{ ${name} }`),
    }
  );
}

function indented(body: string, { scriptIndent }: Habits): string {
  return scriptIndent ? body.replace(/^(?=.)/gm, scriptIndent) : body;
}

// The use

/** `ref`: by which the host's script reaches into the new component. */
export function writeUse({ scene, habits, crossings }: Contents, ref?: string): string {
  const passed = crossings.map((crossing) => ({ crossing, value: crossing.value }));
  return writeUseAt(scene, habits, passed, scene.request.name, ref === undefined ? [] : [`ref="${ref}"`]);
}

/** What one use passes. */
export interface PassedOn {
  readonly crossing: Typed;
  readonly value: string;
  /** A plain attribute: the value is text and no code. */
  readonly text?: boolean;
  /** What a slot hands to its content, as a pattern. */
  readonly scope?: string;
}

export function writeUseAt(
  scene: Scene,
  habits: Habits,
  passed: readonly PassedOn[],
  name = scene.request.name,
  own: readonly string[] = [],
): string {
  const tag = habits.kebabTags ? name.replace(/\B([A-Z])/g, '-$1').toLowerCase() : name;
  const [bind, on] = habits.longhand ? ['v-bind:', 'v-on:'] : [':', '@'];
  const attributes = [...scene.stays.map((span) => scene.text.slice(span.start, span.end)), ...own];
  const slots: string[] = [];
  const indent = indentAt(scene.text, scene.region.start);
  const propName = (prop: string) => (habits.kebabProps ? hyphenated(prop) : prop);
  for (const { crossing, value, text, scope } of passed) {
    const { kind } = crossing;
    if (text)
      attributes.push(`${propName(crossing.name)}="${value.replaceAll('&', '&amp;').replaceAll('"', '&quot;')}"`);
    else if (kind === 'prop') attributes.push(`${bind}${propName(crossing.name)}=${quoted(value)}`);
    else if (kind === 'event') attributes.push(`${on}${hyphenated(crossing.name)}=${quoted(value)}`);
    else if (kind === 'slot') slots.push(slotContent({ ...crossing, value }, scope, indent + habits.indent, habits));
    else if (habits.vue.major >= 3) attributes.push(`v-model:${propName(crossing.name)}=${quoted(value)}`);
    else attributes.push(`${bind}${propName(crossing.name)}.sync=${quoted(value)}`);
  }
  const column = scene.region.start - (scene.text.lastIndexOf('\n', scene.region.start - 1) + 1);
  return useText(tag, attributes, slots, { indent, column }, habits);
}

/** A value in the quotes of an attribute. */
function quoted(value: string): string {
  if (!value.includes('"')) return `"${value}"`;
  return value.includes("'") ? `"${value.replaceAll('"', '&quot;')}"` : `'${value}'`;
}

function slotContent(
  { name, value, scoped }: Typed,
  given: string | undefined,
  indent: string,
  { lineEnd: nl, indent: unit }: Habits,
): string {
  const outlet = name === 'children' ? 'default' : name;
  const scope = given !== undefined ? `="${given}"` : scoped ? '="slotProps"' : '';
  const last = /\n([ \t]*)(?:<\/|\/?>)[^\n]*$/.exec(value)?.[1] ?? leastIndent(value);
  const at = (to: string) => (last === undefined || FIXED.test(value) ? value : reindent(value, last, to));
  if (name === 'children' && !scope) return at(indent);
  const [open, close] = [`<template #${outlet}${scope}>`, '</template>'];
  // Vue leaves out white space at either end of what an element holds, but for that beside text.
  const isElement = value.startsWith('<') && value.endsWith('>');
  if (!isElement || last === undefined) return open + value + close;
  return `${open}${nl}${indent}${unit}${at(indent + unit)}${nl}${indent}${close}`;
}

/** Siblings stand behind one another, the first where the text begins. */
function leastIndent(text: string): string | undefined {
  const indents = text.split('\n').flatMap((line, i) => (i > 0 && line.trim() ? [/^[ \t]*/.exec(line)![0]] : []));
  return indents.sort((a, b) => a.length - b.length)[0];
}

/** What has lines that mean what they are. */
const FIXED = /<(?:pre|textarea)\b|`/;

/** A use of a component; on several lines where one would be too long. */
export function useText(
  tag: string,
  attributes: readonly string[],
  slots: readonly string[],
  { indent, column }: { readonly indent: string; readonly column: number },
  habits: Habits,
): string {
  const nl = habits.lineEnd;
  const inner = indent + habits.indent;
  const content = slots.length ? `>${nl}${slots.map((s) => inner + s + nl).join('')}${indent}</${tag}>` : ' />';
  const flat = `<${[tag, ...attributes].join(' ')}`;
  if (!flat.includes('\n') && column + flat.length + 3 <= habits.width) return flat + content;
  return `<${tag}${attributes.map((a) => nl + inner + a).join('')}${slots.length ? nl + indent : `${nl}${indent}`}${content.trimStart()}`;
}
