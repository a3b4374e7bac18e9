/**
 * Which declarations of the host go along with a region: those that only the region uses, and that mean the same there.
 * State and other hooks go only where the new component lives exactly as long as the host.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Going } from '../../../language/cutting.js';
import { problem, type Problem } from '../../../problems/problems.js';
import type { Span } from '../../../text/edits.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { bare, calleeName, isFunction, nodeWithin, spanOf, walk, type FunctionNode } from '../../../script/walk.js';
import { changedWhileRendering, effectOf, momentIn, worksOut } from '../../../script/effects.js';
import { isHookName } from '../../../script/quiet.js';
import { isComponentTag, isJsx, tagName } from '../markup.js';
import type { Lift } from './lifts.js';
import type { Scene } from './scene.js';

export interface Moves {
  /** Statements of functions of the host, in text order. */
  readonly statements: readonly (TSESTree.VariableDeclaration | TSESTree.FunctionDeclaration)[];
  /** For people: what could have gone along and why it stays. */
  readonly notes: readonly string[];
}

type Nature = 'function' | 'plain' | 'computed' | 'hook' | 'stays';

const MOVABLE_HOOKS = new Set(['useState', 'useReducer', 'useRef', 'useMemo', 'useCallback', 'useContext']);
const IMPURE = /\b(?:Date\.now|Math\.random|performance\.now|new Date\(\)|crypto\.|uuid\w*\(|nanoid\()/;

export function findMoves(scene: Scene, lifts: readonly Lift[]): Moves | Problem {
  const { stays, along, showing } = scene.request.going ?? { stays: [], along: [] };
  const lifetime = showing ? 'it is kept' : lifetimeOf(scene);
  const moved = new Set<Declaration>();
  const obstacles = new Map<string, Obstacle>();
  const staying = [
    ...lifts.map(({ fn }) => spanOf(fn)),
    ...scene.keys.map(spanOf),
    ...scene.fallbacks,
    ...(scene.request.inputs ?? []).flatMap((input) => input.stays),
  ];
  const goes = (node: Node) =>
    (scene.inRegion(node) || [...moved].some((s) => nodeWithin(node, spanOf(s)))) &&
    !staying.some((span) => nodeWithin(node, span));

  for (let again = true; again;) {
    again = false;
    for (const variable of usedVariables(scene, moved, staying)) {
      const statement = statementOf(variable);
      if (statement && moved.has(statement)) continue;
      const used = () => usedVariables(scene, moved, staying);
      const obstacle = statement
        ? obstacleTo(scene, statement, { used, goes, lifetime })
        : { why: 'it is not declared by a statement of its own in the component' };
      const declared = statement ? variablesOf(scene, statement).map((v) => v.name) : [];
      const isAsked = declared.some((name) => along.includes(name));
      if (obstacle && !(isAsked && obstacle.isTaste)) {
        obstacles.set(variable.name, obstacle);
        continue;
      }
      if (declared.some((name) => stays.includes(name))) continue;
      moved.add(statement!);
      again = true;
    }
  }
  const trouble = goingTrouble(scene, { stays, along, moved, obstacles, staying });
  if (trouble) return trouble;
  // What is kept stays there because it was asked for.
  const lost = new Map(
    (showing ? [] : [...obstacles.values()]).flatMap(({ lost: name, why }) =>
      name === undefined ? [] : [[name, why]],
    ),
  );
  const wider = [...obstacles].filter(([name, { isTaste }]) => isTaste && !stays.includes(name));
  return {
    statements: [...moved].sort((a, b) => a.range[0] - b.range[0]),
    notes: [
      ...[...new Set(lost.values())].map((reason) =>
        stayNote(
          reason,
          [...lost.keys()].filter((name) => lost.get(name) === reason),
        ),
      ),
      ...wider.map(([name, { why }]) => `${name} stays in the host: ${why}; --along ${name} takes it along`),
    ],
  };
}

type Declaration = TSESTree.VariableDeclaration | TSESTree.FunctionDeclaration;

/** Why a declaration stays with the host. */
interface Obstacle {
  readonly why: string;
  /** What is kept, and would be lost. */
  readonly lost?: string;
  /** It could go, and the boundary would be wider. */
  readonly isTaste?: boolean;
}

function obstacleTo(
  scene: Scene,
  statement: Declaration,
  { used, goes, lifetime }: Omit<Asked, 'used'> & { readonly used: () => ReadonlySet<Variable> },
): Obstacle | undefined {
  const owner = functionOf(scene, statement);
  if (!owner || !scene.functions.includes(owner)) return { why: 'it is declared in a block of its own' };
  const declared = variablesOf(scene, statement);
  const onlyHere = declared.every((v) =>
    v.references.every((r) => goes(r.identifier) || nodeWithin(r.identifier, spanOf(statement))),
  );
  if (!onlyHere) return { why: 'it is used outside of the region as well' };
  if (declared.some((v) => scene.scopes.isReassigned(v))) return { why: 'it is assigned again' };
  const nature = natureOf(scene, statement);
  if (nature === 'stays') return { why: 'it does something, waits, or depends on the place where it stands' };
  const fn = statement.type === 'FunctionDeclaration' ? statement : bare(statement.declarations[0].init!);
  const isShowing = scene.request.going?.showing === true;
  if (nature === 'function' && isShowing && !worksOut(fn, scene.scopes, scene.opened))
    return { why: 'it does more than to work something out' };
  if (isHidden(scene, statement)) return { why: 'a name that it uses means something else where the region stands' };
  if (nature !== 'function' && readsChanged(scene, statement, owner))
    return { why: 'it reads what the component changes while it is rendered' };
  if (nature === 'hook' && isForRendering(scene, statement, owner, goes))
    return { why: 'its changes have to render the component around the region' };
  const nearest = scene.functions[0] === owner;
  if (nature === 'computed' && !nearest) return { why: 'it would be worked out anew in each turn of a loop' };
  if (nature === 'hook' && (!nearest || lifetime !== undefined))
    return { why: lifetime ?? 'the region is repeated', lost: declared[0]!.name };
  // A boundary is there to be narrow: what would bring more across than it takes away stays.
  const { brought, freed } = broughtAlong(scene, statement, { used: used(), goes, lifetime });
  if (nature !== 'hook' && brought.size > Math.max(1, freed.size))
    return { why: `${brought.size} more names would cross`, isTaste: true };
  return undefined;
}

/** What a person asked to go or to stay, and cannot. */
function goingTrouble(
  scene: Scene,
  {
    stays,
    along,
    moved,
    obstacles,
    staying,
  }: Going & {
    readonly moved: ReadonlySet<Declaration>;
    readonly obstacles: ReadonlyMap<string, Obstacle>;
    readonly staying: readonly Span[];
  },
): Problem | undefined {
  const at = { path: scene.request.file.path, span: scene.region };
  const known = new Set([...usedVariables(scene, moved, staying)].map((v) => v.name));
  const unknown = [...stays, ...along].find((name) => !known.has(name));
  if (unknown !== undefined) return problem('seam-stays', at, unknown);
  const gone = new Set([...moved].flatMap((statement) => variablesOf(scene, statement).map((v) => v.name)));
  const left = along.find((name) => !gone.has(name));
  return left === undefined
    ? undefined
    : problem('seam-along', at, left, obstacles.get(left)?.why ?? 'it is asked to stay as well');
}

interface Asked {
  readonly used: ReadonlySet<Variable>;
  readonly goes: (node: Node) => boolean;
  /** Why the region does not live as long as its host. */
  readonly lifetime: string | undefined;
}

/**
 * The names of the host that would have to cross if a statement moved and do not cross already, and those that would
 * then not have to: state that only the region and a function use goes along with that function.
 */
function broughtAlong(
  scene: Scene,
  statement: Node,
  asked: Asked,
  above: readonly Node[] = [],
): { readonly brought: Set<Variable>; readonly freed: Set<Variable> } {
  const { used, goes } = asked;
  const chain = [...above, statement];
  const inChain = (node: Node) => chain.some((s) => nodeWithin(node, spanOf(s)));
  const brought = new Set<Variable>();
  const freed = new Set<Variable>();
  for (const { resolved: variable } of scene.scopes.within(spanOf(statement))) {
    if (!variable || scene.scopes.isModuleLevel(variable) || variable.identifiers.some(inChain)) continue;
    const own = statementOf(variable);
    const alone =
      own &&
      variablesOf(scene, own).every((v) =>
        v.references.every((r) => goes(r.identifier) || inChain(r.identifier) || nodeWithin(r.identifier, spanOf(own))),
      );
    if (own && alone) {
      const more = broughtAlong(scene, own, asked, chain);
      for (const name of more.brought) brought.add(name);
      for (const name of more.freed) freed.add(name);
      if (canMove(scene, own, asked.lifetime))
        for (const name of variablesOf(scene, own)) if (used.has(name)) freed.add(name);
    } else if (!used.has(variable)) brought.add(variable);
  }
  return { brought, freed };
}

/** Whether a statement reads what its component changes in place while it is rendered: moved, it would read it later. */
function readsChanged(scene: Scene, statement: Node, owner: FunctionNode): boolean {
  const changed = changedWhileRendering(owner, scene.scopes);
  return changed.size > 0 && scene.scopes.within(spanOf(statement)).some((r) => r.resolved && changed.has(r.resolved));
}

/** State whose changes have to render the host: it reads what changes unseen, or nothing reads the state itself. */
function isForRendering(scene: Scene, statement: Node, owner: FunctionNode, goes: (node: Node) => boolean): boolean {
  const name = statement.type === 'VariableDeclaration' ? calleeName(statement.declarations[0].init!) : undefined;
  if (name !== 'useState' && name !== 'useReducer') return false;
  const pattern = statement.type === 'VariableDeclaration' ? statement.declarations[0].id : undefined;
  const value = pattern?.type === 'ArrayPattern' ? pattern.elements[0] : undefined;
  const variable = value?.type === 'Identifier' ? scene.scopes.variableOf(value) : undefined;
  const isRead =
    variable?.references.some((r) => r.isRead() && !nodeWithin(r.identifier, spanOf(statement))) ??
    value?.type === 'ObjectPattern';
  return !isRead || momentIn(owner, scene.scopes, (node) => !goes(node)) !== undefined;
}

/** Whether a statement is of a kind that goes along from where it stands. */
function canMove(
  scene: Scene,
  statement: TSESTree.VariableDeclaration | TSESTree.FunctionDeclaration,
  lifetime: string | undefined,
): boolean {
  const nature = natureOf(scene, statement);
  return nature === 'hook' ? lifetime === undefined : nature !== 'stays';
}

function stayNote(reason: string, names: readonly string[]): string {
  const list =
    names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]!} stay` : `${names[0]!} stays`;
  return `${list} in the host: ${reason}, and what is kept there would be lost`;
}

function usedVariables(scene: Scene, moved: Iterable<Node>, staying: readonly Span[]): Set<Variable> {
  const result = new Set<Variable>();
  for (const span of [scene.region, ...[...moved].map(spanOf)]) {
    for (const reference of scene.scopes.within(span)) {
      const variable = reference.resolved;
      if (!variable || scene.scopes.isModuleLevel(variable)) continue;
      if (staying.some((s) => nodeWithin(reference.identifier, s))) continue;
      result.add(variable);
    }
  }
  return result;
}

/** The declaring statement of a variable when it stands directly in a function body and declares nothing else. */
function statementOf(variable: Variable): TSESTree.VariableDeclaration | TSESTree.FunctionDeclaration | undefined {
  const definition = variable.defs.length === 1 ? variable.defs[0]! : undefined;
  if (definition?.type === 'FunctionName' && definition.node.type === 'FunctionDeclaration') return definition.node;
  if (definition?.type !== 'Variable') return undefined;
  const statement = definition.parent;
  return statement.declarations.length === 1 && statement.kind !== 'using' ? statement : undefined;
}

function functionOf(scene: Scene, statement: Node): FunctionNode | undefined {
  const block = scene.scopes.parentOf(statement);
  const owner = block?.type === 'BlockStatement' ? scene.scopes.parentOf(block) : undefined;
  return owner && isFunction(owner) ? owner : undefined;
}

function variablesOf(scene: Scene, statement: TSESTree.VariableDeclaration | TSESTree.FunctionDeclaration): Variable[] {
  const names: Node[] = [];
  if (statement.type === 'FunctionDeclaration') names.push(statement.id!);
  else {
    walk(statement.declarations[0].id, (node) => {
      if (node.type === 'Identifier') names.push(node);
      return node.type !== 'TSTypeAnnotation';
    });
  }
  return names
    .map((n) => scene.scopes.variableOf(n))
    .filter((v): v is Variable => v !== undefined && v.identifiers.some((id) => names.includes(id)));
}

/** Whether a name that a statement uses means something else where the region stands. */
function isHidden(scene: Scene, statement: Node): boolean {
  const here = scene.scopes.scopeAt(scene.region);
  return scene.scopes.within(spanOf(statement)).some((reference) => {
    const variable = reference.resolved && reference.resolved.defs.length > 0 ? reference.resolved : undefined;
    if (variable && scene.declaredIn(variable, [spanOf(statement)])) return false;
    return scene.scopes.visibleIn(here, (reference.identifier as TSESTree.Identifier).name) !== variable;
  });
}

function natureOf(scene: Scene, statement: TSESTree.VariableDeclaration | TSESTree.FunctionDeclaration): Nature {
  if (bound(scene, statement)) return 'stays';
  if (statement.type === 'FunctionDeclaration') return statement.generator ? 'stays' : 'function';
  const init = statement.declarations[0].init;
  if (!init) return 'stays';
  const value = bare(init);
  if (isFunction(value)) return 'function';
  const hook = calleeName(value);
  if (isHookName(hook)) return MOVABLE_HOOKS.has(hook!) ? 'hook' : 'stays';
  let nature = 'plain' as Nature;
  walk(value, (node) => {
    if (isFunction(node)) nature = nature === 'stays' ? nature : 'computed';
    if (
      node.type === 'AssignmentExpression' ||
      node.type === 'UpdateExpression' ||
      (node.type === 'UnaryExpression' && node.operator === 'delete')
    )
      nature = 'stays';
    if (
      node.type === 'CallExpression' ||
      node.type === 'NewExpression' ||
      node.type === 'TaggedTemplateExpression' ||
      node.type === 'ImportExpression'
    ) {
      if (nature !== 'stays') nature = isHookName(calleeName(node)) ? 'stays' : 'computed';
    }
    // Made anew it would be another object than the one that others compare it with.
    if ((node.type === 'ObjectExpression' || node.type === 'ArrayExpression' || isJsx(node)) && nature === 'plain')
      nature = 'computed';
    return nature !== 'stays';
  });
  if (nature === 'computed' && effectOf(value, scene.scopes, scene.opened) !== 'none') return 'stays';
  return nature !== 'plain' && IMPURE.test(scene.slice(value)) ? 'stays' : nature;
}

/** Whether a statement holds something that means another thing in another function, or reads what changes. */
function bound(scene: Scene, statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (['ThisExpression', 'Super', 'AwaitExpression', 'YieldExpression', 'MetaProperty'].includes(node.type))
      found = true;
    return !found;
  });
  return (
    found ||
    scene.scopes.within(spanOf(statement)).some((reference) => {
      const variable = reference.resolved;
      if (reference.identifier.type === 'Identifier' && reference.identifier.name === 'arguments') return true;
      if (!variable || scene.scopes.isModuleLevel(variable)) return false;
      return scene.scopes.isReassigned(variable) && !scene.declaredIn(variable, [spanOf(statement)]);
    })
  );
}

/** Undefined when the region lives exactly as long as the component that shows it, else why not. */
function lifetimeOf(scene: Scene): string | undefined {
  const root = scene.root;
  if (root?.type === 'JSXElement' && keyOf(root)) return 'the region has a key of its own';
  for (const node of scene.above) {
    if (node.type === 'JSXFragment') continue;
    if (node.type === 'JSXElement') {
      const name = node.openingElement.name;
      if (isComponentTag(name) && !/(^|\.)(Fragment|StrictMode)$/.test(tagName(name)))
        return `<${tagName(name)}> may remove it`;
      if (keyOf(node)) return 'an element around it has a key';
      continue;
    }
    if (node.type === 'JSXExpressionContainer') return 'the region is shown by an expression';
    if (node.type === 'ConditionalExpression' || node.type === 'LogicalExpression' || node.type === 'IfStatement')
      return 'the region is shown under a condition';
    if (bare(node) !== node) continue;
    if (isFunction(node))
      return node.body.type === 'BlockStatement' ? 'the region is shown by a function inside the component' : undefined;
    if (node.type === 'ReturnStatement') {
      const block = scene.scopes.parentOf(node);
      const owner = block && scene.scopes.parentOf(block);
      if (block?.type !== 'BlockStatement' || !owner || !isFunction(owner))
        return 'the region is shown under a condition';
      return returnsOf(owner) > 1 ? 'the component sometimes shows something else' : undefined;
    }
    return 'the region is held in a value first';
  }
  return 'the region stands outside every component';
}

function keyOf(node: TSESTree.JSXElement): boolean {
  return node.openingElement.attributes.some((a) => a.type === 'JSXAttribute' && a.name.name === 'key');
}

/** A component is asked for every region that is cut out of it. */
const returns = new WeakMap<FunctionNode, number>();

function returnsOf(fn: FunctionNode): number {
  const known = returns.get(fn);
  if (known !== undefined) return known;
  let count = 0;
  walk(fn.body, (node) => {
    if (node.type === 'ReturnStatement' || node.type === 'ThrowStatement') count++;
    return !isFunction(node);
  });
  returns.set(fn, count);
  return count;
}
