/** The port to Vue's own template parser, loaded when the first Vue file is met. */
import { existsSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import type * as Compiler from '@vue/compiler-dom';
import type { ParsedTemplate, TemplateError, TemplateParser } from '../core/languages/vue/template.js';

type Parser = Pick<typeof Compiler, 'parse' | 'parserOptions'>;

let compiler: Parser | undefined;

/** The build holds the parser as a file of its own; where nothing was built it is that of the package. */
function loaded(): Parser {
  const require = createRequire(import.meta.url);
  const bundled = new URL('vue-parser.cjs', import.meta.url);
  return require(existsSync(bundled) ? fileURLToPath(bundled) : '@vue/compiler-dom') as Parser;
}

export const vueTemplates: TemplateParser = {
  parse(text, mode): ParsedTemplate {
    compiler ??= loaded();
    const errors: TemplateError[] = [];
    const parse = (source: string) =>
      compiler!.parse(source, {
        ...compiler!.parserOptions,
        parseMode: mode,
        comments: true,
        onError: (error) => errors.push({ message: error.message, offset: error.loc?.start.offset ?? 0 }),
      });
    try {
      return { root: parse(text), errors };
    } catch (error) {
      // It does not survive every text that no template would hold; that is an error of the text, as any other.
      if (error instanceof RangeError) throw error;
      errors.push({ message: `the template cannot be read (${(error as Error).message})`, offset: 0 });
      return { root: parse(''), errors };
    }
  },
};
