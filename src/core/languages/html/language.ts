/** Plain HTML pages. HTML has no components of its own: what a page shows can become one of another language (page.ts). */
import { about } from './about.js';
import type { Attribute, Markup, ModuleModel } from '../../markup/model.js';
import { componentNameFromFile } from '../../files/paths.js';
import { childLists, together, walkMarkup } from '../../markup/walk.js';
import { isScriptError } from '../../script/parser.js';
import type { Language } from '../../language/language.js';
import type { Ports } from '../../language/ports.js';
import { readModuleTables } from '../modules.js';
import { fileFor } from '../naming.js';
import { attributeIn, unquoted } from '../../plain/decode.js';
import { findElement, isStaying, readPage } from './page.js';
import { contentOf, elementsOf, scan, type AttributePiece, type ElementPiece, type Piece } from '../../plain/scan.js';

export const html: Language = {
  ...about,
  lacks: {
    cut: 'a page has no components; `--into` says what its regions become',
    dissolve: 'a page has no functions that give markup back',
    function: 'a page has no components; `--into` says what its regions become',
    forms: 'a page has no components',
    through: 'a page has no components',
    inputs: 'a page has no components',
    apart: 'a page has no components; `--into` says what its regions become',
    unify: 'a page has no components; `--into` says what its repeats become',
    list: 'a page has no components',
    frame: 'a page has no components; `--into` says what its frame becomes',
    logic: 'scripts of a page are read and left as they are',
    hook: 'a page has no components',
    module: 'scripts of a page are read and left as they are',
    home: 'a page has no components',
    raise: 'a page has no components',
    inline: 'a page has no components',
    join: 'what stands in a page for Vue is joined by `join`',
    styles: 'rules of a page hold for all of it',
    types: 'a page has none',
    render: 'a page is looked at as a browser shows it: `check --level browser`',
  },
  readsChildren: () => false,
  read: ({ path, text }, ports) => readModule(path, text, ports),
  lists({ text }) {
    const roots = pageOf(scan(text), text);
    const lists: (readonly Markup[])[] = [roots];
    walkMarkup(roots, (node) => void lists.push(...childLists(node)));
    return lists.filter((list) => list.length > 0);
  },
  names: () => new Set(),
  fileFor,
  page: readPage,
};

/** A page with fewer elements is there to start an application. */
const LEAST_ELEMENTS = 4;

function readModule(path: string, text: string, ports: Ports): ModuleModel {
  const pieces = scan(text);
  const markup = pageOf(pieces, text);
  let elements = 0;
  walkMarkup(markup, (node) => {
    if (node.kind === 'element' && !/^(?:script|noscript|link|style)$/i.test(node.name)) elements++;
  });
  const page = {
    kind: 'page' as const,
    name: componentNameFromFile(path),
    exported: 'none' as const,
    start: 0,
    end: text.length,
    props: [],
    openProps: false,
    bindings: [],
    deeds: [],
    markup: together(markup),
  };
  return {
    components: elements < LEAST_ELEMENTS ? [] : [page],
    ...startOf(pieces, text, ports),
    exports: [],
    mounts: [],
    scripts: [],
  };
}

/** What the modules that stand inside of a page import and mount. */
function startOf(
  pieces: readonly Piece[],
  text: string,
  ports: Ports,
): Pick<ModuleModel, 'imports' | 'loads' | 'registers' | 'started'> {
  const isModule = (e: ElementPiece) =>
    e.name.toLowerCase() === 'script' && attributeIn(e, 'type', text)?.toLowerCase() === 'module';
  const tables = elementsOf(pieces)
    .filter(isModule)
    .flatMap((element) => {
      const { start, end } = contentOf(element);
      const code = text.slice(start, end);
      const script = code.trim() ? ports.script.parse(code, 'js') : undefined;
      return script && !isScriptError(script) ? [readModuleTables(script.program, code)] : [];
    });
  return {
    imports: tables.flatMap((t) => t.imports),
    loads: tables.flatMap((t) => t.loads),
    registers: tables.flatMap((t) => t.registers),
    started: tables.flatMap((t) => t.started),
  };
}

/** What a page shows: the content of its body but for its scripts and styles, or all of it where it is a part of a page. */
function pageOf(pieces: readonly Piece[], text: string): Markup[] {
  const body = findElement(pieces, 'body');
  return markupOf(body ? body.children.filter((piece) => !isStaying(piece)) : pieces, text);
}

function markupOf(pieces: readonly Piece[], text: string): Markup[] {
  return pieces.flatMap((piece): Markup[] => {
    const { start, end } = piece;
    const source = text.slice(start, end);
    switch (piece.kind) {
      case 'text': {
        const shown = source.replace(/\s+/g, ' ');
        if (!shown.trim()) return [];
        const lead = source.length - source.trimStart().length;
        return [
          {
            kind: 'text',
            start: start + lead,
            end: end - (source.length - source.trimEnd().length),
            text: shown.trim(),
          },
        ];
      }
      case 'comment':
        return [{ kind: 'comment', start, end, text: source.replace(/^<!--|-->$/g, '').trim() }];
      case 'foreign':
        return [
          { kind: 'opaque', start, end, reason: `\`${source.length > 40 ? `${source.slice(0, 39)}…` : source}\`` },
        ];
      case 'element': {
        const name = /[A-Z]/.test(piece.name) && !/[a-z]/.test(piece.name) ? piece.name.toLowerCase() : piece.name;
        const attributes = piece.attributes.map((a) => attributeOf(a, text));
        return [
          { kind: 'element', start, end, name, component: false, attributes, children: markupOf(piece.children, text) },
        ];
      }
      default:
        return [];
    }
  });
}

function attributeOf({ name, value, start, end }: AttributePiece, text: string): Attribute {
  if (!value) return { kind: 'static', start, end, name, parts: [] };
  return { kind: 'static', start, end, name, text: unquoted(value, text), quoted: value, parts: [] };
}
