/**
 * The step that makes a component of a function that gives markup back: what the function shows is cut out, and the function is
 * gone; what is left of it stands where it was called.
 */
import type { Dissolves, Dissolving, Helper } from '../language/dissolving.js';
import type { SourceFile } from '../language/ports.js';
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import { Project } from '../project/project.js';
import { proveFiles, unresolvedNames } from '../proof/files.js';
import type { ProofResult } from '../proof/prove.js';
import { composeEdits, type Edit } from '../text/edits.js';
import { lineEndOf } from '../text/layout.js';
import { applied, editFile, writeFile, type FileChange } from './change.js';
import { extract, findRegion, type ExtractChange, type ExtractRequest } from './extract.js';
import { turned } from './inline.js';
import { settled } from './settle.js';

export interface DissolveRequest extends Omit<ExtractRequest, 'range' | 'into'> {
  /** The function: `renderNote`, or `Harvest.renderNote` where several have that name. */
  readonly helper: string;
}

/** The change, proven or not (see `proof`), or why there can be none. */
export function dissolve(project: Project, request: DissolveRequest): ExtractChange | Problem {
  return withinDepth(request.path, () => {
    const { helper: name, ...asked } = request;
    const file = project.source(request.path);
    if (isProblem(file)) return file;
    const { dissolving, label } = file.language;
    if (!dissolving) return problem('helper-language', { path: file.path }, label);
    const helper = dissolving.find({ project, ports: project.ports, file, name });
    if (isProblem(helper)) return helper;
    const cut = helper.tag === undefined ? extract(project, { ...asked, range: helper.shown }) : undefined;
    // What cannot be cut out cannot leave the function either.
    if (cut && (isProblem(cut) || cut.proof.answer !== 'same')) return cut;
    const between = cut ? new Project(applied(project.files, cut), project.ports) : project;
    const left = writtenOut(between, request, dissolving, helper);
    if (isProblem(left)) return left;
    const region = cut?.region ?? findRegion(project, file, helper.shown);
    if (isProblem(region)) return region;
    const tag = helper.tag ?? '';
    return joined(
      project,
      file,
      helper,
      left,
      cut ?? {
        step: 'extract',
        files: [],
        name: tag,
        target: file.path,
        host: '',
        region,
        seam: { props: [], events: [], slots: [] },
        proof: left.proof,
        notes: [`${helper.name} shows nothing but <${tag}>, which is a component already`],
      },
    );
  });
}

/** The function written out where it is called, in the text that the cut left. */
interface WrittenOut {
  readonly edits: readonly Edit[];
  readonly gone: Dissolving;
  readonly proof: ProofResult;
}

function writtenOut(
  project: Project,
  { path, helper: name }: DissolveRequest,
  dissolving: Dissolves,
  { name: called, shown }: Helper,
): WrittenOut | Problem {
  const file = project.source(path);
  if (isProblem(file)) return file;
  const request = { project, ports: project.ports, file, name };
  const gone = dissolving.dissolve(request);
  // What is in the way stands in a text that nobody sees.
  if (isProblem(gone)) return gone.path === path ? { ...gone, span: shown } : gone;
  const [host] = settled(project, [editFile(path, file.text, gone.edits)]);
  const after = new Project(applied(project.files, { files: [host!] }), project.ports);
  // From its end to its beginning: the text without the function is the one from which nothing was taken.
  const helper = { path, start: gone.start };
  const proof = turned(proveFiles(after, project, [path], 'back', { helper }));
  const at = { path, span: shown };
  if (proof.answer === 'different' && proof.code === 'read-early' && proof.before) {
    const read = file.text.slice(proof.before.span.start, proof.before.span.end);
    return problem('helper-body', at, called, `reads "${read}" at once, and without it that is read later`);
  }
  const lost = proof.answer === 'same' ? unresolvedNames(project, after, [path]) : [];
  return lost.length > 0 ? problem('names-unresolved', at, lost.join(', ')) : { edits: host!.edits, gone, proof };
}

/** Both steps as one change. */
function joined(
  project: Project,
  { path, text }: SourceFile,
  { name, uses }: Helper,
  { edits, gone, proof }: WrittenOut,
  cut: ExtractChange,
): ExtractChange {
  const before = cut.files.find((f) => f.path === path)?.edits ?? [];
  const others = cut.files
    .filter((f) => f.path !== path)
    .map((f) => (f.path === cut.target ? withComment(project, f, gone.above, cut.name) : f));
  const isTold = gone.above === '' || others.some((f) => f.text?.includes(gone.above));
  const comments = isTold ? gone.comments : [gone.above.replace(/\s+/g, ' '), ...gone.comments];
  return {
    ...cut,
    files: [editFile(path, text, composeEdits(text, before, edits)), ...others],
    proof: proof.answer === 'same' ? cut.proof : proof,
    notes: [...cut.notes, ...comments.map((comment) => `gone with ${name}: ${comment}`)],
    dissolved: { name, uses },
  };
}

/** A new file with the comment that stood above the function above its component. */
function withComment(project: Project, file: FileChange, above: string, name: string): FileChange {
  const at =
    file.change === 'create'
      ? file.text!.search(new RegExp(`^(?:export )?(?:default )?(?:function|const) ${name}\\b`, 'm'))
      : -1;
  if (above === '' || at < 0) return file;
  const nl = lineEndOf(file.text!);
  const comment = above.replace(/\r?\n/g, nl) + nl;
  return writeFile(project.files, file.path, file.text!.slice(0, at) + comment + file.text!.slice(at));
}
