/** What would mean something else once a definition stands in a file of its own, or its script is a module. */
import type { TSESTree } from '@typescript-eslint/types';
import { dirname } from '../../../files/paths.js';
import { problem, type Problem } from '../../../problems/problems.js';
import type { ProjectView } from '../../../language/project.js';
import { isScriptError, type Node, type ParsedScript } from '../../../script/parser.js';
import { ScriptScopes } from '../../../script/scopes.js';
import { bare, isFunction, spanOf, walk, within } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import type { JoinOptions } from '../../../language/joining.js';
import { packageAround } from '../../rooms.js';
import { keyName, propertyOf } from '../definition.js';
import { literal, type Defined } from './definitions.js';

const BUNDLER =
  /^(?:vite|webpack|rollup|parcel|parcel-bundler|esbuild|nuxt|nuxt3|laravel-mix|vue-loader|vue-cli-service|@vue\/cli-service|@vitejs\/plugin-vue|@rspack\/(?:core|cli)|@rsbuild\/core|rollup-plugin-vue)$/;

/** A browser runs no `.vue` file: what is asked where the packages name nothing that builds. */
export function needsBuild(project: ProjectView, path: string, { build }: JoinOptions): Problem | undefined {
  const isBuilt = build === true || packageAround(project.files, dirname(path)).needs.some((n) => BUNDLER.test(n));
  return isBuilt ? undefined : problem('join-bundler', { path });
}

/** Why a script cannot become a module: what it does is another thing there, or fails. */
export function asModuleUnlike(
  project: ProjectView,
  at: { readonly path: string; readonly span: Span },
  text: string,
): Problem | undefined {
  const script = project.ports.script.parse(text, 'js');
  if (isScriptError(script)) return undefined;
  const written = new ScriptScopes(script)
    .unresolved()
    .find((r) => r.isWrite() && !EVERYWHERE.test((r.identifier as { name?: string }).name ?? ''));
  const name = (written?.identifier as { name?: string } | undefined)?.name;
  const what = name === undefined ? onlyOfScripts(script) : `an assignment to \`${name}\`, which nothing declares,`;
  return what === undefined ? undefined : problem('join-module', at, what);
}

/** Names of the window that may be assigned without declaring them. */
const EVERYWHERE = /^(?:on[a-z]+|location|name|status|title|opener)$/;

function onlyOfScripts({ program }: ParsedScript): string | undefined {
  let found: string | undefined;
  walk(program, (node) => {
    if (node.type === 'MemberExpression' && bare(node.object).type === 'Identifier') {
      const name = `${(bare(node.object) as TSESTree.Identifier).name}.${keyName(node.property) ?? ''}`;
      if (/^document\.(?:currentScript|writeln?)$/.test(name)) found ??= `\`${name}\``;
    }
  });
  const topThis = (node: Node): void =>
    walk(node, (inner) => {
      if (inner.type === 'ThisExpression') found ??= '`this` at the top of the script';
      if (inner.type === 'ClassBody') return false;
      return !(isFunction(inner) && inner.type !== 'ArrowFunctionExpression');
    });
  for (const statement of program.body) topThis(statement);
  return found;
}

/** Why a definition cannot stand in a file of its own. */
export function obstacleTo(
  { object, whole, form }: Defined,
  { path, offset }: { readonly path: string; readonly offset: number },
  scopes: ScriptScopes,
): Problem | undefined {
  const at = (span: Span) => ({ path, span: { start: span.start + offset, end: span.end + offset } });
  for (const { resolved, identifier } of scopes.within(whole)) {
    if (!resolved || resolved.defs.length === 0 || scopes.isModuleLevel(resolved)) continue;
    if (!within(spanOf(resolved.scope.block), whole))
      return problem('join-enclosed', at(spanOf(identifier as Node)), resolved.name);
  }
  const created = form === 'root' ? scopes.parentOf(object) : undefined;
  const used = created?.type === 'NewExpression' ? instanceUse(created, scopes) : undefined;
  return used && problem('join-instance', at(spanOf(used)));
}

/** Where the instance that `new Vue` gives is used for more than mounting it: it no longer has what the root has. */
function instanceUse(created: Node, scopes: ScriptScopes): Node | undefined {
  let node = created;
  for (;;) {
    const parent = scopes.parentOf(node);
    if (parent?.type === 'ExpressionStatement' || !parent) return undefined;
    const call = parent.type === 'MemberExpression' && parent.object === node ? scopes.parentOf(parent) : undefined;
    if (
      call?.type === 'CallExpression' &&
      parent.type === 'MemberExpression' &&
      keyName(parent.property) === '$mount'
    ) {
      node = call;
      continue;
    }
    if (parent.type !== 'VariableDeclarator' || parent.id.type !== 'Identifier') return parent;
    if (scopes.parentOf(scopes.parentOf(parent)!)?.type === 'ExportNamedDeclaration') return parent;
    const uses = scopes.variableOf(parent.id)?.references.filter((r) => r.identifier !== parent.id) ?? [];
    return uses.map((r) => instanceUse(r.identifier, scopes)).find((use) => use !== undefined);
  }
}

/** What a component's braces are: its own word, or that of the application; undefined for `{{ }}`. */
export function delimitersOf(
  object: TSESTree.ObjectExpression,
  ofApp: readonly CompilerOption[],
  { path, offset }: { readonly path: string; readonly offset: number },
): readonly [string, string] | undefined | Problem {
  let pair: readonly [string, string] | undefined;
  for (const { name, value } of [...ofApp, ...ownOptions(object)]) {
    const [open, close] =
      name === 'delimiters' && value.type === 'ArrayExpression' ? value.elements.map((e) => e && literal(e)) : [];
    const isUsual = USUAL[name] === (value.type === 'Literal' ? value.value : undefined) && name in USUAL;
    if (open && close) pair = [open, close];
    else if (!isUsual)
      return problem(
        'join-compiler',
        { path, span: { start: value.range[0] + offset, end: value.range[1] + offset } },
        name,
      );
  }
  return pair;
}

/** What the compiler does by itself. */
const USUAL: Record<string, unknown> = { whitespace: 'condense', comments: false };

export interface CompilerOption {
  readonly name: string;
  readonly value: Node;
}

function ownOptions(object: TSESTree.ObjectExpression): CompilerOption[] {
  const delimiters = propertyOf(object, 'delimiters');
  const own = propertyOf(object, 'compilerOptions');
  return [...(own ? optionsIn(own) : []), ...(delimiters ? [{ name: 'delimiters', value: delimiters }] : [])];
}

/** `app.config.compilerOptions = { … }` and `app.config.compilerOptions.delimiters = […]`, anywhere in the script. */
export function compilerOptions({ program }: ParsedScript): CompilerOption[] {
  const found: CompilerOption[] = [];
  walk(program, (node) => {
    if (node.type !== 'AssignmentExpression' || node.left.type !== 'MemberExpression') return;
    const name = keyName(node.left.property) ?? '';
    const above = bare(node.left.object);
    if (name === 'compilerOptions') found.push(...optionsIn(node.right));
    else if (above.type === 'MemberExpression' && keyName(above.property) === 'compilerOptions')
      found.push({ name, value: bare(node.right) });
  });
  return found;
}

function optionsIn(value: Node): CompilerOption[] {
  const inner = bare(value);
  if (inner.type !== 'ObjectExpression') return [{ name: 'compilerOptions', value: inner }];
  return inner.properties.map((p) =>
    p.type === 'Property' ? { name: keyName(p.key) ?? '', value: bare(p.value) } : { name: '', value: p },
  );
}
