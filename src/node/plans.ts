/** The plan that `propose` made last, so that `apply 1 3` knows what is meant. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Problem } from '../core/problems/problems.js';
import { placeTrouble, realOperations } from './journal.js';

const FILE = '.verkstad/plan.json';

export function keepPlan(root: string, text: string): Problem | undefined {
  const trouble = placeTrouble(root, FILE);
  if (trouble) return trouble;
  const path = join(root, FILE);
  realOperations.write(`${path}.new`, text);
  realOperations.rename(`${path}.new`, path);
  return undefined;
}

/** The text of it; undefined where there is none. */
export function keptPlan(root: string): string | undefined {
  const path = join(root, FILE);
  return existsSync(path) ? readFileSync(path, 'utf8') : undefined;
}

export { FILE as KEPT_PLAN };
