/** A component taken apart, so that it can be put back: what it takes, what it declares, what it shows. */
import type { TSESTree } from '@typescript-eslint/types';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Ports } from '../../../language/ports.js';
import type { Node, ParsedScript } from '../../../script/parser.js';
import { ScriptScopes, type Variable } from '../../../script/scopes.js';
import { bare, isFunction, spanOf, walk, type FunctionNode } from '../../../script/walk.js';
import type { Putting } from '../../../language/inlining.js';
import { findComponents, type Candidate } from '../candidates.js';
import { parseFile } from '../source.js';

export interface Prop {
  readonly name: string;
  readonly default?: Node;
}

export interface Definition {
  readonly path: string;
  readonly text: string;
  readonly script: ParsedScript;
  readonly scopes: ScriptScopes;
  readonly fn: FunctionNode;
  /** The top-level statement that declares it. */
  readonly statement: TSESTree.ProgramStatement;
  readonly statements: readonly Node[];
  /** What the last return gives. */
  readonly shown: Node;
  /** From the first statement on that returns, where that is not the last one; the last return with them. */
  readonly returning: readonly Node[] | undefined;
  /** What the names stand for that the component takes. */
  readonly props: ReadonlyMap<Variable, Prop>;
  /** Where the props come as one: what `props.x` is a member of. */
  readonly whole: Variable | undefined;
}

/** `Name.defaultProps = …`: what React 18 and older put in the place of props that are not passed. */
function isDefaultProps(statement: Node, name: string): boolean {
  if (statement.type !== 'ExpressionStatement' || statement.expression.type !== 'AssignmentExpression') return false;
  const { left } = statement.expression;
  return (
    left.type === 'MemberExpression' &&
    left.object.type === 'Identifier' &&
    left.object.name === name &&
    left.property.type === 'Identifier' &&
    left.property.name === 'defaultProps'
  );
}

export function definitionOf(component: Putting, ports: Ports, returnsEarly = false): Definition | Problem {
  const { file, name, span } = component;
  const found = takenApart(component, ports, returnsEarly);
  return 'why' in found
    ? problem('inline-component', { path: file.path, span: found.node ? spanOf(found.node) : span }, name, found.why)
    : found;
}

/** Why a component cannot be taken apart: words to stand behind its name. */
export interface Closed {
  readonly why: string;
  readonly node: Node | undefined;
}

/** `returnsEarly`: it may return in more than one place. */
export function takenApart(component: Putting, ports: Ports, returnsEarly: boolean): Definition | Closed | Problem {
  const { file, name, span } = component;
  const script = parseFile(file, ports);
  if (isProblem(script)) return script;
  const refuse = (why: string, node?: Node): Closed => ({ why, node });
  const candidate =
    findComponents(script.program).candidates.find(
      (c) => c.outer.range[0] <= span.start && c.outer.range[1] >= span.end && (c.name ?? name) === name,
    ) ?? findComponents(script.program).candidates.find((c) => c.name === name);
  const statement =
    candidate &&
    script.program.body.find((s) => s.range[0] <= candidate.node.range[0] && s.range[1] >= candidate.node.range[1]);
  if (!candidate || !statement) return refuse('it is not declared at the top of a module');
  const fn = candidate.node;
  if (!isFunction(fn)) return refuse('it is a class');
  const given = script.program.body.find((s) => isDefaultProps(s, name));
  if (given) return refuse('it is given defaults from outside, which every use takes on', given);
  if (!isDirect(candidate, statement)) return refuse('something is wrapped around it');
  if (fn.async || fn.generator) return refuse('it waits for something');
  if (fn.typeParameters) return refuse('it has parameters of types', fn.typeParameters);
  const scopes = ScriptScopes.of(script);
  const body = fn.body.type === 'BlockStatement' ? fn.body.body : [];
  const last = body.at(-1);
  const shown =
    fn.body.type !== 'BlockStatement' ? fn.body : last?.type === 'ReturnStatement' ? last.argument : undefined;
  if (!shown) return refuse('it does not end in a return');
  const early = body.findIndex((s) => returns(s));
  const isEarly = early >= 0 && early < body.length - 1;
  if (isEarly && !returnsEarly) return refuse('it returns in more than one place', body[early]);
  const taken = takenBy(fn, scopes, isEarly ? body.slice(0, early) : body.slice(0, -1));
  if ('type' in taken) return refuse('it takes its props in an unusual way', taken);
  const returning = isEarly ? body.slice(early) : undefined;
  return { path: file.path, text: file.text, script, scopes, fn, statement, shown, returning, ...taken };
}

/** The function itself is what is declared. */
function isDirect({ node }: Candidate, statement: Node): boolean {
  const inner =
    statement.type === 'ExportNamedDeclaration' || statement.type === 'ExportDefaultDeclaration'
      ? statement.declaration
      : statement;
  if (inner === node) return true;
  if (inner?.type !== 'VariableDeclaration' || inner.declarations.length !== 1) return false;
  const { init } = inner.declarations[0];
  return init !== null && bare(init) === node;
}

function returns(statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (isFunction(node)) return false;
    if (node.type === 'ReturnStatement') found = true;
    return undefined;
  });
  return found;
}

/** Names of all that it takes. */
export function namesTaken({ props, whole, scopes }: Definition): ReadonlySet<string> {
  const members = (whole?.references ?? []).flatMap(({ identifier }) => {
    const member = scopes.parentOf(identifier);
    return member?.type === 'MemberExpression' && member.property.type === 'Identifier' ? [member.property.name] : [];
  });
  return new Set([...[...props.values()].map((p) => p.name), ...members]);
}

/** The props, and the statements without one that only takes them apart; the node that stands in the way. */
function takenBy(
  fn: FunctionNode,
  scopes: ScriptScopes,
  statements: readonly Node[],
): Pick<Definition, 'props' | 'whole' | 'statements'> | Node {
  const props = new Map<Variable, Prop>();
  const parameter = fn.params[0];
  if (!parameter) return { props, whole: undefined, statements };
  if (fn.params.length > 1) return fn.params[1]!;
  if (parameter.type === 'ObjectPattern') {
    const trouble = takeApart(parameter, scopes, props);
    return trouble ?? { props, whole: undefined, statements };
  }
  if (parameter.type !== 'Identifier') return parameter;
  const whole = scopes.variableOf(parameter)!;
  const left = [...statements];
  for (const { identifier } of whole.references) {
    const parent = scopes.parentOf(identifier);
    if (parent?.type === 'MemberExpression' && parent.object === identifier && !parent.computed) continue;
    const declaration = parent && scopes.parentOf(parent);
    const isApart =
      parent?.type === 'VariableDeclarator' &&
      parent.id.type === 'ObjectPattern' &&
      declaration?.type === 'VariableDeclaration' &&
      declaration.declarations.length === 1;
    if (!isApart || !left.includes(declaration)) return identifier;
    const trouble = takeApart(parent.id as TSESTree.ObjectPattern, scopes, props);
    if (trouble) return trouble;
    left.splice(left.indexOf(declaration), 1);
  }
  return { props, whole, statements: left };
}

function takeApart(
  pattern: TSESTree.ObjectPattern,
  scopes: ScriptScopes,
  props: Map<Variable, Prop>,
): Node | undefined {
  for (const property of pattern.properties) {
    if (property.type === 'RestElement' || property.computed || property.key.type !== 'Identifier') return property;
    const { value } = property;
    const target = value.type === 'AssignmentPattern' ? value.left : value;
    const variable = scopes.variableOf(target);
    if (target.type !== 'Identifier' || !variable) return property;
    if (scopes.isReassigned(variable)) return property;
    props.set(variable, {
      name: property.key.name,
      ...(value.type === 'AssignmentPattern' ? { default: value.right } : {}),
    });
  }
  return undefined;
}
