/** How an Astro file says what a module says in code. */
import type { Dialect } from '../jsx/dialect.js';
import { renderedText, type RenderedText } from '../jsx/text.js';
import { parseScript } from './unit.js';

/** The slot that an outlet is content of. */
const INTO = /(?<=^<slot[^>]*)\sslot=(?:"[^"]*"|'[^']*')/;

export const dialect: Dialect = {
  parse: parseScript,
  rendered: shownText,
  typed: () => true,
  own: 'slot',
  asFile: {
    firstImport(text, lineEnd) {
      const opened = /^\uFEFF?\s*---[ \t]*\r?\n/.exec(text)?.[0];
      if (opened === undefined)
        return {
          offset: text.startsWith('\uFEFF') ? 1 : 0,
          around: [`---${lineEnd}`, `${lineEnd}---${lineEnd}${lineEnd}`],
        };
      const isEmpty = /^\s*---/.test(text.slice(opened.length));
      return { offset: opened.length, around: ['', isEmpty ? lineEnd : lineEnd + lineEnd] };
    },
    outlet(name, tag) {
      const into = tag === undefined ? undefined : INTO.exec(tag)?.[0];
      return `<slot${name === 'children' ? '' : ` name="${name}"`}${into ?? ''} />`;
    },
    content(name, text) {
      const isOutlet = /^<slot(?=[\s/>])/.test(text);
      const bare = isOutlet ? text.replace(INTO, '') : text;
      if (name === 'children') return bare;
      return isOutlet ? bare.replace('<slot', `<slot slot="${name}"`) : `<Fragment slot="${name}">${text}</Fragment>`;
    },
  },
};

/** White space with a line break in it is layout, as in other tags in scripts; entities are left to the browser. */
function shownText(raw: string): RenderedText {
  const shown = renderedText(raw.replaceAll('&', '\uE000'));
  return { ...shown, text: shown.text.replaceAll('\uE000', '&') };
}
