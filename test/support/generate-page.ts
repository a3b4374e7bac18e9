/** Pages made from a seed: end tags left out, odd white space, text and tags in lines, forms, tables, references. */
import { seeded } from './projects.js';

export function generatePage(seed: number): string {
  return new PageMaker(seeded(seed)).page();
}

const WORDS = [
  'Heather',
  'clover',
  'R&D',
  'brood &amp; honey',
  '3 &lt; 4',
  '{queen}',
  'caf&eacute;',
  'a&nbsp;b',
  '&copy 2026',
  '12&thinsp;kg',
  "keeper's",
  '"calm"',
];
const INLINE = ['b', 'em', 'span', 'a', 'code', 'small', 'label'];
const BLOCK = ['div', 'section', 'p', 'article', 'h2', 'blockquote', 'aside'];

class PageMaker {
  constructor(readonly random: () => number) {}

  #pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.random() * list.length)]!;
  }

  #chance(p: number): boolean {
    return this.random() < p;
  }

  #times<T>(most: number, make: () => T): T[] {
    return Array.from({ length: 1 + Math.floor(this.random() * most) }, make);
  }

  page(): string {
    const body = this.#times(4, () => this.#block(3)).join(this.#space());
    const shell = `<main class="page">${body}</main>`;
    return `<!DOCTYPE html>\n<html>\n<head><title>Apiary</title></head>\n<body>\n${shell}\n</body>\n</html>\n`;
  }

  #space(): string {
    return this.#pick(['', ' ', '\n', '\n  ', '\n\n    ', '\t']);
  }

  #attributes(): string {
    const all = [
      'class="row  wide"',
      `id=x${Math.floor(this.random() * 1e6)}`,
      'title="R&amp;D &quot;x&quot;"',
      "data-kind='a b'",
      'style="color: red; margin-top: 2px"',
      'inert',
      'lang=en',
      'aria-hidden',
      'tabindex="0"',
      'data-n="1 &lt; 2"',
    ];
    return all
      .filter(() => this.#chance(0.12))
      .map((a) => ` ${a}`)
      .join('');
  }

  #block(depth: number): string {
    if (depth === 0 || this.#chance(0.3)) return this.#line(2);
    const kind = this.random();
    if (kind < 0.1) return this.#list();
    if (kind < 0.2) return this.#table();
    if (kind < 0.3) return this.#form();
    if (kind < 0.35) return `<pre>${this.#pick(['', '\n'])}frames\n  ten <b>brood</b>\n</pre>`;
    if (kind < 0.4)
      return this.#pick([
        '<hr>',
        '<!-- the hive -->',
        '<svg viewBox="0 0 4 4" width="9"><path d="M0 0h4" stroke-width="2"/></svg>',
        '<br/>',
      ]);
    const name = this.#pick(BLOCK);
    const plain = name === 'p' || name === 'h2';
    const inner = plain ? this.#line(2) : this.#times(3, () => this.#block(depth - 1)).join(this.#space());
    const close = name === 'p' && this.#chance(0.4) ? '' : `</${name}>`;
    // A paragraph without an end tag ends at the next block only.
    const after = close ? '' : '<div></div>';
    return `<${name}${this.#attributes()}>${this.#space()}${inner}${this.#space()}${close}${after}`;
  }

  #line(depth: number): string {
    return this.#times(4, () => {
      if (depth === 0 || this.#chance(0.5)) return this.#pick(WORDS);
      if (this.#chance(0.15))
        return this.#pick([
          '<br>',
          '<img alt="bee">',
          '<input value="a b" type=text>',
          '<button>weigh</button>',
          '<i></i>',
        ]);
      const name = this.#pick(depth > 1 ? INLINE : INLINE.filter((n) => n !== 'a' && n !== 'label'));
      return `<${name}${this.#attributes()}>${this.#space()}${this.#line(0)}${this.#space()}</${name}>`;
    }).join(this.#space());
  }

  #list(): string {
    const end = this.#chance(0.5) ? '</li>' : '';
    return `<ul>${this.#times(3, () => `${this.#space()}<li>${this.#line(1)}${end}`).join('')}${this.#space()}</ul>`;
  }

  #table(): string {
    const end = this.#chance(0.5);
    const cell = () => `<td>${this.#line(0)}${end ? '</td>' : ''}`;
    const row = () => `${this.#space()}<tr>${this.#times(3, cell).join(end ? this.#space() : '')}${end ? '</tr>' : ''}`;
    return `<table>${this.#times(3, row).join('')}${this.#space()}</table>`;
  }

  #form(): string {
    const option = () => `<option${this.#chance(0.3) ? ' value="a&amp;b"' : ''}>${this.#pick(WORDS)}`;
    return `<form action="/weigh?a=1&amp;b=2" novalidate>${this.#space()}<select name=hive>${option()}<option selected>last</select>${this.#space()}<input type="checkbox" checked disabled="disabled">${this.#space()}<textarea rows=2>\n${this.#pick(WORDS)}\n two</textarea></form>`;
  }
}
