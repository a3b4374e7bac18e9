/** What is known of the language before it is loaded. */
import type { LanguageAbout } from '../../language/language.js';

export const about: LanguageAbout = { id: 'astro', label: 'Astro', extensions: ['.astro'], needs: ['jsx'] };
