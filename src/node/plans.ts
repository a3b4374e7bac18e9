/** The plan that `propose` made last, so that `apply 1 3` knows what is meant. */
import { existsSync, readFileSync, statSync } from 'node:fs';
import { problem, type Problem } from '../core/problems/problems.js';
import { makeOwn, OWN_FOLDER, readOwn, writeOwn } from './journal/own-folder.js';
import { reasonOf } from './journal/writing.js';

const NAME = 'plan.json';
export const KEPT_PLAN = `${OWN_FOLDER}/${NAME}`;
/** A larger file is no plan that a person could read. */
const MOST_BYTES = 16_000_000;

export function keepPlan(root: string, text: string): Problem | undefined {
  try {
    const trouble = makeOwn(root);
    if (!trouble) writeOwn(root, NAME, text);
    return trouble;
  } catch (error) {
    return problem('write-failed', { path: KEPT_PLAN }, reasonOf(error));
  }
}

/** The text of it; undefined where there is none. */
export function keptPlan(root: string): string | Problem | undefined {
  const kept = readOwn(root, NAME, MOST_BYTES);
  return kept === 'large' ? problem('plan-large', { path: KEPT_PLAN }, MOST_BYTES) : kept?.text;
}

/** The text of a plan file that a person names; `path` is absolute, `given` what they wrote. */
export function readPlanFile(path: string, given: string): string | Problem {
  if (!existsSync(path)) return problem('file-unknown', { path: given });
  if (statSync(path).size > MOST_BYTES) return problem('plan-large', { path: given }, MOST_BYTES);
  try {
    return readFileSync(path, 'utf8');
  } catch (error) {
    return problem('file-unreadable', { path: given }, reasonOf(error));
  }
}
