/** Plain HTML pages. HTML has no components of its own, so it is read and not cut. */
import type { Attribute, Markup, ModuleModel } from '../../markup/model.js';
import { componentNameFromFile } from '../../files/paths.js';
import { childLists, together, walkMarkup } from '../../markup/walk.js';
import type { Language } from '../language.js';
import { fileFor } from '../naming.js';
import { unquoted } from '../plain/decode.js';
import { findElement, readPage } from './page.js';
import { scan, type AttributePiece, type Piece } from '../plain/scan.js';

export const html: Language = {
  id: 'html',
  label: 'HTML',
  extensions: ['.html', '.htm'],
  readsChildren: new Set(),
  read: ({ path, text }) => readModule(path, text),
  lists({ text }) {
    const roots = pageOf(text);
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

function readModule(path: string, text: string): ModuleModel {
  const markup = pageOf(text);
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
    imports: [],
    exports: [],
    loads: [],
    mounts: [],
    scripts: [],
  };
}

/** What a page shows: the content of its body, or all of it where it is a part of a page. */
function pageOf(text: string): Markup[] {
  const pieces = scan(text);
  const body = findElement(pieces, 'body');
  return markupOf(body ? body.children : pieces, text);
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
