/** Writes the table in docs/languages.md from what the registered languages say of themselves; with --check it fails where it is not current. */
import { readFileSync, writeFileSync } from 'node:fs';
import { CAPABILITIES, languages, loadLanguages } from '../dist/core/index.js';

await loadLanguages();

/** What a person asks for, by what the code calls it. */
const ASKED = {
  cut: 'a region becomes a component (`extract`, `propose`, plans)',
  dissolve: 'a function that gives markup back becomes a component, and is gone (`extract FILE:NAME`)',
  apart: 'all that a component shows leaves what it knows (`extract FILE:COMPONENT`)',
  unify: 'what repeats becomes one component (`unify`)',
  list: 'siblings become a list (`unify --as-list`)',
  frame: 'pages get one layout (`frame`)',
  logic: 'what logic repeats becomes a function (`unify`)',
  hook: 'logic of a component becomes a hook or composable (`hook`)',
  module: 'requests, calculations and constants leave for a module (`module`)',
  function: 'a component that is a class becomes a function (`function`)',
  forms: 'a component for each form of one that asks the same in many places (`forms`)',
  home: 'state goes down to the component that needs it (`home`)',
  raise: 'and up to one that shows it (`home --in`)',
  through: 'what a component only hands on goes through it as content (`through`)',
  inputs: 'inputs that nobody hands over, or everybody alike, go (`inputs`)',
  inline: 'a component goes back (`inline`)',
  join: 'template and script in one file, or apart (`join`, `part`)',
  page: 'its files are pages (`--into`)',
  styles: 'scoped rules follow their markup',
  types: 'inputs have types',
  render: 'both versions rendered (`check --level render`)',
};
const at = new URL('../docs/languages.md', import.meta.url);
const list = languages();
const row = (cells) => `| ${cells.join(' | ')} |`;
const notes = [];
const cell = (language, capability) => {
  const why = language.lacks[capability];
  if (why === undefined) return 'yes';
  notes.push(why);
  return `no: ${why}`;
};
const table = [
  row(['', ...list.map((l) => l.label)]),
  row(['---', ...list.map(() => '---')]),
  row(['survey, tree, repeats', ...list.map(() => 'yes')]),
  ...CAPABILITIES.map((c) => row([ASKED[c], ...list.map((l) => cell(l, c))])),
].join('\n');
const text = readFileSync(at, 'utf8');
const written = text.replace(/(<!-- table -->\n)[\s\S]*?(\n<!-- end -->)/, (_, head, tail) => head + table + tail);
if (!process.argv.includes('--check')) writeFileSync(at, written);
else if (text !== written) {
  console.error('docs/languages.md is not current: run npm run languages');
  process.exitCode = 1;
}
