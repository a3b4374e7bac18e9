/**
 * A Vue file as one script: its component is a function that takes props, events and slot contents by name, declares
 * what its scripts declare, and gives back what its template shows. Every node has the place of what it was made from,
 * so that scopes, seams and the proof speak of offsets in the file.
 *
 * Script setup is such a function already; options become declarations of the names that they add to the instance. What
 * is reached through `this` or through the props object has a name of its own that no other declaration can hide.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Markup } from '../../markup/model.js';
import { outletBinding, outletProp, shownBy } from '../../markup/syntax.js';
import { walkMarkup } from '../../markup/walk.js';
import type { Node, ParsedScript } from '../../script/parser.js';
import * as make from '../../script/make.js';
import { rewrite } from '../../script/rewrite.js';
import { ScriptScopes } from '../../script/scopes.js';
import { attributeName, isFunction, spanOf } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';
import { declaredNames, emitBinding, emitCall, type Body } from './body.js';
import { componentBehind, defineOf, keysOf, propertyOf, type Definition } from './definition.js';
import { eventProp } from './markup.js';
import { lowerOptions } from './options.js';
import { markupOf, nameOf } from './read.js';
import { FILTER, registeredBy, registeredOpened } from './registered.js';
import { madeUpRefs, refReads, refsOpened, showsRefs, shownRefs, type RefRead } from './refs.js';
import { lowerSetup } from './setup.js';
import { setupRefsOpened } from './setup-refs.js';
import type { Sfc } from './sfc.js';

export interface Lowered {
  readonly sfc: Sfc;
  readonly definition: Definition;
  /** The name of the function that the component became. */
  readonly name: string;
  /** What the component is called. */
  readonly own: string;
  readonly markup: readonly Markup[];
  readonly script: ParsedScript;
  readonly scopes: ScriptScopes;
  /** Names that the scripts import. */
  readonly imports: ReadonlySet<string>;
  /** Names that the template uses and nothing in the file declares: members of mixins, or mistakes. */
  readonly undeclared: readonly string[];
  /** Reads of its refs; undefined where they cannot be followed. */
  readonly refs: readonly RefRead[] | undefined;
}

/** Names that a template may use without anybody binding them. */
const GLOBALS = new Set(
  'Infinity undefined NaN isFinite isNaN parseFloat parseInt decodeURI decodeURIComponent encodeURI encodeURIComponent Math Number Date Array Object Boolean String RegExp Map Set JSON Intl BigInt console Error Symbol arguments require'.split(
    ' ',
  ),
);

/** `opened`: props and the emit function that are handed on count as all that they hold. */
export function lower(sfc: Sfc, opened = false): Lowered {
  const definition = defineOf(sfc.text, sfc.script?.script.program, sfc.setup?.script.program);
  const markup = markupOf(sfc, definition);
  const events = new Set<string>();
  const body =
    definition.api === 'setup' ? lowerSetup(sfc, definition, events, opened) : lowerOptions(sfc, definition, events);
  const span: Span = sfc.template?.inner ?? make.at(sfc.text.length);
  const prefix = definition.api === 'setup' ? 'props.' : 'this.';
  const inferred = new Set(body.reads);
  const taken = new Set([...body.imports, ...body.module].flatMap(declaredNames));
  const registered = new Set(definition.components.values());
  const own = nameOf(definition, sfc.path);
  // Whatever the file imports, the component has a name that nothing else can have.
  const name = `Component:${own}`;
  const bound = named(classesJoined(shownBy(markup, span)), definition, body, prefix, inferred);
  const imported = new Set(body.imports.flatMap(declaredNames));
  const used = registeredOpened(bound, registeredBy(definition, imported));
  const shownByName = definition.api === 'options' ? namesOpened(used, definition.components, taken) : used;
  const tagged = tagsOpened(shownByName, {
    name,
    own,
    taken,
    registered: definition.api === 'options' ? registered : taken,
  });
  const emitted = emitsOpened(tagged, events, definition);
  const reads = refReads(sfc, definition, emitted);
  const isUnfollowed = !reads && showsRefs(sfc);
  const isOpen = isUnfollowed || (definition.api === 'options' && !reads);
  const marked = isOpen ? madeUpRefs(emitted, definition, isUnfollowed) : { shown: emitted, declared: [] };
  const withRefs = sfc.setup ? setupRefsOpened(sfc, markup, body.own, marked.shown) : undefined;
  const { shown, passed } = withRefs ?? (reads ? shownRefs(marked.shown, reads) : { shown: marked.shown });
  const statements = withRefs?.own ?? (reads ? refsOpened(body.own, reads) : body.own);
  const pattern = parameterOf(definition, markup, events, inferred, prefix, passed);
  const whole = { start: 0, end: sfc.text.length };
  const fn = make.functionDeclaration(
    make.identifier(name, make.at(0)),
    [pattern],
    make.block([...marked.declared, ...statements, make.returned(shown, span)], whole),
    whole,
  );
  const described = [...body.described].map(([key, value]) => {
    const at = spanOf(value);
    const target = make.member(make.identifier(name, make.at(at.start)), key, make.at(at.start));
    return make.statement(make.assignment(target, value, at), at);
  });
  const program = {
    type: 'Program',
    body: [...body.imports, ...body.module, make.exportDefault(fn, whole), ...described],
    sourceType: 'module',
    comments: [],
    tokens: [],
    start: 0,
    end: sfc.text.length,
    range: [0, sfc.text.length],
  } as unknown as TSESTree.Program;
  const comments = [sfc.script, sfc.setup].flatMap((block) => block?.script.comments ?? []);
  const script: ParsedScript = { program, comments };
  return {
    sfc,
    definition,
    name,
    own,
    markup,
    script,
    scopes: new ScriptScopes(script),
    imports: imported,
    undeclared: [...inferred].filter((n) => !definition.props.some((p) => p.name === n)),
    refs: reads,
  };
}

/** `class="row" :class="tone"` as Vue takes it: one list, in the order in which they are written. */
function classesJoined(shown: Node): Node {
  const isClass = (a: Node): a is TSESTree.JSXAttribute => a.type === 'JSXAttribute' && attributeName(a) === 'class';
  const valueOf = ({ value }: TSESTree.JSXAttribute): Node[] =>
    value?.type === 'JSXExpressionContainer' ? [value.expression] : value ? [value] : [];
  return rewrite(shown, (node) => {
    if (node.type !== 'JSXOpeningElement') return undefined;
    const own = node.attributes.filter(isClass);
    const bound = own.find((a) => a.value?.type === 'JSXExpressionContainer');
    if (own.length !== 2 || !bound) return undefined;
    const list = make.array(own.flatMap(valueOf), spanOf(bound));
    const joined = make.jsxAttribute('class', list, spanOf(bound));
    const kept = node.attributes.filter((a) => a === bound || !own.includes(a as TSESTree.JSXAttribute));
    return { ...node, attributes: kept.map((a) => (a === bound ? joined : a)) };
  });
}

/** The one parameter: all that can be handed in, by the name under which a use hands it in. */
function parameterOf(
  definition: Definition,
  markup: readonly Markup[],
  events: ReadonlySet<string>,
  inferred: ReadonlySet<string>,
  prefix: string,
  refs: ReadonlyMap<string, Node> = new Map(),
): Node {
  const entries = new Map<string, Node>();
  const nowhere = make.at(0);
  for (const prop of definition.props) {
    const id = make.identifier(prefix + prop.name, nowhere);
    // A truth that is not handed over is none; one that is handed over as undefined stays that.
    const instead =
      prop.defaultNode ?? (/\bboolean\b/i.test(prop.type ?? '') ? make.literal(false, nowhere) : undefined);
    entries.set(prop.name, instead ? make.withDefault(id, instead) : id);
  }
  for (const name of inferred) if (!entries.has(name)) entries.set(name, make.identifier(prefix + name, nowhere));
  for (const property of definition.propsPattern?.properties ?? [])
    if (property.type === 'Property' && property.key.type === 'Identifier')
      entries.set(property.key.name, property.value);
  for (const { name, local, computed } of definition.models) {
    if (!computed) entries.delete(name);
    entries.set(`v-model:${name}`, make.identifier(local, nowhere));
  }
  for (const event of events) entries.set(eventProp(event), make.identifier(emitBinding(event), nowhere));
  walkMarkup(markup, (node) => {
    if (node.kind === 'outlet') entries.set(outletProp(node.name), make.identifier(outletBinding(node.name), nowhere));
  });
  for (const [name, text] of refs) entries.set(name, make.withDefault(make.identifier(name, nowhere), text));
  const sorted = [...entries].sort(([a], [b]) => (a < b ? -1 : 1));
  const pattern = make.pattern(
    sorted.map(([key, value]) => ({ key, value })),
    nowhere,
  );
  return Object.assign(pattern, { byName: true });
}

/** `weight | kilos(2)` of Vue 2 is a call of a filter, unless the component has a value of that name. */
function filtersOpened(shown: Node, known: ReadonlySet<string>): Node {
  return rewrite(shown, (node) => {
    if (node.type !== 'BinaryExpression' || node.operator !== '|') return undefined;
    const filter = node.right.type === 'CallExpression' ? node.right.callee : node.right;
    if (filter.type !== 'Identifier' || known.has(filter.name)) return undefined;
    const args = node.right.type === 'CallExpression' ? node.right.arguments : [];
    const inside = [node.left, ...args].map((n) => filtersOpened(n, known));
    return make.call(make.identifier(FILTER + filter.name, spanOf(filter)), inside, spanOf(node));
  });
}

/** `this.hive` in a template is the `hive` of the component, whatever a loop around it calls so. */
function thisOpened(shown: Node): Node {
  return rewrite(shown, (node) => {
    if (isFunction(node) && node.type !== 'ArrowFunctionExpression') return node;
    if (node.type !== 'MemberExpression' || node.computed || node.object.type !== 'ThisExpression') return undefined;
    return node.property.type === 'Identifier'
      ? make.identifier(OF_THIS + node.property.name, spanOf(node))
      : undefined;
  });
}

/** What stands in front of a name that is reached through `this`, until it is known what it means. */
const OF_THIS = 'this:';

/** `{ ...$attrs }` is `$attrs`: nobody changes what an instance was given. */
function copiesOpened(shown: Node): Node {
  return rewrite(shown, (node) => {
    const only = node.type === 'ObjectExpression' && node.properties.length === 1 ? node.properties[0]! : undefined;
    const copied = only?.type === 'SpreadElement' ? only.argument : undefined;
    return copied?.type === 'Identifier' && /^\$(?:attrs|slots)$/.test(copied.name) ? copied : undefined;
  });
}

/** Free names of the template, given the names of the things that they mean. */
function named(given: Node, definition: Definition, body: Body, prefix: string, inferred: Set<string>): Node {
  const filters = definition.options && propertyOf(definition.options, 'filters');
  const registered = new Set(filters ? keysOf(filters).map((key) => key.name) : []);
  const known = new Set(
    [...body.visible, ...[...definition.props, ...definition.members].map((m) => m.name)].filter(
      (member) => !registered.has(member),
    ),
  );
  const opened = copiesOpened(filtersOpened(given, known));
  const shown = definition.api === 'options' ? thisOpened(opened) : opened;
  const wrapper = make.block([make.returned(shown, spanOf(shown))], spanOf(shown));
  const program = {
    type: 'Program',
    body: [wrapper],
    sourceType: 'module',
    range: spanOf(shown),
    comments: [],
    tokens: [],
  };
  const scopes = new ScriptScopes({ program: program as unknown as TSESTree.Program, comments: [] });
  const props = new Set(definition.props.map((p) => p.name));
  const models = new Set(definition.models.flatMap((m) => (m.computed ? [] : [m.name])));
  const names = new Map<Node, string>();
  const holders = new Set<Node>();
  const isMember = (name: string) => props.has(name) || definition.members.some((m) => m.name === name);
  const memberOf = (name: string) => {
    if (name.startsWith('$') && !isMember(name)) return name;
    if (!isMember(name)) inferred.add(name);
    return prefix + name;
  };
  for (const { identifier } of scopes.unresolved()) {
    if (identifier.type !== 'Identifier') continue;
    const { name } = identifier;
    if (name === definition.propsLocal) holders.add(identifier);
    // Handed on whole, they are those of this component, under whatever name.
    const own = name === definition.propsLocal ? '$props' : name === definition.emitLocal ? '$emit' : undefined;
    if (own !== undefined) {
      names.set(identifier, own);
      continue;
    }
    if (name.startsWith(OF_THIS)) names.set(identifier, memberOf(name.slice(OF_THIS.length)));
    if ((name.startsWith('$') && !isMember(name)) || name.includes(':') || body.visible.has(name)) continue;
    if (models.has(name)) {
      names.set(identifier, definition.models.find((m) => m.name === name)!.local);
      continue;
    }
    if (isMember(name) || !GLOBALS.has(name)) names.set(identifier, memberOf(name));
  }
  return rewrite(shown, (node) => {
    // `props.hive` is the prop.
    if (
      node.type === 'MemberExpression' &&
      holders.has(node.object) &&
      !node.computed &&
      node.property.type === 'Identifier'
    ) {
      inferred.add(node.property.name);
      return make.identifier(prefix + node.property.name, spanOf(node));
    }
    const name = names.get(node);
    return name === undefined ? undefined : ({ ...node, name } as Node);
  });
}

/** A component that is shown by its name, `<component :is="open ? 'HiveMap' : 'HiveList'">`, as the variable behind that. */
function namesOpened(shown: Node, components: ReadonlyMap<string, string>, taken: ReadonlySet<string>): Node {
  if (components.size === 0) return shown;
  return rewrite(shown, (node) => {
    if (node.type !== 'JSXAttribute' || attributeName(node) !== 'is' || !node.value) return undefined;
    const opened = (code: Node): Node =>
      rewrite(code, (n) => {
        const local =
          n.type === 'Literal' && typeof n.value === 'string' ? componentBehind(n.value, components) : undefined;
        return local !== undefined && taken.has(local) ? make.identifier(local, spanOf(n)) : undefined;
      });
    const value = node.value.type === 'JSXExpressionContainer' ? node.value.expression : node.value;
    return make.jsxAttribute('is', opened(value), spanOf(node));
  });
}

interface Tags {
  readonly name: string;
  /** The tag by which a component shows itself. */
  readonly own: string;
  readonly taken: ReadonlySet<string>;
  readonly registered: ReadonlySet<string>;
}

/** A tag by the component's own name is the component; with options, one that is not registered is nothing of the module's. */
function tagsOpened(shown: Node, { name, own, taken, registered }: Tags): Node {
  const opened = (node: Node): Node | undefined => {
    // What something is given by is no tag, however it is written.
    if (node.type === 'JSXAttribute') return { ...node, value: node.value && rewrite(node.value, opened) } as Node;
    if (node.type !== 'JSXIdentifier' || !/^[A-Z]/.test(node.name) || registered.has(node.name)) return undefined;
    if (node.name === own) return make.jsxName(name, spanOf(node));
    return taken.has(node.name) ? make.jsxName(`Unregistered:${node.name}`, spanOf(node)) : undefined;
  };
  return rewrite(shown, opened);
}

/** `$emit('remove', hive)` in a template, or `emit(…)` with the name that the setup gave it, calls what the use passed for `onRemove`. */
function emitsOpened(shown: Node, events: Set<string>, { emitLocal }: Definition): Node {
  return rewrite(shown, (node) =>
    emitCall(
      node,
      events,
      (callee) => callee.type === 'Identifier' && (callee.name === '$emit' || callee.name === emitLocal),
    ),
  );
}
