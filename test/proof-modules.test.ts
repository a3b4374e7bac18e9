/** Code of a component that stands in a module now: each wrong way of taking it there must be caught. */
import { describe, expect, it } from 'vitest';
import { proveFiles } from '../src/core/index.js';
import { memoryProject } from './support/projects.js';

const component = (inside: string, imports = '') => `import { Component, useState } from 'react';${imports}

export function Page({ hive, quick }) {
  const [visits, setVisits] = useState([]);
  let turns = 0;
  const load = async () => {
    ${inside}
  };
  return <button onClick={load}>{visits.length}</button>;
}

export class Board extends Component {
  async load() {
    ${inside.replace(/setVisits\((.*)\);$/gm, 'this.setState({ visits: $1 });').replaceAll('hive.id', 'this.props.hive')}
  }
  render() {
    return <button onClick={() => this.load()}>Load</button>;
  }
}
`;

function answer(before: string, after: string, api: string): string {
  const was = memoryProject({ 'Page.jsx': component(before) });
  const is = memoryProject({
    'Page.jsx': component(after, "\nimport { loadVisits } from './api';"),
    'api.js': api,
  });
  const proof = proveFiles(was, is, ['Page.jsx', 'api.js']);
  return proof.answer === 'same' ? 'same' : `${proof.answer} ${proof.code}`;
}

interface Case {
  readonly before: string;
  readonly after: string;
  readonly api: string;
  /** Another text of the component, of the module or of both, by what is wrong with it, and the code of the difference. */
  readonly wrong: Record<string, readonly [{ readonly after?: string; readonly api?: string }, string]>;
}

const RUN = `const answer = await fetch('/visits/' + id, { signal });
  if (!answer.ok) throw new Error('no visits');
  return answer.json();`;
const asked = (body: string, params = 'id, signal') => `export async function loadVisits(${params}) {\n  ${body}\n}\n`;

const CASES: Record<string, Case> = {
  'a request, the look at its answer, and what it holds': {
    before: `const stop = new AbortController();
    try {
      const answer = await fetch('/visits/' + hive.id, { signal: stop.signal });
      if (!answer.ok) throw new Error('no visits');
      const found = await answer.json();
      setVisits(found);
    } catch (failure) {
      console.log(failure);
    }`,
    after: `const stop = new AbortController();
    try {
      const found = await loadVisits(hive.id, stop.signal);
      setVisits(found);
    } catch (failure) {
      console.log(failure);
    }`,
    api: asked(RUN),
    wrong: {
      'nobody looks at the answer': [{ api: asked(RUN.replace(/if .*/, '')) }, 'different statement-kind'],
      'nothing stops it': [{ api: asked(RUN.replace(', { signal }', '')) }, 'different value-eager'],
      'it is sent twice': [
        { api: asked(`await fetch('/visits/' + id, { signal });\n  ${RUN}`) },
        'different statement-order',
      ],
      'another address': [{ api: asked(RUN.replace('/visits/', '/visit/')) }, 'different code-value'],
      'another method': [
        { api: asked(RUN.replace('{ signal }', "{ signal, method: 'POST' }")) },
        'different code-parts',
      ],
      'the arguments are turned': [{ after: '', api: asked(RUN, 'signal, id') }, 'different name-pairing'],
      'it fails where nobody watches': [
        {
          after: `const stop = new AbortController();
    const found = await loadVisits(hive.id, stop.signal);
    try {
      setVisits(found);
    } catch (failure) {
      console.log(failure);
    }`,
        },
        'different statement-kind',
      ],
      'nobody waits for it': [
        {
          after: `const stop = new AbortController();
    try {
      const found = loadVisits(hive.id, stop.signal);
      setVisits(found);
    } catch (failure) {
      console.log(failure);
    }`,
        },
        'different statement-kind',
      ],
      'it stands in a loop now': [
        {
          after: `const stop = new AbortController();
    try {
      for (const one of [hive]) {
        const found = await loadVisits(hive.id, stop.signal);
        setVisits(found);
      }
    } catch (failure) {
      console.log(failure);
    }`,
        },
        'different statement-kind',
      ],
    },
  },
  'two requests, in their order': {
    before: `const first = await fetch('/first');
    const second = await fetch('/second/' + turns);
    setVisits([first.status, second.status]);`,
    after: `const first = await loadVisits();
    const second = await fetch('/second/' + turns);
    setVisits([first.status, second.status]);`,
    api: `export function loadVisits() {\n  return fetch('/first');\n}\n`,
    wrong: {
      'the second one is sent first': [
        {
          after: `const second = await fetch('/second/' + turns);
    const first = await loadVisits();
    setVisits([first.status, second.status]);`,
        },
        'different statement-kind',
      ],
    },
  },
  'a value that is read when the first answer is there': {
    before: `const first = await fetch('/first');
    const second = await fetch('/second/' + turns);
    turns++;
    setVisits([first.status, second.status]);`,
    after: `const first = await fetch('/first');
    const second = await loadVisits(turns);
    turns++;
    setVisits([first.status, second.status]);`,
    api: `export function loadVisits(turns) {\n  return fetch('/second/' + turns);\n}\n`,
    wrong: {
      'it is handed over before': [
        {
          after: `const { first, second } = await loadVisits(turns);
    turns++;
    setVisits([first.status, second.status]);`,
          api: `export async function loadVisits(turns) {
  const first = await fetch('/first');
  const second = await fetch('/second/' + turns);
  return { first, second };
}
`,
        },
        'different read-early',
      ],
    },
  },
  'a promise that is handed on': {
    before: `const answer = await fetch('/visits');
    const found = answer.json();
    setVisits(found);`,
    after: `const answer = await loadVisits();
    const found = answer.json();
    setVisits(found);`,
    api: `export function loadVisits() {\n  return fetch('/visits');\n}\n`,
    wrong: {
      'what it comes to is handed on': [
        {
          after: `const found = await loadVisits();
    setVisits(found);`,
          api: `export async function loadVisits() {\n  const answer = await fetch('/visits');\n  return answer.json();\n}\n`,
        },
        'different code-kind',
      ],
      'by a name, too': [
        {
          after: `const found = await loadVisits();
    setVisits(found);`,
          api: `export async function loadVisits() {
  const answer = await fetch('/visits');
  const found = answer.json();
  return found;
}
`,
        },
        'different statement-kind',
      ],
      'what was given at once is waited for': [
        { api: `export async function loadVisits() {\n  return (await fetch('/visits')).json();\n}\n` },
        'different code-kind',
      ],
    },
  },
  'a member that is asked for in some cases': {
    before: `const found = quick ? hive.queen.year : 0;
    setVisits(found);`,
    after: `const found = loadVisits(quick, hive);
    setVisits(found);`,
    api: `export function loadVisits(quick, hive) {\n  return quick ? hive.queen.year : 0;\n}\n`,
    wrong: {
      'it is asked for in all': [
        {
          after: `const found = loadVisits(quick, hive.queen.year);
    setVisits(found);`,
          api: `export function loadVisits(quick, year) {\n  return quick ? year : 0;\n}\n`,
        },
        'different value-eager',
      ],
    },
  },
  'a function that goes on being called': {
    before: `const weigh = (one) => one + hive.id;
    setVisits([1].map(weigh));`,
    after: `const weigh = (one) => loadVisits(one, hive.id);
    setVisits([1].map(weigh));`,
    api: `export function loadVisits(one, id) {\n  return one + id;\n}\n`,
    wrong: {
      'it gives promises now': [
        { api: `export async function loadVisits(one, id) {\n  return one + id;\n}\n` },
        'different function-mode',
      ],
    },
  },
  'a name that is written again': {
    before: `const one = hive.weigh();
    setVisits([one, turns]);
    turns++;`,
    after: `const one = loadVisits(hive);
    setVisits([one, turns]);
    turns++;`,
    api: `export function loadVisits(hive) {\n  return hive.weigh();\n}\n`,
    wrong: {
      'it is read before a call that may write it': [
        {
          after: `setVisits(loadVisits(hive, turns));
    turns++;`,
          api: `export function loadVisits(hive, turns) {\n  const one = hive.weigh();\n  return [one, turns];\n}\n`,
        },
        'different read-early',
      ],
    },
  },
  'a calculation': {
    before: `const kept = [1, 2].slice(hive.id);
    setVisits(kept);`,
    after: `const kept = loadVisits(hive.id);
    setVisits(kept);`,
    api: `export function loadVisits(id) {\n  return [1, 2].slice(id);\n}\n`,
    wrong: {
      'a promise of it': [
        { api: `export async function loadVisits(id) {\n  return [1, 2].slice(id);\n}\n` },
        'different function-mode',
      ],
      'something else is left out': [
        { api: `export function loadVisits(id) {\n  return [1, 3].slice(id);\n}\n` },
        'different code-value',
      ],
    },
  },
};

describe('code that stands in a module', () => {
  for (const [name, { before, after, api, wrong }] of Object.entries(CASES)) {
    it(`is the same: ${name}`, () => {
      expect(answer(before, after, api)).toBe('same');
    });
    for (const [fault, [text, code]] of Object.entries(wrong))
      it(`is caught: ${name}, where ${fault}`, () => {
        expect(answer(before, text.after || after, text.api ?? api)).toBe(code);
      });
  }
});

describe('a path in code that stands in another folder', () => {
  const jsx = (path: string) => `export function Panel({ hives }) {
  return <button onClick={() => ${path}}>{hives.length}</button>;
}
`;
  const vue = (image: string) => `<template><p><img src="${image}" /></p></template>\n`;
  const USE = { jsx: "import { Panel } from '../parts/Panel';\n\n", vue: "import Panel from '../parts/Panel.vue';" };
  const page = (inside: string) => `${USE.jsx}export function Page({ hives }) {\n  return <main>${inside}</main>;\n}\n`;
  const prove = (before: Record<string, string>, after: Record<string, string>) => {
    const proof = proveFiles(memoryProject(before), memoryProject(after), Object.keys(after));
    return proof.answer === 'same' ? 'same' : `${proof.answer} ${proof.code}`;
  };

  const LOADS: readonly (readonly [was: string, right: string, wrong: string])[] = [
    ["import('./save')", "import('../views/save')", "import('./save')"],
    ["require('../save')", "require('../save')", "require('../views/save')"],
    [
      "new URL('./comb.png', import.meta.url)",
      "new URL('../views/comb.png', import.meta.url)",
      "new URL('./comb.png', import.meta.url)",
    ],
    ["import('hives')", "import('hives')", "import('./hives')"],
  ];
  for (const [was, right, wrong] of LOADS) {
    it(`means the same file: ${was}`, () => {
      const inside = jsx(was).replace(/^[^]*return (.*);\n}\n$/, '$1');
      const before = { 'views/Page.jsx': page(inside).replace(USE.jsx, '') };
      const after = (path: string) => ({
        'views/Page.jsx': page('<Panel hives={hives} />'),
        'parts/Panel.jsx': jsx(path),
      });
      expect(prove(before, after(right))).toBe('same');
      expect(prove(before, after(wrong))).toBe('different name-meaning');
    });
  }

  it('means the same file: what a template of Vue shows', () => {
    const before = { 'views/Page.vue': '<template><main><p><img src="./comb.png" /></p></main></template>\n' };
    const after = (image: string) => ({
      'views/Page.vue': `<template><main><Panel /></main></template>\n<script setup>${USE.vue}</script>\n`,
      'parts/Panel.vue': vue(image),
    });
    expect(prove(before, after('../views/comb.png'))).toBe('same');
    expect(prove(before, after('./comb.png'))).toBe('different name-meaning');
    const required = (path: string) => `:src="require('${path}')" src2`;
    const shown = { 'views/Page.vue': before['views/Page.vue'].replace('src="./comb.png"', required('./comb.png')) };
    const there = (path: string) => ({
      ...after(''),
      'parts/Panel.vue': vue('').replace('src=""', required(path)),
    });
    expect(prove(shown, there('../views/comb.png'))).toBe('same');
    expect(prove(shown, there('./comb.png'))).toBe('different name-meaning');
    // What is handed over is text, and no path any more.
    const handed = {
      ...after(''),
      'views/Page.vue': `<template><main><Panel image="./comb.png" /></main></template>\n<script setup>${USE.vue}</script>\n`,
      'parts/Panel.vue':
        '<template><p><img :src="image" /></p></template>\n<script setup>defineProps([\'image\'])</script>\n',
    };
    expect(prove(before, handed)).toMatch(/^different /);
  });

  it('does not know what else a file knows of itself', () => {
    const before = { 'views/Page.jsx': page('<p>{import.meta.url}</p>').replace(USE.jsx, '') };
    const after = {
      'views/Page.jsx': page('<Panel />'),
      'parts/Panel.jsx': 'export function Panel() {\n  return <p>{import.meta.url}</p>;\n}\n',
    };
    expect(prove(before, after)).toBe('different name-meaning');
    const built = (text: Record<string, string>) =>
      Object.fromEntries(
        Object.entries(text).map(([path, code]) => [path, code.replace('import.meta.url', 'import.meta.env.MODE')]),
      );
    expect(prove(built(before), built(after))).toBe('same');
  });
});
