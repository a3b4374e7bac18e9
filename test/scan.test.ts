/** The scanner of plain markup: every unit of any text is in the tree once, and the tree is what the standard says. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { print, scan, type Piece } from '../src/core/plain/scan.js';

/** Names and nesting: `ul(li li)`. */
function outline(pieces: readonly Piece[], text: string): string {
  return pieces
    .flatMap((p) => {
      if (p.kind === 'element') return [`${p.name}${p.children.length ? `(${outline(p.children, text)})` : ''}`];
      return p.kind === 'text' ? (text.slice(p.start, p.end).trim() ? ['#'] : []) : [p.kind];
    })
    .join(' ');
}

/** Leaves in order, each beginning where the one before it ended. */
function isWhole(pieces: readonly Piece[], from: number, to: number): boolean {
  let at = from;
  for (const piece of pieces) {
    if (piece.start !== at) return false;
    if (piece.kind === 'element') {
      const inner = piece.closing?.start ?? piece.end;
      if (piece.opening.start !== piece.start || !isWhole(piece.children, piece.opening.end, inner)) return false;
      if (piece.closing && piece.closing.end !== piece.end) return false;
    }
    at = piece.end;
  }
  return at === to;
}

const shreds = fc.constantFrom(
  '<',
  '>',
  '</',
  '/>',
  '<div',
  '<p>',
  '</p>',
  '</div>',
  '<li>',
  '<ul>',
  '</ul>',
  '<br>',
  '<td>',
  '<table>',
  '<!--',
  '-->',
  '<!',
  '<?php',
  '?>',
  '<%',
  '%>',
  '{{',
  '}}',
  '{%',
  ' class=',
  '"',
  "'",
  ' a',
  '=',
  'text',
  '\n',
  '<script>',
  '</script>',
  '<svg/>',
  '&amp;',
  'ü',
  '😀',
);

describe('scan', () => {
  it('loses nothing of any text, however broken', () => {
    const anything = fc.oneof(
      fc.string({ unit: 'binary' }),
      fc.array(shreds, { maxLength: 40 }).map((parts) => parts.join('')),
    );
    fc.assert(
      fc.property(anything, (text) => {
        const pieces = scan(text);
        expect(print(pieces, text)).toBe(text);
        expect(isWhole(pieces, 0, text.length)).toBe(true);
      }),
      { seed: 4, numRuns: 4000 },
    );
  });

  it.each([
    ['<ul><li>a<li>b</ul>c', 'ul(li(#) li(#)) #'],
    ['<ul><li>a<ul><li>b</ul><li>c</ul>', 'ul(li(# ul(li(#))) li(#))'],
    ['<p>a<p>b<div>c</div>', 'p(#) p(#) div(#)'],
    ['<div><p>a</div>b', 'div(p(#)) #'],
    ['<dl><dt>a<dd>b<dt>c</dl>', 'dl(dt(#) dd(#) dt(#))'],
    [
      '<table><thead><tr><th>a<th>b<tbody><tr><td>c<td>d<tr><td>e</table>',
      'table(thead(tr(th(#) th(#))) tbody(tr(td(#) td(#)) tr(td(#))))',
    ],
    ['<select><option>a<option>b</select>', 'select(option(#) option(#))'],
    ['<p>a<br>b<img src=x>c', 'p(# br # img #)'],
    ['<script>if (a < b) "</p>"</script><p>', 'script(#) p'],
    ['a < b and c > d', '#'],
    ['<a title="x > y" b=\'<p>\'>c</a>', 'a(#)'],
    ['</p>a</b>', 'stray # stray'],
    ['<svg><path d="M0"/><g><path/></g></svg>', 'svg(path g(path))'],
    ['{{ a < b }}<p class="{{ "x" }}">{{ y }}</p>', 'foreign p(foreign)'],
    ['<?php if ($a > 1): ?><p><?= $x ?></p><?php endif ?>', 'foreign p(foreign) foreign'],
    ['<p <% if x %>class="a"<% end %>>b</p>', 'p(#)'],
  ])('%s', (text, expected) => {
    expect(outline(scan(text), text)).toBe(expected);
  });
});
