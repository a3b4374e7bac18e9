/**
 * Code that runs later and changes or calls something of the host stays with the host, whole; the new component sends an
 * event with the names that the region binds as its arguments.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Attribute, ElementNode } from '../../../markup/model.js';
import type { Node } from '../../../script/parser.js';
import type { Reference, Variable } from '../../../script/scopes.js';
import { bare, isFunction, spanOf, within } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import { plainEvent } from '../../events.js';
import { arrowOf } from '../../handed-functions.js';
import { emitBinding } from '../body.js';
import { refBinding } from '../refs.js';
import type { Argument, Crossing, Found } from './crossing.js';
import { eventName } from './event-names.js';
import { isCalled, isDeclaredHere, isOwn, writesInto } from './questions.js';
import { goesAlong, readOfRef } from './refs.js';
import { attributesIn, isInner, leaving, type Scene } from './scene.js';

/** Whether code that runs later changes something of the host, calls it, or reads what may have changed by then. */
export function mustStay(scene: Scene, code: Span, models: ReadonlySet<Variable>): boolean {
  return leaving(scene, code).some((reference) => {
    const variable = reference.resolved;
    const { identifier } = reference;
    if (!variable || variable.defs.length === 0) return isOwn(scene, (identifier as TSESTree.Identifier).name);
    if (isInner(scene, variable)) return false;
    const ref = variable.name.startsWith(refBinding('')) ? readOfRef(scene, identifier) : undefined;
    if (ref) return !goesAlong(scene, ref);
    if (scene.lowered.scopes.isModuleLevel(variable)) return isDeclaredHere(scene, variable) && reference.isWrite();
    // What a model was set to is known to its owner first: reading it again stays there.
    if (models.has(variable)) return !reference.isWriteOnly();
    if (variable.name.startsWith(emitBinding(''))) return true;
    if (reference.isWrite() || writesInto(scene, identifier) || isCalled(scene, identifier)) return true;
    if (scene.lowered.scopes.isReassigned(variable)) return true;
    return spanOf(identifier).start === code.start && spanOf(identifier).end === code.end;
  });
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
  const chosen = chosenLiteral(scene, source);
  if (chosen) return choosingEvent(chosen, attribute, element, known);
  const usesEvent = /(?<![\w.])\$event\b/.test(source);
  const native = !element.component && element.name !== 'component';
  const path = !fn && !written;
  const params = written ? (bare(code.syntax) as TSESTree.ArrowFunctionExpression).params : [];
  const event = handedOn({ params, written, usesEvent, path, native });
  const value = hostHandler(scene, source, args, event, { written, path, usesEvent });
  const asked = (scene.request.inputs ?? []).filter((i) => i.event && i.asked);
  const names = new Set([...known.values(), ...asked].map((c) => c.name));
  const key = `event ${source} ${args.map((a) => a.variable.$id).join()} ${event}`;
  const name =
    givenName(scene, code, attribute, names) ??
    known.get(key)?.name ??
    eventName(differs(scene, code) ? undefined : code.syntax, attribute, element, names);
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

/** What the event is called that a handler is at several places: by a person, or after what the places say of it. */
function givenName(
  { request }: Scene,
  code: Span,
  attribute: Attribute,
  taken: ReadonlySet<string>,
): string | undefined {
  const input = request.inputs?.find((i) => i.event && i.sites.some((s) => within(code, s.span)));
  if (!input || input.asked) return input?.name;
  const said = plainEvent(input.name);
  return said === undefined || input.name === attribute.name || taken.has(said) ? undefined : said;
}

/** Whether places that become one do different things here, and not one thing with different values. */
function differs({ request }: Scene, code: Span): boolean {
  return Boolean(
    request.inputs?.some((input) =>
      input.sites.some((s) => within(code, s.span) || (within(s.span, code) && s.span.start === code.start)),
    ),
  );
}

interface Chosen {
  readonly target: string;
  readonly literal: string;
}

/** `dialog = 'feed'`, where the region sets it to something else as well: one event that says to what. */
function chosenLiteral(scene: Scene, source: string): Chosen | undefined {
  const own = assignedLiteral(source);
  if (!own) return undefined;
  const others = attributesIn(scene).flatMap(({ attribute: { kind, code } }) =>
    kind === 'event' && code ? (assignedLiteral(scene.text.slice(code.start, code.end).trim()) ?? []) : [],
  );
  return others.some((o) => o.target === own.target && o.literal !== own.literal) ? own : undefined;
}

function assignedLiteral(source: string): Chosen | undefined {
  const match = /^([A-Za-z_$][\w$.]*)\s*=\s*('[^'\n]*'|"[^"\n]*"|\d[\d.]*|true|false|null);?$/.exec(source);
  return match ? { target: match[1]!, literal: match[2]! } : undefined;
}

function choosingEvent(
  { target, literal }: Chosen,
  attribute: Attribute,
  element: ElementNode,
  known: ReadonlyMap<string, Crossing>,
): Found {
  const code = attribute.code!;
  const key = `event ${target} = $event`;
  const names = new Set([...known.values()].map((c) => c.name));
  const name = known.get(key)?.name ?? eventName(code.syntax, attribute, element, names, true);
  const value = `${target} = $event`;
  return {
    key,
    draft: { kind: 'event', name, value, args: [], event: 'one', typed: undefined, variable: undefined, code },
    site: { span: code, text: (as) => `$emit('${as}', ${literal})` },
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
  const several = /;\s*\S|^\s*(?:if|for|while|const|let|return|switch)\b/.test(source);
  return arrowOf(source, given, several);
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
