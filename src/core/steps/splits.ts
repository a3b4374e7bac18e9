/**
 * Splits gone wrong: a component shown once whose boundary is wider than it is long, or a wrapper that only passes on. Each
 * is put back in memory, and weighed there as a cut would be: where cutting costs more than it brings, it goes back.
 */
import { ComponentTree, type TreeNode } from '../analyze/tree.js';
import { OverlayFiles } from '../files/files.js';
import type { ComponentModel } from '../markup/model.js';
import { snap } from '../markup/region.js';
import { isProblem } from '../problems/problems.js';
import { Project } from '../project/project.js';
import { worthOfCut } from '../propose/regions/propose.js';
import type { Worth } from '../propose/repeats/worth.js';
import { Lines } from '../text/lines.js';
import type { Seam } from '../language/cutting.js';
import { inline, standsAt, type InlineChange } from './inline.js';

export interface SplitProposal {
  /** The component that goes back. */
  readonly id: string;
  readonly name: string;
  readonly path: string;
  readonly component: ComponentModel;
  /** Names of the components that show it. */
  readonly hosts: readonly string[];
  readonly uses: InlineChange['uses'];
  readonly seam: Seam;
  /** Of putting it back. */
  readonly worth: Worth;
  readonly why: readonly string[];
}

/** A component of more lines is no small one. */
const SMALL = 30;

export function proposeInlines(project: Project, paths: readonly string[]): readonly SplitProposal[] {
  const tree = ComponentTree.of(project);
  return paths.flatMap((path) => tree.nodesIn(path).flatMap((node) => weighed(project, tree, node) ?? []));
}

function weighed(project: Project, tree: ComponentTree, node: TreeNode): SplitProposal | undefined {
  const { component, id, path, file } = node;
  if (!file.language.inlining || (component.kind !== 'function' && component.kind !== 'class')) return undefined;
  const why = suspicion(tree, node);
  if (why === undefined) return undefined;
  const change = inline(project, { component: id });
  if (isProblem(change) || change.proof.answer !== 'same') return undefined;
  const worth = worthBack(project, change);
  if (!worth || worth.total <= 0) return undefined;
  const hosts = [...new Set(tree.usesOf(id).flatMap((u) => u.host?.name ?? []))];
  const { uses, seam } = change;
  return { id, name: component.name, path, component, hosts, uses, seam, worth, why: [why] };
}

/** Why a component looks like a split gone wrong; undefined for most. */
function suspicion(tree: ComponentTree, { component, id, file }: TreeNode): string | undefined {
  const lines = new Lines(file.text);
  const height = (span: { start: number; end: number }) => lines.range(span)[1] - lines.range(span)[0] + 1;
  if (component.markup.length === 0 || height(component) > SMALL) return undefined;
  const uses = tree.usesOf(id);
  if (uses.length === 0 || uses.some((u) => u.host === undefined)) return undefined;
  const width = component.props.length;
  const shown = component.markup.reduce((sum, node) => sum + height(node), 0);
  if (passesOn(tree, component, id))
    return `it only passes on what it is given${uses.length > 1 ? `, at ${uses.length} places` : ''}`;
  if (uses.length > 1 || width <= shown) return undefined;
  return `shown once; it takes ${width} things and shows ${shown} ${shown === 1 ? 'line' : 'lines'}`;
}

/** One component and nothing else, with each prop handed on as it came. */
function passesOn(tree: ComponentTree, component: ComponentModel, id: string): boolean {
  const [only, ...others] = component.markup;
  if (!only || others.length > 0 || only.kind !== 'element' || !only.component) return false;
  if (only.children.some((c) => c.kind !== 'outlet' && !(c.kind === 'text' && c.text.trim() === ''))) return false;
  if (component.bindings.some((b) => b.kind !== 'prop')) return false;
  if (only.attributes.some((a) => a.kind === 'static' || a.kind === 'spread')) return false;
  return tree.values(id).every((v) => v.uses.every((u) => u.passed?.plain ?? v.binding.name === 'children'));
}

/** The worth of cutting the component out of the text in which it stands again, turned round. */
function worthBack(project: Project, change: InlineChange): Worth | undefined {
  const put = standsAt(change);
  if (!put) return undefined;
  const after = new Project(
    new OverlayFiles(project.files, new Map(change.files.map((f) => [f.path, f.text]))),
    project.ports,
  );
  const file = after.source(put.path);
  const lists = isProblem(file) ? file : file.language.lists(file, after.ports);
  const region = isProblem(lists) || isProblem(file) ? undefined : snap(file.text, put.span, lists);
  const worth = region && worthOfCut(after, put.path, region);
  return worth && { saved: -worth.saved, lighter: -worth.lighter, seam: -worth.seam, total: -worth.total };
}
