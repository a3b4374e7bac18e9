/** Elements of a region that the host's script reaches by a ref: it reaches them through the new component. */
import type { TSESTree } from '@typescript-eslint/types';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { bare, nodeWithin, spanOf } from '../../../script/walk.js';
import type { Edit } from '../../../text/edits.js';
import { indentAt } from '../../../text/layout.js';
import { readsRef, refsReadFromOutside, type Bases } from '../bases.js';
import { madeUpRefsIn, refsIn, showsRefs, type RefRead, type TakenRefs } from '../refs.js';
import { setupRefsOf, type SetupRef } from '../setup-refs.js';
import { vueOf, type Habits } from './habits.js';
import { goes, type Scene } from './scene.js';
import { literally } from '../../../text/pattern.js';

/** What the host's script reaches in the region. */
export interface CrossingRefs {
  /** Reads of `$refs`. */
  readonly reads: readonly RefRead[];
  /** Variables of script setup. */
  readonly variables: readonly SetupRef[];
}

export function crossingRefs(scene: Scene, bases: Bases): CrossingRefs | Problem {
  const { setup } = scene.sfc;
  if (setup && vueOf(scene.request.project.files, scene.request.file.path).major >= 3) {
    const variables = crossingVariables(scene, setupRefsOf(setup.script, scene.lowered.markup));
    return isProblem(variables) ? variables : { reads: [], variables };
  }
  const reads = crossingReads(scene, bases);
  return isProblem(reads) ? reads : { reads, variables: [] };
}

/** Refs of script setup that the region shows; a variable that is written to, or that the region reads, is more than a ref. */
function crossingVariables(scene: Scene, variables: readonly SetupRef[]): readonly SetupRef[] | Problem {
  const own = refsIn(scene.lowered.markup).filter((ref) => goes(scene, ref));
  const crossing: SetupRef[] = [];
  for (const ref of own) {
    const refusal = problem('region-ref', { path: scene.request.file.path, span: ref }, ref.name);
    const variable = variables.find((v) => v.key === ref.name);
    if (!variable && !mentions(scene, ref.name)) continue;
    if (
      !variable ||
      showsRefs(scene.sfc) ||
      scene.request.inputs ||
      refsReadFromOutside(scene.request.project.files).has(ref.name)
    )
      return refusal;
    const known = scene.lowered.scopes.within(scene.region).filter((r) => r.resolved?.name === variable.name);
    const isRead = known.some((r) => !nodeWithin(r.identifier, ref));
    const isWritten = new RegExp(`(?<![\\w$.])${literally(variable.name)}\\.value\\s*(?:=(?!=)|\\+\\+|--)`).test(
      scene.text.slice(scene.sfc.setup!.inner.start, scene.sfc.setup!.inner.end),
    );
    if (isRead || isWritten) return refusal;
    crossing.push(variable);
  }
  // In the order of the script: what reaches through the new component stands behind the ref of that.
  return crossing.sort((a, b) => a.statement.range[0] - b.statement.range[0]);
}

/** Reads of refs that stand in the region. */
function crossingReads(scene: Scene, bases: Bases): readonly RefRead[] | Problem {
  const { definition, markup } = scene.lowered;
  const all = refsIn(markup);
  const own = all.filter((ref) => goes(scene, ref));
  const reads = scene.lowered.refs;
  // A name that only running tells may be any that a script asks for.
  const [madeUp] = madeUpRefsIn(markup, definition).filter((ref) => goes(scene, ref));
  const isAsked = reads ? reads.length > 0 : mentions(scene, '$refs');
  if (madeUp && (isAsked || bases.unseen || readsRef(bases, '$refs'))) {
    const at = { path: scene.request.file.path, span: madeUp };
    return problem('region-ref', at, scene.text.slice(madeUp.start, madeUp.end));
  }
  const crossing: RefRead[] = [];
  for (const ref of own) {
    const refusal = problem('region-ref', { path: scene.request.file.path, span: ref }, ref.name);
    // What the region reads itself goes along with it.
    const read = reads?.filter((r) => r.name === ref.name && !goes(scene, spanOf(r.node))) ?? [];
    const isMember = definition.members.some((m) => m.name === ref.name);
    if (reads ? isMember : mentions(scene, ref.name)) return refusal;
    const isReadElsewhere =
      readsRef(bases, ref.name) || bases.unseen || refsReadFromOutside(scene.request.project.files).has(ref.name);
    if (isReadElsewhere) return refusal;
    if (read.length === 0) continue;
    const isReadThere = reads?.some((r) => r.name === ref.name && goes(scene, spanOf(r.node)));
    const isShared = all.some((other) => other.name === ref.name && !own.includes(other));
    // The types of Vue 2 do not know what a ref holds.
    const isOlderTyped =
      scene.sfc.syntax.startsWith('ts') && vueOf(scene.request.project.files, scene.request.file.path).major < 3;
    // What a loop makes is reached as a list, and of one component in several places there are several.
    if (ref.looped || isReadThere || isShared || isOlderTyped || scene.request.inputs) return refusal;
    crossing.push(...read.filter((r) => !crossing.includes(r)));
  }
  return crossing;
}

/** The read of a ref that an identifier of the lowered component stands for; none for the attribute on the element. */
export function readOfRef({ lowered }: Scene, identifier: Node): RefRead | undefined {
  const { start, end } = spanOf(identifier);
  return lowered.refs?.find(({ node }) => node.range[0] === start && node.range[1] === end);
}

/** Whether the element that a ref means goes with the region. */
export function goesAlong(scene: Scene, { name }: RefRead): boolean {
  const elements = refsIn(scene.lowered.markup).filter((ref) => ref.name === name);
  return elements.length > 0 && elements.every((ref) => goes(scene, ref));
}

/** Whether a script may read a ref of this name: it says the name, or reaches for refs in a way that cannot be followed. */
function mentions(scene: Scene, name: string): boolean {
  const asked = new RegExp(`\\$refs\\b|getCurrentInstance|(?<![\\w$])${literally(name)}(?![\\w$])`);
  const scripts = [scene.sfc.script, scene.sfc.setup].map((block) => block?.inner ?? { start: 0, end: 0 });
  return showsRefs(scene.sfc) || scripts.some(({ start, end }) => asked.test(scene.text.slice(start, end)));
}

/**
 * The ref of the new component, by which the host reaches what stands in it. In script setup a tag with hyphens means the
 * variable `hiveRow` before it means `HiveRow`.
 */
export function refNameOf(scene: Scene, { kebabTags }: Habits): string {
  const { definition, markup } = scene.lowered;
  const { name } = scene.request;
  const taken = new Set([...refsIn(markup), ...definition.members].map((named) => named.name));
  const plain = name[0]!.toLowerCase() + name.slice(1);
  const base = scene.sfc.setup && kebabTags ? `${plain}Ref` : plain;
  for (let i = 1; ; i++) {
    const tried = i === 1 ? base : `${base}${i}`;
    if (!taken.has(tried)) return tried;
  }
}

/** The reads, by way of the new component. */
export function refEdits(scene: Scene, { reads, variables }: CrossingRefs, habits: Habits): Edit[] {
  const through = refNameOf(scene, habits);
  if (variables.length > 0) return variableEdits(scene, variables, through, habits);
  /** `rest`: what is read of the refs of the new component. */
  const reached = (refs: string, rest: string, { isUsed, parent, node }: RefRead): string => {
    const holder = `${refs}.${through}`;
    if (isUsed) return `${holder}.$refs${rest}`;
    if (habits.vue.major >= 3) return `${holder}?.$refs${rest}`;
    // Scripts of Vue 2 are often built by tools from before `?.`.
    const asked = `${holder} && ${holder}.$refs${rest}`;
    return standsAlone(parent, node) ? asked : `(${asked})`;
  };
  const edits = reads.flatMap((read): Edit[] => {
    if (read.node.type === 'Property') return [];
    const span = spanOf(read.node);
    const refs = read.node.object.range;
    const text = reached(scene.text.slice(...refs), scene.text.slice(refs[1], span.end), read);
    return [{ ...span, text }];
  });
  const taken = [...new Set(reads.flatMap((read) => read.taken ?? []))];
  return [...edits, ...taken.map((from) => takenEdit(scene, from, reads, reached, habits))];
}

/** `{ track } = this.$refs, thumb = this.$refs.slider?.$refs.thumb` */
function takenEdit(
  { text }: Scene,
  { node, properties }: TakenRefs,
  reads: readonly RefRead[],
  reached: (refs: string, rest: string, read: RefRead) => string,
  { lineEnd, indent }: Habits,
): Edit {
  const refs = text.slice(...node.init!.range);
  const gone = new Map(reads.map((read) => [read.node as Node, read]));
  const kept = properties.filter((p) => !gone.has(p)).map((p) => text.slice(...p.range));
  const own = properties.flatMap((p) => {
    const read = gone.get(p);
    return read ? [`${p.value.name} = ${reached(refs, `.${read.name}`, read)}`] : [];
  });
  const left = kept.length > 0 ? [`{ ${kept.join(', ')} } = ${refs}`] : [];
  const comma = `,${lineEnd}${indentAt(text, node.range[0])}${indent}`;
  return { ...spanOf(node), text: [...left, ...own].join(comma) };
}

/** `const chart = computed(() => panel.value?.chart)`, with the ref of the new component before the first of them. */
function variableEdits(scene: Scene, variables: readonly SetupRef[], through: string, habits: Habits): Edit[] {
  const { semi, quote: q, lineEnd: nl } = habits;
  const made = (init: TSESTree.CallExpression) => scene.text.slice(...init.callee.range);
  const type = habits.typed ? `<InstanceType<typeof ${scene.request.name}>>` : '';
  const edits = variables.map(({ name, statement, empty }, i): Edit => {
    const callee = made(variables[0]!.init);
    const holder = `const ${through} = ${callee}${type}(${callee === 'useTemplateRef' ? q + through + q : ''})${semi}`;
    const read = `const ${name} = computed(() => ${through}.value?.${name}${empty === 'null' ? ' ?? null' : ''})${semi}`;
    const indent = indentAt(scene.text, statement.range[0]);
    return { ...spanOf(statement), text: i === 0 ? holder + nl + indent + read : read };
  });
  return [...edits, ...computedImport(scene, variables, habits)];
}

/** `computed` from where the refs come from, unless the project brings such names in by itself. */
function computedImport(scene: Scene, [first]: readonly SetupRef[], habits: Habits): Edit[] {
  const imports = scene.sfc.setup!.script.program.body.filter((s) => s.type === 'ImportDeclaration');
  const imported = (name: string) => imports.find((s) => s.specifiers.some((x) => x.local.name === name));
  const source = imported(scene.text.slice(...first!.init.callee.range));
  const last = source?.specifiers.findLast((s) => s.type === 'ImportSpecifier');
  if (!source || !last || imported('computed')) return [];
  const [names, end] = [scene.text.slice(...source.range), last.range[1]];
  const indent = names.includes('\n') ? habits.lineEnd + indentAt(scene.text, last.range[0]) : ' ';
  return [{ start: end, end, text: `,${indent}computed` }];
}

/** What the new component declares for the refs that it shows, and hands them out. */
export function exposedRefs({ text }: Scene, variables: readonly SetupRef[], { semi }: Habits): string[] {
  if (variables.length === 0) return [];
  const names = variables.map(({ name }) => name);
  return [
    ...variables.map(({ name, key, statement, init }) => {
      const written = text.slice(...statement.range).replace(/;$/, '') + semi;
      // The name by which it is handed out is the one that it has in the template.
      return key === name ? written : `const ${name} = ${text.slice(...init.range)}${semi}`;
    }),
    `defineExpose({ ${names.join(', ')} })${semi}`,
  ];
}

/** Whether `a && b` can stand there without brackets; at the start of a line they would call what ends the line before. */
function standsAlone(parent: Node, node: Node): boolean {
  if (parent.type === 'LogicalExpression') return parent.operator !== '??' && bare(parent.left) === node;
  if (parent.type === 'ConditionalExpression') return bare(parent.test) === node;
  return ['VariableDeclarator', 'AssignmentExpression', 'CallExpression', 'ReturnStatement', 'IfStatement'].includes(
    parent.type,
  );
}
