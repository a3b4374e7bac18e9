/**
 * Cuts a region of JSX out into a component: find what crosses the boundary, shape the interface, write the component
 * and its use, and link the files.
 */
import { isProblem, type Problem } from '../../../problems/problems.js';
import { basename, dirname, extname } from '../../../files/paths.js';
import type { CutRequest, Cutting, Seam } from '../../../steps/cutting.js';
import type { Variable } from '../../../script/scopes.js';
import type { Node } from '../../../script/parser.js';
import { nodeWithin, spanOf } from '../../../script/walk.js';
import type { Edit, Span } from '../../../text/edits.js';
import { parseFile } from '../source.js';
import { findCrossings, type Boundary } from './crossings.js';
import { habitsOf, isModuleExports, type Habits } from './habits.js';
import {
  droppedImports,
  importPlace,
  mergedTypeImports,
  placedImport,
  repeatedImports,
  sourceFor,
  wholeLines,
} from './imports.js';
import { shapeInterface, type Interface } from './interface.js';
import { findLifts } from './lifts.js';
import { findMoves, type Moves } from './moves.js';
import { propTypesName, writePropTypes } from './prop-types.js';
import { Scene } from './scene.js';
import { declaredBy, findSharing, isTypeOnly, statementOfModule, type Sharing } from './sharing.js';
import { withLeadingComments, writeComponent } from './write.js';
import { isTypeParameter } from './crossings.js';

export function cut(request: CutRequest): Cutting | Problem {
  const prepared = prepare(request);
  if (isProblem(prepared)) return prepared;
  if (prepared.sharing?.circular !== undefined) {
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
export function prepare(request: CutRequest, alsoGoing: readonly Span[] = []): Prepared | Problem {
  const script = parseFile(request.file, request.ports);
  if (isProblem(script)) return script;
  const scene = new Scene(request, script);

  const trouble = findLifts(scene);
  if (isProblem(trouble)) return trouble;
  const moves = request.inputs ? { statements: [], notes: [] } : findMoves(scene, trouble.lifts);
  const boundary = findCrossings(scene, trouble, moves);
  if (isProblem(boundary)) return boundary;
  const shape = shapeInterface(scene, boundary, declaredNames(scene, moves));

  const goingSpans = [...goingOf(scene, moves, shape), ...alsoGoing];
  const typeVariables = shape.typeVariables.filter((v) => scene.scopes.isModuleLevel(v) && !isTypeParameter(v));
  const sharing =
    request.target === undefined ? undefined : findSharing(scene, boundary.moduleLevel, goingSpans, typeVariables);
  if (isProblem(sharing)) return sharing;
  const habits = habitsOf(request.file.path, scene.text, script.program);
  return { parts: { scene, moves, boundary, shape, habits, goingSpans }, sharing };
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
  /** Set where the region is one of several places: the uses of all of them in its file. */
  readonly hostUses?: readonly Edit[];
}

/** The region, less the code that the use keeps, plus the statements that move. */
function goingOf(scene: Scene, moves: Moves, shape: Interface): Span[] {
  const keeps: Span[] = shape.props
    .filter((p) => p.crossing.key.startsWith('lift'))
    .flatMap((p) => p.crossing.sites.map((s) => s.span));
  if (scene.key) keeps.push(spanOf(scene.key));
  keeps.push(...(scene.request.inputs ?? []).flatMap((input) => input.stays));
  return [...without(scene.region, keeps), ...moves.statements.map(spanOf)];
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
  });
  return {
    props: shape.props.filter((p) => !p.crossing.event && !p.crossing.slot).map(entry),
    events: shape.props.filter((p) => p.crossing.event).map(entry),
    slots: shape.props.filter((p) => p.crossing.slot).map((p) => ({ name: p.name })),
  };
}

/** Edits inside the host that both ways of cutting share: the use, and the statements that went along. */
function hostEdits({ scene, moves, hostUses }: Parts, use: string): Edit[] {
  if (hostUses) return [...hostUses];
  const comment = scene.comment;
  const start = comment ? comment.range[0] : scene.region.start;
  return [{ start, end: scene.region.end, text: use }, ...removals(scene, moves.statements)];
}

/** Removal of whole statements with their comments; neighbours go as one, so that no gap is left between them. */
function removals(scene: Scene, statements: readonly Node[]): Edit[] {
  const spans = statements.map((s) => withLeadingComments(scene, spanOf(s))).sort((a, b) => a.start - b.start);
  const merged: Span[] = [];
  for (const span of spans) {
    const last = merged[merged.length - 1];
    if (last && /^[\s;]*$/.test(scene.text.slice(last.end, span.start)))
      merged[merged.length - 1] = { start: last.start, end: span.end };
    else merged.push(span);
  }
  return merged.map((span) => wholeLines(scene, span));
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
    ...sharing.moved.flatMap((s) => declaredBy(scene, s)),
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
  const { scene, moves, shape, habits } = parts;
  const { name, file } = scene.request;
  const nl = habits.lineEnd;
  const esm = !isCommonJs(scene);
  const defaultExport = esm && habits.defaultExport;
  const exported = !esm ? 'none' : defaultExport ? 'default' : 'named';
  const written = writeComponent(
    scene,
    shape,
    moves,
    habits,
    exported,
    propsNameFor(scene, false, namesIn(scene, shape, sharing)),
  );
  const files = new Map<string, string>();
  const edits = hostEdits(parts, written.use);
  const q = habits.quote;
  const importOf = (clause: string, source: string) => `import ${clause} from ${q}${source}${q}${habits.semi}`;
  const requireOf = (pattern: string, source: string) => `const ${pattern} = require(${q}${source}${q})${habits.semi}`;

  const propTypes = writePropTypes(scene, shape, habits);
  const needed = withPropTypes(scene, withReact(scene, sharing.imports), propTypes !== '');
  const lines = repeatedImports(scene, needed, target, habits);
  const hostLines = [
    esm
      ? importOf(defaultExport ? name : `{${habits.pad}${name}${habits.pad}}`, sourceFor(scene, file.path, target))
      : requireOf(name, sourceFor(scene, file.path, target)),
  ];

  if (sharing.shared.length) {
    const sharedPath = sharedFile(scene, sharing);
    const names = sharing.shared.flatMap((s) => declaredBy(scene, s).filter((v) => !isTypeOnly(v)));
    files.set(sharedPath, sharedModule(parts, sharing, sharedPath, esm));
    const shared = new Set(names);
    const usedBy = (spans: readonly Span[], inside: boolean) =>
      names.filter((v) =>
        v.references.some(
          (r) =>
            !sharing.shared.some((s) => nodeWithin(r.identifier, spanOf(s))) &&
            inside === [...spans, ...sharing.moved.map(spanOf)].some((s) => nodeWithin(r.identifier, s)),
        ),
      );
    const forNew = usedBy(parts.goingSpans, true).map((v) => v.name);
    const forHost = usedBy(parts.goingSpans, false).map((v) => v.name);
    const link = (list: readonly string[], from: string) =>
      esm
        ? importOf(`{${habits.pad}${list.join(', ')}${habits.pad}}`, sourceFor(scene, from, sharedPath))
        : requireOf(`{ ${list.join(', ')} }`, sourceFor(scene, from, sharedPath));
    if (forNew.length) lines.push(link(forNew, target));
    if (forHost.length) hostLines.push(link(forHost, file.path));
    const reexported = sharing.shared
      .filter((s) => s.type === 'ExportNamedDeclaration')
      .flatMap((s) => declaredBy(scene, s))
      .filter((v) => shared.has(v))
      .map((v) => v.name);
    if (reexported.length)
      hostLines.push(
        `export { ${reexported.join(', ')} } from ${q}${sourceFor(scene, file.path, sharedPath)}${q}${habits.semi}`,
      );
  }
  const ownTypes = sharing.hostTypes.filter((v) => !sharing.moved.some((m) => declaredBy(scene, m).includes(v)));
  const newSpans = [...parts.goingSpans, ...sharing.moved.map(spanOf)];
  const typeNames = ownTypes.filter(
    (v) =>
      shape.typeVariables.includes(v) ||
      v.references.some((r) => newSpans.some((span) => nodeWithin(r.identifier, span))),
  );
  for (const type of ownTypes) edits.push(...exportEdit(scene, type));
  if (typeNames.length)
    lines.push(
      `import type {${habits.pad}${typeNames.map((v) => v.name).join(', ')}${habits.pad}} from ${q}${sourceFor(scene, target, file.path)}${q}${habits.semi}`,
    );
  lines.push(...foreignImports(shape, target, scene, habits));

  const movedModule = sharing.moved.map((s) => {
    const span = withLeadingComments(scene, spanOf(s));
    return scene.text.slice(span.start, span.end);
  });
  edits.push(...removals(scene, [...sharing.moved, ...sharing.shared]));

  const directives = scene.script.program.body.flatMap((s) =>
    s.type === 'ExpressionStatement' && 'directive' in s && s.directive === 'use client' ? [scene.slice(s)] : [],
  );
  const sections = [
    directives.join(nl),
    mergedTypeImports(lines, habits).join(nl),
    movedModule.join(nl + nl),
    written.props,
    written.component,
    propTypes,
    written.tail,
    esm ? '' : `module.exports = ${name}${habits.semi}`,
  ];
  files.set(target, sections.filter(Boolean).join(nl + nl) + nl);

  const removed = [...parts.goingSpans, ...sharing.moved.map(spanOf), ...sharing.shared.map(spanOf)];
  edits.push(...droppedImports(scene, removed));
  return { edits: placedImport(scene, importPlace(scene), edits, hostLines, nl), files };
}

/** The line by which another file gets the new component. */
export function importLineFor(scene: Scene, { parts }: Prepared, habits: Habits, target: string): string {
  const { name } = parts.scene.request;
  const source = `${habits.quote}${sourceFor(scene, scene.request.file.path, target)}${habits.quote}`;
  if (isCommonJs(parts.scene)) return `const ${name} = require(${source})${habits.semi}`;
  const clause = parts.habits.defaultExport ? name : `{${habits.pad}${name}${habits.pad}}`;
  return `import ${clause} from ${source}${habits.semi}`;
}

function isCommonJs(scene: Scene): boolean {
  const body = scene.script.program.body;
  return (
    !body.some((s) => s.type === 'ImportDeclaration' || s.type.startsWith('Export')) &&
    body.some((s) => isModuleExports(s))
  );
}

/** Where JSX is compiled to `React.createElement`, every file with JSX needs `React`, named or not. */
function withReact(scene: Scene, imports: readonly Variable[]): readonly Variable[] {
  const react = scene.scopes.moduleScope.set.get('React');
  if (!react || !scene.scopes.isImport(react) || imports.includes(react)) return imports;
  const setting = scene.request.project.resolver.jsxSetting(scene.request.file.path);
  // Where nothing is said, React by name is what always works.
  const classic = setting === undefined || setting === 'react' || setting === 'react-native';
  return classic ? [react, ...imports] : imports;
}

function withPropTypes(scene: Scene, imports: readonly Variable[], needed: boolean): readonly Variable[] {
  const variable = needed ? scene.scopes.moduleScope.set.get(propTypesName(scene)!) : undefined;
  return variable && !imports.includes(variable) ? [...imports, variable] : imports;
}

/** Names that say nothing without the file that they come from. */
const VAGUE =
  /^(?:styles?|classes|config|options|constants|columns|theme|defaults|types|data|items|props|defaultProps|utils)$/i;

/** `harvestsOfYear` for `HARVESTS_OF_YEAR`, `SearchbarStyles` for `styles`; other names as they are. */
function fileStem(name: string, base: string): string {
  if (VAGUE.test(name)) return base + name[0]!.toUpperCase() + name.slice(1).toLowerCase();
  if (!/^[A-Z][A-Z0-9_]+$/.test(name)) return name;
  return name.toLowerCase().replace(/_+(\w)/g, (_, next: string) => next.toUpperCase());
}

function sharedFile(scene: Scene, sharing: Sharing): string {
  const host = scene.request.file.path;
  const names = sharing.shared.flatMap((s) => declaredBy(scene, s).filter((v) => !isTypeOnly(v))).map((v) => v.name);
  const declarations = sharing.shared.filter((s) => s.type !== 'ExpressionStatement').length;
  const base = basename(host).replace(/\.[^.]*$/, '');
  const owner = base === 'index' ? basename(dirname(host)) || 'index' : base;
  const camel = declarations === 1 && names.length === 1 ? fileStem(names[0]!, owner) : `${owner}Shared`;
  const stem = /^[a-z0-9]+(?:-[a-z0-9]+)+/.test(base)
    ? camel.replace(/([a-z0-9])([A-Z])/g, '$1-$2').toLowerCase()
    : camel;
  const dir = dirname(host) ? `${dirname(host)}/` : '';
  const holdsJsx = sharing.shared.some((s) => /<[A-Za-z>]/.test(scene.slice(s)));
  const extension = holdsJsx ? extname(host) : extname(host).replace('x', '');
  const taken = new Set(scene.request.project.files.list());
  for (let i = 1; ; i++) {
    const path = `${dir}${stem}${i === 1 ? '' : i}${extension}`;
    const bare = path.slice(0, path.length - extension.length);
    if (![...taken].some((p) => p === path || p.replace(/\.[^./]*$/, '') === bare) && path !== scene.request.target)
      return path;
  }
}

function sharedModule({ scene, habits }: Parts, sharing: Sharing, path: string, esm: boolean): string {
  const nl = habits.lineEnd;
  const imports = repeatedImports(
    scene,
    /<[A-Za-z>]/.test(sharing.shared.map((s) => scene.slice(s)).join())
      ? withReact(scene, sharing.sharedImports)
      : sharing.sharedImports,
    path,
    habits,
  );
  const types = sharing.hostTypes.filter((v) =>
    v.references.some((r) => sharing.shared.some((s) => nodeWithin(r.identifier, spanOf(s)))),
  );
  if (types.length)
    imports.push(
      `import type {${habits.pad}${types.map((v) => v.name).join(', ')}${habits.pad}} from ${habits.quote}${sourceFor(scene, path, scene.request.file.path)}${habits.quote}${habits.semi}`,
    );
  const statements = sharing.shared.map((s) => {
    const span = withLeadingComments(scene, spanOf(s));
    const text = scene.text.slice(span.start, span.end);
    const at = s.range[0] - span.start;
    const bare = s.type === 'ExpressionStatement' || s.type === 'ExportNamedDeclaration' || !esm;
    return bare ? text : `${text.slice(0, at)}export ${text.slice(at)}`;
  });
  const names = sharing.shared.flatMap((s) => declaredBy(scene, s)).map((v) => v.name);
  const tail = esm ? '' : `module.exports = { ${names.join(', ')} }${habits.semi}`;
  const directives = scene.script.program.body.some(
    (s) => s.type === 'ExpressionStatement' && 'directive' in s && s.directive === 'use client',
  );
  const client =
    directives && /<[A-Za-z>]|\buse[A-Z]/.test(statements.join())
      ? `${habits.quote}use client${habits.quote}${habits.semi}`
      : '';
  return [client, imports.join(nl), statements.join(nl + nl), tail].filter(Boolean).join(nl + nl) + nl;
}

/** `export` in front of a type of the host that a new file imports. */
function exportEdit(scene: Scene, type: Variable): Edit[] {
  const statement = statementOfModule(scene, type);
  if (!statement || statement.type.startsWith('Export')) return [];
  const listed = scene.script.program.body.some(
    (s) =>
      s.type === 'ExportNamedDeclaration' &&
      s.specifiers.some((x) => x.local.type === 'Identifier' && x.local.name === type.name),
  );
  return listed ? [] : [{ start: statement.range[0], end: statement.range[0], text: 'export ' }];
}

function foreignImports(shape: Interface, target: string, scene: Scene, habits: Habits): string[] {
  const bySource = new Map<string, string[]>();
  for (const { name, from } of shape.foreignTypes) {
    if (from === 'here') continue;
    const source = 'module' in from ? from.module : sourceFor(scene, target, from.path);
    bySource.set(source, [...(bySource.get(source) ?? []), name]);
  }
  return [...bySource].map(
    ([source, names]) =>
      `import type {${habits.pad}${names.sort().join(', ')}${habits.pad}} from ${habits.quote}${source}${habits.quote}${habits.semi}`,
  );
}
