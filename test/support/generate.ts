/** Components made from a seed: nested loops and branches, shadowing, destructuring, classes, handlers, odd white space. */
import { seeded } from './projects.js';

interface Name {
  readonly code: string;
  readonly kind: 'text' | 'number' | 'list' | 'record' | 'action';
}

export interface Generated {
  readonly text: string;
  readonly props: Record<string, unknown>;
}

const HIVES = [
  { id: 'h1', name: 'Heather', kilos: 3, parts: [{ id: 'p1', name: 'brood', kilos: 1 }] },
  { id: 'h2', name: 'Clover', kilos: 0, parts: [] },
];

export function generateComponent(seed: number): Generated {
  const maker = new Maker(seeded(seed));
  return {
    text: maker.module(),
    props: { hives: HIVES, keeper: { name: 'Mirja', kilos: 7 }, title: 'Apiary', count: 2, extra: 'x' },
  };
}

class Maker {
  #fresh = 0;
  #isClass = false;
  #needsBadge = false;

  constructor(readonly random: () => number) {}

  #pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.random() * list.length)]!;
  }

  #chance(p: number): boolean {
    return this.random() < p;
  }

  #name(stem: string): string {
    // Names repeat on purpose, so that inner ones hide outer ones.
    return this.#chance(0.4) ? stem : `${stem}${++this.#fresh}`;
  }

  module(): string {
    this.#isClass = this.#chance(0.25);
    const component = this.#isClass ? this.#class() : this.#function();
    const head = [`import React, { useState, useMemo } from 'react';`];
    const helpers = [`const UNIT = 'kg';`, `function weight(kilos) {\n  return kilos + ' ' + UNIT;\n}`];
    if (this.#needsBadge)
      helpers.push(`function Badge({ label, children }) {\n  return <em title={label}>{children}</em>;\n}`);
    return `${head.join('\n')}\n\n${helpers.join('\n\n')}\n\n${component}\n`;
  }

  #function(): string {
    const scope: Name[] = [];
    const lines: string[] = [];
    const style = this.#pick(['pattern', 'object', 'renamed']);
    let parameter = 'props';
    if (style === 'pattern') {
      parameter = `{ hives, keeper, title = 'none', count, ...rest }`;
      scope.push(
        { code: 'hives', kind: 'list' },
        { code: 'keeper', kind: 'record' },
        { code: 'title', kind: 'text' },
        { code: 'count', kind: 'number' },
      );
    } else if (style === 'renamed') {
      parameter = `{ hives: rows, keeper: { name, kilos: load }, title }`;
      scope.push(
        { code: 'rows', kind: 'list' },
        { code: 'name', kind: 'text' },
        { code: 'load', kind: 'number' },
        { code: 'title', kind: 'text' },
      );
    } else
      scope.push(
        { code: 'props.hives', kind: 'list' },
        { code: 'props.title', kind: 'text' },
        { code: 'props.count', kind: 'number' },
        { code: 'props.keeper', kind: 'record' },
      );
    lines.push(`const [open, setOpen] = useState(${this.#pick(['true', '1', `'yes'`])});`);
    scope.push({ code: 'open', kind: 'text' }, { code: 'setOpen', kind: 'action' });
    if (this.#chance(0.6)) {
      lines.push(`const handleToggle = () => setOpen(!open);`);
      scope.push({ code: 'handleToggle', kind: 'action' });
    }
    if (this.#chance(0.6)) {
      lines.push(`const total = ${this.#of(scope, 'list')}.reduce((sum, each) => sum + each.kilos, 0);`);
      scope.push({ code: 'total', kind: 'number' });
    }
    if (this.#chance(0.5)) {
      lines.push(`const twice = useMemo(() => ${this.#of(scope, 'number')} * 2, [${this.#of(scope, 'number')}]);`);
      scope.push({ code: 'twice', kind: 'number' });
    }
    if (this.#chance(0.4)) {
      lines.push(`function describe(text) {\n    return text + '!';\n  }`);
      lines.push(`const shout = describe(${this.#of(scope, 'text')});`);
      scope.push({ code: 'shout', kind: 'text' });
    }
    if (this.#chance(0.2)) lines.push(`if (!${this.#of(scope, 'list')}) return null;`);
    const markup = this.#element(scope, 0, '    ');
    return `export default function Demo(${parameter}) {\n  ${lines.join('\n  ')}\n\n  return (\n    ${markup}\n  );\n}`;
  }

  #class(): string {
    const scope: Name[] = [
      { code: 'this.props.hives', kind: 'list' },
      { code: 'this.props.title', kind: 'text' },
      { code: 'this.props.count', kind: 'number' },
      { code: 'this.state.open', kind: 'text' },
      { code: 'this.props.keeper', kind: 'record' },
      { code: 'this.handleToggle', kind: 'action' },
    ];
    const lines: string[] = [];
    if (this.#chance(0.5)) {
      lines.push(`const { hives, title } = this.props;`);
      scope.push({ code: 'hives', kind: 'list' }, { code: 'title', kind: 'text' });
    }
    const markup = this.#element(scope, 0, '      ');
    return `export default class Demo extends React.Component {
  state = { open: 'yes' };

  handleToggle = () => this.setState({ open: !this.state.open });

  label(kilos) {
    return weight(kilos) + this.state.open;
  }

  render() {
    ${[...lines, ''].join('\n    ')}return (
      ${markup}
    );
  }
}`;
  }

  #of(scope: readonly Name[], kind: Name['kind']): string {
    const fitting = scope.filter((n) => n.kind === kind);
    if (fitting.length > 0) return this.#pick(fitting).code;
    return { text: `'plain'`, number: '4', list: '[]', record: '{ name: "n", kilos: 1 }', action: 'undefined' }[kind];
  }

  /** An expression that can be shown. */
  #shown(scope: readonly Name[]): string {
    const choice = this.random();
    if (choice < 0.3) return this.#of(scope, 'text');
    if (choice < 0.5) return this.#of(scope, 'number');
    if (choice < 0.65) return `weight(${this.#of(scope, 'number')})`;
    if (choice < 0.75) return `${this.#of(scope, 'record')}.name`;
    if (choice < 0.82 && this.#isClass) return `this.label(${this.#of(scope, 'number')})`;
    if (choice < 0.92) return `\`\${${this.#of(scope, 'text')}}-\${${this.#of(scope, 'number')}}\``;
    return `${this.#of(scope, 'list')}.length`;
  }

  #element(scope: readonly Name[], depth: number, indent: string, key?: string): string {
    const tag = this.#pick(['div', 'section', 'p', 'ul', 'span']);
    const attributes = key === undefined ? [] : [`key={${key}}`];
    if (this.#chance(0.4)) attributes.push(`className="${this.#pick(['hive-card', 'row odd', 'note'])}"`);
    if (this.#chance(0.3)) attributes.push(`title={${this.#of(scope, 'text')} + ''}`);
    if (this.#chance(0.15)) attributes.push(`style={{ width: ${this.#of(scope, 'number')} }}`);
    if (this.#chance(0.15)) attributes.push(`{...{ 'data-n': ${this.#of(scope, 'number')} }}`);
    const inner = `${indent}  `;
    const count = depth > 3 ? 1 : 1 + Math.floor(this.random() * 3);
    const children = Array.from({ length: count }, () => this.#child(scope, depth + 1, inner));
    const open = [tag, ...attributes].join(' ');
    if (this.#chance(0.15)) return `<${open}>${children.map((c) => c.trim()).join(this.#pick(['', ' ']))}</${tag}>`;
    return `<${open}>\n${children.map((c) => inner + c).join('\n')}\n${indent}</${tag}>`;
  }

  #child(scope: readonly Name[], depth: number, indent: string): string {
    const choice = this.random();
    if (depth > 4 || choice < 0.12) return this.#pick(['Plain words', "two  spaces {' '}", '&amp; more']);
    if (choice < 0.3) return `{${this.#shown(scope)}}`;
    if (choice < 0.36) return `words {${this.#shown(scope)}} and <b>{${this.#shown(scope)}}</b> more`;
    if (choice < 0.5) return this.#button(scope);
    if (choice < 0.62)
      return `{${this.#of(scope, 'text')} && (\n${indent}  ${this.#element(scope, depth, `${indent}  `)}\n${indent})}`;
    if (choice < 0.72) {
      const other = this.#chance(0.5) ? 'null' : `<i>{${this.#shown(scope)}}</i>`;
      return `{${this.#of(scope, 'number')} > 2 ? (\n${indent}  ${this.#element(scope, depth, `${indent}  `)}\n${indent}) : (\n${indent}  ${other}\n${indent})}`;
    }
    if (choice < 0.9) return this.#loop(scope, depth, indent);
    if (choice < 0.95) {
      this.#needsBadge = true;
      return `<Badge label={${this.#of(scope, 'text')} + ''}>{${this.#shown(scope)}}</Badge>`;
    }
    return this.#element(scope, depth, indent);
  }

  #button(scope: readonly Name[]): string {
    const action = this.#of(scope, 'action');
    const text = this.#of(scope, 'text');
    const call = this.#isClass
      ? this.#pick([
          `() => this.setState({ open: ${text} })`,
          `(event) => this.handleToggle(event, ${text})`,
          'this.handleToggle',
        ])
      : this.#pick([action, `() => setOpen(${text})`, `(event) => setOpen(event.target.value + ${text})`]);
    return `<button onClick={${call}}>Go</button>`;
  }

  #loop(scope: readonly Name[], depth: number, indent: string): string {
    const list = this.#of(scope, 'list');
    const item = this.#name('hive');
    const index = this.#name('i');
    const inner: Name[] = [...scope.filter((n) => n.code !== item && n.code !== index)];
    const style = this.random();
    if (style < 0.3) {
      inner.push({ code: 'id', kind: 'text' }, { code: 'name', kind: 'text' }, { code: 'kilos', kind: 'number' });
      const visible = inner.filter(
        (n, i) => inner.findLastIndex((m) => m.code === n.code) === i && !(n.code === 'name' && scope.includes(n)),
      );
      return `{${list}.map(({ id, name, kilos }) => (\n${indent}  ${this.#element(visible, depth, `${indent}  `, 'id')}\n${indent}))}`;
    }
    inner.push(
      { code: item, kind: 'record' },
      { code: `${item}.name`, kind: 'text' },
      { code: `${item}.kilos`, kind: 'number' },
    );
    if (depth < 2) inner.push({ code: `(${item}.parts || [])`, kind: 'list' });
    if (style < 0.6) {
      inner.push({ code: index, kind: 'number' });
      return `{${list}.filter((each) => each.kilos >= 0).map((${item}, ${index}) => (\n${indent}  ${this.#element(inner, depth, `${indent}  `, `${item}.id`)}\n${indent}))}`;
    }
    const local = this.#name('total');
    const code = `const ${local} = ${item}.kilos * 3;`;
    const kept = inner.filter((n) => n.code !== local);
    kept.push({ code: local, kind: 'number' });
    return `{${list}.map((${item}) => {\n${indent}  ${code}\n${indent}  return ${this.#element(kept, depth, `${indent}  `, `${item}.id`)};\n${indent}})}`;
  }
}
