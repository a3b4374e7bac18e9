/** What every registered language keeps to, on the sources of its own fixtures: a new language is held by being registered. */
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import {
  applied,
  candidateRegions,
  childLists,
  extract,
  findRepeats,
  isProblem,
  languageOf,
  languages,
  MemoryFiles,
  Project,
  proveFiles,
  textOf,
  unify,
  unresolvedNames,
  walkMarkup,
  type Capability,
  type Language,
  type Markup,
} from '../src/core/index.js';
import { nodePorts } from '../src/node/index.js';
import { filesBelow } from './support/projects.js';

const FIXTURES = new URL('./fixtures', import.meta.url).pathname;

interface Sample {
  readonly name: string;
  readonly path: string;
  readonly files: ReadonlyMap<string, string>;
}

function samplesOf(language: Language): Sample[] {
  return readdirSync(join(FIXTURES, language.id)).flatMap((name) => {
    const files = new Map(filesBelow(join(FIXTURES, language.id, name, 'before')));
    const paths = [...files.keys()].filter((p) => languageOf(p) === language && files.get(p)!.includes('<'));
    return paths.map((path) => ({ name: `${name}/${path}`, path, files }));
  });
}

function projectOf({ files }: Sample, change: (text: string) => string = (text) => text): Project {
  return new Project(new MemoryFiles(new Map([...files].map(([path, text]) => [path, change(text)]))), nodePorts());
}

function listsOf(project: Project, path: string): readonly (readonly Markup[])[] {
  const file = project.source(path);
  if (isProblem(file)) throw new Error(file.message);
  const lists = file.language.lists(file, project.ports);
  if (isProblem(lists)) throw new Error(lists.message);
  return lists;
}

/** Kinds and names, whatever the text is laid out like. */
function outline(nodes: readonly Markup[]): string {
  return nodes
    .map(
      (node) =>
        `${node.kind}${node.kind === 'element' ? ` ${node.name}` : ''}(${childLists(node).map(outline).join('|')})`,
    )
    .join();
}

describe.each([...languages()])('$label', (language) => {
  const samples = samplesOf(language);
  /** Steps that came to a change: refusing everything is no way to keep the contract. */
  const done = { cut: 0, unified: 0 };

  it('has samples', () => expect(samples.length).toBeGreaterThan(2));

  it.each(samples)('reads $name with places that are those of the text', (sample) => {
    const project = projectOf(sample);
    const text = textOf(project.files, sample.path)!;
    for (const list of listsOf(project, sample.path)) {
      for (const [i, node] of list.entries()) {
        expect(node.start).toBeGreaterThanOrEqual(i === 0 ? 0 : list[i - 1]!.end);
        expect(node.end).toBeLessThanOrEqual(text.length);
        expect(node.end).toBeGreaterThan(node.start);
      }
      // What stands between siblings and around them is the rest of the text: together they are the file, unit for unit.
      const pieces = list.flatMap((node, i) => [
        text.slice(i === 0 ? 0 : list[i - 1]!.end, node.start),
        text.slice(node.start, node.end),
      ]);
      expect(pieces.join('') + text.slice(list.at(-1)?.end ?? 0)).toBe(text);
      walkMarkup(list, (node, above) => {
        if (node.kind === 'element' && node.name !== 'fragment') expect(text[node.start]).toBe('<');
        const parent = above.at(-1);
        if (parent)
          expect(node.start >= parent.start && node.end <= parent.end, `${parent.kind} holds ${node.kind}`).toBe(true);
      });
    }
  });

  it.each(samples)('reads $name the same with CRLF, with a BOM, and after letters beyond ASCII', (sample) => {
    const expected = listsOf(projectOf(sample), sample.path).map(outline);
    const crlf = projectOf(sample, (text) => text.replaceAll('\n', '\r\n'));
    expect(listsOf(crlf, sample.path).map(outline)).toEqual(expected);
    const marked = projectOf(sample, (text) => `\u{feff}${text}`);
    expect(listsOf(marked, sample.path).map(outline)).toEqual(expected);
    const wide = projectOf(sample, (text) => text.replace(/(<\w+>)(?=[A-Z][a-z ]+<\/)/g, '$1🐝 '));
    expect(listsOf(wide, sample.path).map(outline)).toEqual(expected);
  });

  it.each(samples)('knows the names of $name', (sample) => {
    const project = projectOf(sample);
    const file = project.source(sample.path);
    const model = project.model(sample.path);
    if (isProblem(file) || isProblem(model)) throw new Error('not read');
    const names = language.names(file, project.ports);
    for (const { local } of model.imports) expect(names).toContain(local);
  });

  it.each(samples)('cuts the regions of $name, or says why not', (sample) => {
    for (const nl of ['\n', '\r\n']) {
      const project = projectOf(sample, (text) => text.replaceAll('\n', nl));
      const regions = candidateRegions(
        textOf(project.files, sample.path)!,
        listsOf(project, sample.path).flat(),
        2,
      ).slice(0, 4);
      for (const region of regions) {
        const result = extract(project, { path: sample.path, range: region });
        if (isProblem(result)) {
          expect(result.instead.length, result.message).toBeGreaterThan(0);
          if (!language.cut) expect(result.message).toContain(language.label);
          continue;
        }
        done.cut++;
        expect(result.proof.answer === 'same' ? '' : result.proof.detail).toBe('');
        const { props, events, slots } = result.seam;
        const after = new Project(applied(project.files, result), project.ports);
        const changed = result.files.map((f) => f.path);
        expect(unresolvedNames(project, after, changed)).toEqual([]);
        const use = textOf(after.files, sample.path)!;
        for (const { name } of [...props, ...events, ...slots]) expect(name).toMatch(/^[A-Za-z_$][\w$:.-]*$/);
        expect(use).toContain('<');
        if (nl === '\r\n') for (const f of result.files) expect(f.text, f.path).not.toMatch(/(?<!\r)\n/);
      }
    }
  });

  it('proves a file to be what it is, or says that it cannot', () => {
    for (const sample of samples) {
      const project = projectOf(sample);
      const proof = proveFiles(project, projectOf(sample), [sample.path]);
      if (language.prove) expect(proof.answer === 'same' ? '' : `${sample.name}: ${proof.detail}`).toBe('');
      else
        expect(proof).toMatchObject({ answer: 'unknown', detail: expect.stringContaining(language.label) as string });
    }
  });

  it('makes repeats one, or says in words that it does not', () => {
    for (const sample of samples) {
      const project = projectOf(sample);
      const repeats = findRepeats(project, { minWorth: -Infinity });
      for (const repeat of repeats.groups.slice(0, 1)) {
        const result = unify(project, { repeats, repeat });
        if (isProblem(result)) expect(result.instead.length).toBeGreaterThan(0);
        else {
          done.unified++;
          expect(result.proof.answer === 'same' ? '' : `${sample.name}: ${result.proof.detail}`).toBe('');
        }
        if (!language.unify) expect(isProblem(result) && result.message).toContain(language.label);
      }
    }
  });

  it('says of everything that it cannot why, and of nothing else', () => {
    const {
      cut,
      dissolving,
      unify: makesOne,
      logic,
      hooks,
      functions,
      forms,
      homes,
      carries,
      fixes,
      inlining,
      joining,
      page,
    } = language;
    const can = {
      cut,
      dissolve: dissolving,
      unify: makesOne,
      frame: makesOne,
      logic,
      hook: hooks,
      function: functions,
      forms,
      home: homes,
      raise: homes?.up,
      through: carries,
      inputs: fixes,
      inline: inlining,
      join: joining,
      page,
    };
    for (const [name, capability] of Object.entries(can))
      expect(language.lacks[name as Capability] === undefined, name).toBe(capability !== undefined);
    for (const why of Object.values(language.lacks)) expect(why.length).toBeGreaterThan(10);
  });

  it('does what it says that it can', () => {
    expect(done.cut > samples.length / 2).toBe(language.cut !== undefined);
    expect(done.unified > 3).toBe(language.unify !== undefined);
  });
});
