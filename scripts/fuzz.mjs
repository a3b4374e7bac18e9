/**
 * Readers and steps on texts that nobody would write: sources of the fixtures with pieces taken out, doubled, swapped and
 * put in. Nothing may be thrown, nothing may take longer than ten seconds, and what is proven must parse.
 *
 *   npm run fuzz [-- --minutes N] [--seed S] [--case N]
 *
 * A case is known by its number: `--case` runs that one alone, and prints its text.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { extname, join } from 'node:path';
import { parseArgs } from 'node:util';
import {
  applied,
  candidateRegions,
  extract,
  findRepeats,
  inline,
  isProblem,
  join as joinParts,
  MemoryFiles,
  part,
  Project,
  proposeRegions,
  survey,
  textOf,
  unify,
  loadLanguages,
} from '../dist/core/index.js';
import { nodePorts } from '../dist/node/index.js';
import { random } from './planted.mjs';

await loadLanguages();

const { values } = parseArgs({
  options: {
    minutes: { type: 'string', default: '60' },
    seed: { type: 'string', default: '1' },
    case: { type: 'string' },
  },
});
const SLOW = 10_000;
const sources = readdirSync('test/fixtures', { recursive: true, encoding: 'utf8' })
  .filter((path) => path.includes('/before/') && /\.(?:[jt]sx?|vue|html)$/.test(path))
  .sort()
  .map((path) => ({ path, text: readFileSync(join('test/fixtures', path), 'utf8') }));
const TOKENS = [
  '{',
  '}',
  '(',
  ')',
  '<',
  '>',
  '</',
  '/>',
  '"',
  "'",
  '`',
  '${',
  '{{',
  '}}',
  '=>',
  '=',
  '?',
  ':',
  ';',
  ',',
  '&&',
  '...',
  'v-for="a in b"',
  'v-if="x"',
  ' key={i}',
  '<template>',
  '</template>',
  '<script>',
  '<slot/>',
  '<>',
  '</>',
  'await ',
  'class ',
  'this.',
  'function ',
  'return ',
  'export default ',
  "import x from './x';",
  '\r\n',
  '\u2028',
  '\ud800',
  '\0',
  '<!--',
  '-->',
  '/*',
  '*/',
  '//',
  '<?php',
  '?>',
  'async ',
  'yield ',
  '#',
  '@click="',
  ':a.sync="b"',
  '<Row {...a}>',
];

function mutated(number) {
  const next = random(Number(values.seed) * 1_000_003 + number);
  const pick = (list) => list[Math.floor(next() * list.length)];
  const { path, text } = pick(sources);
  let now = text;
  const at = () => Math.floor(next() * (now.length + 1));
  for (let left = 1 + Math.floor(next() * 4); left > 0; left--) {
    const [a, b] = [at(), at()].sort((x, y) => x - y);
    const end = Math.min(b, a + 1 + Math.floor(next() * 60));
    const kind = Math.floor(next() * 5);
    if (kind === 0) now = now.slice(0, a) + now.slice(end);
    else if (kind === 1) now = now.slice(0, end) + now.slice(a, end) + now.slice(end);
    else if (kind === 2) now = now.slice(0, a) + pick(TOKENS) + now.slice(a);
    else if (kind === 3) {
      const other = pick(sources).text;
      const from = Math.floor(next() * other.length);
      now = now.slice(0, a) + other.slice(from, from + 40) + now.slice(a);
    } else now = now.slice(0, a) + now.slice(end, end + 30) + now.slice(a, end) + now.slice(end + 30);
  }
  return { path, text: now, next };
}

/** Everything that a text can be asked; what went wrong, where something did. */
function trouble(number) {
  const { path, text, next } = mutated(number);
  const name = `src/Fuzzed${extname(path)}`;
  const began = process.cpuUsage();
  let doing = 'reading';
  try {
    const project = new Project(new MemoryFiles({ [name]: text, 'package.json': '{}' }), nodePorts());
    survey(project, {});
    const model = project.model(name);
    doing = 'repeats';
    const repeats = findRepeats(project);
    if (!isProblem(model)) {
      doing = 'propose';
      proposeRegions(project, name, { lines: 10 });
      const regions = candidateRegions(text, [...model.components.flatMap((c) => c.markup), ...model.mounts], 1);
      const region = regions[Math.floor(next() * regions.length)] ?? { start: 0, end: text.length };
      const into = name.endsWith('.html') ? { into: next() < 0.5 ? 'vue' : 'jsx' } : {};
      doing = `extract ${region.start}-${region.end}`;
      parses(project, extract(project, { path: name, range: region, ...into }));
      doing = 'unify';
      if (repeats.groups[0]) parses(project, unify(project, { repeats, repeat: repeats.groups[0], ...into }));
      doing = 'inline';
      const component = model.components.find((c) => c.kind === 'function');
      if (component) parses(project, inline(project, { component: `${name}#${component.name}` }));
      doing = 'join and part';
      parses(project, joinParts(project, name));
      parses(project, part(project, name));
    }
  } catch (error) {
    return `${doing}: ${String(error.stack).split('\n').slice(0, 4).join(' | ')}`;
  }
  const { user, system } = process.cpuUsage(began);
  return (user + system) / 1000 > SLOW ? `${doing} took ${Math.round((user + system) / 1000)} ms` : undefined;
}

/** What is proven the same can be read again. */
function parses(project, result) {
  if (isProblem(result) || result.proof.answer !== 'same') return;
  const after = new Project(applied(project.files, result), project.ports);
  for (const file of result.files) {
    // A script of a page is as broken as the page had it.
    if (/-script(?:-\d+)?\.js$/.test(file.path)) continue;
    if (textOf(after.files, file.path) === undefined || !/\.(?:[jt]sx?|vue|astro)$/.test(file.path)) continue;
    const model = after.model(file.path);
    if (isProblem(model) && model.code !== 'file-empty')
      throw new Error(`${file.path} cannot be read any more: ${model.message}\n${textOf(after.files, file.path)}`);
  }
}

if (values.case !== undefined) {
  const number = Number(values.case);
  console.log(mutated(number).text);
  console.log(trouble(number) ?? 'nothing wrong');
} else {
  const end = Date.now() + Number(values.minutes) * 60_000;
  const found = [];
  let number = 0;
  for (; Date.now() < end; number++) {
    const wrong = trouble(number);
    if (wrong === undefined) continue;
    found.push(wrong);
    console.log(`case ${number}  ${wrong}`);
    if (found.length >= 50) break;
  }
  console.log(
    `${number} texts from ${sources.length} sources, seed ${values.seed}: ${found.length} with something wrong`,
  );
  process.exitCode = found.length > 0 ? 1 : 0;
}
