/** Generated classes become functions; both are played in a DOM, shown, hidden, handed other things and told of what happens outside. */
import { describe, expect, it } from 'vitest';
import { applied, isProblem, MemoryFiles, Project, toFunction } from '../../src/core/index.js';
import { random } from '../../scripts/planted.mjs';
import { nodePorts } from '../../src/node/index.js';
import { play, type Deed } from '../support/play.js';

const COMPONENTS = 240;

declare global {
  var signal: {
    on: (fn: () => void) => void;
    off: (fn: () => void) => void;
    fire: () => void;
    answer: () => Promise<number>;
  };
}

/** Who listens is counted, so that a listener that is left behind shows. */
function signals() {
  const listeners = new Set<() => void>();
  return {
    on: (fn: () => void) => void listeners.add(fn),
    off: (fn: () => void) => void (listeners.delete(fn) || log('was not listening')),
    fire: () => {
      log('listeners', listeners.size);
      for (const fn of [...listeners]) fn();
    },
    answer: () => Promise.resolve(7),
  };
}

/** A page that shows a hive or not, and changes what the hive is handed. */
const PAGE = `import { useState, useEffect, Component } from 'react';
import { Hive } from './Hive';

export function Page({ onWeigh }) {
  const [shown, setShown] = useState(true);
  const [place, setPlace] = useState('ford');
  return (
    <main>
      <button onClick={() => setShown(!shown)}>Show</button>
      <button onClick={() => setPlace(place === 'ford' ? 'mill' : 'ford')}>Move</button>
      {shown && <Hive place={place} onWeigh={onWeigh} first={3}>of wood</Hive>}
    </main>
  );
}
`;
const PARTS = `import { useEffect, Component } from 'react';

export const Press = ({ onPress, children }) => <button onClick={onPress}>{children}</button>;
export const Listen = ({ onSignal }) => {
  useEffect(() => {
    signal.on(onSignal);
    return () => signal.off(onSignal);
  }, []);
  return <i>listens</i>;
};
export class Weigh extends Component {
  render() {
    const { onWeigh } = this.props;
    return <button onClick={() => onWeigh(2)}>Weigh</button>;
  }
}
`;

function made(seed: number): string {
  const next = random(seed);
  const chance = (share: number) => next() < share;
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!;
  const members: string[] = [];
  const shown: string[] = ['<b>{this.props.place}</b>', '<u>{this.state.count}</u>'];
  const statements: string[] = [];
  const ties: string[] = [];
  const method = (name: string, params: string, body: string) => {
    if (chance(0.5)) members.push(`${name} = (${params}) => {\n    ${body}\n  };`);
    else {
      members.push(`${name}(${params}) {\n    ${body}\n  }`);
      ties.push(name);
    }
  };
  const isRecord = chance(0.2);
  const count = pick([
    'this.setState({ count: this.state.count + 1 });',
    'this.setState((before) => ({ count: before.count + 1 }));',
    'const { count } = this.state;\n    this.setState({ count: count + 1 });',
    'this.setState({ count: this.state.count + 1, last: this.props.place });',
    'this.setState({ count: 4 });',
  ]);
  method('add', '', count);
  shown.push(
    pick([
      '<button onClick={this.add}>Add</button>',
      '<Press onPress={this.add}>Add</Press>',
      '<button onClick={() => this.add()}>Add</button>',
    ]),
  );
  if (chance(0.6)) {
    method(
      'weigh',
      'kilos',
      pick([
        'this.props.onWeigh(kilos, this.state.count);',
        'this.props.onWeigh(kilos);',
        'const { onWeigh, place } = this.props;\n    onWeigh(kilos, place);\n    this.add();',
      ]),
    );
    shown.push(
      pick([
        '<Weigh onWeigh={this.weigh} />',
        '<button onClick={() => this.weigh(1)}>One</button>',
        '<button onClick={this.weigh.bind(this, 3)}>Three</button>',
      ]),
    );
  }
  if (chance(0.5)) {
    method(
      'hear',
      '',
      pick([
        "log('heard');",
        'this.setState((was) => ({ count: was.count + 10 }));',
        'this.setState({ last: this.props.place });',
        "log('heard', this.state.count);",
        'this.heard = (this.heard || 0) + 1;\n    log(this.heard);',
      ]),
    );
    if (chance(0.3))
      shown.push(
        pick([
          '<Listen onSignal={this.hear} />',
          '<Listen onSignal={() => this.hear()} />',
          "<Listen onSignal={() => log('newest', this.state.count)} />",
        ]),
      );
    else {
      members.push('componentDidMount() {\n    signal.on(this.hear);\n  }');
      if (chance(0.8))
        members.push(
          `componentWillUnmount() {\n    signal.off(this.hear);\n    ${pick(['', '', "log('gone', this.state.count);", "log('gone');"])}\n  }`,
        );
    }
  } else if (chance(0.6)) {
    members.push(
      `${pick(['', 'async '])}componentDidMount() {\n    ${pick(["log('comes', this.props.place);", 'const kilos = await signal.answer();\n    this.setState({ last: kilos });', 'this.setState({ last: this.props.first });', 'signal.answer().then((kilos) => this.setState({ last: kilos + this.state.count }));', 'this.tell();'])}\n  }`.replace(
        /^componentDidMount\(\) \{\n {4}const kilos = await/m,
        'async $&',
      ),
    );
    members.push("tell() {\n    log('tells', this.props.place, this.state.count);\n  }");
    shown.push('<button onClick={() => this.tell()}>Tell</button>');
  }
  if (chance(0.5))
    members.push(
      `componentDidUpdate(${pick(['was, before', 'prevProps, prevState'])}) {\n    ${pick([
        "if (WAS.place !== this.props.place) log('moved', WAS.place, this.props.place);",
        "if (BEFORE.count !== this.state.count) {\n      log('counted', BEFORE.count, this.state.count);\n    }",
        'if (BEFORE.count !== this.state.count && this.state.count > 4) this.setState({ count: 0 });',
        "log('updated', this.state.count);",
        'if (WAS.place !== this.props.place) this.setState({ last: BEFORE.last });',
      ])}\n  }`,
    );
  const update = members.at(-1)!;
  if (update.startsWith('componentDidUpdate')) {
    const [, was, before] = /\((\w+), (\w+)\)/.exec(update)!;
    members[members.length - 1] = update.replace(/WAS/g, was!).replace(/BEFORE/g, before!);
  }
  if (chance(0.3)) {
    members.push('size = 2;', 'made = [this.props.first].map((n) => n * 2);');
    shown.push('<em>{this.made}{this.size}</em>');
    shown.push("<button onClick={() => { this.size = this.size + 1; log('size', this.size); }}>Size</button>");
  }
  if (chance(0.4)) {
    statements.push(
      pick([
        'const { last } = this.state;',
        'const { place, ...others } = this.props;\n    const last = this.state.last + Object.keys(others).length;',
        'const last = `${this.state.last}, ${this.props.place}`;',
      ]),
    );
    shown.push('<s>{last}</s>');
  }
  if (isRecord) shown.push('<p>{JSON.stringify(this.state)}</p>');
  if (chance(0.3)) {
    shown.push('{this.rows()}');
    members.push(
      'rows() {\n    return [1, 2].map((n) => <button key={n} onClick={() => this.setState({ last: n + this.state.count })}>Row {n}</button>);\n  }',
    );
  }
  if (chance(0.3)) {
    members.push("static defaultProps = { size: 'small', marks: [1, 2] };");
    shown.push(pick(['<q>{this.props.size}{this.props.marks.length}</q>', '<q>{Object.keys(this.props).length}</q>']));
  }
  if (chance(0.3)) shown.push('{this.props.children}');
  const first = `{ count: ${pick(['0', 'this.props.first', '[this.props.first].length'])}, last: null }`;
  const start =
    ties.length > 0 || chance(0.3)
      ? `constructor(props) {\n    super(props);\n    this.state = ${first.replace(/this\.props/g, pick(['props', 'this.props']))};\n${ties.map((t) => `    this.${t} = this.${t}.bind(this);\n`).join('')}  }`
      : `state = ${first};`;
  return `import { ${pick(['Component', 'Component', 'PureComponent'])} as Base } from 'react';
import { Listen, Press, Weigh } from './parts';

export class Hive extends Base {
  ${[start, ...members].join('\n\n  ')}

  render() {
    ${[...statements, ''].join('\n    ').trimEnd()}
    return (
      <div>
        ${shown.join('\n        ')}
      </div>
    );
  }
}
`.replace(/import \{ (\w+) as Base \}([\s\S]*)extends Base/, 'import { $1 }$2extends $1');
}

describe('a class', () => {
  it(`of ${COMPONENTS} generated ones as a function: the same at every point`, async () => {
    const refused = new Map<string, number>();
    let same = 0;
    for (let seed = 1; seed <= COMPONENTS; seed++) {
      const text = made(seed);
      const before = new MemoryFiles({ 'Page.jsx': PAGE, 'Hive.jsx': text, 'parts.jsx': PARTS });
      const change = toFunction(new Project(before, nodePorts()), { path: 'Hive.jsx', component: 'Hive' });
      if (isProblem(change)) {
        refused.set(change.code, (refused.get(change.code) ?? 0) + 1);
        continue;
      }
      const { proof } = change;
      const now = change.files[0]!.text!;
      expect(proof.answer === 'same' ? '' : `${seed} ${proof.detail}\n${text}\n${now}`).toBe('');
      same++;
      expect(now, `${seed}`).not.toMatch(/\bthis\b|\bclass\b/);
      const next = random(seed);
      const deeds = Array.from({ length: 14 }, (): Deed => {
        if (next() < 0.25) return { happens: () => signal.fire() };
        return { press: Math.floor(next() * 9) };
      });
      const entry = {
        file: 'Page.jsx',
        export: 'Page',
        props: { onWeigh: (...given: unknown[]) => log('weigh', ...given) },
      };
      globalThis.signal = signals();
      const was = await play(before, entry, deeds);
      globalThis.signal = signals();
      const is = await play(applied(before, change), entry, deeds);
      expect(is, `${seed}\n${text}\n${now}`).toEqual(was);
    }
    expect(same).toBeGreaterThan(COMPONENTS * 0.4);
    expect([...refused.keys()].sort()).toEqual(['function-late', 'function-reached', 'function-unclear']);
  }, 120_000);
});
