/** The proof for a page that became a component: what a browser reads of the one is what the other shows. */
import { firstDifference, isNodes } from '../plain/dom.js';
import type { Hypertext } from '../language/hypertext.js';
import { isProblem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import type { ProofResult } from './prove.js';

/** Compares the page at `path` in one project with the component at `written` in another, read afresh. */
export function provePage(
  before: Project,
  path: string,
  after: Project,
  written: string,
  hypertext: Hypertext,
): ProofResult {
  const file = before.source(path);
  const page = isProblem(file) ? file : file.language.page!(file);
  if (isProblem(page)) return { answer: 'unknown', code: 'file-unread', detail: `${path} ${page.message}` };
  const model = after.model(written);
  if (isProblem(model))
    return {
      answer: 'different',
      code: 'file-unread',
      detail: `${written} ${model.message}`,
      ...(model.span ? { after: { path: written, span: model.span } } : {}),
    };
  const component = model.components[0];
  const shown = component ? hypertext.plain(component.markup) : { start: 0, end: 0 };
  if (!isNodes(shown))
    return {
      answer: 'different',
      code: 'markup-kind',
      detail: 'it says more than markup',
      after: { path: written, span: shown },
    };
  const difference = firstDifference(page.dom, shown);
  if (!difference) return { answer: 'same', compared: [path], expanded: [component!.name] };
  return {
    answer: 'different',
    code: 'markup-text',
    detail: difference.detail,
    ...(difference.left ? { before: { path, span: difference.left } } : {}),
    ...(difference.right ? { after: { path: written, span: difference.right } } : {}),
  };
}
