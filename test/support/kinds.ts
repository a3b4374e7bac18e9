/** The languages whose components are generated: how each is made, rendered and compiled. */
import { createElement } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import type { Kind } from './every-region.js';
import { generateComponent } from './generate.js';
import { generateVue } from './generate-vue.js';
import { inOrder, loadModule } from './react.js';
import { compileErrors, renderVue } from './vue.js';

export const jsx: Kind = {
  language: 'jsx',
  entry: 'Demo.jsx',
  make: (seed) => {
    const { text, props } = generateComponent(seed);
    return { files: { 'Demo.jsx': text }, props };
  },
  html: (files, props) => renderToStaticMarkup(createElement(loadModule(files, 'Demo.jsx').default as never, props)),
  errors: () => [],
};

export const vue: Kind = {
  language: 'vue',
  entry: 'Demo.vue',
  make: generateVue,
  html: async (files, props) => inOrder(await renderVue(files, 'Demo.vue', props)),
  errors: compileErrors,
};
