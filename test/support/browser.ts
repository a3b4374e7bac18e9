/** The browser of the machine, for tests that need a real one. */
import { existsSync } from 'node:fs';
import { chromium, type Browser } from 'playwright-core';

export const CHROMIUM = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].find((p) =>
  existsSync(p),
);

export function openBrowser(): Promise<Browser> {
  return chromium.launch({
    executablePath: CHROMIUM!,
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking'],
  });
}
