/** Requests and calculations of generated components leave for modules; both versions are played in a DOM with a made server. */
import { afterAll, describe, expect, it } from 'vitest';
import { applied, isProblem, MemoryFiles, module, Project, textOf, type FileSet } from '../../src/core/index.js';
import { random } from '../../scripts/planted.mjs';
import { nodePorts } from '../../src/node/index.js';
import { play, type Deed } from '../support/play.js';

const COMPONENTS = 200;

/** An apiary that loads, sends and works out, as a function or as a class. */
function made(seed: number): string {
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

/** Takes every request of the file to a module, and what the component works out. */
function taken(files: FileSet): { after: FileSet; count: number; refused: string[] } {
  let after = files;
  let count = 0;
  const refused: string[] = [];
  const take = (wanted: () => { start: number; end: number } | undefined, name?: string) => {
    const project = new Project(after, nodePorts());
    const span = wanted();
    if (!span) return false;
    const change = module(project, { path: 'Apiary.jsx', wanted: { span }, ...(name ? { name } : {}) });
    if (isProblem(change)) {
      refused.push(change.code);
      return false;
    }
    if (change.proof.answer !== 'same') {
      refused.push(change.proof.code);
      return false;
    }
    after = applied(after, change);
    count++;
    return true;
  };
  const textNow = () => {
    const file = new Project(after, nodePorts()).source('Apiary.jsx');
    if (isProblem(file)) throw new Error(file.message);
    return file;
  };
  for (;;) {
    const file = textNow();
    const [first] = file.language.toModule!.requests(new Project(after, nodePorts()), file, nodePorts());
    if (!first || !take(() => first.span)) break;
  }
  const { text } = textNow();
  const start = text.indexOf('const worked');
  const end = text.indexOf(';', /\}, \[hives, count\]/.exec(text)?.index ?? start) + 1;
  take(() => ({ start, end }));
  return { after, count, refused };
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

describe('logic that leaves for modules', () => {
  const own = globalThis.fetch;
  const playWith = (files: FileSet, entry: Parameters<typeof play>[1], deeds: (server: Server) => Deed[]) => {
    const server = new Server();
    globalThis.stops = [];
    globalThis.fetch = server.fetch as unknown as typeof fetch;
    return play(files, entry, deeds(server));
  };
  afterAll(() => {
    globalThis.fetch = own;
  });

  it(`of ${COMPONENTS} generated components: the same shown and asked at every point`, async () => {
    const refused = new Map<string, number>();
    let steps = 0;
    for (let seed = 1; seed <= COMPONENTS; seed++) {
      const text = made(seed);
      const before = new MemoryFiles({ 'Apiary.jsx': text });
      const { after, count, refused: codes } = taken(before);
      for (const code of codes) refused.set(code, (refused.get(code) ?? 0) + 1);
      steps += count;
      const deeds = (server: Server) => {
        const next = random(seed);
        return Array.from({ length: 14 }, (_, i): Deed => {
          const at = next();
          const isFirst = next() < 0.7;
          if (at < 0.45) return { press: Math.floor(next() * 3) };
          if (at < 0.55) return { type: 0, text: `x${i}` };
          return { happens: () => (at < 0.62 ? globalThis.stops.shift()?.abort() : server.answer(isFirst)) };
        });
      };
      const props = { place: seed % 3 ? 'mill' : 'quarry', who: { name: 'Ida' }, hives: ['ford', 'mill', 'quarries'] };
      const entry = { file: 'Apiary.jsx', export: 'Apiary', props };
      const was = await playWith(before, entry, deeds);
      const is = await playWith(after, entry, deeds);
      const now = after
        .list()
        .map((path) => textOf(after, path))
        .join('\n');
      expect(is, `${seed}\n${text}\n${now}`).toEqual(was);
    }
    expect(steps).toBeGreaterThan(COMPONENTS * 3);
    expect([...refused.keys()]).toEqual([]);
  }, 120_000);
});
