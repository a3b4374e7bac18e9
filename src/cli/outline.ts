/** The component tree as lines, for `survey` and `tree`. */
import type { Graph, GraphNode } from '../core/index.js';

export interface OutlineRow {
  readonly node: GraphNode;
  /** Lines that draw the branch in front of the name. */
  readonly lead: string;
  /** Shown further up already: `again`; an ancestor of itself: `circle`. */
  readonly mark: 'first' | 'again' | 'circle';
}

interface Frame {
  readonly id: string;
  readonly lead: string;
  readonly childLead: string;
  /** Set on the frame that closes a component: it is no ancestor any more. */
  readonly leave?: boolean;
}

/**
 * Depth first, without recursion: a tree may be as deep as it likes. A component that is shown in several places is
 * opened at the first only. `drawn` rows get their lines; the rest are only counted.
 */
export function outline(graph: Graph, roots: readonly string[], drawn = Infinity): OutlineRow[] {
  const rows: OutlineRow[] = [];
  const opened = new Set<string>();
  const above = new Set<string>();
  const stack: Frame[] = [...roots].reverse().map((id) => ({ id, lead: '', childLead: '' }));
  for (let frame = stack.pop(); frame; frame = stack.pop()) {
    const { id, lead, childLead } = frame;
    if (frame.leave) {
      above.delete(id);
      continue;
    }
    const node = graph.nodes.get(id);
    if (!node) continue;
    const mark = above.has(id) ? 'circle' : opened.has(id) ? 'again' : 'first';
    rows.push({ node, lead, mark });
    if (mark !== 'first') continue;
    opened.add(id);
    above.add(id);
    stack.push({ ...frame, leave: true });
    const draw = rows.length < drawn;
    // Beyond some forty levels the lines of the tree no longer help.
    const base = childLead.length > 120 ? `${childLead.slice(0, 117)}⋯  ` : childLead;
    [...node.renders].reverse().forEach((child, i) => {
      const last = i === 0;
      stack.push(
        draw
          ? { id: child, lead: `${base}${last ? '└─ ' : '├─ '}`, childLead: `${base}${last ? '   ' : '│  '}` }
          : { id: child, lead: '', childLead: '' },
      );
    });
  }
  return rows;
}
