/** Generated apiaries with a part below, some of whose states only that part uses, and what somebody does to them. */
import { random } from '../../scripts/planted.mjs';
import type { Deed } from './play.js';

export interface Made {
  readonly files: Record<string, string>;
  readonly states: readonly string[];
}

export function madeWithStates(seed: number): Made {
  const next = random(seed);
  const chance = (share: number) => next() < share;
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!;
  const hooks: string[] = [];
  const attributes: string[] = ['place={place}'];
  const taken: string[] = ['place'];
  const shown: string[] = [];
  const states: string[] = [];
  const above: string[] = [];
  const effects: string[] = [];
  const helper = chance(0.4);
  if (chance(0.9)) {
    states.push('query');
    hooks.push(`const [query, setQuery] = useState(${pick(["''", 'place', "'ford'", '() => place.slice(0, 2)'])});`);
    const [value, onValue] = pick([
      ['query', 'setQuery'],
      ['text', 'onText'],
      ['value', 'onChange'],
    ] as const);
    attributes.push(`${value}={query}`, `${onValue}={${pick(['setQuery', '(next) => setQuery(next)'])}}`);
    taken.push(value, onValue);
    shown.push(`<input value={${value}} onChange={(event) => ${onValue}(event.target.value)} />`);
    if (chance(0.5)) {
      hooks.push(`const found = hives.filter((hive) => ${helper ? 'fits(hive, query)' : 'hive.includes(query)'});`);
      attributes.push('found={found}');
      taken.push('found');
      shown.push('<ul>{found.map((hive) => <li key={hive}>{hive}</li>)}</ul>');
    }
    if (chance(0.4)) {
      attributes.push("onClear={() => setQuery('')}");
      taken.push('onClear');
      shown.push('<button onClick={onClear}>Clear</button>');
      if (chance(0.3)) shown.push('<button onClick={() => onClear()}>Clear too</button>');
    }
    if (chance(0.4))
      effects.push(
        `useEffect(() => {\n    log('query', query);\n    return () => log('no longer', query);\n  }, [query]);`,
      );
  }
  if (chance(0.7)) {
    states.push('count');
    hooks.push('const [count, setCount] = useState(1);');
    hooks.push("const add = (by) => {\n    setCount(count + by);\n    log('added', by);\n  };");
    attributes.push('count={count}', 'onAdd={add}', 'double={count * 2}');
    taken.push('count', 'onAdd', 'double');
    shown.push('<p>{count} {double}</p>', '<button onClick={() => onAdd(2)}>Add</button>');
    if (chance(0.3)) above.push('<b>{count}</b>');
    if (chance(0.3)) {
      hooks.push('const label = useMemo(() => place + count, [place, count]);');
      attributes.push('label={label}');
      taken.push('label');
      shown.push('<i>{label}</i>');
    }
  }
  if (chance(0.6)) {
    states.push('open');
    hooks.push('const [open, setOpen] = useState(false);');
    above.push('<button onClick={() => setOpen(!open)}>Open</button>');
    if (chance(0.4)) {
      attributes.push('isOpen={open}');
      taken.push('isOpen');
      shown.push('{isOpen && <em>open</em>}');
    } else above.push('{open && <em>open</em>}');
  }
  if (chance(0.5)) {
    states.push('marked');
    hooks.push('const [marked, setMarked] = useState([]);');
    attributes.push('marked={marked}', 'onMark={(hive) => setMarked((before) => [...before, hive])}');
    taken.push('marked', 'onMark');
    shown.push('<button onClick={() => onMark(place)}>Mark {marked.length}</button>');
  }
  if (chance(0.4)) shown.push('<input type="checkbox" checked={ticked} onChange={() => setTicked(!ticked)} />');
  const ticks = shown.some((s) => s.includes('ticked'));
  if (chance(0.3)) effects.push("useEffect(() => {\n    log('place', place);\n  }, [place]);");
  let use = `<HivePart ${attributes.join(' ')} />`;
  const under = pick(['always', 'always', 'always', 'condition', 'return', 'provider'] as const);
  if (under === 'condition') {
    hooks.push('const [there, setThere] = useState(true);');
    const resets = states.includes('query') && chance(0.7) ? " setQuery('');" : '';
    above.push(
      `<button onClick={() => { setThere(false);${resets} }}>Away</button>`,
      '<button onClick={() => setThere(true)}>Back</button>',
    );
    use = `{there && ${use}}`;
  }
  if (under === 'provider') use = `<Place.Provider value={place}>${use}</Place.Provider>`;
  if (under === 'return') {
    hooks.push('const [gone, setGone] = useState(false);');
    above.push('<button onClick={() => setGone(true)}>Go</button>');
  }
  const part = chance(0.5);
  const early = chance(0.3) ? "  if (place === 'nowhere') return <p>nowhere</p>;\n" : '';
  const own = `${ticks ? '  const [ticked, setTicked] = useState(false);\n' : ''}${chance(0.3) ? "  useEffect(() => {\n    log('part', place);\n  }, [place]);\n" : ''}`;
  const app = `import { createContext, useEffect, useMemo, useState } from 'react';
import { HivePart } from './HivePart';

export const Place = createContext('');
${helper ? '\nfunction fits(hive, query) {\n  return hive.includes(query);\n}\n' : ''}
export function Apiary({ place, hives }) {
  ${hooks.join('\n  ')}
  ${effects.join('\n  ')}
${under === 'return' ? '  if (gone) return <button onClick={() => setGone(false)}>Here again</button>;\n' : ''}
  return (
    <main>
      ${above.join('\n      ')}
      ${use}
    </main>
  );
}
`;
  const inner = part
    ? `import { useEffect, useState } from 'react';

export function HivePart({ ${taken.join(', ')} }) {
${own}${early}  return (
    <section title={place}>
      ${shown.join('\n      ')}
    </section>
  );
}
`
    : `import { useEffect, useState } from 'react';

export const HivePart = (props) => {
${own.replaceAll('place', 'props.place')}${early.replace('place', 'props.place')}  return (
    <section title={props.place}>
      ${shown.join('\n      ').replace(new RegExp(`(?<![\\w.'-])(?:${taken.join('|')})(?![\\w=:])`, 'g'), 'props.$&')}
    </section>
  );
};
`;
  return { files: { 'Apiary.jsx': app, 'HivePart.jsx': inner }, states };
}

export function deedsOf(seed: number): Deed[] {
  const next = random(seed);
  return Array.from({ length: 14 }, (): Deed => {
    const at = Math.floor(next() * 12);
    const kind = next();
    if (kind < 0.6) return { press: at };
    return kind < 0.85 ? { type: at, text: ['', 'f', 'mill', 'quarry'][at % 4]! } : { check: at };
  });
}
