/** A function of a component that gives markup back, with all that names it. */
import type { TSESTree } from '@typescript-eslint/types';
import { textOf, type FileSet } from '../../../files/files.js';
import type { HelperRequest } from '../../../language/dissolving.js';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import { lastShown, type Closed } from '../../../script/helper-body.js';
import type { Node, ParsedScript } from '../../../script/parser.js';
import { ScriptScopes } from '../../../script/scopes.js';
import { classAround, isTied, memberOfThis, tiedBy } from '../../../script/this-members.js';
import type { Span } from '../../../text/edits.js';
import { bare, isFunction, nodeWithin, spanOf, walk, type FunctionNode } from '../../../script/walk.js';
import { holdsJsx, isJsx } from '../markup.js';
import { parseFile } from '../source.js';

export interface HelperFunction {
  readonly path: string;
  readonly text: string;
  readonly script: ParsedScript;
  readonly scopes: ScriptScopes;
  readonly name: string;
  readonly fn: FunctionNode;
  /** What it shows in the end. */
  readonly shown: Node;
  /** The class or function around it. */
  readonly owner: string | undefined;
  readonly isMember: boolean;
  readonly uses: readonly HelperUse[];
  /** Its declaration, and the statement that ties it to its object. */
  readonly gone: readonly Node[];
}

/** A call, or the name alone where a list is walked with it. */
export type HelperUse =
  { readonly kind: 'call'; readonly node: TSESTree.CallExpression } | { readonly kind: 'each'; readonly node: Node };

interface Declared {
  readonly name: string;
  readonly fn: FunctionNode;
  readonly declaration: Node;
  readonly isMember: boolean;
  /** The component around it. */
  readonly owner: string | undefined;
}

export function helperOf({ file, ports, name: asked }: HelperRequest): HelperFunction | Problem {
  const script = parseFile(file, ports);
  if (isProblem(script)) return script;
  const scopes = ScriptScopes.of(script);
  const all = declaredIn(script, scopes);
  const [owner, own] = asked.includes('.') ? asked.split('.') : [undefined, asked];
  const named = all.filter((d) => d.name === own && (owner === undefined || d.owner === owner));
  const [found] = named;
  const sayings = (list: readonly Declared[], whole: boolean) =>
    list.map((d) => (whole && d.owner ? `${d.owner}.${d.name}` : d.name));
  if (!found) return problem('helper-unknown', { path: file.path }, asked, sayings(all, false));
  if (named.length > 1)
    return problem('helper-several', { path: file.path, span: spanOf(found.fn) }, asked, sayings(named, true));
  const at = (node: Node) => ({ path: file.path, span: spanOf(node) });
  const shown = lastShown(found.fn);
  if (!shown) return problem('helper-body', at(found.fn), found.name, 'does not end in a return');
  if (!holdsJsx(shown)) return problem('helper-body', at(shown), found.name, 'does not end in markup');
  const parameter = found.fn.params.find((p) => p.type !== 'Identifier');
  const context = { ...found, path: file.path, text: file.text, script, scopes };
  const used = usesOf(context);
  if ('why' in used) return problem('helper-use', at(used.node), found.name, used.why);
  if (parameter && used.uses.some((u) => u.kind === 'call'))
    return problem('helper-body', at(parameter), found.name, 'takes its parameters apart');
  return { ...context, shown: bare(shown), uses: used.uses, gone: [found.declaration, ...used.ties] };
}

/** All of them by names that mean one each. */
export function helperNames({ file, ports }: Omit<HelperRequest, 'name'>): string[] {
  const script = parseFile(file, ports);
  if (isProblem(script)) return [];
  const all = declaredIn(script, ScriptScopes.of(script));
  const isOne = (said: (d: Declared) => string, d: Declared) => all.filter((o) => said(o) === said(d)).length === 1;
  const whole = (d: Declared) => `${d.owner ?? ''}.${d.name}`;
  return all.flatMap((d) => (isOne((o) => o.name, d) ? [d.name] : d.owner && isOne(whole, d) ? [whole(d)] : []));
}

/** Functions that give markup back, but for those that are components themselves. */
function declaredIn(script: ParsedScript, scopes: ScriptScopes): Declared[] {
  const found: Declared[] = [];
  walk(script.program, (node) => {
    const made = isFunction(node) ? declarationOf(node, scopes) : undefined;
    if (made && isFunction(node) && /^[a-z_$]/.test(made.name) && made.name !== 'render' && givesMarkup(node))
      found.push({ ...made, fn: node, owner: ownerOf(made.declaration, scopes) });
    return undefined;
  });
  return found;
}

function declarationOf(
  fn: FunctionNode,
  scopes: ScriptScopes,
): { name: string; declaration: Node; isMember: boolean } | undefined {
  if (fn.type === 'FunctionDeclaration')
    return fn.id && isStatement(fn, scopes) ? { name: fn.id.name, declaration: fn, isMember: false } : undefined;
  let node: Node = fn;
  let parent = scopes.parentOf(node);
  while (parent && bare(parent) === fn) [node, parent] = [parent, scopes.parentOf(parent)];
  if (parent?.type === 'VariableDeclarator' && parent.id.type === 'Identifier') {
    const declaration = scopes.parentOf(parent);
    const isAlone = declaration?.type === 'VariableDeclaration' && declaration.declarations.length === 1;
    const isPlain = isAlone && declaration.kind === 'const' && isStatement(declaration, scopes);
    return isPlain ? { name: parent.id.name, declaration, isMember: false } : undefined;
  }
  if (parent?.type !== 'MethodDefinition' && parent?.type !== 'PropertyDefinition') return undefined;
  const isOwn = parent.type === 'MethodDefinition' ? parent.kind === 'method' : fn.type === 'ArrowFunctionExpression';
  if (!isOwn || parent.static || parent.computed || parent.key.type !== 'Identifier') return undefined;
  return { name: parent.key.name, declaration: parent, isMember: true };
}

/** Not exported, nor the body of a condition. */
function isStatement(node: Node, scopes: ScriptScopes): boolean {
  const parent = scopes.parentOf(node);
  return parent?.type === 'Program' || parent?.type === 'BlockStatement';
}

function givesMarkup(fn: FunctionNode): boolean {
  let found = false;
  walk(fn.body, (node) => {
    if (isFunction(node)) return false;
    if (node.type === 'ReturnStatement' && node.argument) found ||= showsMarkup(node.argument);
    return !found;
  });
  return found || (fn.body.type !== 'BlockStatement' && showsMarkup(fn.body));
}

/** Markup itself, or one side of a condition. */
function showsMarkup(node: Node): boolean {
  const inner = bare(node);
  if (inner.type === 'ConditionalExpression') return showsMarkup(inner.consequent) || showsMarkup(inner.alternate);
  if (inner.type === 'LogicalExpression') return showsMarkup(inner.right);
  return isJsx(inner);
}

function ownerOf(declaration: Node, scopes: ScriptScopes): string | undefined {
  for (let node = scopes.parentOf(declaration); node; node = scopes.parentOf(node)) {
    if (!isFunction(node) && node.type !== 'ClassDeclaration' && node.type !== 'ClassExpression') continue;
    if ('id' in node && node.id) return node.id.name;
    const parent = scopes.parentOf(node);
    if (parent?.type === 'VariableDeclarator' && parent.id.type === 'Identifier') return parent.id.name;
  }
  return undefined;
}

type Context = Declared & Pick<HelperFunction, 'script' | 'scopes'>;

function usesOf(context: Context): { uses: HelperUse[]; ties: Node[] } | Closed {
  const { name, fn, isMember, declaration, scopes } = context;
  const uses: HelperUse[] = [];
  const ties: Node[] = [];
  const sites = isMember ? membersOf(context) : namesOf(declaration, scopes);
  if ('why' in sites) return sites;
  for (const site of sites) {
    if (nodeWithin(site, spanOf(fn))) return { why: 'calls itself', node: site };
    let node: Node = site;
    let parent = scopes.parentOf(node)!;
    while (bare(parent) === site) [node, parent] = [parent, scopes.parentOf(parent)!];
    const tie = isMember && tieAround(site, scopes);
    if (tie) {
      if (!ties.includes(tie)) ties.push(tie);
      continue;
    }
    if (parent.type === 'CallExpression' && parent.callee === node && !parent.optional) {
      if (parent.arguments.some((a) => a.type === 'SpreadElement')) return { why: 'is given a spread', node: parent };
      uses.push({ kind: 'call', node: parent });
      continue;
    }
    const isEach =
      parent.type === 'CallExpression' &&
      parent.arguments.length === 1 &&
      parent.arguments[0] === node &&
      parent.callee.type === 'MemberExpression' &&
      parent.callee.property.type === 'Identifier' &&
      parent.callee.property.name === 'map';
    if (!isEach) return { why: 'is handed over as a value', node: site };
    const isLoose = isMember && fn.type !== 'ArrowFunctionExpression';
    if (isLoose && !isTied(scopes.parentOf(declaration) as TSESTree.ClassBody, name))
      return { why: 'is handed over without its "this"', node: site };
    uses.push({ kind: 'each', node: site });
  }
  const inner = uses.find((u) => uses.some((o) => o !== u && nodeWithin(u.node, spanOf(o.node))));
  if (inner) return { why: 'is called with what it gives back itself', node: inner.node };
  return uses.length > 0 ? { uses, ties } : { why: 'is called nowhere', node: declaration };
}

/** A class of the project that is built on the one that a method is in. */
export function heirOf({ owner, isMember }: HelperFunction, files: FileSet): { path: string; span: Span } | undefined {
  if (!isMember || owner === undefined) return undefined;
  const built = new RegExp(`\\bextends\\s+(?:\\w+\\.)*${owner.replace(/\$/g, '\\$')}\\b`);
  for (const path of files.list()) {
    const found = /\.[cm]?[jt]sx?$/.test(path) ? built.exec(textOf(files, path) ?? '') : null;
    if (found) return { path, span: { start: found.index, end: found.index + found[0].length } };
  }
  return undefined;
}

function namesOf(declaration: Node, scopes: ScriptScopes): Node[] {
  const id =
    declaration.type === 'VariableDeclaration' ? declaration.declarations[0].id : 'id' in declaration && declaration.id;
  const variable = id ? scopes.variableOf(id) : undefined;
  return (variable?.references ?? []).filter((r) => !r.init).map((r) => r.identifier);
}

/** Every `this.name` in the class; anything else of that name in the file may be it as well. */
function membersOf({ name, declaration, script, scopes }: Context): Node[] | Closed {
  const own = scopes.parentOf(declaration) as TSESTree.ClassBody;
  const { superClass } = scopes.parentOf(own) as TSESTree.ClassDeclaration;
  // Classes of its own that a component is built on may call what it declares.
  if (superClass && !/^(?:React\.)?(?:Pure)?Component$/.test(nameOf(superClass)))
    return { why: 'may be called by the class that its own is built on', node: superClass };
  const sites: Node[] = [];
  let stuck: Node | undefined;
  walk(script.program, (node) => {
    // Whoever is handed the object may call what it has.
    const isHandedOn = node.type === 'ThisExpression' && classAround(node, scopes) === own && isValue(node, scopes);
    if (isHandedOn) stuck ??= node;
    if (node.type !== 'MemberExpression' || node.computed) return undefined;
    if (node.property.type !== 'Identifier' || node.property.name !== name) return undefined;
    const isOwn = memberOfThis(node) === name && classAround(node, scopes) === own;
    if (isOwn) sites.push(node);
    // What a component is given may be called the same.
    else if (/\bprops$/i.test(nameOf(node.object))) return undefined;
    else if (memberOfThis(node) !== name || nodeWithin(node, spanOf(own))) stuck ??= node;
    return undefined;
  });
  if (!stuck) return sites;
  return {
    why: stuck.type === 'ThisExpression' ? 'may be called by what is handed "this" here' : 'is read from elsewhere',
    node: stuck,
  };
}

/** Whether `this` is a value by itself, rather than what a member is read of or a function is tied to. */
function isValue(node: Node, scopes: ScriptScopes): boolean {
  const parent = scopes.parentOf(node);
  if (parent?.type === 'MemberExpression') return false;
  const { callee } = parent?.type === 'CallExpression' ? parent : {};
  const isTied =
    callee?.type === 'MemberExpression' &&
    callee.property.type === 'Identifier' &&
    /^(?:bind|call|apply)$/.test(callee.property.name);
  // A function that is known by its name may be seen to call nothing of that name; who comes from outside may not.
  const isKnown = callee?.type === 'Identifier' || callee?.type === 'Super';
  // Of a record that is taken apart members are read.
  return !isTied && !isKnown && !(parent?.type === 'VariableDeclarator' && parent.id.type === 'ObjectPattern');
}

function nameOf(node: Node): string {
  if (node.type === 'Identifier') return node.name;
  if (node.type === 'ThisExpression') return 'this';
  return node.type === 'MemberExpression' && node.property.type === 'Identifier'
    ? `${nameOf(node.object)}.${node.property.name}`
    : '';
}

/** `this.x = this.x.bind(this)` around one of its two names. */
function tieAround(site: Node, scopes: ScriptScopes): Node | undefined {
  let node: Node | undefined = site;
  while (node && node.type !== 'AssignmentExpression' && !isFunction(node)) node = scopes.parentOf(node);
  const statement = node && scopes.parentOf(node);
  const isTie = node !== undefined && tiedBy(node) === memberOfThis(site);
  return isTie && statement?.type === 'ExpressionStatement' ? statement : undefined;
}
