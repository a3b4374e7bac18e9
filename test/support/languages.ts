/** Tests look at every language; each file of tests has a registry of its own. */
import { loadLanguages } from '../../src/core/index.js';

await loadLanguages();
