/**
 * The step that makes content of what a component only hands on: the tag that takes it is written where the component is shown,
 * and goes through. On the way the tag is a component of its own, in a text that nobody keeps, so that all it is given has names.
 */
import { ComponentTree, type TreeNode } from '../analyze/tree.js';
import type { Value } from '../analyze/uses.js';
import { OverlayFiles } from '../files/files.js';
import type { Carries, Carrying } from '../language/carrying.js';
import type { Seam } from '../language/cutting.js';
import type { Markup } from '../markup/model.js';
import { regionOf } from '../markup/region.js';
import { childLists } from '../markup/walk.js';
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import { Project } from '../project/project.js';
import { unresolvedNames } from '../proof/files.js';
import type { ProofResult } from '../proof/prove.js';
import { applyEdits, composeEdits, movedOffset, sortEdits, type Edit, type Span } from '../text/edits.js';
import { applied, createFile, editFile, writeFile, type Change, type FileChange } from './change.js';
import { extract } from './extract.js';
import { findComponent, inline, usesOf } from './inline.js';
import { settled } from './settle.js';
import { proveWrittenOut } from './written-out.js';

export interface ThroughStepRequest {
  /** The component that hands on what it does not use: a name, or `path#Name` where several have it. */
  readonly component: string;
  /** Which of its inputs; all that it only hands on, where they are left out. */
  readonly inputs?: readonly string[];
  /** The component above in which the tag is to be written; as far up as there are inputs that go with it, where it is left out. */
  readonly in?: string;
}

export interface ThroughChange extends Change {
  readonly step: 'through';
  readonly name: string;
  /** Where it is declared. */
  readonly path: string;
  /** What was handed on to, and what goes through as content now. */
  readonly carried: readonly string[];
  /** Ids of the components that it goes through, from the lowest one, and of those in which it is written now. */
  readonly through: readonly string[];
  readonly hosts: readonly string[];
  /** Paths of the latter. */
  readonly target: string;
  /** Inputs by the component that no longer takes them. */
  readonly dropped: readonly { readonly component: string; readonly inputs: readonly string[] }[];
  readonly seam: Seam;
  readonly proof: ProofResult;
}

/** The change, proven or not (see `proof`), or why there can be none. */
export function through(project: Project, request: ThroughStepRequest): ThroughChange | Problem {
  const found = findComponent(project, request.component);
  if (isProblem(found)) return found;
  return withinDepth(found.path, () => new Carried(project, found.id, request).run());
}

/** Content that goes through a component. */
interface Part {
  readonly region: Span;
  /** The tag that is, or that begins it. */
  readonly tag: string;
}

class Carried {
  #project: Project;
  readonly #touched = new Set<string>();
  readonly #notes = new Set<string>();
  readonly #through: string[] = [];
  readonly #tags = new Set<string>();
  readonly #slots = new Set<string>();
  readonly #dropped = new Map<string, readonly string[]>();
  #proof: ProofResult | undefined;

  constructor(
    readonly project: Project,
    readonly from: string,
    readonly request: ThroughStepRequest,
  ) {
    this.#project = project;
  }

  run(): ThroughChange | Problem {
    const { request, from } = this;
    const { file, path } = this.#node(from);
    if (!file.language.carries) return problem('through-language', { path }, file.language.label);
    const top = request.in === undefined ? undefined : findComponent(this.project, request.in);
    if (isProblem(top)) return top;
    const asked = this.#inputs(from, request.inputs);
    if (isProblem(asked)) return asked;
    let parts: readonly Part[] = partsOf(this.#node(from), asked);
    for (let at = from; ;) {
      const trouble = this.#level(at, parts);
      // What went through the ones below is done.
      if (trouble && (at === from || top)) return trouble;
      if (trouble) return this.#change(this.#hostsOf(this.#through.at(-1)!));
      const hosts = this.#hostsOf(at);
      if (!top && hosts.length !== 1) return this.#change(hosts);
      const [host, ...others] = hosts;
      if (host === top?.id && others.length === 0) return this.#change(hosts);
      const isShown = host !== undefined && ComponentTree.of(this.#project).usesOf(host).length > 0;
      if (top && (others.length > 0 || !isShown)) return this.#unreached(at, top.id);
      parts = host === undefined || !isShown ? [] : this.#contentOf(at, host);
      if (top && parts.length === 0) return this.#unreached(at, top.id);
      if (!top && !parts.some((part) => this.#takesOnly(host!, part))) return this.#change(hosts);
      at = host!;
    }
  }

  #node(id: string): TreeNode {
    return ComponentTree.of(this.#project).node(id)!;
  }

  /** The components that show one, each once. */
  #hostsOf(id: string): string[] {
    const uses = ComponentTree.of(this.#project).usesOf(id);
    // What an application begins with is shown by a file.
    return [...new Set(uses.map(({ path, host }) => (host ? `${path}#${host.name}` : path)))];
  }

  #unreached(at: string, top: string): Problem {
    const { component, path } = this.#node(at);
    const span = { start: component.start, end: component.end };
    return problem('through-target', { path, span }, this.#node(top).component.name, component.name);
  }

  /** The inputs that a component only hands on. */
  #inputs(id: string, names: readonly string[] | undefined): readonly Value[] | Problem {
    const { component, path } = this.#node(id);
    const at = { path, span: { start: component.start, end: component.end } };
    const values = ComponentTree.of(this.#project).values(id);
    const taken = values.filter((v) => v.binding.kind === 'prop' && v.uses.length > 0);
    const isHandedOn = (value: Value) => value.uses.every((use) => use.passed !== undefined);
    const plain = taken.filter((v) => v.uses.every((use) => use.passed?.plain));
    if (!names) return plain.length > 0 ? plain : problem('through-nothing', at, component.name);
    const [unknown] = names.filter((name) => !taken.some((v) => v.names.includes(name) && isHandedOn(v)));
    if (unknown !== undefined)
      return problem(
        'through-input',
        at,
        unknown,
        component.name,
        plain.map((v) => v.binding.name),
      );
    return taken.filter((v) => names.includes(v.binding.name));
  }

  /** All parts through one component, each proven on the files that the one before left. */
  #level(id: string, parts: readonly Part[]): Problem | undefined {
    const before = this.#project;
    const { component, path, file } = this.#node(id);
    const at = { path, span: { start: component.start, end: component.end } };
    const { carries, label } = file.language;
    if (!carries) return problem('through-language', at, label);
    const uses = usesOf(before, { id });
    if (uses.length === 0) return problem('through-unused', at, component.name);
    const dropped = new Set<string>();
    const names = new Set(component.props.map((p) => p.name));
    let now = before;
    const changed = new Set<string>();
    let own: readonly Edit[] = [];
    for (const { region, tag } of parts) {
      const isOne = parts.length === 1 && !names.has('children') && !component.props.some((p) => p.name === 'default');
      const slot = isOne ? undefined : freeName(tag, names);
      const start = movedOffset(own, region.start);
      const put = carried(now, id, { start, end: start + region.end - region.start }, carries, slot);
      if ('code' in put) return put;
      now = new Project(applied(now.files, put), now.ports);
      for (const { path: one, edits } of put.files) {
        changed.add(one);
        if (one === path) own = composeEdits(textIn(before, path)!, own, edits);
      }
      for (const name of put.dropped) dropped.add(name);
      for (const note of put.notes) this.#notes.add(note);
      this.#tags.add(tag);
      this.#slots.add(slot ?? 'children');
    }
    const proof = proveWrittenOut(before, now, id, [...changed]);
    if (isProblem(proof))
      return problem('through-inner', at, component.name, `what it does cannot be compared (${proof.message})`);
    if (proof.answer === 'same') {
      const lost = unresolvedNames(before, now, [...changed]);
      if (lost.length > 0) return problem('names-unresolved', at, lost.join(', '));
    }
    // As far up as it goes, where nobody said how far.
    if (proof.answer !== 'same' && id !== this.from && this.request.in === undefined)
      return problem('through-inner', at, component.name, proof.detail);
    if (this.#proof?.answer === 'same' && proof.answer === 'same')
      this.#proof = { ...proof, expanded: [...this.#proof.expanded, ...proof.expanded] };
    else if (this.#proof === undefined || this.#proof.answer === 'same') this.#proof = proof;
    this.#project = now;
    for (const one of changed) this.#touched.add(one);
    this.#through.push(id);
    this.#dropped.set(id, [...dropped]);
    return undefined;
  }

  /** What stands as content in the one place that shows a component. */
  #contentOf(id: string, host: string): Part[] {
    const tree = ComponentTree.of(this.#project);
    const [use, ...others] = tree.usesOf(id);
    if (!use || others.length > 0 || `${use.path}#${use.host?.name}` !== host) return [];
    const { children, attributes } = use.element;
    const named = attributes.filter((a) => this.#slots.has(a.name)).map((a) => a.parts);
    const lists = [...(this.#slots.has('children') ? [children] : []), ...named];
    return lists.flatMap((list): Part[] => {
      const shown = list.filter(isShown);
      const first = shown.find((n) => n.kind === 'element');
      return first?.kind === 'element' ? [{ region: regionOf(shown), tag: first.name }] : [];
    });
  }

  /** Whether a component takes something that this part alone is given. */
  #takesOnly(id: string, { region }: Part): boolean {
    const isIn = (at: number) => at >= region.start && at < region.end;
    const values = ComponentTree.of(this.#project).values(id);
    return values.some((v) => v.binding.kind === 'prop' && v.uses.length > 0 && v.uses.every((use) => isIn(use.at)));
  }

  #change(hosts: readonly string[]): ThroughChange {
    const { project } = this;
    const { component, path } = ComponentTree.of(project).node(this.from)!;
    const now = this.#project;
    const files = [...this.#touched]
      .filter((one) => textIn(now, one) !== undefined && textIn(now, one) !== textIn(project, one))
      .map((one) => writeFile(project.files, one, textIn(now, one)!));
    return {
      step: 'through',
      files,
      name: component.name,
      path,
      carried: [...this.#tags],
      through: this.#through,
      hosts,
      target: [...new Set(hosts.map((id) => id.replace(/#[^#]*$/, '')))].join(', '),
      dropped: [...this.#dropped].map(([one, inputs]) => ({ component: one, inputs })),
      seam: { props: [], events: [], slots: [...this.#slots].map((name) => ({ name })) },
      proof: this.#proof!,
      notes: [...this.#notes],
    };
  }
}

/** The tags that the values are handed to; neighbours are one part. */
function partsOf({ component }: TreeNode, values: readonly Value[]): Part[] {
  const starts = new Set(values.flatMap((v) => v.uses.map((use) => use.passed!.at)));
  const parts: Part[] = [];
  const look = (list: readonly Markup[]): void => {
    let run: Markup[] = [];
    const end = () => {
      const [first] = run;
      if (first?.kind === 'element') parts.push({ region: regionOf(run), tag: first.name });
      run = [];
    };
    for (const node of list.filter(isShown)) {
      if (node.kind === 'element' && starts.has(node.start)) run.push(node);
      else {
        end();
        childLists(node).forEach(look);
      }
    }
    end();
  };
  // Each piece of markup that the component can show is a place of its own.
  for (const root of component.markup) look([root]);
  return parts;
}

function isShown(node: Markup): boolean {
  return node.kind !== 'comment' && !(node.kind === 'text' && node.text.trim() === '');
}

/** `scale` for `<Scale>`, a number behind it where the component has that already. */
function freeName(tag: string, taken: Set<string>): string {
  const word = tag.slice(tag.lastIndexOf('.') + 1);
  const plain = word[0]!.toLowerCase() + word.slice(1);
  let name = plain;
  for (let i = 2; taken.has(name); i++) name = `${plain}${i}`;
  taken.add(name);
  return name;
}

interface Put {
  readonly files: readonly FileChange[];
  readonly dropped: readonly string[];
  readonly notes: readonly string[];
}

/** One part: a tag whose inputs all have names as it stands, any other by way of a component of its own. */
function carried(
  project: Project,
  id: string,
  region: Span,
  carries: Carries,
  slot: string | undefined,
): Put | Problem {
  const { path, component } = ComponentTree.of(project).node(id)!;
  const all = component.markup.filter(isShown);
  const at = { path, span: region };
  if (all.length === 1 && region.start <= all[0]!.start && region.end >= all[0]!.end)
    return problem('through-whole', at, component.name);
  const plain = lifted(project, id, region, carries, slot, false);
  if (plain && !isProblem(plain)) {
    const files = [...plain.edits].map(([one, edits]) => editFile(one, textIn(project, one)!, edits));
    return { files: settled(project, files), dropped: plain.dropped, notes: plain.notes };
  }
  if (plain && plain.code !== 'through-needs') return plain;
  const put = byCut(project, id, region, carries, slot);
  // Places in a text that nobody sees are told where the part stands.
  return isProblem(put) && put.path === path ? { ...put, span: region } : put;
}

function lifted(
  project: Project,
  id: string,
  part: Span,
  carries: Carries,
  slot: string | undefined,
  opens: boolean,
): Carrying | Problem | undefined {
  const tree = ComponentTree.of(project);
  const { file, component } = tree.node(id)!;
  const uses = tree.usesOf(id).map(({ path, element }) => ({
    file: tree.project.source(path) as TreeNode['file'],
    span: { start: element.start, end: element.end },
  }));
  const { name, start, end } = component;
  const { ports } = project;
  return carries.asContent({
    project,
    ports,
    component: { file, name, span: { start, end } },
    part,
    opens,
    uses,
    slot,
  });
}

/** The part cut out, its tag carried through, and put back where it is written then. */
function byCut(project: Project, id: string, region: Span, carries: Carries, slot: string | undefined): Put | Problem {
  const { path, component } = ComponentTree.of(project).node(id)!;
  const refuse = (why: string) => problem('through-inner', { path, span: region }, component.name, why);
  const name = `${component.name}Content`;
  const cut = extract(project, { path, range: region, name, sameFile: carries.together, props: 'objects' });
  if (isProblem(cut)) return cut;
  if (cut.proof.answer !== 'same') return refuse(`what it hands on cannot be cut out (${cut.proof.detail})`);
  const between = new Project(applied(project.files, cut), project.ports);
  const own = `${cut.target}#${cut.name}`;
  const part = ComponentTree.of(between).usesOf(own)[0]?.element;
  if (!part) return refuse('what it hands on cannot be cut out');
  const done = lifted(between, id, { start: part.start, end: part.end }, carries, slot, true);
  if (!done) return refuse('what it hands on cannot be written elsewhere');
  if (isProblem(done)) return done;
  const texts = new Map([...done.edits].map(([one, edits]) => [one, applyEdits(textIn(between, one)!, edits)]));
  const moved = new Project(new OverlayFiles(between.files, texts), between.ports);
  const back = inline(moved, { component: own });
  const trouble = isProblem(back) ? back.message : back.proof.answer === 'same' ? undefined : back.proof.detail;
  if (isProblem(back) || trouble !== undefined) return refuse(`what it hands on cannot be written there (${trouble})`);
  const after = new Project(applied(moved.files, back), moved.ports);
  const edits = new Map<string, readonly Edit[]>();
  const add = (one: string, more: readonly Edit[]) =>
    edits.set(one, composeEdits(textIn(project, one) ?? '', edits.get(one) ?? [], more));
  for (const file of cut.files) if (file.change === 'edit') add(file.path, file.edits);
  for (const [one, more] of done.edits) add(one, sortEdits(more));
  for (const file of back.files) if (file.change === 'edit') add(file.path, file.edits);
  // The file of the tag's own component was for the way only.
  const created = cut.files.filter((f) => f.change === 'create' && textIn(after, f.path) !== undefined);
  const files = settled(project, [
    ...[...edits].map(([one, list]) => editFile(one, textIn(project, one)!, list)),
    ...created.map((f) => createFile(f.path, textIn(after, f.path)!)),
  ]);
  return { files, dropped: done.dropped, notes: done.notes };
}

function textIn(project: Project, path: string): string | undefined {
  const file = project.source(path);
  return isProblem(file) ? undefined : file.text;
}
