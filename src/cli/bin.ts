#!/usr/bin/env node
/** Entry of the command line. The version is answered before anything else is loaded. */
import { readFileSync } from 'node:fs';

const { version } = JSON.parse(readFileSync(new URL('../../package.json', import.meta.url), 'utf8')) as {
  version: string;
};
if (process.argv.length === 3 && (process.argv[2] === '--version' || process.argv[2] === '-V')) {
  process.stdout.write(`${version}\n`);
} else {
  const { printable } = await import('./terminal.js');
  const { EXIT } = await import('./host.js');
  // A reader that goes away ends what is said, and not what is done: files are written whole, and the code is the same.
  for (const stream of [process.stdout, process.stderr])
    stream.on('error', (error: NodeJS.ErrnoException) => {
      if (error.code !== 'EPIPE') throw error;
    });
  const say = (stream: NodeJS.WriteStream) => (text: string) => {
    if (!stream.destroyed && stream.writable) stream.write(text);
  };
  const [out, err] = [say(process.stdout), say(process.stderr)];
  const failed = (error: unknown) => {
    const words = error instanceof Error ? (error.stack ?? error.message) : String(error);
    err(
      printable(
        `✖ this is a fault of Verkstad, not of your project: ${words}\n` +
          `  → please report it, with this text, Verkstad ${version}, Node ${process.version} and the command; nothing was half written\n`,
      ),
    );
    process.exitCode = EXIT.failed;
  };
  process.on('uncaughtException', failed);
  process.on('unhandledRejection', failed);
  try {
    const { run } = await import('./run.js');
    process.exitCode = await run(process.argv.slice(2), {
      cwd: process.cwd(),
      env: process.env,
      out: (text) => out(printable(text)),
      // A diff into a file or a pipe is for a program, which wants it as it is.
      exact: (text) => out(process.stdout.isTTY ? printable(text) : text),
      err: (text) => err(printable(text)),
      // A pipe has no such property, whatever the types say.
      isTerminal: 'isTTY' in process.stdout && process.stdout.isTTY,
      columns: process.stdout.columns ?? 100,
    });
  } catch (error) {
    failed(error);
  }
}
