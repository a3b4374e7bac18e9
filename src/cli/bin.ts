#!/usr/bin/env node
/** Entry of the command line. The version is answered before anything else is loaded. */
import { readFileSync } from 'node:fs';

if (process.argv.length === 3 && (process.argv[2] === '--version' || process.argv[2] === '-V')) {
  const { version } = JSON.parse(readFileSync(new URL('../../package.json', import.meta.url), 'utf8')) as {
    version: string;
  };
  process.stdout.write(`${version}\n`);
} else {
  const { run } = await import('./run.js');
  process.exitCode = await run(process.argv.slice(2), {
    cwd: process.cwd(),
    env: process.env,
    out: (text) => void process.stdout.write(text),
    err: (text) => void process.stderr.write(text),
    isTerminal: process.stdout.isTTY,
    columns: process.stdout.columns ?? 100,
  });
}
