/**
 * Which declarations of the host go along with a region: functions, computed values and state that only the region uses
 * and that mean the same there. What reads a name of the host while it runs later, or changes one, stays: a prop is only
 * as fresh as the last rendering.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Going } from '../../../language/cutting.js';
import type { Markup } from '../../../markup/model.js';
import { childLists } from '../../../markup/walk.js';
import { problem, type Problem } from '../../../problems/problems.js';
import { worksOut } from '../../../script/effects.js';
import { KEPT } from '../../../script/literals.js';
import type { Node } from '../../../script/parser.js';
import type { Reference, Variable } from '../../../script/scopes.js';
import { bare, calleeName, isFunction, nodeWithin, runsNow, spanOf, walk, within } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import { keyName, propertyOf } from '../definition.js';
import { emitBinding } from '../body.js';
import { refsIn } from '../refs.js';
import { FILTER } from '../registered.js';
import { setupRefsOf } from '../setup-refs.js';
import { mustStay } from './events.js';
import { modelled } from './models.js';
import { CHANGING, isCalled, isOwn, writesInto } from './questions.js';
import { isCalledAtOnce, sendingAt } from './sent.js';
import { attributesIn, goes, isOuter, leaving, outletsIn, plainName, type Moved, type Scene } from './scene.js';
import { literally } from '../../../text/pattern.js';

const STATE = new Set(['ref', 'shallowRef', 'reactive', 'shallowReactive', KEPT]);

export interface Moves {
  readonly moved: readonly Moved[];
  /** For people: what could have gone along and why it stays. */
  readonly notes: readonly string[];
}

export function findMoves(scene: Scene): Moves | Problem {
  const { going } = scene.request;
  const all = candidatesIn(scene);
  const { scopes } = scene.lowered;
  const isWorkedOut = (one: Moved) => one.nature === 'derived' || worksOut(functionOf(one), scopes, () => undefined);
  const isKept = (one: Moved) =>
    one.variables.some((v) => going?.stays.includes(plainName(v))) || (going?.showing === true && !isWorkedOut(one));
  const candidates = all.filter((one) => !isKept(one));
  if (candidates.length === 0 && !going) return { moved: [], notes: [] };
  const lifetime = lifetimeOf(scene);
  const staying = new Map<string, string>();
  let grown = scene;
  for (let again = true; again;) {
    again = false;
    for (const candidate of candidates) {
      if (isIn(grown.moved, candidate) || !isUsed(grown, candidate)) continue;
      // A function and the state that it writes go together or not at all.
      const tied = tiedTo(grown, candidate, candidates);
      const group = goTogether(grown, [candidate]) ? [candidate] : together(grown, candidate, tied);
      if (!group) continue;
      const kept = group.filter((c) => c.nature === 'state');
      if (kept.length > 0 && lifetime !== undefined) {
        for (const state of kept) staying.set(plainName(state.variables[0]!), lifetime);
        continue;
      }
      grown = { ...grown, moved: [...grown.moved, ...group] };
      again = true;
    }
  }
  const trouble = going && goingTrouble(grown, going, all, staying);
  if (trouble) return trouble;
  const notes = [...new Set(staying.values())].map((reason) => {
    const names = [...staying].filter(([, why]) => why === reason).map(([name]) => name);
    const list =
      names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]!} stay` : `${names[0]!} stays`;
    return `${list} in the host: ${reason}, and what is kept there would be lost`;
  });
  return { moved: [...grown.moved].sort((a, b) => a.span.start - b.span.start), notes };
}

/** What a person asked to go or to stay, and cannot. */
function goingTrouble(
  scene: Scene,
  { stays, along }: Going,
  candidates: readonly Moved[],
  staying: ReadonlyMap<string, string>,
): Problem | undefined {
  const at = { path: scene.request.file.path, span: scene.region };
  const known = new Set(leaving(scene).flatMap((r) => (r.resolved ? plainName(r.resolved) : [])));
  const unknown = [...stays, ...along].find((name) => !known.has(name));
  if (unknown !== undefined) return problem('seam-stays', at, unknown);
  const isNamed = (name: string) => (one: Moved) => one.variables.some((v) => plainName(v) === name);
  const left = along.find((name) => !scene.moved.some(isNamed(name)));
  if (left === undefined) return undefined;
  const candidate = candidates.find(isNamed(left));
  const why = !candidate
    ? 'it is not declared by a statement of its own in the component'
    : stays.includes(left)
      ? 'it is asked to stay as well'
      : !onlyThere({ ...scene, moved: [...scene.moved, candidate] }, candidate)
        ? 'it is used outside of the region as well'
        : (staying.get(left) ?? 'it does something, waits, or depends on the place where it stands');
  return problem('seam-along', at, left, why);
}

function isIn(list: readonly Moved[], { span }: Moved): boolean {
  return list.some((m) => m.span.start === span.start);
}

/** The candidate with all those that it uses or that use it, and so on. */
function tiedTo(scene: Scene, candidate: Moved, candidates: readonly Moved[]): Moved[] {
  const { scopes } = scene.lowered;
  const uses = (one: Moved, other: Moved) =>
    scopes.within(one.span).some((r) => r.resolved !== null && other.variables.includes(r.resolved));
  const tied = [candidate];
  for (const one of tied)
    for (const other of candidates)
      if (!isIn(tied, other) && !isIn(scene.moved, other) && (uses(one, other) || uses(other, one))) tied.push(other);
  return tied;
}

/** As many of those that are tied to it as can go with a candidate; undefined where it has to stay itself. */
function together(scene: Scene, candidate: Moved, tied: readonly Moved[]): readonly Moved[] | undefined {
  let group = tied;
  for (;;) {
    const going = group.filter((c) => goesIn(scene, group, c));
    if (going.length === group.length) return group;
    if (!going.includes(candidate)) return undefined;
    group = going;
  }
}

function goTogether(scene: Scene, group: readonly Moved[]): boolean {
  return group.every((c) => goesIn(scene, group, c));
}

function goesIn(scene: Scene, group: readonly Moved[], candidate: Moved): boolean {
  const trial = { ...scene, moved: [...scene.moved, ...group] };
  return isUsed(trial, candidate) && onlyThere(trial, candidate) && meansTheSame(scene, trial, candidate);
}

function candidatesIn(scene: Scene): Moved[] {
  const { lowered } = scene;
  const { definition, scopes } = lowered;
  if (definition.api === 'options' && !isClosed(scene)) return [];
  const component = lowered.script.program.body.find((s) => s.type === 'ExportDefaultDeclaration')?.declaration;
  if (component?.type !== 'FunctionDeclaration') return [];
  const groups = (['computed', 'methods'] as const).map((option) => ({
    option,
    value: definition.options && propertyOf(definition.options, option),
  }));
  const shown = elementsIn(scene);
  return component.body.body.flatMap((node): Moved[] => {
    const span = spanOf(node);
    // The host reaches these elements through the new component, and what reads them stays beside that.
    if (shown.size > 0 && scopes.within(span).some((r) => r.resolved && shown.has(r.resolved.name))) return [];
    const variables = declaredBy(scene, node);
    const nature = natureOf(node);
    if (!nature || variables.length !== 1) return [];
    if (definition.api === 'setup') {
      const { setup } = scene.sfc;
      const own = variables[0]!.references.filter((r) => !r.init);
      // Written anywhere else than in its declaration, a function or a derived value is something that is kept.
      if (!setup || !within(span, setup.inner) || (nature !== 'state' && own.some((r) => r.isWrite()))) return [];
      return [{ span, option: undefined, nature, node, variables }];
    }
    const data = definition.options && propertyOf(definition.options, 'data');
    if (data && nature === 'state') return [{ span, option: 'data', nature, node, variables }];
    const group = groups.find(({ value }) => value?.type === 'ObjectExpression' && nodeWithin(node, spanOf(value)));
    const isDerived = group?.option === 'computed';
    if (!group || scopes.isReassigned(variables[0]!)) return [];
    return [{ span, option: group.option, nature: isDerived ? 'derived' : 'function', node, variables }];
  });
}

/** Refs of script setup to elements of the region. */
function elementsIn(scene: Scene): ReadonlySet<string> {
  const { setup } = scene.sfc;
  const { markup, definition } = scene.lowered;
  if (definition.api !== 'setup' || !setup) return new Set();
  const going = new Set(refsIn(markup).flatMap((ref) => (goes(scene, ref) ? [ref.name] : [])));
  return new Set(setupRefsOf(setup.script, markup).flatMap(({ name, key }) => (going.has(key) ? [name] : [])));
}

/** What an options component adds to itself can be reached by name in many ways; only where none of them is seen it is closed. */
function isClosed(scene: Scene): boolean {
  const { options } = scene.lowered.definition;
  if (!options || !scene.sfc.script) return false;
  if (['mixins', 'extends', 'setup', 'expose'].some((name) => propertyOf(options, name))) return false;
  let closed = options.properties.every((p) => p.type === 'Property');
  walk(options, (node) => {
    // `this[name]`, or `this` handed to somebody.
    if (node.type !== 'ThisExpression') return;
    const text = scene.text.slice(node.range[1]);
    if (!/^\s*(?:\?\.|\.|!\.)\s*[\w$]+/.test(text)) closed = false;
  });
  return closed;
}

function natureOf(node: Node): Moved['nature'] | undefined {
  if (node.type === 'FunctionDeclaration') return node.generator ? undefined : 'function';
  if (node.type !== 'VariableDeclaration' || node.declarations.length !== 1) return undefined;
  const [{ id, init }] = node.declarations;
  if (id.type !== 'Identifier' || !init) return undefined;
  const value = bare(init);
  if (isFunction(value)) return 'function';
  const callee = calleeName(value) ?? '';
  if (callee === 'computed')
    return value.type === 'CallExpression' && value.arguments.length === 1 ? 'derived' : undefined;
  if (callee === '$computed') return 'derived';
  return STATE.has(callee) ? 'state' : undefined;
}

function declaredBy(scene: Scene, node: Node): Variable[] {
  const names =
    node.type === 'FunctionDeclaration'
      ? [node.id]
      : node.type === 'VariableDeclaration'
        ? node.declarations.map((d) => d.id)
        : [];
  return names.flatMap((name) => (name ? (scene.lowered.scopes.variableOf(name) ?? []) : []));
}

/** By something else than itself: what nothing uses stays where it is. */
function isUsed(scene: Scene, { variables, span }: Moved): boolean {
  return leaving(scene).some((r) => variables.includes(r.resolved!) && !nodeWithin(r.identifier, span));
}

/** Code of the region that stays with the use: handlers that touch the host, and what slots show where nothing is passed in. */
function keptCode(scene: Scene): Span[] {
  const models = modelled(scene);
  const handlers = attributesIn(scene).flatMap(({ attribute }) =>
    attribute.kind === 'event' && attribute.code && mustStay(scene, attribute.code, models) ? [attribute.code] : [],
  );
  return [...handlers, ...outletsIn(scene).flatMap((outlet) => outlet.fallback ?? [])];
}

/** Every use is in what leaves, by name in the script as well. */
function onlyThere(scene: Scene, { variables, option, span }: Moved): boolean {
  const uses = variables.flatMap((v) => v.references);
  const kept = keptCode(scene);
  const isGone = (r: Reference) =>
    goes(scene, spanOf(r.identifier)) && !kept.some((span) => nodeWithin(r.identifier, span));
  if (!uses.every(isGone)) return false;
  const name = plainName(variables[0]!);
  const { text, sfc } = scene;
  // A watcher, a style or another file may ask for it by its name.
  if (
    sfc.styles.some((s) =>
      new RegExp(`v-bind\\([^)]*\\b${literally(name)}\\b`).test(text.slice(s.inner.start, s.inner.end)),
    )
  )
    return false;
  if (option === undefined) return true;
  const { options } = scene.lowered.definition;
  const watched = propertyOf(options!, 'watch');
  const isWatched =
    watched?.type === 'ObjectExpression' &&
    watched.properties.some((p) => p.type !== 'Property' || (keyName(p.key) ?? name).split('.')[0] === name);
  const quoted = new RegExp(`['"\`]${literally(name)}['"\`]`);
  const rest = text.slice(0, span.start) + text.slice(span.end);
  return !isWatched && !quoted.test(rest) && !isCalledFromOutside(scene, name);
}

/** `this.$refs.board.open()`: a component's methods can be called by whoever holds a ref to it. */
function isCalledFromOutside(scene: Scene, name: string): boolean {
  const { project, file } = scene.request;
  const call = new RegExp(`\\.\\s*${literally(name)}\\b`);
  return project.sources().some((path) => {
    const other = path === file.path ? undefined : project.files.read(path);
    return (
      other !== undefined &&
      'text' in other &&
      /\$refs\b|\bref\b|\$children\b|\$parent\b/.test(other.text) &&
      call.test(other.text)
    );
  });
}

/** Whether a declaration does in the new component what it did in the host. */
function meansTheSame(before: Scene, scene: Scene, candidate: Moved): boolean {
  const { scopes, definition } = scene.lowered;
  if (isBound(scene, candidate.node) || tellsOnly(scene, candidate)) return false;
  const models = modelled(scene);
  const crossing = new Set(leaving(before).flatMap((r) => (isOuter(scene, r.resolved) ? [r.resolved] : [])));
  const added = new Set<Variable>();
  let readsHost = false;
  for (const reference of scopes.within(spanOf(candidate.node))) {
    const { resolved: variable, identifier } = reference;
    const name = (identifier as TSESTree.Identifier).name;
    if (!variable || variable.defs.length === 0) {
      if (isOwn(scene, name) || name.startsWith(FILTER) || name === '$ref') return false;
      continue;
    }
    if (scopes.isModuleLevel(variable)) {
      // What stands at the top of the host's file stays there.
      if (!scopes.isImport(variable)) return false;
      continue;
    }
    if (!isOuter(scene, variable)) continue;
    // All props at once, or everything that can be sent, is the host's own.
    if (name === definition.propsLocal || name === definition.emitLocal) return false;
    if (models.has(variable)) return false;
    if (candidate.nature === 'function' && sendingAt(scene, reference)) {
      if (!candidate.variables.every((v) => isCalledAtOnce(scene, v))) return false;
      if (!crossing.has(variable)) added.add(variable);
      continue;
    }
    if (name.startsWith(emitBinding(''))) return false;
    if (reference.isWrite() || writesInto(scene, identifier) || changes(scene, identifier)) return false;
    // Only what is known to be a ref is unwrapped on its way into a prop.
    const parent = scopes.parentOf(identifier);
    if (parent?.type === 'MemberExpression' && keyName(parent.property) === 'value') return false;
    readsHost = true;
    if (!crossing.has(variable)) added.add(variable);
  }
  // A boundary is there to be narrow: what would bring more across than it takes away stays.
  const others = scene.moved.filter((m) => m !== candidate && !isIn(before.moved, m)).flatMap((m) => m.variables);
  const isAsked = candidate.variables.some((v) => scene.request.going?.along.includes(plainName(v)));
  if (!isAsked && added.size > Math.max(1, readIn(before, others).size)) return false;
  return !readsHost || rendersOnly(scene, candidate);
}

/** What of some values the region reads: `draft.who` and `draft.notes` would cross apart. */
function readIn(scene: Scene, variables: readonly Variable[]): Set<string> {
  return new Set(
    leaving(scene, scene.region)
      .filter((r) => variables.includes(r.resolved!))
      .map(({ identifier }) => /^[\w$]+(?:\.[\w$]+)?/.exec(scene.text.slice(identifier.range[0]))?.[0] ?? ''),
  );
}

/** A function that does one thing to the host and nothing else is what the host does when it is told. */
function tellsOnly(scene: Scene, candidate: Moved): boolean {
  const fn = candidate.nature === 'function' ? functionOf(candidate) : undefined;
  if (!fn || !isFunction(fn)) return false;
  const statement = fn.body.type === 'BlockStatement' && fn.body.body.length === 1 ? fn.body.body[0]! : undefined;
  return (
    statement !== undefined &&
    scene.lowered.scopes
      .within(spanOf(statement))
      .some(
        (r) =>
          isOuter(scene, r.resolved) &&
          statement.type === 'ExpressionStatement' &&
          sendingAt(scene, r)?.call === statement.expression,
      )
  );
}

/** Calls what a name holds, or a method of it that changes it. */
function changes(scene: Scene, identifier: Node): boolean {
  const parent = scene.lowered.scopes.parentOf(identifier);
  if (parent?.type === 'CallExpression') return parent.callee === identifier;
  if (parent?.type !== 'MemberExpression' || parent.object !== identifier || !isCalled(scene, identifier)) return false;
  return parent.property.type !== 'Identifier' || CHANGING.has(parent.property.name);
}

/** `this` and the like that would mean another thing elsewhere; with options, `this.$t` means the same everywhere. */
function isBound(scene: Scene, node: Node): boolean {
  const options = scene.lowered.definition.api === 'options';
  let found = false;
  walk(node, (n) => {
    if (['Super', 'AwaitExpression', 'YieldExpression', 'MetaProperty'].includes(n.type)) found = true;
    if (n.type === 'ThisExpression' && !options) found = true;
    if (n.type === 'MemberExpression' && n.object.type === 'ThisExpression') {
      const key = n.property.type === 'Identifier' ? n.property.name : '';
      // What nobody declares here a mixin may.
      if (!/^\$/.test(key) || isOwn(scene, key)) found = true;
    }
    return !found;
  });
  return found;
}

/** Whether all uses run while the component renders, so that what they read is what was handed over last. */
function rendersOnly(scene: Scene, candidate: Moved, above: readonly Moved[] = []): boolean {
  const later = attributesIn(scene).flatMap(({ attribute }) =>
    attribute.kind === 'event' || attribute.kind === 'two-way' || attribute.kind === 'ref'
      ? (attribute.code ?? [])
      : [],
  );
  const isNow = ({ identifier }: Reference): boolean => {
    if (later.some((code) => nodeWithin(identifier, code))) return false;
    const by = scene.moved.find((m) => nodeWithin(identifier, m.span));
    const own = by?.nature === 'function' ? functionOf(by) : undefined;
    if (own && !rendersOnly(scene, by!, [...above, candidate])) return false;
    return scene.lowered.scopes
      .ancestorsOf(identifier)
      .filter((n) => nodeWithin(n, by?.span ?? scene.region) && isFunction(n) && n !== own)
      .every((fn) => by?.nature === 'derived' || runsNow(fn, scene.lowered.scopes.parentOf(fn)));
  };
  if (above.includes(candidate)) return true;
  const uses = candidate.variables.flatMap((v) => v.references).filter((r) => !r.init);
  // Handed on as a value it may be called at any time.
  return uses.every((r) => isNow(r) && (candidate.nature === 'derived' || isCalled(scene, r.identifier)));
}

function functionOf({ node }: Moved): Node | undefined {
  if (node.type === 'FunctionDeclaration') return node;
  return node.type === 'VariableDeclaration' ? bare(node.declarations[0].init!) : undefined;
}

/** Undefined where the region lives exactly as long as the component that shows it, else why not. */
function lifetimeOf(scene: Scene): string | undefined {
  if (scene.stays.some((s) => /^(?:v-if|v-else)/.test(scene.text.slice(s.start, s.end))))
    return 'the region is shown under a condition';
  if (scene.stays.length > 0) return 'the region is repeated, or has a key of its own';
  const above = aboveOf(scene.lowered.markup, scene.region);
  for (const node of above ?? []) {
    if (node.kind === 'branch') return 'the region is shown under a condition';
    if (node.kind === 'loop') return 'the region is repeated';
    if (node.kind === 'element' && node.component) return `<${node.name}> may remove it`;
    if (node.kind === 'element' && node.attributes.some((a) => a.kind === 'key'))
      return 'an element around it has a key';
    if (node.kind !== 'element' && node.kind !== 'fragment') return 'the region is not always shown';
  }
  return undefined;
}

function aboveOf(nodes: readonly Markup[], region: Span): Markup[] | undefined {
  for (const node of nodes) {
    if (within(node, region) || node.start > region.start || node.end < region.end) continue;
    for (const list of childLists(node)) {
      if (list.some((child) => within(child, region))) return [node];
      const deeper = aboveOf(list, region);
      if (deeper) return [node, ...deeper];
    }
  }
  return undefined;
}
