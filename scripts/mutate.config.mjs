/** The test runner with one change laid over the sources, as `scripts/mutate.mjs` asks for it. */
import { defineConfig } from 'vitest/config';

const mutant = JSON.parse(process.env.MUTANT ?? '{}');

export default defineConfig({
  plugins: [
    {
      name: 'one change',
      enforce: 'pre',
      transform(code, id) {
        if (!mutant.path || !id.split('?')[0].endsWith(`/${mutant.path}`)) return undefined;
        return { code: code.slice(0, mutant.start) + mutant.text + code.slice(mutant.end), map: null };
      },
    },
  ],
  test: { include: ['test/**/*.test.ts'], testTimeout: 20_000, pool: 'threads', maxWorkers: 1, reporters: ['dot'] },
});
