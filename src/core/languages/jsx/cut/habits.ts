/** How the project writes its components: measured from the host's file, so that new files follow. */
import type { TSESTree } from '@typescript-eslint/types';
import type { FileSet } from '../../../files/files.js';
import type { Program } from '../../../script/parser.js';
import { isFunction } from '../../../script/walk.js';
import { indentUnitOf, lineEndOf } from '../../../text/layout.js';
import { formattingOf, type Formatting } from '../../formatting.js';
import { isTyped } from '../source.js';
import type { Scene } from './scene.js';

export interface Habits {
  readonly semi: string;
  readonly quote: "'" | '"';
  readonly jsxQuote: "'" | '"';
  readonly indent: string;
  readonly lineEnd: string;
  readonly typed: boolean;
  readonly arrow: boolean;
  readonly defaultExport: boolean;
  readonly typeKeyword: 'interface' | 'type';
  /** Separator of members in a type. */
  readonly memberEnd: ';' | ',' | '';
  readonly width: number;
  readonly trailingComma: boolean;
  /** What stands inside the braces of records: a space, or nothing. */
  readonly pad: ' ' | '';
  /** What stands inside the braces of attributes, and inside of parentheses. */
  readonly inner: ' ' | '';
}

/** A file is asked once for every region that is cut out of it in memory, and reads the same each time. */
const known = new WeakMap<Program, Habits>();

/** The habits of the file of a region. */
export function habitsIn({ request, text, script, dialect }: Scene): Habits {
  const { path } = request.file;
  return habitsOf(path, text, script.program, request.project.files, dialect.typed(path));
}

export function habitsOf(
  path: string,
  text: string,
  program: Program,
  files: FileSet,
  typed: boolean = isTyped(path),
): Habits {
  let habits = known.get(program);
  if (!habits) known.set(program, (habits = readHabits(text, program, formattingOf(files, path), typed)));
  return habits;
}

function readHabits(text: string, program: Program, said: Formatting, typed: boolean): Habits {
  const body = program.body;
  const count = (pattern: RegExp) => (text.match(pattern) ?? []).length;
  const statements = body.filter(
    (s) => s.type === 'ImportDeclaration' || s.type === 'VariableDeclaration' || s.type === 'ExpressionStatement',
  );
  const withSemi = statements.filter((s) => text[s.range[1] - 1] === ';').length;
  const imports = body
    .filter((s) => s.type === 'ImportDeclaration')
    .map((s) => text.slice(s.source.range[0], s.source.range[0] + 1));
  const single = imports.length
    ? imports.filter((q) => q === "'").length * 2 >= imports.length
    : count(/(?<!=)'[^'\n]*'/g) >= count(/(?<!=)"[^"\n]*"/g);
  return {
    semi: said.semi ?? (statements.length === 0 || withSemi * 2 >= statements.length ? ';' : ''),
    quote: said.quote ?? (single ? "'" : '"'),
    jsxQuote: said.jsxQuote ?? (count(/=\s*'/g) > count(/=\s*"/g) && count(/\w='/g) > count(/\w="/g) ? "'" : '"'),
    indent: indentUnitOf(text),
    lineEnd: lineEndOf(text),
    typed,
    arrow: prefersArrow(body),
    defaultExport: prefersDefault(body),
    typeKeyword:
      count(/^(?:export )?type \w+Props\b/gm) > count(/^(?:export )?interface \w+Props\b/gm) ? 'type' : 'interface',
    pad: said.pad ?? (count(/import [^'"]*\{\S/g) > count(/import [^'"]*\{ /g) ? '' : ' '),
    inner: count(/=\{ \S/g) > count(/=\{\S/g) ? ' ' : '',
    memberEnd:
      /interface \w+[^{]*\{[^}]*,\s*\n[^}]*\}/.test(text) && !/interface \w+[^{]*\{[^}]*;/.test(text)
        ? ','
        : said.semi === '' || /interface \w+[^{]*\{\s*\n[^}]*[^;,{\s][ \t]*\r?\n\}/.test(text)
          ? ''
          : ';',
    width: said.width ?? Math.min(120, Math.max(80, longestUsualLine(text))),
    trailingComma:
      said.trailingComma ?? (count(/,\s*\n\s*[})\]]/g) > 0 || !/\n\s*[\w.]+\s*\n\s*\}\s*(?:from|=|\))/.test(text)),
  };
}

/** Nearly all lines are at most this long. */
function longestUsualLine(text: string): number {
  const lengths = text
    .split('\n')
    .map((line) => line.length)
    .filter((n) => n > 40)
    .sort((a, b) => a - b);
  return lengths[Math.floor(lengths.length * 0.995)] ?? 80;
}

function prefersArrow(body: readonly TSESTree.ProgramStatement[]): boolean {
  let arrows = 0;
  let declarations = 0;
  for (const statement of body) {
    const node =
      statement.type === 'ExportNamedDeclaration' || statement.type === 'ExportDefaultDeclaration'
        ? statement.declaration
        : statement;
    if (node?.type === 'FunctionDeclaration' && /^[A-Z]/.test(node.id?.name ?? 'X')) declarations++;
    if (node?.type === 'VariableDeclaration') {
      for (const d of node.declarations) {
        if (d.init && isFunction(d.init) && d.id.type === 'Identifier' && /^[A-Z]/.test(d.id.name)) arrows++;
      }
    }
  }
  return arrows > declarations;
}

function prefersDefault(body: readonly TSESTree.ProgramStatement[]): boolean {
  const hasDefault = body.some((s) => s.type === 'ExportDefaultDeclaration') || body.some(isModuleExports);
  const named = body.some(
    (s) =>
      s.type === 'ExportNamedDeclaration' &&
      s.declaration &&
      ((s.declaration.type === 'FunctionDeclaration' && /^[A-Z]/.test(s.declaration.id?.name ?? '')) ||
        (s.declaration.type === 'VariableDeclaration' &&
          s.declaration.declarations.some((d) => d.id.type === 'Identifier' && /^[A-Z][a-z]/.test(d.id.name)))),
  );
  return hasDefault && !named;
}

export function isModuleExports(statement: TSESTree.ProgramStatement): boolean {
  if (statement.type !== 'ExpressionStatement' || statement.expression.type !== 'AssignmentExpression') return false;
  const left = statement.expression.left;
  return left.type === 'MemberExpression' && left.object.type === 'Identifier' && left.object.name === 'module';
}
