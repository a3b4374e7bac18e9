/**
 * What `--json` and the library give, defined once: the types that are filled, and the schemas that ship in `schemas/`. Who only
 * fills them imports types, so that nobody pays for loading the validator.
 */
import { appliedFormat, changeFormat, checkFormat, planFormat, refusalFormat, undoFormat } from './changes.js';
import { proposeFormat } from './proposals.js';
import { repeatsFormat, surveyFormat, treeFormat } from './views.js';

export * from './changes.js';
export type { ProposeDocument } from './proposals.js';
export type { RepeatsDocument, SurveyDocument, TreeDocument, TreeNode } from './views.js';

export const formats = {
  survey: surveyFormat,
  tree: treeFormat,
  repeats: repeatsFormat,
  change: changeFormat,
  refusal: refusalFormat,
  undo: undoFormat,
  propose: proposeFormat,
  plan: planFormat,
  applied: appliedFormat,
  check: checkFormat,
};
