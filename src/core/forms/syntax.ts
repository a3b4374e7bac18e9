/** What of TS-ESTree the neutral form keeps: marks of a node, what is left out, what may be handed over. */
/** What tells two nodes of one type apart besides their parts. */
export const MARKS: Readonly<Record<string, readonly string[]>> = {
  BinaryExpression: ['operator'],
  LogicalExpression: ['operator'],
  AssignmentExpression: ['operator'],
  UnaryExpression: ['operator'],
  UpdateExpression: ['operator', 'prefix'],
  VariableDeclaration: ['kind'],
  MemberExpression: ['computed', 'optional'],
  CallExpression: ['optional'],
  Property: ['kind', 'computed'],
  ArrowFunctionExpression: ['async'],
  FunctionExpression: ['async', 'generator'],
  FunctionDeclaration: ['async', 'generator'],
  MethodDefinition: ['kind', 'static', 'computed'],
  PropertyDefinition: ['static', 'computed'],
  ForOfStatement: ['await'],
};

export const LEFT_OUT = new Set([
  'TSInterfaceDeclaration',
  'TSTypeAliasDeclaration',
  'TSDeclareFunction',
  'ImportDeclaration',
  'ExportAllDeclaration',
  'EmptyStatement',
  'TSModuleDeclaration',
]);
export const TYPE_KEYS = new Set([
  'typeAnnotation',
  'returnType',
  'typeParameters',
  'typeArguments',
  'superTypeArguments',
  'implements',
  'decorators',
]);
export const EXPRESSIONS = new Set([
  'TemplateLiteral',
  'TaggedTemplateExpression',
  'ArrowFunctionExpression',
  'FunctionExpression',
  'ArrayExpression',
  'ObjectExpression',
  'BinaryExpression',
  'LogicalExpression',
  'UnaryExpression',
  'ConditionalExpression',
  'CallExpression',
  'NewExpression',
  'MemberExpression',
]);
