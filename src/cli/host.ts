/** What a command gets from outside: nothing in a command touches the process itself. */
import type pc from 'picocolors';

export interface Host {
  readonly cwd: string;
  readonly env: Record<string, string | undefined>;
  readonly out: (text: string) => void;
  /** Text for a program: where stdout is no terminal, every character of it. */
  readonly exact: (text: string) => void;
  readonly err: (text: string) => void;
  readonly isTerminal: boolean;
  readonly columns: number;
}

export type Colors = ReturnType<typeof pc.createColors>;

/** Exit codes of every command. */
export const EXIT = { done: 0, found: 1, usage: 2, refused: 3, failed: 4 } as const;

/** Options that every command takes. */
export interface CommonOptions {
  readonly root?: string;
  readonly json?: boolean;
  readonly color?: string;
  readonly quiet?: boolean;
}
