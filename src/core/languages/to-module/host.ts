/** A script that logic leaves, as the engine sees it: one block of a file, in whatever language the file is. */
import type { Problem } from '../../problems/problems.js';
import type { ProjectView } from '../../language/project.js';
import type { Ports, SourceFile } from '../../language/ports.js';
import type { Wanted } from '../../language/to-module.js';
import type { Node } from '../../script/parser.js';
import { isTypeOnly, type Variable } from '../../script/scopes.js';
import { bare, calleeName, isFunction, walk } from '../../script/walk.js';
import type { ImportHabits, Importing } from '../imports.js';

export interface ModuleHabits extends ImportHabits {
  readonly indent: string;
  readonly lineEnd: string;
  readonly width: number;
}

/** Offsets are those of the file. */
export interface ScriptHost extends Importing {
  readonly habits: ModuleHabits;
  readonly typed: boolean;
  /** The end of a module that takes what leaves: `.ts`. */
  readonly extension: string;
  /** What the top of the script declares is there anew for each component. */
  readonly ofInstance: boolean;
  /** Whether something beside the script uses a name, as a template does. */
  readonly isShown: (name: string) => boolean;
  /** Whether a call keeps something for as long as the component lives, or works it out when it is read. */
  readonly lives: (callee: string) => boolean;
  /** Whether a word only says how a value is kept, as `props` or `value` does. */
  readonly holds: (word: string) => boolean;
  /** How much of a path is one value: `this.props.hive` of a class, `query.value` of a ref. Counts what stands behind the first name. */
  readonly fixedMembers: (root: Node, members: readonly string[]) => number;
  /** What handing on a name of the component, with members behind it, does there: words for people; undefined where it is a value. */
  readonly deedOf: (variable: Variable, members: readonly string[]) => string | undefined;
  /** The same of members of `this`. */
  readonly deedOfThis: (members: readonly string[]) => string | undefined;
}

export type OpenHost = (project: ProjectView, file: SourceFile, ports: Ports, wanted: Wanted) => ScriptHost | Problem;

/** Whether a variable is there once for the file, and not for each call of a function or each component. */
export function isOfFile(host: ScriptHost, variable: Variable): boolean {
  if (host.scopes.isImport(variable)) return true;
  if (!host.scopes.isModuleLevel(variable)) return false;
  return !host.ofInstance || isTypeOnly(variable) || isWrittenOut(variable);
}

/** A constant that is the same text for every component. */
function isWrittenOut({ defs: [definition] }: Variable): boolean {
  if (definition?.type !== 'Variable' || definition.parent.kind !== 'const') return false;
  const { init } = definition.node;
  return init?.type === 'Literal' || (init?.type === 'TemplateLiteral' && init.expressions.length === 0);
}

/** The statement that holds a node, and the list that it stands in. */
export function statementAround(
  host: ScriptHost,
  node: Node,
): { statement: Node; siblings: readonly Node[] } | undefined {
  let at: Node | undefined = node;
  while (at) {
    const parent: Node | undefined = host.scopes.parentOf(at);
    if (parent && (parent.type === 'BlockStatement' || parent.type === 'Program'))
      return { statement: at, siblings: parent.body };
    if (parent && isFunction(parent)) return undefined;
    at = parent;
  }
  return undefined;
}

/** A function that a component declares for itself, and what it wraps one in. */
export function functionDeed(variable: Variable): string | undefined {
  const definition = variable.defs[0];
  const why = `it needs "${variable.name}", a function of its component`;
  if (definition?.type === 'FunctionName') return why;
  const init =
    definition?.type === 'Variable' && definition.node.id.type === 'Identifier' ? definition.node.init : undefined;
  const value = init && bare(init);
  const wrapped = value?.type === 'CallExpression' ? value.arguments[0] : undefined;
  return value && (isFunction(value) || (wrapped && isFunction(wrapped) && calleeName(value) === 'useCallback'))
    ? why
    : undefined;
}

/** Names of the functions among the members of classes and records of a script. */
export function methodNames(program: Node): ReadonlySet<string> {
  const names = new Set<string>();
  walk(program, (node) => {
    const isMember = node.type === 'MethodDefinition' || node.type === 'PropertyDefinition' || node.type === 'Property';
    if (!isMember || node.key.type !== 'Identifier' || !node.value || !isFunction(bare(node.value))) return;
    if (node.type !== 'MethodDefinition' || node.kind === 'method') names.add(node.key.name);
  });
  return names;
}
