/** From the model of a file to the neutral form. Comments, types and the order of attributes are left behind. */
import { visitorKeys } from '@typescript-eslint/visitor-keys';
import type { TSESTree } from '@typescript-eslint/types';
import type { Attribute, Code, ComponentModel, Markup, ModuleModel } from '../markup/model.js';
import type { Node } from '../script/parser.js';
import { bare, isFunction } from '../script/walk.js';
import { FLAGS, type Forms, type Role } from './forms.js';
import { EXPRESSIONS, LEFT_OUT, MARKS, TYPE_KEYS } from './syntax.js';

/** A component with the node of the largest piece of markup that it shows. */
export interface ComponentForm {
  readonly component: ComponentModel;
  readonly path: string;
  readonly root: number;
}

/**
 * Adds a file to the forms. What stands right below a comment that matches `leave` is marked as left alone. Throws
 * `RangeError` where the source is nested deeper than the stack.
 */
export function lowerModule(
  forms: Forms,
  path: string,
  text: string,
  model: ModuleModel,
  leave: RegExp,
): ComponentForm[] {
  return new Lowering(forms, text, model, leave).run(path);
}

class Lowering {
  /** Markup by the span that it takes up in a script. */
  readonly #embedded = new Map<number, Markup>();
  readonly #roots: Markup[];
  /** Where that begins which a comment asks to leave alone. */
  readonly #leave: ReadonlySet<number>;
  readonly #shown = new Map<Markup, number>();

  constructor(
    readonly forms: Forms,
    text: string,
    readonly model: ModuleModel,
    readonly leave: RegExp,
  ) {
    this.#roots = [...model.components.flatMap((c) => c.markup), ...model.mounts];
    this.#embed(this.#roots);
    const comments = model.scripts.flatMap((script) => script.comments).filter((c) => leave.test(c.value));
    this.#leave = new Set(comments.map((c) => c.end + /^\s*/.exec(text.slice(c.end))![0].length));
  }

  run(path: string): ComponentForm[] {
    const { forms } = this;
    forms.beginFile(path);
    forms.open(this.#label('module'), 0, 0);
    for (const { program } of this.model.scripts) for (const statement of program.body) this.#code(statement);
    const inScript = (node: Markup) =>
      this.model.scripts.some(({ program }) => program.range[0] <= node.start && program.range[1] >= node.end);
    for (const root of this.#roots) if (!inScript(root)) this.#markup(root);
    forms.close();
    return this.model.components.flatMap((component) => {
      const roots = component.markup.flatMap((m) => this.#shown.get(m) ?? []);
      if (roots.length === 0) return [];
      const root = roots.reduce((x, y) => (forms.size[y]! > forms.size[x]! ? y : x));
      return [{ component, path, root }];
    });
  }

  /** Markup that will be met inside of code. */
  #embed(nodes: readonly Markup[]): void {
    for (const node of nodes) this.#embedded.set(keyOf(node.start, node.end), node);
  }

  #label(text: string, role: Role = 'other'): number {
    return this.forms.intern(text, role);
  }

  // Markup

  #markup(node: Markup): void {
    const { forms } = this;
    const { start, end } = node;
    const open = (label: string) => forms.open(this.#label(label, 'markup'), start, end);
    this.#shown.set(node, forms.length);
    if (this.#leave.has(start)) forms.left.push(forms.length);
    switch (node.kind) {
      case 'element':
        open(`<${node.name}>`);
        forms.flag(FLAGS.markup);
        for (const attribute of inOrder(node.attributes)) this.#attribute(attribute);
        this.#siblings(node.children);
        break;
      case 'text':
        return this.#text(node.text, start, end);
      case 'expression': {
        const inner = bare(node.code.syntax);
        if (inner.type === 'Literal' && typeof inner.value === 'string') return this.#text(inner.value, start, end);
        open('shown');
        this.#embed(node.parts);
        this.#code(node.code.syntax, node.code.start === start && node.code.end === end);
        break;
      }
      case 'branch':
        open('branch');
        for (const arm of node.arms) {
          forms.open(this.#label('arm'), arm.start, arm.end);
          if (arm.condition) this.#within('condition', arm.condition);
          this.#siblings(arm.body);
          forms.close();
        }
        break;
      case 'loop':
        open('loop');
        this.#within('source', node.source);
        if (node.turn) {
          this.#embed(node.body);
          this.#within('turn', node.turn);
        } else {
          for (const name of node.binds ?? []) this.#pattern(name);
          this.#siblings(node.body);
        }
        break;
      case 'fragment':
        open('fragment');
        this.#siblings(node.children);
        break;
      case 'outlet':
        if (!node.fallback?.length && !node.attributes?.length)
          return forms.leaf(this.#label('outlet', 'markup'), start, end, forms.intern(node.name));
        open(`outlet ${node.name}`);
        for (const attribute of inOrder(node.attributes ?? [])) this.#attribute(attribute);
        this.#siblings(node.fallback ?? []);
        break;
      case 'opaque':
        return forms.leaf(this.#label('opaque', 'markup'), start, end, forms.intern(node.reason));
      case 'comment':
        return;
    }
    forms.close();
  }

  #siblings(nodes: readonly Markup[]): void {
    nodes.forEach((node, i) => {
      const before = nodes[i - 1];
      if (before?.kind === 'comment' && this.leave.test(before.text)) this.forms.left.push(this.forms.length);
      this.#markup(node);
    });
  }

  #text(text: string, start: number, end: number): void {
    this.forms.leaf(this.#label('text', 'markup'), start, end, this.forms.intern(text));
  }

  #within(label: string, code: Code): void {
    this.forms.open(this.#label(label), code.start, code.end);
    this.#code(code.syntax);
    this.forms.close();
  }

  #attribute(attribute: Attribute): void {
    const { forms } = this;
    const { start, end } = attribute;
    const label = attribute.kind === 'spread' ? '{...}' : `@${attribute.name}`;
    forms.open(this.#label(label, 'attribute'), start, end);
    if (attribute.kind === 'key') forms.flag(FLAGS.key);
    if (attribute.kind === 'slot') {
      for (const code of [attribute.code, attribute.each?.source, attribute.named]) if (code) this.#code(code.syntax);
      for (const name of attribute.each?.binds ?? []) this.#pattern(name);
      for (const name of attribute.binds ?? []) this.#pattern(name);
      this.#siblings(attribute.parts);
    } else if (attribute.code) {
      this.#embed(attribute.parts);
      this.#code(attribute.code.syntax);
    } else if (attribute.quoted) {
      const { quoted, asset } = attribute;
      // What the compiler is to find cannot be handed over: only the element around it can, as content.
      const label = asset ? this.#label('asset') : this.#label('string', 'expression');
      forms.leaf(label, quoted.start, quoted.end, forms.intern(attribute.text ?? ''));
    } else this.#leaf('boolean', end, end, 'true', 'expression');
    forms.close();
  }

  // Code

  #leaf(label: string, start: number, end: number, value: string, role: Role = 'other'): void {
    this.forms.leaf(this.#label(label, role), start, end, this.forms.intern(value));
  }

  /** `plain`: the node itself is known to be code, though markup takes up the same span. */
  #code(given: Node, plain = false): void {
    const { forms } = this;
    const [start, end] = given.range;
    if (!plain) {
      const markup = this.#embedded.get(keyOf(start, end));
      if (markup) return this.#markup(markup);
    }
    if (this.#leave.has(start)) forms.left.push(forms.length);
    const node = bare(given);
    if (node !== given) return this.#code(node);
    if (LEFT_OUT.has(node.type) || ('declare' in node && node.declare)) return;
    switch (node.type) {
      case 'ExportNamedDeclaration':
        if (node.declaration) this.#code(node.declaration);
        return;
      case 'ExportDefaultDeclaration':
        return this.#code(node.declaration);
      case 'ChainExpression':
        return this.#code(node.expression);
      case 'Identifier':
        if (node.name === 'arguments') forms.flag(FLAGS.host);
        return this.#leaf('name', start, end, node.name, 'expression');
      case 'Literal':
        return this.#literal(node);
      case 'TemplateElement':
        return this.#leaf('quasi', start, end, node.value.cooked ?? node.value.raw);
      case 'ThisExpression':
      case 'Super':
      case 'MetaProperty':
        forms.flag(FLAGS.host);
        return forms.leaf(this.#label(node.type), start, end);
      case 'JSXElement':
      case 'JSXFragment':
        // Markup that belongs to no component: kept whole.
        forms.flag(FLAGS.markup);
        return forms.leaf(this.#label('opaque', 'markup'), start, end, forms.intern('markup outside of a component'));
    }
    forms.open(this.#label(this.#labelOf(node), EXPRESSIONS.has(node.type) ? 'expression' : 'other'), start, end);
    this.#parts(node);
    forms.close();
  }

  #labelOf(node: Node): string {
    let label: string = node.type;
    const record = node as unknown as Record<string, string | boolean | undefined>;
    for (const mark of MARKS[node.type] ?? []) if (record[mark]) label += ` ${String(record[mark])}`;
    return label;
  }

  #literal(node: TSESTree.Literal): void {
    const [start, end] = node.range;
    const kind = 'regex' in node ? 'regex' : node.value === null ? 'null' : typeof node.value;
    const value = kind === 'regex' ? node.raw : String(node.value);
    this.#leaf(kind, start, end, value, 'expression');
  }

  #parts(node: Node): void {
    const { forms } = this;
    switch (node.type) {
      case 'CallExpression': {
        const callee = bare(node.callee);
        if (callee.type === 'Identifier' && /^use[A-Z]/.test(callee.name)) {
          // Which hook is called is part of the shape.
          forms.flag(FLAGS.hook);
          this.#leaf(`hook ${callee.name}`, ...callee.range, callee.name);
        } else if (callee.type === 'MemberExpression') this.#member(callee, true);
        else this.#code(node.callee);
        for (const argument of node.arguments) this.#code(argument);
        return;
      }
      case 'TaggedTemplateExpression':
        // What a tag is given is no value that could be handed over.
        this.#code(node.tag);
        forms.open(this.#label('tagged'), ...node.quasi.range);
        this.#parts(node.quasi);
        return forms.close();
      case 'MemberExpression':
        return this.#memberParts(node, false);
      case 'Property':
        if (node.computed) this.#code(node.key);
        else this.#key(node.key);
        return this.#code(node.value);
      case 'MethodDefinition':
      case 'PropertyDefinition':
        if (node.computed) this.#code(node.key);
        else this.#key(node.key);
        if (node.value) this.#code(node.value);
        return;
      case 'VariableDeclarator':
        this.#pattern(node.id);
        if (node.init) this.#code(node.init);
        return;
      case 'CatchClause':
        if (node.param) this.#pattern(node.param);
        return this.#code(node.body);
      case 'AssignmentExpression':
        if (node.left.type === 'Identifier') this.#leaf('written', ...node.left.range, node.left.name);
        else this.#code(node.left);
        return this.#code(node.right);
      case 'UpdateExpression':
        if (node.argument.type === 'Identifier')
          return this.#leaf('written', ...node.argument.range, node.argument.name);
        return this.#code(node.argument);
      case 'AwaitExpression':
        forms.flag(FLAGS.await);
        break;
      case 'YieldExpression':
        forms.flag(FLAGS.host);
        break;
      case 'LabeledStatement':
      case 'BreakStatement':
      case 'ContinueStatement':
        if (node.label) this.#leaf('label', ...node.label.range, node.label.name);
        if (node.type === 'LabeledStatement') this.#code(node.body);
        return;
    }
    if (isFunction(node)) {
      if (node.type === 'FunctionDeclaration' && node.id) this.#pattern(node.id);
      for (const parameter of node.params) this.#pattern(parameter);
      return this.#code(node.body);
    }
    const record = node as unknown as Record<string, Node | (Node | null)[] | null | undefined>;
    for (const key of visitorKeys[node.type] ?? []) {
      if (TYPE_KEYS.has(key)) continue;
      const value = record[key];
      if (Array.isArray(value)) for (const item of value) this.#maybe(item);
      else this.#maybe(value);
    }
  }

  /** A hole in a list, or a part that is left out, is a part of the shape. */
  #maybe(node: Node | null | undefined): void {
    if (node) this.#code(node);
    else this.forms.leaf(this.#label('nothing'), 0, 0);
  }

  #member(node: TSESTree.MemberExpression, called: boolean): void {
    this.forms.open(this.#label(this.#labelOf(node), 'expression'), ...node.range);
    this.#memberParts(node, called);
    this.forms.close();
  }

  /** Which method is called is part of the shape; which member is read is not. */
  #memberParts(node: TSESTree.MemberExpression, called: boolean): void {
    this.#code(node.object);
    if (node.computed) return this.#code(node.property);
    const { property } = node;
    const name = 'name' in property && typeof property.name === 'string' ? property.name : '';
    this.#leaf(called ? `method ${name}` : 'member', ...property.range, name);
  }

  #key(node: Node): void {
    const name = node.type === 'Literal' ? String(node.value) : node.type === 'Identifier' ? node.name : '';
    this.forms.leaf(this.#label(`key ${name}`), ...node.range);
  }

  /** What binds names: parameters and declarations. Defaults are code like any other. */
  #pattern(node: Node): void {
    const { forms } = this;
    const [start, end] = node.range;
    switch (node.type) {
      case 'Identifier':
        return this.#leaf('binding', start, start + node.name.length, node.name);
      case 'AssignmentPattern':
        forms.open(this.#label('default'), start, end);
        this.#pattern(node.left);
        this.#code(node.right);
        break;
      case 'RestElement':
        forms.open(this.#label('rest'), start, end);
        this.#pattern(node.argument);
        break;
      case 'ArrayPattern':
        forms.open(this.#label('list pattern'), start, end);
        for (const element of node.elements) {
          if (element) this.#pattern(element);
          else forms.leaf(this.#label('nothing'), 0, 0);
        }
        break;
      case 'ObjectPattern':
        forms.open(this.#label('record pattern'), start, end);
        for (const property of node.properties) {
          if (property.type === 'RestElement') {
            this.#pattern(property);
            continue;
          }
          if (property.computed) this.#code(property.key);
          else this.#key(property.key);
          this.#pattern(property.value);
        }
        break;
      case 'TSParameterProperty':
        return this.#pattern(node.parameter);
      default:
        return this.#code(node);
    }
    forms.close();
  }
}

/** Spans of one file as one number; files are far smaller than 2^26 units. */
function keyOf(start: number, end: number): number {
  return start * 67108864 + (end - start);
}

/** By name where order means nothing; what stands before a spread stays before it. */
function inOrder(attributes: readonly Attribute[]): readonly Attribute[] {
  if (attributes.length < 2) return attributes;
  const result: Attribute[] = [];
  let run: Attribute[] = [];
  const close = () => {
    result.push(...run.sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : a.start - b.start)));
    run = [];
  };
  for (const attribute of attributes) {
    if (attribute.kind !== 'spread') run.push(attribute);
    else {
      close();
      result.push(attribute);
    }
  }
  close();
  return result;
}
