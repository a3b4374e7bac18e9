/** The whole of a project at a glance: files, components, how they hang together, and what deserves a look. */
import { buildGraph, type Graph, type GraphNode } from './graph.js';
import type { Project } from '../project/project.js';
import type { ComponentSummary } from './measures.js';
import { summarizeFile, type FileSummary, type SummaryCache } from './summary.js';

export interface Limits {
  readonly lines: number;
  readonly props: number;
  readonly depth: number;
}

export const DEFAULT_LIMITS: Limits = { lines: 200, props: 8, depth: 8 };

export type FindingCode =
  | 'component-large'
  | 'component-mixed'
  | 'component-many-states'
  | 'component-many-props'
  | 'markup-deep'
  | 'markup-many-branches'
  | 'id-twice'
  | 'id-missing'
  | 'import-missing'
  | 'file-unreadable';

export interface Finding {
  readonly code: FindingCode;
  readonly severity: 'warning' | 'hint';
  readonly path: string;
  readonly lines: readonly [number, number];
  readonly message: string;
  /** Component that the finding is about. */
  readonly component?: string;
}

export interface Survey {
  readonly files: readonly FileSummary[];
  readonly graph: Graph;
  readonly findings: readonly Finding[];
  /** Components worth a look, the one that has most to say first. */
  readonly attention: readonly { readonly id: string; readonly reasons: readonly string[] }[];
}

export function survey(
  project: Project,
  options: { limits?: Limits; cache?: SummaryCache; only?: (path: string) => boolean } = {},
): Survey {
  const paths = project.sources().filter((path) => options.only?.(path) ?? true);
  const files = paths.map((path) => summarizeFile(project, path, options.cache));
  const graph = buildGraph(project, files);
  const limits = options.limits ?? DEFAULT_LIMITS;
  const perNode = [...graph.nodes.values()].map((node) => ({ node, ...judge(node, limits) }));
  const findings: Finding[] = [
    ...perNode.flatMap((n) => n.findings),
    ...files.flatMap((f) =>
      f.ids.map((trouble): Finding => ({
        ...trouble,
        severity: trouble.code === 'id-twice' ? 'warning' : 'hint',
        path: f.path,
      })),
    ),
    ...graph.unresolved.map(({ path, source }): Finding => ({
      code: 'import-missing',
      severity: 'warning',
      path,
      lines: [1, 1],
      message: `imports "${source}", which is not there`,
    })),
    ...files.flatMap((f): Finding[] =>
      f.problem
        ? [
            {
              code: 'file-unreadable',
              severity: 'warning',
              path: f.path,
              lines: [f.problem.line ?? 1, f.problem.line ?? 1],
              message: f.problem.message,
            },
          ]
        : [],
    ),
  ];
  const attention = perNode
    .filter((n) => n.reasons.length > 0)
    .sort((a, b) => b.weight - a.weight || a.node.id.localeCompare(b.node.id))
    .map(({ node, reasons }) => ({ id: node.id, reasons }));
  return { files, graph, findings, attention };
}

export function lineCount(component: Pick<ComponentSummary, 'lines'>): number {
  return component.lines[1] - component.lines[0] + 1;
}

interface Judgement {
  readonly findings: Finding[];
  readonly reasons: string[];
  /** How far beyond the limits the component is, all limits together: 0 is within all of them. */
  readonly weight: number;
}

function judge({ id, path, component }: GraphNode, limits: Limits): Judgement {
  const findings: Finding[] = [];
  const reasons: string[] = [];
  let weight = 0;
  const say = (code: FindingCode, excess: number, message: string) => {
    findings.push({
      code,
      severity: excess > 1 ? 'warning' : 'hint',
      path,
      lines: component.lines,
      message: `${component.name} ${message}`,
      component: id,
    });
    reasons.push(message);
    weight += excess;
  };
  const size = lineCount(component);
  if (size > limits.lines) say('component-large', size / limits.lines, `is ${size} lines long`);
  const deeds = component.deeds.filter((d) => d !== 'touches refs');
  if (deeds.length > 0 && component.elements > 15)
    say('component-mixed', 0.5 + component.elements / 60, `${listed(deeds)} and shows ${component.elements} elements`);
  if (component.state.length > 4)
    say('component-many-states', component.state.length / 4, `keeps ${component.state.length} states`);
  if (component.props.length > limits.props)
    say('component-many-props', component.props.length / limits.props / 2, `takes ${component.props.length} props`);
  if (component.depth > limits.depth)
    say('markup-deep', component.depth / limits.depth / 2, `nests elements ${component.depth} deep`);
  if (component.branches > 8)
    say('markup-many-branches', component.branches / 8, `decides ${component.branches} times what to show`);
  return { findings, reasons, weight };
}

export function listed(words: readonly string[]): string {
  if (words.length < 2) return words.join('');
  return `${words.slice(0, -1).join(', ')} and ${words[words.length - 1]!}`;
}
