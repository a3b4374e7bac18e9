/** First phase of finding repeats: every file of a project in the neutral form. */
import { Forms } from '../../forms/forms.js';
import { lowerModule, type ComponentForm } from '../../forms/lower.js';
import { isProblem, withinDepth } from '../../problems/problems.js';
import type { Project } from '../../project/project.js';

/** A comment of this text above a node, or at the head of a file, keeps it out of every report on repeats. */
export const LEAVE = /^\W*verkstad:\s*leave\b/;

export interface Collected {
  readonly forms: Forms;
  /** Components in the order of their nodes. */
  readonly components: readonly ComponentForm[];
  /** Files that could not be read. */
  readonly unread: readonly string[];
}

/** `isLeftOut` says which files are nobody's to unify: generated, vendored, kept for old versions. */
export function collectForms(
  project: Project,
  paths: readonly string[],
  isLeftOut: (path: string, text: string) => boolean,
): Collected {
  const forms = new Forms();
  const components: ComponentForm[] = [];
  const unread: string[] = [];
  for (const path of paths) {
    const file = project.source(path);
    if (isProblem(file)) {
      unread.push(path);
      continue;
    }
    if (isLeftOut(path, file.text)) continue;
    const before = forms.length;
    const found = withinDepth(path, () => {
      const model = file.language.read(file, project.ports);
      return isProblem(model) ? model : lowerModule(forms, path, file.text, model, LEAVE);
    });
    if (isProblem(found)) {
      forms.truncate(before);
      unread.push(path);
    } else components.push(...found);
  }
  return { forms, components, unread };
}
