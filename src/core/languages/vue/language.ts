/** Vue single-file components, with script setup and with options. */
import { about } from './about.js';
import { html } from 'parse5';
import type { Language } from '../../language/language.js';
import type { ProofModule } from '../../language/proof-module.js';
import { isProblem } from '../../problems/problems.js';
import { ScriptScopes } from '../../script/scopes.js';
import { KEPT } from '../../script/literals.js';
import { spanOf, within } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';
import { walkMarkup } from '../../markup/walk.js';
import { fileFor } from '../naming.js';
import { hasBases, NEIGHBOURS, OF_PLUGINS, runsOnUpdate } from './bases.js';
import { hooks, WORDS } from './composables/groups.js';
import { carries } from './carries.js';
import { cut } from './cut/cut.js';
import { isOwn } from './cut/questions.js';
import { defineOf, isMacroName, pascal } from './definition.js';
import { fixes } from './fixes.js';
import { forms } from './forms.js';
import { hypertext } from './hypertext.js';
import { inlining } from './inline/inline.js';
import { homes } from './home/homes.js';
import { joining } from './join/join.js';
import { siblingLists } from './lists.js';
import { lower } from './lower.js';
import { instanceName, optionName } from './options.js';
import { heldCallee, lowerModule, readsChanging, refHeld } from './setup.js';
import { markupOf, readVueModule } from './read.js';
import { parseSfc, type Sfc } from './sfc.js';
import { vueToModule } from './to-module.js';
import { typedText } from './typed.js';
import { barred } from './unify/barred.js';
import { unify } from './unify/unify.js';

/** What keeps a value for as long as its component lives. */
const KEEPS = new Set(['ref', 'shallowRef', 'reactive', 'shallowReactive', 'customRef', 'inject', KEPT]);
/** What works a value out when it is read. */
const LAZY = new Set(['computed', '$computed']);
/** Components that look at what stands in their slots, whatever their library puts in front. */
const READS_CHILDREN =
  /^(?:KeepAlive|Transition|TransitionGroup|\w*(?:Tabs|TabView|TabBar|TabList|Steps|Stepper|Carousel|Tables?|Dropdown|Swiper|Breadcrumb|Timeline|Collapse|Accordion|Descriptions|Space|Splitter|Select|Menu|(?:Avatar|Button|Radio|Checkbox|Column)Group))$/;

/** Tags that are newer than Vue's list, or too old for it. */
const UNKNOWN = new Set(['big', 'center', 'dir', 'font', 'frame', 'listing', 'marquee', 'search', 'strike']);
const TAGS: ReadonlySet<string> = new Set(Object.values(html.TAG_NAMES));
/** Vue takes no component for a tag of HTML, whatever the case of its letters. */
const NATIVE = [...TAGS].filter((tag) => !UNKNOWN.has(tag)).map(pascal);

/** What the proof asks of code in which refs are what they hold. */
function holding(scopes: ScriptScopes): Pick<ProofModule, 'held' | 'heldCallee' | 'changing' | 'calls'> {
  return { held: refHeld, heldCallee, changing: (node) => readsChanging(node, scopes), calls: WORDS };
}

/** Whether a place is in the template, where a ref is read as what it holds. */
function isShownAt({ template }: Sfc, span: Span): boolean {
  return template !== undefined && within(span, template.inner);
}

function readsChildren(tag: string, more?: ReadonlySet<string>): true | undefined {
  return !TAGS.has(tag) && (READS_CHILDREN.test(pascal(tag)) || more?.has(tag)) ? true : undefined;
}

export const vue: Language = {
  ...about,
  lacks: {
    dissolve: 'a template has no functions that give markup back',
    function: 'a component is no class; one that is written as a class with decorators is not read',
    raise: 'not yet: declared above and handed down by hand',
    page: 'a component is no page',
  },

  readsChildren: (tag) => readsChildren(tag) ?? false,

  read(file, ports) {
    const sfc = parseSfc(file, ports);
    return isProblem(sfc) ? sfc : readVueModule(sfc);
  },

  lists(file, ports) {
    const sfc = parseSfc(file, ports);
    if (isProblem(sfc)) return sfc;
    return siblingLists(markupOf(sfc, defineOf(sfc.text, sfc.script?.script.program, sfc.setup?.script.program)));
  },

  names(file, ports) {
    const sfc = parseSfc(file, ports);
    if (isProblem(sfc)) return new Set();
    const names = new Set(NATIVE);
    for (const block of [sfc.script, sfc.setup]) {
      if (!block) continue;
      const scopes = ScriptScopes.of(block.script);
      for (const reference of scopes.references) names.add(String((reference.identifier as { name?: unknown }).name));
      for (const variable of scopes.moduleScope.variables) names.add(variable.name);
    }
    const definition = defineOf(sfc.text, sfc.script?.script.program, sfc.setup?.script.program);
    for (const name of definition.components.keys()) names.add(pascal(name));
    walkMarkup(markupOf(sfc, definition), (node) => {
      if (node.kind === 'element') names.add(node.name);
    });
    return names;
  },

  fileFor,

  cut,
  unify,
  logic: {
    extension: (file, ports) => {
      const sfc = parseSfc(file, ports);
      return !isProblem(sfc) && sfc.syntax.startsWith('ts') ? '.ts' : '.js';
    },
    // Elements that a component reaches by refs are its own.
    nameUnder: optionName,
    unifies: ({ text, isFunction, inputs }) => isFunction && inputs === 0 && !/\$refs\b/.test(text),
  },
  scopedContent: true,
  hooks,
  toModule: vueToModule,
  inlining,
  hypertext,
  forms,
  homes,
  carries,
  fixes,
  joining,

  barred,

  typed(file, ports) {
    const sfc = parseSfc(file, ports);
    return isProblem(sfc) ? undefined : typedText(sfc);
  },

  proveModule(module) {
    const script = lowerModule(module.script, module.scopes);
    if (!script) return undefined;
    const scopes = new ScriptScopes(script);
    return { ...module, script, scopes, keeps: KEEPS, lazy: LAZY, ...holding(scopes) };
  },

  prove(file, ports) {
    const sfc = parseSfc(file, ports);
    if (isProblem(sfc)) return sfc;
    const { script, scopes, undeclared, definition } = lower(sfc, true);
    const { path, text } = file;
    const renderedText = (raw: string) => raw;
    const isBased = hasBases(definition);
    return {
      path,
      text,
      script,
      scopes,
      renderedText,
      keeps: KEEPS,
      fallsThrough: true,
      undeclared,
      readsChildren: (tag) => readsChildren(tag, ports.readsChildren),
      ownName: (name) =>
        isOwn({ sfc }, name) || isMacroName(name) || (isBased && name.startsWith('$') && !OF_PLUGINS.has(name)),
      rerenders: runsOnUpdate(sfc, definition),
      lazy: LAZY,
      instance: instanceName,
      ...holding(scopes),
      opensAt: (name) => sfc.setup !== undefined && isShownAt(sfc, spanOf(name)),
      neighbours: NEIGHBOURS,
    };
  },
};
