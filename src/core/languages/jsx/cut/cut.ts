/**
 * Cuts a region of JSX out into a component: find what crosses the boundary, shape the interface, write the component
 * and its use, and link the files.
 */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { CutRequest, Cutting, Seam } from '../../../language/cutting.js';
import type { Variable } from '../../../script/scopes.js';
import type { Node } from '../../../script/parser.js';
import { isFunction, nodeWithin, spanOf, within } from '../../../script/walk.js';
import type { Edit, Span } from '../../../text/edits.js';
import { indentAt, reindent } from '../../../text/layout.js';
import { JSX, type Dialect } from '../dialect.js';
import { findCrossings, isTypeParameter, type Boundary } from './crossings.js';
import { habitsIn, type Habits } from './habits.js';
import { sourceFor, without } from '../../imports.js';
import { shapeInterface, type Interface } from './interface.js';
import { findLifts } from './lifts.js';
import { isCommonJs, linkFiles, removals, withReact } from './link.js';
import { findMoves, type Moves } from './moves.js';
import { propTypesName, writePropTypes } from './prop-types.js';
import { Scene } from './scene.js';
import { findSharing, type Sharing } from './sharing.js';
import { withLeadingComments, writeComponent, writeUse } from './write.js';

/** How a dialect whose files are components writes one. */
export interface NewFile {
  readonly parts: Parts;
  /** What the component needs at the top: imports, and declarations that moved. */
  readonly head: readonly string[];
}

export interface Writing {
  readonly dialect: Dialect;
  readonly newFile?: (file: NewFile) => string;
}

export function cut(request: CutRequest, writing: Writing = { dialect: JSX }): Cutting | Problem {
  const prepared = prepare(request, [], writing);
  if (isProblem(prepared)) return prepared;
  if (prepared.sharing?.circular !== undefined) {
    const at = { path: request.file.path, span: request.region };
    if (writing.newFile) return problem('unify-circular', at, prepared.sharing.circular);
    const cutting = cut({ ...request, target: undefined });
    if (isProblem(cutting)) return cutting;
    return { ...cutting, notes: [...cutting.notes, circularNote(request.name, prepared.sharing.circular)] };
  }
  return link(prepared);
}

export function circularNote(name: string, needed: string): string {
  return `${name} stays in the same file: it needs ${needed}, which needs it in turn`;
}

/** A cut that is worked out and not yet written. */
export interface Prepared {
  readonly parts: Parts;
  /** Undefined where the component stays in the file. */
  readonly sharing: Sharing | undefined;
}

/** `alsoGoing`: what leaves the file besides the region, as other places that become uses of the same component. */
export function prepare(
  request: CutRequest,
  alsoGoing: readonly Span[] = [],
  { dialect, newFile }: Writing = { dialect: JSX },
): Prepared | Problem {
  const script = dialect.parse(request.file, request.ports);
  if (isProblem(script)) return script;
  const scene = new Scene(request, script, undefined, dialect);

  const trouble = findLifts(scene);
  if (isProblem(trouble)) return trouble;
  const moves = request.inputs && !request.alone ? { statements: [], notes: [] } : findMoves(scene, trouble.lifts);
  if (isProblem(moves)) return moves;
  const boundary = findCrossings(scene, trouble, moves);
  if (isProblem(boundary)) return boundary;
  const shape = shapeInterface(scene, boundary, declaredNames(scene, moves));

  const goingSpans = [...goingOf(scene, moves, shape), ...alsoGoing];
  const typeVariables = shape.typeVariables.filter((v) => scene.scopes.isModuleLevel(v) && !isTypeParameter(v));
  const sharing =
    request.target === undefined ? undefined : findSharing(scene, boundary.moduleLevel, goingSpans, typeVariables);
  if (isProblem(sharing)) return sharing;
  const habits = habitsIn(scene);
  return { parts: { scene, moves, boundary, shape, habits, goingSpans, ...(newFile ? { newFile } : {}) }, sharing };
}

/** Writes the component and links it with its host. `hostUses` says what is put in the place of the region. */
export function link({ parts, sharing }: Prepared, hostUses?: readonly Edit[]): Cutting {
  const notes = [...parts.moves.notes];
  const { unknownTypes } = parts.shape;
  if (unknownTypes.length) notes.push(`no type could be found for ${unknownTypes.join(', ')}: written as any`);
  const all = hostUses ? { ...parts, hostUses } : parts;
  const written = sharing ? intoNewFile(all, sharing, parts.scene.request.target!) : intoSameFile(all);
  return { ...written, seam: seamOf(parts.shape), notes };
}

export interface Parts {
  readonly scene: Scene;
  readonly boundary: Boundary;
  readonly moves: Moves;
  readonly shape: Interface;
  readonly habits: Habits;
  /** What leaves the host: the region without what stays with its use, and the statements that go along. */
  readonly goingSpans: readonly Span[];
  readonly newFile?: (file: NewFile) => string;
  /** Set where the region is one of several places: the uses of all of them in its file. */
  readonly hostUses?: readonly Edit[];
}

/** The region, less the code that the use keeps, plus the statements that move. */
function goingOf(scene: Scene, moves: Moves, shape: Interface): Span[] {
  const keeps: Span[] = shape.props
    .filter((p) => p.crossing.key.startsWith('lift'))
    .flatMap((p) => p.crossing.sites.map((s) => s.span));
  keeps.push(...scene.keys.map(spanOf));
  keeps.push(...(scene.request.inputs ?? []).flatMap((input) => input.stays));
  return [...without(scene.region, keeps), ...moves.statements.map(spanOf)];
}

function declaredNames(scene: Scene, moves: Moves): Set<string> {
  const names = new Set<string>();
  for (const span of [scene.region, ...moves.statements.map(spanOf)]) {
    for (const reference of scene.scopes.within(span)) {
      const variable = reference.resolved;
      if (variable && scene.declaredIn(variable, [span])) names.add(variable.name);
    }
  }
  return names;
}

function seamOf(shape: Interface): Seam {
  const entry = (p: Interface['props'][number]) => ({
    name: p.name,
    ...(p.type === undefined ? {} : { type: p.type }),
    ...(p.optional ? { optional: true } : {}),
  });
  return {
    props: shape.props.filter((p) => !p.crossing.event && !p.crossing.slot).map(entry),
    events: shape.props.filter((p) => p.crossing.event).map(entry),
    slots: shape.props.filter((p) => p.crossing.slot).map((p) => ({ name: p.name })),
  };
}

/** Edits inside the host that both ways of cutting share: the use, and the statements that went along. */
function hostEdits({ scene, moves, hostUses, habits }: Parts, use: string): Edit[] {
  if (hostUses) return [...hostUses, ...removals(scene, moves.statements)];
  // The lines of a template string stay where they are.
  const isMovable = !/`[^`]*\n/.test(use);
  const emptied = isMovable ? emptiedBlock(scene, moves) : undefined;
  if (emptied) {
    const others = moves.statements.filter((s) => !nodeWithin(s, emptied));
    const margin = indentAt(scene.text, emptied.start);
    return [{ ...emptied, text: asBody(scene, use, habits, margin, emptied) }, ...removals(scene, others)];
  }
  const comment = scene.comment;
  const start = comment ? comment.range[0] : scene.region.start;
  const around = withoutParentheses(scene, use, habits) ?? { start, end: scene.region.end };
  const text = isMovable && use.includes('\n') && standsBare(scene) ? inParentheses(scene, use, habits) : use;
  return [{ ...around, text }, ...removals(scene, moves.statements)];
}

/** The block of an arrow function in which the use is all that is left: it becomes the body itself. */
function emptiedBlock(scene: Scene, { statements }: Moves): Span | undefined {
  const { holder, scopes, script, region } = scene;
  const block = holder.type === 'ReturnStatement' ? scopes.parentOf(holder) : undefined;
  if (block?.type !== 'BlockStatement' || block.body.length < 2) return undefined;
  if (scopes.parentOf(block)?.type !== 'ArrowFunctionExpression') return undefined;
  const moved: readonly Node[] = statements;
  if (!block.body.every((s) => s === holder || moved.includes(s))) return undefined;
  const going = [region, ...statements.map((s) => withLeadingComments(scene, spanOf(s)))];
  const isKept = (c: Span) => within(c, spanOf(block)) && !going.some((span) => within(c, span));
  return script.comments.some(isKept) ? undefined : spanOf(block);
}

function asBody(scene: Scene, use: string, habits: Habits, margin: string, { start, end }: Span): string {
  const { text, region, scopes, holder } = scene;
  // As formatters have it: what a call in braces makes, turn by turn, stands on lines of its own.
  const [, , call, braces] = scopes.ancestorsOf(holder);
  const isTurn = call?.type === 'CallExpression' && braces?.type === 'JSXExpressionContainer';
  const line = text.slice(text.lastIndexOf('\n', start) + 1, start);
  const rest = /^[^\n]*/.exec(text.slice(end))![0];
  if (!isTurn && !use.includes('\n') && line.length + use.length + rest.length <= habits.width) return use;
  const inner = margin + habits.indent;
  return `(${habits.lineEnd}${inner}${reindent(use, indentAt(text, region.start), inner)}${habits.lineEnd}${margin})`;
}

/** Where code stands that tags over several lines are put in parentheses, and there are none yet. */
function standsBare({ holder, region, text }: Scene): boolean {
  if (text.slice(0, region.start).trimEnd().endsWith('(')) return false;
  return (
    /^(?:ReturnStatement|ConditionalExpression|LogicalExpression|VariableDeclarator)$/.test(holder.type) ||
    (isFunction(holder) && holder.body.type !== 'BlockStatement')
  );
}

function inParentheses({ text, region }: Scene, use: string, { lineEnd, indent }: Habits): string {
  const margin = indentAt(text, region.start);
  return `(${lineEnd}${margin}${indent}${reindent(use, margin, margin + indent)}${lineEnd}${margin})`;
}

/** The region with the parentheses that it needed as long as it took several lines; a use in one line needs none. */
function withoutParentheses({ text, region, amongChildren }: Scene, use: string, { width }: Habits): Span | undefined {
  if (amongChildren || use.includes('\n')) return undefined;
  const before = /(?:\breturn|&&|\|\||\?\?|[^=!<>]=)[ \t]*(\(\s*)$/.exec(text.slice(0, region.start))?.[1];
  const after = /^\s*\)/.exec(text.slice(region.end))?.[0];
  if (before === undefined || after === undefined) return undefined;
  const span = { start: region.start - before.length, end: region.end + after.length };
  const line = text.slice(text.lastIndexOf('\n', span.start) + 1, span.start);
  const rest = /^[^\n]*/.exec(text.slice(span.end))![0];
  return line.length + use.length + rest.length <= width ? span : undefined;
}

/** `Props` where the host's file has one of that name, else `HiveRowProps`; never a name that the new file already has. */
function propsNameFor(scene: Scene, sameFile: boolean, taken: ReadonlySet<string>): string {
  const plain = !sameFile && /^(?:export )?(?:interface|type) Props\b/m.test(scene.text);
  const { name } = scene.request;
  return [...(plain ? ['Props'] : []), `${name}Props`, `${name}OwnProps`].find((n) => !taken.has(n)) ?? `${name}Input`;
}

/** Everything that the new file will call by a name of its own. */
function namesIn(scene: Scene, shape: Interface, sharing: Sharing): Set<string> {
  const variables = [
    ...sharing.imports,
    ...sharing.hostTypes,
    ...shape.typeVariables,
    ...sharing.moved.flatMap((s) => scene.scopes.declaredBy(s)),
  ];
  return new Set([...variables.map((v) => v.name), ...shape.foreignTypes.map((t) => t.name)]);
}

function intoSameFile(parts: Parts): Pick<Cutting, 'edits' | 'files'> {
  const { scene, moves, shape, habits } = parts;
  const nl = habits.lineEnd;
  const written = writeComponent(
    scene,
    shape,
    moves,
    habits,
    'none',
    propsNameFor(scene, true, new Set(scene.scopes.moduleScope.set.keys())),
  );
  const outer = scene.script.program.body.find(
    (s) => s.range[0] <= scene.region.start && s.range[1] >= scene.region.end,
  )!;
  const place = withLeadingComments(scene, spanOf(outer)).start;
  const propTypes = writePropTypes(scene, shape, habits);
  const text = [written.props, written.component, propTypes].filter(Boolean).join(nl + nl) + nl + nl;
  return { edits: [...hostEdits(parts, written.use), { start: place, end: place, text }], files: new Map() };
}

function intoNewFile(parts: Parts, sharing: Sharing, target: string): Pick<Cutting, 'edits' | 'files'> {
  const { scene, moves, shape, habits, goingSpans, newFile } = parts;
  const outgoing = {
    scene,
    habits,
    sharing,
    target,
    goingSpans,
    hostLine: importLineFor(scene, { parts, sharing }, habits, target),
    typeVariables: shape.typeVariables,
    foreignTypes: shape.foreignTypes,
  };
  if (newFile)
    return linkFiles({
      ...outgoing,
      hostEdits: hostEdits(parts, writeUse(scene, shape, habits)),
      imports: sharing.imports,
      sections: [],
      newFile: (head) => newFile({ parts, head }),
    });
  const esm = !isCommonJs(scene);
  const exported = !esm ? 'none' : habits.defaultExport ? 'default' : 'named';
  const propsName = propsNameFor(scene, false, namesIn(scene, shape, sharing));
  const written = writeComponent(scene, shape, moves, habits, exported, propsName);
  const propTypes = writePropTypes(scene, shape, habits);
  const moduleExports = esm ? '' : `module.exports = ${scene.request.name}${habits.semi}`;
  return linkFiles({
    ...outgoing,
    hostEdits: hostEdits(parts, written.use),
    imports: withPropTypes(scene, withReact(scene, sharing.imports), propTypes !== ''),
    sections: [written.props, written.component, propTypes, written.tail, moduleExports],
  });
}

/** The line by which another file gets the new component. */
export function importLineFor(scene: Scene, { parts }: Prepared, habits: Habits, target: string): string {
  const { name } = parts.scene.request;
  const source = `${habits.quote}${sourceFor(scene, scene.request.file.path, target)}${habits.quote}`;
  if (isCommonJs(parts.scene)) return `const ${name} = require(${source})${habits.semi}`;
  const clause = parts.habits.defaultExport ? name : `{${habits.pad}${name}${habits.pad}}`;
  return `import ${clause} from ${source}${habits.semi}`;
}

function withPropTypes(scene: Scene, imports: readonly Variable[], needed: boolean): readonly Variable[] {
  const variable = needed ? scene.scopes.moduleScope.set.get(propTypesName(scene)!) : undefined;
  return variable && !imports.includes(variable) ? [...imports, variable] : imports;
}
