/** Regions of generated React components. */
import { createElement } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import { cutsEveryRegion } from '../support/every-region.js';
import { generateComponent } from '../support/generate.js';
import { loadModule } from '../support/react.js';

cutsEveryRegion({
  language: 'jsx',
  entry: 'Demo.jsx',
  make: (seed) => {
    const { text, props } = generateComponent(seed);
    return { files: { 'Demo.jsx': text }, props };
  },
  html: (files, props) => renderToStaticMarkup(createElement(loadModule(files, 'Demo.jsx').default as never, props)),
  errors: () => [],
});
