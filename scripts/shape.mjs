/**
 * The shape of the house in figures: lines by room, circles of files, what is long, and languages named outside of their
 * folders. `npm run shape`; `shapeOf` gives the same as data.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { argv } from 'node:process';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';

/** Longer ones are named. */
const LONG = { file: 400, function: 60 };
/** Words of a language that its folder is to keep to itself; nodes of the form that the proof compares are none. */
const LANGUAGE = /react|preact|vue|jsx|tsx|\bhtml\b|svelte|astro|angular/i;
const FORM = /^(?:JSX|[jJ]sx)[A-Z]\w*$/;

/** `root`: a folder of TypeScript files. */
export function shapeOf(root) {
  const files = new Map(sourcesBelow(root).map((path) => [path, readFile(join(root, path))]));
  const edges = (withTypes) =>
    new Map(
      [...files].map(([path, { imports }]) => [
        path,
        imports
          .filter((i) => withTypes || !i.typeOnly)
          .map((i) => join(dirname(path), i.source).replace(/\.js$/, '.ts'))
          .filter((target) => files.has(target)),
      ]),
    );
  const rooms = new Map();
  for (const [path, { lines }] of files) {
    const room = roomOf(path);
    const { files: count, lines: sum } = rooms.get(room) ?? { files: 0, lines: 0 };
    rooms.set(room, { files: count + 1, lines: sum + lines });
  }
  const longest = (list, least) => list.filter((one) => one.lines > least).sort((x, y) => y.lines - x.lines);
  return {
    rooms: [...rooms].map(([room, counts]) => ({ room, ...counts })).sort((x, y) => (x.room < y.room ? -1 : 1)),
    circles: circlesOf(edges(false)),
    circlesOfTypes: circlesOf(edges(true)),
    longFiles: longest(
      [...files].map(([path, { lines }]) => ({ path, lines })),
      LONG.file,
    ),
    longFunctions: longest(
      [...files].flatMap(([path, { functions }]) => functions.map((f) => ({ path, ...f }))),
      LONG.function,
    ),
    named: [...files]
      .filter(([path]) => !/^core\/languages\/[^/]+\//.test(path))
      .map(([path, { named }]) => ({ path, words: named }))
      .filter(({ words }) => words.length > 0)
      .sort((x, y) => y.words.length - x.words.length),
  };
}

function sourcesBelow(root, folder = '') {
  return readdirSync(join(root, folder), { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    return entry.isDirectory() ? sourcesBelow(root, path) : path.endsWith('.ts') ? [path] : [];
  });
}

/** `core/proof`, `core/languages/vue`, `node`, `cli`. */
function roomOf(path) {
  const parts = path.split('/').slice(0, -1);
  return parts.slice(0, parts[1] === 'languages' ? 3 : parts[0] === 'core' ? 2 : 1).join('/') || '.';
}

function readFile(path) {
  const text = readFileSync(path, 'utf8');
  const source = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  const imports = [];
  const functions = [];
  const named = [];
  const lineOf = (at) => source.getLineAndCharacterOfPosition(at).line + 1;
  const visit = (node) => {
    if (isImport(node)) {
      const typeOnly = ts.isImportDeclaration(node) ? node.importClause?.isTypeOnly === true : node.isTypeOnly;
      if (node.moduleSpecifier.text.startsWith('.')) imports.push({ source: node.moduleSpecifier.text, typeOnly });
    } else if (ts.isIdentifier(node) || ts.isStringLiteralLike(node)) {
      if (LANGUAGE.test(node.text) && !FORM.test(node.text)) named.push(node.text);
    }
    if (ts.isFunctionLike(node) && node.body) {
      const [first, last] = [lineOf(node.getStart()), lineOf(node.end)];
      functions.push({ name: nameOf(node), line: first, lines: last - first + 1 });
    }
    ts.forEachChild(node, visit);
  };
  ts.forEachChild(source, visit);
  return { lines: text.split('\n').length - 1, imports, functions, named };
}

function isImport(node) {
  return (ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) && node.moduleSpecifier !== undefined;
}

function nameOf(node) {
  const named = node.name ?? node.parent.name;
  return named?.getText() ?? (ts.isConstructorDeclaration(node) ? 'constructor' : 'a function');
}

/** Files that reach themselves, in groups: strongly connected components by two walks (Kosaraju). */
function circlesOf(edges) {
  const order = [];
  const seen = new Set();
  const reversed = new Map([...edges.keys()].map((path) => [path, []]));
  for (const [path, targets] of edges) for (const target of targets) reversed.get(target).push(path);
  const walk = (graph, path, left) => {
    if (seen.has(path)) return;
    seen.add(path);
    for (const target of graph.get(path)) walk(graph, target, left);
    left.push(path);
  };
  for (const path of edges.keys()) walk(edges, path, order);
  seen.clear();
  return order
    .reverse()
    .map((path) => {
      const circle = [];
      walk(reversed, path, circle);
      return circle.sort();
    })
    .filter((circle) => circle.length > 1);
}

function print({ rooms, circles, circlesOfTypes, longFiles, longFunctions, named }) {
  const row = (count, text) => console.log(`${String(count).padStart(7)}  ${text}`);
  const some = (list, count, text) => {
    for (const one of list.slice(0, 12)) row(count(one), text(one));
    if (list.length > 12) console.log(`         … ${list.length - 12} more`);
  };
  console.log('lines by room');
  for (const { room, files, lines } of rooms) row(lines, `${room}, ${files} files`);
  row(
    rooms.reduce((sum, room) => sum + room.lines, 0),
    'in all',
  );
  console.log(`\ncircles of files: ${circles.length} at run time, ${circlesOfTypes.length} with imports of types`);
  const inCircle = (circle) => `${circle[0]}${circle.length > 1 ? ` … ${circle[circle.length - 1]}` : ''}`;
  some([...circles, ...circlesOfTypes], (circle) => circle.length, inCircle);
  console.log(`\nfiles of more than ${LONG.file} lines: ${longFiles.length}`);
  some(
    longFiles,
    ({ lines }) => lines,
    ({ path }) => path,
  );
  console.log(`\nfunctions of more than ${LONG.function} lines: ${longFunctions.length}`);
  some(
    longFunctions,
    ({ lines }) => lines,
    ({ path, line, name }) => `${name}  ${path}:${line}`,
  );
  const words = named.reduce((sum, file) => sum + file.words.length, 0);
  console.log(`\nlanguages named outside of their folders: ${words} times in ${named.length} files`);
  some(
    named,
    (file) => file.words.length,
    (file) => `${file.path}  ${[...new Set(file.words)].slice(0, 4).join(' ').replace(/\s+/g, ' ').slice(0, 60)}`,
  );
}

if (argv[1] === fileURLToPath(import.meta.url))
  print(shapeOf(relative('', join(dirname(fileURLToPath(import.meta.url)), '..', 'src'))));
