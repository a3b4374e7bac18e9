/** The languages that come with the library: one folder and one line here for each. */
import { registerLanguage } from '../language/registry.js';
import { about as astro } from './astro/about.js';
import { about as html } from './html/about.js';
import { about as jsx } from './jsx/about.js';
import { about as vue } from './vue/about.js';

registerLanguage({ ...jsx, load: async () => (await import('./jsx/language.js')).jsx });
registerLanguage({ ...vue, load: async () => (await import('./vue/language.js')).vue });
registerLanguage({ ...html, load: async () => (await import('./html/language.js')).html });
registerLanguage({ ...astro, load: async () => (await import('./astro/language.js')).astro });
