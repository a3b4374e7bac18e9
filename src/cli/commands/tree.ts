/** `tree`: the component tree, for people and for other programs. */
import { treeDocument } from '../../library/documents.js';
import {
  buildGraph,
  didYouMean,
  isProblem,
  problem,
  summarizeFile,
  type Graph,
  type Problem,
} from '../../core/index.js';
import { EXIT, type CommonOptions } from '../host.js';
import { outline } from '../outline.js';
import { json } from '../say.js';
import type { Ended, Session } from '../session.js';

export function treeCommand(
  session: Session,
  entry: string | undefined,
  options: CommonOptions & { format: string },
): Ended {
  const { host, project } = session;
  const files = project.sources().map((path) => summarizeFile(project, path));
  const graph = buildGraph(project, files);
  const roots = entry === undefined ? graph.roots : rootsFor(session, graph, entry);
  if (isProblem(roots)) return roots;
  if (session.json) host.out(json(treeDocument(graph, roots)));
  else if (options.format === 'mermaid') host.out(mermaid(graph, roots));
  else if (options.format === 'dot') host.out(dot(graph, roots));
  else host.out(text(session, graph, roots));
  return EXIT.done;
}

/** A component's name or id, or the components of a file. */
function rootsFor(session: Session, graph: Graph, entry: string): readonly string[] | Problem {
  const named = [...graph.nodes.values()].filter((n) => n.id === entry || n.component.name === entry);
  if (named.length > 0) return named.map((n) => n.id);
  const path = session.path(entry);
  const inFile = [...graph.nodes.values()].filter((n) => n.path === path && n.component.kind !== 'helper');
  if (inFile.length > 0) {
    const shown = new Set(inFile.flatMap((n) => n.renders.filter((id) => id !== n.id)));
    const tops = inFile.filter((n) => !shown.has(n.id));
    return (tops.length > 0 ? tops : inFile).map((n) => n.id);
  }
  const near = didYouMean(
    entry,
    [...graph.nodes.values()].flatMap((n) => [n.component.name, n.path]),
  );
  return problem('entry-unknown', { path: entry }, entry, near ? `; did you mean ${near}?` : '');
}

function text(session: Session, graph: Graph, roots: readonly string[]): string {
  const { colors: c } = session;
  const lines = outline(graph, roots).map(({ node, lead, mark }) => {
    const dot = node.component.stateful ? c.yellow('●') : c.dim('○');
    const where = lead === '' || mark === 'first' ? c.dim(`  ${node.path}:${node.component.lines[0]}`) : '';
    const note = mark === 'again' ? c.dim('  shown above') : mark === 'circle' ? c.dim('  shows itself') : '';
    return `${c.dim(lead)}${dot} ${c.bold(node.component.name)}${where}${note}`;
  });
  if (lines.length === 0) return 'no components found\n';
  return `${lines.join('\n')}\n${c.dim('\n● stateful   ○ only shows')}\n`;
}

/** Edges of the part of the graph that hangs below the roots, each once. */
function edges(graph: Graph, roots: readonly string[]): { ids: string[]; edges: [string, string][] } {
  const ids: string[] = [];
  const found: [string, string][] = [];
  const queue = [...roots];
  const seen = new Set<string>();
  for (let id = queue.shift(); id !== undefined; id = queue.shift()) {
    if (seen.has(id)) continue;
    seen.add(id);
    ids.push(id);
    for (const child of graph.nodes.get(id)?.renders ?? []) {
      found.push([id, child]);
      queue.push(child);
    }
  }
  return { ids, edges: found };
}

function mermaid(graph: Graph, roots: readonly string[]): string {
  const { ids, edges: list } = edges(graph, roots);
  const key = new Map(ids.map((id, i) => [id, `c${i}`]));
  const label = (id: string) => graph.nodes.get(id)!.component.name;
  const boxes = ids.map(
    (id) => `  ${key.get(id)!}${graph.nodes.get(id)!.component.stateful ? `[["${label(id)}"]]` : `["${label(id)}"]`}`,
  );
  return `${['graph TD', ...boxes, ...list.map(([a, b]) => `  ${key.get(a)!} --> ${key.get(b)!}`)].join('\n')}\n`;
}

function dot(graph: Graph, roots: readonly string[]): string {
  const { ids, edges: list } = edges(graph, roots);
  const quoted = (id: string) => JSON.stringify(id);
  const boxes = ids.map(
    (id) =>
      `  ${quoted(id)} [label=${JSON.stringify(graph.nodes.get(id)!.component.name)}${graph.nodes.get(id)!.component.stateful ? ', peripheries=2' : ''}];`,
  );
  return `${['digraph components {', '  node [shape=box];', ...boxes, ...list.map(([a, b]) => `  ${quoted(a)} -> ${quoted(b)};`), '}'].join('\n')}\n`;
}
