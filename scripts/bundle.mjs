/**
 * Puts Vue's template parser into the build, as one file: with all that the compiler asks for it would be a third of an installation,
 * and only its parser is used. That of the project is not taken: older ones give other trees.
 */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const require = createRequire(import.meta.url);
const compiler = dirname(require.resolve('@vue/compiler-dom/package.json'));
const { version } = JSON.parse(readFileSync(join(compiler, 'package.json'), 'utf8'));
const license = readFileSync(join(compiler, 'LICENSE'), 'utf8');

await build({
  stdin: { contents: "export { parse, parserOptions } from '@vue/compiler-dom'", resolveDir: compiler },
  outfile: fileURLToPath(new URL('../dist/node/vue-parser.cjs', import.meta.url)),
  bundle: true,
  platform: 'node',
  format: 'cjs',
  minify: true,
  plugins: [
    {
      // Asked for by what is done with a tree once it is there.
      name: 'nothing',
      setup: ({ onResolve, onLoad }) => {
        onResolve({ filter: /^(?:@babel\/parser|source-map-js)$/ }, () => ({ path: 'nothing', namespace: 'nothing' }));
        onLoad({ filter: /.*/, namespace: 'nothing' }, () => ({ contents: 'module.exports = {}' }));
      },
    },
  ],
  banner: { js: `/*! @vue/compiler-dom ${version}\n\n${license.trim()}\n*/` },
  logLevel: 'warning',
});
