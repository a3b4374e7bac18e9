/** What several commands take: options, and how their values are read. */
import { InvalidArgumentError, Option, type Command } from 'commander';

/** Options that every command takes. */
export function common(command: Command): Command {
  return command
    .option('--root <dir>', 'folder of the project (default: the closest with a package.json)')
    .option('--json', 'one JSON document on stdout')
    .addOption(
      new Option('--color <when>', 'colours in the output').choices(['auto', 'always', 'never']).default('auto'),
    )
    .option('--quiet', 'no notes on stderr');
}

/** Options of every command that changes files and is proven. */
export function writing(command: Command): Command {
  return command
    .option('--dry-run', 'write nothing; the unified diff on stdout')
    .option('--unproven', 'write even what cannot be proven, and say so')
    .option('--no-types', 'find types, but do not check them afterwards');
}

/** An option that may be given several times. */
export function gathered(text: string, before: readonly string[] = []): string[] {
  return [...before, text];
}

export function words(text: string): string[] {
  return text.split(',').map((part) => part.trim());
}

export function numbers(text: string): number[] {
  return text.split(',').map((part) => positive(part.trim()));
}

export function number(text: string): number {
  const value = Number(text);
  if (!text.trim() || !Number.isFinite(value)) throw new InvalidArgumentError('It is not a number.');
  return value;
}

export function positive(text: string): number {
  const value = Number(text);
  if (!Number.isInteger(value) || value < 1) throw new InvalidArgumentError('It is not a whole number above 0.');
  return value;
}
