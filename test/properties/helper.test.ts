/** Functions of generated components that give markup back become components; both versions are played in a DOM. */
import { describe, expect, it } from 'vitest';
import { applied, dissolve, isProblem, MemoryFiles, Project } from '../../src/core/index.js';
import { random } from '../../scripts/planted.mjs';
import { nodePorts } from '../../src/node/index.js';
import { play, type Deed } from '../support/play.js';

const COMPONENTS = 200;

/** An apiary, as a function or as a class, with a function that shows a hive and is called in one way or another. */
function made(seed: number): string {
  const next = random(seed);
  const chance = (share: number) => next() < share;
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!;
  const isClass = chance(0.5);
  const self = isClass ? 'this.' : '';
  const state = (name: string) => (isClass ? `this.state.${name}` : name);
  const prop = (name: string) => (isClass ? `this.props.${name}` : name);
  const set = (name: string, value: string) =>
    isClass ? `this.setState({ ${name}: ${value} })` : `set${name[0]!.toUpperCase()}${name.slice(1)}(${value})`;
  const statements: string[] = [];
  const shown: string[] = ['<b>{hive}</b>'];
  if (chance(0.5)) {
    statements.push(isClass ? 'const { count } = this.state;' : 'const twice = count * 2;');
    shown.push(isClass ? '<i>{count}</i>' : '<i>{twice}</i>');
    if (isClass && chance(0.4)) shown.push("<button onClick={() => log('read', count)}>Read</button>");
  }
  if (chance(0.4)) {
    statements.push(`const size = ${self}measure(hive);`);
    shown.push('<u>{size}</u>');
    if (chance(0.3)) shown.push('<s>{size}</s>');
  }
  if (chance(0.4)) statements.push(`const isChosen = ${state('chosen')} === hive;`);
  const marks = statements.some((s) => s.includes('isChosen')) ? " className={isChosen ? 'chosen' : ''}" : '';
  if (chance(0.4))
    statements.push(
      pick([
        `if (!${state('open')}) return null;`,
        `if (${state('count')} > 3) return <em>many</em>;`,
        `if (${state('count')} === 2) return;`,
        `if (!${state('chosen')}) return false;`,
      ]),
    );
  if (chance(0.6)) shown.push(`<button onClick={() => ${set('count', `${state('count')} + 1`)}}>Add</button>`);
  if (chance(0.6)) shown.push(`<button onClick={() => ${set('chosen', 'hive')}}>Choose</button>`);
  if (chance(0.4)) shown.push(`<button onClick={() => ${prop('onWeigh')}(hive)}>Weigh</button>`);
  if (chance(0.3)) shown.push('<input defaultValue={hive} />');
  const isEach = chance(0.6);
  const block = `{
    ${statements.join('\n    ')}
    return (
      <p${isEach ? ' key={hive}' : ''}${marks}>
        ${shown.join('\n        ')}
      </p>
    );
  }`;
  const form = pick(['named', 'arrow'] as const);
  const helper = isClass
    ? form === 'named'
      ? `renderHive(hive) ${block}`
      : `renderHive = (hive) => ${block};`
    : form === 'named'
      ? `function renderHive(hive) ${block}`
      : `const renderHive = (hive) => ${block};`;
  const use = isEach
    ? pick([`{${prop('hives')}.map((one) => ${self}renderHive(one))}`, `{${prop('hives')}.map(${self}renderHive)}`])
    : pick([
        `{${self}renderHive('ford')}`,
        `{${state('open')} && ${self}renderHive('ford')}`,
        `{${self}renderHive('ford')}<hr />{${self}renderHive(${prop('place')})}`,
        `<Box>{${self}renderHive('mill')}</Box>`,
      ]);
  const page = `<main>
      <button onClick={() => ${set('open', `!${state('open')}`)}}>Open</button>
      ${use}
    </main>`;
  return isClass
    ? `import { Component } from 'react';

const Box = ({ children = 'empty' }) => <div>{children}</div>;

export class Apiary extends Component {
  state = { count: 0, open: true, chosen: '' };

  ${helper}

  measure(hive) {
    return hive.length;
  }

  render() {
    return ${page};
  }
}
`
    : `import { useState } from 'react';

const Box = ({ children = 'empty' }) => <div>{children}</div>;

export function Apiary({ hives, place, onWeigh }) {
  const [count, setCount] = useState(0);
  const [open, setOpen] = useState(true);
  const [chosen, setChosen] = useState('');
  const measure = (hive) => hive.length;

  ${helper}

  return ${page};
}
`;
}

describe('a function that gives markup back', () => {
  it(`of ${COMPONENTS} generated components: the same at every point`, async () => {
    const refused = new Map<string, number>();
    let same = 0;
    for (let seed = 1; seed <= COMPONENTS; seed++) {
      const text = made(seed);
      const before = new MemoryFiles({ 'Apiary.jsx': text });
      const change = dissolve(new Project(before, nodePorts()), { path: 'Apiary.jsx', helper: 'renderHive' });
      if (isProblem(change)) {
        refused.set(change.code, (refused.get(change.code) ?? 0) + 1);
        continue;
      }
      const { proof } = change;
      const now = change.files.find((f) => f.path === 'Apiary.jsx')!.text!;
      expect(proof.answer === 'same' ? '' : `${seed} ${proof.detail}\n${text}\n${now}`).toBe('');
      same++;
      expect(now, `${seed}`).not.toMatch(/renderHive/);
      const next = random(seed);
      const deeds = Array.from({ length: 10 }, (): Deed => {
        const press = Math.floor(next() * 9);
        return next() < 0.9 ? { press } : { type: press, text: 'x' };
      });
      const entry = {
        file: 'Apiary.jsx',
        export: 'Apiary',
        props: { place: 'mill', hives: ['ford', 'mill', 'quarry'], onWeigh: (hive: string) => log('weigh', hive) },
      };
      const was = await play(before, entry, deeds);
      const is = await play(applied(before, change), entry, deeds);
      expect(is, `${seed}\n${text}\n${now}`).toEqual(was);
    }
    expect(same).toBeGreaterThan(COMPONENTS * 0.7);
    expect([...refused.keys()].sort()).toEqual(['helper-body', 'helper-use']);
  }, 60_000);
});
