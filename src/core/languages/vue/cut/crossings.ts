/**
 * Everything that crosses the boundary of a region of a Vue template. What is read is a prop. What changes something of
 * the host stays with the host: a handler becomes an event with the names that the region binds as its arguments, a
 * two-way binding a model, an outlet an outlet of the new component that the host fills with its own.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Attribute, ElementNode } from '../../../markup/model.js';
import { problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import type { Crossed } from '../../../steps/cutting.js';
import type { Reference, Variable } from '../../../script/scopes.js';
import { bare, isFunction, nodeWithin, spanOf, walk, within } from '../../../script/walk.js';
import { applyEdits, type Span } from '../../../text/edits.js';
import { keysOf, pascal, propertyOf } from '../definition.js';
import { emitBinding } from '../lower.js';
import { camelized } from '../markup.js';
import { eventName } from './event-names.js';
import {
  attributesIn,
  boundIn,
  goes,
  isInner,
  isOuter,
  leaving,
  outletsIn,
  plainName,
  staying,
  tagAt,
  type Scene,
} from './scene.js';

export interface Crossing {
  readonly kind: 'prop' | 'event' | 'model' | 'slot';
  /** What the interface of the new component calls it. */
  readonly name: string;
  /** What the use passes, in the host's terms. */
  readonly value: string;
  /** Names that the region binds and an event hands out: its arguments. */
  readonly args: readonly Argument[];
  /** An event hands on what it was given itself: the event object, all that a component gave, or what the host names. */
  readonly event: 'none' | 'one' | 'all' | 'named';
  /** Expression of the host whose type it has. */
  readonly typed: Span | undefined;
  readonly variable: Variable | undefined;
  /** In the text of the region: what stands there once the interface has its names. */
  readonly sites: { readonly span: Span; readonly text: (name: string) => string }[];
  /** Slots: what the outlet hands to its content. */
  readonly scoped?: boolean;
  /** Set for what differs between places that become one. */
  readonly given?: Crossed;
  /** An event: the code that the host keeps. */
  readonly code?: Span;
}

/** A name that an event hands out, and where the region reads it. */
export interface Argument {
  readonly variable: Variable;
  readonly span: Span;
}

export interface Boundary {
  /** Code of the region that stays with the host. */
  readonly kept: readonly Span[];
  readonly crossings: readonly Crossing[];
  /** Imported or declared at the top of the module, and used by the region. */
  readonly moduleLevel: readonly Variable[];
  readonly notes: readonly string[];
}

/** Members of an instance that mean another thing in another component. */
const OWN = new Set(
  '$attrs $slots $scopedSlots $listeners $refs $el $parent $children $props $data $options $emit'.split(' '),
);

export function findCrossings(scene: Scene): Boundary | Problem {
  const found = new Map<string, Crossing>();
  const notes: string[] = [];
  const taken: Span[] = [];
  const add: Add = (key, draft, site) => {
    const known = found.get(key);
    if (known) known.sites.push(site);
    else found.set(key, { ...draft, sites: [site] });
  };
  const fallbacks = outletsIn(scene).flatMap((outlet) => outlet.fallback ?? []);
  const models = modelled(scene);
  for (const { attribute, element } of attributesIn(scene)) {
    if (fallbacks.some((node) => within(attribute, node))) continue;
    const trouble = refuseAttribute(scene, attribute);
    if (trouble) return trouble;
    // What differs between places as a whole is an input already.
    if (scene.request.inputs?.some((input) => input.slot && input.stays.some((s) => within(attribute, s)))) continue;
    if (attribute.kind === 'event' && attribute.code && mustStay(scene, attribute.code, models)) {
      const crossing = liftedEvent(scene, attribute, element, found);
      add(crossing.key, crossing.draft, crossing.site);
      taken.push(attribute.code);
    } else if (attribute.kind === 'two-way' && attribute.code) {
      const model = crossingModel(scene, attribute, notes);
      if (!model) continue;
      if ('code' in model) return model;
      add(model.key, model.draft, model.site);
      taken.push(attribute.code);
    }
  }
  for (const outlet of outletsIn(scene)) {
    const crossing = crossingSlot(scene, outlet);
    if ('code' in crossing) return crossing;
    const other = [...found].find(([key, c]) => c.kind === 'slot' && c.name === outlet.name && key !== crossing.key);
    if (other)
      return problem('region-outlet', {
        path: scene.request.file.path,
        span: { start: outlet.start, end: outlet.end },
      });
    add(crossing.key, crossing.draft, crossing.site);
    taken.push(...crossing.taken);
  }
  const inputs = (scene.request.inputs ?? []).filter(
    (input) => !input.sites.every(({ span }) => taken.some((t) => within(span, t))),
  );
  for (const input of inputs) {
    for (const { span, write } of input.sites.filter((s) => !taken.some((t) => within(s.span, t))))
      add(`input ${input.name}`, inputCrossing(input), { span, text: write });
    taken.push(...input.stays);
  }
  const self = scene.elements.length > 0 ? thisIn(scene) : undefined;
  if (self) return problem('region-this', { path: scene.request.file.path, span: self });
  const moduleLevel = new Set<Variable>();
  for (const reference of leaving(scene)) {
    const { identifier } = reference;
    if (taken.some((span) => nodeWithin(identifier, span))) continue;
    const variable = reference.resolved;
    const name = (identifier as TSESTree.Identifier).name;
    const at = { path: scene.request.file.path, span: spanOf(identifier) };
    if (!variable || variable.defs.length === 0) {
      if (OWN.has(name) && !addOutletCheck(scene, add, identifier)) return problem('region-instance', at, name);
      continue;
    }
    if (isInner(scene, variable) || !reference.isValueReference) continue;
    if (scene.lowered.scopes.isModuleLevel(variable)) {
      moduleLevel.add(variable);
      if (isDeclaredHere(scene, variable)) addValue(scene, add, variable, identifier);
      continue;
    }
    if (name.startsWith(emitBinding(''))) return problem('region-instance', at, `$emit('${name.slice(5)}')`);
    if (identifier.type === 'JSXIdentifier') return problem('region-component', at, name);
    if (!models.has(variable) && (reference.isWrite() || writesInto(scene, identifier)))
      return problem('region-assigns', at, plainName(variable));
    addValue(scene, add, variable, identifier);
  }
  mergeModels(found);
  return { kept: taken, crossings: apart(scene, inOrder([...found.values()])), moduleLevel: [...moduleLevel], notes };
}

/** Every prop and model by a name of its own, and none that the region binds itself where it stands for another. */
function apart(scene: Scene, crossings: readonly Crossing[]): Crossing[] {
  const inner = boundIn(scene);
  const isNatural = ({ name, sites, given }: Crossing) =>
    given !== undefined || sites.every(({ span }) => camelized(scene.text.slice(span.start, span.end)) === name);
  const taken = new Set<string>();
  const names = new Map<Crossing, string>();
  const passed = crossings.filter((c) => c.kind === 'prop' || c.kind === 'model');
  for (const crossing of [...passed.filter(isNatural), ...passed.filter((c) => !isNatural(c))]) {
    const isFree = (name: string) => !taken.has(name) && (isNatural({ ...crossing, name }) || !inner.has(name));
    const tries = [crossing.name, `${crossing.name}Value`, ownName(crossing)];
    const name = tries.find(isFree) ?? numbered(crossing.name, isFree);
    taken.add(name);
    names.set(crossing, name);
  }
  return crossings.map((c) => ({ ...c, name: names.get(c) ?? c.name }));
}

function ownName({ name }: Crossing): string {
  return `own${name[0]!.toUpperCase()}${name.slice(1)}`;
}

function numbered(name: string, isFree: (name: string) => boolean): string {
  for (let i = 2; ; i++) if (isFree(`${name}${i}`)) return `${name}${i}`;
}

/** What is bound both ways is read by its model as well. */
function mergeModels(found: Map<string, Crossing>): void {
  for (const model of [...found.values()].filter((c) => c.kind === 'model' && c.variable)) {
    const key = `value ${model.variable!.$id}`;
    const read = found.get(key);
    if (!read) continue;
    model.sites.push(...read.sites);
    found.delete(key);
  }
}

/** Declared at the top of the host's module, rather than imported: handed over as a value. */
function isDeclaredHere(scene: Scene, variable: Variable): boolean {
  return !scene.lowered.scopes.isImport(variable) && variable.name !== scene.lowered.name;
}

/** `$slots.title` where it is only asked whether there is one: the host knows that best. */
function addOutletCheck(scene: Scene, add: Add, identifier: Node): boolean {
  const member = scene.lowered.scopes.parentOf(identifier);
  const { name } = identifier as TSESTree.Identifier;
  if (!/^\$(?:scopedS|s)lots$/.test(name) || member?.type !== 'MemberExpression' || member.object !== identifier)
    return false;
  if (member.computed || member.property.type !== 'Identifier' || isCalled(scene, member)) return false;
  const span = spanOf(member);
  const value = scene.text.slice(span.start, span.end);
  const draft = {
    kind: 'prop',
    name: `${member.property.name}Slot`,
    value,
    args: [],
    event: 'none',
    typed: undefined,
    variable: undefined,
  } as const;
  add(`own ${value}`, draft, { span, text: (prop) => prop });
  return true;
}

type Add = (key: string, draft: Omit<Crossing, 'sites'>, site: Crossing['sites'][number]) => void;

function addValue(scene: Scene, add: Add, variable: Variable, identifier: Node): void {
  const name = plainName(variable);
  const span = spanOf(identifier);
  const draft = {
    kind: 'prop',
    name: propName(name),
    value: camelized(scene.text.slice(span.start, span.end)),
    args: [],
    event: 'none',
    typed: span,
    variable,
  } as const;
  add(`value ${variable.$id}`, draft, { span, text: (prop) => renamed(scene, identifier, prop) });
}

const RESERVED: Record<string, string> = {
  key: 'itemKey',
  ref: 'innerRef',
  class: 'className',
  style: 'innerStyle',
  is: 'shown',
  slot: 'slotName',
};

function propName(name: string): string {
  return RESERVED[name] ?? name.replace(/^\$+/, '');
}

/** A name in the text of the region; where it is short for a property it is written out. */
function renamed(scene: Scene, identifier: Node, prop: string): string {
  const parent = scene.lowered.scopes.parentOf(identifier);
  const written = scene.text.slice(...identifier.range);
  if (prop === camelized(written)) return written;
  if (parent?.type === 'Property' && parent.shorthand) return `${written}: ${prop}`;
  // `:hive` alone is `:hive="hive"`.
  const holder = parent?.type === 'JSXExpressionContainer' ? scene.lowered.scopes.parentOf(parent) : undefined;
  const whole = holder?.type === 'JSXAttribute' && /^[\s/>]/.test(scene.text.slice(identifier.range[1]));
  return whole ? `${written}="${prop}"` : prop;
}

function inOrder(crossings: Crossing[]): Crossing[] {
  const rank = { prop: 0, model: 1, event: 2, slot: 3 };
  const first = (c: Crossing) => Math.min(...c.sites.map((s) => s.span.start));
  return crossings.sort((a, b) => rank[a.kind] - rank[b.kind] || first(a) - first(b));
}

function refuseAttribute(scene: Scene, attribute: Attribute): Problem | undefined {
  const at = { path: scene.request.file.path, span: { start: attribute.start, end: attribute.end } };
  if (attribute.kind === 'directive' && isLocalDirective(scene, attribute.name))
    return problem('region-directive', at, attribute.name);
  if (attribute.kind !== 'ref' || attribute.text === undefined) return undefined;
  const name = attribute.text;
  const scripts = [scene.sfc.script, scene.sfc.setup].map((block) =>
    block ? scene.text.slice(block.inner.start, block.inner.end) : '',
  );
  const asked = new RegExp(`\\$refs\\b|useTemplateRef|getCurrentInstance|\\b${name.replace(/[^\w]/g, '\\$&')}\\b`);
  return scripts.some((script) => asked.test(script)) ? problem('region-ref', at, name) : undefined;
}

function inputCrossing(given: Crossed): Omit<Crossing, 'sites'> {
  const kind = given.slot ? 'slot' : given.event ? 'event' : 'prop';
  return {
    kind,
    name: given.name,
    value: given.value,
    args: [],
    event: 'none',
    typed: undefined,
    variable: undefined,
    given,
  };
}

/** A directive that the host declares or registers for itself. */
function isLocalDirective(scene: Scene, attribute: string): boolean {
  const name = /^v-([\w-]+)/.exec(attribute)?.[1] ?? '';
  const local = `v${pascal(name)}`;
  if (scene.lowered.definition.members.some((m) => m.name === local)) return true;
  if (scene.lowered.definition.components.has(pascal(local))) return true;
  const { options } = scene.lowered.definition;
  const registered = options && propertyOf(options, 'directives');
  return Boolean(registered && keysOf(registered).some((key) => pascal(key.name) === pascal(name)));
}

// What stays with the host

/** Names of the host that the region binds both ways: the new component can change them by itself. */
function modelled(scene: Scene): Set<Variable> {
  const found = new Set<Variable>();
  for (const { attribute } of attributesIn(scene)) {
    if (attribute.kind !== 'two-way' || !attribute.code || attribute.code.syntax.type !== 'Identifier') continue;
    const variable = leaving(scene, attribute.code)[0]?.resolved;
    if (variable && isOuter(scene, variable)) found.add(variable);
  }
  return found;
}

/** Whether code that runs later changes something of the host, calls it, or reads what may have changed by then. */
function mustStay(scene: Scene, code: Span, models: ReadonlySet<Variable>): boolean {
  return leaving(scene, code).some((reference) => {
    const variable = reference.resolved;
    const { identifier } = reference;
    if (!variable || variable.defs.length === 0) return OWN.has((identifier as TSESTree.Identifier).name);
    if (isInner(scene, variable)) return false;
    if (scene.lowered.scopes.isModuleLevel(variable)) return isDeclaredHere(scene, variable) && reference.isWrite();
    // What a model was set to is known to its owner first: reading it again stays there.
    if (models.has(variable)) return !reference.isWriteOnly();
    if (variable.name.startsWith(emitBinding(''))) return true;
    if (reference.isWrite() || writesInto(scene, identifier) || isCalled(scene, identifier)) return true;
    if (scene.lowered.scopes.isReassigned(variable)) return true;
    return spanOf(identifier).start === code.start && spanOf(identifier).end === code.end;
  });
}

/** `form.name = …`, `count++`, `delete form.name`: what hangs on a name is changed. */
function writesInto(scene: Scene, identifier: Node): boolean {
  let node = identifier;
  for (let parent = scene.lowered.scopes.parentOf(node); parent; parent = scene.lowered.scopes.parentOf(node)) {
    if (parent.type === 'MemberExpression' && parent.object === node) node = parent;
    else if (bare(parent) !== parent || parent.type === 'ChainExpression') node = parent;
    else
      return (
        (parent.type === 'AssignmentExpression' && parent.left === node) ||
        parent.type === 'UpdateExpression' ||
        (parent.type === 'UnaryExpression' && parent.operator === 'delete')
      );
  }
  return false;
}

/** Called, by itself or by a method of it. */
function isCalled(scene: Scene, identifier: Node): boolean {
  let node = identifier;
  for (let parent = scene.lowered.scopes.parentOf(node); parent; parent = scene.lowered.scopes.parentOf(node)) {
    if (parent.type === 'CallExpression') return parent.callee === node;
    if (parent.type !== 'ChainExpression' && (parent.type !== 'MemberExpression' || parent.object !== node))
      return false;
    node = parent;
  }
  return false;
}

interface Found {
  readonly key: string;
  readonly draft: Omit<Crossing, 'sites'>;
  readonly site: Crossing['sites'][number];
}

export function liftedEvent(
  scene: Scene,
  attribute: Attribute,
  element: ElementNode,
  known: ReadonlyMap<string, Crossing>,
): Found {
  const code = attribute.code!;
  const { text } = scene;
  const source = text.slice(code.start, code.end).trim();
  const fn = isFunction(code.syntax) && code.syntax.range[0] <= code.start ? code.syntax : undefined;
  const written = isFunction(bare(code.syntax)) && !isMade(code.syntax);
  const inner = leaving(scene, code).flatMap((r) =>
    r.resolved && innerOutside(scene, r, code) ? [{ variable: r.resolved, span: spanOf(r.identifier) }] : [],
  );
  const args = inner.filter((a, i) => inner.findIndex((b) => b.variable === a.variable) === i);
  const usesEvent = /(?<![\w.])\$event\b/.test(source);
  const native = !element.component && element.name !== 'component';
  const path = !fn && !written;
  const params = written ? (bare(code.syntax) as TSESTree.ArrowFunctionExpression).params : [];
  const event = handedOn({ params, written, usesEvent, path, native });
  const value = hostHandler(scene, source, args, event, { written, path, usesEvent });
  const names = new Set([...known.values()].flatMap((c) => [c.name]));
  const key = `event ${source} ${args.map((a) => a.variable.$id).join()} ${event}`;
  const name = known.get(key)?.name ?? eventName(code.syntax, attribute, element, names);
  const named = params.map((p) =>
    text
      .slice(...p.range)
      .replace(/[:=][\s\S]*$/, '')
      .trim(),
  );
  const argument = { none: [], one: ['$event'], all: ['...args'], named }[event];
  const emitted = (as: string) =>
    `$emit('${as}'${[...args.map((a) => a.variable.name), ...argument].map((a) => `, ${a}`).join('')})`;
  return {
    key,
    draft: { kind: 'event', name, value, args, event, typed: undefined, variable: undefined, code },
    site: {
      span: code,
      text: (as) => (event === 'all' || event === 'named' ? `(${argument.join(', ')}) => ${emitted(as)}` : emitted(as)),
    },
  };
}

/** What the new component hands on of what it is given: a name alone takes all that there is. */
function handedOn(form: {
  readonly params: readonly Node[];
  readonly written: boolean;
  readonly usesEvent: boolean;
  readonly path: boolean;
  readonly native: boolean;
}): Crossing['event'] {
  const { params } = form;
  if (form.written && params.length === 0) return 'none';
  if (form.written) return params.length === 1 && params[0]!.type === 'Identifier' ? 'one' : 'named';
  if (form.usesEvent || (form.path && form.native)) return 'one';
  return form.path ? 'all' : 'none';
}

/** A function that only the lowering made: the author wrote statements. */
function isMade(node: Node): boolean {
  return 'native' in node;
}

/** Bound by the region, outside of the code that uses it. */
function innerOutside(scene: Scene, { resolved }: Reference, code: Span): boolean {
  if (!resolved || resolved.name === '$event' || resolved.name === '$more') return false;
  return isInner(scene, resolved) && !resolved.identifiers.some((id) => within(spanOf(id), code));
}

/** What the host runs: its own text, as a function of what the event hands out. */
function hostHandler(
  scene: Scene,
  source: string,
  args: readonly Argument[],
  event: Crossing['event'],
  form: { readonly written: boolean; readonly path: boolean; readonly usesEvent: boolean },
): string {
  const names = args.map((a) => a.variable.name);
  if (names.length === 0) return source;
  const call = /^([A-Za-z_$][\w$]*)\(([^()]*)\)$/.exec(source);
  const given = [...names, ...(form.usesEvent ? ['$event'] : [])];
  // `remove(hive)` is `remove`, given just that.
  if (
    call &&
    !form.written &&
    call[2]!
      .split(',')
      .map((a) => a.trim())
      .join() === given.join() &&
    isFunctionName(scene, call[1]!)
  )
    return call[1]!;
  if (form.written) return withArguments(source, names);
  if (form.path)
    return `(${[...names, event === 'all' ? '...args' : '$event'].join(', ')}) => ${source}(${event === 'all' ? '...args' : '$event'})`;
  const params = given.length === 1 ? given[0]! : `(${given.join(', ')})`;
  const statements = /;\s*\S|^\s*(?:if|for|while|const|let|return|switch)\b/.test(source);
  return `${given.length === 1 && /^[\w$]+$/.test(params) ? `(${params})` : params} => ${statements ? `{ ${source} }` : /^\s*\{/.test(source) ? `(${source})` : source}`;
}

/** A function as written, with arguments put in front of its own. */
function withArguments(source: string, names: readonly string[]): string {
  const bare = /^(async\s+)?([\w$]+)(\s*=>[\s\S]*)$/.exec(source);
  if (bare) return `${bare[1] ?? ''}(${[...names, bare[2]!].join(', ')})${bare[3]!}`;
  const open = source.indexOf('(') + 1;
  const rest = source.slice(open);
  return source.slice(0, open) + names.join(', ') + (rest.trimStart().startsWith(')') ? '' : ', ') + rest;
}

/** Whether the host has a function of that name, which takes no notice of arguments beyond its own. */
function isFunctionName(scene: Scene, name: string): boolean {
  return scene.lowered.definition.members.some((m) => m.name === name && m.kind === 'handler');
}

function crossingModel(scene: Scene, attribute: Attribute, notes: string[]): Found | Problem | undefined {
  const code = attribute.code!;
  const references = leaving(scene, code);
  const outer = references.filter((r) => isOuter(scene, r.resolved));
  const inner = references.some((r) => r.resolved && isInner(scene, r.resolved));
  if (outer.length === 0) {
    if (inner)
      notes.push(
        `\`${scene.text.slice(code.start, code.end)}\` is bound both ways and changes an entry of a list that is passed in`,
      );
    return undefined;
  }
  const at = { path: scene.request.file.path, span: { start: code.start, end: code.end } };
  const expression = bare(code.syntax);
  if (inner || (expression.type !== 'Identifier' && expression.type !== 'MemberExpression'))
    return problem('region-model', at, scene.text.slice(code.start, code.end));
  const value = scene.text.slice(code.start, code.end).trim();
  const key = `model ${value}`;
  const last = expression.type === 'Identifier' ? plainOf(expression.name) : memberName(expression);
  const name = propName(last ?? 'value');
  return {
    key,
    draft: {
      kind: 'model',
      name,
      value,
      args: [],
      event: 'none',
      typed: code,
      variable: expression.type === 'Identifier' ? outer[0]!.resolved! : undefined,
    },
    site: { span: { start: code.start, end: code.end }, text: (as) => as },
  };
}

function plainOf(name: string): string {
  return name.replace(/^(?:this|props)\./, '');
}

function memberName(node: TSESTree.MemberExpression): string | undefined {
  if (!node.computed && node.property.type === 'Identifier') return node.property.name;
  return node.property.type === 'Literal' && /^[A-Za-z_]\w*$/.test(String(node.property.value))
    ? String(node.property.value)
    : undefined;
}

function crossingSlot(
  scene: Scene,
  outlet: ReturnType<typeof outletsIn>[number],
): (Found & { readonly taken: readonly Span[] }) | Problem {
  const { start, end } = outlet;
  const at = { path: scene.request.file.path, span: { start, end } };
  const tag = tagAt(scene.sfc.shown, start);
  const first = outlet.fallback?.[0];
  const fallback = first && { start: first.start, end: outlet.fallback[outlet.fallback.length - 1]!.end };
  const bindsOutside = (r: Reference) =>
    r.resolved && isInner(scene, r.resolved) && !r.resolved.identifiers.some((id) => within(spanOf(id), fallback!));
  if (!tag || (fallback && leaving(scene, fallback).some(bindsOutside))) return problem('region-outlet', at);
  // What is handed out, and whether the outlet is there at all, is known where it stands; the rest is the host's.
  const given = outlet.attributes ?? [];
  const leaves = [...given, ...staying(tag)].sort((a, b) => a.start - b.start);
  const opening = /^<[^\s/>]+/.exec(scene.text.slice(start, end))![0].length;
  const edits = leaves.map((span, i) => {
    let from = span.start;
    while (/\s/.test(scene.text[from - 1]!)) from--;
    return {
      start: from - start,
      end: span.end - start,
      text: i === 0 && given.length > 0 ? ' v-bind="slotProps"' : '',
    };
  });
  const head = tagEnd(scene.text, start + opening);
  return {
    key: `slot ${outlet.name} ${fallback ? scene.text.slice(fallback.start, fallback.end) : ''}`,
    draft: {
      kind: 'slot',
      name: outlet.name,
      value: applyEdits(scene.text.slice(start, end), edits),
      args: [],
      event: 'none',
      typed: undefined,
      variable: undefined,
      scoped: given.length > 0,
    },
    site: { span: { start: head, end }, text: () => ' />' },
    taken: [{ start, end: start + 1 }, ...(fallback ? [fallback] : [])],
  };
}

/** Where the attributes of a tag end, white space before its bracket left out. */
function tagEnd(text: string, from: number): number {
  const rest = /^(?:[^>"']|"[^"]*"|'[^']*')*/.exec(text.slice(from))![0];
  return from + rest.replace(/[\s/]+$/, '').length;
}

/** A `this` in the region: what it means in a template depends on where it stands. */
function thisIn(scene: Scene): Span | undefined {
  let found: Span | undefined;
  for (const statement of scene.lowered.script.program.body) {
    if (statement.type !== 'ExportDefaultDeclaration' || statement.declaration.type !== 'FunctionDeclaration') continue;
    const shown = statement.declaration.body.body.at(-1);
    if (shown)
      walk(shown, (node) => {
        if (node.type === 'ThisExpression' && goes(scene, spanOf(node))) found ??= spanOf(node);
      });
  }
  return found;
}
