/** Linking what was taken out of a file with that file: the new file, what both share, and the imports on either side. */
import { literally } from '../../../text/pattern.js';
import { basename, dirname, extname } from '../../../files/paths.js';
import type { TSESTree } from '@typescript-eslint/types';
import { textOf } from '../../../files/files.js';
import type { Node } from '../../../script/parser.js';
import { isTypeOnly, type Variable } from '../../../script/scopes.js';
import { nodeWithin, spanOf } from '../../../script/walk.js';
import type { TypeName } from '../../../language/cutting.js';
import { isProblem } from '../../../problems/problems.js';
import { applyEdits, type Edit, type Span } from '../../../text/edits.js';
import { parseFile } from '../source.js';
import { isModuleExports, type Habits } from './habits.js';
import {
  droppedImports,
  importPlace,
  mergedImports,
  placedImport,
  rebasedLoads,
  repeatedImports,
  sourceFor,
  removedLines,
} from '../../imports.js';
import { fileStem } from '../../naming.js';
import { roomFor } from '../../rooms.js';
import { componentIn } from '../../../script/children.js';
import { headComments } from '../../head.js';
import { originOf } from '../../origins.js';
import type { Scene } from './scene.js';
import { needsOf, type Sharing } from './sharing.js';
import { withLeadingComments } from './write.js';

/** What leaves a file, and how its new file is made. */
export interface Outgoing {
  readonly scene: Scene;
  readonly habits: Habits;
  readonly sharing: Sharing;
  readonly target: string;
  readonly goingSpans: readonly Span[];
  /** Edits in the place of what leaves. */
  readonly hostEdits: readonly Edit[];
  /** The import of the new file in the old one, where it has none yet. */
  readonly hostLine: string | undefined;
  /** Import bindings that the new file repeats. */
  readonly imports: readonly Variable[];
  readonly typeVariables: readonly Variable[];
  readonly foreignTypes: readonly TypeName[];
  /** What the new file holds behind its imports and the declarations that moved. */
  readonly sections: readonly string[];
  /** Set where a file is more than one section behind the other; `head`: its imports, and the declarations that moved. */
  readonly newFile?: (head: readonly string[]) => string;
}

export function linkFiles(outgoing: Outgoing): { edits: Edit[]; files: Map<string, string> } {
  const { scene, habits, sharing, target, goingSpans } = outgoing;
  const { file } = scene.request;
  const nl = habits.lineEnd;
  const esm = !isCommonJs(scene);
  const files = new Map<string, string>();
  const edits = [...outgoing.hostEdits];
  const q = habits.quote;
  const importOf = (clause: string, source: string) => `import ${clause} from ${q}${source}${q}${habits.semi}`;
  const requireOf = (pattern: string, source: string) => `const ${pattern} = require(${q}${source}${q})${habits.semi}`;
  const lines = repeatedImports(scene, outgoing.imports, target, habits);
  const hostLines = outgoing.hostLine === undefined ? [] : [outgoing.hostLine];

  const ownTypes = sharing.hostTypes.filter((v) => !sharing.moved.some((m) => scene.scopes.declaredBy(m).includes(v)));
  const types = typesModule(scene, sharing, ownTypes);
  const newSpans = [...goingSpans, ...sharing.moved.map(spanOf)];
  if (sharing.shared.length) {
    const sharedPath = sharedFile(scene, sharing);
    const names = sharing.shared.flatMap((s) => scene.scopes.declaredBy(s).filter((v) => !isTypeOnly(v)));
    files.set(sharedPath, withLoads(scene, sharedModule(scene, habits, sharing, sharedPath, esm, types), sharedPath));
    const shared = new Set(names);
    const usedBy = (inside: boolean) =>
      names
        .filter((v) =>
          v.references.some(
            (r) =>
              !sharing.shared.some((s) => nodeWithin(r.identifier, spanOf(s))) &&
              inside === newSpans.some((s) => nodeWithin(r.identifier, s)),
          ),
        )
        .map((v) => v.name);
    const forNew = usedBy(true);
    const forHost = usedBy(false);
    const link = (list: readonly string[], from: string) =>
      esm
        ? importOf(`{${habits.pad}${list.join(', ')}${habits.pad}}`, sourceFor(scene, from, sharedPath))
        : requireOf(`{ ${list.join(', ')} }`, sourceFor(scene, from, sharedPath));
    if (forNew.length) lines.push(link(forNew, target));
    const gone = [...newSpans, ...sharing.shared.map(spanOf)];
    const widened = forHost.length > 0 && esm ? widenedImport(scene, forHost, sharedPath, gone) : undefined;
    if (widened) edits.push(widened);
    else if (forHost.length) hostLines.push(link(forHost, file.path));
    const reexported = sharing.shared
      .filter((s) => s.type === 'ExportNamedDeclaration')
      .flatMap((s) => scene.scopes.declaredBy(s))
      .filter((v) => shared.has(v))
      .map((v) => v.name);
    if (reexported.length)
      hostLines.push(
        `export { ${reexported.join(', ')} } from ${q}${sourceFor(scene, file.path, sharedPath)}${q}${habits.semi}`,
      );
  }
  const typeNames = ownTypes.filter(
    (v) =>
      outgoing.typeVariables.includes(v) ||
      v.references.some((r) => newSpans.some((span) => nodeWithin(r.identifier, span))),
  );
  for (const type of ownTypes) if (!types?.variables.has(type)) edits.push(...exportEdit(scene, type));
  lines.push(...typeImports(scene, typeNames, types, target, habits));
  if (types) {
    const { statements, variables, path } = types;
    files.set(path, typesText(scene, types, habits));
    const gone = [...newSpans, ...[...statements, ...sharing.shared].map(spanOf)];
    const forHost = [...variables].filter((v) =>
      v.references.some((r) => !gone.some((span) => nodeWithin(r.identifier, span))),
    );
    const names = forHost.map((v) => v.name);
    const widened = forHost.length > 0 ? widenedImport(scene, names, path, gone) : undefined;
    if (widened) edits.push(widened);
    else hostLines.push(...typeImports(scene, forHost, types, file.path, habits));
  }
  const isNew = ({ name }: TypeName) => !outgoing.imports.some((v) => v.name === name);
  lines.push(...foreignImports(outgoing.foreignTypes.filter(isNew), target, scene, habits));

  const movedModule = sharing.moved.map((s) => {
    const span = withLeadingComments(scene, spanOf(s));
    return scene.text.slice(span.start, span.end);
  });
  const leaving = [...sharing.moved, ...sharing.shared, ...(types?.statements ?? [])];
  edits.push(...removals(scene, leaving));

  const directives = scene.script.program.body.flatMap((s) =>
    s.type === 'ExpressionStatement' && 'directive' in s && s.directive === 'use client' ? [scene.slice(s)] : [],
  );
  const head = headComments(scene.script, scene.text);
  const sections = [
    [...head, ...directives].join(nl),
    mergedImports(lines, habits).join(nl),
    movedModule.join(nl + nl),
  ];
  const written =
    outgoing.newFile?.(sections) ?? [...sections, ...outgoing.sections].filter(Boolean).join(nl + nl) + nl;
  files.set(target, withLoads(scene, written, target));

  edits.push(...droppedImports(scene, [...goingSpans, ...leaving.map(spanOf)]));
  return {
    edits: hostLines.length > 0 ? placedImport(scene, importPlace(scene), edits, hostLines, nl) : edits,
    files,
  };
}

/** A new text with the files that its code loads, as its own folder writes them. */
function withLoads({ request: { file, ports } }: Scene, text: string, target: string): string {
  if (dirname(file.path) === dirname(target)) return text;
  const script = parseFile({ path: target, text }, ports);
  const code = isProblem(script) ? [] : script.program.body;
  return applyEdits(
    text,
    code.flatMap((statement) => rebasedLoads(statement, file.path, target)),
  );
}

/** Removal of whole statements with their comments; neighbours go as one, so that no gap is left between them. */
export function removals(scene: Scene, statements: readonly Node[]): Edit[] {
  return removedLines(
    scene.text,
    statements.map((s) => withLeadingComments(scene, spanOf(s))),
  );
}

export function isCommonJs(scene: Scene): boolean {
  const body = scene.script.program.body;
  return (
    !body.some((s) => s.type === 'ImportDeclaration' || s.type.startsWith('Export')) &&
    body.some((s) => isModuleExports(s))
  );
}

/**
 * One module for all that the host shares: each later cut adds to it, where it has none of the names. A component that is
 * shared alone has a file of its own, as it would have had from the beginning.
 */
function sharedFile(scene: Scene, sharing: Sharing): string {
  const host = scene.request.file.path;
  const holdsJsx = sharing.shared.some((s) => /<[A-Za-z>]/.test(scene.slice(s)));
  const extension = holdsJsx ? extname(host) : extname(host).replace('x', '');
  const names = sharing.shared.flatMap((s) => scene.scopes.declaredBy(s)).map((v) => v.name);
  const isOurs = (path: string) => {
    const known = textOf(scene.request.project.files, path) ?? '';
    const isThere = (name: string) => new RegExp(`(?<![\\w$])${literally(name)}(?![\\w$])`).test(known);
    const isRenamed = (v: Variable) => ![undefined, v.name].includes(originHere(scene, v, path));
    return /^export /m.test(known) && !names.some(isThere) && !sharing.sharedImports.some(isRenamed);
  };
  const [only] = sharing.shared;
  if (sharing.shared.length === 1 && names.length === 1 && /^[A-Z][a-z]/.test(names[0]!) && holdsFunction(only!))
    return fileBeside(scene, [names[0]!, `${ownerName(scene)}${names[0]!}`], extension);
  return fileBeside(scene, [`${ownerName(scene)}Shared`], extension, isOurs);
}

/** Whether a statement declares a function, or a constant that is one. */
function holdsFunction(statement: Node): boolean {
  const inner =
    statement.type === 'ExportNamedDeclaration' && statement.declaration ? statement.declaration : statement;
  if (inner.type === 'FunctionDeclaration') return true;
  const init = inner.type === 'VariableDeclaration' ? inner.declarations[0]?.init : undefined;
  return init != null && componentIn(init) !== undefined;
}

/** What an import is called in the module at `path`; undefined where it comes from another one. */
function originHere({ request, scopes }: Scene, variable: Variable, path: string): string | undefined {
  const origin = originOf(variable, variable.name, request.file.path, scopes, request.project.resolver);
  return origin?.startsWith(`${path}#`) ? origin.slice(path.length + 1) : undefined;
}

/** What a module that was taken out of a file is called after. */
function ownerName(scene: Scene): string {
  const host = scene.request.file.path;
  const base = basename(host).replace(/\..*$/, '');
  return base === 'index' ? basename(dirname(host)) || 'index' : base;
}

/**
 * A free path beside the host's file for the first name that is free, spelled as that file is; on many disks names
 * that differ in their capitals alone are one. `mayBe`: a file that stands there and will do.
 */
function fileBeside(
  scene: Scene,
  names: readonly string[],
  extension: string,
  mayBe?: (path: string) => boolean,
): string {
  const host = scene.request.file.path;
  const room = roomFor(scene.request.project.files, host);
  const dir = room ? `${room}/` : '';
  const stems = names.map((name) => fileStem(scene.request.project, host, name));
  const { target } = scene.request;
  const known = scene.request.project.files.list();
  const bare = (path: string) => path.replace(/\.[^./]*$/, '').toLowerCase();
  const taken = new Set([...known, ...(target === undefined ? [] : [target])].map(bare));
  for (let i = 1; ; i++)
    for (const stem of stems) {
      const path = `${dir}${stem}${i === 1 ? '' : i}${extension}`;
      if (!taken.has(bare(path)) || (mayBe?.(path) && known.includes(path))) return path;
    }
}

function sharedModule(
  scene: Scene,
  habits: Habits,
  sharing: Sharing,
  path: string,
  esm: boolean,
  home: TypesModule | undefined,
): string {
  const nl = habits.lineEnd;
  const foreign = sharing.sharedImports.filter((v) => originHere(scene, v, path) === undefined);
  const holdsJsx = /<[A-Za-z>]/.test(sharing.shared.map((s) => scene.slice(s)).join());
  const imports = repeatedImports(scene, holdsJsx ? withReact(scene, foreign) : foreign, path, habits);
  const types = sharing.hostTypes.filter((v) =>
    v.references.some((r) => sharing.shared.some((s) => nodeWithin(r.identifier, spanOf(s)))),
  );
  imports.push(...typeImports(scene, types, home, path, habits));
  const statements = sharing.shared.map((s) => {
    const span = withLeadingComments(scene, spanOf(s));
    const text = scene.text.slice(span.start, span.end);
    const at = s.range[0] - span.start;
    const bare = s.type === 'ExpressionStatement' || s.type === 'ExportNamedDeclaration' || !esm;
    return bare ? text : `${text.slice(0, at)}export ${text.slice(at)}`;
  });
  const names = sharing.shared.flatMap((s) => scene.scopes.declaredBy(s)).map((v) => v.name);
  const tail = esm ? '' : `module.exports = { ${names.join(', ')} }${habits.semi}`;
  const directives = scene.script.program.body.some(
    (s) => s.type === 'ExpressionStatement' && 'directive' in s && s.directive === 'use client',
  );
  const client =
    directives && /<[A-Za-z>]|\buse[A-Z]/.test(statements.join())
      ? `${habits.quote}use client${habits.quote}${habits.semi}`
      : '';
  const head = headComments(scene.script, scene.text);
  const known = textOf(scene.request.project.files, path);
  if (known !== undefined) return addedTo(known, imports, [...statements, tail], habits);
  return (
    [[...head, client].filter(Boolean).join(nl), imports.join(nl), statements.join(nl + nl), tail]
      .filter(Boolean)
      .join(nl + nl) + nl
  );
}

/** A module that was written by an earlier cut, with imports and statements that come to it. */
function addedTo(known: string, imports: readonly string[], statements: readonly string[], habits: Habits): string {
  const nl = habits.lineEnd;
  // As it was written, each import takes one line, and they stand together.
  const there = /^(?:import .*['"];?\r?\n)+/m.exec(known);
  const written = there ? there[0].trimEnd().split(/\r?\n/) : [];
  const all = mergedImports([...written, ...imports], habits).join(nl);
  const rest = there
    ? known.slice(0, there.index) + all + known.slice(there.index + there[0].trimEnd().length)
    : `${all}${all && nl + nl}${known}`;
  return [rest.trimEnd(), ...statements].filter(Boolean).join(nl + nl) + nl;
}

/** Types of the host that get a module of their own, or go to the one that the host has for them. */
interface TypesModule {
  readonly path: string;
  readonly variables: ReadonlySet<Variable>;
  readonly statements: readonly TSESTree.ProgramStatement[];
}

/** The types that both sides use, with what they are made of, but for those that the file exports or a value stands behind. */
function typesModule(scene: Scene, sharing: Sharing, wanted: readonly Variable[]): TypesModule | undefined {
  const leaving = new Set<TSESTree.ProgramStatement>();
  const leave = (variable: Variable, with_: Set<TSESTree.ProgramStatement>): boolean => {
    if (scene.scopes.isImport(variable)) return true;
    const statement = scene.scopes.statementOf(variable);
    if (!statement || !/^TS(?:Interface|TypeAlias)Declaration$/.test(statement.type)) return false;
    // What a component takes is written down beside it.
    if (/Props$/.test(variable.name)) return false;
    if (exportEdit(scene, variable).length === 0 || sharing.moved.includes(statement)) return false;
    if (with_.has(statement) || leaving.has(statement)) return true;
    with_.add(statement);
    return needsOf(scene, statement).every((need) => leave(need, with_));
  };
  for (const variable of wanted) {
    const together = new Set<TSESTree.ProgramStatement>();
    if (leave(variable, together)) for (const statement of together) leaving.add(statement);
  }
  if (leaving.size === 0) return undefined;
  const statements = [...leaving].sort((a, b) => a.range[0] - b.range[0]);
  const isOurs = (path: string) => importsFrom(scene, path);
  const path = fileBeside(scene, [`${ownerName(scene)}Types`], '.ts', isOurs);
  return { path, statements, variables: new Set(statements.flatMap((s) => scene.scopes.declaredBy(s))) };
}

/** The import that the host has of a module, with more names; undefined where it has none, or loses names with what is gone. */
function widenedImport(scene: Scene, names: readonly string[], path: string, gone: readonly Span[]): Edit | undefined {
  const source = sourceFor(scene, scene.request.file.path, path);
  const found = scene.script.program.body.find((s) => s.type === 'ImportDeclaration' && s.source.value === source);
  const last = found?.type === 'ImportDeclaration' ? found.specifiers.at(-1) : undefined;
  if (!found || last?.type !== 'ImportSpecifier') return undefined;
  const dropped = droppedImports(scene, gone);
  if (dropped.some((edit) => edit.start < found.range[1] && edit.end > found.range[0])) return undefined;
  return { start: last.range[1], end: last.range[1], text: names.map((name) => `, ${name}`).join('') };
}

function importsFrom(scene: Scene, path: string): boolean {
  const source = sourceFor(scene, scene.request.file.path, path);
  return scene.script.program.body.some((s) => s.type === 'ImportDeclaration' && s.source.value === source);
}

/** The text of the module of types: what stands there, and the types that come to it. */
function typesText(scene: Scene, { path, statements }: TypesModule, habits: Habits): string {
  const nl = habits.lineEnd;
  const known = textOf(scene.request.project.files, path);
  const needs = statements
    .flatMap((s) => needsOf(scene, s))
    .filter((v) => scene.scopes.isImport(v) && originHere(scene, v, path) === undefined);
  const imports = repeatedImports(scene, [...new Set(needs)], path, habits).filter((line) => !known?.includes(line));
  const texts = statements.map((s) => {
    const span = withLeadingComments(scene, spanOf(s));
    return `${scene.text.slice(span.start, s.range[0])}export ${scene.slice(s)}`;
  });
  const parts = [imports.join(nl), ...(known === undefined ? [] : [known.trimEnd()]), ...texts];
  return parts.filter(Boolean).join(nl + nl) + nl;
}

/** Imports of types of the host: from their module, or from the host itself. */
function typeImports(
  scene: Scene,
  variables: readonly Variable[],
  types: TypesModule | undefined,
  path: string,
  habits: Habits,
): string[] {
  const { pad, quote: q, semi } = habits;
  const line = (list: readonly Variable[], from: string) =>
    list.length === 0
      ? []
      : [
          `import type {${pad}${list.map((v) => v.name).join(', ')}${pad}} from ${q}${sourceFor(scene, path, from)}${q}${semi}`,
        ];
  const moved = variables.filter((v) => types?.variables.has(v));
  const stay = variables.filter((v) => !moved.includes(v));
  return [...line(stay, scene.request.file.path), ...(types ? line(moved, types.path) : [])];
}

/** `export` in front of a type of the host that a new file imports. */
function exportEdit(scene: Scene, type: Variable): Edit[] {
  const statement = scene.scopes.statementOf(type);
  if (!statement || statement.type.startsWith('Export')) return [];
  const listed = scene.script.program.body.some(
    (s) =>
      s.type === 'ExportNamedDeclaration' &&
      s.specifiers.some((x) => x.local.type === 'Identifier' && x.local.name === type.name),
  );
  return listed ? [] : [{ start: statement.range[0], end: statement.range[0], text: 'export ' }];
}

function foreignImports(foreignTypes: readonly TypeName[], target: string, scene: Scene, habits: Habits): string[] {
  const bySource = new Map<string, string[]>();
  for (const { name, from } of foreignTypes) {
    if (from === 'here') continue;
    const source = 'module' in from ? from.module : sourceFor(scene, target, from.path);
    bySource.set(source, [...(bySource.get(source) ?? []), name]);
  }
  return [...bySource].map(
    ([source, names]) =>
      `import type {${habits.pad}${names.sort().join(', ')}${habits.pad}} from ${habits.quote}${source}${habits.quote}${habits.semi}`,
  );
}

/** Where JSX is compiled to `React.createElement`, every file with JSX needs `React`, named or not. */
export function withReact(scene: Scene, imports: readonly Variable[]): readonly Variable[] {
  const react = scene.scopes.moduleScope.set.get('React');
  if (!react || !scene.scopes.isImport(react) || imports.includes(react)) return imports;
  const setting = scene.request.project.resolver.jsxSetting(scene.request.file.path);
  // Where nothing is said, React by name is what always works.
  const classic = setting === undefined || setting === 'react' || setting === 'react-native';
  return classic ? [react, ...imports] : imports;
}
