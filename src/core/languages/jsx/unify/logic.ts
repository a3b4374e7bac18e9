/**
 * One function for several places of logic. A function that needs nothing of its surroundings moves to a module as it
 * is; one that does gets what it needs as arguments; statements that call hooks become a hook of their own.
 */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { nodeWithin, spanOf } from '../../../script/walk.js';
import type { GivenInput, UnifyRequest, Unifying } from '../../../language/unifying.js';
import type { Edit, Span } from '../../../text/edits.js';
import { habitsIn, type Habits } from '../cut/habits.js';
import { droppedImports, importPlace, placedImport, sourceFor, wholeLines, without } from '../../imports.js';
import { isCommonJs, linkFiles } from '../cut/link.js';
import type { Scene } from '../cut/scene.js';
import { findSharing } from '../cut/sharing.js';
import { withLeadingComments } from '../cut/write.js';
import { foreignInputs } from './foreign.js';
import { capturedArguments, freeName, inputArgument, type Argument } from './logic-arguments.js';
import { declaredName, formOf, statementAround, type Form } from './logic-forms.js';
import { asItIs, declaredBy, resultsOf, writeCall, writeFunction } from './logic-text.js';

export function unifyLogic(given: UnifyRequest, scenes: readonly Scene[]): Unifying | Problem {
  let request = given;
  const reference = scenes[request.reference]!;
  const forms = scenes.map(formOf);
  const form = forms[request.reference]!;
  const at = { path: reference.request.file.path, span: reference.region };
  const foreign = foreignInputs(request, scenes);
  if (isProblem(foreign)) return foreign;
  const inputs = [...request.inputs, ...foreign];
  if (inputs.some((input) => input.values.includes(undefined) || input.parameters.length > 0))
    return problem('unify-logic', at, 'what differs is not there in all places');
  const esm = !isCommonJs(reference);
  if (scenes.some((scene) => isCommonJs(scene) === esm))
    return problem('unify-logic', at, 'some of the files are CommonJS modules and others are not');
  const trouble = scenes.map((scene, place) => troubleAt(scene, forms[place]!)).find((t) => t !== undefined);
  if (trouble) return problem('unify-logic', trouble.at, trouble.why);

  const captured = capturedArguments(request, scenes, inputs);
  if (isProblem(captured)) return captured;
  const differing = inputs.map((input) => inputArgument(request, scenes, input));
  const args: Argument[] = [];
  for (const arg of [...captured, ...differing]) args.push({ ...arg, name: freeName(arg.name, args, reference, form) });
  const results = form.kind === 'hook' ? resultsOf(request, scenes) : [];

  const moves =
    form.kind === 'function' && args.length === 0 && forms.every((f, i) => declaredName(scenes[i]!, f) !== '');
  if (moves && request.whenMoved) request = { ...request, ...request.whenMoved };
  const written = moves ? asItIs(request, reference, form) : writeFunction(request, reference, form, args, results);
  if (isProblem(written)) return written;
  const edits = new Map<string, Edit[]>();
  const gone = new Map<string, Span[]>();
  const locals = new Map<string, Set<string>>();
  const exportedAt = new Set<string>();
  const add = <T>(map: Map<string, T[]>, path: string, ...items: T[]) =>
    map.set(path, [...(map.get(path) ?? []), ...items]);
  for (const [place, scene] of scenes.entries()) {
    const { path } = scene.request.file;
    const own = forms[place]!;
    const local = moves ? declaredName(scene, own) : request.name;
    locals.set(path, (locals.get(path) ?? new Set()).add(local));
    if (moves) {
      const statement = statementAround(scene, own);
      if (statement.type === 'ExportDefaultDeclaration')
        return problem('unify-logic', { path, span: scene.region }, `"${local}" is the default export here`);
      if (isExported(statement)) exportedAt.add(`${path} ${local}`);
      const span = withLeadingComments(scene, spanOf(statement));
      add(edits, path, wholeLines(scene.text, span));
      add(gone, path, span);
    } else {
      const use = writeCall(request, scene, own, place, args, results);
      if (isProblem(use)) return use;
      add(edits, path, use);
      const keeps = args.flatMap((a) => a.kept[place] ?? []);
      add(gone, path, ...without(use, keeps));
    }
  }
  const { path } = reference.request.file;
  const moduleLevel = moduleNames(reference, written.spans, inputs);
  const types = written.types.flatMap((name) => reference.scopes.moduleScope.set.get(name) ?? []);
  const sharing = findSharing(reference, moduleLevel, gone.get(path)!, types);
  if (isProblem(sharing)) return sharing;
  if (sharing.circular !== undefined) return problem('unify-circular', at, sharing.circular);
  const habits = habitsIn(reference);
  const module = linkFiles({
    scene: reference,
    habits,
    sharing,
    target: request.target!,
    goingSpans: gone.get(path)!,
    hostEdits: edits.get(path)!,
    hostLine: linesFor(request, reference, [...locals.get(path)!], habits, esm, exportedAt),
    imports: sharing.imports,
    typeVariables: types.filter((v) => !reference.scopes.isImport(v)),
    foreignTypes: written.foreign,
    sections: esm
      ? [written.text]
      : [written.text.replace(/^export /, ''), `module.exports = ${request.name}${habits.semi}`],
  });
  const result = new Map<string, readonly Edit[]>([[path, module.edits]]);
  for (const [other, list] of edits) {
    if (other === path) continue;
    const scene = scenes.find((s) => s.request.file.path === other)!;
    const own = habitsIn(scene);
    const lines = [linesFor(request, scene, [...locals.get(other)!], own, esm, exportedAt)];
    const all = [...list, ...droppedImports(scene, gone.get(other)!)];
    result.set(other, placedImport(scene, importPlace(scene), all, lines, own.lineEnd));
  }
  const seam = { props: args.map(({ name, type }) => ({ name, ...(type ? { type } : {}) })), events: [], slots: [] };
  return { edits: result, files: module.files, name: request.name, seam, results, notes: [] };
}

/** `import { formatDate, formatDate as showDate } from './formatDate';` */
function linesFor(
  { name, target }: UnifyRequest,
  scene: Scene,
  locals: readonly string[],
  { pad, quote, semi, lineEnd }: Habits,
  esm: boolean,
  exportedAt: ReadonlySet<string>,
): string {
  const source = `${quote}${sourceFor(scene, scene.request.file.path, target!)}${quote}`;
  if (!esm) return locals.map((local) => `const ${local} = require(${source})${semi}`).join(lineEnd);
  const clause = (list: readonly string[]) =>
    `{${pad}${list.map((local) => (local === name ? name : `${name} as ${local}`)).join(', ')}${pad}}`;
  const { path } = scene.request.file;
  const passedOn = locals.filter((local) => exportedAt.has(`${path} ${local}`));
  const used = locals.filter((local) => !passedOn.includes(local) || isUsedInside(scene, local));
  return [
    ...(used.length > 0 ? [`import ${clause(used)} from ${source}${semi}`] : []),
    ...(passedOn.length > 0 ? [`export ${clause(passedOn)} from ${source}${semi}`] : []),
  ].join(lineEnd);
}

/** Whether anything in the file besides its own declaration reads a name. */
function isUsedInside(scene: Scene, name: string): boolean {
  const variable = scene.scopes.moduleScope.set.get(name);
  const declaration = variable?.identifiers[0];
  const statement = scene.script.program.body.find((s) => declaration && nodeWithin(declaration, spanOf(s)));
  return variable?.references.some((r) => !statement || !nodeWithin(r.identifier, spanOf(statement))) ?? false;
}

function troubleAt(scene: Scene, form: Form): { at: { path: string; span: Span }; why: string } | undefined {
  const { path } = scene.request.file;
  for (const reference of scene.scopes.within(scene.region)) {
    const variable = reference.resolved;
    if (!variable || variable.defs.length === 0 || scene.declaredIn(variable, [scene.region])) continue;
    if (reference.isWrite())
      return { at: { path, span: spanOf(reference.identifier) }, why: `it writes "${variable.name}"` };
    const isLocal = !scene.scopes.isModuleLevel(variable);
    if (isLocal && reference.isValueReference && scene.scopes.isReassigned(variable))
      return { at: { path, span: spanOf(reference.identifier) }, why: `"${variable.name}" is written again elsewhere` };
    const declared = variable.identifiers[0];
    if (form.kind === 'hook' && isLocal && declared && declared.range[0] > scene.region.end)
      return { at: { path, span: spanOf(reference.identifier) }, why: `"${variable.name}" is declared further down` };
  }
  const shared = form.kind === 'hook' ? declaredBy(scene).find((variable) => isShared(scene, variable)) : undefined;
  return (
    shared && {
      at: { path, span: spanOf(shared.identifiers[0]!) },
      why: `"${shared.name}" is written again while functions of the place and code outside of it see it`,
    }
  );
}

/** A hook gives what a name holds: what is written to it afterwards, on either side, the other one does not see. */
function isShared(scene: Scene, variable: Variable): boolean {
  const outside = variable.references.filter((r) => !nodeWithin(r.identifier, scene.region));
  const later = scene.scopes.laterReferences(variable).filter((r) => !outside.includes(r));
  const isWrittenOutside = outside.some((r) => r.isWrite());
  return outside.length > 0 && (isWrittenOutside ? later.length > 0 : later.some((r) => r.isWrite()));
}

function isExported(statement: Node): boolean {
  return statement.type.startsWith('Export');
}

/** Module-level names that the moved text reads. */
function moduleNames(scene: Scene, spans: readonly Span[], inputs: readonly GivenInput[]): Variable[] {
  const holes = inputs.flatMap((i) => i.sites.flatMap((s) => ('span' in s && s.span ? [s.span] : [])));
  const found = new Set<Variable>();
  for (const span of spans) {
    for (const { identifier, resolved, isValueReference } of scene.scopes.within(span)) {
      if (!isValueReference || !resolved || resolved.defs.length === 0 || !scene.scopes.isModuleLevel(resolved))
        continue;
      if (!holes.some((hole) => nodeWithin(identifier, hole)) && !scene.declaredIn(resolved, spans))
        found.add(resolved);
    }
  }
  return [...found];
}
