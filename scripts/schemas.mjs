/** Writes `schemas/` from the definitions of the formats; with --check it fails where they are not current. */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { toJsonSchema } from '@valibot/to-json-schema';
import { formats } from '../dist/library/formats/index.js';
import { configSchema } from '../dist/node/config-schema.js';

const check = process.argv.includes('--check');
mkdirSync(new URL('../schemas/', import.meta.url), { recursive: true });
for (const [name, schema] of Object.entries({ ...formats, config: configSchema })) {
  const at = new URL(`../schemas/${name}.json`, import.meta.url);
  const made = toJsonSchema(schema, { target: 'draft-2020-12', errorMode: 'ignore' });
  const text = `${JSON.stringify({ $schema: 'https://json-schema.org/draft/2020-12/schema', ...made }, null, 2)}\n`;
  if (!check) writeFileSync(at, text);
  else if (readFileSync(at, 'utf8') !== text) {
    console.error(`schemas/${name}.json is not current: run npm run schemas`);
    process.exitCode = 1;
  }
}
