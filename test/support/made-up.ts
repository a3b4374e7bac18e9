/**
 * A small language that is made up, written against `verkstad/language` alone: it holds that the contract is enough. A file is a component;
 * `takes name, kilos` says what it is given, and a tag with a capital is the file of that name beside it.
 */
import {
  CAPABILITIES,
  isProblem,
  make,
  problem,
  registerLanguage,
  ScriptScopes,
  type Attribute,
  type Language,
  type LanguageAbout,
  type Markup,
  type ModuleModel,
  type ProofModule,
  type SourceFile,
  type Span,
} from '../../src/core/language/index.js';

const about: LanguageAbout = { id: 'comb', label: 'Comb', extensions: ['.comb'] };
const TOKEN = /<\/(\w+)>|<(\w+)((?:\s+\w+=(?:"[^"]*"|\{\w+\}))*)\s*(\/?)>|\{(\w+)\}|[^<{]+/g;
const ATTRIBUTE = /(\w+)=(?:"([^"]*)"|\{(\w+)\})/g;

interface Comb {
  readonly takes: readonly string[];
  readonly markup: readonly Markup[];
}

function read({ text, path }: SourceFile) {
  const head = /^\uFEFF?(?:takes ([^\r\n]*)\r?\n)?/.exec(text)!;
  const root: Markup[] = [];
  const open: { readonly name: string; readonly attributes: Attribute[]; start: number; children: Markup[] }[] = [];
  const siblings = () => open.at(-1)?.children ?? root;
  const element = (name: string, attributes: readonly Attribute[], children: Markup[], span: Span) =>
    ({ kind: 'element', name, component: /^[A-Z]/.test(name), attributes, children, ...span }) as const;
  TOKEN.lastIndex = head[0].length;
  for (let at = TOKEN.lastIndex; at < text.length; at = TOKEN.lastIndex) {
    const token = TOKEN.exec(text);
    if (token?.index !== at) return problem('file-syntax', { path, span: { start: at, end: at + 1 } }, 'what is this');
    const [all, closing, tag, written, single, name] = token;
    const span = { start: at, end: at + all.length };
    if (tag !== undefined) {
      const attributes = attributesOf(written!, at + 1 + tag.length);
      if (single) siblings().push(element(tag, attributes, [], span));
      else open.push({ name: tag, attributes, start: at, children: [] });
    } else if (closing !== undefined) {
      const last = open.pop();
      if (last?.name !== closing) return problem('file-syntax', { path, span }, `</${closing}> closes nothing`);
      siblings().push(element(last.name, last.attributes, last.children, { start: last.start, end: span.end }));
    } else if (name !== undefined) {
      const code = { start: at + 1, end: span.end - 1 };
      siblings().push({
        kind: 'expression',
        ...span,
        code: { ...code, syntax: make.identifier(name, code) },
        parts: [],
      });
    } else if (all.trim()) {
      const start = at + all.length - all.trimStart().length;
      siblings().push({ kind: 'text', start, end: start + all.trim().length, text: all.trim().replace(/\s+/g, ' ') });
    }
  }
  const takes = head[1]?.split(',').map((one) => one.trim()) ?? [];
  return { takes, markup: root } satisfies Comb;
}

function attributesOf(written: string, offset: number): Attribute[] {
  return [...written.matchAll(ATTRIBUTE)].map(([all, name, text, code], i, list): Attribute => {
    const start = offset + list[i]!.index;
    const span = { start, end: start + all.length };
    if (code === undefined)
      return {
        kind: 'static',
        name: name!,
        text: text!,
        quoted: { start: start + name!.length + 1, end: span.end },
        parts: [],
        ...span,
      };
    const at = { start: span.end - 1 - code.length, end: span.end - 1 };
    return { kind: 'bound', name: name!, code: { ...at, syntax: make.identifier(code, at) }, parts: [], ...span };
  });
}

function each(nodes: readonly Markup[], visit: (node: Markup) => void): void {
  for (const node of nodes) {
    visit(node);
    if (node.kind === 'element') each(node.children, visit);
  }
}

/** Names that are read, in the order in which they are met; `tags`: names of components instead. */
function namesIn(nodes: readonly Markup[], region: Span, tags = false): string[] {
  const names = new Set<string>();
  const add = (code: { start: number; end: number; syntax: { type: string } } | undefined) => {
    if (code && code.start >= region.start && code.end <= region.end)
      names.add((code.syntax as { name?: string }).name!);
  };
  each(nodes, (node) => {
    if (node.kind === 'expression' && !tags) add(node.code);
    if (node.kind !== 'element') return;
    if (tags && node.component && node.start >= region.start && node.end <= region.end) names.add(node.name);
    if (!tags) for (const attribute of node.attributes) add(attribute.code);
  });
  return [...names];
}

/** What the proof compares: a function of what the file takes, that gives back its tags. */
type Shown = ReturnType<typeof make.jsxFragment>['children'];

function lowered(nodes: readonly Markup[]): Shown {
  return nodes.flatMap((node): Shown => {
    if (node.kind === 'text') return [make.jsxText(node.text, node)];
    if (node.kind === 'expression') return [make.container(node.code.syntax, node)];
    if (node.kind !== 'element') return [];
    const attributes = node.attributes.map((a) =>
      make.jsxAttribute(a.name, a.code?.syntax ?? make.literal(a.text ?? '', a.quoted ?? a), a),
    );
    return [make.jsxElement(make.jsxName(node.name, node), attributes, lowered(node.children), node)];
  });
}

function componentName(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1).replace(/\.comb$/, '');
}

const importOf = (local: string) =>
  ({ source: `./${local}.comb`, local, imported: 'default', typeOnly: false, start: 0, end: 0 }) as const;
const whole = (text: string): Span => ({ start: 0, end: text.length });

const comb: Language = {
  ...about,
  lacks: Object.fromEntries(CAPABILITIES.slice(1).map((name) => [name, 'it has no more than it needs'])),
  readsChildren: () => false,
  read(file): ModuleModel | ReturnType<typeof problem> {
    const comb = read(file);
    if (isProblem(comb)) return comb;
    const props = comb.takes.map((name) => ({ name, required: true }));
    const name = componentName(file.path);
    const imports = namesIn(comb.markup, whole(file.text), true).map((local) => importOf(local));
    const own = { name, exported: 'default', props, openProps: false, bindings: [], deeds: [] } as const;
    const components = [{ kind: 'function' as const, ...own, markup: comb.markup, ...whole(file.text) }];
    const exports = [{ name: 'default', local: name }];
    return { components, imports, exports, loads: [], mounts: [], registers: [], started: [], scripts: [] };
  },
  lists(file) {
    const comb = read(file);
    if (isProblem(comb)) return comb;
    const lists: (readonly Markup[])[] = [comb.markup];
    each(comb.markup, (node) => node.kind === 'element' && node.children.length > 0 && lists.push(node.children));
    return lists;
  },
  names(file) {
    const comb = read(file);
    if (isProblem(comb)) return new Set();
    return new Set([...comb.takes, ...namesIn(comb.markup, whole(file.text), true)]);
  },
  fileFor: (_, host, name) => `${host.slice(0, host.lastIndexOf('/') + 1)}${name}.comb`,
  cut({ file, region, name, target }) {
    const comb = read(file);
    if (isProblem(comb)) return comb;
    if (target === undefined) return problem('same-file-one', { path: file.path, span: region }, 'A file of Comb');
    const taken = namesIn(comb.markup, region);
    const nl = file.text.includes('\r\n') ? '\r\n' : '\n';
    const head = taken.length > 0 ? `takes ${taken.join(', ')}${nl}` : '';
    const { start, end } = region;
    const edits = [{ start, end, text: `<${[name, ...taken.map((n) => `${n}={${n}}`)].join(' ')} />` }];
    const files = new Map([[target, `${head}${file.text.slice(start, end)}${nl}`]]);
    return { edits, files, seam: { props: taken.map((n) => ({ name: n })), events: [], slots: [] }, notes: [] };
  },
  prove(file): ProofModule | ReturnType<typeof problem> {
    const comb = read(file);
    if (isProblem(comb)) return comb;
    const at = make.at(file.text.length);
    const id = (name: string) => make.identifier(name, at);
    const ends = { range: [at.start, at.end] };
    const imports = namesIn(comb.markup, whole(file.text), true).map((name) => ({
      type: 'ImportDeclaration',
      specifiers: [{ type: 'ImportDefaultSpecifier', local: id(name), ...ends }],
      source: make.literal(`./${name}.comb`, at),
      ...ends,
    }));
    const entries = comb.takes.map((key) => ({ key, value: id(key) }));
    const all = whole(file.text);
    const body = make.block([make.returned(make.jsxFragment(lowered(comb.markup), all), all)], all);
    const name = id(`Component:${componentName(file.path)}`);
    const fn = make.exportDefault(make.functionDeclaration(name, [make.pattern(entries, at)], body, all), all);
    const program = { type: 'Program', body: [...imports, fn], sourceType: 'module', range: [0, at.end] };
    const script = { program: { ...program, comments: [], tokens: [] }, comments: [] } as never;
    const renderedText = (raw: string) => raw.trim().replace(/\s+/g, ' ');
    return { path: file.path, text: file.text, script, scopes: ScriptScopes.of(script), renderedText };
  },
};

registerLanguage({ ...about, load: () => Promise.resolve(comb) });
