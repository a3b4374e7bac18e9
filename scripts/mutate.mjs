/**
 * How well the proof is guarded: conditions of `src/core/proof/` are taken out one at a time, and the tests of the proof
 * are run on what is left. What no test notices is printed.
 *
 *   npm run mutate [-- --sample N] [--seed S] [--only FILE] [--list]
 *
 * Taken out: a condition that ends in a mismatch, each part of one that is put together, and a check that is called for
 * nothing but its mismatch. The tests read the sources with the change laid over them; no file is written.
 */
import { spawn } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import ts from 'typescript';
import { random } from './planted.mjs';

const { values } = parseArgs({
  options: {
    sample: { type: 'string' },
    seed: { type: 'string', default: '1' },
    only: { type: 'string' },
    list: { type: 'boolean', default: false },
  },
});
const FOLDER = 'src/core/proof/';
const TESTS = ['proof', 'proof-codes', 'proof-vue', 'proof-unify'].map((name) => `test/${name}.test.ts`);
const LANES = 2;

/** Every change: `{ path, start, end, text, line, what }`. */
function mutants() {
  return readdirSync(FOLDER)
    .filter((name) => name.endsWith('.ts') && (!values.only || name === values.only))
    .flatMap((name) => mutantsIn(FOLDER + name));
}

function mutantsIn(path) {
  const text = readFileSync(path, 'utf8');
  const file = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  const found = [];
  const add = (node, replacement, what) => {
    const start = node.getStart();
    const { line } = file.getLineAndCharacterOfPosition(start);
    found.push({ path, start, end: node.end, text: replacement, line: line + 1, what });
  };
  const operands = (node, operator) =>
    ts.isBinaryExpression(node) && node.operatorToken.kind === operator
      ? [...operands(node.left, operator), ...operands(node.right, operator)]
      : ts.isParenthesizedExpression(node)
        ? operands(node.expression, operator)
        : [node];
  const visit = (node) => {
    if (ts.isIfStatement(node) && endsInMismatch(node.thenStatement)) {
      add(node.expression, 'false', node.expression.getText());
      const either = operands(node.expression, ts.SyntaxKind.BarBarToken);
      if (either.length > 1) for (const part of either) add(part, 'false', part.getText());
    }
    if (ts.isExpressionStatement(node) && isCheck(node.expression)) add(node, ';', node.getText());
    ts.forEachChild(node, visit);
  };
  visit(file);
  return found;
}

/** A branch that throws a mismatch, or says that the two sides differ, before anything else. */
function endsInMismatch(statement) {
  const first = ts.isBlock(statement) ? statement.statements[0] : statement;
  return (
    first !== undefined && /^(?:throw new Mismatch|this\.differ\(|return this\.differ\(|fail\(\))/.test(first.getText())
  );
}

/** A call whose only use is that it may end in a mismatch. */
function isCheck(expression) {
  return (
    ts.isCallExpression(expression) &&
    /^(?:this\.#?(?:code|keys|tags|names|callee|sameThis|attributes|bindings|checkGone|meanings|shown|statement|sink|check\w*|declaration|state|eager|order|keyedChoice|countedHandler|elements|items?|children|functions|bodies|others|module)|check\w*|this\.surroundings\.\w+)$/.test(
      expression.expression.getText(),
    )
  );
}

function isNoticed(mutant) {
  return new Promise((resolve) => {
    const env = { ...process.env, MUTANT: JSON.stringify(mutant), VERKSTAD_QUIET: '1' };
    const child = spawn('npx', ['vitest', 'run', '--bail', '1', '--config', 'scripts/mutate.config.mjs', ...TESTS], {
      env,
    });
    const limit = setTimeout(() => child.kill('SIGKILL'), 120_000);
    child.on('exit', (code) => {
      clearTimeout(limit);
      resolve(code !== 0);
    });
    child.stdout.resume();
    child.stderr.resume();
  });
}

const all = mutants();
const next = random(Number(values.seed));
const chosen =
  values.sample === undefined
    ? all
    : all
        .map((m) => ({ m, at: next() }))
        .sort((a, b) => a.at - b.at)
        .slice(0, Number(values.sample))
        .map(({ m }) => m);
if (values.list) {
  for (const m of all) console.log(`${m.path}:${m.line}  ${m.what.replace(/\s+/g, ' ').slice(0, 100)}`);
  process.exit(0);
}
if (await isNoticed({ path: 'none', start: 0, end: 0, text: '' })) {
  console.error('the tests of the proof fail as they are: mend that first');
  process.exit(2);
}
const missed = [];
let at = 0;
const lane = async () => {
  while (at < chosen.length) {
    const mutant = chosen[at++];
    if (!(await isNoticed(mutant))) missed.push(mutant);
  }
};
await Promise.all(Array.from({ length: LANES }, lane));
const share = Math.round((1000 * (chosen.length - missed.length)) / Math.max(1, chosen.length)) / 10;
console.log(
  `${chosen.length} of ${all.length} conditions taken out one by one: ${chosen.length - missed.length} noticed (${share} %)`,
);
for (const m of missed) console.log(`not noticed  ${m.path}:${m.line}  ${m.what.replace(/\s+/g, ' ').slice(0, 120)}`);
process.exitCode = share >= 95 ? 0 : 1;
