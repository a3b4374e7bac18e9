/** What `propose` weighs beside where to cut, on small projects in both languages: each says what it finds, and what it leaves alone. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { findRepeats, isProblem, proposeInlines, proposeRegions, weigh, type Weighed } from '../src/core/index.js';
import { historyOf } from '../src/node/history.js';
import { memoryProject } from './support/projects.js';

function weighed(files: Record<string, string>): Weighed {
  const project = memoryProject(files);
  const plans = project.sources().flatMap((path) => {
    const found = proposeRegions(project, path);
    if (isProblem(found)) throw new Error(found.message);
    return found;
  });
  return weigh(project, plans, { props: 8 });
}

const splits = (files: Record<string, string>) => {
  const project = memoryProject(files);
  return proposeInlines(project, project.sources()).map((s) => [s.name, s.why[0]]);
};

const states = (files: Record<string, string>) =>
  Object.fromEntries(weighed(files).states.map((s) => [s.name, s.home?.component ?? s.needless ?? 'stays']));

describe('the home of a state', () => {
  const jsx = {
    'Apiary.jsx': `import { useState } from 'react';
import { HiveSearch } from './HiveSearch';
export function Apiary({ hives, open }) {
  const [query, setQuery] = useState('');
  const [day, setDay] = useState(1);
  const [note, setNote] = useState('');
  const found = hives.filter((hive) => hive.name.includes(query));
  const clear = () => setQuery('');
  return (
    <main>
      <p>{day}</p>
      <HiveSearch query={query} onQuery={setQuery} onClear={clear} found={found} onDay={setDay} />
      {open && <Note note={note} onNote={setNote} />}
    </main>
  );
}
function Note({ note, onNote }) {
  return <input value={note} onChange={(event) => onNote(event.target.value)} />;
}
`,
    'HiveSearch.jsx': `import { SearchField } from './SearchField';
export function HiveSearch({ query, onQuery, onClear, found, onDay }) {
  return (
    <section>
      <SearchField query={query} onQuery={onQuery} onClear={onClear} />
      <ul>{found.map((hive) => <li key={hive.name} onClick={() => onDay(hive.day)}>{hive.name}</li>)}</ul>
    </section>
  );
}
`,
    'SearchField.jsx': `export function SearchField({ query, onQuery, onClear }) {
  return <label><input value={query} onChange={(event) => onQuery(event.target.value)} /><button onClick={onClear} /></label>;
}
`,
  };

  it('is the one component below that uses it, where it lives as long', () => {
    // The list beside the field reads what the query found, so the field is too far down; a note comes and goes.
    expect(states(jsx)).toEqual({ query: 'HiveSearch.jsx#HiveSearch', day: 'stays', note: 'stays' });
    const query = weighed(jsx).states.find((s) => s.name === 'query')!;
    expect(query.readers).toEqual(['found', '<HiveSearch>']);
    expect(query.writers).toEqual(['clear', '<HiveSearch>']);
    expect([...query.home!.lighter].sort()).toEqual(['clear', 'found', 'query', 'setQuery']);
  });

  it('may be further down', () => {
    const files = { ...jsx, 'HiveSearch.jsx': jsx['HiveSearch.jsx'].replace(/<ul>.*<\/ul>/, '<p>{onDay.name}</p>') };
    files['Apiary.jsx'] = jsx['Apiary.jsx'].replace(' found={found}', '').replace(/ {2}const found.*\n/, '');
    expect(states(files).query).toBe('SearchField.jsx#SearchField');
  });

  it('in Vue', () => {
    const found = states({
      'Apiary.vue': `<script setup>
import { ref, computed } from 'vue';
import HiveFilter from './HiveFilter.vue';
const props = defineProps(['hives']);
const query = ref('');
const chosen = ref(null);
const count = computed(() => props.hives.filter((h) => h.name.includes(query.value)).length);
</script>
<template>
  <main>
    <HiveFilter :query="query" :count="count" @change="query = $event" />
    <button v-for="hive in hives" :key="hive.id" @click="chosen = hive">{{ chosen === hive }}</button>
  </main>
</template>
`,
      'HiveFilter.vue': `<script setup>
defineProps(['query', 'count']);
defineEmits(['change']);
</script>
<template><input :value="query" :title="count" @input="$emit('change', $event.target.value)" /></template>
`,
    });
    expect(found).toEqual({ query: 'HiveFilter.vue#HiveFilter', chosen: 'stays' });
  });

  it('is nowhere for what need not be a state', () => {
    const found = states({
      'Harvest.jsx': `import { useEffect, useState } from 'react';
export function Harvest({ jars }) {
  const [total, setTotal] = useState(0);
  const [unit] = useState('kg');
  const [last, setLast] = useState(null);
  const [seen, setSeen] = useState(0);
  const [fetched, setFetched] = useState([]);
  useEffect(() => {
    setTotal(jars.reduce((sum, jar) => sum + jar.kilos, 0));
  }, [jars]);
  useEffect(() => {
    setSeen((n) => n + 1);
  }, [jars]);
  useEffect(() => {
    fetch('/jars').then((answer) => setFetched(answer));
  }, []);
  return <p onClick={() => setLast(total)}>{total} {unit} {seen} {fetched.length}</p>;
}
`,
    });
    expect(found.total).toContain('could be worked out while rendering');
    expect(found.unit).toBe('stays');
    expect(found.last).toBe('it is set and never read');
    expect(found.seen).toBe('stays');
    expect(found.fetched).toBe('stays');
  });

  it('sees what a class reads once its state is taken apart, given a name, or handed on', () => {
    const found = states({
      'Board.jsx': `import React from 'react';
export class Board extends React.Component {
  state = { open: false, chosen: null, turn: 0, note: '', lost: 1 };
  render() {
    const { open, ...rest } = this.state;
    const { chosen } = rest;
    return (
      <p
        onClick={() => this.setState({ open: true, chosen: 1, lost: 2 })}
        onKeyDown={() => this.setState((before) => ({ turn: before.turn + 1 }))}
        onBlur={() => this.setState({ note: 'x' })}
      >
        {open && chosen}
      </p>
    );
  }
}
export class Closed extends React.Component {
  state = { seen: 0, kept: 0 };
  render() {
    const { kept } = this.state;
    return <p onClick={() => this.setState({ seen: 1, kept: 2 })}>{kept}</p>;
  }
}
`,
    });
    expect(found).toMatchObject({ open: 'stays', chosen: 'stays', turn: 'stays', kept: 'stays' });
    expect(found.seen).toBe('it is set and never read');
  });

  it('says what is fetched, what is handed through, and which class keeps nothing', () => {
    const { drilled, classes } = weighed({
      'Page.jsx': `import React, { useState } from 'react';
export function Page() {
  const [keeper, setKeeper] = useState(null);
  return <div onClick={() => setKeeper('Maud')}><Frame keeper={keeper} /></div>;
}
function Frame({ keeper }) { return <main><Panel keeper={keeper} /></main>; }
function Panel({ keeper }) { return <section><Portrait keeper={keeper} /></section>; }
function Portrait({ keeper }) { return <h2>{keeper}</h2>; }
class Footer extends React.Component { render() { return <footer>{this.props.year}</footer>; } }
class Clock extends React.Component { state = { now: 0 }; render() { return <i>{this.state.now}</i>; } }
`,
    });
    expect(drilled).toEqual([
      { name: 'keeper', through: ['Page', 'Frame', 'Panel', 'Portrait'].map((name) => `Page.jsx#${name}`) },
    ]);
    expect(classes).toEqual(['Page.jsx#Footer']);
  });
});

describe('reasons to change', () => {
  it('are groups that nothing ties, and what they share is named', () => {
    const { reasons } = weighed({
      'Yard.vue': `<script>
export default {
  data() { return { hives: [], sort: 'name', draft: '', open: false }; },
  computed: {
    sorted() { return [...this.hives].sort((a, b) => a[this.sort] - b[this.sort]); },
    isValid() { return this.draft.length > 2 && this.hives.length < 9; },
  },
  methods: {
    by(key) { this.sort = key; },
    save() { if (this.isValid) this.draft = ''; },
    toggle() { this.open = !this.open; },
  },
};
</script>
<template>
  <ul><li v-for="hive in sorted" @click="by('kilos')">{{ hive }}</li>
  <input v-model="draft" @blur="save"><b v-if="open" @click="toggle">{{ hives.length }}</b></ul>
</template>
`,
    });
    expect(reasons[0]!.groups.map((g) => [...g.names].sort().join(' '))).toEqual([
      'by sort sorted',
      'draft isValid save',
      'open toggle',
    ]);
    expect(reasons[0]!.shared).toEqual(['hives']);
  });
});

describe('conditions', () => {
  it('that decide in several places are laid side by side', () => {
    const panel = (name: string) =>
      `{role === '${name}' && (\n        <ul>\n          <li>${name}</li>\n          <li>more</li>\n        </ul>\n      )}`;
    const { alternatives } = weighed({
      'Visit.jsx': `export function Visit({ role, hive, notes }) {
  const isKeeper = role === 'keeper';
  return (
    <section>
      <h2>{hive}</h2>
      ${panel('keeper')}
      <p>{notes}</p>
      ${panel('inspector')}
      {isKeeper ? <b>{hive}</b> : <i>{notes}</i>}
      {hive && <u>{hive}</u>}
    </section>
  );
}
`,
    });
    expect(alternatives.map((a) => [a.value, a.forms, a.places.length])).toEqual([
      ['role', ['keeper', 'inspector', 'else'], 3],
    ]);
    const [section, variant] = alternatives[0]!.ways;
    expect(section.twice).toBe(0);
    expect(variant.components).toBe(4);
    // Two forms beside the first repeat what none of the branches holds.
    expect(variant.twice).toBeGreaterThan(8);
  });
});

describe('components that take too much', () => {
  it('say which flags, and what could be instead', () => {
    const use = (flags: string) => `<HiveCard name={hive.name} unit="kg" onOpen={() => hive.open()} ${flags} />`;
    const { inputs } = weighed({
      'Yard.jsx': `import { HiveCard } from './HiveCard';
export function Yard({ hives }) {
  return <ul>{hives.map((hive) => <li key={hive.name}>${use('')}${use('withQueen')}${use('withQueen withWeight')}</li>)}</ul>;
}
`,
      'HiveCard.jsx': `export function HiveCard({ name, unit, withQueen, withWeight, withNotes, old, onOpen }) {
  return <article><h3 onClick={onOpen}>{name}</h3>{withQueen && <p>queen</p>}{withWeight && <p>12 {unit}</p>}{withNotes && <p>{old}</p>}</article>;
}
`,
      'Plain.jsx': `export const Plain = ({ a, b, c }) => <p>{a}{b}{c}</p>;\n`,
    });
    expect(inputs).toHaveLength(1);
    const [card] = inputs;
    expect(card!.flags).toEqual(['withQueen', 'withWeight', 'withNotes']);
    expect(card!.alike).toEqual([{ name: 'unit', value: "'kg'" }]);
    expect(card!.unused).toEqual(['withNotes', 'old']);
    expect(card!.combinations).toEqual({ used: [[], ['withQueen'], ['withQueen', 'withWeight']], possible: 8 });
    expect(card!.instead.join('\n')).toContain('3 of 8 combinations');
  });
});

describe('splits gone wrong', () => {
  const host = (tag: string) => `import { Part } from './Part';
export function Harvest({ kind, kilos, year, jars, price }) {
  const total = kilos * price;
  return (
    <section>
      <h2>{kind}</h2>
      <p>{jars} jars</p>
      ${tag}
    </section>
  );
}
`;
  it('are put back: a boundary wider than what it holds, and a wrapper that only passes on', () => {
    const wide = splits({
      'Harvest.jsx': host('<Part kind={kind} kilos={kilos} year={year} total={total} />'),
      'Part.jsx': `export function Part({ kind, kilos, year, total }) {
  return <p>{kind} {kilos} {year} {total}</p>;
}
`,
    });
    expect(wide).toEqual([['Part', 'shown once; it takes 4 things and shows 1 line']]);
    const wrapper = splits({
      'Harvest.jsx': host('<Part kind={kind} kilos={kilos} />'),
      'Part.jsx': `import { Weight } from './Weight';
export function Part({ kind, kilos }) {
  return <Weight kind={kind} kilos={kilos} />;
}
`,
      'Weight.jsx': `export function Weight({ kind, kilos }) {
  return (
    <dl>
      <dt>{kind}</dt>
      <dd>{kilos}</dd>
    </dl>
  );
}
`,
    });
    expect(wrapper).toEqual([['Part', 'it only passes on what it is given']]);
  });

  it('in Vue, and never what is worth having', () => {
    const vue = (taken: string) => ({
      'Yard.vue': `<script setup>
import Row from './Row.vue';
defineProps(['hive', 'day', 'kilos']);
</script>
<template>
  <main>
    <h1>{{ hive }}</h1>
    <Row :hive="hive" :day="day" :kilos="kilos" />
  </main>
</template>
`,
      'Row.vue': `<script setup>
defineProps(['hive', 'day', 'kilos']);
</script>
<template>
  ${taken}
</template>
`,
    });
    expect(splits(vue('<p>{{ hive }} {{ day }} {{ kilos }}</p>'))).toEqual([
      ['Row', 'shown once; it takes 3 things and shows 1 line'],
    ]);
    expect(splits(vue('<ul>\n<li>{{ hive }}</li>\n<li>{{ day }}</li>\n<li>{{ kilos }}</li>\n</ul>'))).toEqual([]);
  });
});

describe('history', () => {
  const root = mkdtempSync(join(tmpdir(), 'verkstad-history-'));
  afterAll(() => rmSync(root, { recursive: true, force: true }));
  const git = (...args: string[]) =>
    execFileSync('git', ['-c', 'user.name=Keeper', '-c', 'user.email=keeper@example.org', ...args], {
      cwd: root,
      env: { ...process.env, GIT_CONFIG_GLOBAL: '/dev/null', GIT_CONFIG_NOSYSTEM: '1' },
    });
  const save = (files: Record<string, string>) => {
    for (const [path, text] of Object.entries(files)) writeFileSync(join(root, path), text);
    git('add', '-A');
    git('commit', '-qm', 'Change');
  };

  it('counts changes through renames, and pairs that change together', async () => {
    expect(await historyOf(root, '1 year ago', () => true)).toBeUndefined();
    git('init', '-q');
    const long = Array.from({ length: 30 }, (_, i) => `line ${i}`).join('\n');
    save({ 'Old hive.jsx': long, 'hive.css': 'a' });
    save({ 'Old hive.jsx': `${long}\n1`, 'hive.css': 'b', 'other.jsx': 'x' });
    mkdirSync(join(root, 'parts'));
    renameSync(join(root, 'Old hive.jsx'), join(root, 'parts/Hïve.jsx'));
    save({ 'hive.css': 'c' });
    save({ 'parts/Hïve.jsx': `${long}\n2` });
    save({ 'other.jsx': 'y' });
    const found = await historyOf(root, '1 year ago', (path) => path !== 'Old hive.jsx');
    expect(found).toEqual({
      since: '1 year ago',
      commits: 5,
      often: [
        { path: 'parts/Hïve.jsx', commits: 4 },
        { path: 'hive.css', commits: 3 },
      ],
      together: [{ paths: ['hive.css', 'parts/Hïve.jsx'], commits: 3, of: 3 }],
    });
    const below = await historyOf(join(root, 'parts'), '1 year ago', () => true);
    expect(below).toMatchObject({ often: [] });
  });
});

describe('what repeats, and no step makes one', () => {
  const LOGIC =
    'const total = hives.filter((hive) => hive.kilos > 1).map((hive) => hive.kilos * 2).reduce((sum, kilos) => sum + kilos, 0);\nconst mean = Math.round(total / hives.length);\nconst words = [total, mean].join(" of ");';
  const TOTAL =
    'function totalOf(hives) {\n  const heavy = hives.filter((hive) => hive.kilos > 1 && hive.queen);\n  return heavy.map((hive) => hive.kilos * 2).reduce((sum, kilos) => sum + kilos, 0);\n}';
  const sfc = (tag: string) =>
    `<template><${tag}>{{ words }}</${tag}></template>\n<script setup>\nimport { hives } from './hives';\n${LOGIC}\n</script>\n`;
  const panel = (host: string, attributes: string, title: string) =>
    `import { useRef } from 'react';\nimport { HivePanel } from './HivePanel';\nexport function ${host}({ hive, onOpen }) {\n  const box = useRef(null);\n  return (\n    <section className="hive-panel">\n      <h2 className="hive-panel__title">${title}</h2>\n      <p className="hive-panel__note">Kilos of honey in this hive since spring</p>\n      <HivePanel hive={hive} ${attributes} />\n      <button type="button" className="hive-panel__more" onClick={onOpen}>More of this hive</button>\n    </section>\n  );\n}\n`;
  const parts = 'export const HivePanel = () => null;\n';
  const updated = (title: string, hook: string) =>
    `<template>\n  <main>\n    <h1>{{ count }}</h1>\n    <section class="hive-panel">\n      <h2 class="hive-panel__title">${title}</h2>\n      <p class="hive-panel__note">Kilos of honey in this hive since spring</p>\n      <b title="Queen">{{ hive.queen.name }} of {{ hive.queen.year }}</b>\n      <i title="Last visit">{{ label(hive) }}</i>\n    </section>\n  </main>\n</template>\n\n<script>\nexport default {\n  props: ['hive', 'count'],\n  ${hook}methods: { label(hive) { return hive.visit; }, draw() {} },\n};\n</script>\n`;

  it.each<[string, Record<string, string>, string | undefined]>([
    [
      'statements of Vue files',
      { 'A.vue': sfc('p'), 'B.vue': sfc('b'), 'hives.js': 'export const hives = [];\n' },
      'step',
    ],
    [
      'a function of a Vue file and of another one',
      {
        'A.vue': `<template><p /></template>\n<script>\n${TOTAL}\nexport default { methods: { total: totalOf } };\n</script>\n`,
        'b.js': `export ${TOTAL}\n`,
      },
      'language',
    ],
    [
      'a ref that only one place has',
      { 'A.jsx': panel('A', 'ref={box}', 'North'), 'B.jsx': panel('B', '', 'South'), 'HivePanel.jsx': parts },
      'input',
    ],
    [
      'what only the inside of a function knows',
      Object.fromEntries(
        ['hive.kilos * hive.supers', 'hive.age'].map((weight, i) => [
          `${i}.js`,
          `export function pick${i}(hives, least) {\n  const found = hives.filter((hive) => hive.queen && ${weight} > least);\n  const names = found.map((hive) => hive.name.trim());\n  return names.length > 0 ? names.join(', ') : 'none of the hives';\n}\n`,
        ]),
      ),
      'input',
    ],
    [
      'what is worked out where a hook runs after every update',
      Object.fromEntries(
        ['North', 'South'].map((name) => [`${name}.vue`, updated(name, 'updated() { this.draw(); }, ')]),
      ),
      'barred',
    ],
    [
      'the same without that hook',
      Object.fromEntries(['North', 'South'].map((name) => [`${name}.vue`, updated(name, '')])),
      undefined,
    ],
    [
      'nothing but a title',
      { 'A.jsx': panel('A', '', 'North'), 'B.jsx': panel('B', '', 'South'), 'HivePanel.jsx': parts },
      undefined,
    ],
  ])('%s', (_, files, byHand) => {
    const { groups } = findRepeats(memoryProject(files));
    const [first] = groups;
    expect([first?.byHand, first?.step]).toEqual([byHand, byHand ? undefined : 'unify']);
  });

  it('is not told where a function does no more than call one that is shared already', () => {
    const file = (value: string) =>
      `import { addKind } from './kinds';\nimport { facts, settings, places, owners } from './facts';\nconst name = '${value}';\nexport const init = () => {call};\n`;
    const told = (call: string) => {
      const files = ['heather', 'clover', 'linden', 'meadow'].map((v) => [`${v}.js`, file(v).replace('{call}', call)]);
      return findRepeats(memoryProject(Object.fromEntries(files) as Record<string, string>)).groups.map((g) => g.name);
    };
    expect(told('addKind({ name, facts, settings, places, owners, keys: facts.keys })')).toEqual([]);
    expect(told('addKind({ name, facts, settings, places, owners, keys: facts.keys ? 1 : 2 })')).toContain('init');
  });

  it('is called after what it stands in where it is only the head of that', () => {
    const dialog = (id: string, title: string, text: string) =>
      `<div className="dialog" role="dialog" aria-labelledby="${id}">\n<header>\n<h2 id="${id}">${title}</h2>\n<button type="button" className="close" onClick={close}>Close</button>\n</header>\n${text}\n</div>\n`;
    const app = `export function App({ close }) {\n  return (\n    <main>\n${dialog('feed', 'When to feed', '<p>In autumn</p>')}${dialog('swarm', 'About swarms', '<ul><li>In May</li><li>In June</li></ul>')}${dialog('count', 'How it is counted', '<ol><li>Before</li></ol>')}</main>\n  );\n}\n`;
    const { groups } = findRepeats(memoryProject({ 'App.jsx': app }));
    expect(groups.map(({ name }) => name)).toContain('DialogHeader');
  });

  it('is called after what the names of its places have in common', () => {
    const kinds = (name: string, first: string) =>
      `export const ${name} = {\n${[first, 'frame', 'queen', 'swarm', 'honey', 'brood']
        .map(
          (key) =>
            `  ${key}: { label: '${key}', width: 120, grow: 1, align: 'start', show: (hive) => hive.${key} > 0 },`,
        )
        .join('\n')}\n};\n`;
    const { groups } = findRepeats(
      memoryProject({ 'edit.js': kinds('editColumnKinds', 'kilos'), 'show.js': kinds('showColumnKinds', 'grams') }),
    );
    expect(groups.map(({ kind, name }) => [kind, name])[0]).toEqual(['logic', 'columnKinds']);
  });

  it('is called after what a hook gives, and not after one that it calls', () => {
    const tab = (host: string, tag: string) =>
      `import { usePlace } from './place';\nimport { LinkBase } from './links';\nexport function ${host}({ value, label }) {\n  const place = usePlace();\n  const root = value == null || value === '' ? '/apiary' : \`/apiary/\${value}\`;\n  const linkToHive = { component: LinkBase, to: { ...place, path: root, from: place.path, state: 'tab' } };\n  return <${tag} {...linkToHive}>{label}</${tag}>;\n}\n`;
    const { groups } = findRepeats(memoryProject({ 'A.jsx': tab('HiveTab', 'li'), 'B.jsx': tab('ApiaryTab', 'div') }));
    expect(groups.map(({ kind, name }) => [kind, name])).toEqual([['logic', 'useLinkToHive']]);
  });
});
