/**
 * How deeply a script is nested, counted before a native parser sees it: that one ends the process where a text is nested
 * beyond its stack (some ten thousand levels), and no message could be given.
 */

/** Far beyond what anybody writes, and far below what a parser bears. */
const MOST = 3_000;

/** Strings, comments and regular expressions, as far as they can be told without parsing. */
const SILENT =
  /\/\/[^\n]*|\/\*[\s\S]*?\*\/|"(?:\\.|[^"\\\n])*"|'(?:\\.|[^'\\\n])*'|\/(?![*/])(?:\\.|\[(?:\\.|[^\]\\\n])*\]|[^/\\\n[])+\/(?=[gimsuyvd]*\s*[,;.)\]}\n])/g;

export function isTooDeep(text: string): boolean {
  // What is short enough cannot hold as many levels.
  if (text.length <= MOST) return false;
  return deepestOf(text) > MOST || deepestOf(text.replace(SILENT, '""')) > MOST;
}

/** The most brackets, tags and chained operators that stand open at one place. */
function deepestOf(text: string): number {
  let brackets = 0;
  let tags = 0;
  let chain = 0;
  let deepest = 0;
  for (let i = 0; i < text.length; i++) {
    switch (text.charCodeAt(i)) {
      case 40: // (
      case 91: // [
      case 123: // {
        brackets++;
        break;
      case 41: // )
      case 93: // ]
      case 125: // }
        if (brackets > 0) brackets--;
        break;
      case 60: // <
        if (text[i + 1] === '/') tags = Math.max(0, tags - 1);
        else if (/[A-Za-z>]/.test(text[i + 1] ?? '')) tags++;
        break;
      case 62: // >
        if (text[i - 1] === '/') tags = Math.max(0, tags - 1);
        else if (text[i - 1] === '=') chain++;
        break;
      case 61: // =
        if (text[i + 1] !== '=' && text[i - 1] !== '=' && !isAttribute(text, i)) chain++;
        break;
      case 63: // ?
      case 33: // !
      case 126: // ~
        chain++;
        break;
      case 59: // ;
      case 44: // ,
        chain = 0;
        break;
      default:
    }
    const depth = Math.max(brackets, tags, chain);
    if (depth > deepest) deepest = depth;
  }
  return deepest;
}

/** Whether the `=` at `i` gives an attribute its value: a page of thousands of elements is long and not deep. */
const isAttribute = (text: string, i: number): boolean =>
  /["'{]/.test(text[i + 1] ?? '') && /[\w-]/.test(text[i - 1] ?? '');
