/** What tests need besides npm packages; said at the end where it was missing, so that nothing is left out in silence. */
import { HOW_TO_GET_CHROMIUM } from '../../src/node/check/engines.js';
import { hasAstro } from './astro.js';
import { CHROMIUM } from './browser.js';

/** Set by `npm run test:all`: nothing may be left out. */
const ALL = process.env.VERKSTAD_ALL === '1';

const LEFT = [
  ...(hasAstro ? [] : ['without Astro: its pages as it builds them; npm run engines']),
  ...(CHROMIUM === undefined
    ? [`without Chromium: pages as a browser shows them, the Vue demo in a browser; ${HOW_TO_GET_CHROMIUM}`]
    : []),
  ...(CHROMIUM === undefined || !ALL
    ? ['planted faults and both demos checked in a browser, which takes minutes; npm run test:all']
    : []),
];

export function setup(): void {
  if (ALL && LEFT.length > 0) throw new Error(`something would be left out: ${LEFT.join('; ')}`);
}

export function teardown(): void {
  for (const line of LEFT) console.log(`left out: ${line}`);
}
