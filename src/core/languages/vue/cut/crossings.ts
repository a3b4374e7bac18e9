/**
 * Everything that crosses the boundary of a region of a Vue template. What is read is a prop. What changes something of
 * the host stays with the host: a handler becomes an event with the names that the region binds as its arguments, a
 * two-way binding a model, an outlet an outlet of the new component that the host fills with its own.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Attribute, ElementNode } from '../../../markup/model.js';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import type { Crossed } from '../../../language/cutting.js';
import type { Variable } from '../../../script/scopes.js';
import { nodeWithin, spanOf, walk, within } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import { keysOf, pascal, propertyOf } from '../definition.js';
import { hasBases, basesOf, OF_PLUGINS, registersDirective, says, type Bases } from '../bases.js';
import { emitBinding } from '../body.js';
import { directiveName, FILTER, registeredBy } from '../registered.js';
import { camelized } from '../markup.js';
import { refBinding } from '../refs.js';
import { propName, type Add, type Crossing } from './crossing.js';
import { vueOf } from './habits.js';
import { liftedEvent, mustStay } from './events.js';
import { crossingRefs, goesAlong, readOfRef, type CrossingRefs } from './refs.js';
import { crossingModel, mergeModels, modelled } from './models.js';
import { isDeclaredHere, isOwn, isTranslated, writesInto } from './questions.js';
import { attributesIn, boundIn, goes, isInner, leaving, outletsIn, plainName, type Scene } from './scene.js';
import { sendingAt, sentEvent } from './sent.js';
import { addOutletCheck, crossingSlot, keepsFallback } from './slots.js';
import { literally } from '../../../text/pattern.js';

export interface Boundary {
  /** Code of the region that stays with the host. */
  readonly kept: readonly Span[];
  readonly crossings: readonly Crossing[];
  /** Imported or declared at the top of the module, and used by the region. */
  readonly moduleLevel: readonly Variable[];
  /** What the host's script reaches in the region. */
  readonly refs: CrossingRefs;
  readonly notes: readonly string[];
}

export function findCrossings(scene: Scene): Boundary | Problem {
  const found = new Map<string, Crossing>();
  const notes: string[] = [];
  const taken: Span[] = [];
  const add: Add = (key, draft, site) => {
    const known = found.get(key);
    if (known) known.sites.push(site);
    else found.set(key, { ...draft, sites: [site] });
  };
  const { lowered } = scene;
  const own = scene.elements.find((element) => isMadeInPlace(scene, element));
  if (own)
    return problem(
      'region-component',
      { path: scene.request.file.path, span: { start: own.start, end: own.end } },
      own.name,
    );
  const fallbacks = outletsIn(scene).flatMap((outlet) => (keepsFallback(scene, outlet) ? [] : (outlet.fallback ?? [])));
  const bases = basesOf(scene.sfc, scene.lowered.definition, scene.request.project);
  const refs = crossingRefs(scene, bases);
  if (isProblem(refs)) return refs;
  const models = modelled(scene);
  const given = (span: Span) =>
    scene.request.inputs?.some((input) => input.slot && input.stays.some((s) => within(span, s))) ?? false;
  for (const { attribute, element } of attributesIn(scene)) {
    if (fallbacks.some((node) => within(attribute, node))) continue;
    const trouble = refuseAttribute(scene, attribute, bases);
    if (trouble) return trouble;
    // What differs between places as a whole is an input already.
    if (given(attribute)) continue;
    if (attribute.kind === 'event' && attribute.code && mustStay(scene, attribute.code, models)) {
      const at = { path: scene.request.file.path, span: attribute.code };
      if (isTransitionHook(element, attribute)) return problem('region-transition', at, attribute.name);
      const reached = lowered.refs?.find((r) => within(spanOf(r.node), attribute.code!) && goesAlong(scene, r));
      if (reached) return problem('region-ref', at, reached.name);
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
    if (given(outlet)) continue;
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
    (input) => scene.request.alone || !input.sites.every(({ span }) => taken.some((t) => within(span, t))),
  );
  const lost = inputs.find((input) => input.sites.some(({ span }) => taken.some((t) => within(span, t))));
  if (lost && scene.request.alone)
    return problem('seam-handler', { path: scene.request.file.path, span: lost.sites[0]!.span }, lost.name);
  for (const input of inputs) {
    for (const { span, write } of input.sites.filter((s) => !taken.some((t) => within(s.span, t))))
      add(`input ${input.name}`, inputCrossing(input), { span, text: write });
    taken.push(...input.stays);
  }
  const self = thisIn(scene);
  if (self) return problem('region-this', { path: scene.request.file.path, span: self });
  const moduleLevel = new Set<Variable>();
  for (const reference of leaving(scene)) {
    const { identifier } = reference;
    if (taken.some((span) => nodeWithin(identifier, span))) continue;
    const variable = reference.resolved;
    const name = (identifier as TSESTree.Identifier).name;
    const at = { path: scene.request.file.path, span: spanOf(identifier) };
    if (!variable || variable.defs.length === 0) {
      if (isLocalFilter(scene, name)) return problem('region-filter', at, name.slice(FILTER.length));
      // Made by the lowering of a declaration that goes along; all props at once are written by the name that they have.
      const isWritten = /^\$(?:props|emit)$/.test(name)
        ? at.span.end > at.span.start
        : scene.text.startsWith(name, at.span.start);
      if (name.startsWith('$') && !isWritten) continue;
      if (isOwn(scene, name) && !addOutletCheck(scene, add, identifier) && !addOwn(scene, add, identifier))
        return problem('region-instance', at, name);
      const isOfBase =
        says(bases, name) ||
        ((bases.unseen || hasBases(scene.lowered.definition)) && !OF_PLUGINS.has(name) && !isOwn(scene, name));
      if (name.startsWith('$') && isOfBase) {
        // What is called may ask for the instance that it is called on.
        const isHandedOver =
          (says(bases, name) || !isCallee(scene, identifier)) && addOwn(scene, add, identifier, ofBase(name));
        if (!isHandedOver) return problem('region-instance', at, name);
      }
      if (identifier.type === 'JSXIdentifier' && isRegisteredElsewhere(scene, bases, name))
        return problem('region-component', at, name);
      continue;
    }
    if (name.startsWith(refBinding(''))) {
      if (readsHostsRef(scene, identifier)) return problem('region-instance', at, '$refs');
      continue;
    }
    if (refs.variables.some((v) => v.name === name)) continue;
    const isMoved = scene.moved.some((m) => nodeWithin(identifier, m.span));
    if (isInner(scene, variable)) continue;
    if (!reference.isValueReference) {
      if (isMoved && scene.lowered.scopes.isModuleLevel(variable)) moduleLevel.add(variable);
      continue;
    }
    if (scene.lowered.scopes.isModuleLevel(variable)) {
      moduleLevel.add(variable);
      if (!isDeclaredHere(scene, variable)) continue;
      // A component is registered by its name, and not handed over.
      if (identifier.type === 'JSXIdentifier') return problem('region-component', at, name);
      addValue(scene, add, variable, identifier);
      continue;
    }
    if (isMoved && sendingAt(scene, reference)) {
      const event = sentEvent(scene, reference, found);
      add(event.key, event.draft, event.site);
      continue;
    }
    if (name.startsWith(emitBinding(''))) return problem('region-instance', at, `$emit('${name.slice(5)}')`);
    if (identifier.type === 'JSXIdentifier') return problem('region-component', at, name);
    if (!models.has(variable) && (reference.isWrite() || writesInto(scene, identifier)))
      return problem('region-assigns', at, plainName(variable));
    if (isMoved) addScriptValue(scene, add, variable, identifier);
    else addValue(scene, add, variable, identifier);
  }
  mergeModels(found);
  for (const variable of namedIn(scene, refs)) moduleLevel.add(variable);
  return {
    kept: taken.filter((span) => within(span, scene.region)),
    crossings: apart(scene, inOrder([...found.values()])),
    moduleLevel: [...moduleLevel],
    refs,
    notes,
  };
}

/** Whether the template reads a ref here whose element stays with the host. */
function readsHostsRef(scene: Scene, identifier: Node): boolean {
  const read = readOfRef(scene, identifier);
  return read !== undefined && !goesAlong(scene, read);
}

/** What the declarations of refs name at the top of the module: `ref` itself, and types. */
function namedIn(scene: Scene, { variables }: CrossingRefs): Variable[] {
  const words = new Set(
    variables.flatMap(({ statement }) => scene.text.slice(...statement.range).match(/[\w$]+/g) ?? []),
  );
  return scene.lowered.scopes.moduleScope.variables.filter(
    (variable) => words.has(variable.name) && scene.lowered.imports.has(variable.name),
  );
}

/** Every prop and model by a name of its own, and none that the region binds itself where it stands for another. */
function apart(scene: Scene, crossings: readonly Crossing[]): Crossing[] {
  const inner = boundIn(scene);
  const isNatural = ({ name, sites, given }: Crossing) =>
    given !== undefined ||
    sites.every(
      ({ span }) => !within(span, scene.region) || camelized(scene.text.slice(span.start, span.end)) === name,
    );
  // A listener is a prop to Vue: `@item-click` is `onItemClick`.
  const listeners = crossings.filter((c) => c.kind === 'event').map((c) => `on${pascal(c.name)}`);
  const taken = new Set<string>(listeners);
  const names = new Map<Crossing, string>();
  const all = crossings.filter((c) => c.kind === 'prop' || c.kind === 'model');
  // What a person gave a name has it.
  const isAsked = ({ given }: Crossing) => given?.asked === true;
  const passed = [...all.filter(isAsked), ...all.filter((c) => !isAsked(c))];
  for (const crossing of [...passed.filter(isNatural), ...passed.filter((c) => !isNatural(c))]) {
    const isFree = (name: string) => !taken.has(name) && (isNatural({ ...crossing, name }) || !inner.has(name));
    const tries = [crossing.name, ...withoutOn(crossing), `${crossing.name}Value`, ownName(crossing)];
    const name = tries.find(isFree) ?? numbered(crossing.name, isFree);
    taken.add(name);
    names.set(crossing, name);
  }
  return crossings.map((c) => ({ ...c, name: names.get(c) ?? c.name }));
}

function withoutOn({ name }: Crossing): string[] {
  const rest = /^on([A-Z].*)$/.exec(name)?.[1];
  return rest === undefined ? [] : [rest[0]!.toLowerCase() + rest.slice(1)];
}

function ownName({ name }: Crossing): string {
  return `own${name[0]!.toUpperCase()}${name.slice(1)}`;
}

function numbered(name: string, isFree: (name: string) => boolean): string {
  for (let i = 2; ; i++) if (isFree(`${name}${i}`)) return `${name}${i}`;
}

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

function isCallee({ lowered }: Scene, identifier: Node): boolean {
  const parent = lowered.scopes.parentOf(identifier);
  return parent?.type === 'CallExpression' && parent.callee === identifier;
}

/** What the host was given as a whole: `$attrs` is handed over as a copy, so that a change of it reaches the new component. */
function addOwn(scene: Scene, add: Add, identifier: Node, given?: Own): boolean {
  const { name } = identifier as TSESTree.Identifier;
  const option = name === '$options' ? memberOf(scene, identifier) : undefined;
  const own = option ? ofOption(option.name) : (given ?? ofInstance(scene, name));
  const span = option?.span ?? spanOf(identifier);
  // Each of several places would have its own.
  if (!own || !within(span, scene.region) || (scene.request.inputs && !scene.request.alone)) return false;
  const isCopied = own.copied && vueOf(scene.request.project.files, scene.request.file.path).major >= 3;
  const draft = {
    kind: 'prop',
    name: own.prop,
    value: own.value ?? (isCopied ? `{ ...${name} }` : scene.text.slice(span.start, span.end)),
    args: [],
    event: 'none',
    typed: undefined,
    variable: undefined,
    type: own.type,
  } as const;
  add(`own ${own.value ?? name}`, draft, { span, text: (prop) => (option ? prop : renamed(scene, identifier, prop)) });
  return true;
}

function ofInstance({ sfc }: Scene, name: string): Own | undefined {
  return isTranslated(sfc, name) ? translation(name) : INSTANCE.get(name);
}

/** `$options.texts`: what the component keeps beside the options that Vue knows. */
function ofOption(name: string): Own {
  return { prop: propName(name), type: 'any', copied: false, value: `$options.${name}` };
}

function memberOf({ lowered }: Scene, identifier: Node): { readonly name: string; readonly span: Span } | undefined {
  const parent = lowered.scopes.parentOf(identifier);
  if (parent?.type !== 'MemberExpression' || parent.object !== identifier || parent.computed) return undefined;
  return parent.property.type === 'Identifier' ? { name: parent.property.name, span: spanOf(parent) } : undefined;
}

interface Own {
  readonly prop: string;
  readonly type: string;
  readonly copied: boolean;
  readonly value?: string;
}

/** Called as a method of the host, whose messages it knows. */
function translation(name: string): Own {
  return {
    prop: name.slice(1),
    type: '(...args: any[]) => any',
    copied: false,
    value: `(...args) => ${name}(...args)`,
  };
}

const INSTANCE = new Map<string, Own>([
  ['$attrs', { prop: 'attrs', type: 'Record<string, any>', copied: true }],
  ['$slots', { prop: 'slots', type: 'Record<string, any>', copied: true }],
  ['$scopedSlots', { prop: 'scopedSlots', type: 'Record<string, any>', copied: false }],
  ['$listeners', { prop: 'listeners', type: 'Record<string, any>', copied: false }],
  ['$props', { prop: 'given', type: 'Record<string, any>', copied: false }],
  ['$parent', { prop: 'parent', type: 'any', copied: false }],
]);

/** A name in a declaration that goes along: what the host kept there, the new component is handed. */
function addScriptValue(scene: Scene, add: Add, variable: Variable, identifier: Node): void {
  const name = plainName(variable);
  const { start, end } = spanOf(identifier);
  const { api } = scene.lowered.definition;
  const held = /^\s*\.\s*value\b/.exec(scene.text.slice(end))?.[0].length ?? 0;
  const isRef = api === 'setup' && /^[\w$]+$/.test(scene.text.slice(start, end));
  const span = { start, end: isRef ? end + held : end };
  const parent = scene.lowered.scopes.parentOf(identifier);
  const short = parent?.type === 'Property' && parent.shorthand ? `${name}: ` : '';
  const draft = {
    kind: 'prop',
    name: propName(name),
    value: name,
    args: [],
    event: 'none',
    typed: span,
    variable,
  } as const;
  const holder = api === 'setup' ? 'props.' : 'this.';
  add(`value ${variable.$id}`, draft, { span, text: (prop) => short + holder + prop });
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

function refuseAttribute(scene: Scene, attribute: Attribute, bases: Bases): Problem | undefined {
  const at = { path: scene.request.file.path, span: { start: attribute.start, end: attribute.end } };
  const { directives } = registeredBy(scene.lowered.definition, scene.lowered.imports);
  const isKnown = directives.has(directiveName(attribute.name));
  const isOfBase = () => bases.texts.some((text) => registersDirective(text, attribute.name));
  if (attribute.kind === 'directive' && !isKnown && (isLocalDirective(scene, attribute.name) || isOfBase()))
    return problem('region-directive', at, attribute.name);
  return undefined;
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

/** A component that the host registers without a name of the module behind it: `() => import('./HiveMap.vue')`. */
function isMadeInPlace(scene: Scene, { name, component }: ElementNode): boolean {
  const { options, components } = scene.lowered.definition;
  const registered = component && options ? propertyOf(options, 'components') : undefined;
  return Boolean(
    registered && keysOf(registered).some((key) => pascal(key.name) === name && !components.has(key.name)),
  );
}

/** A name that a mixin or the extended component adds to the instance. */
function ofBase(name: string): Own {
  return { prop: propName(name), type: 'any', copied: false };
}

/** A tag that a base registers, or the host while it runs. */
function isRegisteredElsewhere({ sfc, lowered }: Scene, bases: Bases, name: string): boolean {
  const own = name.replace(/^Unregistered:/, '');
  const kebab = own.replace(/\B([A-Z])/g, '-$1').toLowerCase();
  const inScript = sfc.script && sfc.text.slice(sfc.script.inner.start, sfc.script.inner.end);
  const runs =
    /\$options\.components/.test(inScript ?? '') && new RegExp(`\\b${literally(own)}\\b`).test(inScript ?? '');
  if (runs) return true;
  const registers = bases.texts.filter((text) => /\bcomponents\s*:/.test(text));
  // Under a name that only the registered component knows: it may be this one.
  const isKnown = /^(?:Router(?:Link|View)|NuxtLink|Transition|TransitionGroup|KeepAlive|Component)$/.test(name);
  if (!isKnown && registers.some((text) => /\bcomponents\s*:\s*\{[^}]*\[/.test(text))) return true;
  return (
    registers.length > 0 &&
    (says({ ...bases, texts: registers }, own) || says({ ...bases, texts: registers }, kebab)) &&
    lowered.definition.api === 'options'
  );
}

/** Vue counts the parameters of these handlers to know whether they say themselves when they have ended. */
function isTransitionHook({ name }: ElementNode, attribute: Attribute): boolean {
  return (
    /^transition-?group$|^transition$/i.test(name) &&
    /^on(?:Enter|Leave|Appear)$/i.test(attribute.name.replace(/-/g, ''))
  );
}

/** A filter that only the host registers. */
function isLocalFilter(scene: Scene, name: string): boolean {
  const { options } = scene.lowered.definition;
  const filters = name.startsWith(FILTER) && options ? propertyOf(options, 'filters') : undefined;
  return Boolean(filters && keysOf(filters).some((key) => FILTER + key.name === name));
}

/** A directive that the host declares or registers for itself. */
function isLocalDirective(scene: Scene, attribute: string): boolean {
  const name = directiveName(attribute);
  const local = `v${name}`;
  if (scene.lowered.definition.members.some((m) => m.name === local)) return true;
  if (scene.lowered.definition.components.has(pascal(local))) return true;
  const { options } = scene.lowered.definition;
  const registered = options && propertyOf(options, 'directives');
  return Boolean(registered && keysOf(registered).some((key) => pascal(key.name) === name));
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
