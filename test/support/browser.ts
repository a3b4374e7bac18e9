/** The browser of the machine, for tests that need a real one. */
import { chromium, type Browser } from 'playwright-core';
import { chromiumPath } from '../../src/node/check/engines.js';

export const CHROMIUM = chromiumPath();

export function openBrowser(): Promise<Browser> {
  return chromium.launch({
    executablePath: CHROMIUM!,
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking'],
  });
}
