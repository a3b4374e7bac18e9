/** The step that cuts one region out into a component of its own. */
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import type { Language } from '../language/language.js';
import type { SourceFile } from '../language/ports.js';
import { claimantOf } from '../language/registry.js';
import type { ComponentModel, ModuleModel } from '../markup/model.js';
import { regionOf, snap, type Region } from '../markup/region.js';
import { Project } from '../project/project.js';
import { freeName, Surroundings } from '../propose/naming.js';
import { proveFiles, unresolvedNames } from '../proof/files.js';
import type { ProofResult } from '../proof/prove.js';
import type { Span } from '../text/edits.js';
import { applied, editFile, writeFile, type Change } from './change.js';
import { targetLanguage, withPages, writePages } from './pages.js';
import { settled } from './settle.js';
import type { Cutting, CutRequest, PropsStyle, Seam, TypeOracle } from '../language/cutting.js';
import { askedTarget, standingAt } from './target.js';
import { hasInputs, wantedInputs, type WantedSeam } from './wanted-seam.js';

export interface ExtractRequest {
  readonly path: string;
  /** Offsets; sloppy ranges are taken to the nearest whole nodes. */
  readonly range: Span;
  readonly name?: string;
  /** Project path for the new file. */
  readonly to?: string;
  readonly sameFile?: boolean;
  readonly props?: PropsStyle;
  readonly types?: TypeOracle;
  /** Id of the language to write in, for a file of a language that has no components. */
  readonly into?: string;
  /** What a person decides of what crosses; the rest is decided as ever. */
  readonly seam?: WantedSeam;
  /** What the host keeps and does stays there, and the new component only takes and reports. */
  readonly showing?: boolean;
}

export interface ExtractChange extends Change {
  readonly step: 'extract';
  readonly name: string;
  readonly target: string;
  /** The component that the region was cut out of. */
  readonly host: string;
  /** What was taken after snapping. */
  readonly region: Region;
  readonly seam: Seam;
  readonly proof: ProofResult;
  /** The function that gave the region back and is gone, and where it was called. */
  readonly dissolved?: { readonly name: string; readonly uses: readonly Span[] };
}

/** The change, proven or not (see `proof`), or why there can be none. */
export function extract(project: Project, request: ExtractRequest): ExtractChange | Problem {
  return withinDepth(request.path, () => {
    const file = project.source(request.path);
    if (isProblem(file)) return file;
    const language = targetLanguage(file, request.into);
    if (isProblem(language)) return language;
    return file.language === language ? extractRegion(project, request) : extractFromPage(project, request, language);
  });
}

/** The page becomes a component first, and the region is cut out of that. */
function extractFromPage(project: Project, request: ExtractRequest, language: Language): ExtractChange | Problem {
  const { path } = request;
  const file = project.source(path);
  if (isProblem(file)) return file;
  const region = findRegion(project, file, request.range);
  if (isProblem(region)) return region;
  const written = writePages(project, [path], language);
  if (isProblem(written)) return written;
  const page = written.pages.get(path)!;
  const seam = request.seam && {
    ...request.seam,
    slots: Object.fromEntries(Object.entries(request.seam.slots ?? {}).map(([name, span]) => [name, page.at(span)])),
  };
  const asked = { ...request, ...(seam ? { seam } : {}) };
  const step = extractRegion(written.project, { ...asked, path: page.path, range: page.at(region) });
  return isProblem(step) ? step : { ...withPages([page], step), region };
}

/** Where a parent looks at its children, the child stays with its own tag, and only what is in it is cut out. */
function extractRegion(project: Project, request: ExtractRequest): ExtractChange | Problem {
  const cut = cutRegion(project, request);
  if (!isProblem(cut) || cut.code !== 'region-parent-reads') return cut;
  const file = project.source(request.path);
  const region = isProblem(file) ? file : findRegion(project, file, request.range);
  const child = !isProblem(region) && region.nodes.length === 1 ? region.nodes[0]! : undefined;
  const inside = child?.kind === 'element' ? child.children.filter((n) => n.kind !== 'comment') : [];
  if (child?.kind !== 'element' || !inside.some((n) => n.kind === 'element')) return cut;
  const inner = cutRegion(project, { ...request, range: regionOf(inside) });
  if (isProblem(inner)) return cut;
  return {
    ...inner,
    notes: [...inner.notes, `<${child.name}> stays, because what is around it looks at it; its content was taken`],
  };
}

function cutRegion(project: Project, request: ExtractRequest): ExtractChange | Problem {
  const file = project.source(request.path);
  if (isProblem(file)) return file;
  const region = findRegion(project, file, request.range);
  if (isProblem(region)) return region;
  const refusal = refuseRegion(file, region);
  if (refusal) return refusal;
  const model = project.model(request.path);
  if (isProblem(model)) return model;
  const host = hostOf(model, region);

  const naming = chooseName(project, file, region, host, request);
  if (isProblem(naming)) return naming;
  const { name, target, notes } = naming;
  const cutting = cutAs(request, {
    project,
    ports: project.ports,
    file,
    region,
    name,
    target,
    props: request.props ?? 'auto',
    types: request.types,
  });
  if (isProblem(cutting)) return cutting;
  const change = {
    files: settled(project, [
      editFile(file.path, file.text, cutting.edits),
      ...[...cutting.files].map(([path, text]) => writeFile(project.files, path, text)),
    ]),
  };
  const after = new Project(applied(project.files, change), project.ports);
  const changed = change.files.map((f) => f.path);
  const proof = proveFiles(project, after, changed);
  const surroundings = proof.answer === 'different' ? refusalFor(proof, { path: file.path, span: region }) : undefined;
  if (surroundings) return surroundings;
  if (proof.answer === 'same') {
    const lost = unresolvedNames(project, after, changed);
    if (lost.length > 0) return problem('names-unresolved', { path: file.path, span: region }, lost.join(', '));
  }
  const whole = host && region.start <= host.span.start && region.end >= host.span.end;
  return {
    step: 'extract',
    ...change,
    name,
    target: cutting.files.size ? (target ?? file.path) : file.path,
    host: host?.component.name ?? '',
    region,
    seam: cutting.seam,
    proof,
    notes: [
      ...notes,
      ...cutting.notes,
      ...(whole && !request.showing ? [`this was all that ${host.component.name} shows`] : []),
    ],
  };
}

/** Cuts with what a person says of the boundary: their inputs are those of a repeat that stands in one place. */
function cutAs(
  { seam = {}, showing = false }: ExtractRequest,
  request: CutRequest & { readonly file: SourceFile & { readonly language: Language } },
): Cutting | Problem {
  const { project, ports, file, region, name, target, types, props } = request;
  const { language } = file;
  const { stays = [], along = [] } = seam;
  const isAsked = showing || stays.length > 0 || along.length > 0;
  const going = isAsked ? { going: { stays, along, showing } } : {};
  if (!hasInputs(seam)) return language.cut!({ ...request, ...going });
  const inputs = wantedInputs({ file, region, ports }, seam);
  if (isProblem(inputs)) return inputs;
  const unifying = language.unify!({
    project,
    ports,
    kind: 'markup',
    places: [{ file, span: { start: region.start, end: region.end } }],
    reference: 0,
    name,
    target,
    inputs,
    types,
    props,
    counterpart: (_, span) => span,
    asList: false,
    alone: true,
    ...going,
  });
  return isProblem(unifying) ? unifying : { ...unifying, edits: unifying.edits.get(file.path) ?? [] };
}

/** The nearest whole nodes to a range of a file. */
export function findRegion(project: Project, file: SourceFile & { language: Language }, range: Span): Region | Problem {
  const lists = file.language.lists(file, project.ports);
  if (isProblem(lists)) return lists;
  const region = snap(file.text, range, lists);
  return region ?? problem('range-empty', { path: file.path, span: range });
}

/** What the proof found around the region, as a refusal with a way out. */
export function refusalFor(
  { code, detail }: Exclude<ProofResult, { answer: 'same' }>,
  at: { path: string; span: Span },
): Problem | undefined {
  switch (code) {
    case 'component-children-read':
    case 'component-parent-read':
      return problem('region-parent-reads', at, detail);
    case 'component-for-value':
      return problem('region-value', at, detail);
    case 'component-in-try':
      return problem('region-try', at);
    case 'component-style-scope':
      return problem('region-style-scope', at);
    case 'call-moved':
      return problem('region-changes', at, detail);
    case 'hook-renders-less':
      return problem('region-renders', at, detail);
    case 'read-early':
      return problem('region-early', at, detail);
    case 'value-eager':
      return problem('region-eager', at, detail);
    case 'key-inside':
      return problem('region-key', at);
    default:
      return undefined;
  }
}

function refuseRegion(file: SourceFile & { language: Language }, region: Region): Problem | undefined {
  const at = { path: file.path, span: region };
  if (!file.language.cut) return problem('file-language', at, file.language.label);
  for (const node of region.nodes) if (node.kind === 'opaque') return problem('region-opaque', at, node.reason);
  return undefined;
}

function hostOf(model: ModuleModel, region: Span): { component: ComponentModel; span: Span } | undefined {
  const around = model.components.filter((c) => c.start <= region.start && c.end >= region.end);
  const component = around.sort((a, b) => a.end - a.start - (b.end - b.start))[0];
  if (!component) return undefined;
  return { component, span: component.markup.length ? regionOf(component.markup) : component };
}

interface Naming {
  readonly name: string;
  readonly target: string | undefined;
  readonly notes: readonly string[];
}

function chooseName(
  project: Project,
  file: SourceFile & { language: Language },
  region: Region,
  host: { component: ComponentModel } | undefined,
  request: ExtractRequest,
): Naming | Problem {
  const at = { path: file.path, span: region };
  const taken = file.language.names(file, project.ports);
  const standing = standingAt(project.files);
  if (request.name !== undefined && !/^[A-Z][\p{L}\p{N}_$]*$/u.test(request.name))
    return problem('name-invalid', at, request.name);
  const isOfLanguage = (path: string) => claimantOf(path)?.id === file.language.id;
  const to = request.to === undefined ? undefined : askedTarget(project.files, request.to, isOfLanguage);
  if (isProblem(to)) return to;
  const targetFor = (name: string) =>
    request.sameFile ? undefined : (to ?? file.language.fileFor(project, file.path, name));
  const free = (name: string) => {
    const target = targetFor(name);
    return !taken.has(name) && (target === undefined || to !== undefined || standing(target) === undefined);
  };
  const proposed =
    request.name !== undefined ? [request.name] : new Surroundings(project, file).names(region, host?.component);
  const name = freeName(proposed, free);
  const notes =
    request.name !== undefined && name !== request.name
      ? [`${request.name} is taken: the component is called ${name}`]
      : [];
  return { name, target: targetFor(name), notes };
}
