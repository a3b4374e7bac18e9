/** Programs that a check needs and that npm does not bring. */
import { existsSync } from 'node:fs';
import { delimiter, join } from 'node:path';

/** The shell without windows first: it does the same in half the time. */
const NAMES = [
  'chromium-headless-shell',
  'chrome-headless-shell',
  'chromium',
  'chromium-browser',
  'google-chrome',
  'google-chrome-stable',
  'chrome',
];
const PLACES = ['/usr/bin', '/usr/local/bin', '/snap/bin'];
const APPLICATIONS = [
  '/Applications/Chromium.app/Contents/MacOS/Chromium',
  '/Applications/Google Chrome.app/Contents/MacOS/Google Chrome',
];

/** Where a Chromium stands; `VERKSTAD_CHROMIUM` says it first. Undefined where there is none. */
export function chromiumPath(env: NodeJS.ProcessEnv = process.env): string | undefined {
  if (env.VERKSTAD_CHROMIUM) return existsSync(env.VERKSTAD_CHROMIUM) ? env.VERKSTAD_CHROMIUM : undefined;
  const folders = [...PLACES, ...(env.PATH ?? '').split(delimiter)];
  return [...NAMES.flatMap((name) => folders.map((folder) => join(folder, name))), ...APPLICATIONS].find((path) =>
    existsSync(path),
  );
}

/** For people: how to get what is missing. */
export const HOW_TO_GET_CHROMIUM =
  'install Chromium (Debian: apt-get install chromium-headless-shell), or name it in VERKSTAD_CHROMIUM';
