/**
 * Finds the programs that npm does not bring. On Debian as root it installs what is missing; elsewhere it says what to
 * install. Exit code 1 where something is missing in the end. `npm run engines`
 */
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
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
process.exitCode = missing > 0 ? 1 : 0;
