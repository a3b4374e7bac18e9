/** The step that makes one component of a repeat and puts a use of it in every place. */
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import type { Language } from '../language/language.js';
import { claimantOf, languageOf } from '../language/registry.js';
import { basename, dirname } from '../files/paths.js';
import { Project } from '../project/project.js';
import { proveFiles, unresolvedNames } from '../proof/files.js';
import type { ProofResult } from '../proof/prove.js';
import { findRepeats, narrowed, type Repeat, type RepeatPlace, type Repeats } from '../propose/repeats/repeats.js';
import { settled } from './settle.js';
import { applied, editFile, writeFile, type Change } from './change.js';
import type { Seam, TypeOracle } from '../language/cutting.js';
import { existingComponent } from './existing.js';
import { findRegion, refusalFor } from './extract.js';
import { counterparts, givenInputs, passed } from './given-inputs.js';
import { targetLanguage, withPages, writePages } from './pages.js';
import type { GivenInput, Unifying, UnifyPlace } from '../language/unifying.js';
import type { Span } from '../text/edits.js';
import { withSeam, type RepeatSeam } from './repeat-seam.js';
import { askedTarget, standingAt } from './target.js';

export interface UnifyStepRequest {
  /** Where the repeat was found; its offsets are those of the project's files. */
  readonly repeats: Repeats;
  readonly repeat: Repeat;
  readonly name?: string;
  /** Project path for the new file. */
  readonly to?: string;
  /** Indices of the places to unify; all where it is left out. */
  readonly only?: readonly number[];
  readonly asList?: boolean;
  /** What a person decides of what the places hand over. */
  readonly seam?: RepeatSeam;
  readonly types?: TypeOracle;
  /** Id of the language to write in, for places in a language that has no components. */
  readonly into?: string;
}

export interface UnifyChange extends Change {
  readonly step: 'unify' | 'frame';
  readonly name: string;
  readonly target: string;
  readonly repeat: Repeat;
  readonly seam: Seam;
  readonly proof: ProofResult;
}

/** The change, proven or not (see `proof`), or why there can be none. */
export function unify(project: Project, request: UnifyStepRequest): UnifyChange | Problem {
  const { path } = request.repeat.places[0]!;
  return withinDepth(path, () => {
    const file = project.source(path);
    if (isProblem(file)) return file;
    const { kind, step } = request.repeat;
    if (!step) {
      const at = { path, span: request.repeat.places[0]! };
      return problem('unify-listed', at, kind === 'logic' ? 'logic' : 'markup');
    }
    const language = targetLanguage(file, request.into);
    if (isProblem(language)) return language;
    return file.language === language ? unifyPlaces(project, request) : unifyPages(project, request, language);
  });
}

/** The pages become components first, and the repeat is looked for in those. */
function unifyPages(project: Project, request: UnifyStepRequest, language: Language): UnifyChange | Problem {
  const { repeat } = request;
  const places = repeat.places.filter((_, i) => request.only?.includes(i) ?? true);
  const written = writePages(project, [...new Set(places.map((p) => p.path))], language);
  if (isProblem(written)) return written;
  const pages = [...written.pages.values()];
  const paths = pages.map((p) => p.path);
  const wanted = places.map((p) => ({ ...written.pages.get(p.path)!.at(p), path: written.pages.get(p.path)!.path }));
  const isWanted = (place: RepeatPlace) =>
    wanted.some((w) => w.path === place.path && place.start < w.end && w.start < place.end);
  const repeats = findRepeats(written.project, {
    paths,
    named: new Set(paths),
    kinds: [repeat.kind],
    minWorth: -Infinity,
  });
  const found = repeats.groups.find((g) => g.places.filter(isWanted).length === places.length);
  if (!found) return problem('into-apart', { path: places[0]!.path, span: places[0]! }, places.length);
  const { name, to, seam } = request;
  const page = written.pages.get(repeat.places[repeat.alignment.reference]!.path);
  const slots = Object.entries(seam?.slots ?? {}).map(([slot, span]) => [slot, page?.at(span) ?? span]);
  const step = unifyPlaces(written.project, {
    repeats,
    repeat: found,
    name: name ?? repeat.name,
    ...(to === undefined ? {} : { to }),
    ...(seam ? { seam: { ...seam, slots: Object.fromEntries(slots) as Record<string, Span> } } : {}),
  });
  return isProblem(step) ? step : { ...withPages(pages, step), repeat };
}

function unifyPlaces(project: Project, request: UnifyStepRequest, anew = false): UnifyChange | Problem {
  const { forms } = request.repeats;
  const repeat = narrowed(project, request.repeats, request.repeat, {
    ...(request.only ? { only: request.only } : {}),
    literals: request.asList ?? false,
  });
  if (isProblem(repeat)) return repeat;
  const places: UnifyPlace[] = [];
  for (const { path, start, end } of repeat.places) {
    const file = project.source(path);
    if (isProblem(file)) return file;
    places.push({ file: { path, text: file.text }, span: { start, end } });
  }
  const { reference } = repeat.alignment;
  const at = { path: places[reference]!.file.path, span: places[reference]!.span };
  const language = languageOf(at.path);
  const naming = chooseName(project, repeat, request, language);
  if (isProblem(naming)) return naming;
  if (!language?.unify || repeat.places.some((p) => languageOf(p.path) !== language))
    return problem('file-language', at, language?.label ?? '');

  const existing =
    !anew && request.name === undefined && request.to === undefined && !request.asList && !request.seam
      ? existingComponent(project, forms, repeat, (given) => passed(forms, given))
      : undefined;
  const inputs = inputsOf(project, request, repeat, places);
  if (isProblem(inputs)) return inputs;
  const unifying = language.unify({
    ...(existing ? { existing } : {}),
    project,
    ports: project.ports,
    kind: repeat.kind === 'logic' ? 'logic' : 'markup',
    places,
    reference,
    name: naming.name,
    target: naming.target,
    ...(naming.whenMoved ? { whenMoved: naming.whenMoved } : {}),
    inputs,
    types: request.types,
    counterpart: counterparts(forms, repeat.alignment),
    asList: request.asList ?? false,
  });
  if (isProblem(unifying)) return existing ? unifyPlaces(project, request, true) : unifying;
  const change = {
    files: settled(project, [
      ...[...unifying.edits].map(([path, edits]) =>
        editFile(path, places.find((p) => p.file.path === path)!.file.text, edits),
      ),
      ...[...unifying.files].map(([path, text]) => writeFile(project.files, path, text)),
    ]),
  };
  const after = new Project(applied(project.files, change), project.ports);
  const changed = change.files.map((f) => f.path);
  const proof = proveFiles(project, after, existing ? [...new Set([...changed, existing.path])] : changed);
  // A component that only looks like it is no reason not to make one.
  if (existing && proof.answer !== 'same') return unifyPlaces(project, request, true);
  if (proof.answer === 'same') {
    const lost = unresolvedNames(project, after, changed);
    if (lost.length > 0) return problem('names-unresolved', at, lost.join(', '));
  } else {
    const refusal = refusalFor(proof, at);
    if (refusal) return refusal;
  }
  return {
    step: repeat.kind === 'frame' ? 'frame' : 'unify',
    ...change,
    name: unifying.name,
    target: existing?.path ?? targetOf(naming, unifying) ?? at.path,
    repeat,
    seam: unifying.seam,
    proof,
    notes: [...naming.notes, ...unifying.notes],
  };
}

/** What differs between the places, as far as a person asks for nothing else. */
function inputsOf(
  project: Project,
  { repeats: { forms }, seam }: UnifyStepRequest,
  repeat: Repeat,
  places: readonly UnifyPlace[],
): GivenInput[] | Problem {
  const slice = (place: number, { start, end }: Span) => places[place]!.file.text.slice(start, end);
  const inputs = givenInputs(forms, repeat, (span, place) => slice(place, span));
  if (!seam) return inputs;
  const { reference } = repeat.alignment;
  const { file, span } = places[reference]!;
  const source = project.source(file.path);
  if (isProblem(source)) return source;
  if (repeat.kind === 'logic')
    return problem('seam-repeat', { path: file.path, span }, Object.keys(seam)[0]!, 'it is logic');
  const region = findRegion(project, source, span);
  if (isProblem(region)) return region;
  const place = { file: source, region, ports: project.ports };
  const counterpart = counterparts(forms, repeat.alignment);
  const beside = new Map(
    places.flatMap((one, i) => (i !== reference && one.file.path === file.path ? [[i, one.span] as const] : [])),
  );
  return withSeam(inputs, seam, place, { count: places.length, beside, reference, counterpart, slice });
}

/** The new file that was written, when there is one. */
function targetOf(naming: Naming, { files }: Unifying): string | undefined {
  return [naming.whenMoved?.target, naming.target].find((path) => path !== undefined && files.has(path));
}

interface Naming {
  readonly name: string;
  readonly target: string | undefined;
  readonly whenMoved?: { readonly name: string; readonly target: string };
  readonly notes: readonly string[];
}

function chooseName(
  project: Project,
  repeat: Repeat,
  request: UnifyStepRequest,
  language: Language | undefined,
): Naming | Problem {
  const at = { path: repeat.places[0]!.path, span: repeat.places[0]! };
  const isHook = repeat.kind === 'logic' && /^use[A-Z]/.test(repeat.name);
  const valid = isHook
    ? /^use[A-Z]\w*$/
    : repeat.kind === 'logic'
      ? /^[a-z_$][\p{L}\p{N}_$]*$/u
      : /^[A-Z][\p{L}\p{N}_$]*$/u;
  if (request.name !== undefined && !valid.test(request.name)) return problem('name-invalid', at, request.name);
  const host = repeat.places[repeat.alignment.reference]!.path;
  const source = project.source(host);
  const extension =
    repeat.kind === 'logic' && !isProblem(source) ? language?.logic?.extension(source, project.ports) : undefined;
  const expected = extension ? claimantOf(`it${extension}`)?.id : language?.id;
  const isOfLanguage = (path: string) => claimantOf(path)?.id === expected;
  const standing = standingAt(project.files);
  const to = request.to === undefined ? undefined : askedTarget(project.files, request.to, isOfLanguage);
  if (isProblem(to)) return to;
  const taken = new Set<string>();
  for (const path of new Set(repeat.places.map((p) => p.path))) {
    const file = project.source(path);
    if (!isProblem(file)) for (const name of file.language.names(file, project.ports)) taken.add(name);
  }
  const home = homeOf(
    project,
    repeat.places.map((p) => p.path),
  );
  const beside = home ? `${home}/${basename(host)}` : basename(host);
  const targetFor = (name: string) => to ?? language!.fileFor(project, beside, name, extension);
  const free = (name: string) => !taken.has(name) && (to !== undefined || standing(targetFor(name)) === undefined);
  const wanted = request.name ?? repeat.name;
  const suffixes = repeat.kind === 'logic' ? ['', 'With', 'Of'] : ['', 'View', 'Part', 'Block'];
  const pick = () => {
    const found = suffixes.map((suffix) => wanted + suffix).find(free);
    if (found !== undefined) return found;
    for (let i = 2; ; i++) if (free(`${wanted}${i}`)) return `${wanted}${i}`;
  };
  const name = pick();
  // A function that goes from everywhere leaves its name behind.
  for (const leaving of repeat.leaving) taken.delete(leaving);
  const moved = repeat.leaving.length > 0 ? pick() : undefined;
  const notes =
    request.name !== undefined && name !== wanted && moved !== wanted
      ? [`${wanted} is taken: it is called ${name}`]
      : [];
  return {
    name,
    target: targetFor(name),
    ...(moved === undefined ? {} : { whenMoved: { name: moved, target: targetFor(moved) } }),
    notes,
  };
}

/** The closest folder above all places; its folder of components where it has one. */
function homeOf(project: Project, paths: readonly string[]): string {
  const folders = [...new Set(paths.map(dirname))];
  if (folders.length === 1) return folders[0]!;
  const parts = folders.map((f) => (f ? f.split('/') : []));
  let depth = 0;
  while (parts.every((p) => p.length > depth && p[depth] === parts[0]![depth])) depth++;
  const home = parts[0]!.slice(0, depth).join('/');
  const inHome = (folder: string) => (home ? `${home}/${folder}` : folder);
  const known = ['components', 'shared', 'common'].find((f) =>
    project.files.list().some((p) => p.startsWith(`${inHome(f)}/`)),
  );
  return known ? inHome(known) : home;
}
