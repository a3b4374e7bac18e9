/** Elements of a region that the host's script reaches by a ref: it reaches them through the new component. */
import { problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { bare, spanOf } from '../../../script/walk.js';
import type { Edit } from '../../../text/edits.js';
import { readsRef, refsReadFromOutside, type Bases } from '../bases.js';
import { madeUpRefsIn, refReads, refsIn, type RefRead } from '../refs.js';
import { vueOf, type Habits } from './habits.js';
import { goes, type Scene } from './scene.js';
import { literally } from '../../../text/pattern.js';

/** Reads of refs that stand in the region. */
export function crossingRefs(scene: Scene, bases: Bases): readonly RefRead[] | Problem {
  const { definition, markup } = scene.lowered;
  const all = refsIn(markup);
  const own = all.filter((ref) => goes(scene, ref));
  const reads = refReads(scene.sfc, definition);
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
    const read = reads?.filter((r) => r.name === ref.name) ?? [];
    const isMember = definition.members.some((m) => m.name === ref.name);
    if (reads ? isMember : mentions(scene, ref.name)) return refusal;
    const isReadElsewhere =
      readsRef(bases, ref.name) || bases.unseen || refsReadFromOutside(scene.request.project.files).has(ref.name);
    if (isReadElsewhere) return refusal;
    if (read.length === 0) continue;
    const isShared = all.some((other) => other.name === ref.name && !own.includes(other));
    // The types of Vue 2 do not know what a ref holds.
    const isOlderTyped =
      scene.sfc.syntax.startsWith('ts') && vueOf(scene.request.project.files, scene.request.file.path).major < 3;
    // What a loop makes is reached as a list, and of one component in several places there are several.
    if (ref.looped || isShared || isOlderTyped || scene.request.inputs) return refusal;
    crossing.push(...read.filter((r) => !crossing.includes(r)));
  }
  return crossing;
}

/** Whether a script may read a ref of this name: it says the name, or reaches for refs in a way that cannot be followed. */
function mentions(scene: Scene, name: string): boolean {
  const asked = new RegExp(`\\$refs\\b|getCurrentInstance|(?<![\\w$])${literally(name)}(?![\\w$])`);
  return [scene.sfc.script, scene.sfc.setup].some(
    (block) => block && asked.test(scene.text.slice(block.inner.start, block.inner.end)),
  );
}

/** The ref of the new component, by which the host reaches what stands in it. */
export function refNameOf(scene: Scene): string {
  const { definition, markup } = scene.lowered;
  const { name } = scene.request;
  const taken = new Set([...refsIn(markup), ...definition.members].map((named) => named.name));
  const base = name[0]!.toLowerCase() + name.slice(1);
  for (let i = 1; ; i++) {
    const tried = i === 1 ? base : `${base}${i}`;
    if (!taken.has(tried)) return tried;
  }
}

/** The reads, by way of the new component. */
export function refEdits(scene: Scene, reads: readonly RefRead[], habits: Habits): Edit[] {
  const through = refNameOf(scene);
  return reads.map(({ node, isUsed, parent }) => {
    const span = spanOf(node);
    const refs = scene.text.slice(...node.object.range);
    const rest = scene.text.slice(node.object.range[1], span.end);
    const holder = `${refs}.${through}`;
    if (isUsed) return { ...span, text: `${holder}.$refs${rest}` };
    if (habits.vue.major >= 3) return { ...span, text: `${holder}?.$refs${rest}` };
    // Scripts of Vue 2 are often built by tools from before `?.`.
    const asked = `${holder} && ${holder}.$refs${rest}`;
    return { ...span, text: standsAlone(parent, node) ? asked : `(${asked})` };
  });
}

/** Whether `a && b` can stand there without brackets; at the start of a line they would call what ends the line before. */
function standsAlone(parent: Node, node: Node): boolean {
  if (parent.type === 'LogicalExpression') return parent.operator !== '??' && bare(parent.left) === node;
  if (parent.type === 'ConditionalExpression') return bare(parent.test) === node;
  return ['VariableDeclarator', 'AssignmentExpression', 'CallExpression', 'ReturnStatement', 'IfStatement'].includes(
    parent.type,
  );
}
