/** Regions of generated React components. */
import { cutsEveryRegion } from '../support/every-region.js';
import { jsx } from '../support/kinds.js';

cutsEveryRegion(jsx);
