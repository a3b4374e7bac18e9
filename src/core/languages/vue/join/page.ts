/** A page with Vue templates in it and the scripts that mount them, turned into files; the page keeps a place to mount in. */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import { dirname, join as joined } from '../../../files/paths.js';
import { textOf } from '../../../files/files.js';
import type { ProjectView } from '../../../language/project.js';
import type { Edit } from '../../../text/edits.js';
import { wholeLines } from '../../imports.js';
import type { Joining, JoinOptions } from '../../../language/joining.js';
import { packageAround } from '../../rooms.js';
import { attributeIn, attributeValue } from '../../../plain/decode.js';
import { isHandler } from '../../../plain/handlers.js';
import { contentOf, elementsOf, scan, VOID, type ElementPiece, type Piece } from '../../../plain/scan.js';
import { asModuleUnlike, needsBuild } from './obstacles.js';
import { gather, type GatheredScript } from './gather.js';
import type { ScriptText, Templates } from './template-of.js';

export function joinPage(project: ProjectView, path: string, options: JoinOptions): Joining | Problem | undefined {
  const file = project.source(path);
  if (isProblem(file)) return file;
  const page = new Page(path, file.text);
  const scripts = page.scripts(project);
  const edits = new Map<string, Edit[]>();
  const add = (at: string, ...more: readonly Edit[]) => edits.set(at, [...(edits.get(at) ?? []), ...more]);
  const results: GatheredScript[] = [];
  for (const { script, tag } of scripts) {
    const result = gather(project, script, page);
    if (!result) continue;
    if (isProblem(result)) return result;
    const at = { path, span: tag.opening };
    const unlike = page.isModule(tag) ? undefined : asModuleUnlike(project, at, script.text);
    if (unlike) return unlike;
    const shared = page.sharedName(script, tag, scripts);
    if (shared !== undefined) return problem('join-shared', at, shared);
    results.push(result);
    add(script.path, ...result.edits);
    add(path, ...page.asModule(tag));
  }
  if (results.length === 0) return undefined;
  const unbuilt = needsBuild(project, path, options);
  if (unbuilt) return unbuilt;
  const taken = new Set(results.flatMap((r) => r.taken));
  add(path, ...[...taken].flatMap((selector) => page.emptied(selector)));
  const mentions = scripts.some(({ script, tag }) => !page.isJoined(tag) && /\bVue\b/.test(script.text));
  const isInstalled = packageAround(project.files, dirname(path)).needs.includes('vue');
  if (!mentions && isInstalled) add(path, ...page.loaders().map((tag) => wholeLines(file.text, tag)));
  return {
    components: results.flatMap((r) => r.components),
    edits,
    created: new Map(results.flatMap((r) => [...r.created])),
    deleted: [],
    notes: [
      'scripts of the page that were joined are modules now: they run when the page has been read, and need a bundler',
      ...(isInstalled
        ? []
        : ['they import vue, which package.json does not name yet; the page goes on loading its own']),
    ],
    before: new Map(results.flatMap((r) => [...r.before])),
  };
}

interface PageScript {
  readonly script: ScriptText;
  readonly tag: ElementPiece;
}

class Page implements Templates {
  readonly #elements: readonly ElementPiece[];
  readonly #joined = new Set<ElementPiece>();

  constructor(
    readonly path: string,
    readonly text: string,
  ) {
    this.#elements = elementsOf(scan(text));
  }

  /** Scripts that stand in the page or in the project. */
  scripts(project: ProjectView): PageScript[] {
    return this.#elements.flatMap((tag): PageScript[] => {
      const type = this.#attribute(tag, 'type')?.toLowerCase() ?? '';
      if (tag.name.toLowerCase() !== 'script' || !/^(?:|module|(?:text|application)\/javascript)$/.test(type))
        return [];
      const src = this.#attribute(tag, 'src');
      if (src === undefined) {
        const { start, end } = contentOf(tag);
        return [{ tag, script: { path: this.path, text: this.text.slice(start, end), typed: false, offset: start } }];
      }
      const path = /^(?:[a-z]+:|\/\/)/.test(src)
        ? undefined
        : joined(src.startsWith('/') ? '' : dirname(this.path), src);
      const text = path === undefined ? undefined : textOf(project.files, path);
      if (path === undefined || text === undefined) return [];
      return [{ tag, script: { path, text, typed: /\.ts$/.test(path), offset: 0 } }];
    });
  }

  #attribute(tag: ElementPiece, name: string): string | undefined {
    return attributeIn(tag, name, this.text);
  }

  #byId(selector: string): ElementPiece | undefined {
    return selector.startsWith('#')
      ? this.#elements.find((tag) => this.#attribute(tag, 'id') === selector.slice(1))
      : undefined;
  }

  find(selector: string, outer: boolean): { readonly text: string } | Problem | undefined {
    const tag = this.#byId(selector);
    if (!tag) return undefined;
    const within = outer ? tag : contentOf(tag);
    const text = this.text.slice(within.start, within.end);
    // A script's content is text; anything else a browser has read before Vue does.
    const wrong = tag.name.toLowerCase() === 'script' ? undefined : this.#misread(outer ? [tag] : tag.children);
    return wrong ?? { text };
  }

  /** What a browser reads otherwise than a template compiler would. */
  #misread(pieces: readonly Piece[]): Problem | undefined {
    for (const piece of pieces) {
      if (piece.kind !== 'element') continue;
      const at = { path: this.path, span: piece.opening };
      const isSvg = piece.name.toLowerCase() === 'svg';
      if (/[A-Z]/.test(piece.name))
        return problem('join-misread', at, `<${piece.name}>`, `<${piece.name.toLowerCase()}>`);
      const capital = isSvg ? undefined : piece.attributes.find((a) => /[A-Z]/.test(a.name));
      if (capital) return problem('join-misread', at, capital.name, capital.name.toLowerCase());
      const isClosed = piece.closing ?? VOID.has(piece.name);
      if (!isClosed) return problem('join-misread', at, `<${piece.name}> without an end tag`, 'ending where it can');
      const below = isSvg ? undefined : this.#misread(piece.children);
      if (below) return below;
    }
    return undefined;
  }

  /** A name of a plain script that something else on the page uses: a module keeps its names to itself. */
  sharedName({ text }: ScriptText, tag: ElementPiece, all: readonly PageScript[]): string | undefined {
    if (this.isModule(tag)) return undefined;
    const declared = [...text.matchAll(/^(?:const|let|var|function|class)\s+([\w$]+)/gm)].map((m) => m[1]!);
    const handlers = this.#elements.flatMap((e) =>
      e.attributes.filter((a) => isHandler(a.name)).map((a) => attributeValue(a, this.text)),
    );
    const others = all.filter((o) => o.tag !== tag).map((o) => o.script.text);
    return declared.find((name) =>
      [...handlers, ...others].some((code) =>
        new RegExp(`(?<![.\\w$])${name.replaceAll('$', '\\$')}(?![\\w$])`).test(code),
      ),
    );
  }

  isModule(tag: ElementPiece): boolean {
    return this.#attribute(tag, 'type') === 'module';
  }

  asModule(tag: ElementPiece): Edit[] {
    this.#joined.add(tag);
    const type = tag.attributes.find((a) => a.name.toLowerCase() === 'type');
    if (type) return [{ start: type.start, end: type.end, text: 'type="module"' }];
    const at = tag.opening.start + '<script'.length;
    return [{ start: at, end: at, text: ' type="module"' }];
  }

  isJoined(tag: ElementPiece): boolean {
    return this.#joined.has(tag);
  }

  /** A template goes with its line; of a mounted root the tags stay. */
  emptied(selector: string): Edit[] {
    const tag = this.#byId(selector);
    if (!tag) return [];
    return /^(?:script|template)$/i.test(tag.name) ? [wholeLines(this.text, tag)] : [{ ...contentOf(tag), text: '' }];
  }

  /** Tags that load the global build of Vue. */
  loaders(): ElementPiece[] {
    return this.#elements.filter((tag) =>
      /(?:^|\/)vue(?:@[\w.]+)?(?:\/dist\/vue)?(?:\.(?:global|runtime|prod|min))*(?:\.js)?$/.test(
        this.#attribute(tag, 'src') ?? '',
      ),
    );
  }
}
