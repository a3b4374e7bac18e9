/** Style rules that follow their markup. */
import type { Edit } from '../../../text/edits.js';
import type { Habits } from './habits.js';
import type { Scene } from './scene.js';

export interface MovedStyles {
  /** Style blocks of the new file. */
  readonly blocks: readonly string[];
  /** Rules taken out of the host. */
  readonly edits: readonly Edit[];
  readonly notes: readonly string[];
}

export function moveStyles(_scene: Scene, _habits: Habits): MovedStyles {
  return { blocks: [], edits: [], notes: [] };
}
