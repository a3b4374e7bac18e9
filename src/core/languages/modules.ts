/** Imports and exports of a script: static, `require`, on demand. */
import type { TSESTree } from '@typescript-eslint/types';
import type { ExportModel, ImportModel, ModuleModel } from '../markup/model.js';
import type { Node, Program } from '../script/parser.js';
import { bare, boundNames, isFunction, spanOf, walk } from '../script/walk.js';

export interface ModuleTables {
  readonly imports: readonly ImportModel[];
  readonly exports: readonly ExportModel[];
  readonly loads: readonly string[];
  readonly registers: ModuleModel['registers'];
  readonly started: ModuleModel['started'];
}

export function readModuleTables(program: Program, text: string): ModuleTables {
  const imports: ImportModel[] = [];
  const exports: ExportModel[] = [];
  const loads: string[] = [];
  for (const statement of program.body) {
    switch (statement.type) {
      case 'ImportDeclaration':
        if (statement.specifiers.length === 0) loads.push(statement.source.value);
        for (const specifier of statement.specifiers) imports.push(importOf(specifier, statement));
        break;
      case 'ExportNamedDeclaration':
        exports.push(...namedExports(statement));
        if (statement.declaration?.type === 'VariableDeclaration') readVariables(statement.declaration, imports);
        break;
      case 'ExportDefaultDeclaration':
        exports.push({ name: 'default', local: innermostName(statement.declaration) ?? 'default' });
        break;
      case 'ExportAllDeclaration':
        exports.push({
          name: statement.exported ? exportedName(statement.exported) : '*',
          local: '*',
          source: statement.source.value,
        });
        break;
      case 'VariableDeclaration':
        readVariables(statement, imports);
        break;
      case 'ExpressionStatement':
        readCommonJsExport(statement.expression, exports);
        break;
    }
  }
  if (text.includes('import(') || text.includes('require(')) loads.push(...loadedOnDemand(program, imports));
  return { imports, exports, loads, ...readStarts(program, text) };
}

const STARTS = /^(?:create(?:SSR)?App|createElement|h)$/;

/** What the statements of a file mount or register by calls: `createApp(App)`, `app.component('HiveCard', HiveCard)`. */
function readStarts(program: Program, text: string): Pick<ModuleTables, 'registers' | 'started'> {
  const registers: { name: string; local: string }[] = [];
  const started = new Set<string>();
  if (!/\bcreate(?:SSR)?App\b|\bcreateElement\b|\bnew Vue\b|\.component\s*\(/.test(text))
    return { registers, started: [] };
  for (const statement of program.body) {
    if (statement.type !== 'ExpressionStatement' && statement.type !== 'VariableDeclaration') continue;
    walk(statement, (node) => {
      if (node.type !== 'CallExpression') return;
      const [first, second] = node.arguments;
      const callee = bare(node.callee);
      const name =
        callee.type === 'MemberExpression' && callee.property.type === 'Identifier' ? callee.property.name : '';
      const own = callee.type === 'Identifier' ? callee.name : name;
      if (
        name === 'component' &&
        first?.type === 'Literal' &&
        typeof first.value === 'string' &&
        second?.type === 'Identifier'
      )
        registers.push({ name: first.value, local: second.name });
      if (STARTS.test(own) && first?.type === 'Identifier' && /^[A-Z]/.test(first.name)) started.add(first.name);
    });
  }
  return { registers, started: [...started] };
}

function importOf(specifier: TSESTree.ImportClause, statement: TSESTree.ImportDeclaration): ImportModel {
  const imported =
    specifier.type === 'ImportDefaultSpecifier'
      ? 'default'
      : specifier.type === 'ImportNamespaceSpecifier'
        ? '*'
        : exportedName(specifier.imported);
  const typeOnly =
    statement.importKind === 'type' || (specifier.type === 'ImportSpecifier' && specifier.importKind === 'type');
  return { source: statement.source.value, local: specifier.local.name, imported, typeOnly, ...spanOf(statement) };
}

function exportedName(node: TSESTree.Identifier | TSESTree.StringLiteral): string {
  return node.type === 'Identifier' ? node.name : node.value;
}

function namedExports(statement: TSESTree.ExportNamedDeclaration): ExportModel[] {
  const source = statement.source ? { source: statement.source.value } : {};
  const listed = statement.specifiers.map((specifier) => ({
    name: exportedName(specifier.exported),
    local: exportedName(specifier.local),
    ...source,
  }));
  const declaration = statement.declaration;
  if (!declaration) return listed;
  if (declaration.type === 'VariableDeclaration') {
    return declaration.declarations.flatMap((d) => boundNames(d.id)).map((name) => ({ name, local: name }));
  }
  const id = 'id' in declaration && declaration.id?.type === 'Identifier' ? declaration.id.name : undefined;
  return id ? [{ name: id, local: id }] : [];
}

/** `Foo` in `export default connect(state)(memo(Foo))`. */
export function innermostName(node: Node): string | undefined {
  const inner = bare(node);
  if (inner.type === 'Identifier') return inner.name;
  if (inner.type === 'FunctionDeclaration' || inner.type === 'ClassDeclaration' || inner.type === 'FunctionExpression')
    return inner.id?.name;
  if (inner.type !== 'CallExpression') return undefined;
  for (const argument of inner.arguments) {
    const name = argument.type === 'SpreadElement' ? undefined : innermostName(argument);
    if (name && /^[A-Z]/.test(name)) return name;
  }
  return undefined;
}

function readVariables(statement: TSESTree.VariableDeclaration, imports: ImportModel[]): void {
  for (const declarator of statement.declarations) {
    if (!declarator.init) continue;
    const required = requiredSource(declarator.init);
    if (required !== undefined) {
      const at = { source: required, typeOnly: false, ...spanOf(statement) };
      if (declarator.id.type === 'Identifier') imports.push({ ...at, local: declarator.id.name, imported: 'default' });
      else if (declarator.id.type === 'ObjectPattern') {
        for (const property of declarator.id.properties) {
          if (property.type !== 'Property' || property.key.type !== 'Identifier') continue;
          for (const local of boundNames(property.value)) imports.push({ ...at, local, imported: property.key.name });
        }
      }
      continue;
    }
    const lazy = lazySource(declarator.init);
    if (lazy !== undefined && declarator.id.type === 'Identifier') {
      imports.push({
        source: lazy,
        local: declarator.id.name,
        imported: 'default',
        typeOnly: false,
        ...spanOf(statement),
      });
    }
  }
}

function requiredSource(node: Node): string | undefined {
  const call = bare(node);
  if (call.type === 'MemberExpression') return requiredSource(call.object);
  if (call.type !== 'CallExpression' || call.callee.type !== 'Identifier' || call.callee.name !== 'require')
    return undefined;
  const argument = call.arguments[0];
  return argument?.type === 'Literal' && typeof argument.value === 'string' ? argument.value : undefined;
}

/** `lazy(() => import('./x'))` and the same through `.then(…)`. */
function lazySource(node: Node): string | undefined {
  const call = bare(node);
  if (call.type !== 'CallExpression') return undefined;
  const loader = call.arguments[0];
  if (!loader || !isFunction(loader)) return undefined;
  return importSource(loader.body);
}

function importSource(node: Node): string | undefined {
  const inner = bare(node);
  if (inner.type === 'ImportExpression')
    return inner.source.type === 'Literal' ? String(inner.source.value) : undefined;
  if (inner.type === 'CallExpression' && inner.callee.type === 'MemberExpression')
    return importSource(inner.callee.object);
  return undefined;
}

function readCommonJsExport(node: Node, exports: ExportModel[]): void {
  if (node.type !== 'AssignmentExpression' || node.left.type !== 'MemberExpression') return;
  const { object, property } = node.left;
  if (property.type !== 'Identifier') return;
  if (object.type === 'Identifier' && object.name === 'module' && property.name === 'exports') {
    exports.push({ name: 'default', local: innermostName(node.right) ?? 'default' });
  } else if (object.type === 'Identifier' && object.name === 'exports') {
    exports.push({ name: property.name, local: innermostName(node.right) ?? property.name });
  }
}

function loadedOnDemand(program: Program, known: readonly ImportModel[]): string[] {
  const named = new Set(known.map((entry) => entry.source));
  const result: string[] = [];
  walk(program, (node) => {
    const source =
      node.type === 'ImportExpression' && node.source.type === 'Literal'
        ? String(node.source.value)
        : requiredSource(node);
    if (source !== undefined && !named.has(source)) result.push(source);
  });
  return result;
}
