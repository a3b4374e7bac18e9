/** The template of a component that a script defines, wherever it stands, in the braces that a file has. */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import { propertyOf } from '../definition.js';
import { literal, type Defined } from './definitions.js';
import { unescaped } from './escapes.js';
import { delimitersOf, type CompilerOption } from './obstacles.js';

/** A script of a file: offsets of `text` count from its own beginning. */
export interface ScriptText {
  readonly path: string;
  readonly text: string;
  readonly typed: boolean;
  /** Where it stands in the file at `path`. */
  readonly offset: number;
}

/** Where templates that a script only names stand. */
export interface Templates {
  /** The markup behind a selector: what is in the element; with `outer` the element as well. */
  find(selector: string, outer: boolean): { readonly text: string } | Problem | undefined;
}

/** Undefined where it has none. */
export function templateOf(
  { object, template, mount, form }: Defined,
  script: ScriptText,
  templates: Templates,
  ofApp: readonly CompilerOption[],
): { readonly template: string; readonly selector: string | undefined } | Problem | undefined {
  const { path, offset } = script;
  const given = template && literal(template);
  const at = { path, span: { start: object.range[0] + offset, end: object.range[1] + offset } };
  if (template && given === undefined) return problem('join-template', at);
  const selector = given === undefined ? mount : given.startsWith('#') ? given : undefined;
  if (given === undefined && (form !== 'root' || propertyOf(object, 'render'))) return undefined;
  const isVue2 = form === 'root' && propertyOf(object, 'el') !== undefined && given === undefined;
  const found =
    selector !== undefined ? templates.find(selector, isVue2) : given !== undefined ? { text: given } : undefined;
  if (!found) return given === undefined ? undefined : problem('join-missing', at, selector!);
  if (isProblem(found)) return found;
  if (!found.text.trim()) return undefined;
  const delimiters = delimitersOf(object, ofApp, script);
  if (isProblem(delimiters)) return delimiters;
  const { text, server } = unescaped(found.text, delimiters);
  if (server !== undefined) return problem('join-server', at, server.trim());
  return { template: text, selector };
}
