/** A function that gives markup back, written out where it was called: each wrong way of doing it must be caught. */
import { describe, expect, it } from 'vitest';
import { proveFiles } from '../src/core/index.js';
import { memoryProject } from './support/projects.js';

const NOTE = `export const Note = ({ title }) => <p>{title}</p>;\n`;

/** What shows something: a class with `renderNote`, or with what is written out in its place. */
const page = (member: string, shown: string, tie = '') => `import { Component } from 'react';
import { Note } from './Note';

const Box = ({ children = 'empty' }) => <div>{children}</div>;

export class Page extends Component {
  state = { open: 0, count: 1 };

  constructor(props) {
    super(props);
    this.more = this.more.bind(this);${tie}
  }

  ${member}

  more(title) {
    this.setState({ count: this.state.count + 1, title });
  }

  render() {
    const { hives } = this.props;
    return <main><h1>Hives</h1>${shown}</main>;
  }
}
`;

function answer(was: string, is: string): string {
  const files = (text: string) => memoryProject({ 'Page.jsx': text, 'Note.jsx': NOTE });
  const start = /(?<=renderNote(?: = )?)\(/.exec(was)!.index;
  const place = { path: 'Page.jsx', start };
  const proof = proveFiles(files(is), files(was), ['Page.jsx'], 'back', { helper: place });
  return proof.answer === 'same' ? 'same' : `${proof.answer} ${proof.code}`;
}

/** The function, a use of it, what stands there rightly, and what stands there wrongly by the code of the difference. */
const FUNCTIONS: Record<
  string,
  {
    readonly member: string;
    readonly use: string;
    readonly right: string;
    readonly wrong: Record<string, [string, string]>;
  }
> = {
  'a guard': {
    member: 'renderNote(title) { if (!this.state.open) return null; return <Note title={title} />; }',
    use: "{this.renderNote('dry')}",
    right: '{this.state.open ? <Note title="dry" /> : null}',
    wrong: {
      'the guard is lost': ['<Note title="dry" />', 'different markup-kind'],
      'the guard is turned': ['{this.state.open ? null : <Note title="dry" />}', 'different markup-kind'],
      'a number would be shown': ['{this.state.open && <Note title="dry" />}', 'different code-kind'],
      'another argument': ['{this.state.open ? <Note title="wet" /> : null}', 'different code-value'],
      'another state': ['{this.state.count ? <Note title="dry" /> : null}', 'different code-value'],
      'nothing at all': ['', 'different markup-added'],
      'it is still called': ["{this.renderNote('dry')}", 'different code-kind'],
    },
  },
  'a sure guard': {
    member: 'renderNote() { if (this.state.count === 2) return; return <Note title="two" />; }',
    use: '{this.renderNote()}<hr />',
    right: '{this.state.count !== 2 && <Note title="two" />}<hr />',
    wrong: {
      'the other way round': ['{this.state.count === 2 && <Note title="two" />}<hr />', 'different code-value'],
    },
  },
  'the only content of a component': {
    member: 'renderNote() { if (this.state.count === 2) return; return <Note title="two" />; }',
    use: '<Box>{this.renderNote()}</Box>',
    right: '<Box>{this.state.count !== 2 ? <Note title="two" /> : undefined}</Box>',
    wrong: {
      'nothing of another kind': [
        '<Box>{this.state.count !== 2 ? <Note title="two" /> : null}</Box>',
        'different code-kind',
      ],
      'the condition itself': ['<Box>{this.state.count !== 2 && <Note title="two" />}</Box>', 'different code-kind'],
    },
  },
  'what is read at once': {
    member:
      'renderNote() { const { count } = this.state; return <Note title={count} onMore={() => this.more(count)} />; }',
    use: '{this.renderNote()}',
    right: '',
    wrong: {
      'it is read later': [
        '<Note title={this.state.count} onMore={() => this.more(this.state.count)} />',
        'different read-early',
      ],
    },
  },
  'a call that is made once': {
    member: 'renderNote() { const size = this.props.measure(); return <Note title={size} />; }',
    use: '{this.renderNote()}',
    right: '<Note title={this.props.measure()} />',
    wrong: {
      'another call': ['<Note title={this.props.count()} />', 'different code-value'],
    },
  },
  'a call that is read twice': {
    member: 'renderNote() { const size = this.props.measure(); return <Note title={size} hint={size} />; }',
    use: '{this.renderNote()}',
    right: '',
    wrong: {
      'it is made twice': [
        '<Note title={this.props.measure()} hint={this.props.measure()} />',
        'different function-several',
      ],
    },
  },
  'a call under a condition': {
    member:
      'renderNote() { const size = this.props.measure(); if (!this.state.open) return null; return <Note title={size} />; }',
    use: '{this.renderNote()}',
    right: '',
    wrong: {
      'it is made at times': [
        '{this.state.open ? <Note title={this.props.measure()} /> : null}',
        'different function-several',
      ],
    },
  },
  'an argument that is worked out': {
    member: 'renderNote(title) { return <Note title={title} hint={title} />; }',
    use: '{this.renderNote(this.props.name())}',
    right: '',
    wrong: {
      'it is worked out twice': [
        '<Note title={this.props.name()} hint={this.props.name()} />',
        'different function-several',
      ],
    },
  },
  'one for each of a list': {
    member: 'renderNote = (hive, i) => { return <Note key={hive.id} title={i + hive.name} />; };',
    use: '{hives.map(this.renderNote)}',
    right: '{hives.map((hive, i) => <Note key={hive.id} title={i + hive.name} />)}',
    wrong: {
      'the key is lost': ['{hives.map((hive, i) => <Note title={i + hive.name} />)}', 'different key-added'],
      'the names are changed over': [
        '{hives.map((i, hive) => <Note key={hive.id} title={i + hive.name} />)}',
        'different name-pairing',
      ],
      'it takes less': [
        '{hives.map((hive) => <Note key={hive.id} title={hive.name} />)}',
        'different function-parameters',
      ],
    },
  },
  'a method without its object': {
    member: 'renderNote(hive) { return <Note key={hive} title={this.state.count} />; }',
    use: '{hives.map(this.renderNote)}',
    right: '',
    wrong: {
      'it has it now': [
        '{hives.map((hive) => <Note key={hive} title={this.state.count} />)}',
        'different function-several',
      ],
    },
  },
};

describe('a function that gives markup back', () => {
  for (const [name, { member, use, right, wrong }] of Object.entries(FUNCTIONS)) {
    const was = page(member, use);
    if (right) it(`${name}: the same`, () => expect(answer(was, page('', right))).toBe('same'));
    for (const [fault, [shown, code]] of Object.entries(wrong))
      it(`${name}: ${fault}`, () => expect(answer(was, page('', shown))).toBe(code));
  }

  it('takes along what ties it to its object, and nothing else', () => {
    const member = 'renderNote(hive) { return <Note key={hive} title={this.state.count} />; }';
    const was = page(member, '{hives.map(this.renderNote)}', '\n    this.renderNote = this.renderNote.bind(this);');
    const is = page('', '{hives.map((hive) => <Note key={hive} title={this.state.count} />)}');
    expect(answer(was, is)).toBe('same');
    expect(answer(was, is.replace('    this.more = this.more.bind(this);\n', ''))).toBe('different statement-added');
  });
});
