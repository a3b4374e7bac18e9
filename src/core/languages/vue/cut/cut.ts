/** Cuts a region of a Vue template out into a component: find what crosses, write the component and its use, link them. */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { CutRequest, Cutting, Seam, SeamEntry } from '../../../language/cutting.js';
import type { Markup } from '../../../markup/model.js';
import { walkMarkup } from '../../../markup/walk.js';
import { within } from '../../../script/walk.js';
import type { Variable } from '../../../script/scopes.js';
import type { Edit, Span } from '../../../text/edits.js';
import { relativeSource, repeatedImports, without } from '../../imports.js';
import { rebased } from '../assets.js';
import { basesOf, runsOnUpdate } from '../bases.js';
import { NAMELESS } from '../definition.js';
import { registeredBy } from '../registered.js';
import type { Crossing } from './crossing.js';
import { findCrossings, type Boundary } from './crossings.js';
import { habitsOf, type Habits } from './habits.js';
import { hostEdits, importingOf } from './host.js';
import { movedOut } from './moved.js';
import { findMoves } from './moves.js';
import { sceneOf, type Scene } from './scene.js';
import { exposedRefs, refEdits, refNameOf } from './refs.js';
import type { MovedStyles } from '../../style-rules.js';
import { moveStyles } from './styles.js';
import { typedCrossings, type Shape } from './types.js';
import { writeFile, writeUse, type Contents, type Typed } from './write.js';

export function cut(request: CutRequest): Cutting | Problem {
  const prepared = prepare(request);
  if (isProblem(prepared)) return prepared;
  const { contents, boundary } = prepared;
  const use = writeUse(contents, isReached(boundary) ? refNameOf(contents.scene, contents.habits) : undefined);
  return finish(prepared, [{ ...contents.scene.region, text: use }], []);
}

function isReached({ refs }: Boundary): boolean {
  return refs.reads.length + refs.variables.length > 0;
}

/** A cut that is worked out and not yet written. */
export interface Prepared {
  readonly contents: Contents;
  readonly boundary: Boundary;
  readonly shape: Shape;
  readonly styles: MovedStyles;
  /** The path of the new file. */
  readonly target: string;
}

/** `others`: further regions of the same file that become uses of the same component. */
export function prepare(request: CutRequest, others: readonly Scene[] = []): Prepared | Problem {
  const whole = sceneOf(request);
  if (isProblem(whole)) return whole;
  const isShared = (request.inputs && !request.alone) || others.length > 0;
  const moves = isShared ? { moved: [], notes: [] } : findMoves(whole);
  if (isProblem(moves)) return moves;
  const scene = { ...whole, moved: moves.moved };
  const habits = habitsOf(scene.sfc, request.project.files);
  const refusal = refuse(scene, habits);
  if (refusal) return refusal;
  const found = findCrossings(scene);
  if (isProblem(found)) return found;
  // Registered while the modules are still being read, one of the two would be nothing yet.
  if (scene.lowered.definition.api === 'options' && found.moduleLevel.some((v) => isHost(scene, v)))
    return problem('region-circle', { path: request.file.path, span: scene.region }, scene.lowered.own);
  const rerun = runsOnUpdate(
    scene.sfc,
    scene.lowered.definition,
    basesOf(scene.sfc, scene.lowered.definition, request.project),
  );
  if (rerun && (looksInto(scene, found) || scene.moved.length > 0))
    return problem(
      'region-renders',
      { path: request.file.path, span: scene.region },
      'it has a hook that runs after every update',
    );
  const styles = moveStyles(scene, habits, others);
  const boundary = withReads({ ...found, notes: [...found.notes, ...moves.notes] }, styles.reads);
  // A Vue file holds one component, so there is always a second file.
  const target = request.target ?? '';
  const shape = typedCrossings(scene, boundary, habits, target);
  const contents: Contents = {
    scene,
    habits,
    crossings: shape.crossings,
    imports: [...new Set([...importLines(scene, boundary, habits, target), ...shape.imports])],
    registered: registeredIn(scene, boundary),
    styles: styles.blocks,
    exposed: exposedRefs(scene, boundary.refs.variables, habits),
  };
  return { contents, boundary, shape, styles, target };
}

/** Writes the component and links it with its host. `uses`: in the place of what leaves; `alsoGone`: further spans that leave. */
export function finish(prepared: Prepared, uses: readonly Edit[], alsoGone: readonly Span[]): Cutting | Problem {
  const { contents, boundary, shape, styles, target } = prepared;
  const { scene, habits } = contents;
  const gone = scene.moved.map((m) => m.span);
  const removed = [...without(scene.region, [...scene.stays, ...boundary.kept]), ...alsoGone, ...gone];
  const refs = refEdits(scene, boundary.refs, habits);
  const linked = hostEdits(scene, habits, target, removed);
  if (isProblem(linked)) return linked;
  return {
    edits: [...linked, ...refs, ...movedOut(scene, habits), ...shape.edits, ...styles.edits, ...uses],
    files: new Map([[target, rebased(writeFile(contents), scene.request.file.path, target, scene.request.ports)]]),
    seam: seamOf(shape.crossings),
    notes: [...boundary.notes, ...styles.notes, ...shape.notes],
  };
}

function refuse(scene: Scene, habits: Habits): Problem | undefined {
  const at = { path: scene.request.file.path, span: scene.region };
  const lone = scene.nodes.length === 1 && scene.nodes[0]!.kind !== 'loop' && scene.nodes[0]!.kind !== 'fragment';
  if (habits.vue.major < 3 && !(lone && (scene.nodes[0]!.kind === 'element' || scene.nodes[0]!.kind === 'branch')))
    return problem('region-roots', at);
  if (scene.sfc.shown.length > 0 && losesSpace(scene)) return problem('region-space', at);
  const marks = scene.text.slice(at.span.start, at.span.end).match(/#(?:ifn?def|endif)\b/g) ?? [];
  if (marks.filter((mark) => mark === '#endif').length * 2 !== marks.length)
    return problem('region-opaque', at, 'a part of what some builds leave out');
  if (scene.request.target === undefined) return problem('same-file-vue', at);
  if (scene.sfc.setup && scene.request.name === scene.lowered.own)
    return problem('name-invalid', at, scene.request.name);
  return undefined;
}

/** A region that begins or ends with running text next to white space, which the edge of a template would drop. */
function losesSpace({ nodes, region, text }: Scene): boolean {
  const isText = (node: Markup) => node.kind === 'text' || node.kind === 'expression';
  const first = nodes[0]!;
  const last = nodes[nodes.length - 1]!;
  return (
    (isText(first) && first.kind !== 'text' && /\s/.test(text[region.start - 1] ?? '') && nodes.length > 1) ||
    (isText(last) && last.kind !== 'text' && /\s/.test(text[region.end] ?? '') && nodes.length > 1)
  );
}

/** Names that the styles of the region read cross as well. */
function withReads(boundary: Boundary, reads: readonly string[]): Boundary {
  const known = new Set(boundary.crossings.map((c) => c.name));
  const names = [...new Set(reads)]
    .filter((name) => !known.has(name.split('.')[0]!))
    .map((name) => name.split('.')[0]!);
  const added = [...new Set(names)].map((name): Crossing => ({
    kind: 'prop',
    name,
    value: name,
    args: [],
    event: 'none',
    typed: undefined,
    variable: undefined,
    sites: [],
  }));
  const props = boundary.crossings.filter((c) => c.kind === 'prop').length;
  const crossings = [...boundary.crossings.slice(0, props), ...added, ...boundary.crossings.slice(props)];
  return { ...boundary, crossings };
}

/** Imports of the host that the new component needs as well. */
function importLines(scene: Scene, { moduleLevel }: Boundary, habits: Habits, target: string): string[] {
  const importing = importingOf(scene);
  const lines = repeatedImports(importing, moduleLevel, target, habits);
  const own = moduleLevel.find((v) => isHost(scene, v));
  if (!own) return lines;
  const source = relativeSource(target, scene.request.file.path);
  return [...lines, `import ${scene.lowered.own} from ${habits.quote}${source}${habits.quote}${habits.semi}`];
}

function isHost(scene: Scene, variable: Variable): boolean {
  return variable.name === scene.lowered.name && !scene.lowered.scopes.isImport(variable);
}

function registeredIn(scene: Scene, { moduleLevel }: Boundary): Map<string, string[]> {
  const { definition, imports } = scene.lowered;
  const { filters, directives } = registeredBy(definition, imports);
  const tables = { components: definition.components, directives, filters };
  const moved = new Set(moduleLevel.map((v) => v.name));
  const lists = Object.entries(tables).map(([option, table]): [string, string[]] => [
    option,
    [...table]
      .filter(([, local]) => moved.has(local))
      .map(([tag, local]) => (tag === local ? local : `${keyOf(tag, local)}: ${local}`)),
  ]);
  return new Map(lists.filter(([, entries]) => entries.length > 0));
}

/** The key under which a tag is registered. */
function keyOf(tag: string, local: string): string {
  if (tag.startsWith(NAMELESS)) return `[${local}.name]`;
  return /^[A-Za-z_$][\w$]*$/.test(tag) ? tag : `'${tag}'`;
}

/**
 * Whether the region looks into what crosses, or calls it: what it reads then, it reads by itself, and the host is no longer
 * rendered when that changes. A value that is only shown or handed on is read by the host as well, to be passed.
 */
function looksInto({ text, nodes, region }: Scene, { crossings }: Boundary): boolean {
  const loops: Span[] = [];
  walkMarkup(nodes, (node) => {
    if (node.kind === 'loop') loops.push(node.source);
  });
  return crossings.some((c) =>
    c.sites.some(
      ({ span }) =>
        (within(span, region) && /^\s*(?:\?\.|\.|\[|\()/.test(text.slice(span.end))) ||
        loops.some((source) => within(span, source)),
    ),
  );
}

function seamOf(crossings: readonly Typed[]): Seam {
  const entry = ({ name, type, given, optional }: Typed): SeamEntry => ({
    name,
    ...(type === undefined ? {} : { type }),
    ...(given?.optional || optional ? { optional: true } : {}),
  });
  return {
    props: crossings.filter((c) => c.kind === 'prop' || c.kind === 'model').map(entry),
    events: crossings
      .filter((c) => c.kind === 'event' || c.kind === 'model')
      .map((c) => (c.kind === 'event' ? { name: c.name } : { name: `update:${c.name}` })),
    slots: crossings
      .filter((c) => c.kind === 'slot')
      .map(({ name }) => ({ name: name === 'children' ? 'default' : name })),
  };
}
