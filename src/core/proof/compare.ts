/**
 * The comparison of markup: what is shown, as lists of siblings with every new component expanded, element by element
 * and attribute by attribute.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { outletBinding } from '../markup/syntax.js';
import type { Node } from '../script/parser.js';
import { jsxAttribute } from '../script/make.js';
import { showsAnyNothing } from '../script/helper-body.js';
import { isEffect, KEEPERS } from '../script/quiet.js';
import { attributeName, bare, isFunction, spanOf } from '../script/walk.js';
import { WayComparison, type Allowed } from './by-way.js';
import { CodeComparison } from './compare-code.js';
import { expandUse, type NewComponent } from './expansion.js';
import type { HelperCalls } from './helper-calls.js';
import { Mismatch } from './mismatch.js';
import type { Side } from './side.js';
import type { ProofModule } from '../language/proof-module.js';
import { Surroundings } from './surroundings.js';
import {
  attributeNamed,
  attributeValue,
  describe,
  hookIn,
  isFragmentTag,
  isKey,
  isShown,
  isTypeStatement,
  place,
  plainName,
} from './questions.js';
import { chosenOf, knownOf } from './known.js';
import { turnsOf } from './turns.js';
import { valueOf, type Code, type Env, type Value } from './values.js';

/** A sibling as it counts after expansion. */
type Item =
  | { readonly kind: 'text'; readonly text: string; readonly code: Code }
  /** `fallback`: what is shown where the outlet that the code calls is given nothing. */
  | { readonly kind: 'code'; readonly code: Code; readonly key?: Code; readonly fallback?: Code };

/** A use of a new component whose statements are taken. */
interface Expanded {
  readonly component: NewComponent;
  readonly env: Env;
  readonly keyed: boolean;
  readonly use: TSESTree.JSXElement;
  readonly host: ProofModule;
}

export class Comparison extends WayComparison {
  protected readonly surroundings = new Surroundings(this.after, this.turn);

  constructor(
    readonly allowed: Allowed | undefined,
    protected readonly helpers: HelperCalls | undefined,
    ...given: ConstructorParameters<typeof CodeComparison>
  ) {
    super(...given);
  }

  protected shown(a: Code, b: Code): void {
    const left = this.items(a, this.before, false);
    const right = this.items(b, this.after, true);
    this.itemLists(left, a, right, b);
  }

  protected itemLists(before: readonly Item[], a: Code, now: readonly Item[], b: Code): void {
    const left = textsJoined(before);
    const right = textsJoined(now);
    for (let i = 0; i < Math.max(left.length, right.length); i++) {
      const x = left[i];
      const opened = x && right[i] && this.opened(x, right[i]!);
      if (opened) right.splice(i, 1, ...opened);
      const y = right[i];
      if (!x) this.differ(a, y!.code, 'markup-added', `${describe(y!.code.node)} was added`);
      if (!y) this.differ(x.code, b, 'markup-gone', `${describe(x.code.node)} is gone`);
      this.item(x, y);
    }
  }

  /** A component that was there before stands for what it shows where something else stood before. */
  protected opened(x: Item, y: Item): Item[] | undefined {
    if (x.kind !== 'code' || y.kind !== 'code') return undefined;
    const [a, b] = [bare(x.code.node), bare(y.code.node)];
    if (a.type !== 'JSXElement' || b.type !== 'JSXElement') return undefined;
    const [before, after] = [a.openingElement.name, b.openingElement.name];
    if (after.type !== 'JSXIdentifier' || !/^[^a-z]/.test(after.name)) return undefined;
    if (before.type === 'JSXIdentifier' && before.name === after.name) return undefined;
    const meaning = this.after.meaningOf(y.code.module, after);
    const was = before.type === 'JSXIdentifier' ? this.before.meaningOf(x.code.module, before) : undefined;
    const same = was?.kind === 'module' && meaning.kind === 'module' && was.module.path === meaning.module.path;
    if (same && was.variable.name === meaning.variable.name) return undefined;
    const component = this.existingComponent(meaning);
    return component && this.expand(b, y.code, component, y.key);
  }

  protected item(x: Item, y: Item): void {
    if (x.kind === 'text' || y.kind === 'text') {
      const [was, is] = [x, y].map((i) => (i.kind === 'text' ? i.text : undefined));
      if (was !== is) this.differ(x.code, y.code, 'markup-text', textBecame(x, y));
      return;
    }
    const a = bare(x.code.node);
    const b = bare(y.code.node);
    if (y.key && isChoice(a) && isChoice(b)) this.keyedChoice(x.code, y.code, y.key);
    else if (y.fallback) this.outlets(x.code, y.code, y.fallback);
    else if (a.type === 'JSXElement' && b.type === 'JSXElement') this.elements(a, x.code, b, y.code, y.key);
    else if (isShown(a) || isShown(b)) {
      if (a.type === 'JSXFragment' && b.type === 'JSXFragment')
        this.itemLists(
          this.childItems(a.children, x.code, this.before, false),
          x.code,
          this.childItems(b.children, y.code, this.after, true),
          y.code,
        );
      else this.differ(x.code, y.code, 'markup-kind', `${describe(a)} became ${describe(b)}`);
    } else this.code(x.code, y.code);
  }

  /** A key on a use of what shows one element or another, or nothing, is the key of each of them. */
  protected keyedChoice(a: Code, b: Code, key: Code): void {
    const [x, y] = [bare(a.node), bare(b.node)];
    const each = (l: Node, r: Node) => {
      const [left, right] = [
        { ...a, node: bare(l) },
        { ...b, node: bare(r) },
      ];
      if (isChoice(left.node) && isChoice(right.node)) this.keyedChoice(left, right, key);
      else
        this.item({ kind: 'code', code: left }, { kind: 'code', code: right, ...(isShown(right.node) ? { key } : {}) });
    };
    this.within('a condition', () => {
      if (x.type === 'ConditionalExpression' && y.type === 'ConditionalExpression') {
        this.code({ ...a, node: x.test }, { ...b, node: y.test });
        each(x.consequent, y.consequent);
        each(x.alternate, y.alternate);
      } else if (x.type === 'LogicalExpression' && y.type === 'LogicalExpression' && x.operator === y.operator) {
        if (x.operator === '&&') this.code({ ...a, node: x.left }, { ...b, node: y.left });
        else each(x.left, y.left);
        each(x.right, y.right);
      } else this.differ(a, b, 'code-kind', `${describe(x)} became ${describe(y)}`);
    });
  }

  /** What an expression shows, as a list: fragments without a key opened, new components expanded. */
  protected items(code: Code, side: Side, expand: boolean, key?: Code): Item[] {
    const settled = expand ? this.settle({ ...code, node: bare(code.node) }) : { ...code, node: bare(code.node) };
    const node = settled.node;
    const shows = expand ? this.helpers?.called(node, settled, this.later, false) : undefined;
    if (shows) return this.items(shows, side, true, key);
    if (expand) {
      const found = valueOf(settled);
      if (found?.value.kind === 'children')
        return this.childItems(
          found.value.children,
          { node, module: found.value.module, env: found.value.env },
          side,
          true,
        );
      if (found?.value.kind === 'absent') return [];
    }
    if (expand) {
      const decided = this.decided(settled, side, key) ?? this.outlet(settled, side);
      if (decided) return decided;
    }
    // A key on what shows no single element makes everything in it anew when it changes.
    if (key && isChoice(node)) return [{ kind: 'code', code: settled, key }];
    const only = key && node.type === 'JSXFragment' ? soleExpressionIn(node) : undefined;
    if (only && isChoice(bare(only))) return [{ kind: 'code', code: { ...settled, node: bare(only) }, key: key! }];
    if (key && node.type !== 'JSXElement')
      throw new Mismatch('key-on-several', 'a key was added', undefined, place(key));
    if (node.type === 'JSXFragment') return this.childItems(node.children, settled, side, expand);
    if (node.type === 'JSXElement') {
      if (isFragmentTag(node, settled, side) && !attributeNamed(node, 'key') && !key)
        return this.childItems(node.children, settled, side, expand);
      const component = expand ? this.newComponentOf(node, settled) : undefined;
      if (component) return this.expand(node, settled, component, key);
    }
    if (node.type === 'Literal' && typeof node.value === 'string')
      return [{ kind: 'text', text: node.value, code: settled }];
    return [{ kind: 'code', code: settled, ...(key ? { key } : {}) }];
  }

  /** What an expression shows that was handed over decides: nothing, a text, one side of a condition, a list written out. */
  protected decided(code: Code, side: Side, key: Code | undefined): Item[] | undefined {
    const known = knownOf(code);
    if (known?.given) {
      if (typeof known.value === 'string' && known.value) return [{ kind: 'text', text: known.value, code }];
      if (typeof known.value !== 'number') return [];
    }
    const chosen = chosenOf(code);
    if (chosen) return this.items(chosen, side, true, key);
    const turns = turnsOf(code, this.after, this.newConstant);
    if (!turns) return undefined;
    this.expanded.add(turns.variable);
    return turns.bodies.flatMap((body) => this.items(body, side, true));
  }

  /** What was passed in, where an outlet shows it; what the outlet holds itself, where nothing was. */
  protected outlet(code: Code, side: Side): Item[] | undefined {
    const call = bare(code.node);
    if (call.type !== 'CallExpression') return undefined;
    const found = valueOf({ ...code, node: call.callee });
    if (!found) return undefined;
    const { value } = found;
    const fallback = call.arguments[1];
    if (value.kind === 'absent')
      return fallback && isFunction(fallback) ? this.items({ ...code, node: fallback.body }, side, true) : [];
    const shown = this.passedIn(value, call, code, side);
    // Content that is an outlet and nothing else has nothing to show where that is given nothing.
    const only = shown?.length === 1 && shown[0]!.kind === 'code' && !shown[0]!.fallback ? shown[0]! : undefined;
    if (!only || !fallback || !isFunction(fallback) || outletCall(only.code)?.arguments.length !== 1) return shown;
    return [{ ...only, fallback: { ...code, node: fallback.body } }];
  }

  /** What is handed to an outlet as its content, or as a function of what the outlet hands out. */
  protected passedIn(value: Value, call: TSESTree.CallExpression, code: Code, side: Side): Item[] | undefined {
    if (value.kind === 'children')
      return this.childItems(value.children, { node: call, module: value.module, env: value.env }, side, true);
    const body = this.enter(call, code);
    return body && isShown(bare(body.node)) ? this.items(body, side, true) : undefined;
  }

  /** Two outlets, the second one with a fallback that stands in another component. */
  protected outlets(a: Code, b: Code, fallback: Code): void {
    const [left, right] = [outletCall(a), outletCall(b)!];
    const own = (left?.arguments as readonly Node[] | undefined)?.find(isFunction);
    if (!own) this.differ(a, b, 'outlet-fallback', 'the outlet has a fallback now');
    this.code({ ...a, node: left!.callee }, { ...b, node: right.callee });
    this.code({ ...a, node: left!.arguments[0]! }, { ...b, node: right.arguments[0]! });
    this.shown({ ...a, node: own.body }, fallback);
  }

  protected childItems(children: readonly TSESTree.JSXChild[], code: Code, side: Side, expand: boolean): Item[] {
    return children.flatMap((child): Item[] => {
      const at = { ...code, node: child as Node };
      if (child.type === 'JSXText') {
        const text = code.module.renderedText(code.module.text.slice(child.range[0], child.range[1]));
        return text ? [{ kind: 'text', text, code: at }] : [];
      }
      if (child.type === 'JSXExpressionContainer') {
        const { expression } = child;
        if (expression.type === 'JSXEmptyExpression') return [];
        const shows = expand
          ? this.helpers?.called(bare(expression), at, this.later, showsAnyNothing(child, code.module.scopes))
          : undefined;
        return this.items(shows ?? { ...at, node: expression }, side, expand);
      }
      return this.items(at, side, expand);
    });
  }

  protected newComponentOf(node: TSESTree.JSXElement, code: Code): NewComponent | undefined {
    const name = node.openingElement.name;
    if (name.type !== 'JSXIdentifier' || !/^[^a-z]/.test(name.name)) return undefined;
    return this.newComponent(this.after.meaningOf(code.module, name));
  }

  protected expand(use: TSESTree.JSXElement, code: Code, component: NewComponent, outerKey: Code | undefined): Item[] {
    const expansion = expandUse(use, code, component, outerKey, this.later, this.allowed !== undefined);
    const { shown, statements, env } = expansion;
    const key = code.env?.turn ? undefined : expansion.key;
    if (hasDefaultsOutside(component))
      throw new Mismatch(
        'component-props',
        `<${plainName(component.variable.name)}> is given defaults from outside`,
        undefined,
        {
          module: component.module,
          node: component.fn,
        },
      );
    for (const statement of statements)
      this.takeStatement(statement, { component, env, keyed: key !== undefined, use, host: code.module });
    this.surroundings.check({
      use,
      module: code.module,
      shown,
      component,
      keyed: expansion.key !== undefined,
    });
    this.expanded.add(component.variable);
    return this.items({ node: shown, module: component.module, env }, this.after, true, key);
  }

  /** A declaration inside a new component: noted, to be matched with one that the host lost; hooks need the same lifetime. */
  protected takeStatement(
    statement: Node,
    { component: { module, variable, fn }, env, keyed, use, host }: Expanded,
  ): void {
    if (isTypeStatement(statement)) return;
    const isResident = this.allowed?.resident(statement, module);
    this.ownEnvs.set(statement, env);
    const isDeclaring = statement.type === 'VariableDeclaration' || statement.type === 'FunctionDeclaration';
    const own = this.allowed ? hookIn(statement, module.keeps) : undefined;
    const isOwnHook = isDeclaring && own !== undefined && !KEEPERS.has(own) && !module.keeps?.has(own);
    if (isResident || (this.allowed && (isEffect(statement) || isOwnHook))) {
      this.ownStatements.set(statement, module);
      if (!isDeclaring) this.deeds.push({ node: statement, module, env });
      if (isResident) return;
      this.livesAsLong(own!, statement, module, keyed);
      if (!isOwnHook) return;
      // What it keeps renders another component than before, and its effects run in another one.
      this.surroundings.rendersLess(statement, module, use, host);
      this.elsewhere.push({ node: statement, module, env });
      return;
    }
    if (!isDeclaring) {
      throw new Mismatch('component-body', `<${variable.name}> does more than declare and show`, undefined, {
        module,
        node: statement,
      });
    }
    this.ownStatements.set(statement, module);
    if (statement.type === 'VariableDeclaration')
      this.surroundings.declaration(statement, { module, variable, fn }, use, host);
    const hook = hookIn(statement, module.keeps);
    if (!hook) return;
    if (!KEEPERS.has(hook) && !module.keeps?.has(hook))
      throw new Mismatch('hook-moved', `${hook} would run at another time`, undefined, { module, node: statement });
    this.livesAsLong(hook, statement, module, keyed);
    this.surroundings.state(hook, statement, module, use, host);
  }

  /** Throws where what a component keeps goes before the component goes in which it was kept. */
  protected livesAsLong(hook: string, statement: Node, module: ProofModule, keyed: boolean): void {
    const around = [...this.around];
    if (keyed) around.push('a key');
    if (around.length === 0) return;
    throw new Mismatch(
      'hook-lifetime',
      `${hook} now lives under ${around[around.length - 1]!}, so its value would be lost`,
      undefined,
      { module, node: statement },
    );
  }

  protected elements(x: TSESTree.JSXElement, a: Code, y: TSESTree.JSXElement, b: Code, key: Code | undefined): void {
    const leftName = x.openingElement.name;
    const rightName = y.openingElement.name;
    this.tags(leftName, a, rightName, b);
    const left = inOrder(x.openingElement.attributes.filter((t) => !isKey(t)));
    const native = rightName.type === 'JSXIdentifier' && /^[a-z]/.test(rightName.name);
    const opened = y.openingElement.attributes.flatMap((t) => this.attributesOf(t, b));
    const right = inOrder(opened.map((t) => t.attribute).filter((t) => !isKey(t) && !(native && isNotGiven(t, b))));
    const codeAt = new Map(opened.map((t) => [t.attribute, t.code]));
    this.keys(x, a, y, b, key);
    if (a.module.pragma !== b.module.pragma)
      this.differ(a, b, 'tag-pragma', 'the two files say different things of what an element is');
    const isTransition =
      /(?:^|:)Transition(?:Group)?$/.test(b.module.text.slice(...rightName.range)) ||
      (rightName.type === 'JSXIdentifier' && /^Transition(?:Group)?$/.test(rightName.name));
    for (let i = 0; i < Math.max(left.length, right.length); i++) {
      const l = left[i];
      const r = right[i];
      if (isTransition && l && r) this.countedHandler(l, a, r, b);
      if (!l)
        this.differ(
          { ...a, node: x.openingElement },
          { ...codeAt.get(r!)!, node: r! },
          'attribute-added',
          `${describe(r!)} was added`,
        );
      if (!r)
        this.differ({ ...a, node: l }, { ...b, node: y.openingElement }, 'attribute-gone', `${describe(l)} is gone`);
      this.attributes(l, a, r, codeAt.get(r)!);
    }
    const isComponent = leftName.type !== 'JSXIdentifier' || /^[^a-z]/.test(leftName.name);
    const compare = () =>
      this.itemLists(
        this.childItems(x.children, a, this.before, false),
        a,
        this.childItems(y.children, b, this.after, true),
        b,
      );
    const around = attributeNamed(x, 'key')
      ? 'a key'
      : isComponent
        ? `<${a.module.text.slice(leftName.range[0], leftName.range[1])}>`
        : undefined;
    this.within(around, compare);
  }

  /** Who counts the parameters of a handler tells one that takes them all from one that names them. */
  protected countedHandler(l: Attributes[number], a: Code, r: Attributes[number], b: Code): void {
    if (l.type !== 'JSXAttribute' || r.type !== 'JSXAttribute' || !/^on(?:Enter|Leave|Appear)$/i.test(attributeName(r)))
      return;
    const [x, y] = [attributeValue(l), attributeValue(r)];
    const [left, right] = [x && bare(x), y && bare(y)];
    const rest = (node: Node | undefined) =>
      node && isFunction(node) && node.params.some((p) => p.type === 'RestElement');
    if (right && rest(right) && !rest(left))
      this.differ(
        { ...a, node: l },
        { ...b, node: r },
        'function-parameters',
        'the handler takes its arguments in another way',
      );
  }

  protected keys(x: TSESTree.JSXElement, a: Code, y: TSESTree.JSXElement, b: Code, outer: Code | undefined): void {
    const left = attributeNamed(x, 'key');
    const own = attributeNamed(y, 'key');
    if (own && outer) this.differ(a, b, 'key-twice', 'the element has two keys');
    const inTurn = own && !left && b.env?.turn;
    const right = outer ?? (own && !inTurn ? { ...b, node: attributeValue(own) ?? own } : undefined);
    if (!left && !right) return;
    if (!left || !right)
      this.differ(a, b, left ? 'key-gone' : 'key-added', left ? 'the key is gone' : 'a key was added');
    this.code({ ...a, node: attributeValue(left) ?? left }, right);
  }

  protected tags(x: TSESTree.JSXTagNameExpression, a: Code, y: TSESTree.JSXTagNameExpression, b: Code): void {
    const left = { ...a, node: x as Node };
    const right = { ...b, node: y as Node };
    if (x.type === 'JSXIdentifier' && y.type === 'JSXIdentifier') {
      const native = /^[a-z]/.test(x.name);
      if (native !== /^[a-z]/.test(y.name) || (native && x.name !== y.name))
        this.differ(left, right, 'tag-native', `<${x.name}> became <${y.name}>`);
      if (!native) this.names(left, this.settle(right));
    } else if (x.type === 'JSXMemberExpression' && y.type === 'JSXMemberExpression') {
      if (x.property.name !== y.property.name) this.differ(left, right, 'tag-component', 'another component is shown');
      const object = this.settle({ ...b, node: y.object });
      if (object.node.type === 'ThisExpression' || x.object.type === 'JSXMemberExpression')
        this.tags(x.object, a, y.object, b);
      else this.names({ ...a, node: x.object }, object);
    } else if (a.module.text.slice(...x.range) !== b.module.text.slice(...y.range))
      this.differ(left, right, 'tag-component', 'another component is shown');
  }

  /** An attribute; what a spread gives, where that is a record that was handed over, or nothing. */
  protected attributesOf(attribute: Attributes[number], b: Code): { attribute: Attributes[number]; code: Code }[] {
    const plain = [{ attribute, code: b }];
    if (attribute.type !== 'JSXSpreadAttribute') return plain;
    const given = { ...b, node: bare(attribute.argument) };
    if (valueOf(given)?.value.kind === 'absent') return [];
    const record = valueOf(given) ? this.settle(given) : given;
    const { node } = record;
    if (record === given || node.type !== 'ObjectExpression') return plain;
    const entries = node.properties.map((property) => {
      if (property.type !== 'Property' || property.computed || property.kind !== 'init') return undefined;
      const { key } = property;
      const name = key.type === 'Identifier' ? key.name : key.type === 'Literal' ? String(key.value) : '';
      return name === 'key' ? undefined : jsxAttribute(name, property.value, spanOf(property));
    });
    if (entries.includes(undefined)) return plain;
    return (entries as TSESTree.JSXAttribute[]).map((made) => ({ attribute: made, code: record }));
  }

  protected attributes(
    x: TSESTree.JSXAttribute | TSESTree.JSXSpreadAttribute,
    a: Code,
    y: TSESTree.JSXAttribute | TSESTree.JSXSpreadAttribute,
    b: Code,
  ): void {
    const left = { ...a, node: x as Node };
    const right = { ...b, node: y as Node };
    if (x.type === 'JSXSpreadAttribute' && y.type === 'JSXSpreadAttribute')
      return this.code({ ...a, node: x.argument }, { ...b, node: y.argument });
    if (x.type !== 'JSXAttribute' || y.type !== 'JSXAttribute')
      this.differ(left, right, 'attribute-kind', `${describe(x)} became ${describe(y)}`);
    const [p, q] = [x, y];
    const names = [p, q].map((t) =>
      t.name.type === 'JSXIdentifier' ? t.name.name : `${t.name.namespace.name}:${t.name.name.name}`,
    );
    if (names[0] !== names[1])
      this.differ(left, right, 'attribute-name', `the attribute "${names[0]!}" became "${names[1]!}"`);
    const [v, w] = [attributeValue(p), attributeValue(q)];
    if (!v && !w) return;
    // An attribute without a value is true.
    if (!v && w) {
      const known = knownOf({ ...b, node: w });
      if ((known?.given && known.value === true) || (w.type === 'Literal' && w.value === true)) return;
    }
    if (!v || !w) this.differ(left, right, 'attribute-value', `the attribute "${names[0]!}" has another value`);
    this.code({ ...a, node: v }, { ...b, node: w });
  }
}

/** `Row.defaultProps = …` puts values in the place of what is not passed. */
function hasDefaultsOutside({ module, variable }: NewComponent): boolean {
  return module.script.program.body.some((s) => {
    const left = s.type === 'ExpressionStatement' && s.expression.type === 'AssignmentExpression' && s.expression.left;
    return (
      left &&
      left.type === 'MemberExpression' &&
      left.object.type === 'Identifier' &&
      left.object.name === variable.name &&
      left.property.type === 'Identifier' &&
      left.property.name === 'defaultProps'
    );
  });
}

/** The one thing that a fragment holds, where that is an expression. */
function soleExpressionIn(fragment: TSESTree.JSXFragment): Node | undefined {
  const content = fragment.children.filter((c) => c.type !== 'JSXText' || c.value.trim() !== '');
  const only = content.length === 1 ? content[0]! : undefined;
  return only?.type === 'JSXExpressionContainer' && only.expression.type !== 'JSXEmptyExpression'
    ? only.expression
    : undefined;
}

/** One element or another, or nothing. */
function isChoice(node: Node): boolean {
  return node.type === 'ConditionalExpression' || node.type === 'LogicalExpression';
}

function textBecame(x: Item, y: Item): string {
  const words = (item: Item) => (item.kind === 'text' ? JSON.stringify(item.text) : describe(bare(item.code.node)));
  return `the text ${words(x)} became ${words(y)}`;
}

/** The call that an outlet is. */
function outletCall({ node }: Code): TSESTree.CallExpression | undefined {
  const call = bare(node);
  const isOutlet =
    call.type === 'CallExpression' &&
    call.callee.type === 'Identifier' &&
    call.callee.name.startsWith(outletBinding(''));
  return isOutlet ? call : undefined;
}

type Attributes = readonly (TSESTree.JSXAttribute | TSESTree.JSXSpreadAttribute)[];

/** The order of attributes means nothing, but for what stands before and after a spread. */
function inOrder(attributes: Attributes): Attributes {
  const result: (typeof attributes)[number][] = [];
  let run: TSESTree.JSXAttribute[] = [];
  const close = () => {
    // The later of two attributes with one name wins, so their order stays.
    result.push(...run.sort((x, y) => attributeName(x).localeCompare(attributeName(y))));
    run = [];
  };
  for (const attribute of attributes) {
    if (attribute.type === 'JSXAttribute') run.push(attribute);
    else {
      close();
      result.push(attribute);
    }
  }
  close();
  return result;
}

/** An attribute of a native element whose value was left out is as if it did not stand there. */
function isNotGiven(attribute: Attributes[number], code: Code): boolean {
  if (attribute.type !== 'JSXAttribute') return false;
  const value = attributeValue(attribute);
  const known = value && knownOf({ ...code, node: value });
  return known?.given === true && known.value === undefined;
}

/** Texts beside each other are read as one, whatever code they came from. */
function textsJoined(items: readonly Item[]): Item[] {
  const joined: Item[] = [];
  for (const item of items) {
    const last = joined.at(-1);
    if (item.kind === 'text' && last?.kind === 'text')
      joined[joined.length - 1] = { ...last, text: last.text + item.text };
    else joined.push(item);
  }
  return joined;
}
