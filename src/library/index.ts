/** What `verkstad/project` exports. */
export { isProblem, type FileChange, type Problem, type ProblemCode, type RepeatKind } from '../core/index.js';
export type * from './formats/index.js';
export { openProject, type OpenProject, type Refusal, type Step, type Written } from './project.js';
export type { ProposeAsked } from './propose.js';
export type { Place, SeamAsked, StepName, StepRequests } from './steps.js';
export type { Level } from '../node/check/report.js';
