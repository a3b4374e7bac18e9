/**
 * Whether a function of React does what a class did. Both are read into the same words, each by its own reader: what a state begins
 * as, what is set to what, what runs when it comes, changes and goes, what it shows. The words are compared; no text of one is looked
 * for in the other.
 */
import type { SourceFile, Ports } from '../../../language/ports.js';
import type { Deviation, WrittenFunction } from '../../../language/to-function.js';
import { isProblem } from '../../../problems/problems.js';
import type { Node, ParsedScript } from '../../../script/parser.js';
import { ScriptScopes } from '../../../script/scopes.js';
import { spanOf, within } from '../../../script/walk.js';
import { parseFile } from '../source.js';
import { classesOf, type ClassComponent } from './class-component.js';
import { readClass } from './class-reader.js';

import { ClassSaying } from './class-words.js';
import { FunctionSaying } from './function-words.js';
import { tight } from './words.js';

export function compare(before: SourceFile, after: SourceFile, written: WrittenFunction, ports: Ports): Deviation {
  const [left, right] = [parseFile(before, ports), parseFile(after, ports)];
  if (isProblem(left) || isProblem(right)) return { detail: 'what came out cannot be read' };
  const node = classesOf(left).find((c) => within(spanOf(c), written.region));
  const component = node && readClass(before, left, ScriptScopes.of(left), node);
  if (!component || isProblem(component)) return { detail: 'the class cannot be read' };
  const ofClass = new ClassSaying(component);
  const one = ofClass.read();
  const other = new FunctionSaying(after.text, right, component, written.names).read();
  if (typeof other === 'string') return { detail: other };
  for (const key of new Set([...one.keys(), ...other.keys()])) {
    const [a, b] = [one.get(key), other.get(key)];
    if (a !== b) return { detail: `${key}: ${shortly(a, b)}` };
  }
  return restOf(component, right, after.text);
}

/** The first piece in which two sayings differ. */
function shortly(a: string | undefined, b: string | undefined): string {
  if (a === undefined || b === undefined) return a === undefined ? 'is new' : 'is gone';
  let i = 0;
  while (a[i] === b[i]) i++;
  const around = (text: string) => text.slice(Math.max(0, i - 12), i + 28);
  return `"${around(a)}" is "${around(b)}" now`;
}

/** The rest of both files: every other statement as it was, and no import less than what is used. */
function restOf(component: ClassComponent, script: ParsedScript, text: string): Deviation {
  const { name } = component;
  const own = new Set(component.statics.map((s) => `${name}.${s.name}`));
  const plainly = (source: string, node: Node) => tight(source.slice(...node.range)).replace(/;$/, '');
  const isOurs = (node: Node, source: string): boolean => {
    const code = plainly(source, node);
    const declaresIt = new RegExp(`^(?:export (?:default )?)?(?:class|function|const) ${name}\\b`).test(code);
    const hangs = [...own, `${name}.defaultProps`].some((target) => code.startsWith(`${target}=`));
    return (
      declaresIt ||
      hangs ||
      (node.type === 'ImportDeclaration' && node.specifiers.length > 0) ||
      code === `export default ${name}`
    );
  };
  const before = component.script.program.body
    .filter((s) => !isOurs(s, component.text))
    .map((s) => plainly(component.text, s));
  const after = script.program.body.filter((s) => !isOurs(s, text)).map((s) => plainly(text, s));
  // A type that said what the state is may go, a value that is a default may come.
  const was = before.filter((code) => after.includes(code) || !/^(?:interface|type) /.test(code));
  const is = after.filter((code) => before.includes(code) || !/^const default[A-Z]\w*=/.test(code));
  const at = was.findIndex((code, i) => code !== is[i]);
  if (at < 0 && was.length === is.length) return undefined;
  const told = at < 0 ? is[was.length]! : was[at]!;
  return { detail: `"${told.slice(0, 40)}" is ${is.includes(told) && at < 0 ? 'new' : 'not what it was'}` };
}
