/**
 * What a language is to the library, for those who write one: `import … from 'verkstad/language'`. Everything here is types but for the
 * registry; docs/language.md goes through the members with an example for each.
 */
export * from './registry.js';
export { CAPABILITIES } from './language.js';
export type * from './language.js';
export type * from './ports.js';
export type * from './project.js';
export type * from './proof-module.js';
export type * from './cutting.js';
export type * from './unifying.js';
export type * from './hooking.js';
export type * from './to-function.js';
export type * from './carrying.js';
export type * from './fixing.js';
export type * from './dissolving.js';
export type * from './forming.js';
export type * from './inlining.js';
export type * from './joining.js';
export type * from './hypertext.js';
export type * from './stylesheet.js';
export type * from '../markup/model.js';
export type { ParsedScript, ScriptError, ScriptParser, ScriptSyntax } from '../script/parser.js';
export { problem, isProblem, type Problem, type ProblemCode } from '../problems/problems.js';
export type { Edit, Span } from '../text/edits.js';
export type { FileContent, FileSet } from '../files/files.js';
export type { Resolution } from '../files/resolve.js';
/** Syntax that stands nowhere in the text, for languages that lower their files to what the proof compares. */
export * as make from '../script/make.js';
export { ScriptScopes } from '../script/scopes.js';
