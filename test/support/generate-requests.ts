/** Generated apiaries that load, send and work out, as a function or as a class, and a made server to play them with. */
import type { FileSet } from '../../src/core/index.js';
import { random } from '../../scripts/planted.mjs';
import { play, type Deed, type Seen } from './play.js';

export function madeWithRequests(seed: number): string {
  const next = random(seed);
  const chance = (share: number) => next() < share;
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!;
  const isClass = chance(0.5);
  const state = (name: string) => (isClass ? `this.state.${name}` : name);
  const prop = (name: string) => (isClass ? `this.props.${name}` : name);
  const set = (name: string, value: string) =>
    isClass ? `this.setState({ ${name}: ${value} })` : `set${name[0]!.toUpperCase()}${name.slice(1)}(${value})`;
  const base = pick([
    '`${API}/visits/${' + prop('place') + '}`',
    "'/api/visits?page=' + " + state('count'),
    "'/api/visits'",
  ]);
  const signal = chance(0.3)
    ? ', { signal: stop.signal }'
    : chance(0.3)
      ? `, { headers: { who: ${prop('who')}.name } }`
      : '';
  const check = chance(0.5) ? 'if (!answer.ok) throw new Error(`no: ${answer.status}`);' : '';
  const late = chance(0.2) ? `const seen = ${state('count')};\n      log('seen', seen, found.length);` : '';
  const early = chance(0.4) ? "const headers = { kind: 'bees', size: SIZE };" : '';
  const sent = early ? `, { headers }` : signal;
  const load = pick([
    `try {
      ${early}
      const answer = await fetch(${base}${sent});
      ${check}
      const found = await answer.json();
      ${late}
      ${set('visits', 'found')};
    } catch (failure) {
      log('failed', failure.message);
      ${set('note', 'failure.message')};
    }`,
    `${early}
    const answer = await fetch(${base}${sent});
    ${set('visits', 'await answer.json()')};
    ${set('note', "answer.status === 200 ? 'good' : 'bad'")};`,
    `await fetch(${base}${signal})
      .then((answer) => answer.json())
      .then((found) => ${set('visits', 'found')});`,
    `const found = await fetch(${base}${signal}).then((answer) => (answer.ok ? answer.json() : []));
    ${set('visits', 'found')};
    log('read', ${state('count')});`,
    `return (await fetch(${base}${signal})).json().then((found) => ${set('visits', 'found')});`,
  ]);
  const send = pick([
    `await fetch('/api/visits', { method: 'POST', body: JSON.stringify({ note: ${state('note')}, count: ${state('count')} }) });
    ${set('count', `${state('count')} + 1`)};`,
    `const { note } = ${isClass ? 'this.state' : '{ note }'.replace('{ note }', 'kept')};
    const answer = await fetch('/api/visits', { method: 'POST', body: note });
    const { id } = await answer.json();
    ${set('note', '`${id}`')};`,
    `fetch(\`/api/visits/\${${state('count')}}\`, { method: 'DELETE' }).then(() => ${set('count', '0')});`,
    `const first = await fetch('/api/first');
    const second = await fetch('/api/second/' + ${state('count')});
    ${set('note', '`${first.status} ${second.status}`')};`,
  ]);
  const stop = 'const stop = new AbortController();\n    globalThis.stops.push(stop);';
  const works = chance(0.5);
  const heavy = works
    ? `${prop('hives')}.filter((hive) => hive.length > ${state('count')}).map((hive) => hive + ${prop('place')})`
    : `${prop('hives')}.length * SIZE + ${state('count')}`;
  const memo = chance(0.5) && !isClass;
  const worked = memo
    ? `const worked = useMemo(() => {
    if (count > 2) return [];
    const left = hives.filter((hive) => hive.length > count);
    return left;
  }, [hives, count]);`
    : `const worked = ${heavy};`;
  const page = `<main>
      <button onClick={() => ${isClass ? 'this.load()' : 'load()'}.catch((failure) => log('lost', failure.message))}>Load</button>
      <button onClick={() => ${isClass ? 'this.send()' : 'send()'}.catch((failure) => log('lost', failure.message))}>Send</button>
      <button onClick={() => ${set('count', `${state('count')} + 1`)}}>Count</button>
      <input value={${state('note')}} onChange={(event) => ${set('note', 'event.target.value')}} />
      <p>{${state('note')}} {String(worked)}</p>
      {${state('visits')}.map((visit) => <i key={visit}>{visit}</i>)}
    </main>`;
  const head = `${isClass ? "import { Component } from 'react';" : "import { useMemo, useState } from 'react';"}

const API = '/api';
const SIZE = 20;
`;
  return isClass
    ? `${head}
export class Apiary extends Component {
  state = { count: 0, note: 'dry', visits: [] };

  async load() {
    ${stop}
    ${load}
  }

  async send() {
    ${send}
  }

  render() {
    ${worked}
    return ${page};
  }
}
`
    : `${head}
export function Apiary({ hives, place, who }) {
  const [count, setCount] = useState(0);
  const [note, setNote] = useState('dry');
  const [visits, setVisits] = useState([]);
  const kept = { note };
  ${worked}

  const load = async () => {
    ${stop}
    ${load}
  };

  const send = async () => {
    ${send}
  };

  return ${page};
}
`;
}

/** A server that says what it was asked, and answers when it is told to. */
class Server {
  readonly #open: (() => void)[] = [];

  readonly fetch = (
    address: string,
    options: { method?: string; body?: string; headers?: object; signal?: AbortSignal } = {},
  ) => {
    log('asked', address, options.method ?? 'GET', options.body ?? '', options.headers ?? {});
    const ok = !address.includes('quarry');
    const json = () => Promise.resolve(options.method === 'POST' ? { id: 7 } : [address, String(address.length)]);
    return new Promise((answer, fail) => {
      options.signal?.addEventListener('abort', () => {
        log('stopped', address);
        fail(new Error('stopped'));
      });
      this.#open.push(() => {
        answer({ ok, status: ok ? 200 : 500, json });
      });
    });
  };

  /** The first open request, or the last one, is answered. */
  answer(isFirst: boolean): void {
    (isFirst ? this.#open.shift() : this.#open.pop())?.();
  }
}

declare global {
  var stops: AbortController[];
}

/** Plays what somebody does, and answers that come in their time or not, to the component of `Apiary.jsx`. */
export async function playWithServer(files: FileSet, seed: number): Promise<Seen[]> {
  const own = globalThis.fetch;
  const server = new Server();
  globalThis.stops = [];
  globalThis.fetch = server.fetch as unknown as typeof fetch;
  const next = random(seed);
  const deeds = Array.from({ length: 14 }, (_, i): Deed => {
    const at = next();
    const isFirst = next() < 0.7;
    if (at < 0.45) return { press: Math.floor(next() * 3) };
    if (at < 0.55) return { type: 0, text: `x${i}` };
    return { happens: () => (at < 0.62 ? globalThis.stops.shift()?.abort() : server.answer(isFirst)) };
  });
  const props = { place: seed % 3 ? 'mill' : 'quarry', who: { name: 'Ida' }, hives: ['ford', 'mill', 'quarries'] };
  try {
    return await play(files, { file: 'Apiary.jsx', export: 'Apiary', props }, deeds);
  } finally {
    globalThis.fetch = own;
  }
}
