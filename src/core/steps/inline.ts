/** The step that puts a component back: its markup in the place of every tag that shows it, or of one. */
import { ComponentTree } from '../analyze/tree.js';
import { OverlayFiles } from '../files/files.js';
import type { ComponentModel } from '../markup/model.js';
import { didYouMean, isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import { Project } from '../project/project.js';
import { proveFiles, unresolvedNames } from '../proof/files.js';
import type { Allowed } from '../proof/by-way.js';
import type { ProofResult } from '../proof/prove.js';
import type { Node } from '../script/parser.js';
import { ScriptScopes } from '../script/scopes.js';
import { lineEndOf } from '../text/layout.js';
import { applyEdits, composeEdits, movedOffset, type Edit, type Span } from '../text/edits.js';
import { settled } from './settle.js';
import { deleteFile, editFile, type Change } from './change.js';
import type { Seam } from '../language/cutting.js';
import type { Inlines, Putting } from '../language/inlining.js';

export interface InlineStepRequest {
  /** A name, or `path#Name` where several have it. */
  readonly component: string;
  /** The one use that is meant; the component stays then, for others. */
  readonly at?: { readonly path: string; readonly range: Span };
  /** For a text that nobody will write, on the way to another one. */
  readonly allowed?: Allowed;
}

export interface Use {
  readonly path: string;
  readonly span: Span;
}

export interface InlineChange extends Change {
  readonly step: 'inline';
  readonly name: string;
  /** Where the component was declared. */
  readonly path: string;
  readonly target: string;
  /** Where it was shown. */
  readonly uses: readonly Use[];
  /** Whether the component is gone. */
  readonly gone: boolean;
  /** What crossed its boundary. */
  readonly seam: Seam;
  readonly proof: ProofResult;
}

/** The change, proven or not (see `proof`), or why there can be none. */
export function inline(project: Project, request: InlineStepRequest): InlineChange | Problem {
  const found = findComponent(project, request.component);
  if (isProblem(found)) return found;
  return withinDepth(found.path, () => new Inline(project, found, request).run());
}

/** Files that show a component to look at it: with its markup in them they would look at their own. */
const TESTS = /(?:^|\/)(?:__tests__|__mocks__|tests?)\/|\.(?:test|spec|stories)\.[cm]?[jt]sx?$/i;

interface Found {
  readonly id: string;
  readonly path: string;
  readonly component: ComponentModel;
}

export function findComponent(project: Project, asked: string): Found | Problem {
  const tree = ComponentTree.of(project);
  const all = [...tree.summaries].flatMap(([path, { components }]) =>
    components
      .filter((c) => c.kind === 'function' || c.kind === 'class')
      .map(({ name }) => ({ id: `${path}#${name}`, name })),
  );
  const named = all.filter((c) => c.name === asked || c.id === asked);
  if (named.length > 1) {
    const ids = named.map((c) => c.id);
    return problem('component-several', { path: asked }, asked, ids);
  }
  const near = didYouMean(
    asked,
    all.map((c) => c.name),
  );
  return (named[0] && tree.node(named[0].id)) ?? problem('component-unknown', { path: asked }, asked, near);
}

class Inline {
  #project: Project;
  /** Edits by path, from the text of the first project. */
  readonly #edits = new Map<string, readonly Edit[]>();
  readonly #brought = new Set<string>();
  readonly #notes = new Set<string>();
  #several = false;

  constructor(
    readonly project: Project,
    readonly found: Found,
    readonly request: InlineStepRequest,
  ) {
    this.#project = project;
  }

  run(): InlineChange | Problem {
    const { project, found, request } = this;
    const { name } = found.component;
    const file = project.source(found.path);
    if (isProblem(file)) return file;
    const { inlining, label } = file.language;
    if (!inlining) return problem('inline-language', { path: found.path }, label);
    const whole = usesOf(project, found);
    if (whole.length === 0) return problem('inline-unused', place(found), name);
    const one = request.at && whole.find((u) => u.path === request.at!.path && meets(u.span, request.at!.range));
    if (request.at && !one) return problem('inline-place', { path: request.at.path, span: request.at.range }, name);
    const tested = one || request.allowed ? undefined : whole.find((u) => TESTS.test(u.path));
    if (tested) return problem('inline-tested', tested, name);
    const elsewhere = one ? undefined : otherUse(project, found, request.allowed !== undefined);
    if (elsewhere) return problem('inline-elsewhere', elsewhere, name);
    this.#several = whole.length > 1;
    const hosts = new Set(whole.map((u) => u.path));
    const brings = !one && hosts.size === 1 && !hosts.has(found.path) && !isShared(project, found);

    // From the last one to the first: a use inside of another one's content comes before it.
    const trouble = one ? this.#put(inlining, one, false) : this.#putAll(inlining, brings);
    if (trouble) return trouble;
    const component = this.#component();
    const left =
      one || !component
        ? undefined
        : inlining.without(component, project.ports, this.#brought, isShared(project, found));
    if (isProblem(left)) return left;
    if (left && left !== 'nothing') this.#edit(found.path, left);
    return this.#change(one ? [one] : whole, left === 'nothing', !one);
  }

  #putAll(inlining: Inlines, brings: boolean): Problem | undefined {
    for (let uses = usesOf(this.#project, this.found); uses.length > 0;) {
      const trouble = this.#put(inlining, uses.at(-1)!, brings);
      if (trouble) return trouble;
      const next = usesOf(this.#project, this.found);
      // A component that shows itself would never come to an end.
      if (next.length >= uses.length)
        return problem('inline-component', place(this.found), this.found.component.name, 'it shows itself');
      uses = next;
    }
    return undefined;
  }

  #put(inlining: Inlines, { path, span }: Use, brings: boolean): Problem | undefined {
    const project = this.#project;
    const file = project.source(path);
    const component = this.#component();
    if (isProblem(file)) return file;
    if (file.language.inlining !== inlining || !component)
      return problem('inline-use', { path, span }, this.found.component.name, 'it stands in another language');
    const { ports } = project;
    const put = inlining.inline({
      project,
      ports,
      component,
      file,
      use: span,
      brings,
      repeated: this.#several,
      brought: this.#brought,
      returnsEarly: this.request.allowed !== undefined,
    });
    if (isProblem(put)) return put;
    for (const name of put.brought) this.#brought.add(name);
    for (const note of put.notes) this.#notes.add(note);
    this.#edit(path, put.edits);
    if (put.ownEdits.length > 0) this.#edit(component.file.path, put.ownEdits);
    return undefined;
  }

  /** The component as it stands now. */
  #component(): Putting | undefined {
    const { path, component } = this.found;
    const file = this.#project.source(path);
    const model = this.#project.model(path);
    if (isProblem(file) || isProblem(model)) return undefined;
    const now = model.components.find((c) => c.name === component.name);
    return now && { file: file, name: now.name, span: { start: now.start, end: now.end } };
  }

  #edit(path: string, edits: readonly Edit[]): void {
    const text = this.#text(this.project, path);
    // What comes from another file takes on the line ends of this one.
    const nl = lineEndOf(text);
    const own = edits.map((e) => ({ ...e, text: e.text.replace(/\r?\n/g, nl) }));
    this.#edits.set(path, composeEdits(text, this.#edits.get(path) ?? [], own));
    const over = new Map([...this.#edits].map(([p, list]) => [p, applyEdits(this.#text(this.project, p), list)]));
    this.#project = new Project(new OverlayFiles(this.project.files, over), this.project.ports);
  }

  #text(project: Project, path: string): string {
    const file = project.source(path);
    return isProblem(file) ? '' : file.text;
  }

  #change(uses: readonly Use[], deletes: boolean, gone: boolean): InlineChange | Problem {
    const { project, found } = this;
    const files = settled(
      project,
      [...this.#edits]
        .filter(([path]) => !deletes || path !== found.path)
        .map(([path, edits]) => editFile(path, this.#text(project, path), edits)),
    );
    if (deletes) files.push(deleteFile(found.path, this.#text(project, found.path)));
    const after = new Project(
      new OverlayFiles(project.files, new Map(files.map((f) => [f.path, f.text]))),
      project.ports,
    );
    // Files of other uses are read for what the component is there.
    const paths = [...new Set([...files.map((f) => f.path), found.path])];
    // Putting back is cutting out, seen from the other side.
    const proof = turned(proveFiles(after, project, paths, 'back', { allowed: this.request.allowed }));
    if (proof.answer === 'same') {
      const lost = unresolvedNames(project, after, paths);
      if (lost.length > 0) return problem('names-unresolved', place(found), lost.join(', '));
    }
    const { component } = found;
    if (proof.answer === 'different' && proof.code === 'file-not-loaded')
      return problem('inline-component', place(found), component.name, proof.detail);
    return {
      step: 'inline',
      files,
      name: component.name,
      path: found.path,
      target: [...new Set(uses.map((u) => u.path))].join(', '),
      uses,
      gone,
      seam: {
        props: component.props
          .filter((p) => !/^on[A-Z]/.test(p.name))
          .map(({ name, type }) => ({ name, ...(type === undefined ? {} : { type }) })),
        events: component.props
          .filter((p) => /^on[A-Z]/.test(p.name))
          .map(({ name, type }) => ({ name, ...(type === undefined ? {} : { type }) })),
        slots: [],
      },
      proof,
      notes: [...this.#notes],
    };
  }
}

function place({ path, component }: Found): { path: string; span: Span } {
  return { path, span: { start: component.start, end: component.end } };
}

function meets(a: Span, b: Span): boolean {
  return a.start < b.end && b.start < a.end;
}

/** What was compared from the second side to the first, told from the first. */
export function turned(proof: ProofResult): ProofResult {
  if (proof.answer === 'same') return proof;
  const { before, after, ...rest } = proof;
  return { ...rest, ...(after ? { before: after } : {}), ...(before ? { after: before } : {}) };
}

/** Where the markup stands afterwards, in the text that the change makes; undefined where there were several uses. */
export function standsAt({ uses, files }: Pick<InlineChange, 'uses' | 'files'>): Use | undefined {
  const [use, ...others] = uses;
  const host = files.find((f) => f.path === use?.path && f.change === 'edit');
  const put = use && host?.edits.find((e) => e.start <= use.span.start && e.end >= use.span.end);
  if (!use || !host || !put || others.length > 0) return undefined;
  const start = movedOffset(
    host.edits.filter((e) => e.end <= put.start && e !== put),
    put.start,
  );
  return { path: use.path, span: { start, end: start + put.text.length } };
}

/** Every tag that shows the component, by file and in text order. */
export function usesOf(project: Project, { id }: { readonly id: string }): Use[] {
  return ComponentTree.of(project)
    .usesOf(id)
    .map(({ path, element }) => ({ path, span: { start: element.start, end: element.end } }));
}

/** A place where the component is a value, or is given on to others; `mayBeHandedOn`: only the former counts. */
function otherUse(project: Project, found: Found, mayBeHandedOn: boolean): { path: string; span?: Span } | undefined {
  const { summaries, linker } = ComponentTree.of(project);
  for (const [path, summary] of summaries) {
    const isIt = (name: string) => linker.componentFor(summary, name) === found.id;
    const given = summary.exports.find(
      (e) =>
        path !== found.path && (e.source === undefined ? isIt(e.local) : reaches(project, path, e.source, found.path)),
    );
    if (given && !mayBeHandedOn) return { path };
    const names = path === found.path ? [found.component.name] : summary.imports.map((i) => i.local).filter(isIt);
    const model = names.length > 0 ? project.model(path) : undefined;
    if (!model || isProblem(model)) continue;
    for (const script of model.scripts) {
      const scopes = ScriptScopes.of(script);
      for (const name of names)
        for (const { identifier, init } of scopes.moduleScope.set.get(name)?.references ?? []) {
          const parent = scopes.parentOf(identifier);
          const isTag = identifier.type === 'JSXIdentifier' && parent?.type !== 'JSXMemberExpression';
          if (init || !parent || isTag || /^Export/.test(parent.type)) continue;
          if (parent.type === 'MemberExpression' && scopes.parentOf(parent)?.type === 'AssignmentExpression') continue;
          if (isRegistration(parent, scopes)) continue;
          return { path, span: { start: identifier.range[0], end: identifier.range[1] } };
        }
    }
  }
  return undefined;
}

/** `components: { HiveCard }`: where a component is named so that a template may show it. */
function isRegistration(node: Node, scopes: ScriptScopes): boolean {
  const record = node.type === 'Property' ? scopes.parentOf(node) : undefined;
  const owner = record && scopes.parentOf(record);
  return owner?.type === 'Property' && owner.key.type === 'Identifier' && owner.key.name === 'components';
}

function reaches(project: Project, from: string, source: string, path: string): boolean {
  const target = project.resolver.resolve(from, source);
  return target.kind === 'file' && target.path === path;
}

/** Whether other files take something else from the component's file. */
function isShared(project: Project, found: Found): boolean {
  const { summaries, linker } = ComponentTree.of(project);
  return [...summaries].some(
    ([path, summary]) =>
      summary.imports.some(
        (i) => reaches(project, path, i.source, found.path) && linker.componentFor(summary, i.local) !== found.id,
      ) || summary.loads.some((source) => reaches(project, path, source, found.path)),
  );
}
