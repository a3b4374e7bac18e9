/**
 * Template refs of script setup. `const chart = ref()` beside `ref="chart"` is the element. What another component shows is
 * reached through it, where that hands it out:
 *
 *     const chart = ref();                    const panel = ref();
 *     defineExpose({ chart });                const chart = computed(() => panel.value?.chart);
 *
 * In the lowered component either is the same variable; the component that hands it out takes it as it takes a prop.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Markup } from '../../markup/model.js';
import * as make from '../../script/make.js';
import type { Node, ParsedScript } from '../../script/parser.js';
import { rewrite } from '../../script/rewrite.js';
import { attributeName, bare, calleeName, spanOf, walk } from '../../script/walk.js';
import { memberName, refBinding, refsIn } from './refs.js';
import type { Sfc } from './sfc.js';

export interface SetupRef {
  /** The variable. */
  readonly name: string;
  /** What the template calls it. */
  readonly key: string;
  readonly statement: TSESTree.VariableDeclaration;
  readonly init: TSESTree.CallExpression;
  /** What it is where the element is not there yet. */
  readonly empty: 'null' | 'undefined';
}

/** A variable that is another component's element: `const chart = computed(() => panel.value?.chart)`. */
interface Through {
  readonly name: string;
  readonly holder: string;
  readonly inner: string;
  readonly statement: TSESTree.VariableDeclaration;
  readonly empty: 'null' | 'undefined';
}

interface SetupRefs {
  /** Shown by this component, and read by its script. */
  readonly own: readonly SetupRef[];
  /** Shown by this component, and handed out. */
  readonly exposed: readonly SetupRef[];
  readonly through: readonly Through[];
  /** Statements that are there for the sake of others only. */
  readonly dropped: ReadonlySet<Node>;
}

/** The variables of script setup that the template has a ref for, outside of loops. */
export function setupRefsOf(setup: ParsedScript, markup: readonly Markup[]): SetupRef[] {
  const shown = new Map<string, number>();
  for (const { name, looped } of refsIn(markup)) shown.set(name, (shown.get(name) ?? 0) + (looped ? 2 : 1));
  return setup.program.body.flatMap((statement): SetupRef[] => {
    const found = declaredRef(statement);
    return found && shown.get(found.key) === 1 ? [found] : [];
  });
}

function declaredRef(statement: Node): SetupRef | undefined {
  const declared = declarationOf(statement);
  const init = declared && bare(declared.init);
  if (init?.type !== 'CallExpression') return undefined;
  const { name } = declared!;
  const [first, ...more] = init.arguments;
  const made = calleeName(init);
  if (made === 'useTemplateRef' && first?.type === 'Literal' && typeof first.value === 'string')
    return { name, key: first.value, statement: declared!.statement, init, empty: 'null' };
  if ((made !== 'ref' && made !== 'shallowRef') || more.length > 0) return undefined;
  const isNull = first?.type === 'Literal' && first.value === null;
  if (first && !isNull && !(first.type === 'Identifier' && first.name === 'undefined')) return undefined;
  return { name, key: name, statement: declared!.statement, init, empty: isNull ? 'null' : 'undefined' };
}

function declarationOf(
  statement: Node,
): { readonly name: string; readonly init: Node; readonly statement: TSESTree.VariableDeclaration } | undefined {
  if (statement.type !== 'VariableDeclaration' || statement.kind !== 'const' || statement.declarations.length !== 1)
    return undefined;
  const declarator = statement.declarations[0];
  return declarator?.id.type === 'Identifier' && declarator.init
    ? { name: declarator.id.name, init: declarator.init, statement }
    : undefined;
}

function throughOf(statement: Node): Through | undefined {
  const declared = declarationOf(statement);
  const call = declared && bare(declared.init);
  const [getter] = call?.type === 'CallExpression' && calleeName(call) === 'computed' ? call.arguments : [];
  if (getter?.type !== 'ArrowFunctionExpression' || getter.body.type === 'BlockStatement') return undefined;
  const body = bare(getter.body);
  const isNull = body.type === 'LogicalExpression' && body.operator === '??';
  const right = isNull ? bare(body.right) : undefined;
  if (right && !(right.type === 'Literal' && right.value === null)) return undefined;
  const read = opened(isNull ? body.left : body);
  const holder = read?.type === 'MemberExpression' && read.optional ? opened(read.object) : undefined;
  const object =
    holder?.type === 'MemberExpression' && memberName(holder) === 'value' ? bare(holder.object) : undefined;
  const inner = read?.type === 'MemberExpression' ? memberName(read) : undefined;
  if (object?.type !== 'Identifier' || inner === undefined) return undefined;
  const { name } = declared!;
  return { name, holder: object.name, inner, statement: declared!.statement, empty: isNull ? 'null' : 'undefined' };
}

function opened(node: Node): Node | undefined {
  const inside = bare(node);
  return inside.type === 'ChainExpression' ? inside.expression : inside;
}

function readSetupRefs(sfc: Sfc, markup: readonly Markup[]): SetupRefs {
  const { program } = sfc.setup!.script;
  const all = setupRefsOf(sfc.setup!.script, markup);
  const mentions = new Map<string, number>();
  walk(program, (node) => {
    if (node.type === 'Identifier') mentions.set(node.name, (mentions.get(node.name) ?? 0) + 1);
  });
  const dropped = new Set<Node>();
  const handedOut = new Set<string>();
  for (const statement of program.body) {
    const call = statement.type === 'ExpressionStatement' ? bare(statement.expression) : undefined;
    const [given] = call?.type === 'CallExpression' && calleeName(call) === 'defineExpose' ? call.arguments : [];
    if (given?.type !== 'ObjectExpression') continue;
    const names = given.properties.map((p) =>
      p.type === 'Property' && p.shorthand && p.key.type === 'Identifier' ? p.key.name : '',
    );
    // Declared, and named on either side of its entry.
    const isOnlyHere = (name: string) => all.some((r) => r.name === name) && mentions.get(name) === 3;
    if (names.length === 0 || !names.every(isOnlyHere)) continue;
    dropped.add(statement);
    for (const name of names) handedOut.add(name);
  }
  const isBefore = ({ holder, statement }: Through) =>
    all.some((r) => r.name === holder && r.statement.range[0] < statement.range[0]);
  const through = program.body.flatMap((statement) => throughOf(statement) ?? []).filter(isBefore);
  const onlyFor = new Set(
    through
      .map((t) => t.holder)
      .filter((name) => mentions.get(name) === 1 + through.filter((t) => t.holder === name).length),
  );
  const exposed = all.filter((r) => handedOut.has(r.name));
  const own = all.filter((r) => !handedOut.has(r.name) && !onlyFor.has(r.name));
  for (const r of all) if (!own.includes(r)) dropped.add(r.statement);
  return { own, exposed, through: through.filter((t) => onlyFor.has(t.holder)), dropped };
}

export interface OpenedRefs {
  readonly shown: Node;
  readonly own: readonly Node[];
  /** What the component takes by the name of a ref, with what stands there where nobody asks. */
  readonly passed: Map<string, Node>;
}

/** The lowered statements and template of script setup, each ref the variable that it is. */
export function setupRefsOpened(sfc: Sfc, markup: readonly Markup[], own: readonly Node[], shown: Node): OpenedRefs {
  const refs = readSetupRefs(sfc, markup);
  const passed = new Map<string, Node>();
  const variables = new Map([...refs.own, ...refs.through].map((r) => [r.statement.range[0], r]));
  const gone = new Set([...refs.dropped].map((statement) => statement.range[0]));
  const statements = own.flatMap((statement): Node[] => {
    if (gone.has(statement.range[0])) return [];
    const ref = variables.get(statement.range[0]);
    if (!ref) return [statement];
    const at = make.at(statement.range[0]);
    const empty = ref.empty === 'null' ? make.literal(null, at) : make.identifier('undefined', at);
    const id = (statement as TSESTree.VariableDeclaration).declarations[0].id;
    return [make.declaration('let', id, empty, spanOf(statement))];
  });
  const attributeOf = (attribute: Node): Node[] => {
    const value = attribute.type === 'JSXAttribute' && attributeName(attribute) === 'ref' ? attribute.value : undefined;
    if (value?.type !== 'Literal') return [rewrite(attribute, replaced)];
    const key = String(value.value);
    const [at, span] = [spanOf(value), spanOf(attribute)];
    const inner = refs.through.filter((t) => t.holder === key);
    if (inner.length > 0)
      return inner.map((t) => make.jsxAttribute(refBinding(t.inner), make.identifier(t.name, at), span));
    const exposed = refs.exposed.find((r) => r.key === key);
    if (exposed) {
      passed.set(refBinding(exposed.name), value);
      return [make.jsxAttribute('ref', make.identifier(refBinding(exposed.name), at), span)];
    }
    const variable = refs.own.find((r) => r.key === key);
    return [variable ? make.jsxAttribute('ref', make.identifier(variable.name, at), span) : attribute];
  };
  const replaced = (node: Node): Node | undefined =>
    node.type === 'JSXOpeningElement'
      ? { ...node, attributes: node.attributes.flatMap(attributeOf) as TSESTree.JSXAttribute[] }
      : undefined;
  return { shown: rewrite(shown, replaced), own: statements, passed };
}
