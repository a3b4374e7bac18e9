/** Why a stretch of a template can become no component, as far as a cut says so by itself. */
import { isProblem, type Problem } from '../../../problems/problems.js';
import type { ProjectView } from '../../../language/project.js';
import type { UnifyPlace } from '../../../language/unifying.js';
import type { Ports } from '../../../language/ports.js';
import { prepare } from '../cut/cut.js';
import { defineOf } from '../definition.js';
import { regionAt } from '../lists.js';
import { markupOf } from '../read.js';
import { parseSfc } from '../sfc.js';

/** What a stretch of a template is refused for, whatever differs in it. */
const BARS: ReadonlySet<string> = new Set(['region-renders', 'region-roots', 'region-template', 'region-component']);

export function barred(project: ProjectView, ports: Ports, { file, span }: UnifyPlace): Problem | undefined {
  const sfc = parseSfc(file, ports);
  if (isProblem(sfc)) return undefined;
  const roots = markupOf(sfc, defineOf(sfc.text, sfc.script?.script.program, sfc.setup?.script.program));
  const region = regionAt(roots, span, false);
  if (!region) return undefined;
  const target = file.path.replace(/[^/]*$/, 'NotYetNamed.vue');
  const open = { project, ports, file, region, name: 'NotYetNamed', target, types: undefined };
  const prepared = prepare({ ...open, props: 'auto' });
  return isProblem(prepared) && BARS.has(prepared.code) ? prepared : undefined;
}
