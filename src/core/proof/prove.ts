/**
 * The proof: is the program after a change the program before it, once every new component is expanded where it is
 * used? Works file by file over all that the change touched. Nothing may be lost, and nothing may be left over.
 */
import { unkept } from '../script/literals.js';
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../script/parser.js';
import type { Variable } from '../script/scopes.js';
import { nodeWithin, spanOf } from '../script/walk.js';
import type { Span } from '../text/edits.js';
import { Comparison } from './compare.js';
import type { Allowed } from './by-way.js';
import type { NewComponent } from './expansion.js';
import { HelperCalls, type HelperPlace } from './helper-calls.js';
import { Mismatch, type MismatchCode, type MismatchPlace } from './mismatch.js';
import { nameOf, type Meaning, type Side, type Turn } from './side.js';
import type { ProofModule } from '../language/proof-module.js';
import { functionBehind } from './questions.js';
import type { Code } from './values.js';

export interface ProofPlace {
  readonly path: string;
  readonly span: Span;
}

export type ProofResult =
  | {
      readonly answer: 'same';
      readonly compared: readonly string[];
      readonly expanded: readonly string[];
      /** Effects that run in another component than before, in an order that only running can show. */
      readonly elsewhere?: readonly ProofPlace[];
      /** Reads that give what is newer, or older, by one rendering. */
      readonly sooner?: readonly ProofPlace[];
    }
  | {
      readonly answer: 'different' | 'unknown';
      readonly code: MismatchCode | 'file-unread';
      readonly detail: string;
      readonly before?: ProofPlace;
      readonly after?: ProofPlace;
    };

/** What is compared otherwise than a change that makes components. */
export interface Otherwise {
  /** By way of a text that nobody writes. */
  readonly allowed?: Allowed | undefined;
  /** A function of the second side that gives markup back, and that the first one does without. */
  readonly helper?: HelperPlace;
}

export function prove(before: Side, after: Side, turn: Turn = 'forward', otherwise: Otherwise = {}): ProofResult {
  try {
    return new ModulePass(before, after, turn, otherwise).run();
  } catch (error) {
    if (!(error instanceof Mismatch)) throw error;
    const at = (place: MismatchPlace | undefined) => place && { path: place.module.path, span: spanOf(place.node) };
    const [x, y] = [at(error.before), at(error.after)];
    return {
      answer: error.answer,
      code: error.code,
      detail: error.message,
      ...(x ? { before: x } : {}),
      ...(y ? { after: y } : {}),
    };
  }
}

/** A top-level statement that declares names, with an `export` around it taken off. */
interface Declaration {
  readonly statement: Node;
  readonly node: Node;
  readonly variables: readonly Variable[];
}

interface Contents {
  readonly module: ProofModule;
  readonly declarations: readonly Declaration[];
  /** Everything that runs, in order. */
  readonly others: readonly TSESTree.ProgramStatement[];
}

/** Whether a name is that of a component or a function, and not of a constant or a list whose loop was opened. */
function isCalled({ defs: [definition] }: Variable): boolean {
  const init = definition?.type === 'Variable' ? definition.node.init : undefined;
  return !init || !/^(?:ArrayExpression|Literal)$/.test(unkept(init).type);
}

/** Two module-level names in different places that were taken for the same. */
interface MovedPair {
  readonly before: Variable;
  readonly beforeModule: ProofModule;
  readonly after: Variable;
  readonly afterModule: ProofModule;
}

class ModulePass {
  readonly #comparison: Comparison;
  readonly #helpers: HelperCalls | undefined;
  readonly #before: readonly Contents[];
  readonly #after: readonly Contents[];
  /** Declarations of the second side that have been matched. */
  readonly #matched = new Set<Declaration>();
  readonly #matchedOthers = new Set<Node>();
  readonly #movedPairs: MovedPair[] = [];

  constructor(
    readonly before: Side,
    readonly after: Side,
    readonly turn: Turn,
    { allowed, helper }: Otherwise,
  ) {
    this.#helpers = helper && new HelperCalls(helper);
    this.#before = [...before.modules.values()].map(contentsOf);
    this.#after = [...after.modules.values()].map(contentsOf);
    this.#comparison = new Comparison(
      allowed,
      this.#helpers,
      before,
      after,
      turn,
      (meaning) => this.#newComponent(meaning),
      (meaning) => functionOf(meaning),
      (meaning) => this.#isNewConstant(meaning),
      (x, xModule, y, yModule) =>
        this.#movedPairs.push({ before: x, beforeModule: xModule, after: y, afterModule: yModule }),
    );
  }

  run(): ProofResult {
    for (const contents of this.#before) this.#module(contents);
    for (const pair of this.#movedPairs) this.#checkMove(pair);
    const left = this.#comparison.leftovers()[0];
    if (left)
      throw new Mismatch(
        'file-declaration-unexplained',
        'a new component declares something that was not there before',
        undefined,
        left,
      );
    for (const contents of this.#after) this.#checkExtra(contents);
    if (this.turn === 'forward') for (const contents of this.#before) this.#checkExports(contents);
    else for (const contents of this.#after) this.#checkKept(contents);
    const placesOf = (list: Iterable<Code>) =>
      [...list].map(({ node, module: { path } }) => ({ path, span: spanOf(node) }));
    const elsewhere = placesOf(this.#comparison.elsewhere);
    const sooner = placesOf(this.#comparison.sooner);
    return {
      answer: 'same',
      compared: this.#before.map((c) => c.module.path),
      expanded: [...this.#comparison.expanded].filter(isCalled).map((v) => v.name.replace(/^Component:/, '')),
      ...(elsewhere.length > 0 ? { elsewhere } : {}),
      ...(sooner.length > 0 ? { sooner } : {}),
    };
  }

  #module(contents: Contents): void {
    const now = this.#after.find((c) => c.module.path === contents.module.path);
    for (const declaration of contents.declarations) {
      if (declaration.variables.length === 0 && isTypeNode(declaration.node)) continue;
      const match = this.#counterpart(declaration, now);
      if (!match) {
        if (isTypeNode(declaration.node)) continue;
        throw new Mismatch('file-declaration-gone', `"${declaration.variables[0]?.name ?? ''}" is gone`, {
          module: contents.module,
          node: declaration.node,
        });
      }
      this.#matched.add(match.declaration);
      if (isTypeNode(declaration.node)) continue;
      declaration.variables.forEach((x, i) => {
        const y = match.declaration.variables[i];
        if (y)
          this.#comparison.pair(
            x,
            y,
            codeOf(contents.module, declaration.node),
            codeOf(match.module, match.declaration.node),
          );
      });
      this.#comparison.code(codeOf(contents.module, declaration.node), codeOf(match.module, match.declaration.node));
    }
    this.#others(contents, now);
  }

  /** The same declaration in the same file, else the one declaration of that name in a file that did not have it. */
  #counterpart(
    declaration: Declaration,
    now: Contents | undefined,
  ): { declaration: Declaration; module: ProofModule } | undefined {
    const names = declaration.variables.map((v) => v.name).join();
    const same = now?.declarations.find(
      (d) => d.variables.map((v) => v.name).join() === names && d.node.type === declaration.node.type,
    );
    if (same && now) return { declaration: same, module: now.module };
    // What a file gives as its default is known by that, whatever it is called inside.
    const given = (d: Declaration) =>
      d.statement.type === 'ExportDefaultDeclaration' && d.node.type === declaration.node.type;
    const other = given(declaration) ? now?.declarations.find(given) : undefined;
    if (other && now) return { declaration: other, module: now.module };
    const imported = now && this.#importedAs(declaration, now);
    if (imported) return imported;
    for (const contents of this.#after) {
      if (contents === now) continue;
      const known = this.#before.find((c) => c.module.path === contents.module.path);
      const moved = contents.declarations.find((d) => d.variables.map((v) => v.name).join() === names);
      if (moved && !known?.declarations.some((d) => d.variables.map((v) => v.name).join() === names))
        return { declaration: moved, module: contents.module };
    }
    return undefined;
  }

  /** The function that the file now imports, or hands on, by the name that it declared before. */
  #importedAs(declaration: Declaration, now: Contents): { declaration: Declaration; module: ProofModule } | undefined {
    const only = declaration.variables.length === 1 ? declaration.variables[0]! : undefined;
    const variable = only && now.module.scopes.moduleScope.set.get(only.name);
    const isImported = variable !== undefined && variable.defs.length > 0 && now.module.scopes.isImport(variable);
    const meaning = isImported
      ? this.after.meaningOfVariable(now.module, variable)
      : only && !variable && this.after.exportOf(now.module, only.name);
    if (!meaning || meaning.kind !== 'module') return undefined;
    const home = this.#after.find((c) => c.module === meaning.module);
    const found = home?.declarations.find((d) => d.variables.includes(meaning.variable));
    return found && { declaration: found, module: meaning.module };
  }

  /** Statements that run for their effect keep their order; those about a moved declaration move with it. */
  #others(contents: Contents, now: Contents | undefined): void {
    const rest = [...(now?.others ?? [])];
    for (const x of contents.others) {
      const y = rest[0];
      const home = this.#movedHome(x, contents);
      if (home) {
        const match = home.others.find(
          (o) =>
            !this.#matchedOthers.has(o) &&
            o.type === x.type &&
            home.module.text.slice(...o.range) === contents.module.text.slice(...x.range),
        );
        if (!match)
          throw new Mismatch('file-statement-gone', 'a statement is gone', { module: contents.module, node: x });
        this.#matchedOthers.add(match);
        this.#comparison.code(codeOf(contents.module, x), codeOf(home.module, match));
        continue;
      }
      const skipped = y && now && this.#isNewStatement(y, now) ? (rest.shift(), rest[0]) : y;
      if (!skipped || !now)
        throw new Mismatch('file-statement-gone', 'a statement is gone', { module: contents.module, node: x });
      rest.shift();
      this.#matchedOthers.add(skipped);
      this.#comparison.code(codeOf(contents.module, x), codeOf(now.module, skipped));
    }
  }

  #movedHome(statement: Node, from: Contents): Contents | undefined {
    const subject = subjectOf(statement);
    const declaration = subject && from.declarations.find((d) => d.variables.some((v) => v.name === subject));
    if (!declaration) return undefined;
    const now = this.#after.find((c) => c.module.path === from.module.path);
    if (now?.declarations.some((d) => d.variables.some((v) => v.name === subject))) return undefined;
    return this.#after.find((c) => c.declarations.some((d) => d.variables.some((v) => v.name === subject)));
  }

  /** `HiveRow.propTypes = …` of a new component. */
  #isNewStatement(statement: Node, contents: Contents): boolean {
    const subject = subjectOf(statement);
    const variable = subject && contents.module.scopes.moduleScope.set.get(subject);
    return Boolean(variable && this.#newComponent({ kind: 'module', module: contents.module, variable }));
  }

  #isNewConstant(meaning: Meaning): boolean {
    if (meaning.kind === 'local') {
      const { module, variable } = meaning;
      const before = this.before.modules.get(module.path);
      return before?.scopes.declares(variable.name) === false && !module.scopes.isReassigned(variable);
    }
    if (meaning.kind !== 'module') return false;
    const { module, variable } = meaning;
    return (
      !this.#wasThere(module, variable) &&
      !module.scopes.isReassigned(variable) &&
      variable.defs[0]?.type === 'Variable'
    );
  }

  /** Declared in the same file before, or moved from a file that had it and has it no more. */
  #wasThere(module: ProofModule, { name }: Variable): boolean {
    const known = (contents: Contents) => contents.declarations.some((d) => d.variables.some((v) => v.name === name));
    return this.#before.some(
      (c) =>
        known(c) &&
        (c.module.path === module.path || !this.#after.some((d) => d.module.path === c.module.path && known(d))),
    );
  }

  #newComponent(meaning: Meaning): NewComponent | undefined {
    if (meaning.kind !== 'module') return undefined;
    const { module, variable } = meaning;
    if (this.#wasThere(module, variable)) return undefined;
    return functionOf(meaning);
  }

  /** A name that now lives elsewhere must have been matched there, and be gone from its old place. */
  #checkMove({ before, beforeModule, after, afterModule }: MovedPair): void {
    const matched = [...this.#matched].some((d) => d.variables.includes(after));
    if (matched) return;
    const find = (m: ProofModule, v: Variable) => v.identifiers[0] ?? m.script.program;
    throw new Mismatch(
      'file-declaration-moved',
      `"${before.name}" means something else now`,
      { module: beforeModule, node: find(beforeModule, before) },
      { module: afterModule, node: find(afterModule, after) },
    );
  }

  /** What the second side has beyond the first: new components that were expanded, and nothing else that runs. */
  #checkExtra(contents: Contents): void {
    const isExpanded = (variable: Variable) => this.#comparison.expanded.has(variable);
    for (const declaration of contents.declarations) {
      if (this.#matched.has(declaration) || isTypeNode(declaration.node)) continue;
      if (this.#helpers?.declares(declaration.node, contents.module)) continue;
      if (declaration.variables.length > 0 && declaration.variables.every(isExpanded)) continue;
      throw new Mismatch(
        'file-declaration-new',
        `"${declaration.variables[0]?.name ?? 'code'}" is new and nothing before explains it`,
        undefined,
        { module: contents.module, node: declaration.node },
      );
    }
    for (const statement of contents.others) {
      if (this.#matchedOthers.has(statement)) continue;
      const subject = subjectOf(statement);
      const variable = subject ? contents.module.scopes.moduleScope.set.get(subject) : undefined;
      const isMatched = variable && [...this.#matched].some((d) => d.variables.includes(variable));
      if (variable && (isExpanded(variable) || isMatched)) continue;
      if ('directive' in statement && statement.directive) continue;
      if (isExportOnly(statement)) continue;
      throw new Mismatch('file-statement-added', 'a statement was added', undefined, {
        module: contents.module,
        node: statement,
      });
    }
  }

  /** Exports of a file that stays, but for the components that went back. */
  #checkKept({ module }: Contents): void {
    const now = this.before.modules.get(module.path);
    if (!now) return;
    for (const name of exportedNames(module)) {
      const meaning = this.after.exportOf(module, name);
      const isBack = meaning?.kind === 'module' && this.#comparison.expanded.has(meaning.variable);
      if (!meaning || isBack || this.before.exportOf(now, name)) continue;
      throw new Mismatch('file-export-gone', `the export "${name}" is gone`, undefined, {
        module,
        node: module.script.program,
      });
    }
  }

  #checkExports({ module }: Contents): void {
    const now = this.after.modules.get(module.path);
    for (const name of exportedNames(module)) {
      const left = this.before.exportOf(module, name);
      if (!left) continue;
      const at = { module, node: module.script.program as Node };
      const right = now && this.after.exportOf(now, name);
      if (!right) throw new Mismatch('file-export-gone', `the export "${name}" is gone`, at);
      this.#comparison.meanings(left, right, codeOf(module, module.script.program), codeOf(now, now.script.program));
    }
  }
}

/** The function that a name at the top of a file is. */
function functionOf(meaning: Meaning): NewComponent | undefined {
  if (meaning.kind !== 'module') return undefined;
  const { module, variable } = meaning;
  const found = functionBehind(variable);
  return found && { module, variable, fn: found.fn };
}

function codeOf(module: ProofModule, node: Node): Code {
  return { node, module, env: undefined };
}

function contentsOf(module: ProofModule): Contents {
  const declarations: Declaration[] = [];
  const others: TSESTree.ProgramStatement[] = [];
  for (const statement of module.script.program.body) {
    if (
      statement.type === 'EmptyStatement' ||
      (statement.type === 'ImportDeclaration' && statement.specifiers.length > 0)
    )
      continue;
    const isExport =
      statement.type === 'ExportNamedDeclaration' ||
      (statement.type === 'ExportDefaultDeclaration' && 'id' in statement.declaration && statement.declaration.id);
    const node: Node | null = isExport ? (statement as TSESTree.ExportNamedDeclaration).declaration : statement;
    if (!node) continue;
    // `export default Hive` runs nothing; what is exported is compared by name.
    if (statement.type === 'ExportDefaultDeclaration' && statement.declaration.type === 'Identifier') continue;
    if (
      /^(?:Variable|Function|Class|TSEnum|TSModule|TSInterface|TSTypeAlias|TSImportEquals)/.test(node.type) &&
      /Declaration$/.test(node.type)
    ) {
      const variables = module.scopes.moduleScope.variables.filter((v) =>
        v.defs.some((d) => d.node === node || d.parent === node),
      );
      // Bindings of `require` are imports.
      if (variables.length > 0 && variables.every((v) => module.scopes.isImport(v))) continue;
      declarations.push({ statement, node, variables });
    } else if (!(statement.type === 'ExportNamedDeclaration')) others.push(statement);
  }
  return { module, declarations, others };
}

function isTypeNode(node: Node): boolean {
  return (
    node.type === 'TSInterfaceDeclaration' ||
    node.type === 'TSTypeAliasDeclaration' ||
    ('declare' in node && node.declare)
  );
}

/** `X` in `X.propTypes = …` and in `module.exports = X`. */
function subjectOf(statement: Node): string | undefined {
  if (statement.type === 'ExportDefaultDeclaration')
    return statement.declaration.type === 'Identifier' ? statement.declaration.name : undefined;
  if (statement.type !== 'ExpressionStatement' || statement.expression.type !== 'AssignmentExpression')
    return undefined;
  const { left, right } = statement.expression;
  if (left.type !== 'MemberExpression' || left.object.type !== 'Identifier') return undefined;
  if (left.object.name === 'module') return right.type === 'Identifier' ? right.name : undefined;
  return left.object.name;
}

/** `module.exports = { a, b }` of a module that holds what was moved. */
function isExportOnly(statement: Node): boolean {
  if (statement.type !== 'ExpressionStatement' || statement.expression.type !== 'AssignmentExpression') return false;
  const { left, right } = statement.expression;
  const isExports =
    left.type === 'MemberExpression' && left.object.type === 'Identifier' && left.object.name === 'module';
  return (
    isExports &&
    right.type === 'ObjectExpression' &&
    right.properties.every((p) => p.type === 'Property' && p.shorthand)
  );
}

function exportedNames(module: ProofModule): string[] {
  return module.script.program.body.flatMap((statement): string[] => {
    if (statement.type === 'ExportDefaultDeclaration') return ['default'];
    if (statement.type !== 'ExportNamedDeclaration' || statement.exportKind === 'type') return [];
    const declared = statement.declaration
      ? module.scopes.moduleScope.variables
          .filter((v) => v.identifiers.some((id) => nodeWithin(id, spanOf(statement))))
          .filter((v) => !v.defs.every((d) => d.type === 'Type'))
      : [];
    return [...declared.map((v) => v.name), ...statement.specifiers.map((s) => nameOf(s.exported))];
  });
}
