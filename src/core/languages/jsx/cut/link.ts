/** Linking what was taken out of a file with that file: the new file, what both share, and the imports on either side. */
import { basename, dirname, extname } from '../../../files/paths.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { nodeWithin, spanOf } from '../../../script/walk.js';
import type { TypeName } from '../../../steps/cutting.js';
import type { Edit, Span } from '../../../text/edits.js';
import { isModuleExports, type Habits } from './habits.js';
import {
  droppedImports,
  importPlace,
  mergedTypeImports,
  placedImport,
  repeatedImports,
  sourceFor,
  wholeLines,
} from '../../imports.js';
import type { Scene } from './scene.js';
import { declaredBy, isTypeOnly, statementOfModule, type Sharing } from './sharing.js';
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
  /** The import of the new file in the old one. */
  readonly hostLine: string;
  /** Import bindings that the new file repeats. */
  readonly imports: readonly Variable[];
  readonly typeVariables: readonly Variable[];
  readonly foreignTypes: readonly TypeName[];
  /** What the new file holds behind its imports and the declarations that moved. */
  readonly sections: readonly string[];
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
  const hostLines = [outgoing.hostLine];

  if (sharing.shared.length) {
    const sharedPath = sharedFile(scene, sharing);
    const names = sharing.shared.flatMap((s) => declaredBy(scene, s).filter((v) => !isTypeOnly(v)));
    files.set(sharedPath, sharedModule(scene, habits, sharing, sharedPath, esm));
    const shared = new Set(names);
    const usedBy = (spans: readonly Span[], inside: boolean) =>
      names.filter((v) =>
        v.references.some(
          (r) =>
            !sharing.shared.some((s) => nodeWithin(r.identifier, spanOf(s))) &&
            inside === [...spans, ...sharing.moved.map(spanOf)].some((s) => nodeWithin(r.identifier, s)),
        ),
      );
    const forNew = usedBy(goingSpans, true).map((v) => v.name);
    const forHost = usedBy(goingSpans, false).map((v) => v.name);
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
  const newSpans = [...goingSpans, ...sharing.moved.map(spanOf)];
  const typeNames = ownTypes.filter(
    (v) =>
      outgoing.typeVariables.includes(v) ||
      v.references.some((r) => newSpans.some((span) => nodeWithin(r.identifier, span))),
  );
  for (const type of ownTypes) edits.push(...exportEdit(scene, type));
  if (typeNames.length)
    lines.push(
      `import type {${habits.pad}${typeNames.map((v) => v.name).join(', ')}${habits.pad}} from ${q}${sourceFor(scene, target, file.path)}${q}${habits.semi}`,
    );
  lines.push(...foreignImports(outgoing.foreignTypes, target, scene, habits));

  const movedModule = sharing.moved.map((s) => {
    const span = withLeadingComments(scene, spanOf(s));
    return scene.text.slice(span.start, span.end);
  });
  edits.push(...removals(scene, [...sharing.moved, ...sharing.shared]));

  const directives = scene.script.program.body.flatMap((s) =>
    s.type === 'ExpressionStatement' && 'directive' in s && s.directive === 'use client' ? [scene.slice(s)] : [],
  );
  const sections = [directives.join(nl), mergedTypeImports(lines, habits).join(nl), movedModule.join(nl + nl)];
  files.set(target, [...sections, ...outgoing.sections].filter(Boolean).join(nl + nl) + nl);

  const removed = [...goingSpans, ...sharing.moved.map(spanOf), ...sharing.shared.map(spanOf)];
  edits.push(...droppedImports(scene, removed));
  return { edits: placedImport(scene, importPlace(scene), edits, hostLines, nl), files };
}

/** Removal of whole statements with their comments; neighbours go as one, so that no gap is left between them. */
export function removals(scene: Scene, statements: readonly Node[]): Edit[] {
  const spans = statements.map((s) => withLeadingComments(scene, spanOf(s))).sort((a, b) => a.start - b.start);
  const merged: Span[] = [];
  for (const span of spans) {
    const last = merged[merged.length - 1];
    if (last && /^[\s;]*$/.test(scene.text.slice(last.end, span.start)))
      merged[merged.length - 1] = { start: last.start, end: span.end };
    else merged.push(span);
  }
  return merged.map((span) => wholeLines(scene.text, span));
}

export function isCommonJs(scene: Scene): boolean {
  const body = scene.script.program.body;
  return (
    !body.some((s) => s.type === 'ImportDeclaration' || s.type.startsWith('Export')) &&
    body.some((s) => isModuleExports(s))
  );
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

function sharedModule(scene: Scene, habits: Habits, sharing: Sharing, path: string, esm: boolean): string {
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
