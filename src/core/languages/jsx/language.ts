/** The JSX family: JSX and TSX, React and React Native alike. */
import { about } from './about.js';
import { extname } from '../../files/paths.js';
import type { Language } from '../../language/language.js';
import { isProblem } from '../../problems/problems.js';
import { ScriptScopes } from '../../script/scopes.js';
import { walkMarkup, childLists } from '../../markup/walk.js';
import type { Markup } from '../../markup/model.js';
import { carries } from './carries.js';
import { cut } from './cut/cut.js';
import { fixes } from './fixes.js';
import { forms } from './forms.js';
import { otherFramework } from './framework.js';
import { dissolving } from './helpers/dissolve.js';
import { homes } from './home/homes.js';
import { hooks } from './hooks.js';
import { inlining } from './inline/inline.js';
import { unify } from './unify/unify.js';
import { settle } from './settle.js';
import { JsxMarkup } from './markup.js';
import { hypertext } from './hypertext.js';
import { findComponents } from './candidates.js';
import { readJsxModule } from './read.js';
import { pragmaOf } from '../head.js';
import { readsItsChildren } from './parents.js';
import { parseFile } from './source.js';
import { renderedText } from './text.js';
import { functions } from './to-function/index.js';
import { jsxToModule } from './to-module.js';
import { fileFor } from '../naming.js';

export const jsx: Language = {
  ...about,
  lacks: {
    join: 'a component stands in one file already',
    page: 'a component is no page',
    styles: 'rules belong to no component; `<style jsx>` is refused',
  },

  readsChildren: readsItsChildren,

  read(file, ports) {
    const script = parseFile(file, ports);
    return isProblem(script) ? script : readJsxModule(file.text, script, file.path);
  },

  lists(file, ports) {
    const script = parseFile(file, ports);
    if (isProblem(script)) return script;
    const { holdsJsx } = findComponents(script.program);
    const roots = new JsxMarkup(file.text, holdsJsx).parts(script.program);
    const lists: (readonly Markup[])[] = roots.map((root) => [root]);
    walkMarkup(
      roots,
      (node) =>
        void lists.push(
          ...childLists(node)
            .map((list) => (node.kind === 'expression' ? list.map((m) => [m]) : [list]))
            .flat(),
        ),
    );
    return lists.filter((list) => list.length > 0);
  },

  names(file, ports) {
    const script = parseFile(file, ports);
    if (isProblem(script)) return new Set();
    const scopes = ScriptScopes.of(script);
    const names = new Set<string>();
    for (const reference of scopes.references) names.add(String((reference.identifier as { name?: unknown }).name));
    for (const variable of scopes.moduleScope.variables) names.add(variable.name);
    return names;
  },

  fileFor,

  cut: (request) => otherFramework(request.file, request.project.files) ?? cut(request),
  unify: (request) =>
    (request.kind === 'markup' ? otherFramework(request.places[0]!.file, request.project.files) : undefined) ??
    unify(request),
  settle,
  refsAreValues: true,
  opensRecords: true,
  logic: { extension: ({ path }) => extname(path).replace(/x$/, ''), unifies: ({ hangs }) => !hangs },
  hooks,
  functions,
  forms,
  toModule: jsxToModule,
  inlining: {
    ...inlining,
    inline: (request) => otherFramework(request.file, request.project.files) ?? inlining.inline(request),
  },
  dissolving,
  homes,
  carries,
  fixes,
  hypertext,

  prove(file, ports) {
    const script = parseFile(file, ports);
    if (isProblem(script)) return script;
    return {
      path: file.path,
      text: file.text,
      script,
      scopes: ScriptScopes.of(script),
      renderedText: (raw) => renderedText(raw).text,
      pragma: pragmaOf(script, file.text),
      readsChildren: (tag) => readsItsChildren(tag) || ports.readsChildren?.has(tag) || undefined,
    };
  },
};
