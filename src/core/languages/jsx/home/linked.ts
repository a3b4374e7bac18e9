/** What two files need of one another once state has gone from one into the other: imports, and what both share. */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { HomeRequest } from '../../../language/homing.js';
import type { Variable } from '../../../script/scopes.js';
import { spanOf } from '../../../script/walk.js';
import type { Edit } from '../../../text/edits.js';
import { withComments } from '../../../text/layout.js';
import type { FreeNames } from '../../homes/free-names.js';
import type { Leaving } from '../../homes/leaving.js';
import { addedImports, droppedImports, type WantedImport } from '../../imports.js';
import { readModuleTables } from '../../modules.js';
import { originOf } from '../../origins.js';
import type { Interface } from '../cut/interface.js';
import { linkFiles } from '../cut/link.js';
import type { Scene } from '../cut/scene.js';
import { findSharing } from '../cut/sharing.js';
import { parseFile } from '../source.js';
import type { Pair } from './scene.js';

export interface Going {
  readonly request: HomeRequest;
  readonly pair: Pair;
  /** Of the outer component, with the inner file as its target; undefined where both stand in one. */
  readonly scene: Scene;
  readonly leaving: Leaving;
  /** Names that mean something in the inner component. */
  readonly taken: Pick<FreeNames, 'has'>;
}

export interface Linked {
  readonly outer: readonly Edit[];
  readonly inner: readonly Edit[];
  readonly files: ReadonlyMap<string, string>;
}

/** What both files need once the statements have gone from one into the other; `gone`: edits of the inner file, for what they delete. */
export function linked(
  { request, pair, scene, leaving, taken }: Going,
  shape: Interface,
  gone: readonly Edit[],
): Linked | Problem {
  const { inner, habits } = pair;
  const { target } = scene.request;
  const wanted = leaving.moduleLevel.filter((v) => !isSame(v, pair, request));
  const isThere = (name: string) => (inner.scopes.moduleScope.set.get(name)?.defs.length ?? 0) > 0;
  const hidden = wanted.find((v) => taken.has(v.name) || (target !== undefined && isThere(v.name)));
  const refuse = (name: string) =>
    problem('home-shadowed', { path: request.inner.file.path, span: request.inner.span }, name, request.inner.name);
  if (hidden) return refuse(hidden.name);
  const caught = [...leaving.globals].find((name) =>
    inner.scopes.visibleIn(inner.scopes.scopeAt(spanOf(inner.fn.body)), name),
  );
  if (caught !== undefined) return refuse(caught);
  const importing = {
    text: inner.text,
    script: inner.script,
    scopes: inner.scopes,
    request: { file: { path: inner.path } },
  };
  const needless = droppedImports(
    importing,
    gone.filter((e) => e.text === ''),
  );
  if (target === undefined) return { outer: [], inner: needless, files: new Map() };
  const goingSpans = [...leaving.statements, ...leaving.attributes].map(spanOf);
  const types = shape.typeVariables.filter((v) => scene.scopes.isModuleLevel(v) && !isSame(v, pair, request));
  const sharing = findSharing(scene, wanted, goingSpans, types);
  if (isProblem(sharing)) return sharing;
  if (sharing.circular !== undefined)
    return problem('home-circular', { path: request.inner.file.path }, sharing.circular, request.inner.name);
  let head: readonly string[] = [];
  const { edits, files } = linkFiles({
    scene: scene,
    habits,
    sharing,
    target,
    goingSpans,
    hostEdits: [],
    hostLine: undefined,
    imports: sharing.imports,
    typeVariables: types,
    foreignTypes: shape.foreignTypes,
    sections: [],
    newFile: (sections) => {
      head = sections;
      return '';
    },
  });
  files.delete(target);
  const lines = head[1]?.trim() ?? '';
  const parsed = parseFile({ path: target, text: lines }, request.ports);
  const all: readonly WantedImport[] = isProblem(parsed) ? [] : readModuleTables(parsed.program, lines).imports;
  const imports = all.filter((wanted) => !has(wanted, pair, request));
  const before = inner.statement.range[0];
  const start = withComments(inner.text, { start: before, end: before }).start;
  const moved = head[2] ? [{ start, end: start, text: head[2] + habits.lineEnd + habits.lineEnd }] : [];
  return { outer: edits, inner: [...addedImports(importing, imports, habits, needless), ...moved], files };
}

/** Whether the inner file has an import by the same name of the same thing. */
function has({ local, imported, source }: WantedImport, { inner }: Pair, request: HomeRequest): boolean {
  const { resolver } = request.project;
  const there = inner.scopes.moduleScope.set.get(local);
  const target = resolver.resolve(inner.path, source);
  const origin = there && originOf(there, local, inner.path, inner.scopes, resolver);
  return origin === `${'path' in target ? target.path : source}#${imported}`;
}

/** Whether a name of the outer file means the same in the inner one. */
function isSame(variable: Variable, { inner, outer }: Pair, request: HomeRequest): boolean {
  const { resolver } = request.project;
  const there = inner.scopes.moduleScope.set.get(variable.name);
  if (!there || there.defs.length === 0) return false;
  const visible = inner.scopes.visibleIn(inner.scopes.scopeAt(spanOf(inner.fn.body)), variable.name);
  if (visible !== there) return false;
  if (outer.path === inner.path) return there.identifiers[0]?.range[0] === variable.identifiers[0]?.range[0];
  const was = originOf(variable, variable.name, outer.path, outer.scopes, resolver) ?? `${outer.path}#${variable.name}`;
  return was === (originOf(there, there.name, inner.path, inner.scopes, resolver) ?? `${inner.path}#${there.name}`);
}
