/**
 * Types of a project, from TypeScript's language service over the files in memory. Made on demand: loading the compiler
 * costs more than everything else that a small step does.
 */
import { join, relative, sep } from 'node:path';
import type TS from 'typescript';
import { textOf, type FileSet } from '../core/files/files.js';
import type { Project } from '../core/project/project.js';
import type { TypeName, TypeOracle, TypeText } from '../core/language/cutting.js';
import type { Span } from '../core/text/edits.js';
import { propsShape, type Shape } from './check/shapes.js';
import { configFor, isDerived } from './type-config.js';
import { originOf, symbolsIn, type Origin } from './type-names.js';
import { REACT_SHIM } from './react-shim.js';
import { VUE_SHIM } from './vue-shim.js';
import { languageOf } from '../core/language/registry.js';
import type { TypedText } from '../core/language/language.js';
import { HOW_TO_GET_TYPESCRIPT, typescriptOf } from './peers.js';
import { nodePorts } from './ports.js';

export interface TypeError {
  readonly path: string;
  /** UTF-16 offset. */
  readonly offset: number;
  readonly code: number;
  readonly message: string;
}

/** Stand-ins for the types of packages that are not installed, by the package. */
const SHIMS = { react: REACT_SHIM, vue: VUE_SHIM } as const;
const SHIM = /__verkstad_(\w+)\.d\.ts$/;

/** Libraries are read once for all projects that are open at a time. */
let shared: TS.DocumentRegistry | undefined;

/** What comments of declarations say is not asked for, and takes long to read. */
const comments = (ts: typeof TS): TS.JSDocParsingMode => ts.JSDocParsingMode.ParseForTypeErrors;

/** The types of a version, near a file of it; undefined where the project has no TypeScript. */
export type TypesOf = (project: Project, near: string) => ProjectTypes | undefined;

export class ProjectTypes implements TypeOracle {
  readonly #ts: typeof TS;
  readonly #root: string;
  readonly #options: TS.CompilerOptions;
  readonly #service: TS.LanguageService;
  readonly #shims: readonly (keyof typeof SHIMS)[];
  readonly #ports = nodePorts();
  readonly #typed = new Map<string, { readonly source: string; readonly typed: TypedText | undefined }>();
  #files: FileSet;
  #version = 0;
  #known: ReadonlySet<string>;
  #changedSince = new Map<string, number>();
  /** Path of the tsconfig that holds, relative to the root; undefined when the project has none. */
  readonly config: string | undefined;

  /**
   * `near` is a project path: the closest `tsconfig.json` above it counts, or the one of its references that has the file.
   * All instances share a registry. Throws where the project has no TypeScript (`typescriptOf`).
   */
  constructor(root: string, files: FileSet, near: string) {
    const ts = typescriptOf(root);
    if (!ts) throw new Error(HOW_TO_GET_TYPESCRIPT);
    this.#ts = ts;
    this.#root = root;
    this.#files = files;
    this.#known = new Set(files.list());
    const { config, parsed } = configFor(ts, root, near) ?? {};
    this.config = config && relative(root, config).split(sep).join('/');
    const defaults: TS.CompilerOptions = {
      strict: true,
      jsx: ts.JsxEmit.ReactJSX,
      target: ts.ScriptTarget.ES2022,
      module: ts.ModuleKind.ESNext,
      moduleResolution: ts.ModuleResolutionKind.Bundler,
      lib: ['lib.es2023.d.ts', 'lib.dom.d.ts', 'lib.dom.iterable.d.ts'],
      esModuleInterop: true,
      types: [],
    };
    this.#options = {
      ...(parsed?.options ?? defaults),
      ...pathsOf(parsed?.options.paths),
      // Settings that say nothing of it are of a project whose build does.
      jsx: parsed?.options.jsx ?? ts.JsxEmit.ReactJSX,
      noEmit: true,
      skipLibCheck: true,
      incremental: false,
      composite: false,
    };
    const packages = Object.keys(SHIMS) as (keyof typeof SHIMS)[];
    // Vue's own types take apart what a ref holds, and the names that the author gave to types are lost on the way.
    const isShimmed = (name: string) =>
      name === 'vue'
        ? isDerived(near)
        : !ts.resolveModuleName(name, join(root, near), this.#options, ts.sys).resolvedModule;
    this.#shims = packages.filter(isShimmed);
    const rootNames = (parsed?.fileNames ?? []).map((f) => f.replaceAll('\\', '/')).filter((f) => !isDerived(f));
    shared ??= ts.createDocumentRegistry(undefined, undefined, comments(ts));
    this.#service = ts.createLanguageService(this.#host(rootNames, join(root, near)), shared);
  }

  /** Looks at other texts from now on; only files that differ are read again. */
  use(files: FileSet, changed: readonly string[]): void {
    this.#files = files;
    this.#known = new Set(files.list());
    this.#version++;
    for (const path of changed) this.#changedSince.set(path, this.#version);
  }

  typeAt(path: string, span: Span): TypeText | undefined {
    const ts = this.#ts;
    this.#include(path);
    const program = this.#service.getProgram();
    const source = program?.getSourceFile(this.#absolute(path));
    const at = this.#spanIn(path, span);
    if (!program || !source || !at) return undefined;
    const node = nodeAt(ts, source, at);
    if (!node) return undefined;
    const checker = program.getTypeChecker();
    return this.#textOf(checker.getTypeAtLocation(node), node, source, checker);
  }

  /** What is wanted of a value at this place: the parameter or attribute that it is for, or what it is compared with. */
  expectedAt(path: string, span: Span): TypeText | undefined {
    const ts = this.#ts;
    this.#include(path);
    const program = this.#service.getProgram();
    const source = program?.getSourceFile(this.#absolute(path));
    const at = this.#spanIn(path, span);
    const node = source && at && nodeAt(ts, source, at);
    if (!program || !source || !node || !ts.isExpression(node)) return undefined;
    const checker = program.getTypeChecker();
    const { parent } = node;
    const compared = ts.isBinaryExpression(parent) ? (parent.left === node ? parent.right : parent.left) : undefined;
    const type = compared ? checker.getTypeAtLocation(compared) : checker.getContextualType(node);
    return type && this.#textOf(type, node, source, checker);
  }

  #textOf(given: TS.Type, node: TS.Node, source: TS.SourceFile, checker: TS.TypeChecker): TypeText | undefined {
    const ts = this.#ts;
    let type = given;
    if (type.isLiteral() || type.flags & ts.TypeFlags.BooleanLiteral) type = checker.getBaseTypeOfLiteralType(type);
    // An unresolved import gives a type that only looks like one.
    if (type.flags & ts.TypeFlags.Any) return undefined;
    const text = checker.typeToString(
      type,
      node,
      ts.TypeFormatFlags.NoTruncation |
        ts.TypeFormatFlags.UseAliasDefinedOutsideCurrentScope |
        ts.TypeFormatFlags.UseSingleQuotesForStringLiteralType |
        ts.TypeFormatFlags.WriteArrowStyleSignature,
    );
    if (text.length > 600 || /\.\.\.\s+\d+ more/.test(text)) return undefined;
    // The global `React` of the type package is for scripts; a module imports what it names.
    const global = !/^import\b[^;]*\bReact\b/m.test(source.text);
    return this.#named(global ? text.replace(/\bReact\.(?=[A-Z])/g, `import("react").`) : text, type, node, checker);
  }

  /** Errors that the files at `paths` have, syntax and types. */
  errors(paths: readonly string[]): TypeError[] {
    const ts = this.#ts;
    // Errors in derived text have no place that a person could look at.
    return paths
      .filter((path) => !isDerived(path))
      .flatMap((path) => {
        const at = this.#absolute(path);
        this.#include(path);
        if (!this.#service.getProgram()?.getSourceFile(at)) return [];
        return [...this.#service.getSyntacticDiagnostics(at), ...this.#service.getSemanticDiagnostics(at)]
          .filter((d) => d.category === ts.DiagnosticCategory.Error)
          .map((d) => ({
            path,
            offset: d.start ?? 0,
            code: d.code,
            message: ts.flattenDiagnosticMessageText(d.messageText, ' '),
          }));
      });
  }

  /** What the component `name` of a file takes; undefined where its type is not known. */
  propsOf(path: string, name: string): Shape | undefined {
    this.#include(path);
    const program = this.#service.getProgram();
    const source = program?.getSourceFile(this.#absolute(path));
    return program && source && propsShape(this.#ts, program.getTypeChecker(), source, name);
  }

  /** Whether `errors` looks into a file. */
  checks(path: string): boolean {
    return !isDerived(path);
  }

  dispose(): void {
    this.#service.dispose();
  }

  /** A file that the tsconfig does not name is looked at all the same when it is asked for. */
  #include(path: string): void {
    if ((/\.[cm]?tsx?$/.test(path) || isDerived(path)) && !this.#changedSince.has(path))
      this.#changedSince.set(path, this.#version);
  }

  #absolute(path: string): string {
    return `${this.#root.split(sep).join('/')}/${path}${isDerived(path) ? '.ts' : ''}`;
  }

  /** What the type checker reads of a file that is no script. */
  #typedText(path: string): TypedText | undefined {
    const source = textOf(this.#files, path);
    if (source === undefined) return undefined;
    const known = this.#typed.get(path);
    if (known?.source === source) return known.typed;
    const typed = languageOf(path)?.typed?.({ path, text: source }, this.#ports);
    this.#typed.set(path, { source, typed });
    return typed;
  }

  #spanIn(path: string, span: Span): Span | undefined {
    return isDerived(path) ? this.#typedText(path)?.at(span) : span;
  }

  #projectPath(absolute: string): string | undefined {
    const root = `${this.#root.split(sep).join('/')}/`;
    if (!absolute.startsWith(root)) return undefined;
    const path = absolute.slice(root.length);
    const behind = path.slice(0, -'.ts'.length);
    return path.endsWith('.ts') && isDerived(behind) ? behind : path;
  }

  /** A folder may exist only in memory. */
  #holdsFiles(dir: string): boolean {
    const path = this.#projectPath(dir);
    return (
      path !== undefined && [...this.#changedSince.keys()].some((p) => this.#known.has(p) && p.startsWith(`${path}/`))
    );
  }

  #host(rootNames: readonly string[], near: string): TS.LanguageServiceHost {
    const ts = this.#ts;
    const text = (file: string): string | undefined => {
      const shim = SHIM.exec(file)?.[1];
      if (shim !== undefined && shim in SHIMS) return SHIMS[shim as keyof typeof SHIMS];
      const path = this.#projectPath(file);
      if (path !== undefined && isDerived(path)) return this.#typedText(path)?.text ?? 'export default {} as any;';
      if (path !== undefined && (this.#known.has(path) || this.#changedSince.has(path)))
        return textOf(this.#files, path);
      return ts.sys.readFile(file);
    };
    const exists = (file: string): boolean => {
      const path = this.#projectPath(file);
      if (path !== undefined && this.#known.has(path)) return true;
      if (path !== undefined && this.#changedSince.has(path)) return false;
      return ts.sys.fileExists(file);
    };
    return {
      jsDocParsingMode: comments(ts),
      getCompilationSettings: () => this.#options,
      getScriptFileNames: () => {
        const changed = [...this.#changedSince.keys()]
          .filter((p) => (/\.[cm]?tsx?$/.test(p) || isDerived(p)) && this.#known.has(p))
          .map((p) => this.#absolute(p));
        const shims = this.#shims.map((name) => this.#absolute(`__verkstad_${name}.d.ts`));
        const first = isDerived(near) ? [] : [near.split(sep).join('/')];
        return [...new Set([...rootNames.filter(exists), ...first, ...changed, ...shims])];
      },
      getScriptVersion: (file) => String(this.#changedSince.get(this.#projectPath(file) ?? '') ?? 0),
      getScriptSnapshot: (file) => {
        const content = text(file);
        return content === undefined ? undefined : ts.ScriptSnapshot.fromString(content);
      },
      getCurrentDirectory: () => this.#root,
      getDefaultLibFileName: (options) => ts.getDefaultLibFilePath(options),
      fileExists: exists,
      readFile: text,
      readDirectory: (...args) => ts.sys.readDirectory(...args),
      directoryExists: (dir) => ts.sys.directoryExists(dir) || this.#holdsFiles(dir),
      getDirectories: (dir) => ts.sys.getDirectories(dir),
    };
  }

  /** Turns `import("…").X` into a plain name, and finds where every name comes from; undefined when one cannot be had. */
  #named(text: string, type: TS.Type, node: TS.Node, checker: TS.TypeChecker): TypeText | undefined {
    const ts = this.#ts;
    const names = new Map<string, TypeName>();
    const plain = text.replace(
      /(typeof )?import\((["'])([^"']+)\2\)\.([A-Za-z_$][\w$]*)/g,
      (_, query: string | undefined, _q: string, from: string, name: string) => {
        names.set(name, {
          name,
          from: this.#place(/^(?:[a-zA-Z]:)?\//.test(from) ? { file: from } : { module: from }),
        });
        return (query ?? '') + name;
      },
    );
    const inScope = new Set(
      checker
        .getSymbolsInScope(node, ts.SymbolFlags.Type | ts.SymbolFlags.Namespace | ts.SymbolFlags.Value)
        .map((s) => s.name),
    );
    let symbols: Map<string, TS.Symbol> | undefined;
    for (const name of this.#leftmostNames(plain)) {
      if (names.has(name)) continue;
      if (inScope.has(name)) {
        names.set(name, { name, from: 'here' });
        continue;
      }
      symbols ??= symbolsIn(ts, checker, type);
      const symbol = symbols.get(name);
      const origin = symbol && originOf(checker, symbol);
      if (!origin) return undefined;
      names.set(name, { name, from: this.#place(origin) });
    }
    return { text: plain.replace(/\n\s*/g, ' ').replace(/; \}/g, ' }'), names: [...names.values()] };
  }

  #place(origin: Origin): { readonly module: string } | { readonly path: string } {
    if ('module' in origin) return { module: packageOf(origin.module) };
    const path = this.#sourcePath(origin.file);
    return path === undefined ? { module: packageOf(origin.file) } : { path };
  }

  #sourcePath(absolute: string): string | undefined {
    if (absolute.includes('/node_modules/')) return undefined;
    const path = this.#projectPath(absolute);
    if (path === undefined || this.#known.has(path)) return path;
    return ['.tsx', '.ts', '.d.ts', '.jsx', '.js', '/index.ts', '/index.tsx', '']
      .map((e) => path + e)
      .find((p) => this.#known.has(p));
  }

  #leftmostNames(text: string): string[] {
    const ts = this.#ts;
    const source = ts.createSourceFile('type.ts', `type T = ${text};`, ts.ScriptTarget.Latest, true);
    const names: string[] = [];
    const visit = (node: TS.Node): void => {
      const entity = ts.isTypeReferenceNode(node)
        ? node.typeName
        : ts.isTypeQueryNode(node)
          ? node.exprName
          : undefined;
      if (entity) {
        let left: TS.EntityName = entity;
        while (ts.isQualifiedName(left)) left = left.left;
        names.push(left.text);
      }
      node.forEachChild(visit);
    };
    source.statements[0]?.forEachChild((child) => {
      if (!ts.isIdentifier(child)) visit(child);
    });
    return names;
  }
}

function packageOf(from: string): string {
  const inside = /node_modules\/(?:@types\/)?((?:@[^/]+\/)?[^/]+)/.exec(from)?.[1] ?? from;
  return inside.includes('__') && !inside.startsWith('@') ? `@${inside.replace('__', '/')}` : inside;
}

/** The outermost node that takes up exactly this span. */
function nodeAt(ts: typeof TS, source: TS.SourceFile, span: Span): TS.Node | undefined {
  let found: TS.Node | undefined;
  const visit = (node: TS.Node): void => {
    if (found || node.getStart(source) > span.start || node.end < span.end) return;
    if (node.getStart(source) === span.start && node.end === span.end && !ts.isJsxAttribute(node)) {
      found = node;
      return;
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  // An annotated name is a node of its own inside its declaration.
  return found;
}

/** A module that cannot be found, or has no types: one more import of it is no other fault. */
const OF_MODULES = new Set([2307, 2792, 7016]);

/** Errors of `after` that `before` did not have: compared by code and message, since places move. */
export function newErrors(before: readonly TypeError[], after: readonly TypeError[]): TypeError[] {
  const counts = new Map<string, number>();
  const key = (e: TypeError) => `${e.code} ${e.message}`;
  for (const error of before) counts.set(key(error), (counts.get(key(error)) ?? 0) + 1);
  return after.filter((error) => {
    if (OF_MODULES.has(error.code) && counts.has(key(error))) return false;
    const left = counts.get(key(error)) ?? 0;
    counts.set(key(error), left - 1);
    return left <= 0;
  });
}

/** The compiler takes lists of patterns for granted where it looks a specifier up, and checks nothing. */
function pathsOf(paths: unknown): { paths?: Record<string, string[]> } {
  if (paths === undefined) return {};
  const entries = typeof paths === 'object' && paths !== null ? Object.entries(paths) : [];
  const isList = (value: unknown): value is string[] =>
    Array.isArray(value) && value.every((v) => typeof v === 'string');
  return { paths: Object.fromEntries(entries.filter((entry): entry is [string, string[]] => isList(entry[1]))) };
}
