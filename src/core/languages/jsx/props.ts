/** The props of a component, from its parameter, its type, its `propTypes` and its use of `this.props`. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Prop } from '../../markup/model.js';
import type { Node } from '../../script/parser.js';
import { bare, isFunction, walk } from '../../script/walk.js';
import { typeOnOneLine } from '../../text/layout.js';
import { membersOf, type TypeTable } from '../type-members.js';
import type { ComponentNode } from './candidates.js';

export interface PropsReading {
  readonly props: readonly Prop[];
  readonly open: boolean;
}

export function readProps(node: ComponentNode, outer: Node, text: string, types: TypeTable): PropsReading {
  const props = new Map<string, Prop>();
  const add = (prop: Prop) => {
    const known = props.get(prop.name);
    props.set(prop.name, known ? { ...known, ...prop, required: known.required && prop.required } : prop);
  };
  let open = false;
  const typeNode = propsType(node, outer);
  for (const member of typeNode ? membersOf(typeNode, types) : []) {
    if (member.type !== 'TSPropertySignature' && member.type !== 'TSMethodSignature') continue;
    if (member.key.type !== 'Identifier' && member.key.type !== 'Literal') continue;
    const annotation = member.type === 'TSPropertySignature' ? member.typeAnnotation?.typeAnnotation : member;
    const name = member.key.type === 'Identifier' ? member.key.name : String(member.key.value);
    const type = annotation && typeOnOneLine(text.slice(annotation.range[0], annotation.range[1]));
    add({ name, required: !member.optional, ...(type ? { type } : {}) });
  }
  const typed = props.size > 0;
  const readMember = (name: string) => {
    if (!props.has(name)) add({ name, required: !typed });
  };
  const fromPattern = (pattern: TSESTree.ObjectPattern) => {
    for (const property of pattern.properties) {
      if (property.type === 'RestElement') {
        open = true;
        continue;
      }
      if (property.computed || property.key.type !== 'Identifier') continue;
      const name = property.key.name;
      const known = props.get(name);
      if (property.value.type === 'AssignmentPattern') {
        const right = property.value.right;
        const value = text.slice(right.range[0], right.range[1]);
        add({ ...(known ?? { name }), name, required: false, default: value });
      } else readMember(name);
    }
  };
  const takesWhole = (isProps: (n: Node) => boolean, root: Node) => {
    walk(root, (child, ancestors) => {
      if (!isProps(child)) return;
      const parent = ancestors[ancestors.length - 1]!;
      if (parent.type === 'MemberExpression' && parent.object === child) {
        if (!parent.computed && parent.property.type === 'Identifier') readMember(parent.property.name);
        else open = true;
      } else if (parent.type === 'VariableDeclarator' && parent.init === child && parent.id.type === 'ObjectPattern') {
        fromPattern(parent.id);
      } else if (parent.type !== 'Property' || parent.value === child) open = true;
    });
  };
  if (isFunction(node)) {
    const first = node.params[0];
    const pattern = first?.type === 'AssignmentPattern' ? first.left : first;
    if (pattern?.type === 'ObjectPattern') fromPattern(pattern);
    else if (pattern?.type === 'Identifier') {
      const name = pattern.name;
      takesWhole((n) => n.type === 'Identifier' && n.name === name, node.body);
    }
  } else {
    const isThisProps = (n: Node) =>
      n.type === 'MemberExpression' &&
      n.object.type === 'ThisExpression' &&
      n.property.type === 'Identifier' &&
      n.property.name === 'props';
    takesWhole(isThisProps, node);
  }
  return { props: [...props.values()], open };
}

/** The type that the component gives its props: `({…}: Props)`, `FC<Props>`, `Component<Props>`, `forwardRef<R, Props>`. */
export function propsType(node: ComponentNode, outer: Node): TSESTree.TypeNode | undefined {
  if (node.type === 'ObjectExpression') return undefined;
  if (!isFunction(node)) return node.superTypeArguments?.params[0];
  const first = node.params[0];
  const pattern = first?.type === 'AssignmentPattern' ? first.left : first;
  if (pattern && 'typeAnnotation' in pattern && pattern.typeAnnotation) return pattern.typeAnnotation.typeAnnotation;
  const declaration = outer.type === 'VariableDeclaration' ? outer.declarations[0] : undefined;
  const annotation = declaration?.id.typeAnnotation?.typeAnnotation;
  if (annotation?.type === 'TSTypeReference' && annotation.typeArguments) return annotation.typeArguments.params[0];
  const init = declaration?.init && bare(declaration.init);
  if (init?.type === 'CallExpression' && init.typeArguments) return init.typeArguments.params.at(-1);
  return undefined;
}
