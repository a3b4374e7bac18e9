/** Tests look at every language, a made-up one among them; each file of tests has a registry of its own. */
import { loadLanguages } from '../../src/core/index.js';
import './made-up.js';

await loadLanguages();
