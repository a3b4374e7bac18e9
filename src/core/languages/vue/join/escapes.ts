/** How a page writes Vue's `{{ }}` past the server template around it, and what is left of that in a file of its own. */
import { literally } from '../../../text/pattern.js';

export interface Unescaped {
  readonly text: string;
  /** What the server writes into the template: it has no meaning in a file. */
  readonly server: string | undefined;
}

const RAW =
  /\{%-?\s*(?:raw|verbatim)\s*-?%\}([\s\S]*?)\{%-?\s*end(?:raw|verbatim)\s*-?%\}|@verbatim\b([\s\S]*?)@endverbatim\b/g;
const SERVER = /<\?(?:php|=)[\s\S]*?\?>|<%[\s\S]*?%>|\{%[\s\S]*?%\}|\{!![\s\S]*?!!\}/;
/** Stand for Vue's braces while the server's are looked for. */
const [OPEN, CLOSE] = ['\u{e000}', '\u{e001}'];

/** `delimiters`: what the component was told to look for instead of `{{` and `}}`. */
export function unescaped(template: string, delimiters: readonly [string, string] | undefined): Unescaped {
  const marked = (text: string) => text.replaceAll('{{', OPEN).replaceAll('}}', CLOSE);
  let text = template
    .replace(RAW, (_, one?: string, other?: string) => marked(one ?? other ?? ''))
    // {{ '{{' }} name {{ '}}' }}, in any quotes; @{{ name }} and \{{ name }}
    .replace(/\{\{\s*(['"`])\{\{\1\s*\}\}/g, OPEN)
    .replace(/\{\{\s*(['"`])\}\}\1\s*\}\}/g, CLOSE)
    .replace(/[@\\]\{\{([\s\S]*?)\}\}/g, (_, inner: string) => OPEN + inner + CLOSE);
  if (delimiters) {
    const [open, close] = delimiters.map((d) => literally(d)) as [string, string];
    text = text.replace(new RegExp(`${open}([\\s\\S]*?)${close}`, 'g'), (_, inner: string) => OPEN + inner + CLOSE);
  }
  // Where some braces are escaped, those that are not are the server's.
  const plain = text.includes(OPEN) || delimiters ? /\{\{[\s\S]*?\}\}/.exec(text)?.[0] : undefined;
  const server = plain ?? SERVER.exec(text)?.[0];
  return { text: text.replaceAll(OPEN, '{{').replaceAll(CLOSE, '}}'), server };
}
