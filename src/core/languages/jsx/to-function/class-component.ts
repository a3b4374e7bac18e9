/** A component that is a class of React, as what it keeps, does and shows. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node, ParsedScript } from '../../../script/parser.js';
import type { ScriptScopes, Variable } from '../../../script/scopes.js';
import type { FunctionNode } from '../../../script/walk.js';

export type ClassNode = TSESTree.ClassDeclaration;

/** A function of the class, or what it keeps beside its state. */
export interface Member {
  readonly name: string;
  /** What stands in the class, or sets it in the constructor. */
  readonly node: Node;
}
export interface Method extends Member {
  readonly fn: FunctionNode;
}
export interface Kept extends Member {
  readonly value: Node | undefined;
  readonly type: TSESTree.TSTypeAnnotation | undefined;
  /** Made by `createRef`: the class hands the ref itself out. */
  readonly isRef: boolean;
  /** Made when the object is, and never set again. */
  readonly isOnce: boolean;
}

/** What hangs on the class itself. */
export interface Static extends Member {
  readonly value: Node;
}

/** What a piece of the class means. */
export type Role =
  | { readonly kind: 'prop' | 'state'; readonly name: string; readonly otherwise?: Node }
  | { readonly kind: 'props' | 'whole' | 'context' | 'setState' }
  | { readonly kind: 'own' | 'kept'; readonly name: string }
  | { readonly kind: 'before'; readonly of: 'prop' | 'state'; readonly name: string };

/** A name that a record is taken apart into: `const { hive } = this.props`. */
export interface Alias {
  readonly role: Role;
  /** Where it is taken apart; undefined for the parameter of the constructor. */
  readonly declarator: TSESTree.VariableDeclarator | undefined;
  /** Whether the constructor knows it, of which only the values are left. */
  readonly isFirst: boolean;
}

export interface ClassComponent {
  readonly path: string;
  readonly text: string;
  readonly script: ParsedScript;
  readonly scopes: ScriptScopes;
  readonly node: ClassNode;
  readonly name: string;
  /** The module that its `Component` comes from. */
  readonly source: string;
  readonly isPure: boolean;
  readonly types: readonly Node[];
  /** By their names, in the order of their first values. */
  readonly states: ReadonlyMap<string, Node>;
  /** The record that they begin as. */
  readonly first: Node | undefined;
  readonly kept: ReadonlyMap<string, Kept>;
  readonly methods: ReadonlyMap<string, Method>;
  readonly mount: FunctionNode | undefined;
  readonly update: FunctionNode | undefined;
  readonly unmount: FunctionNode | undefined;
  readonly render: FunctionNode;
  readonly context: Node | undefined;
  readonly defaults: ReadonlyMap<string, Node>;
  readonly statics: readonly Static[];
  /** Calls of the constructor that tie all functions to the object. */
  readonly ties: readonly Node[];
  readonly aliases: ReadonlyMap<Variable, Alias>;
  /** Of a node of the class; undefined where it is like any other code. */
  readonly roleOf: (node: Node) => Role | undefined;
}

/** What a class of React is built on, by its name. */
export const BASE = /^(?:React\.)?(Pure)?Component$/;
/** What only a class can do, and what it is for. */
export const ONLY_CLASSES = new Map(
  Object.entries({
    componentDidCatch: 'it catches errors of what it shows',
    getDerivedStateFromError: 'it catches errors of what it shows',
    getSnapshotBeforeUpdate: 'it looks at the page before each change',
    getDerivedStateFromProps: 'it works state out of props before each rendering',
    shouldComponentUpdate: 'it says itself when it is rendered again',
    componentWillMount: 'it does something before it is shown',
    UNSAFE_componentWillMount: 'it does something before it is shown',
    componentWillUpdate: 'it does something before each change',
    UNSAFE_componentWillUpdate: 'it does something before each change',
    componentWillReceiveProps: 'it follows its props before each rendering',
    UNSAFE_componentWillReceiveProps: 'it follows its props before each rendering',
    getChildContext: 'it gives a context of the old kind',
    childContextTypes: 'it gives a context of the old kind',
    contextTypes: 'it takes a context of the old kind',
  }),
);

/** Every class of a file that shows something, as far as it can be seen by what it is built on. */
export function classesOf(script: ParsedScript): ClassNode[] {
  return script.program.body.flatMap((statement) => {
    const node =
      statement.type === 'ExportNamedDeclaration' || statement.type === 'ExportDefaultDeclaration'
        ? statement.declaration
        : statement;
    return node?.type === 'ClassDeclaration' && node.id && BASE.test(superName(node)) ? [node] : [];
  });
}

export function superName({ superClass }: ClassNode): string {
  if (superClass?.type === 'Identifier') return superClass.name;
  return superClass?.type === 'MemberExpression' &&
    superClass.object.type === 'Identifier' &&
    superClass.property.type === 'Identifier'
    ? `${superClass.object.name}.${superClass.property.name}`
    : '';
}

/** The names of a pattern without patterns inside of it and without a rest; undefined where it has more. */
export function plainNames(
  pattern: Node,
): { id: TSESTree.Identifier; of: string; otherwise: Node | undefined }[] | undefined {
  if (pattern.type !== 'ObjectPattern') return undefined;
  const names = pattern.properties.map((entry) => {
    if (entry.type !== 'Property' || entry.computed || entry.key.type !== 'Identifier') return undefined;
    const { value } = entry;
    const id = value.type === 'AssignmentPattern' ? value.left : value;
    if (id.type !== 'Identifier') return undefined;
    return { id, of: entry.key.name, otherwise: value.type === 'AssignmentPattern' ? value.right : undefined };
  });
  return names.some((n) => n === undefined) ? undefined : (names as Exclude<(typeof names)[number], undefined>[]);
}
