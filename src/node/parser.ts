/** The parser port of the core, filled with the native parser. */
import { parseSync } from 'oxc-parser';
import type { Program, ScriptParser } from '../core/script/parser.js';

export const oxcParser: ScriptParser = {
  parse(text, syntax) {
    const result = parseSync(`file.${syntax}`, text, {
      lang: syntax,
      astType: 'ts',
      range: true,
      preserveParens: false,
      sourceType: 'module',
    });
    const error = result.errors.find((entry) => entry.severity === 'Error');
    if (error) return { message: error.message, offset: error.labels[0]?.start ?? 0 };
    return {
      program: result.program as unknown as Program,
      comments: result.comments.map((comment) => ({
        start: comment.start,
        end: comment.end,
        block: comment.type === 'Block',
        value: comment.value,
      })),
    };
  },
};
