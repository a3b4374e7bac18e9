/** What is known of the language before it is loaded. */
import type { LanguageAbout } from '../../language/language.js';

export const about: LanguageAbout = {
  id: 'jsx',
  label: 'JSX and TSX',
  extensions: ['.tsx', '.jsx', '.ts', '.js', '.mts', '.mjs', '.cts', '.cjs'],
};
