/** Summaries of an earlier survey, outside the project, so that a survey writes nothing into it. */
import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { dirname, join } from 'node:path';
import { SUMMARY_VERSION, type FileSummary, type SummaryCache } from '../core/analyze/summary.js';
import { fingerprint } from '../core/text/fingerprint.js';

export class DiskCache implements SummaryCache {
  readonly #path: string;
  readonly #known = new Map<string, FileSummary>();
  readonly #seen = new Map<string, FileSummary>();
  #changed = false;

  constructor(root: string, env: Record<string, string | undefined>) {
    const base = env.XDG_CACHE_HOME || join(homedir(), '.cache');
    this.#path = join(base, 'verkstad', `${fingerprint(root)}.json`);
    try {
      const stored = JSON.parse(readFileSync(this.#path, 'utf8')) as { version: number; files: FileSummary[] };
      if (stored.version === SUMMARY_VERSION) for (const file of stored.files) this.#known.set(file.path, file);
    } catch {
      // No cache, or a damaged one: everything is read again.
    }
  }

  get(path: string, print: string): FileSummary | undefined {
    const known = this.#known.get(path);
    if (known?.fingerprint !== print) return undefined;
    this.#seen.set(path, known);
    return known;
  }

  set(summary: FileSummary): void {
    this.#seen.set(summary.path, summary);
    this.#changed = true;
  }

  /** Stores what this run saw. A cache that cannot be written is no reason to fail. */
  save(): void {
    if (!this.#changed && this.#seen.size === this.#known.size) return;
    try {
      mkdirSync(dirname(this.#path), { recursive: true });
      writeFileSync(`${this.#path}.new`, JSON.stringify({ version: SUMMARY_VERSION, files: [...this.#seen.values()] }));
      renameSync(`${this.#path}.new`, this.#path);
    } catch {
      // Read-only home: the next run reads everything again.
    }
  }
}
