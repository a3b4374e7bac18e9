/** Writes docs/problems.md from the catalogue of problems; with --check it fails where the page is not current. */
import { readFileSync, writeFileSync } from 'node:fs';
import * as prettier from 'prettier';
import { problem, problemCodes } from '../dist/core/problems/problems.js';

const PAGE = new URL('../docs/problems.md', import.meta.url);
const source = readFileSync(new URL('../src/core/problems/problems.ts', import.meta.url), 'utf8');

/** What stands for an argument: its name, or something of its type. */
function standIn(parameter) {
  const [, name, type = 'string'] = /^\s*(\w+)\??(?:: (.*))?$/s.exec(parameter) ?? [];
  if (/number/.test(type)) return /bytes|limit/.test(name) ? 5_000_000 : 3;
  if (/\[\]/.test(type)) return [`‹${name}›`, '…'];
  const literal = /^'([^']+)'/.exec(type)?.[1];
  return literal ?? `‹${name}›`;
}

function argumentsOf(code) {
  const at = source.indexOf(`\n  '${code}': (`);
  const list = source
    .slice(at, source.indexOf('=>', at))
    .replace(/^[^(]*\(/, '')
    .replace(/\)\s*$/, '');
  return list.trim() === ''
    ? []
    : list
        .split(/,(?![^[<(]*[\])>])/)
        .filter((p) => p.trim())
        .map(standIn);
}

const sections = [...problemCodes].sort().map((code) => {
  const { message, instead } = problem(code, { path: '' }, ...argumentsOf(code));
  return [
    `## ${code}`,
    '',
    `> ${message.replace(/[<>*_|]/g, '\\$&')}`,
    '',
    ...instead.map((way) => `- ${way.replace(/[<>*_|]/g, '\\$&')}`),
    '',
  ];
});
const text = [
  '# Problems',
  '',
  'Everything that Verkstad says about a project or a request has a code that stays, a place, and ways out, best first. This page is made from the catalogue',
  '(`npm run problems`); what stands in ‹ › is filled in.',
  '',
  ...sections.flat(),
].join('\n');
const written = await prettier.format(text, { ...(await prettier.resolveConfig(PAGE.pathname)), parser: 'markdown' });
if (!process.argv.includes('--check')) writeFileSync(PAGE, written);
else if (readFileSync(PAGE, 'utf8') !== written) {
  console.error('docs/problems.md is not what the catalogue says: npm run problems');
  process.exit(1);
}
