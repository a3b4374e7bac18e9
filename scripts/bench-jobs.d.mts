export interface Job {
  readonly about: string;
  /** Words of each command. */
  readonly steps: readonly (readonly string[])[];
  /** Why there is no step that would get there. */
  readonly missing?: string;
  readonly entry: {
    readonly file: string;
    readonly export: string;
    readonly props: Record<string, unknown>;
    /** Inputs that are functions. */
    readonly calls?: readonly string[];
  };
  readonly deeds?: readonly Record<string, unknown>[];
  readonly before: ReadonlyMap<string, string>;
  readonly wanted: ReadonlyMap<string, string>;
}

export function jobNames(): string[];
export function jobCalled(name: string): Job;
export function reachedBy(job: Job): Promise<{
  readonly reached: 'fully' | 'partly' | 'not';
  readonly after: ReadonlyMap<string, string>;
  /** What each command that did not end well said. */
  readonly refused: readonly string[];
}>;
