/** What is proposed in a component that nobody takes in at once, and what the parts of it are called. */
import { describe, expect, it } from 'vitest';
import { isProblem, Lines, proposeRegions } from '../src/core/index.js';
import { memoryProject } from './support/projects.js';

function proposed(path: string, text: string): string[] {
  const plans = proposeRegions(memoryProject({ [path]: text }), path);
  if (isProblem(plans)) throw new Error(plans.message);
  const lines = new Lines(text);
  return plans.flatMap(({ proposals, hooks }) => [
    ...proposals.map(({ name, region, inside }) => {
      const [first, last] = lines.range(region);
      return `${inside === undefined ? '' : `${proposals[inside]!.name} > `}${name} ${last - first + 1}`;
    }),
    ...hooks.map(({ name }) => name),
  ]);
}

/** So many lines of markup that says nothing of what it is. */
const lines = (count: number, say: (i: number) => string = (i) => `<p>{hive.log[${i}].kilos}</p>`) =>
  Array.from({ length: count }, (_, i) => say(i)).join('\n');

const react = (body: string, before = '') => `import { Trans, FormattedMessage, useRecords } from 'apiary';

export function HivePage({ hive, open, send, tabs }) {
${before}
  return (
    <main>
${body}
    </main>
  );
}
`;

describe('in a long component', () => {
  const part = `<div className="weights">\n${lines(8)}\n<input value={hive.tare} onChange={() => send(hive.id)} />\n</div>`;

  it('a part that stands by itself is proposed though it costs a little, in a short one it is not', () => {
    const long = react(
      `<b>{open}</b>\n${part}\n${lines(90, (i) => `<i key="${i}">{tabs[${i}].label(open, send)}</i>`)}`,
    );
    expect(proposed('HivePage.jsx', long)).toEqual(['Weights 11']);
    expect(proposed('HivePage.jsx', react(`<b>{open}</b>\n${part}`))).toEqual([]);
  });

  const card = (name: string) =>
    `<section>\n<h3>${name} of the hive</h3>\n${lines(16, (i) => `<p>{hive.${name.toLowerCase()}[${i}]} {open ? 'now' : 'then'}</p>`)}\n</section>`;
  const around = (own: string) =>
    react(
      `<div>\n${own}\n${['Queen', 'Brood', 'Honey'].map(card).join('\n')}\n</div>\n${lines(45, (i) => `<i key="${i}">{tabs[${i}].label(send)}</i>`)}`,
    );

  it('what holds several parts and something of its own is around them, what only holds them is not', () => {
    const own = lines(14, (i) => `<em title={hive.days[${i}]}>{hive.notes[${i}]}</em>`);
    const inside = ['QueenHive 19', 'BroodHive 19', 'HoneyHive 19'];
    expect(proposed('HivePage.jsx', around(own))).toEqual([
      'HiveContent 73',
      ...inside.map((one) => `HiveContent > ${one}`),
    ]);
    expect(proposed('HivePage.jsx', around(''))).toEqual(inside);
    // Two that hold the same are one.
    const twice = around(own).replace('<div>', '<div>\n<b>{open}</b>\n<div>').replace('</div>', '</div>\n</div>');
    expect(proposed('HivePage.jsx', twice).filter((one) => one.includes(' > '))).toHaveLength(inside.length);
  });

  it('a hook that is given a long function is logic of its own, called after what its names share', () => {
    const asked = `  const { selectedHiveName, selectedHiveId, count } = useRecords((records) => {\n${lines(30, (i) => `    const found${i} = records.find(${i}, open);`)}
    return { selectedHiveName: found0, selectedHiveId: found1, count: found2 };\n  }, [open]);`;
    const shown = `<p>{selectedHiveName}{selectedHiveId}{count}</p>\n${lines(40, (i) => `<i key="${i}">{tabs[${i}].label(send)}</i>`)}`;
    expect(proposed('HivePage.jsx', react(shown, asked))).toEqual(['useSelectedHive']);
  });
});

describe('a part is called', () => {
  /** The name of one part in a component of a hundred lines. */
  const named = (part: string, before = '') =>
    proposed(
      'HivePage.jsx',
      react(`${part}\n${lines(60, (i) => `<i key="${i}">{tabs[${i}].label(open, send)}</i>`)}`, before),
    ).map((one) => one.replace(/ \d+$/, ''));
  const rows = lines(11, (i) => `<p title={hive.days[${i}]}>{hive.log[${i}].kilos}</p>`);

  it.each([
    [
      'after the variable that holds it',
      '{orderButton}',
      `  const orderButton = open ? (\n<div>\n${rows}\n</div>\n) : null;`,
      'OrderButton',
    ],
    [
      'after a text that a component looks up',
      `<div>\n<h2><FormattedMessage id="a.b" defaultMessage="Frames in use" /></h2>\n${rows}\n</div>`,
      '',
      'FramesUse',
    ],
    ['with the little word that its verb needs', `<div>\n<h2>Sign in</h2>\n${rows}\n</div>`, '', 'SignIn'],
    [
      'after what its own block calls it',
      `<div className="block-of-hives__options">\n${rows}\n</div>`,
      '',
      'HiveOptions',
    ],
    ['after another block of the page', `<div className="harvest__table">\n${rows}\n</div>`, '', 'HarvestTable'],
    [
      'never after how it looks, whatever stands before it',
      `<div className="ap-min-h-8">\n<h2>Weights</h2>\n${rows}\n</div>`,
      '',
      'Weights',
    ],
    ['by its style sheet, though it is a place', `<div className={classes.topRight}>\n${rows}\n</div>`, '', 'TopRight'],
  ])('%s', (_, part, before, name) => {
    expect(named(part, before)[0]).toBe(name);
  });

  it('after the entry of a record that it is the content of', () => {
    const tab = `  const all = [\n{\n      name: 'weights',\n      tabLabel: 'Weights',\n      content: (\n<div>\n${rows}\n</div>\n      ),\n    },\n  ];`;
    expect(named('<b>{all[0].content}</b>', tab)).toContain('WeightsTab');
  });

  it('after the one place that its users may fill', () => {
    const rowsOfVue = lines(12, (i) => `      <p :title="hive.days[${i}]">{{ hive.log[${i}].kilos }}</p>`);
    const vue = `<template>\n  <main>\n    <div>\n${rowsOfVue}\n      <slot name="empty-state"><b>None</b></slot>\n    </div>\n${lines(60, (i) => `    <i>{{ tabs[${i}].label(open, send) }}</i>`)}\n  </main>\n</template>\n\n<script setup>\ndefineProps(['hive', 'open', 'send', 'tabs']);\n</script>\n`;
    expect(proposed('HivePage.vue', vue)[0]).toMatch(/^HiveEmptyState /);
  });
});
