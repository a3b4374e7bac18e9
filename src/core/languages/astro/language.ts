/** Astro: a fence with TypeScript, markup as tags with code in braces, scoped styles, scripts that stay. */
import { componentNameFromFile } from '../../files/paths.js';
import type { Language } from '../../language/language.js';
import type { Ports, SourceFile } from '../../language/ports.js';
import type { ProofModule } from '../../language/proof-module.js';
import type { Markup, ModuleModel } from '../../markup/model.js';
import { childLists, walkMarkup } from '../../markup/walk.js';
import { isProblem, problem, type Problem } from '../../problems/problems.js';
import { ScriptScopes } from '../../script/scopes.js';
import type { Span } from '../../text/edits.js';
import { lineEndOf } from '../../text/layout.js';
import { cut } from '../jsx/cut/cut.js';
import { findComponents } from '../jsx/candidates.js';
import { JsxMarkup } from '../jsx/markup.js';
import { readJsxModule } from '../jsx/read.js';
import { unify } from '../jsx/unify/unify.js';
import { spansPassed } from '../jsx/unify/values.js';
import { fileFor } from '../naming.js';
import { rebasedSheet, type MovedStyles } from '../style-rules.js';
import { about } from './about.js';
import { contentPassed } from './content.js';
import { dialect } from './dialect.js';
import { refusedCut, refusedUnify } from './refused.js';
import { stylesOf } from './styles.js';
import { OWN, parseUnit, type Unit } from './unit.js';
import { typedText } from './typed.js';
import { newFile } from './write.js';

export const astro: Language = {
  ...about,
  lacks: {
    dissolve: 'the fence has no markup',
    apart: 'a component runs once; nothing in it is kept',
    function: 'a component is no class',
    forms: 'not yet: written by hand',
    through: 'not yet: written by hand',
    inputs: 'not yet: written by hand',
    list: 'not yet: the row of a list is cut, the list is written by hand',
    logic: 'not yet: what the fence repeats is moved to a module by hand',
    hook: 'a component runs once; nothing in it is kept',
    module: 'not yet: moved to a module by hand',
    home: 'a component runs once; nothing in it is kept',
    raise: 'a component runs once; nothing in it is kept',
    inline: 'not yet: put back by hand',
    join: 'a component stands in one file already',
    page: 'a page is a component already',
  },

  readsChildren: () => false,

  read(file, ports) {
    const unit = parseUnit(file, ports);
    return isProblem(unit) ? unit : readUnit(unit, file.path, file.text);
  },

  lists(file, ports) {
    const unit = parseUnit(file, ports);
    if (isProblem(unit)) return unit;
    const roots = shownBy(unit, file.text);
    const lists: (readonly Markup[])[] = [roots];
    walkMarkup(roots, (node) => {
      for (const list of childLists(node)) lists.push(...(node.kind === 'expression' ? list.map((m) => [m]) : [list]));
    });
    return lists.filter((list) => list.length > 0);
  },

  names(file, ports) {
    const unit = parseUnit(file, ports);
    if (isProblem(unit)) return new Set();
    const scopes = ScriptScopes.of(unit.script);
    const names = new Set(['Astro', 'Props']);
    for (const { identifier } of scopes.references) if (identifier.type === 'Identifier') names.add(identifier.name);
    for (const variable of scopes.moduleScope.variables) names.add(variable.name);
    return names;
  },

  fileFor(project, hostPath, name, logicExtension) {
    // Every file below `pages` is a page of the site.
    const beside = fileFor(project, hostPath, name, logicExtension);
    const path = beside.replace(/^((?:.*\/)?src\/)pages\/(?:[^/]+\/)*(?=[^/]+\.astro$)/, '$1components/');
    // What stands around pages has a folder of its own, beside that of the parts.
    return /Layout$/.test(name) ? path.replace(/(^|\/)components\/(?=[^/]*$)/, '$1layouts/') : path;
  },

  cut(request) {
    const refused = refusedCut(request);
    if (refused) return refused;
    const { file, ports, region, target } = request;
    const styles = goingFrom(file, [region], [], ports, target);
    if (isProblem(styles)) return styles;
    const cutting = cut(request, { dialect, newFile });
    if (isProblem(cutting)) return cutting;
    return {
      ...cutting,
      edits: [...cutting.edits, ...styles.edits],
      files: withBlocks(cutting.files, target!, styles.blocks, lineEndOf(file.text)),
      notes: [...cutting.notes, ...styles.notes],
    };
  },

  unify(request) {
    const refused = refusedUnify(request);
    if (refused) return refused;
    const made = unify(request, { dialect, newFile });
    if (isProblem(made)) return made;
    const { places, ports, target, reference, existing } = request;
    const edits = new Map(made.edits);
    const own = places[reference]!.file.path;
    const going = new Map<string, MovedStyles>();
    for (const { file } of places) {
      if (going.has(file.path)) continue;
      const here = [...places.keys()].filter((p) => places[p]!.file.path === file.path);
      const regions = here.map((p) => places[p]!.span);
      const kept = here.flatMap((p) => request.inputs.flatMap(({ values }) => spansPassed(values[p])));
      const styles = goingFrom(file, regions, kept, ports, target);
      if (isProblem(styles)) return styles;
      going.set(file.path, styles);
      if (styles.edits.length > 0) edits.set(file.path, [...(edits.get(file.path) ?? []), ...styles.edits]);
    }
    const blocks = going.get(own)!.blocks;
    const other = places.find(({ file }) => going.get(file.path)!.blocks.join() !== blocks.join());
    if (other || (existing && blocks.length > 0)) {
      const { file, span } = other ?? places[reference]!;
      return problem('unify-styles', { path: file.path, span });
    }
    const files =
      target === undefined
        ? made.files
        : withBlocks(made.files, target, blocks, lineEndOf(places[reference]!.file.text));
    const notes = [...going.values()].flatMap((styles) => styles.notes);
    return { ...made, edits, files, notes: [...made.notes, ...new Set(notes)] };
  },

  typed(file, ports) {
    const unit = parseUnit(file, ports);
    return isProblem(unit) ? undefined : typedText(unit, file.text);
  },

  prove(file, ports) {
    const unit = parseUnit(file, ports);
    if (isProblem(unit)) return unit;
    const script = { ...unit.script, program: contentPassed(unit.script.program) };
    const module: ProofModule = {
      path: file.path,
      text: file.text,
      script,
      scopes: ScriptScopes.of(script),
      renderedText: (raw) => dialect.rendered(raw).text,
      ownName: (name) => name.startsWith('Astro.') && OWN.test(name.slice('Astro.'.length)),
    };
    return module;
  },
};

function goingFrom(
  file: SourceFile,
  regions: readonly Span[],
  kept: readonly Span[],
  ports: Ports,
  target = file.path,
): MovedStyles | Problem {
  const unit = parseUnit(file, ports);
  if (isProblem(unit)) return unit;
  const styles = stylesOf(file, shownBy(unit, file.text), unit.raw, regions, kept, ports, lineEndOf(file.text));
  if (isProblem(styles)) return styles;
  return { ...styles, blocks: styles.blocks.map((block) => rebasedSheet(block, file.path, target)) };
}

function withBlocks(
  files: ReadonlyMap<string, string>,
  target: string,
  blocks: readonly string[],
  lineEnd: string,
): ReadonlyMap<string, string> {
  const text = files.get(target);
  if (text === undefined || blocks.length === 0) return files;
  return new Map(files).set(target, [text.trimEnd(), ...blocks].join(lineEnd + lineEnd) + lineEnd);
}

/** The body as the model has it: styles and scripts of the component are kept whole. */
function shownBy(unit: Unit, text: string): readonly Markup[] {
  const { holdsJsx } = findComponents(unit.script.program);
  const [root] = new JsxMarkup(text, holdsJsx, new Set(), dialect).parts(unit.script.program);
  return root?.kind === 'fragment' ? root.children : [];
}

function readUnit(unit: Unit, path: string, text: string): ModuleModel {
  const model = readJsxModule(text, unit.script, path, dialect);
  const name = componentNameFromFile(path);
  const markup = shownBy(unit, text);
  const made = model.components.find((c) => c.name === `Component:${name}`);
  const component = made ?? {
    kind: 'function' as const,
    props: [],
    openProps: false,
    bindings: [],
    deeds: [],
  };
  return {
    ...model,
    components: [
      { ...component, name, exported: 'default', start: 0, end: text.length, markup },
      ...model.components.filter((c) => c !== made),
    ],
    scripts: [unit.code],
    exports: [{ name: 'default', local: name }, ...model.exports.filter((e) => e.name !== 'default')],
  };
}
