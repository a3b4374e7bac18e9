/** Components that take too much: flags that switch parts on, what is only handed on, what every use passes alike. */
import type { Attribute, ComponentModel } from '../markup/model.js';
import { isStyleProp } from '../markup/syntax.js';
import { walkMarkup } from '../markup/walk.js';
import type { ComponentTree, TagUse, TreeNode } from './tree.js';

export interface Inputs {
  readonly component: string;
  readonly props: number;
  readonly uses: number;
  /** Props that only decide whether a part is shown. */
  readonly flags: readonly string[];
  /** Props that only go on to another component. */
  readonly handedOn: readonly string[];
  /** Props that every use passes alike, with the text of the value. */
  readonly alike: readonly { readonly name: string; readonly value: string }[];
  /** Props that no use passes. */
  readonly unused: readonly string[];
  /** Of the flags: the combinations that uses have, of all that there could be; undefined where a use passes a spread. */
  readonly combinations?: { readonly used: readonly (readonly string[])[]; readonly possible: number };
  /** What to do instead, in words. */
  readonly instead: readonly string[];
}

const MANY_FLAGS = 3;

/** A report for each component with more props than the limit, or with three flags and more. */
export function inputsOf(tree: ComponentTree, nodes: readonly TreeNode[], limit: number): readonly Inputs[] {
  return nodes.flatMap((node) => {
    const { component, id } = node;
    if (component.kind === 'page' || component.props.length === 0) return [];
    const flags = flagsOf(component, tree, id);
    if (component.props.length <= limit && flags.length < MANY_FLAGS) return [];
    const uses = tree.usesOf(id);
    const report = reportOf(tree, node, flags, uses);
    return report.instead.length > 0 ? [report] : [];
  });
}

function reportOf(
  tree: ComponentTree,
  { id, component }: TreeNode,
  flags: readonly string[],
  uses: readonly TagUse[],
): Inputs {
  const values = tree.values(id).filter((v) => v.binding.kind === 'prop');
  const handedOn = values
    .filter((v) => v.uses.length > 0 && v.uses.every((u) => u.passed?.plain))
    .map((v) => v.names[0]!);
  const isOpen = uses.some((u) => u.element.attributes.some((a) => a.kind === 'spread'));
  const passed = uses.map((use) => givenBy(use, tree));
  const known = uses.length > 1 && !isOpen;
  const { alike, unused } = known ? sayingNothing(component, passed) : { alike: [], unused: [] };
  const combinations =
    known && flags.length > 0
      ? {
          used: combinationsIn(passed, flags),
          possible: 2 ** flags.length,
        }
      : undefined;
  const base = {
    component: id,
    props: component.props.length,
    uses: uses.length,
    flags,
    handedOn,
    alike,
    unused,
    ...(combinations ? { combinations } : {}),
  };
  return { ...base, instead: insteadOf(base, component.name) };
}

/** Names of props that no use passes, or all alike, where there are several uses and no spread says more. */
export function needlessInputs(tree: ComponentTree, { id, component }: TreeNode): string[] {
  const uses = tree.usesOf(id);
  const isOpen = uses.some((u) => u.element.attributes.some((a) => a.kind === 'spread'));
  if (uses.length < 2 || isOpen) return [];
  const { alike, unused } = sayingNothing(
    component,
    uses.map((use) => givenBy(use, tree)),
  );
  return [...alike.map((a) => a.name), ...unused];
}

function sayingNothing(
  { props }: ComponentModel,
  passed: readonly ReadonlyMap<string, string>[],
): Pick<Inputs, 'alike' | 'unused'> {
  const names = props.map((p) => p.name).filter((n) => n !== 'children' && n !== 'key');
  const alike = names.flatMap((name) => {
    const given = new Set(passed.map((p) => p.get(plain(name))));
    const [only] = given;
    return given.size === 1 && only !== undefined && isConstant(only) ? [{ name, value: only }] : [];
  });
  return { alike, unused: names.filter((name) => passed.every((p) => !p.has(plain(name)))) };
}

/** Props that are read as conditions of branches and nowhere else. */
function flagsOf(component: ComponentModel, tree: ComponentTree, id: string): string[] {
  const conditions: { start: number; end: number }[] = [];
  walkMarkup(component.markup, (node) => {
    if (node.kind === 'branch') for (const { condition } of node.arms) if (condition) conditions.push(condition);
  });
  if (conditions.length === 0) return [];
  return tree
    .values(id)
    .filter(
      ({ binding, uses }) =>
        binding.kind === 'prop' &&
        uses.length > 0 &&
        uses.every((u) => conditions.some((c) => u.at >= c.start && u.at < c.end)) &&
        isSwitch(component, binding.name),
    )
    .map((v) => v.binding.name);
}

/** A prop that is no more than yes or no, as far as its type says anything. */
function isSwitch({ props }: ComponentModel, name: string): boolean {
  const type = props.find((p) => p.name === name)?.type;
  return type === undefined || /^(?:boolean|Boolean)\b|\bbool\b/.test(type);
}

/** What a use passes, by the plain form of the name: source text, `true` for an attribute alone. */
function givenBy({ path, element }: TagUse, tree: ComponentTree): Map<string, string> {
  const source = tree.project.source(path);
  const text = 'text' in source ? source.text : '';
  const given = new Map<string, string>();
  const add = (attribute: Attribute) => {
    const { kind, code } = attribute;
    // What the build makes of it is handed over as well.
    if (isStyleProp(attribute.name)) given.set(plain('className'), `{${attribute.name}}`);
    if (kind === 'spread' || kind === 'directive' || kind === 'key' || kind === 'ref') return;
    // What goes both ways has its name behind a colon.
    const name = attribute.name.slice(attribute.name.indexOf(':') + 1);
    const value = kind === 'static' ? (attribute.text === undefined ? 'true' : `'${attribute.text}'`) : '';
    given.set(plain(name), code ? text.slice(code.start, code.end) : value);
  };
  element.attributes.forEach(add);
  return given;
}

/** `can-edit` and `canEdit` are one name. */
function plain(name: string): string {
  return name.replace(/-/g, '').toLowerCase();
}

function isConstant(value: string): boolean {
  return /^(?:'[^']*'|"[^"]*"|-?[\d.]+|true|false|null)$/.test(value);
}

function combinationsIn(passed: readonly ReadonlyMap<string, string>[], flags: readonly string[]): string[][] {
  const all = passed.map((given) =>
    flags.filter((flag) => {
      const value = given.get(plain(flag));
      return value !== undefined && value !== 'false';
    }),
  );
  return [...new Map(all.map((list) => [list.join(), list])).values()].sort((a, b) => a.length - b.length);
}

function insteadOf(report: Omit<Inputs, 'instead'>, name: string): string[] {
  const { flags, alike, unused, handedOn, combinations } = report;
  const instead: string[] = [];
  if (combinations && flags.length >= MANY_FLAGS && combinations.used.length < combinations.possible) {
    const { used, possible } = combinations;
    const small = used.filter((list) => list.length > 0).length;
    instead.push(
      used.length <= 4 && small > 0
        ? `${used.length} of ${possible} combinations of its flags are used: ${name} without flags, and ${small} small ${small === 1 ? 'component' : 'components'} around it (${used.map((list) => list.join(' + ') || 'none').join('; ')})`
        : `a slot in the place of ${flags.length} flags (${flags.join(', ')}): ${used.length} of ${possible} combinations are used`,
    );
  } else if (flags.length >= MANY_FLAGS)
    instead.push(`a slot in the place of ${flags.length} flags (${flags.join(', ')})`);
  if (alike.length > 0)
    instead.push(
      `the same at every use, so it can stand inside: ${alike.map((a) => `${a.name} ${a.value}`).join(', ')}`,
    );
  if (unused.length > 0) instead.push(`passed by no use: ${unused.join(', ')}`);
  if (handedOn.length > 1)
    instead.push(`only handed on: ${handedOn.join(', ')}; content in a slot would not pass through here`);
  return instead;
}
