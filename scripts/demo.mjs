/** The main job on demo data: a copy of the demo app is surveyed, its repeats made one, cut, proven, checked, put back. */
import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdtempSync, readFileSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const home = fileURLToPath(new URL('..', import.meta.url));
const cli = join(home, 'dist', 'cli', 'bin.js');
const color = process.stdout.isTTY ? 'always' : 'never';
const folder = mkdtempSync(join(tmpdir(), 'verkstad-demo-'));
let work;
copied('apiary-react');
if (existsSync(join(home, 'node_modules'))) symlinkSync(join(home, 'node_modules'), join(work, 'node_modules'), 'dir');

function copied(example) {
  work = join(folder, example);
  const filter = (path) => !/node_modules|dist/.test(path.slice(home.length));
  cpSync(join(home, 'examples', example), work, { recursive: true, filter });
}

function verkstad(...args) {
  const bold = color === 'always' ? ['\u001b[1m', '\u001b[0m'] : ['', ''];
  console.log(`\n${bold[0]}$ verkstad ${args.join(' ')}${bold[1]}`);
  const { status } = spawnSync(process.execPath, [cli, ...args, '--color', color], { cwd: work, stdio: 'inherit' });
  if (status !== 0) {
    console.error(`the demo stopped: exit code ${status}`);
    process.exitCode = 1;
    throw new Error('demo');
  }
}

/** First and last line of the text between two marks, so that the demo follows the file. */
function lines(from, to) {
  const text = readFileSync(join(work, 'src/App.tsx'), 'utf8').split('\n');
  const first = text.findIndex((line) => line.includes(from));
  const last = text.findIndex((line, i) => i >= first && line.includes(to));
  return `src/App.tsx:${first + 1}-${last + 1}`;
}

/** The id of the repeat that would be called so. */
function repeat(name) {
  const { stdout } = spawnSync(process.execPath, [cli, 'repeats', '--json'], { cwd: work, encoding: 'utf8' });
  return JSON.parse(stdout).groups.find((group) => group.name === name).id;
}

try {
  console.log(`A copy of examples/apiary-react, in ${work}`);
  verkstad('survey');
  verkstad('repeats');
  verkstad('frame', repeat('PageLayout'));
  verkstad('unify', repeat('ApiaryCard'));
  verkstad('unify', repeat('TabPanel'));
  verkstad('unify', repeat('Dialog'), '--name', 'ConfirmDialog');
  const row = lines('<li key={inspection.id} className="inspection">', '</li>');
  verkstad('extract', row, '--dry-run');
  verkstad('extract', row);
  verkstad('extract', lines('<header className="page-header">', '</header>'));
  verkstad('survey');
  verkstad('tree', 'src/App.tsx');
  verkstad('undo', '1');
  verkstad('propose');
  verkstad('propose', 'src/App.tsx', '--alternatives');
  verkstad('apply', 'all', '--no-types');
  verkstad('home', 'App', 'mites', 'miteDays', '--new-lifetime', '--no-types');
  verkstad('inline', 'PageHeader', '--no-types');
  verkstad('survey');
  verkstad('undo', '1');
  verkstad('survey', '--limit', '1');

  copied('apiary-astro');
  console.log(`\nA copy of examples/apiary-astro: three pages with one frame`);
  verkstad('repeats');
  verkstad('frame', repeat('PageLayout'));
  verkstad('unify', repeat('Keeper'));
  verkstad('propose', 'src/pages/index.astro');
  verkstad('apply', 'all');
  verkstad('tree');
  console.log(`
The job above, on your own project:
  npx verkstad survey                                what is there, and what deserves a look
  npx verkstad repeats                               what stands more than once, side by side
  npx verkstad unify ID                              one component for all its places, proven
  npx verkstad propose src/Page.tsx                  where to cut, all cuts together
  npx verkstad apply all                             the cuts, each proven before the next
  npx verkstad home App query                        a state brought to the component that alone uses it
  npx verkstad module src/Page.tsx:77-81             a request, as a function of a module
  npx verkstad inline PageHeader                     a component put back where it is shown
  npx verkstad extract src/Page.tsx:40-80 --dry-run  the diff, nothing written
  npx verkstad extract src/Page.tsx:40-80            proven, type-checked, written
  npx verkstad undo                                  and taken back`);
} catch (error) {
  if (error.message !== 'demo') throw error;
} finally {
  rmSync(folder, { recursive: true, force: true });
}
