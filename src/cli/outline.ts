/** The component tree as lines, for `survey` and `tree`. */
import type { Graph, GraphNode } from '../core/index.js';

export interface OutlineRow {
  readonly node: GraphNode;
  /** Lines that draw the branch in front of the name. */
  readonly lead: string;
  /** Shown further up already: `again`; an ancestor of itself: `circle`. */
  readonly mark: 'first' | 'again' | 'circle';
}

/** Depth first. A component that is shown in several places is opened at the first only. */
export function outline(graph: Graph, roots: readonly string[]): OutlineRow[] {
  const rows: OutlineRow[] = [];
  const opened = new Set<string>();
  const visit = (id: string, lead: string, childLead: string, above: readonly string[]): void => {
    const node = graph.nodes.get(id);
    if (!node) return;
    const mark = above.includes(id) ? 'circle' : opened.has(id) ? 'again' : 'first';
    rows.push({ node, lead, mark });
    if (mark !== 'first') return;
    opened.add(id);
    node.renders.forEach((child, i) => {
      const last = i === node.renders.length - 1;
      visit(child, `${childLead}${last ? '└─ ' : '├─ '}`, `${childLead}${last ? '   ' : '│  '}`, [...above, id]);
    });
  };
  for (const root of roots) visit(root, '', '', []);
  return rows;
}
