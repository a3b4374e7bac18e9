/**
 * What a component gets from elsewhere: mixins and the component that it extends. Their names, registrations, hooks and
 * reads of refs are not in its file; they are looked up in the project, and what comes from a package cannot be seen.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { textOf, type FileSet } from '../../files/files.js';
import type { Neighbours } from '../../language/proof-module.js';
import type { ProjectView } from '../../language/project.js';
import type { Node } from '../../script/parser.js';
import { bare } from '../../script/walk.js';
import { keyName, pascal, propertyOf, type Definition } from './definition.js';
import { directiveName } from './registered.js';
import type { Sfc } from './sfc.js';
import { literally } from '../../text/pattern.js';

export interface Bases {
  /** Texts of mixins and of what is extended, as far as the project holds them. */
  readonly texts: readonly string[];
  /** Some of them cannot be seen. */
  readonly unseen: boolean;
}

const NONE: Bases = { texts: [], unseen: false };
const DEPTH = 6;

export function basesOf(sfc: Sfc, { options }: Definition, project: ProjectView): Bases {
  if (!options) return NONE;
  const wanted = namesOf(options);
  const bases = wanted.length === 0 ? NONE : found(sfc.path, sfc.text, wanted, project, 0);
  return isMadeElsewhere(sfc.text, options) ? { ...bases, unseen: true } : bases;
}

/** `new Panel({ … })`, `mixins(A, B).extend({ … })`: what makes a component of the options may add to it. */
function isMadeElsewhere(text: string, options: TSESTree.ObjectExpression): boolean {
  const maker = /([\w$.)]*)\s*(?:<[^<>]*>\s*)?\(\s*$/.exec(text.slice(0, options.range[0]));
  return maker !== null && !/^(?:define(?:Nuxt)?Component|Vue\.extend|Vue\.component)?$/.test(maker[1]!);
}

/** Whether a component says that it has any. */
export function hasBases({ options }: Definition): boolean {
  return options !== undefined && namesOf(options).length > 0;
}

/** Names behind `mixins` and `extends`; an empty one for what is no name. */
function namesOf(options: TSESTree.ObjectExpression): string[] {
  const listed = (node: Node | undefined): Node[] => {
    const value = node && bare(node);
    if (!value) return [];
    return value.type === 'ArrayExpression' ? value.elements.flatMap((e) => (e ? [e] : [])) : [value];
  };
  const all = [...listed(propertyOf(options, 'mixins')), ...listed(propertyOf(options, 'extends'))];
  return all.map((node) => {
    const value = bare(node);
    // What is written out here is in the file and read with it.
    return value.type === 'Identifier' ? value.name : '';
  });
}

function found(path: string, text: string, wanted: readonly string[], project: ProjectView, depth: number): Bases {
  const texts: string[] = [];
  let unseen = false;
  for (const name of wanted) {
    const source = name && sourceOf(text, name);
    // Declared in the same file, or made on the spot by a call.
    if (!source) {
      texts.push(text);
      if (!name || new RegExp(`\\b${literally(name)}\\s*=\\s*\\w+\\(`).test(text)) unseen = true;
      continue;
    }
    const target = project.resolver.resolve(path, source);
    const own = target.kind === 'file' || target.kind === 'asset' ? textOf(project.files, target.path) : undefined;
    if (own === undefined || depth > DEPTH || !('path' in target)) {
      unseen = true;
      continue;
    }
    texts.push(own);
    const further = [...own.matchAll(/\b(?:mixins\s*:\s*\[([^\]]*)\]|extends\s*:\s*([A-Za-z_$][\w$]*))/g)].flatMap(
      ([, list, one]) =>
        one ? [one] : (list ?? '').split(',').map((n) => /^\s*([A-Za-z_$][\w$]*)\s*$/.exec(n)?.[1] ?? ''),
    );
    const again = [...own.matchAll(/export\s*(?:\{[^}]*\}|\*)\s*from\s*['"]([^'"]+)['"]/g)].map(([, from]) => from!);
    for (const from of again) {
      const next = project.resolver.resolve(target.path, from);
      const more = next.kind === 'file' || next.kind === 'asset' ? textOf(project.files, next.path) : undefined;
      if (more === undefined) unseen = true;
      else texts.push(more);
    }
    if (further.length > 0) {
      const more = found(target.path, own, further.filter(Boolean), project, depth + 1);
      texts.push(...more.texts);
      unseen ||= more.unseen;
    }
  }
  return { texts, unseen };
}

function sourceOf(text: string, name: string): string | undefined {
  if (!name) return undefined;
  const word = literally(name);
  const imported = new RegExp(`import\\s[^;'"]*(?<![\\w$])${word}(?![\\w$])[^;'"]*from\\s*['"]([^'"]+)['"]`).exec(text);
  const required = new RegExp(`(?<![\\w$])${word}(?![\\w$])[^;=]*=\\s*require\\(\\s*['"]([^'"]+)['"]`).exec(text);
  return imported?.[1] ?? required?.[1];
}

/** Whether a base says a name at all: as a property, a method, or in a list. */
export function says({ texts }: Bases, name: string): boolean {
  const asked = new RegExp(`(?<![\\w$.])['"]?${literally(name)}['"]?\\s*(?:[:(,}\\]]|$)`, 'm');
  return texts.some((text) => asked.test(text));
}

/** Whether a text registers the directive of an attribute, however it spells its name. */
export function registersDirective(text: string, attribute: string): boolean {
  const list = /\bdirectives\s*:\s*\{([^}]*)\}/.exec(text)?.[1] ?? '';
  const names = list.match(/(?<![\w$.:-])['"]?[\w-]+['"]?(?=\s*(?:[:,(]|$))/g) ?? [];
  return names.some((name) => pascal(name.replace(/['"]/g, '')) === directiveName(attribute));
}

export function readsRef({ texts }: Bases, name: string): boolean {
  const word = new RegExp(`(?<![\\w$])${literally(name)}(?![\\w$])`);
  return texts.some((text) => /\$refs\b/.test(text) && (word.test(text) || /\$refs\s*\[/.test(text)));
}

/**
 * What components read of each other. Climbing until somebody is found (`parent = parent.$parent`) passes by a component
 * in between; what stands at a fixed distance does not.
 */
export const NEIGHBOURS: Neighbours = {
  outward: (text) => {
    const climbs = /([\w$]+)\s*=\s*\1\.\$parent\b/.test(text);
    return !climbs && (/\$parent\b/.test(text) || /getCurrentInstance\(\)\??\.parent\b/.test(text));
  },
  inward: (text) =>
    /\$children\b|\.component(?:Options|Instance)\b/.test(text) ||
    /\$?slots\b[^;\n]{0,60}?\.(?:filter|forEach|map|flatMap|some|every|find|reduce)\(/.test(text),
  isBetween: (tag) => !/^(?:Transition|TransitionGroup|KeepAlive|Suspense|Teleport)$/.test(tag),
  known: (text, attribute) =>
    /^v-/.test(attribute) && registersDirective(text, attribute) ? attribute.replace(/[:.].*$/, '') : undefined,
  basesOf: (text) =>
    [...text.matchAll(/\b(?:mixins\s*:\s*\[([^\]]*)\]|extends\s*:\s*([A-Za-z_$][\w$]*))/g)]
      .flatMap(([, list, one]) => (one ?? list ?? '').split(','))
      .flatMap((name) => sourceOf(text, /^\s*([\w$]+)/.exec(name)?.[1] ?? '') ?? []),
};

/** A hook that runs whenever the component has been rendered again. */
export const UPDATES = /(?<![\w$.])(?:updated|beforeUpdate)\s*[(:]|\bon(?:Before)?Updated?\s*\(/;

export function runsOnUpdate(sfc: Sfc, { options }: Definition, bases: Bases = NONE): boolean {
  const own = options?.properties.some(
    (p) => p.type === 'Property' && /^(?:updated|beforeUpdate)$/.test(keyName(p.key) ?? ''),
  );
  const calls = [sfc.setup, sfc.script].some(
    (block) => block && /\bon(?:Before)?Updated?\s*\(/.test(sfc.text.slice(block.inner.start, block.inner.end)),
  );
  return (own ?? false) || calls || bases.texts.some((text) => UPDATES.test(text));
}

const known = new WeakMap<FileSet, ReadonlySet<string>>();

/** Refs that are read through another component, as in `this.$refs.panel.$refs.field`, anywhere in a project. */
export function refsReadFromOutside(files: FileSet): ReadonlySet<string> {
  const memo = known.get(files);
  if (memo) return memo;
  const names = new Set<string>();
  for (const path of files.list()) {
    const text = /\.(?:vue|[cm]?[jt]sx?)$/.test(path) ? (textOf(files, path) ?? '') : '';
    const isOwn = (holder: string) =>
      holder === 'this' ||
      (/^[\w$]+$/.test(holder) && new RegExp(`(?<![\\w$.])${literally(holder)}\\s*=\\s*this(?![\\w$.[])`).test(text));
    for (const [, holder, name, quoted] of text.matchAll(REACHED))
      if (!isOwn(holder!.replace(/^[.?!]+/, ''))) names.add(name ?? quoted!);
    for (const [, taken, holder] of text.matchAll(TAKEN))
      if (!isOwn(holder!)) for (const entry of taken!.split(',')) names.add(entry.split(/[:=]/)[0]!.trim());
  }
  known.set(files, names);
  return names;
}

/** `panel.$refs.field`, with what stands directly before it. */
const REACHED = /\.\$refs(?<=([\w$.?!)\]]+)\s*\.\$refs)\s*[?!]?(?:\.([\w$]+)|(?:\?\.)?\[\s*['"]([^'"]+)['"]\s*\])/g;
/** `{ field } = panel.$refs` */
const TAKEN = /\{([^{}]*)\}\s*=\s*([\w$.?!)\]]+)\s*\.\$refs\b(?!\s*[.[?])/g;

/** Names of the instance that plugins add, the same in every component. */
export const OF_PLUGINS = new Set(
  (
    '$t $tc $te $tm $rt $d $n $i18n $router $route $store $pinia $nuxt $config $q $vuetify $toast $message $msgbox $confirm ' +
    '$alert $prompt $notify $loading $http $axios $api $filters $gettext $page $site $themeConfig $localePath $frontmatter ' +
    '$lang $withBase $themeLocaleConfig $localeConfig $description $title $nextTick $set $delete $watch $forceUpdate $on $off $once ' +
    '$root $event $createElement $bvModal $bvToast $apollo $cookies $device $auth $fetchState $img $sentry $ELEMENT $Modal $Message ' +
    '$Notice $Loading $Spin $dayjs $moment $lodash $bus $eventBus $device $vux $buefy $material'
  ).split(' '),
);
