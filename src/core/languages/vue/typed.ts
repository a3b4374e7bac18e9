/**
 * A Vue file as TypeScript, for the type checker alone: its scripts where they stand, and behind them the code of the
 * template in blocks that narrow as its conditions do.
 */
import type { Attribute, Code, Markup } from '../../markup/model.js';
import type { Node } from '../../script/parser.js';
import type { Span } from '../../text/edits.js';
import type { TypedText } from '../../language/language.js';
import { lower } from './lower.js';
import type { Sfc } from './sfc.js';

/** What the template needs of Vue's types. */
const HELPERS = `
declare function $template<T>(context: T, render: (names: import('vue').ShallowUnwrapRef<T>) => void): void;
declare function $each<T>(list: Iterable<T> | null | undefined): [T, number, number][];
declare function $each(count: number): [number, number, number][];
declare function $each<T>(record: Record<string, T>): [T, string, number][];
declare const $emit: (event: string, ...args: any[]) => void;
declare const $slots: any, $attrs: any, $refs: any, $route: any, $router: any, $t: any, $store: any;
`;

/** Undefined where the file holds no TypeScript. */
export function typedText(sfc: Sfc): TypedText | undefined {
  if (!sfc.syntax.startsWith('ts')) return undefined;
  const lowered = lower(sfc);
  const { definition } = lowered;
  const blocks = [sfc.script, sfc.setup].flatMap((block) => (block && block.src === undefined ? [block.inner] : []));
  const writer = new Writer(sfc.text, blocks);
  const props = [...definition.props.map((p) => p.name), ...lowered.undeclared].filter((name) =>
    /^[A-Za-z_$][\w$]*$/.test(name),
  );
  writer.add(HELPERS);
  if (definition.api === 'setup') {
    const call = definition.macros.get('withDefaults') ?? definition.macros.get('defineProps');
    const taken = new Set(
      definition.propsPattern?.properties.flatMap((p) =>
        p.type === 'Property' && p.value.type === 'Identifier' ? [p.value.name] : [],
      ),
    );
    const locals = definition.members.map((m) => m.name).filter((name) => name && !taken.has(name));
    const given = call && !definition.propsPattern ? `...${sfc.text.slice(...call.range)}, ` : '';
    const names = [...new Set([...(definition.propsPattern ? [] : props), ...locals])].join(', ');
    writer.add(`$template({ ${given}${[...new Set(locals)].join(', ')} }, ({ ${names} }) => {\n`);
  } else {
    const members = definition.members.map((m) => m.name).filter((name) => /^[A-Za-z_$][\w$]*$/.test(name));
    const file = sfc.path.slice(sfc.path.lastIndexOf('/') + 1);
    const names = [...new Set([...props, ...members])].join(', ');
    writer.add(`((({ ${names} }: InstanceType<(typeof import('./${file}'))['default']>) => {\n`);
  }
  writer.siblings(lowered.markup);
  writer.add(definition.api === 'setup' ? '});\nexport default {} as any;\n' : '}));\n');
  return { text: writer.text, at: (span) => writer.at(span) };
}

interface Piece extends Span {
  readonly at: number;
}

class Writer {
  text: string;
  readonly #pieces: Piece[];

  constructor(
    readonly source: string,
    blocks: readonly Span[],
  ) {
    const inside = (offset: number) => blocks.some((b) => b.start <= offset && offset < b.end);
    this.text = source.replace(/[^\n]/g, (character, offset: number) => (inside(offset) ? character : ' '));
    this.#pieces = blocks.map((b) => ({ ...b, at: b.start }));
  }

  at(span: Span): Span | undefined {
    const piece = this.#pieces.find((p) => p.start <= span.start && span.end <= p.end);
    if (!piece) return undefined;
    const by = piece.at - piece.start;
    return { start: span.start + by, end: span.end + by };
  }

  add(text: string): void {
    this.text += text;
  }

  #copy({ start, end }: Span): void {
    this.#pieces.push({ start, end, at: this.text.length });
    this.text += this.source.slice(start, end);
  }

  #value(code: Code): void {
    this.add('(');
    this.#copy(code);
    this.add(');\n');
  }

  #block(head: string, nodes: readonly Markup[], tail = '}\n'): void {
    this.add(head);
    this.siblings(nodes);
    this.add(tail);
  }

  siblings(nodes: readonly Markup[]): void {
    for (const node of nodes) this.#node(node);
  }

  #node(node: Markup): void {
    switch (node.kind) {
      case 'element':
        for (const attribute of node.attributes) this.#attribute(attribute);
        return this.siblings(node.children);
      case 'expression':
        return this.#value(node.code);
      case 'fragment':
        return this.siblings(node.children);
      case 'outlet':
        for (const attribute of node.attributes ?? []) this.#attribute(attribute);
        return this.siblings(node.fallback ?? []);
      case 'branch':
        node.arms.forEach((arm, i) => {
          this.add(i > 0 ? 'else ' : '');
          if (arm.condition) {
            this.add('if (');
            this.#copy(arm.condition);
            this.add(') ');
          }
          this.#block('{\n', arm.body);
        });
        return;
      case 'loop':
        this.add('$each(');
        this.#copy(node.source);
        this.add(').forEach(([');
        this.#names(node.binds);
        return this.#block(']) => {\n', node.body, '});\n');
    }
  }

  #names(binds: readonly Node[] | undefined): void {
    const [first] = binds ?? [];
    if (first) this.#copy({ start: first.range[0], end: binds!.at(-1)!.range[1] });
  }

  #attribute(attribute: Attribute): void {
    if (attribute.kind === 'slot') {
      const { each } = attribute;
      if (attribute.code) this.#value(attribute.code);
      if (each) {
        this.add('$each(');
        this.#copy(each.source);
        this.add(').forEach(([');
        this.#names(each.binds);
        this.add(']) => {\n');
      }
      if (attribute.named) this.#value(attribute.named);
      this.add('((...[');
      this.#names(attribute.binds);
      this.#block(']: any[]) => {\n', attribute.parts, '});\n');
      return this.add(each ? '});\n' : '');
    }
    if (!attribute.code || attribute.kind === 'spread') return;
    if (!('native' in attribute.code.syntax)) return this.#value(attribute.code);
    this.add('(($event: any) => {');
    this.#copy(attribute.code);
    this.add('\n});\n');
  }
}
