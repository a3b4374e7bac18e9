/** The public face of the core: text in, data out. No Node, no DOM, no console. */
export type { Edit, Span } from './text/edits.js';
export { applyEdits, composeEdits, invertEdits, movedOffset } from './text/edits.js';
export { Lines, type Position } from './text/lines.js';
export { unifiedDiff } from './text/diff.js';
export { fingerprint } from './text/fingerprint.js';
export type * from './markup/model.js';
export { childLists, walkMarkup } from './markup/walk.js';
export { snap, regionOf, type Region } from './markup/region.js';
export type { ParsedScript, ScriptComment, ScriptError, ScriptParser, ScriptSyntax } from './script/parser.js';
export { remembering } from './script/parser.js';
export { CAPABILITIES, type Capability, type Language } from './language/language.js';
export type { Ports, SourceFile } from './language/ports.js';
export { languages, languageOf, loadLanguages, registerLanguage, type LanguageEntry } from './language/registry.js';
export { MemoryFiles, OverlayFiles, textOf, type FileContent, type FileSet } from './files/files.js';
export { Project } from './project/project.js';
export { Resolver, type Resolution } from './files/resolve.js';
export { didYouMean, isProblem, problem, problemCodes, type Problem, type ProblemCode } from './problems/problems.js';
export { candidateRegions } from './propose/candidates.js';
export { proposeNames } from './propose/names.js';
export {
  pathsOf,
  proposeRegions,
  type ComponentPlan,
  type Goal,
  type RegionProposal,
  type TurnedDown,
} from './propose/regions/propose.js';
export type { HookProposal } from './propose/regions/hooks.js';
export { weigh, type Weighed, type WeighedState, type WeighOptions } from './propose/weigh.js';
export type { Alternatives, Way } from './propose/alternatives.js';
export type { OutlineNode } from './propose/regions/outline.js';
export {
  findRepeats,
  type ByHand,
  type HostName,
  type Repeat,
  type RepeatKind,
  type RepeatOptions,
  type RepeatPlace,
  type Repeats,
} from './propose/repeats/repeats.js';
export { isOthers } from './propose/repeats/left-out.js';
export type { Given, Input } from './propose/repeats/input.js';
export { differencesOf, givenText, type Difference } from './propose/repeats/differences.js';
export type { Worth } from './propose/repeats/worth.js';
export { applied, createFile, diffOf, editFile, type Change, type FileChange } from './steps/change.js';
export type { PropsStyle, Seam, SeamEntry, TypeName, TypeOracle, TypeText } from './language/cutting.js';
export type { RepeatSeam } from './steps/repeat-seam.js';
export type { WantedSeam } from './steps/wanted-seam.js';
export { apart, type ApartRequest } from './steps/apart.js';
export { dissolve, type DissolveRequest } from './steps/dissolve.js';
export { extract, findRegion, type ExtractChange, type ExtractRequest } from './steps/extract.js';
export { forms, type FormsChange, type FormsStepRequest } from './steps/forms.js';
export { inputs, type InputsChange, type InputsStepRequest } from './steps/inputs.js';
export { proveWrittenOut } from './steps/written-out.js';
export { through, type ThroughChange, type ThroughStepRequest } from './steps/through.js';
export { toFunction, type FunctionChange, type FunctionRequest } from './steps/function.js';
export { module, type ModuleChange, type ModuleRequest } from './steps/module.js';
export { hook, type HookChange, type HookRequest } from './steps/hook.js';
export type { LogicGroup } from './language/hooking.js';
export { home, type HomeChange, type HomeStepRequest } from './steps/home.js';
export {
  findComponent,
  inline,
  standsAt,
  usesOf,
  type InlineChange,
  type InlineStepRequest,
  type Use,
} from './steps/inline.js';
export { join, part, type JoinChange } from './steps/join.js';
export type { JoinOptions } from './language/joining.js';
export {
  formsRequestOf,
  homeRequestOf,
  inputsRequestOf,
  planOf,
  repeatOf,
  throughRequestOf,
  planTrouble,
  runStep,
  Whereabouts,
  withPages,
  type ExtractStep,
  type HomeStep,
  type HookStep,
  type InlineStep,
  type PageStep,
  type StepChange,
  type Plan,
  type PlanSeam,
  type PlanStep,
} from './steps/plan.js';
export { page, pagesInto, type PageChange, type PageRequest, type PagesWritten } from './steps/page.js';
export type { WrittenPage } from './steps/pages.js';
export { withContent } from './steps/content.js';
export { withHelpers } from './steps/helpers.js';
export { withoutClashes, withProven, withRepeats } from './steps/feasible.js';
export { proposeModules, type ModuleProposal } from './steps/modules.js';
export { withContentOffered, type DrilledOffer } from './steps/through-offers.js';
export { proposeHomes, type HomeProposal } from './steps/homes.js';
export { proposeInlines, type SplitProposal } from './steps/splits.js';
export { unify, type UnifyChange, type UnifyStepRequest } from './steps/unify.js';
export { proveFiles, unresolvedNames } from './proof/files.js';
export { compareVersions, type Rename, type VersionsCompared } from './proof/versions.js';
export type { ProofPlace, ProofResult } from './proof/prove.js';
export { summarize, type ComponentSummary } from './analyze/measures.js';
export { notRead, notReadWords, type NotRead } from './analyze/unread.js';
export { buildGraph, type Graph, type GraphNode } from './analyze/graph.js';
export { summarizeFile, type FileSummary, type SummaryCache } from './analyze/summary.js';
export type { Inputs } from './analyze/inputs.js';
export type { DrilledValue, OwnedState } from './analyze/ownership.js';
export type { Reason, Reasons } from './analyze/reasons.js';
export { DEFAULT_LIMITS, survey, type Finding, type Limits, type Survey } from './analyze/survey.js';
