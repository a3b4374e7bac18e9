/**
 * The step that makes one component for each form of one that asks the same in many places. It is written so that it asks once, in
 * a text that nobody keeps; what it shows for each answer is cut out of that.
 */
import type { Seam, TypeOracle } from '../language/cutting.js';
import type { Divided } from '../language/forming.js';
import type { ComponentModel, Markup } from '../markup/model.js';
import { walkMarkup } from '../markup/walk.js';
import { OverlayFiles } from '../files/files.js';
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import { Project } from '../project/project.js';
import { decidedAlike, type Asked } from '../proof/decided.js';
import { proveFiles, unresolvedNames } from '../proof/files.js';
import type { ProofResult } from '../proof/prove.js';
import { isScriptError } from '../script/parser.js';
import { answersTo, askedBy, questionOf, type Answer, type Question } from '../script/question.js';
import { isFunction, walk, type FunctionNode } from '../script/walk.js';
import { applyEdits, composeEdits, movedOffset, type Edit, type Span } from '../text/edits.js';
import { literally } from '../text/pattern.js';
import { capital } from '../text/words.js';
import { applied, writeFile, type Change, type FileChange } from './change.js';
import { extract, type ExtractChange } from './extract.js';
import { findComponent } from './inline.js';
import { settled } from './settle.js';

export interface FormsStepRequest {
  /** A name, or `path#Name` where several have it. */
  readonly component: string;
  /** The value that decides (`visit.kind`), or what it is compared with (`visit.kind === 'sick'`). */
  readonly by: string;
  /** Of the new components, in the order in which the component asks for the answers; made from these where they are left out. */
  readonly names?: readonly string[];
  /** Do it although what stands in several forms is made anew when the answer changes. */
  readonly newLifetime?: boolean;
  /** The types of a project that nobody wrote. */
  readonly types?: (project: Project, path: string) => TypeOracle | undefined;
}

export interface FormsChange extends Change {
  readonly step: 'forms';
  /** The component that chooses. */
  readonly name: string;
  readonly target: string;
  readonly region: Span;
  /** The new components, with the answer that each is for. */
  readonly forms: readonly { readonly name: string; readonly answer: string; readonly path: string }[];
  /** How many places asked. */
  readonly places: number;
  readonly seam: Seam;
  readonly proof: ProofResult;
}

/** The change, proven or not (see `proof`), or why there can be none. */
export function forms(project: Project, request: FormsStepRequest): FormsChange | Problem {
  const found = findComponent(project, request.component);
  if (isProblem(found)) return found;
  return withinDepth(found.path, () => new Dividing(project, found.path, found.component, request).run());
}

class Dividing {
  readonly #at: { readonly path: string; readonly span: Span };
  readonly #booleans: ReadonlySet<string>;

  constructor(
    readonly project: Project,
    readonly path: string,
    readonly component: ComponentModel,
    readonly request: FormsStepRequest,
  ) {
    this.#at = { path, span: { start: component.start, end: component.end } };
    this.#booleans = this.#truths();
  }

  run(): FormsChange | Problem {
    const { project, path, component, request } = this;
    const file = project.source(path);
    if (isProblem(file)) return file;
    const { language } = file;
    if (!language.forms) return problem('forms-language', this.#at, language.label);
    const { ports } = project;
    const parsed = ports.script.parse(`(${request.by})`, 'ts');
    const question = isScriptError(parsed) ? undefined : questionOf(parsed.program);
    if (!question) return problem('forms-question', this.#at, request.by);
    const divided = language.forms.divide({ ports, file, component, question, booleans: this.#booleans });
    if (!divided) return problem('forms-nothing', this.#at, component.name, request.by);
    if (isProblem(divided)) return divided;
    const shown = divided.forms.filter((form) => form.region);
    const { names = shown.map(({ answer }) => this.#nameOf(question, answer)) } = request;
    if (names.length !== shown.length) return problem('forms-names', this.#at, shown.length, names.length);
    const once = this.#with(project, new Map([[path, applyEdits(file.text, divided.edits)]]));
    const lost = this.#livesOn(once, divided);
    if (lost.length > 0 && !divided.isApart && !request.newLifetime)
      return problem('forms-lifetime', this.#at, component.name, request.by, lost);
    const cut = this.#cut(
      once,
      shown.map((form) => form.region!),
      names,
    );
    if (isProblem(cut)) return cut;
    const { cuts, files } = cut;
    const changes = settled(project, files);
    const after = this.#with(project, new Map(changes.map((f) => [f.path, f.text])));
    const paths = changes.map((f) => f.path);
    const proof = this.#proof(once, after, question, paths);
    if (proof.answer === 'same') {
      const missing = unresolvedNames(project, after, paths);
      if (missing.length > 0) return problem('names-unresolved', this.#at, missing.join(', '));
    }
    return {
      step: 'forms',
      name: component.name,
      target: path,
      region: this.#at.span,
      places: divided.places,
      forms: cuts.map(({ name, target }, i) => ({ name, answer: told(request.by, shown[i]!.answer), path: target })),
      seam: seamOf(cuts),
      files: changes,
      proof,
      notes: [...new Set(cuts.flatMap((c) => c.notes)), ...this.#notes(divided, lost)],
    };
  }

  /** Values that are only true and false, as the types say. */
  #truths(): ReadonlySet<string> {
    const { project, path, component, request } = this;
    const isTruth = (type: string | undefined) => /^boolean(?: \| undefined)?$/.test(type?.trim() ?? '');
    const found = new Set(component.props.flatMap(({ name, type }) => (isTruth(type) ? [name] : [])));
    const types = /^[\w$.]+$/.test(request.by) ? request.types?.(project, path) : undefined;
    const own = textIn(project, path).slice(component.start, component.end);
    // Where it is named first, nothing is known of it but its type.
    const first = new RegExp(`(?<![\\w$.])${literally(request.by)}(?![\\w$.])`).exec(own);
    if (types && first) {
      const start = component.start + first.index;
      const type = types.typeAt(path, { start, end: start + request.by.length });
      if (isTruth(type?.text)) found.add(request.by);
    }
    return found;
  }

  #with(project: Project, texts: ReadonlyMap<string, string | undefined>): Project {
    return new Project(new OverlayFiles(project.files, texts), project.ports);
  }

  /** `SickVisitRow`, `OtherVisitRow`; `EditingHive`, `PlainHive`. */
  #nameOf({ subject }: Question, answer: Answer): string {
    const { name } = this.component;
    if (answer === 'other') return `Other${name}`;
    if (typeof answer !== 'boolean') return `${pascal(String(answer.is)).replace(/^(?=\d|$)/, 'Form')}${name}`;
    const word = pascal(subject.slice(subject.lastIndexOf('.') + 1)).replace(/^(?:Is|Has|Show)(?=[A-Z])/, '');
    return `${answer ? word : 'Plain'}${name}`;
  }

  /** Cuts the forms out one after another, each of the text that the one before left. */
  #cut(
    once: Project,
    regions: readonly Span[],
    names: readonly string[],
  ): { cuts: ExtractChange[]; files: FileChange[] } | Problem {
    const { project, path, request } = this;
    const cuts: ExtractChange[] = [];
    const created = new Map<string, string>();
    let after = once;
    let edits: readonly Edit[] = [];
    for (const [i, region] of regions.entries()) {
      const range = { start: movedOffset(edits, region.start), end: movedOffset(edits, region.end) };
      const types = request.types?.(after, path);
      const cut = extract(after, { path, range, name: names[i]!, ...(types ? { types } : {}) });
      if (isProblem(cut)) return cut;
      cuts.push(cut);
      for (const file of cut.files) {
        if (file.path !== path) created.set(file.path, file.text!);
        else edits = composeEdits(textIn(once, path), edits, file.edits);
      }
      after = new Project(applied(after.files, cut), project.ports);
    }
    const own = writeFile(project.files, path, textIn(after, path));
    const others = [...created].map(([at, text]) => writeFile(project.files, at, text));
    return { cuts, files: [own, ...others] };
  }

  /** What stands in more than one form and knows something of its own. */
  #livesOn(once: Project, { forms: all }: Divided): string[] {
    const model = once.model(this.path);
    const component = isProblem(model) ? undefined : model.components.find((c) => c.name === this.component.name);
    const kept = all.map(({ region }) => {
      const found = new Set<string>();
      walkMarkup(component?.markup ?? [], (node) => {
        if (region && node.start >= region.start && node.end <= region.end && keeps(node)) found.add(`<${node.name}>`);
      });
      return found;
    });
    const several = [...new Set(kept.flatMap((set) => [...set]))];
    return several.filter((name) => kept.filter((set) => set.has(name)).length > 1);
  }

  /** Whether the text that asks once is what it was, and whether it can be cut so. */
  #proof(once: Project, after: Project, question: Question, paths: readonly string[]): ProofResult {
    const [before, now] = [this.#asked(this.project, question), this.#asked(once, question)];
    if (!before || !now) return { answer: 'unknown', code: 'file-unread', detail: `${this.path} cannot be compared` };
    const answers = answersTo(before.places, question);
    const detail = decidedAlike(before, now, answers);
    if (detail !== undefined) return { answer: 'different', code: 'component-forms', detail };
    return proveFiles(once, after, paths);
  }

  #asked(project: Project, question: Question): Asked | undefined {
    const file = project.source(this.path);
    const module = isProblem(file) ? undefined : file.language.prove?.(file, project.ports);
    if (!module || isProblem(module)) return undefined;
    // What is written otherwise is all in the component.
    const { start } = this.component;
    const end = this.component.end + module.text.length - textIn(this.project, this.path).length;
    let fn: FunctionNode | undefined;
    walk(module.script.program, (node) => {
      if (!isFunction(node)) return undefined;
      const [from, till] = node.range;
      if (from < end && till > start && till - from > (fn ? fn.range[1] - fn.range[0] : 0)) fn = node;
      return false;
    });
    return fn && { module, places: askedBy(fn, module.scopes, question, this.#booleans) };
  }

  #notes({ isApart }: Divided, lost: readonly string[]): string[] {
    if (isApart) return [];
    const { by } = this.request;
    const kept = lost.length > 0 ? `: ${lost.join(', ')} forget what they were` : '';
    return [`when ${by} changes while ${this.component.name} is shown, its elements are made anew${kept}`];
  }
}

/** `HalfFull` for `half-full`. */
function pascal(text: string): string {
  return (text.match(/[A-Za-z0-9]+/g) ?? []).map(capital).join('');
}

/** Tags that know something which no code sets: what has the focus, what was typed, how far it was scrolled or played. */
const KEEPS = new Set(
  'input textarea select option button a details summary dialog video audio canvas iframe object embed form'.split(' '),
);

function keeps(node: Markup): node is Extract<Markup, { kind: 'element' }> {
  if (node.kind !== 'element') return false;
  const isReached = node.attributes.some((a) => a.kind === 'ref' || /^(?:contenteditable|tabindex)$/i.test(a.name));
  return node.component || KEEPS.has(node.name) || node.name.includes('-') || isReached;
}

function textIn(project: Project, path: string): string {
  const file = project.source(path);
  return isProblem(file) ? '' : file.text;
}

function told(by: string, answer: Answer): string {
  if (answer === 'other') return 'otherwise';
  if (typeof answer === 'boolean') return answer ? by : `not ${by}`;
  return String(answer.is);
}

/** All that the forms take, each name once. */
function seamOf(cuts: readonly ExtractChange[]): Seam {
  const once = <T extends { readonly name: string }>(entries: readonly T[]) => [
    ...new Map(entries.map((e) => [e.name, e])).values(),
  ];
  return {
    props: once(cuts.flatMap((c) => c.seam.props)),
    events: once(cuts.flatMap((c) => c.seam.events)),
    slots: once(cuts.flatMap((c) => c.seam.slots)),
  };
}
