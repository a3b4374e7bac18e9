/** A class as a function, and the same function with one thing wrong; classes that can be none, beside those that can. */
import { describe, expect, it } from 'vitest';
import { applied, isProblem, languageOf, toFunction } from '../src/core/index.js';
import { memoryProject } from './support/projects.js';

type Files = Record<string, string>;

const SCALE = `import { Component, createRef } from 'react';
import { connect, Season } from './scales';

const unit = 'kg';

export class Scale extends Component {
  static contextType = Season;
  static defaultProps = { step: 1, marks: [1, 2] };
  static label = 'scale';
  field = createRef();
  timer = null;
  link = connect('a');
  state = { kilos: this.props.first, open: false, seen: 0 };

  componentDidMount() {
    this.timer = setTimeout(this.hear, 50);
    this.link.listen(this.hear);
  }

  componentDidUpdate(before) {
    if (before.hive !== this.props.hive) this.setState({ kilos: 0, open: false });
  }

  componentWillUnmount() {
    clearTimeout(this.timer);
    this.link.leave(this.hear);
  }

  hear = () => {
    this.setState((was) => ({ seen: was.seen + 1 }));
  };

  add(weighed) {
    const { onWeigh, step } = this.props;
    if (weighed > 0) onWeigh(this.state.kilos, weighed);
    this.setState({ kilos: this.state.kilos + step * weighed });
  }

  render() {
    const { marks } = this.props;
    const { kilos, open } = this.state;
    return (
      <section ref={this.field} title={this.context}>
        <b>{kilos} {unit}</b>
        <button onClick={() => this.add(1)}>Add</button>
        <button onClick={() => this.setState({ open: !open })}>Open</button>
        {open && marks.map((mark) => <i key={mark}>{mark}</i>)}
        <u>{this.state.seen}</u>
      </section>
    );
  }
}
`;
const PARTS =
  "import { createContext } from 'react';\nexport const Season = createContext('spring');\nexport const connect = (a) => a;\n";

function compared(change: (text: string) => string): string {
  const project = memoryProject({ 'Scale.jsx': SCALE, 'scales.js': PARTS });
  const file = { path: 'Scale.jsx', text: SCALE };
  const functions = languageOf('Scale.jsx')!.functions!;
  const written = functions.write({ project, ports: project.ports, file, component: 'Scale' });
  if (isProblem(written)) throw new Error(written.message);
  const done = toFunction(project, { path: 'Scale.jsx', component: 'Scale' });
  if (isProblem(done)) throw new Error(done.message);
  const { text } = applied(project.files, done).read('Scale.jsx') as { text: string };
  const now = change(text);
  if (now === text && change !== whole) throw new Error(`nothing to plant:\n${text}`);
  return functions.compare(file, { ...file, text: now }, written, project.ports)?.detail ?? 'same';
}
const whole = (text: string) => text;
const swap = (from: string, to: string) => (text: string) => text.replace(from, to);

describe('a function with a fault', () => {
  it('is the same without one', () => {
    expect(compared(whole)).toBe('same');
    // What is written otherwise and means the same.
    expect(compared(swap('setSeen((was) => was + 1)', 'setSeen((seen) => (seen + 1))'))).toBe('same');
  });

  const faults: readonly (readonly [string, (text: string) => string, string])[] = [
    ['begins otherwise', swap('useState(first)', 'useState(0)'), 'the state kilos'],
    ['begins anew with each prop', swap('useState(false)', 'useState(first)'), 'the state open'],
    ['keeps something else', swap('useRef(null)', 'useRef(0)'), 'what is kept as'],
    [
      'makes a link with each rendering',
      swap("useState(() => connect('a'))", "useRef(connect('a'))"),
      'what is kept as link',
    ],
    ['asks for another default', swap('step = 1', 'step = 2'), 'the function add'],
    ['has another default', swap('defaultMarks = [1, 2]', 'defaultMarks = [1]'), 'what it shows'],
    ['makes a default with each rendering', swap('marks = defaultMarks', 'marks'), 'what it shows'],
    ['sets what it was when it was made', swap('setSeen((was) => was + 1)', 'setSeen(seen + 1)'), 'kept, and reads'],
    ['sets another state', swap('setKilos(0)', 'setSeen(0)'), 'an effect'],
    ['sets one state less', swap('setKilos(0);', ''), 'an effect'],
    ['keeps a function that reads', swap('setSeen((was) => was + 1)', 'setSeen(kilos)'), 'kept, and reads'],
    [
      'keeps a function for a time',
      (t) => t.replace(/(const hear = useCallback\([\s\S]*?\}, \[)\]/, '$1kilos]'),
      'kept for as long',
    ],
    ['keeps no function', (t) => t.replace(/useCallback\(([\s\S]*?\}), \[\]\)/, '($1)'), 'same'],
    ['runs each time', (t) => t.replace(/\}, \[\]\);(?=\s+const beforeRef)/, '});'), 'an effect'],
    ['runs for a prop', (t) => t.replace(/\}, \[\]\);(?=\s+const beforeRef)/, '}, [hive]);'), 'an effect'],
    ['loses what cleans up', (t) => t.replace(/return \(\) => \{[\s\S]*?\n {4}\};/, ''), 'an effect'],
    ['leaves something behind', swap('link.leave(hear);', ''), 'an effect'],
    ['runs the first time as well', swap('if (!before) return;', ''), 'an effect runs the first time'],
    [
      'compares with another prop',
      swap('beforeRef.current = { hive }', 'beforeRef.current = { hive: step }'),
      'an effect runs the first time',
    ],
    ['asks for nothing before', swap('before.hive !== hive', 'hive'), 'an effect'],
    ['swaps arguments', swap('onWeigh(kilos, weighed)', 'onWeigh(weighed, kilos)'), 'the function add'],
    ['forgets a condition', swap('if (weighed > 0)', 'if (weighed)'), 'the function add'],
    ['shows something else', swap('{seen}', '{kilos}'), 'what it shows'],
    ['shows another text', swap('>Add<', '>Weigh<'), 'what it shows'],
    ['loses a key', swap(' key={mark}', ''), 'what it shows'],
    ['loses a ref', swap(' ref={field}', ''), 'what it shows'],
    ['hands a ref out', swap('ref={field}', 'ref={field.current}'), 'what it shows'],
    ['takes another context', swap('useContext(Season)', 'useContext(connect)'), 'the context'],
    ['loses what hangs on it', swap("Scale.label = 'scale';", ''), 'the static label'],
    [
      'is rendered less often',
      (t) =>
        t
          .replace('export function Scale(', 'export const Scale = memo(function Scale(')
          .replace(/\n\}\n\nScale/, '\n});\n\nScale'),
      'rendered for other props',
    ],
    ['changes its neighbour', swap("'kg'", "'g'"), 'is not what it was'],
    ['hides a name of its file', swap('const [link]', "const unit = 'g';\n  const [link]"), 'what it shows'],
    ['is another one', swap('function Scale(', 'function Balance('), 'there is no function'],
  ];
  it.each(faults)('that %s', (_, change, detail) => {
    expect(compared(change)).toContain(detail);
  });
});

/** A class with `members`, which shows `shown`. */
function hive(members: string, shown: string, head = 'class Hive extends Component'): Files {
  return {
    'Hive.jsx': `import { Component, PureComponent } from 'react';
import { Choose, Keep, Newest, Oldest, Pass, Press, Timer } from './parts';
export ${head} {
  state = { kilos: 0 };
  ${members}
  render() {
    return <main>{this.state.kilos}${shown}</main>;
  }
}
`,
    'parts.jsx': `import { Component, useEffect } from 'react';
export const Keep = ({ onHear }) => { useEffect(() => hear(onHear), []); return <i />; };
export const Press = ({ onHear }) => <button onClick={() => onHear(1)} />;
export const Timer = ({ onHear }) => <button onClick={() => setTimeout(() => onHear(1), 9)} />;
export const Choose = ({ onHear }) => { const tell = onHear || log; return <button onClick={() => wait(tell)} />; };
export class Newest extends Component { render() { return <i onClick={() => setTimeout(() => this.props.onHear(1), 9)} />; } }
export class Oldest extends Component { render() { const { onHear } = this.props; return <i onClick={() => setTimeout(() => onHear(1), 9)} />; } }
export const Pass = (props) => <Keep onHear={props.onHear} />;
`,
  };
}
const asked = (files: Files) => {
  const change = toFunction(memoryProject({ 'package.json': '{"dependencies":{"react":"18.2.0"}}', ...files }), {
    path: 'Hive.jsx',
    component: 'Hive',
  });
  return isProblem(change) ? `${change.code}: ${change.message}` : change.proof.answer;
};
const USE = '<button onClick={this.hear} />';
const reads = 'hear = () => { log(this.state.kilos); };';

describe('a class', () => {
  const pairs: readonly (readonly [string, Files, Files, string])[] = [
    [
      'that reads after it has waited',
      hive('hear = async () => { const { kilos } = this.state; await ask(); log(kilos); };', USE),
      hive('hear = async () => { await ask(); log(this.state.kilos); };', USE),
      'is read after it has waited',
    ],
    [
      'that reads in a loop that waits',
      hive('hear = async () => { for (const one of all) await ask(one); };', USE),
      hive('hear = async () => { for (const one of all) { log(this.props.place); await ask(one); } };', USE),
      'is read after it has waited',
    ],
    [
      'that reads in a timer',
      hive('hear = () => { setTimeout(() => this.setState({ kilos: 1 }), 5); };', USE),
      hive('hear = () => { setTimeout(() => this.setState({ kilos: this.state.kilos + 1 }), 5); };', USE),
      'in a function that runs later',
    ],
    [
      'that calls what reads in a timer',
      hive(`tell() { log(1); } hear = () => { setTimeout(() => this.tell(), 5); };`, USE),
      hive(`tell() { log(this.props.place); } hear = () => { setTimeout(() => this.tell(), 5); };`, USE),
      'in a function that runs later',
    ],
    [
      'that reads when it goes',
      hive('componentWillUnmount() { log(1); }', ''),
      hive('componentWillUnmount() { log(this.props.place); }', ''),
      'is read when it goes',
    ],
    [
      'whose function is kept by a listener',
      hive(`componentDidMount() { on(this.hear); } hear = () => { log(1); };`, ''),
      hive(`componentDidMount() { on(this.hear); } ${reads}`, ''),
      'is kept by something else',
    ],
    [
      'whose function a component keeps',
      hive(reads, '<Press onHear={this.hear} />'),
      hive(reads, '<Keep onHear={this.hear} />'),
      '<Keep> keeps "hear"',
    ],
    [
      'that writes what a component keeps where it hands it over',
      hive('', '<Press onHear={() => log(this.state.kilos)} />'),
      hive('', '<Keep onHear={() => log(this.state.kilos)} />'),
      '<Keep> keeps "the function for onHear"',
    ],
    [
      'whose state begins with a function of its own',
      hive('hear = () => 1;', `<i>{this.hear()}</i>`),
      {
        'Hive.jsx': hive('hear = () => 1;', `<i>{this.hear()}</i>`)['Hive.jsx']!.replace(
          'kilos: 0',
          'kilos: this.hear()',
        ),
      },
      'its state begins with what the object is asked for',
    ],
    [
      'that asks for its arguments',
      hive('hear() { log(1); }', '<button onClick={() => this.hear()} />'),
      hive('hear() { log(arguments); }', '<button onClick={() => this.hear()} />'),
      'asks for its "arguments"',
    ],
    [
      'that reads behind a wait of a function that a list is walked with',
      hive('hear = () => { all.forEach(async (one) => { log(this.props.place); await ask(one); }); };', USE),
      hive('hear = () => { all.forEach(async (one) => { await ask(one); log(this.props.place); }); };', USE),
      'is read after it has waited',
    ],
    [
      'that keeps a function of its first rendering as a state',
      { 'Hive.jsx': hive('', '')['Hive.jsx']!.replace('kilos: 0', 'kilos: 0, tell: () => log(1)') },
      { 'Hive.jsx': hive('', '')['Hive.jsx']!.replace('kilos: 0', 'kilos: 0, tell: () => log(this.props.place)') },
      'in a function that runs later',
    ],
    [
      'whose function is called in a timer',
      hive(reads, '<Press onHear={this.hear} />'),
      hive(reads, '<Timer onHear={this.hear} />'),
      '<Timer> keeps "hear"',
    ],
    [
      'whose function is chosen and kept then',
      hive(reads, '<Press onHear={this.hear} />'),
      hive(reads, '<Choose onHear={this.hear} />'),
      '<Choose> keeps "hear"',
    ],
    [
      'whose function another class keeps',
      hive(reads, '<Newest onHear={this.hear} />'),
      hive(reads, '<Oldest onHear={this.hear} />'),
      '<Oldest> keeps "hear"',
    ],
    [
      'that is asked for with a ref under another name',
      { ...hive('', ''), 'Yard.jsx': "import { Hive as Box } from './Hive';\nexport const Yard = () => <Box />;" },
      {
        ...hive('', ''),
        'Yard.jsx': "import { Hive as Box } from './Hive';\nexport const Yard = () => <Box ref={keep} />;",
      },
      'asked for with a ref',
    ],
    [
      'that is built on a class of another module',
      hive('', ''),
      { 'Hive.jsx': hive('', '')['Hive.jsx']!.replace("'react'", "'./base'") },
      'what it is built on is not imported from React',
    ],
    [
      'that asks what a prop and a state of one name were',
      hive('componentDidUpdate(was) { if (was.kilos !== this.props.kilos) log(1); }', ''),
      hive(
        'componentDidUpdate(was, before) { if (was.kilos !== this.props.kilos || before.kilos !== this.state.kilos) log(1); }',
        '',
      ),
      'a prop and a state of one name',
    ],
    [
      'of which something else is told the name of a function',
      { 'Hive.jsx': hive('hear = () => { log(1); };', USE)['Hive.jsx']! + "listen('tell')(Hive);" },
      { 'Hive.jsx': hive('hear = () => { log(1); };', USE)['Hive.jsx']! + "listen('hear')(Hive);" },
      '"hear" is told to others by its name',
    ],
    [
      'that ties a function which it does not call',
      hive('constructor(...given) { super(...given); this.hear = this.hear.bind(this); } hear() { log(1); }', USE),
      hive('constructor(...given) { super(...given); this.hear = this.hear.bind(this); } hear() { log(1); }', ''),
      'nothing in it calls "hear"',
    ],
    [
      'whose function goes in a record',
      hive(reads, '<Far keys={{ h: () => log(1) }} onHear={this.hear} />'),
      hive(reads, '<Far keys={{ h: this.hear }} />'),
      '"hear" is handed on in a record',
    ],
    [
      'whose constructor takes its props apart',
      hive('constructor({ place }) { super(...arguments); this.sign = place + 1; }', '<b>{this.sign}</b>'),
      hive('constructor({ place = 1 }) { super(...arguments); this.sign = place + 1; }', '<b>{this.sign}</b>'),
      'takes its props apart with more than their names',
    ],
    [
      'whose function a component hands to one that keeps it',
      hive(reads, '<Press onHear={this.hear} />'),
      hive(reads, '<Pass onHear={this.hear} />'),
      '<Pass> keeps "hear"',
    ],
    [
      'that is asked for with a ref',
      hive('', ''),
      { ...hive('', ''), 'Yard.jsx': "import { Hive } from './Hive';\nexport const Yard = () => <Hive ref={keep} />;" },
      'asked for with a ref',
    ],
    [
      'that others are built on',
      hive('', ''),
      { ...hive('', ''), 'Big.jsx': "import { Hive } from './Hive';\nexport class Big extends Hive {}" },
      'a class is built on it',
    ],
    [
      'with a function that only others call',
      hive('hear() { log(1); }', '<button onClick={() => this.hear()} />'),
      hive('hear() { log(1); }', ''),
      'nothing in it calls "hear"',
    ],
    [
      'that keeps something only for others',
      hive('', '<i ref={(el) => { this.el = el; }} onClick={() => this.el.focus()} />'),
      hive('', '<i ref={(el) => { this.el = el; }} />'),
      'nothing in it reads "el"',
    ],
    [
      'that catches errors',
      hive('componentDidMount() { log(1); }', ''),
      hive('componentDidCatch() { log(1); }', ''),
      'it catches errors',
    ],
    ['with a ref that is a text', hive('', '<i id="a" />'), hive('', '<i ref="a" />'), 'a ref is told by a text'],
    [
      'that does something once its state is set',
      hive('hear = () => { this.setState({ kilos: 1 }); };', USE),
      hive('hear = () => { this.setState({ kilos: 1 }, () => log(1)); };', USE),
      'a second argument',
    ],
    [
      'that shows what it keeps, and is pure',
      hive('size = 1; hear = () => { this.size = 2; this.setState({ kilos: 1 }); };', `{this.size}${USE}`),
      hive(
        'size = 1; hear = () => { this.size = 2; this.setState({ kilos: 1 }); };',
        `{this.size}{all(this.state)}${USE}`,
        'class Hive extends PureComponent',
      ),
      'how often it is rendered shows',
    ],
    ['that hands itself out', hive('', '{kilosOf(this.state)}'), hive('', '{kilosOf(this)}'), '"this" itself is used'],
    [
      'that writes its state',
      hive('hear = () => { log(this.state.kilos); };', USE),
      hive('hear = () => { this.state.kilos = 1; };', USE),
      'written without "setState"',
    ],
  ];
  it.each(pairs)('%s', (_, can, cannot, why) => {
    expect(asked(can)).toBe('same');
    expect(asked(cannot)).toContain(why);
  });

  it('goes by the React of its package', () => {
    const at = (react: string, files: Files) =>
      asked({ ...files, 'package.json': `{"dependencies":{"react":"${react}"}}` });
    const late = 'hear = async () => { await ask(); this.setState({ kilos: 1, place: 2 }); };';
    expect(at('15.6.1', hive('', ''))).toContain('has no useState');
    expect(at('16.4.0', hive('', ''))).toContain('has no useState');
    expect(at('^16.4.0', hive('', ''))).toBe('same');
    // Two states set behind a wait are two renderings before 18, so that they stay one record.
    const two = hive(late, USE)['Hive.jsx']!.replace('{ kilos: 0 }', '{ kilos: 0, place: 1 }');
    const text = (react: string) => {
      const files = { 'package.json': `{"dependencies":{"react":"${react}"}}`, 'Hive.jsx': two };
      const change = toFunction(memoryProject(files), { path: 'Hive.jsx', component: 'Hive' });
      return isProblem(change) ? change.message : change.files[0]!.text!;
    };
    expect(text('18.0.0')).toContain('setPlace(2);');
    expect(text('17.0.0')).toContain('changeState({ kilos: 1, place: 2 });');
    const whole = hive('static defaultProps = { size: 1 };', '{sizeOf(this.props)}');
    expect(at('18.2.0', whole)).toBe('same');
    expect(at('19.0.0', whole)).toContain('a function has none of its own in React 19');
  });
});
