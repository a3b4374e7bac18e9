/** Requests that components send themselves, each tried in turn: what a module takes off them, and what it asks for. */
import type { Seam } from '../language/cutting.js';
import { isProblem } from '../problems/problems.js';
import { Project } from '../project/project.js';
import type { Worth } from '../propose/repeats/worth.js';
import type { Span } from '../text/edits.js';
import { Lines } from '../text/lines.js';
import { applied } from './change.js';
import { module, type ModuleChange } from './module.js';

export interface ModuleProposal {
  /** Of the function that sends it. */
  readonly name: string;
  /** The component that sends it now. */
  readonly component: string;
  readonly path: string;
  readonly region: Span;
  readonly target: string;
  readonly seam: Seam;
  /** In lines: those that leave, an address with its method among them, less what there is to hand over. */
  readonly worth: Worth;
  readonly why: readonly string[];
}

/** What knowing an address is counted as, in lines: the address, the method, and how it answers. */
const ADDRESS = 3;

/** A step for each request that can be proven; `leave`: places that something else becomes of. */
export function proposeModules(
  project: Project,
  paths: readonly string[],
  leave: readonly (Span & { readonly path: string })[] = [],
): readonly ModuleProposal[] {
  let now = project;
  return paths.flatMap((path): ModuleProposal[] => {
    const file = project.source(path);
    const model = project.model(path);
    if (isProblem(file) || isProblem(model) || !file.language.toModule) return [];
    const { requests } = file.language.toModule;
    const lines = new Lines(file.text);
    // Each step takes one away: the first that is left then is the next one here.
    let passed = 0;
    return requests(project, file, project.ports).flatMap(({ span, address }): ModuleProposal[] => {
      const component = model.components.find((c) => c.start <= span.start && c.end >= span.end);
      const isElsewhere = leave.some((p) => p.path === path && p.start < span.end && p.end > span.start);
      const change = component && !isElsewhere ? taken(now, path, passed) : undefined;
      if (!component || !change) {
        passed++;
        return [];
      }
      now = new Project(applied(now.files, change), now.ports);
      const { name, target, seam } = change;
      const [first, last] = lines.range(span);
      const height = last - first + 1;
      const asked = seam.props.length;
      const lighter = height + ADDRESS;
      const worth = { saved: 0, lighter, seam: asked, total: lighter - asked };
      const what = height === 1 ? 'one line' : `${height} lines`;
      const why = [
        `${what}, and ${address ? `the address ${shortened(address)}` : 'where it is sent'}, known to ${target} alone`,
      ];
      return [{ name, component: component.name, path, region: span, target, seam, worth, why }];
    });
  });
}

/** The step for the request that stands behind so many others; undefined where it is not proven. */
function taken(project: Project, path: string, passed: number): ModuleChange | undefined {
  const file = project.source(path);
  if (isProblem(file)) return undefined;
  const sent = file.language.toModule!.requests(project, file, project.ports)[passed];
  const change = sent && module(project, { path, wanted: { span: sent.span }, to: sent.target });
  return change && !isProblem(change) && change.proof.answer === 'same' ? change : undefined;
}

function shortened(address: string): string {
  return address.length > 48 ? `${address.slice(0, 47)}…` : address;
}
