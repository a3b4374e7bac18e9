/** One runner over `fixtures/<language>/<case>/`: the step, the written files, the proof, the types, the rendered page. */
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { basename, dirname, join as joined } from 'node:path';
import * as prettier from 'prettier';
import { describe, expect, it } from 'vitest';
import {
  apart,
  applied,
  dissolve,
  extract,
  findRepeats,
  forms,
  through,
  inputs,
  home,
  hook,
  module,
  inline,
  isProblem,
  join,
  MemoryFiles,
  part,
  Project,
  textOf,
  toFunction,
  unify,
  type FileSet,
  type Problem,
  type RepeatKind,
  type RepeatSeam,
  type TypeOracle,
  type WantedSeam,
} from '../src/core/index.js';
import { newErrors, nodePorts, ProjectTypes } from '../src/node/index.js';
import { bodyOutline, fragmentOutline } from './support/pages.js';
import { filesBelow } from './support/projects.js';
import { inOrder, renderHtml, type RenderCase } from './support/react.js';
import { compileErrors, renderPage, renderVue } from './support/vue.js';

const FIXTURES = new URL('./fixtures', import.meta.url).pathname;
const update = process.env.UPDATE === '1';

interface Case {
  /** The best repeat of this kind becomes one. */
  readonly unify?: {
    kind: RepeatKind;
    name?: string;
    asList?: boolean;
    only?: number[];
    into?: string;
    /** Of the first repeat; slots as they begin and end, in `file`. */
    seam?: Omit<RepeatSeam, 'slots'> & { readonly slots?: Record<string, readonly [string, string]>; file?: string };
  };
  readonly extract?: {
    file: string;
    from: string;
    to: string;
    name?: string;
    /** The new file, where it is not the one that would be chosen. */
    target?: string;
    props?: 'members' | 'objects';
    sameFile?: boolean;
    into?: string;
    /** What a person decides of what crosses; slots as they begin and end. */
    seam?: Omit<WantedSeam, 'slots'> & { readonly slots?: Record<string, readonly [string, string]> };
  };
  /** A function that gives markup back and becomes a component. */
  readonly dissolve?: { file: string; helper: string; name?: string };
  /** A class that becomes a function. */
  readonly function?: { file: string; component: string };
  /** A component that asks the same in many places. */
  readonly forms?: { component: string; by: string; names?: readonly string[]; newLifetime?: boolean };
  /** A component with inputs that say nothing. */
  readonly inputs?: { component: string; names?: readonly string[] };
  /** A component that hands on what it does not use. */
  readonly through?: { component: string; inputs?: readonly string[]; in?: string };
  /** What a component shows leaves what it knows. */
  readonly apart?: { file: string; component: string; name?: string; seam?: Omit<WantedSeam, 'slots'> };
  /** A component that goes back where it is shown; `at`: a piece of the text of one use. */
  readonly inline?: { component: string; at?: { path: string; text: string } };
  /** States that go home, or to another component. */
  readonly home?: { component: string; states: readonly string[]; in?: string; newLifetime?: boolean };
  /** Statements that become a hook, each given by how it begins and ends. */
  readonly hook?: { file: string; statements: readonly (readonly [string, string])[]; name?: string };
  /** Code, by how it begins and ends, or declarations that leave for a module. */
  readonly module?: {
    file: string;
    code?: readonly [string, string];
    names?: readonly string[];
    name?: string;
    to?: string;
  };
  /** The file whose components come together, or apart. */
  readonly join?: string;
  /** That a bundler builds it. */
  readonly build?: boolean;
  readonly part?: string;
  /** A page that mounts an application: it shows what the joined root shows. */
  readonly app?: { page: string; root: string; components: Record<string, string> };
  /** What the server renderer of the framework is asked to render on both sides. */
  readonly render?: RenderCase | readonly RenderCase[];
  /** Pages that became components: both show the same. Of a site: those that are built on both sides (test/astro.test.ts). */
  readonly pages?: Record<string, string> | readonly string[];
  /** Code of the expected refusal; then there is no `after`. */
  readonly refusal?: string;
}

for (const language of readdirSync(FIXTURES)) {
  describe(`fixtures: ${language}`, () => {
    for (const name of readdirSync(joined(FIXTURES, language))) {
      it(name, async () => run(joined(FIXTURES, language, name)), 60_000);
    }
  });
}

async function run(folder: string): Promise<void> {
  const spec = JSON.parse(readFileSync(joined(folder, 'case.json'), 'utf8')) as Case;
  const root = joined(folder, 'before');
  const files = new MemoryFiles(filesBelow(root));
  const project = new Project(files, nodePorts());
  const sources = project.sources();
  const file = spec.extract?.file ?? spec.dissolve?.file ?? spec.apart?.file ?? spec.function?.file ?? sources[0]!;
  const types = /\.(?:tsx?|vue|astro)$/.test(file) ? new ProjectTypes(root, files, file) : undefined;
  const before = types?.errors(sources) ?? [];

  const result = perform(project, spec, types);
  if (spec.refusal !== undefined) {
    expect(isProblem(result) && result.code).toBe(spec.refusal);
    expect(isProblem(result) && result.instead.length).toBeGreaterThan(0);
    return;
  }
  if (isProblem(result)) throw new Error(`refused: ${result.code} ${result.message}`);

  const after = applied(files, result);
  const changed = new Map(result.files.map((f) => [f.path, f.text ?? '(deleted)\n']));
  const notes = result.notes.map((note) => `${note}\n`).join('');
  compareWithExpected(joined(folder, 'after'), changed, notes);
  for (const { path, text } of result.files)
    if (text !== undefined) expect(text, `${path} as its formatter writes it`).toBe(await formatted(root, path, text));

  expect(result.proof.answer === 'same' ? '' : result.proof.detail).toBe('');
  if (spec.extract && (!spec.pages || Array.isArray(spec.pages)))
    expect(result.proof).toMatchObject({ expanded: [result.name] });
  if (types) {
    const typed = result.files.filter((f) => f.change !== 'delete').map((f) => f.path);
    types.use(after, typed);
    expect(newErrors(before, types.errors(typed))).toEqual([]);
    types.dispose();
  }
  expect(compileErrors(after, [...changed.keys()])).toEqual([]);
  if (spec.part !== undefined) {
    // And back again: what was taken apart comes together as it was.
    const again = join(new Project(after, nodePorts()), spec.part);
    if (isProblem(again)) throw new Error(again.message);
    expect(again.proof.answer).toBe('same');
    expect(inOrder(textOf(applied(after, again), spec.part)!)).toBe(inOrder(textOf(files, spec.part)!));
    return;
  }
  if (spec.app) {
    const html = await renderVue(after, spec.app.root, {}, spec.app.components);
    expect(html).toBe(await renderPage(textOf(files, spec.app.page)!));
    return;
  }
  if (Array.isArray(spec.pages)) return;
  for (const [page, file] of Object.entries(spec.pages ?? {})) {
    const name = basename(file).replace(/\..*/, '');
    const html = await render(after, { file, export: name, props: {} });
    expect(fragmentOutline(html)).toBe(bodyOutline(textOf(files, page)!));
  }
  if (!spec.render && !spec.pages) throw new Error('a fixture that succeeds says what to render');
  for (const page of [spec.render ?? []].flat()) {
    const html = await render(files, page);
    expect(html.length).toBeGreaterThan(10);
    expect(inOrder(await render(after, page))).toBe(inOrder(html));
  }
}

/** A script whose components have templates in strings is Vue's as well. */
function isVueFile(files: FileSet, path: string): boolean {
  return path.endsWith('.vue') || /template:|from '.*\.vue'/.test(textOf(files, path) ?? '');
}

/** The text as the project's formatter writes it; as it stands where there is none. */
async function formatted(root: string, path: string, text: string): Promise<string> {
  const config = joined(root, '.prettierrc');
  if (!existsSync(config)) return text;
  return prettier.format(text, { ...(await prettier.resolveConfig(config, { config })), filepath: path });
}

function render(files: FileSet, page: RenderCase): Promise<string> {
  return isVueFile(files, page.file) ? renderVue(files, page.file, page.props) : renderHtml(files, page);
}

function perform(project: Project, spec: Case, types: TypeOracle | undefined) {
  if (spec.join !== undefined) return join(project, spec.join, spec.build ? { build: true } : {});
  if (spec.part !== undefined) return part(project, spec.part);
  if (spec.home) {
    const { states: names, ...asked } = spec.home;
    return home(project, { ...asked, names, ...(types ? { types } : {}) });
  }
  if (spec.dissolve) {
    const { file: path, ...asked } = spec.dissolve;
    return dissolve(project, { path, ...asked, ...(types ? { types } : {}) });
  }
  if (spec.apart) {
    const { file: path, ...asked } = spec.apart;
    return apart(project, { path, ...asked, ...(types ? { types } : {}) });
  }
  if (spec.forms) {
    const uses = (at: Project, path: string) => {
      (types as ProjectTypes).use(at.files, [path]);
      return types;
    };
    return forms(project, { ...spec.forms, ...(types ? { types: uses } : {}) });
  }
  if (spec.inputs) return inputs(project, spec.inputs);
  if (spec.through) return through(project, spec.through);
  if (spec.function) return toFunction(project, { path: spec.function.file, component: spec.function.component });
  if (spec.inline) return putBack(project, spec.inline);
  if (spec.hook) return takeOut(project, spec.hook, types);
  if (spec.module) return toModule(project, spec.module, types);
  return spec.extract ? cut(project, spec.extract, types) : merge(project, spec, types);
}

function cut(project: Project, spec: NonNullable<Case['extract']>, types: TypeOracle | undefined) {
  const { file, from, to, seam, target, ...options } = spec;
  const text = textOf(project.files, file)!;
  const range = between(text, from, to);
  const asked = { ...(seam ? { seam: withPieces(seam, text) } : {}), ...(target === undefined ? {} : { to: target }) };
  return extract(project, { path: file, range, ...options, ...asked, ...(types ? { types } : {}) });
}

function between(text: string, from: string, to: string): { start: number; end: number } {
  const start = text.indexOf(from);
  const end = text.indexOf(to, start) + to.length;
  expect(start, `"${from}" stands in the file`).toBeGreaterThanOrEqual(0);
  expect(end, `"${to}" stands in the file`).toBeGreaterThan(start);
  return { start, end };
}

function takeOut(project: Project, spec: NonNullable<Case['hook']>, types: TypeOracle | undefined) {
  const { file, statements, ...options } = spec;
  const text = textOf(project.files, file)!;
  const spans = statements.map(([from, to]) => {
    const start = text.indexOf(from);
    expect(start, `"${from}" is in ${file}`).toBeGreaterThanOrEqual(0);
    return { start, end: text.indexOf(to, start) + to.length };
  });
  return hook(project, { path: file, statements: spans, ...options, ...(types ? { types } : {}) });
}

function toModule(project: Project, spec: NonNullable<Case['module']>, types: TypeOracle | undefined) {
  const { file, code, names, ...options } = spec;
  const wanted = names ? { names } : { span: between(textOf(project.files, file)!, code![0], code![1]) };
  return module(project, { path: file, wanted, ...options, ...(types ? { types } : {}) });
}

function putBack(project: Project, { component, at }: NonNullable<Case['inline']>) {
  if (!at) return inline(project, { component });
  const start = textOf(project.files, at.path)!.indexOf(at.text);
  expect(start, `"${at.text}" is in ${at.path}`).toBeGreaterThanOrEqual(0);
  return inline(project, { component, at: { path: at.path, range: { start, end: start + at.text.length } } });
}

function merge(project: Project, spec: Case, types: TypeOracle | undefined): ReturnType<typeof unify> | Problem {
  const { kind, seam, ...options } = spec.unify!;
  const repeats = findRepeats(project, { kinds: [kind] });
  expect(repeats.groups.length, `a ${kind} repeat is found`).toBeGreaterThan(0);
  return unify(project, {
    repeats,
    repeat: repeats.groups.find((g) => g.step)!,
    ...options,
    ...(seam ? { seam: withPieces(seam, textOf(project.files, seam.file ?? '') ?? '') } : {}),
    ...(types ? { types } : {}),
  });
}

function withPieces<S extends { slots?: Record<string, readonly [string, string]> }>(seam: S, text: string) {
  const pieces = Object.entries(seam.slots ?? {}).map(([name, ends]) => [name, between(text, ...ends)] as const);
  return { ...seam, slots: Object.fromEntries(pieces) };
}

/** Every changed file and the notes, exactly; nothing missing, nothing left over. */
function compareWithExpected(folder: string, changed: ReadonlyMap<string, string>, notes: string): void {
  const actual = new Map([...changed, ...(notes ? [['notes.txt', notes] as const] : [])]);
  if (update) {
    rmSync(folder, { recursive: true, force: true });
    for (const [path, text] of actual) {
      mkdirSync(dirname(joined(folder, path)), { recursive: true });
      writeFileSync(joined(folder, path), text);
    }
    return;
  }
  expect(existsSync(folder), 'expected output exists; UPDATE=1 writes it').toBe(true);
  expect(Object.fromEntries([...actual].sort())).toEqual(Object.fromEntries([...filesBelow(folder)].sort()));
}
