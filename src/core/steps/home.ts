/**
 * The step that brings state home: down into the one component that uses it, or up into one that shows it, one level at a time.
 * Each level is proven by way of a text that nobody writes, in which the inner component stands written out in the outer one:
 * both what was and what is must be a way of cutting that text.
 */
import { ComponentTree, type TagUse, type TreeNode } from '../analyze/tree.js';
import { OverlayFiles } from '../files/files.js';
import type { Seam, SeamEntry, TypeOracle } from '../language/cutting.js';
import type { Homes, HomeRequest, Homing } from '../language/homing.js';
import type { Putting } from '../language/inlining.js';
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import { Project } from '../project/project.js';
import type { Allowed } from '../proof/by-way.js';
import { proveFiles, unresolvedNames } from '../proof/files.js';
import type { ProofPlace, ProofResult } from '../proof/prove.js';
import { walk } from '../script/walk.js';
import { applyEdits, composeEdits, type Edit } from '../text/edits.js';
import { Lines } from '../text/lines.js';
import { applied, editFile, writeFile, type Change, type FileChange } from './change.js';
import { findComponent, inline } from './inline.js';
import { settled } from './settle.js';

export interface HomeStepRequest {
  /** The component that keeps the state: a name, or `path#Name` where several have it. */
  readonly component: string;
  /** Names of states. */
  readonly names: readonly string[];
  /** The component that is to keep it, below or above; the lowest one that all uses are in, where it is left out. */
  readonly in?: string;
  /** Do it although the state would live for another time. */
  readonly newLifetime?: boolean;
  readonly types?: TypeOracle;
}

export interface HomeChange extends Change {
  readonly step: 'home';
  /** The names, as they were asked for. */
  readonly name: string;
  /** Id of the component that kept the state, and of the one that keeps it now. */
  readonly from: string;
  readonly home: string;
  /** Path of the file that it is kept in now. */
  readonly target: string;
  /** All names that went, and where they were declared first. */
  readonly moved: readonly string[];
  /** What components on the way are given now, and what they are no longer given. */
  readonly seam: Seam;
  readonly dropped: readonly string[];
  readonly proof: ProofResult;
}

/** The change, proven or not (see `proof`), or why there can be none. */
export function home(project: Project, request: HomeStepRequest): HomeChange | Problem {
  const from = findComponent(project, request.component);
  if (isProblem(from)) return from;
  return withinDepth(from.path, () => new Homeward(project, from.id, request).run());
}

/** One component that shows another, at one place. */
interface Level {
  readonly outer: TreeNode;
  readonly inner: TreeNode;
  readonly use: TagUse;
}

class Homeward {
  #project: Project;
  readonly #edits = new Map<string, readonly Edit[]>();
  readonly #created = new Set<string>();
  readonly #notes = new Set<string>();
  readonly #moved = new Set<string>();
  readonly #added = new Map<string, SeamEntry>();
  readonly #dropped = new Set<string>();
  #proof: ProofResult | undefined;

  constructor(
    readonly project: Project,
    readonly from: string,
    readonly request: HomeStepRequest,
  ) {
    this.#project = project;
  }

  run(): HomeChange | Problem {
    const { request, from } = this;
    const asked = request.in === undefined ? undefined : findComponent(this.project, request.in);
    if (isProblem(asked)) return asked;
    let { names } = request;
    if (asked) {
      const way = this.#way(asked.id);
      if (isProblem(way)) return way;
      for (const { ids, up } of way.levels) {
        const went = this.#level(ids, names, up ? 'up' : 'down');
        if (isProblem(went)) return went;
        ({ names } = went);
      }
      return this.#change(asked.id);
    }
    let at = from;
    for (;;) {
      const below = this.#below(at, names);
      const went = isProblem(below) ? below : this.#level(below, names, 'down');
      if (isProblem(went)) {
        if (at === from) return went;
        return this.#change(at);
      }
      ({ names } = went);
      at = (below as Ids)[1];
    }
  }

  /** The one component to which everything of the names is handed. */
  #below(at: string, names: readonly string[]): Ids | Problem {
    const tree = ComponentTree.of(this.#project);
    const node = tree.node(at)!;
    const place = { path: node.path, span: { start: node.component.start, end: node.component.end } };
    const values = tree.values(at);
    const unknown = names.find((name) => !values.some((v) => v.binding.name === name));
    if (unknown !== undefined) {
      const known = values.filter((v) => v.binding.kind === 'state').map((v) => v.binding.name);
      return problem('home-unknown', place, unknown, node.component.name, known);
    }
    // Through what is worked out of them, and the functions that set them.
    const seen = new Set(values.filter((v) => names.includes(v.binding.name)));
    for (const value of seen)
      for (const { by } of value.uses) {
        const further = values.find((v) => v.binding === by);
        if (further) seen.add(further);
      }
    const uses = [...seen].flatMap((value) => value.uses.flatMap((use) => use.passed ?? []));
    const tags = new Set(uses.map((u) => u.tag));
    const ids = [...tags].flatMap((tag) => tree.meant(node.path, tag) ?? []);
    return ids.length === 1 ? [at, ids[0]!] : problem('home-nowhere', place, names.join(', '), node.component.name);
  }

  /** The levels between the component and another one, from the first to go. */
  #way(to: string): { levels: { ids: Ids; up: boolean }[] } | Problem {
    const tree = ComponentTree.of(this.project);
    const name = (id: string) => tree.node(id)?.component.name ?? id;
    const chain = (top: string, low: string): string[] | undefined => {
      const ids = [low];
      while (ids[0] !== top) {
        const uses = tree.usesOf(ids[0]!);
        const [use] = uses;
        if (uses.length !== 1 || !use?.host || ids.length > 50) return undefined;
        ids.unshift(`${use.path}#${use.host.name}`);
      }
      return ids;
    };
    const down = chain(this.from, to);
    const up = down ? undefined : chain(to, this.from);
    const ids = down ?? up;
    if (!ids || ids.length < 2) {
      const node = tree.node(to)!;
      const at = { path: node.path, span: { start: node.component.start, end: node.component.end } };
      const why = to === this.from ? 'it keeps it already' : 'the two do not show one another at one place';
      return problem('home-target', at, name(to), name(this.from), why);
    }
    const levels = ids.slice(1).map((id, i) => ({ ids: [ids[i]!, id] as const, up: !down }));
    return { levels: down ? levels : levels.reverse() };
  }

  /** One level, written and proven on the files that the one before left. */
  #level([outer, inner]: Ids, names: readonly string[], way: 'down' | 'up'): Homing | Problem {
    const project = this.#project;
    const level = levelOf(project, outer, inner);
    if (isProblem(level)) return level;
    const at = { path: level.use.path, span: { start: level.use.element.start, end: level.use.element.end } };
    const { homes, label } = level.outer.file.language;
    const goes = homes?.[way];
    if (!homes || !goes || level.inner.file.language.homes !== homes) return problem('home-language', at, label, way);
    const request: HomeRequest = {
      project,
      ports: project.ports,
      types: this.#edits.size > 0 ? undefined : this.request.types,
      outer: puttingOf(level.outer),
      inner: puttingOf(level.inner),
      use: at.span,
      names,
      newLifetime: this.request.newLifetime ?? false,
    };
    const homing = goes(request);
    if (isProblem(homing)) return homing;
    const files = settled(project, [
      ...[...homing.edits].map(([path, edits]) => editFile(path, textIn(project, path), edits)),
      ...[...homing.files].map(([path, text]) => writeFile(project.files, path, text)),
    ]);
    const after = new Project(applied(project.files, { files }), project.ports);
    const changed = files.map((f) => f.path);
    const proof = proveLevel(project, after, level, homes, homing, changed);
    if (isProblem(proof)) return proof;
    if (proof.answer === 'same') {
      const lost = unresolvedNames(project, after, changed);
      if (lost.length > 0) return problem('names-unresolved', at, lost.join(', '));
    }
    this.#take(files, homing, proof, level);
    return homing;
  }

  #take(files: readonly FileChange[], homing: Homing, proof: ProofResult, { outer, inner }: Level): void {
    for (const { path, edits, change } of files) {
      const first = textIn(this.project, path);
      if (change === 'create' || this.#created.has(path)) this.#created.add(path);
      else this.#edits.set(path, composeEdits(first, this.#edits.get(path) ?? [], edits));
    }
    this.#project = new Project(applied(this.#project.files, { files }), this.#project.ports);
    for (const note of homing.notes) this.#notes.add(note);
    for (const name of homing.moved) this.#moved.add(name);
    for (const entry of homing.added) this.#added.set(entry.name, entry);
    for (const name of homing.dropped) if (!this.#added.delete(name)) this.#dropped.add(name);
    if (proof.answer === 'same')
      for (const { path, span } of proof.elsewhere ?? []) {
        const [line] = new Lines(textIn(this.#project, path)).range(span);
        this.#notes.add(
          `what runs at ${path}:${line} ran behind the effects of everything in ${outer.component.name}, and runs with those of ${inner.component.name} now; \`verkstad check\` plays both`,
        );
      }
    if (proof.answer === 'same' && proof.sooner && proof.sooner.length > 0)
      this.#notes.add(
        `what functions of ${inner.component.name} read of it is as new as can be where it is kept, and as old as the last rendering where it is handed down; \`verkstad check\` plays both`,
      );
    if (this.#proof === undefined || this.#proof.answer === 'same') this.#proof = proof;
  }

  #change(to: string): HomeChange {
    const now = this.#project;
    const files = [
      ...[...this.#edits].map(([path, edits]) => editFile(path, textIn(this.project, path), edits)),
      ...[...this.#created].map((path) => writeFile(this.project.files, path, textIn(now, path))),
    ];
    const props = [...this.#added.values()];
    return {
      step: 'home',
      files,
      name: this.request.names.join(', '),
      from: this.from,
      home: to,
      target: to.slice(0, to.lastIndexOf('#')),
      moved: [...this.#moved],
      seam: {
        props: props.filter((p) => !/^on[A-Z]/.test(p.name)),
        events: props.filter((p) => /^on[A-Z]/.test(p.name)),
        slots: [],
      },
      dropped: [...this.#dropped],
      proof: this.#proof!,
      notes: [...this.#notes],
    };
  }
}

type Ids = readonly [outer: string, inner: string];

function levelOf(project: Project, outer: string, inner: string): Level | Problem {
  const tree = ComponentTree.of(project);
  const [above, below] = [tree.node(outer), tree.node(inner)];
  if (!above || !below) return problem('component-unknown', { path: outer }, above ? inner : outer, undefined);
  const uses = tree.usesOf(inner);
  const [use] = uses;
  const at = { path: below.path, span: { start: below.component.start, end: below.component.end } };
  if (uses.length > 1) return problem('home-place', at, below.component.name, `it is shown at ${uses.length} places`);
  if (use?.path !== above.path || use.host?.name !== above.component.name)
    return problem(
      'home-target',
      at,
      below.component.name,
      above.component.name,
      `${above.component.name} does not show it`,
    );
  return { outer: above, inner: below, use };
}

function puttingOf({ file, component }: TreeNode): Putting {
  return { file, name: component.name, span: { start: component.start, end: component.end } };
}

function textIn(project: Project, path: string): string {
  const file = project.source(path);
  return isProblem(file) ? '' : file.text;
}

/** Both texts against the one in which the inner component stands written out in the outer one. */
function proveLevel(
  before: Project,
  after: Project,
  level: Level,
  homes: Homes,
  { resets }: Homing,
  changed: readonly string[],
): ProofResult | Problem {
  const { outer, inner, use } = level;
  const span = { start: use.element.start, end: use.element.end };
  // What decides whether the inner component is shown is the same on both sides, and left out of the comparison.
  const was = edited(before, outer.path, [...resets, ...homes.lasting(puttingOf(outer), span, before.ports)]);
  const now = levelOf(after, outer.id, inner.id);
  if (isProblem(now)) return now;
  const { element } = now.use;
  const lasting = homes.lasting(puttingOf(now.outer), { start: element.start, end: element.end }, after.ports);
  const is = edited(after, outer.path, lasting);
  const out = inline(was, { component: inner.id, allowed: { resident: () => true } });
  const at = { path: inner.path, span: { start: inner.component.start, end: inner.component.end } };
  if (isProblem(out))
    return problem('home-inner', at, inner.component.name, `what it does cannot be compared (${out.message})`);
  if (out.proof.answer !== 'same')
    return out.proof.code === 'file-unread'
      ? problem('home-inner', at, inner.component.name, `it cannot be written out in ${outer.path} for comparing`)
      : out.proof;
  const written = new Project(applied(was.files, out), was.ports);
  const [had, has] = [statementShapes(before, inner.path), statementShapes(after, inner.path)];
  const isResident = (shape: string) => (had.get(shape) ?? 0) >= (has.get(shape) ?? 0);
  const paths = [...new Set([...changed, ...out.files.map((f) => f.path)])];
  const resident: Allowed['resident'] = (statement, { path, text }) =>
    path === inner.path && isResident(shapeOf(text.slice(...statement.range)));
  const proof = proveFiles(written, is, paths, 'forward', { allowed: { resident } });
  if (proof.answer !== 'same') return proof;
  // What is handed down on both sides is as old on both.
  const [then, later] = [readsOf(before, out.proof.sooner), readsOf(after, proof.sooner)];
  const sooner = [...then, ...later].filter(([text]) => then.has(text) !== later.has(text)).map(([, place]) => place);
  return { ...proof, sooner };
}

/** Places by what is written there. */
function readsOf(project: Project, places: readonly ProofPlace[] = []): Map<string, ProofPlace> {
  return new Map(places.map((place) => [textIn(project, place.path).slice(place.span.start, place.span.end), place]));
}

/** The project with edits in one file, for a text that nobody writes. */
export function edited(project: Project, path: string, edits: readonly Edit[]): Project {
  if (edits.length === 0) return project;
  const text = applyEdits(textIn(project, path), edits);
  return new Project(new OverlayFiles(project.files, new Map([[path, text]])), project.ports);
}

/** How often each statement of a file stands in it, whatever the names in it are. */
function statementShapes(project: Project, path: string): Map<string, number> {
  const module = ComponentTree.of(project).resolved(path);
  const shapes = new Map<string, number>();
  const text = textIn(project, path);
  if (module)
    walk(module.script.program, (node) => {
      for (const statement of node.type === 'BlockStatement' ? node.body : []) {
        const shape = shapeOf(text.slice(...statement.range));
        shapes.set(shape, (shapes.get(shape) ?? 0) + 1);
      }
      return undefined;
    });
  return shapes;
}

/** Code without white space and names, but for those of hooks: what is handed over may be called otherwise now. */
function shapeOf(text: string): string {
  return text.replace(/\s+/g, '').replace(/(?<![\w$])(?!use[A-Z])[A-Za-z_$][\w$]*/g, '_');
}
