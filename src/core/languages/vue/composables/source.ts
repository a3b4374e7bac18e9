/** Statements of script setup, and the file that they stand in. */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { ScriptScopes } from '../../../script/scopes.js';
import { spanOf, within } from '../../../script/walk.js';
import type { UnifyRequest } from '../../../language/unifying.js';
import type { Span } from '../../../text/edits.js';
import { withComments } from '../../../text/layout.js';
import type { Importing } from '../../imports.js';
import { habitsOf, type Habits } from '../cut/habits.js';
import { lower, type Lowered } from '../lower.js';
import { parseSfc, type ScriptBlock, type Sfc } from '../sfc.js';

export interface Source {
  readonly request: UnifyRequest;
  readonly sfc: Sfc;
  readonly setup: ScriptBlock;
  /** Of the script as it is written. */
  readonly scopes: ScriptScopes;
  readonly lowered: Lowered;
  readonly habits: Habits;
  readonly statements: readonly Node[];
  /** From the first of the statements to the last, with the comments above. */
  readonly span: Span;
}

export function openSource(request: UnifyRequest): Source | Problem {
  const [{ file, span: wanted }] = request.places as [UnifyRequest['places'][number]];
  const sfc = parseSfc(file, request.ports);
  if (isProblem(sfc)) return sfc;
  const { setup } = sfc;
  const at = { path: file.path, span: wanted };
  if (!setup) return problem('hook-statements', at, 'they do not stand in script setup');
  const statements = setup.script.program.body.filter((s) => within(spanOf(s), wanted));
  if (statements.length === 0) return problem('hook-statements', at, 'the lines hold no whole statements');
  const { start } = withComments(file.text, spanOf(statements[0]!));
  const { end } = spanOf(statements.at(-1)!);
  const habits = habitsOf(sfc, request.project.files);
  const scopes = ScriptScopes.of(setup.script);
  return { request, sfc, setup, scopes, lowered: lower(sfc, true), habits, statements, span: { start, end } };
}

/** The script as it is written, for what is asked of its imports. */
export function written({ sfc, setup, scopes }: Source): Importing {
  return { text: sfc.text, script: setup.script, scopes, request: { file: { path: sfc.path } } };
}
