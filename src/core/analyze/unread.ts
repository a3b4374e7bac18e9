/** Files of a project that hold markup or components in languages that are not read: said, so that nobody counts them as fine. */
import { languageOf } from '../language/registry.js';
import type { Project } from '../project/project.js';
import { textOf } from '../files/files.js';

export interface NotRead {
  /** For people: an ending, or what such files are. */
  readonly what: string;
  readonly files: number;
}

/** Longer endings first. */
const ENDINGS =
  /\.(?:blade\.php|html\.erb|html\.heex|html\.eex|component\.html|astro|svelte|razor|cshtml|vbhtml|php|phtml|erb|haml|slim|ejs|hbs|handlebars|mustache|twig|pug|jade|liquid|njk|nunjucks|jinja2?|ftl|jsp|jspx|mdx|marko|riot|imba|wxml|axml|swan|ttml|nvue|gjs|gts|elm|rmd|qmd)$/i;
/** Files whose class is a component with its template elsewhere or in a string. */
const ANGULAR = /\.(?:component|page|dialog|directive)\.ts$/;

/** What stands in the project, or below `paths`, and is not read; most files first. */
export function notRead(project: Project, among: (path: string) => boolean = () => true): NotRead[] {
  const counts = new Map<string, number>();
  for (const path of project.files.list()) {
    if (!among(path) || isClaimed(path)) continue;
    const ending = ENDINGS.exec(path)?.[0].toLowerCase();
    const what = ending ?? (isAngular(project, path) ? 'Angular class' : undefined);
    if (what !== undefined) counts.set(what, (counts.get(what) ?? 0) + 1);
  }
  return [...counts]
    .map(([what, files]) => ({ what, files }))
    .sort((a, b) => b.files - a.files || (a.what < b.what ? -1 : 1));
}

/** In a language that is read, unless its parser is missing; then the file is among those that could not be read. */
function isClaimed(path: string): boolean {
  return !ANGULAR.test(path) && languageOf(path) !== undefined;
}

function isAngular(project: Project, path: string): boolean {
  return ANGULAR.test(path) && /@(?:Component|Directive)\s*\(/.test(textOf(project.files, path) ?? '');
}

/** `3 .astro, 2 .blade.php, 1 Angular class`. */
export function notReadWords(list: readonly NotRead[]): string {
  return list.map(({ what, files }) => `${files} ${what}${files > 1 && !what.startsWith('.') ? 'es' : ''}`).join(', ');
}
