/** A name for a region that is free in its file and at the place where the component goes. */
import { componentNameFromFile } from '../files/paths.js';
import type { Language } from '../language/language.js';
import type { SourceFile } from '../language/ports.js';
import type { ComponentModel } from '../markup/model.js';
import type { Region } from '../markup/region.js';
import { isClosing } from './regions/shapes.js';
import { isProblem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import { proposeNames, type NameHints } from './names.js';
import { wordsIn, wordsName } from './words.js';

const SUFFIXES = ['', 'View', 'Part', 'Block'];

/** `isFree` says whether nothing else has the name. */
export function freeName(proposed: readonly string[], isFree: (name: string) => boolean): string {
  const found = SUFFIXES.flatMap((suffix) => proposed.map((name) => name + suffix)).find(isFree);
  if (found !== undefined) return found;
  const base = proposed[0] ?? 'Part';
  for (let i = 2; ; i++) if (isFree(`${base}${i}`)) return `${base}${i}`;
}

/** What stands around the regions of a file and tells what they are. */
export class Surroundings {
  readonly #comments = new Map<number, string>();
  readonly #loops = new Map<string, NonNullable<NameHints['loop']>>();
  readonly #conditions = new Map<string, string>();

  constructor(
    project: Project,
    readonly file: SourceFile & { readonly language: Language },
  ) {
    const lists = file.language.lists(file, project.ports);
    for (const list of isProblem(lists) ? [] : lists) {
      list.forEach((node, i) => {
        const before = list[i - 1];
        if (before?.kind === 'comment' && !isClosing(before)) this.#comments.set(node.start, before.text);
        for (const arm of node.kind === 'branch' ? node.arms : []) {
          const shown = arm.body.length === 1 ? arm.body[0]! : undefined;
          if (shown && arm.condition) {
            const condition = file.text.slice(arm.condition.start, arm.condition.end);
            this.#conditions.set(`${shown.start}-${shown.end}`, condition);
          }
        }
        const only = node.kind === 'loop' && node.body.length === 1 ? node.body[0]! : undefined;
        if (node.kind !== 'loop' || !only) return;
        const source = file.text.slice(node.source.start, node.source.end);
        this.#loops.set(`${only.start}-${only.end}`, { item: node.items[0], source });
      });
    }
  }

  hints(region: Region, host: ComponentModel | undefined): NameHints {
    const condition = this.#conditions.get(`${region.start}-${region.end}`);
    const maker = host && makerOf(this.file.text, region, host);
    return {
      ...(maker === undefined ? {} : { maker }),
      ...(condition === undefined ? {} : { condition }),
      text: this.file.text,
      host: hostName(this.file.path, host),
      comment: this.#comments.get(region.start),
      loop: this.#loops.get(`${region.start}-${region.end}`),
    };
  }

  /** Names for a region, best first. */
  names(region: Region, host: ComponentModel | undefined): string[] {
    return proposeNames(region.nodes, { ...this.hints(region, host), alone: true });
  }
}

/** A component that is only called what any could be is named with its folder: `ListPage` in `Keepers` is `KeepersListPage`. */
function hostName(path: string, host: ComponentModel | undefined): string {
  const name = host ? host.name[0]!.toUpperCase() + host.name.slice(1) : componentNameFromFile(path);
  if (!wordsIn(name).every((word) => ANY_HOST.test(word))) return name;
  const folders = path.split('/').slice(0, -1).reverse();
  const folder = folders.find((f) => !ANY_FOLDER.test(f) && !wordsIn(f).every((word) => ANY_HOST.test(word)));
  return (wordsName(folder, 3) ?? '') + name;
}

/** The variable that markup right behind `before` is given to, where it holds no other, without what says only that it is markup. */
function heldBy(before: string, behind: string): string | undefined {
  const found = /(?:const|let|var)\s+([A-Za-z_$][\w$]*)\s*(?::[^=;]+)?=(?!=)([^;<{]*)$/.exec(before);
  if (!found || /\b(?:return|const|let|var|function|if)\b/.test(found[2]!) || /^[^;{}]*<[A-Za-z>]/.test(behind))
    return undefined;
  const name = found[1]!
    .replace(/^(?:maybe|include|show|render|get|the|my|optional)(?=[A-Z])/, '')
    .replace(/(?<=[a-z])(?:Element|Elem|El|Node|Jsx|JSX|Markup|Component|Html|HTML|Dom|DOM|Container|Wrapper)$/, '');
  return name.length > 3 ? name : undefined;
}

/** `GeneralTab` for what stands behind `{ name: 'general', tabLabel: 'General', content: (`. */
function entryOf(before: string): string | undefined {
  const object = /\{([^{}]*[^{}\s])\s*$/.exec(before)?.[1];
  const key =
    object &&
    /(?:^|[,\s])(content|component|element|children|node|body|panel|render|view)\s*:\s*\(?\s*$/.exec(object)?.[1];
  const said =
    key &&
    /(?:^|[,\s])(?:name|id|key|value|title|label|\w*Label)\s*:\s*(?:\w+\(\s*)?(['"`])([A-Za-z][\w -]*)\1/.exec(
      object,
    )?.[2];
  const name = said && wordsName(said, 3);
  return name ? name + (/\btab/i.test(object) ? 'Tab' : 'Section') : undefined;
}

/** Characters between a variable and its markup. */
const FAR = 300;

const ANY_HOST =
  /^(?:list|edit|edition|view|page|details?|create|show|index|main|modal|content|layout|screen|settings)$/;
const ANY_FOLDER =
  /^(?:src|lib|app|packages?|components?|containers?|pages?|views?|screens?|routes?|admin|client|common|shared|features?|modules?|ui|js|ts|\W.*)$/i;

/** `FooterBar` for all that the method `renderFooterBar` of a class returns, and for what the variable `footerBar` holds. */
function makerOf(text: string, region: Region, host: ComponentModel): string | undefined {
  const before = text.slice(Math.max(host.start, region.start - FAR), region.start);
  const named = heldBy(before, text.slice(region.end)) ?? entryOf(before);
  if (named !== undefined) return named;
  if (!host.markup.some((m) => m.start === region.start && m.end === region.end)) return undefined;
  const methods = [
    ...text.slice(host.start, region.start).matchAll(/\brender([A-Z]\w*)\s*(?:=\s*)?(?:\(|\w+\s*=>)/g),
  ].filter(
    // A call is not where it is made.
    ({ index }) => !/[.\w]$/.test(text.slice(host.start, host.start + index)),
  );
  return methods.at(-1)?.[1];
}
