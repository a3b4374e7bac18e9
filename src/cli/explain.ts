/** What is wrong with a command line, with a way out. */
import type { Command } from 'commander';
import { didYouMean } from '../core/problems/problems.js';
import type { Host } from './host.js';
import { colorsFor } from './session.js';

/** Commander's message in our manner, with the nearest command or option. */
export function explain(text: string, argv: readonly string[], host: Host, { commands }: Command): string {
  const colors = colorsFor(host, 'auto');
  const message = text.replace(/^error: /, '').trim();
  const unknown = /unknown (?:command|option) '([^']+)'/.exec(message)?.[1];
  const command = commands.find((c) => argv.includes(c.name()));
  const known = unknown?.startsWith('-')
    ? (command?.options ?? []).map((option) => option.long!)
    : commands.map((c) => c.name());
  const near = unknown && didYouMean(unknown, known);
  const help = `see verkstad ${command ? `${command.name()} ` : ''}--help`;
  return `${colors.red('✖')} ${message}\n  ${colors.cyan('→')} ${near ? `did you mean ${near}?` : help}\n`;
}
