/** Configuration: data only, from `verkstad.config.json` or the `verkstad` key of `package.json` at the root. */
import { lilconfigSync } from 'lilconfig';
import { basename } from 'node:path';
import { problem, type Problem } from '../core/problems/problems.js';
import type { Config } from './config-schema.js';

/** The settings of a project; an empty object where there are none. */
export async function readConfig(root: string): Promise<Config | Problem> {
  let found;
  try {
    found = lilconfigSync('verkstad', { searchPlaces: ['verkstad.config.json', 'package.json'], stopDir: root }).search(
      root,
    );
  } catch (error) {
    return problem('config-invalid', { path: 'verkstad.config.json' }, (error as Error).message);
  }
  if (!found || found.isEmpty) return {};
  const [{ configSchema }, { getDotPath, safeParse }] = await Promise.all([
    import('./config-schema.js'),
    import('valibot'),
  ]);
  const result = safeParse(configSchema, found.config);
  if (result.success) return result.output;
  const first = result.issues[0];
  return problem(
    'config-invalid',
    { path: basename(found.filepath) },
    `${getDotPath(first) ?? 'top level'}: ${first.message}`,
  );
}

export type { Config };
