/** Members of types as a file writes them, without a type checker. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Program } from '../script/parser.js';

/** Types declared in the file, by name. */
export type TypeTable = ReadonlyMap<string, TSESTree.TSInterfaceDeclaration | TSESTree.TSTypeAliasDeclaration>;

export function typeTable(program: Program): TypeTable {
  const table = new Map<string, TSESTree.TSInterfaceDeclaration | TSESTree.TSTypeAliasDeclaration>();
  for (const statement of program.body) {
    const node = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
    if (node?.type === 'TSInterfaceDeclaration' || node?.type === 'TSTypeAliasDeclaration')
      table.set(node.id.name, node);
  }
  return table;
}

/** The members of a type, as far as the file declares them. */
export function membersOf(type: TSESTree.TypeNode, types: TypeTable, depth = 0): TSESTree.TypeElement[] {
  if (depth > 5) return [];
  if (type.type === 'TSTypeLiteral') return type.members;
  if (type.type === 'TSIntersectionType') return type.types.flatMap((part) => membersOf(part, types, depth + 1));
  if (type.type !== 'TSTypeReference' || type.typeName.type !== 'Identifier') return [];
  const name = type.typeName.name;
  const wrapped = type.typeArguments?.params[0];
  if (['Readonly', 'PropsWithChildren', 'Partial', 'Omit', 'Pick'].includes(name) && wrapped) {
    return membersOf(wrapped, types, depth + 1);
  }
  const declared = types.get(name);
  if (!declared) return [];
  if (declared.type === 'TSTypeAliasDeclaration') return membersOf(declared.typeAnnotation, types, depth + 1);
  const inherited = declared.extends.flatMap((heritage) =>
    heritage.expression.type === 'Identifier' && types.has(heritage.expression.name)
      ? membersOfNamed(heritage.expression.name, types, depth + 1)
      : [],
  );
  return [...inherited, ...declared.body.body];
}

function membersOfNamed(name: string, types: TypeTable, depth: number): TSESTree.TypeElement[] {
  const declared = types.get(name)!;
  return declared.type === 'TSInterfaceDeclaration'
    ? declared.body.body
    : membersOf(declared.typeAnnotation, types, depth);
}
