/** The parser port of the core, filled with the native parser. */
import { decodeHTMLStrict } from 'entities';
import { parseSync } from 'oxc-parser';
import { isTooDeep } from './depth.js';
import type { ParsedScript, Program, ScriptParser } from '../core/script/parser.js';
import { walk } from '../core/script/walk.js';

/** What may be an attribute with an entity in it. */
const ENTITY = /=\s*(?:"[^"]*&[#\w]+;|'[^']*&[#\w]+;)/;

/** Strings of JSX attributes know entities, as text between tags does; the parser leaves them as they are written. */
function decoded(program: Program, text: string): Program {
  if (ENTITY.test(text))
    walk(program, (node) => {
      const value = node.type === 'JSXAttribute' ? node.value : undefined;
      if (value?.type === 'Literal' && typeof value.value === 'string') value.value = decodeHTMLStrict(value.value);
    });
  return program;
}

export const oxcParser: ScriptParser = {
  parse(text, syntax) {
    // As a parser that is not native would end; see `withinDepth`.
    if (isTooDeep(text)) throw new RangeError('Maximum call stack size exceeded: nested too deeply');
    const result = parseSync(`file.${syntax}`, text, {
      lang: syntax,
      astType: 'ts',
      range: true,
      preserveParens: false,
      sourceType: 'module',
    });
    const error = result.errors.find((entry) => entry.severity === 'Error');
    if (error) return { message: error.message, offset: error.labels[0]?.start ?? 0 };
    // The tree comes over from the native side when it is first asked for.
    let comments: ParsedScript['comments'] | undefined;
    let program: Program | undefined;
    return {
      get program() {
        return (program ??= decoded(result.program as unknown as Program, text));
      },
      get comments() {
        comments ??= result.comments.map(({ start, end, type, value }) => ({
          start,
          end,
          block: type === 'Block',
          value,
        }));
        return comments;
      },
    };
  },
};
