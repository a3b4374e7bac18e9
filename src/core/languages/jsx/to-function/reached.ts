/** Who else has to do with a class than those that show it: refs to its objects, classes that are built on it. */
import type { TSESTree } from '@typescript-eslint/types';
import { textOf, type FileSet } from '../../../files/files.js';
import { dirname } from '../../../files/paths.js';
import type { FunctionRequest } from '../../../language/to-function.js';
import { problem, type Problem } from '../../../problems/problems.js';
import { tiedBy } from '../../../script/this-members.js';
import { spanOf, walk } from '../../../script/walk.js';
import { literally } from '../../../text/pattern.js';
import { packageAround } from '../../rooms.js';
import type { ClassComponent } from './class-component.js';

/** Why the class must stay one, for what other code of the project does with it. */
export function outsideTrouble({ project }: FunctionRequest, component: ClassComponent): Problem | undefined {
  const { name, path } = component;
  const word = literally(name);
  const patterns: readonly (readonly [RegExp, string])[] = [
    [new RegExp(`\\bextends\\s+(?:\\w+\\.)*${word}\\b`), 'a class is built on it'],
    [new RegExp(`\\bcreateElement\\(\\s*${word}\\s*,\\s*\\{[^}]*\\bref\\s*:`), 'its object is asked for with a ref'],
    [new RegExp(`\\b(?:instanceof\\s+|new\\s+)${word}\\b`), 'its objects are told apart or made by hand'],
    [new RegExp(`\\b${word}\\.prototype\\b`), 'its prototype is used'],
    [
      new RegExp(`\\b(?:useRef|createRef|RefObject|Ref|ElementRef|ComponentRef)<(?:typeof\\s+)?${word}\\b`),
      'a ref of its type is kept',
    ],
  ];
  const at = (file: string, start: number, end: number) => ({ path: file, span: { start, end } });
  for (const file of project.files.list()) {
    if (!/\.(?:[cm]?[jt]sx?|mdx)$/.test(file)) continue;
    const text = textOf(project.files, file);
    if (!text?.includes(name)) continue;
    for (const [pattern, why] of patterns) {
      const found = pattern.exec(text);
      // Another class of that name is no matter where this file does not know the one that is meant.
      const isKnown =
        found && (file === path || new RegExp(`import[^;]*\\b${word}\\b`).test(text) || /\brequire\(/.test(text));
      if (found && isKnown)
        return problem('function-reached', at(file, found.index, found.index + found[0].length), name, why);
    }
  }
  const called = new Set<string>();
  const read = new Set<string>();
  walk(component.node.body, (node) => {
    // What is only tied to the object is not called by it.
    if (tiedBy(node) !== undefined) return false;
    const role = component.roleOf(node);
    if (role?.kind === 'own') called.add(role.name);
    const parent = component.scopes.parentOf(node);
    const isSet = parent?.type === 'AssignmentExpression' && parent.left === node;
    if (role?.kind === 'kept' && !isSet) read.add(role.name);
    return undefined;
  });
  const alone = [
    ...[...component.kept.values()].flatMap((m) => (read.has(m.name) ? [] : [{ ...m, why: 'reads' }])),
    ...[...component.methods.values()].flatMap((m) => (called.has(m.name) ? [] : [{ ...m, why: 'calls' }])),
  ];
  const [first] = alone;
  if (first) {
    const why = `nothing in it ${first.why} "${first.name}", so that others may`;
    return problem('function-reached', { path, span: spanOf(first.node) }, name, why);
  }
  const told = toldOutside(component);
  if (told)
    return problem(
      'function-reached',
      { path, span: spanOf(told) },
      name,
      `"${String(told.value)}" is told to others by its name`,
    );
  const outside = new RegExp(`\\b${word}\\.(defaultProps|contextTypes|childContextTypes|contextType)\\s*=`).exec(
    component.text,
  );
  const isLost = outside && (outside[1] !== 'defaultProps' || reactOf(project.files, path).newest >= 19);
  if (isLost)
    return problem(
      'function-reached',
      at(path, outside.index, outside.index + outside[0].length),
      name,
      `"${outside[1]!}" is set on it, which means nothing for a function`,
    );
  return undefined;
}

/** A function of the class that the file names in a text outside of it, for something that calls it by that name. */
function toldOutside({ script, node, methods }: ClassComponent): TSESTree.Literal | undefined {
  let found: TSESTree.Literal | undefined;
  walk(script.program, (inner) => {
    if (inner === node || inner.type === 'ImportDeclaration') return false;
    if (inner.type === 'Literal' && typeof inner.value === 'string' && methods.has(inner.value)) found ??= inner;
    return !found;
  });
  return found;
}

export interface ReactVersions {
  /** The oldest and the newest that it may run on. */
  readonly oldest: number;
  readonly newest: number;
  /** Whether there are hooks in all that it says. */
  readonly hooks: boolean;
}

/** The versions of React that the package around a file says to run on; 18 and 19 where it says nothing. */
export function reactOf(files: FileSet, path: string): ReactVersions {
  const { root } = packageAround(files, dirname(path));
  const text = textOf(files, root ? `${root}/package.json` : 'package.json') ?? '';
  const ranges = [...text.matchAll(/"react"\s*:\s*"([^"]*)"/g)].flatMap(([, range]) => {
    const versions = [...range!.matchAll(/(\d+)(?:\.(\d+))?[\w.-]*/g)];
    if (versions.length === 0) return [];
    const majors = versions.map(([, major]) => Number(major));
    const newest = />|\*|latest/.test(range!) && !/</.test(range!) ? Infinity : Math.max(...majors);
    const [, major, minor] = versions.at(-1)!;
    const isPinned = /^[=v]?\d+\.\d+/.test(range!.trim());
    const hooks = newest > 16 || (Number(major) === 16 && (!isPinned || Number(minor) >= 8));
    return [{ oldest: Math.min(...majors), newest, hooks }];
  });
  if (ranges.length === 0) return { oldest: 18, newest: 19, hooks: true };
  return {
    oldest: Math.min(...ranges.map((r) => r.oldest)),
    newest: Math.max(...ranges.map((r) => r.newest)),
    hooks: ranges.every((r) => r.hooks),
  };
}
