/**
 * The step that makes a component of a function that gives markup back: what the function shows is cut out, and the function is
 * gone; what is left of it stands where it was called.
 */
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import { Project } from '../project/project.js';
import { proveFiles, unresolvedNames } from '../proof/files.js';
import type { ProofResult } from '../proof/prove.js';
import { composeEdits } from '../text/edits.js';
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
    const { ports } = project;
    const helper = dissolving.find({ project, ports, file, name });
    if (isProblem(helper)) return helper;
    const cut = helper.tag === undefined ? extract(project, { ...asked, range: helper.shown }) : undefined;
    // What cannot be cut out cannot leave the function either.
    if (cut && (isProblem(cut) || cut.proof.answer !== 'same')) return cut;

    const between = cut ? new Project(applied(project.files, cut), ports) : project;
    const shell = between.source(file.path);
    if (isProblem(shell)) return shell;
    const left = dissolving.find({ project: between, ports, file: shell, name });
    const gone = isProblem(left) ? left : dissolving.dissolve({ project: between, ports, file: shell, name });
    if (isProblem(left)) return left;
    // What is in the way stands in a text that nobody sees.
    if (isProblem(gone)) return gone.path === file.path ? { ...gone, span: helper.shown } : gone;
    const [host] = settled(between, [editFile(file.path, shell.text, gone.edits)]);
    const after = new Project(applied(between.files, { files: [host!] }), ports);
    const proof = proveGone(between, after, file.path, left.start);
    const at = { path: file.path, span: helper.shown };
    if (proof.answer === 'different' && proof.code === 'read-early') {
      const read = /^"(.+?)"/.exec(proof.detail)?.[1] ?? 'something';
      return problem('helper-body', at, helper.name, `reads ${read} at once, and without it that is read later`);
    }
    if (proof.answer === 'same') {
      const lost = unresolvedNames(between, after, [file.path]);
      if (lost.length > 0) return problem('names-unresolved', at, lost.join(', '));
    }
    const region = cut?.region ?? findRegion(project, file, helper.shown);
    if (isProblem(region)) return region;
    const before = cut?.files.find((f) => f.path === file.path)?.edits ?? [];
    const composed = editFile(file.path, file.text, composeEdits(file.text, before, host!.edits));
    const others = (cut?.files ?? [])
      .filter((f) => f.path !== file.path)
      .map((f) => (f.path === cut?.target ? withComment(project, f, gone.above, cut.name) : f));
    const isTold = others.some((f) => f.text?.includes(gone.above));
    const comments = gone.above === '' || isTold ? gone.comments : [gone.above.replace(/\s+/g, ' '), ...gone.comments];
    const what: Omit<ExtractChange, 'files' | 'proof' | 'dissolved'> = cut ?? {
      step: 'extract',
      name: helper.tag!,
      target: file.path,
      host: '',
      region,
      seam: { props: [], events: [], slots: [] },
      notes: [`${helper.name} shows nothing but <${helper.tag!}>, which is a component already`],
    };
    return {
      ...what,
      notes: [...what.notes, ...comments.map((comment) => `gone with ${helper.name}: ${comment}`)],
      files: [composed, ...others],
      proof: cut && proof.answer === 'same' ? cut.proof : proof,
      dissolved: { name: helper.name, uses: helper.uses },
    };
  });
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

/** Text without the function, read as the one with it from which nothing was taken. */
function proveGone(before: Project, after: Project, path: string, start: number): ProofResult {
  return turned(proveFiles(after, before, [path], 'back', undefined, { path, start }));
}
