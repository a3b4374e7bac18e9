/** Regions of generated Vue components; one of each, and every one where ALL_REGIONS is set. */
import { cutsEveryRegion } from '../support/every-region.js';
import { generateVue } from '../support/generate-vue.js';
import { inOrder } from '../support/react.js';
import { compileErrors, renderVue } from '../support/vue.js';

cutsEveryRegion({
  language: 'vue',
  entry: 'Demo.vue',
  make: generateVue,
  html: async (files, props) => inOrder(await renderVue(files, 'Demo.vue', props)),
  errors: compileErrors,
  sample: 1,
});
