/**
 * Values that decide between forms in several places of one component: a role, a mode, whether somebody is logged in. Two
 * ways to cut are laid side by side: by section, with the switch inside of each, and by variant, a component for each form.
 */
import type { Arm, ComponentModel, Markup } from '../markup/model.js';
import { walkMarkup } from '../markup/walk.js';
import type { Node } from '../script/parser.js';
import { bare, isFunction, nodeWithin, walk, within } from '../script/walk.js';
import type { Span } from '../text/edits.js';
import type { Resolved } from './uses.js';

export interface Decider {
  /** As it is written: `keeper.role`, `canEdit`. */
  readonly value: string;
  /** What it is compared with, or `yes` where it is only asked whether it is there; the last form is all else. */
  readonly forms: readonly string[];
  /** The branches that it decides. */
  readonly places: readonly Span[];
  /** For each form, the spans that it does not show. */
  readonly hidden: readonly (readonly Span[])[];
}

/** One part of a condition: a path, and the literal that it is compared with. */
interface Asked {
  readonly path: string;
  readonly literal: string | undefined;
  readonly negative: boolean;
}

const LEAST_PLACES = 3;

/** Values that decide at three places or more, the one that decides most first. */
export function decidersOf(component: ComponentModel, module: Resolved): readonly Decider[] {
  const derived = derivedConditions(component, module);
  const local = new Set(component.bindings.map((b) => b.name));
  const found = new Map<string, { node: Markup; arm: Arm; asked: Asked }[]>();
  walkMarkup(component.markup, (node, above) => {
    if (node.kind !== 'branch') return;
    for (const arm of node.arms) {
      if (!arm.condition) continue;
      for (const asked of askedIn(arm.condition.syntax)) {
        const root = asked.path.split('.')[0]!;
        // What a turn of a loop brings decides about that turn alone.
        if (!local.has(root) || above.some((a) => a.kind === 'loop' && a.items.includes(root))) continue;
        const meant = asked.literal === undefined ? (derived.get(asked.path) ?? asked) : asked;
        const negative = meant === asked ? asked.negative : asked.negative !== meant.negative;
        const list = found.get(meant.path) ?? [];
        found.set(meant.path, [...list, { node, arm, asked: { ...meant, negative } }]);
      }
    }
  });
  return [...found]
    .map(([value, list]): Decider => {
      const literals = [...new Set(list.map((f) => f.asked.literal ?? 'yes'))];
      const forms = [...literals, literals.length === 1 && literals[0] === 'yes' ? 'no' : 'else'];
      const places = [...new Set(list.map((f) => f.node))].map(({ start, end }) => ({ start, end }));
      const hidden = forms.map((form) => list.flatMap((f) => hiddenIn(form, f)));
      return { value, forms, places, hidden };
    })
    .filter((d) => d.places.length >= LEAST_PLACES)
    .sort((a, b) => b.places.length - a.places.length);
}

/** What a form does not show of a branch. */
function hiddenIn(form: string, { node, arm, asked }: { node: Markup; arm: Arm; asked: Asked }): Span[] {
  if (node.kind !== 'branch') return [];
  const isIt = (form === (asked.literal ?? 'yes')) !== asked.negative;
  const others = node.arms.filter((a) => a !== arm && !a.condition);
  return (isIt ? others : [arm]).map(({ start, end }) => ({ start, end }));
}

function askedIn(condition: Node): Asked[] {
  const node = bare(condition);
  if (node.type === 'LogicalExpression' && node.operator !== '??')
    return [...askedIn(node.left), ...askedIn(node.right)];
  if (node.type === 'UnaryExpression' && node.operator === '!')
    return askedIn(node.argument).map((a) => ({ ...a, negative: !a.negative }));
  if (node.type === 'BinaryExpression' && /^[!=]==?$/.test(node.operator)) {
    const [left, right] = [bare(node.left), bare(node.right)];
    const [side, literal] = right.type === 'Literal' ? [left, right] : [right, left];
    const path = pathOf(side);
    if (path === undefined || literal.type !== 'Literal' || typeof literal.value !== 'string') return [];
    return [{ path, literal: literal.value, negative: node.operator.startsWith('!') }];
  }
  const path = pathOf(node);
  return path === undefined ? [] : [{ path, literal: undefined, negative: false }];
}

/** `keeper?.role` as `keeper.role`; `this.props.mode` and `props.mode` as `mode`, and a ref by its name. */
function pathOf(node: Node): string | undefined {
  const inner = bare(node);
  if (inner.type === 'ChainExpression') return pathOf(inner.expression);
  if (inner.type === 'Identifier') return inner.name;
  if (inner.type !== 'MemberExpression' || inner.computed || inner.property.type !== 'Identifier') return undefined;
  const object = bare(inner.object);
  const { name } = inner.property;
  if (object.type === 'ThisExpression' || (object.type === 'Identifier' && object.name === 'props')) return name;
  const before = pathOf(object);
  if (before === undefined) return undefined;
  if (name === 'value') return before;
  return before === 'props' || before === 'state' ? name : `${before}.${name}`;
}

/** `const canEdit = keeper?.role === 'inspector'`: names that stand for a question. */
function derivedConditions({ bindings }: ComponentModel, { script }: Resolved): ReadonlyMap<string, Asked> {
  const found = new Map<string, Asked>();
  const derived = bindings.filter((b) => b.kind === 'derived');
  if (derived.length === 0) return found;
  walk(script.program, (node) => {
    if (node.type !== 'VariableDeclarator' || !node.init) return undefined;
    const binding = derived.find((b) => nodeWithin(node, b) || within(b, { start: node.range[0], end: node.range[1] }));
    const asked = binding && askedIn(workedOut(node.init));
    if (asked?.length === 1 && asked[0]!.literal !== undefined) found.set(binding!.name, asked[0]!);
    return undefined;
  });
  return found;
}

/** `computed(() => x)` and `useMemo(() => x)` as `x`. */
function workedOut(init: Node): Node {
  const inner = bare(init);
  const first = inner.type === 'CallExpression' ? inner.arguments[0] : undefined;
  const fn = first && bare(first);
  return fn && isFunction(fn) && fn.body.type !== 'BlockStatement' ? fn.body : inner;
}
