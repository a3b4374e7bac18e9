/** Edits, lines, layout and white space: laws that hold for any text, with fixed seeds. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  applyEdits,
  composeEdits,
  fingerprint,
  invertEdits,
  Lines,
  unifiedDiff,
  type Edit,
} from '../src/core/index.js';
import { Forms } from '../src/core/forms/forms.js';
import { reindent, typeOnOneLine } from '../src/core/text/layout.js';
import { renderedText } from '../src/core/languages/jsx/text.js';

const settings = { seed: 20261123, numRuns: 400 };
const texts = fc.string({ unit: fc.constantFrom('a', 'b', ' ', '\n', '\r\n', 'ä', '🐝'), maxLength: 40 });

/** Edits that do not overlap, over a text. */
function editsFor(text: string): fc.Arbitrary<Edit[]> {
  return fc.array(fc.tuple(fc.nat(text.length), fc.nat(text.length), texts), { maxLength: 5 }).map((raw) => {
    const cuts = raw.flatMap(([a, b]) => [a, b]).sort((a, b) => a - b);
    return raw.map(([, , inserted], i) => ({ start: cuts[2 * i]!, end: cuts[2 * i + 1]!, text: inserted }));
  });
}
const textWithEdits = texts.chain((text) => fc.tuple(fc.constant(text), editsFor(text)));

describe('edits', () => {
  it('invert takes apply back', () => {
    fc.assert(
      fc.property(
        textWithEdits,
        ([text, edits]) => applyEdits(applyEdits(text, edits), invertEdits(text, edits)) === text,
      ),
      settings,
    );
  });

  it('compose is one after the other', () => {
    const two = textWithEdits.chain(([text, first]) =>
      fc.tuple(fc.constant(text), fc.constant(first), editsFor(applyEdits(text, first))),
    );
    fc.assert(
      fc.property(
        two,
        ([text, first, second]) =>
          applyEdits(text, composeEdits(text, first, second)) === applyEdits(applyEdits(text, first), second),
      ),
      settings,
    );
  });

  it('refuses what overlaps or lies outside', () => {
    expect(() =>
      applyEdits('abcd', [
        { start: 0, end: 2, text: '' },
        { start: 1, end: 3, text: '' },
      ]),
    ).toThrow(/overlap/);
    expect(() => applyEdits('abcd', [{ start: 3, end: 9, text: '' }])).toThrow(/outside/);
  });
});

describe('lines', () => {
  it('finds every offset again', () => {
    fc.assert(
      fc.property(texts, (text) => {
        const lines = new Lines(text);
        for (let offset = 0; offset <= text.length; offset++) {
          const { line, column } = lines.position(offset);
          if (lines.lineStart(line)! + column - 1 !== offset) return false;
        }
        return true;
      }),
      settings,
    );
  });
});

describe('layout', () => {
  it('a type on one line keeps its members apart', () => {
    expect(typeOnOneLine('{\n  hive: string\n  readonly kilos?: number\n  weigh(): void\n}')).toBe(
      '{ hive: string; readonly kilos?: number; weigh(): void }',
    );
    expect(typeOnOneLine('{\n  hive: string;\n  open: (\n    at: Date,\n    by: Keeper\n  ) => void,\n}')).toBe(
      '{ hive: string; open: ( at: Date, by: Keeper ) => void, }',
    );
    expect(typeOnOneLine('\n  | Queen\n  | { [name: string]: Drone\n      [other: `x${string}`]: Worker }')).toBe(
      ' | Queen | { [name: string]: Drone; [other: `x${string}`]: Worker }',
    );
  });

  it('moves lines there and back, but not fixed ones', () => {
    expect(reindent('<p>\n  a\n    b\n</p>', '', '    ')).toBe('<p>\n      a\n        b\n    </p>');
    expect(reindent('`a\n  b`\n  c', '  ', '', [{ start: 0, end: 6 }])).toBe('`a\n  b`\nc');
  });

  it('says when texts differ', () => {
    expect(fingerprint('hive')).not.toBe(fingerprint('hivf'));
    expect(unifiedDiff('a.js', 'x\n', 'x\n')).toBe('');
    expect(unifiedDiff('a.js', undefined, 'x\n')).toBe('--- /dev/null\n+++ b/a.js\n@@ -0,0 +1,1 @@\n+x\n');
  });
});

describe('text between tags', () => {
  it.each([
    ['a  b', 'a  b'],
    [' a ', ' a '],
    ['\n  a\n  b\n', 'a b'],
    ['\n  a \n', 'a'],
    [' a\n', ' a'],
    ['\n\n', ''],
    ['a &amp; b&nbsp;', 'a & b\u00a0'],
  ])('%j is rendered as %j', (raw, rendered) => {
    const result = renderedText(raw);
    expect(result.text).toBe(rendered);
    if (!raw.includes('&')) expect(renderedText(raw.slice(result.start, result.end)).text).toBe(rendered);
  });
});

describe('labels of forms', () => {
  it('play their part whatever value was spelled like them before', () => {
    const forms = new Forms();
    forms.beginFile('Hives.jsx');
    const said = forms.intern('<div>');
    const label = forms.intern('<div>', 'markup');
    expect(label).toBe(said);
    forms.open(label, 0, 4);
    expect(forms.roleOf(0)).toBe('markup');
    // A value that comes later takes nothing away.
    forms.intern('<div>');
    expect(forms.roleOf(0)).toBe('markup');
  });
});
