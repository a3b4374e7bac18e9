/**
 * What good developers called the parts of their pages, and what Verkstad would call them: `npm run bench:names -- DIR
 * [--half 1|2] [--show]`.
 *
 * In every project of DIR, each component that another one shows at one place only, from a file of its own, is named anew as
 * if its markup still stood in that place: by what it shows, and by the loop, the condition and the comment around its use.
 * The developer's name is only compared. A name is good where it is that name, or says the same words beside those of the
 * host; near where half of the words of the longer one are in both; else poor. --half takes half of the packages, by the
 * fingerprint of their names: one to look at, one to hold back.
 */
import { existsSync, readdirSync, statSync } from 'node:fs';
import { basename, join } from 'node:path';
import { parseArgs } from 'node:util';
import {
  fingerprint,
  isOthers,
  isProblem,
  Project,
  survey,
  textOf,
  usesOf,
  loadLanguages,
} from '../dist/core/index.js';
import { regionOf } from '../dist/core/markup/region.js';
import { proposeNames } from '../dist/core/propose/names.js';
import { Surroundings } from '../dist/core/propose/naming.js';
import { DiskFiles, nodePorts } from '../dist/node/index.js';

await loadLanguages();

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { show: { type: 'boolean', default: false }, half: { type: 'string' } },
});
const root = positionals[0];
if (!root || !existsSync(root)) {
  console.error('usage: npm run bench:names -- DIR [--half 1|2] [--show]');
  process.exit(2);
}

/** Lines of a part: less is hardly worth a name, more is a page. */
const LEAST = 8;
const MOST = 250;

const KINDS = ['good', 'near', 'poor'];
const total = { good: 0, near: 0, poor: 0 };
console.log('| package | parts | good | near | poor |\n| --- | ---: | ---: | ---: | ---: |');
for (const dir of packagesIn(root).filter(isOfHalf)) {
  const sums = { good: 0, near: 0, poor: 0 };
  for (const { wanted, host, name, path } of partsOf(new Project(new DiskFiles(dir), nodePorts()))) {
    const said = nameClass(name, wanted, host);
    sums[said]++;
    if (values.show && said !== 'good')
      console.log(`  ${said} ${name} for ${wanted} in ${host}  ${basename(dir)}/${path}`);
  }
  for (const kind of KINDS) total[kind] += sums[kind];
  if (KINDS.some((kind) => sums[kind] > 0)) console.log(row(basename(dir), sums));
}
console.log(row('all', total));

function row(name, sums) {
  const parts = KINDS.reduce((n, kind) => n + sums[kind], 0);
  const share = (n) => (parts === 0 ? '–' : `${n} (${Math.round((100 * n) / parts)} %)`);
  return `| ${name} | ${parts} | ${KINDS.map((kind) => share(sums[kind])).join(' | ')} |`;
}

function packagesIn(dir) {
  if (existsSync(join(dir, 'package.json'))) return [dir];
  return readdirSync(dir)
    .sort()
    .map((name) => join(dir, name))
    .filter((path) => statSync(path).isDirectory())
    .flatMap((path) => (existsSync(join(path, 'package.json')) ? [path] : packagesIn(path)));
}

function isOfHalf(dir) {
  return (
    values.half === undefined || (parseInt(fingerprint(basename(dir)).slice(0, 4), 36) % 2) + 1 === Number(values.half)
  );
}

function partsOf(project) {
  const parts = [];
  for (const { id, path, component } of survey(project).graph.nodes.values()) {
    const text = textOf(project.files, path) ?? '';
    if (isOthers(path, text)) continue;
    const uses = usesOf(project, { id });
    if (uses.length !== 1 || uses[0].path === path) continue;
    const [use] = uses;
    const made = modelOf(project, path, component.name);
    const hostFile = project.source(use.path);
    const hostModel = project.model(use.path);
    if (!made || made.markup.length === 0 || isProblem(hostFile) || isProblem(hostModel)) continue;
    const height = text.slice(made.start, made.end).split('\n').length;
    if (height < LEAST || height > MOST) continue;
    const host = hostModel.components
      .filter((c) => c.start <= use.span.start && c.end >= use.span.end)
      .sort((a, b) => a.end - a.start - (b.end - b.start))[0];
    if (!host) continue;
    // What it shows in the end; what it shows instead while it waits is no part of it.
    const shown = regionOf([
      made.markup.filter((n) => n.kind !== 'comment' && n.kind !== 'text').at(-1) ?? made.markup[0],
    ]);
    const at = { ...use.span, nodes: [] };
    const { comment, condition, loop, host: hostName } = new Surroundings(project, hostFile).hints(at, host);
    const around = { comment, loop, ...(condition === undefined ? {} : { condition }) };
    const [name] = proposeNames(shown.nodes, { ...around, text, host: hostName, alone: true });
    parts.push({ wanted: component.name, host: hostName, name, path });
  }
  return parts;
}

function modelOf(project, path, name) {
  const model = project.model(path);
  return isProblem(model) ? undefined : model.components.find((c) => c.name === name);
}

function wordsOf(name) {
  return name.match(/[A-Z]+(?![a-z])|[A-Z][a-z\d]*|[a-z\d]+/g)?.map((word) => word.toLowerCase()) ?? [name];
}

function nameClass(name, wanted, host) {
  if (name === wanted) return 'good';
  const around = wordsOf(host);
  const own = (words) => {
    const left = words.filter((word) => !around.includes(word));
    return left.length > 0 ? left : words;
  };
  const [said, meant] = [own(wordsOf(name)), own(wordsOf(wanted))];
  if (said.join() === meant.join()) return 'good';
  const both = said.filter((word) => meant.includes(word)).length;
  return both * 2 >= Math.max(said.length, meant.length) ? 'near' : 'poor';
}
