/**
 * Finds the programs that npm does not bring, and installs what is too heavy for every installation. On Debian as root it installs
 * what is missing; elsewhere it says what to install. Exit code 1 where something is missing in the end. `npm run engines`
 */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromiumPath, HOW_TO_GET_CHROMIUM } from '../dist/node/check/engines.js';

const ENGINES = [
  {
    name: 'Chromium',
    find: () => chromiumPath(),
    // The shell without windows is smaller and faster; not every Debian has it.
    packages: [
      ['chromium-headless-shell', 'fonts-dejavu-core'],
      ['chromium', 'fonts-dejavu-core'],
    ],
    how: HOW_TO_GET_CHROMIUM,
  },
];

const isDebian = existsSync('/etc/debian_version') && process.getuid?.() === 0;
const apt = (...args) => spawnSync('apt-get', args, { stdio: ['ignore', 'ignore', 'inherit'] }).status === 0;
let missing = 0;
for (const { name, find, packages, how } of ENGINES) {
  if (!find() && isDebian) {
    apt('update', '-qq');
    for (const some of packages) {
      if (find()) break;
      console.log(`${name}: installing ${some.join(' ')} with apt-get`);
      apt('install', '-y', '-qq', '--no-install-recommends', ...some);
    }
  }
  const path = find();
  console.log(path ? `${name}: ${path}` : `${name}: missing; ${how}`);
  if (!path) missing++;
}

// Frameworks that the tests run for real, each in a folder of its own.
for (const [name, packages] of Object.entries({ astro: ['astro@5.18.2'] })) {
  const folder = fileURLToPath(new URL(`../.engines/${name}/`, import.meta.url));
  const isThere = packages.every((one) => existsSync(join(folder, 'node_modules', one.replace(/@[^@]*$/, ''))));
  if (!isThere) {
    mkdirSync(folder, { recursive: true });
    writeFileSync(join(folder, 'package.json'), '{ "private": true }\n');
    const args = ['install', '--no-audit', '--no-fund', '--ignore-scripts', '--loglevel=error', ...packages];
    const { status } = spawnSync('npm', args, { cwd: folder, stdio: ['ignore', 'ignore', 'inherit'] });
    if (status !== 0) missing++;
    console.log(status === 0 ? `${name}: installed in .engines/${name}` : `${name}: could not be installed`);
  } else console.log(`${name}: .engines/${name}`);
}
process.exitCode = missing > 0 ? 1 : 0;
