/** Regions of generated Vue components. */
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
});
