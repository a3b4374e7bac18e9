/** Regions of generated Vue components. */
import { cutsEveryRegion } from '../support/every-region.js';
import { vue } from '../support/kinds.js';

cutsEveryRegion(vue);
