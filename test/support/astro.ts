/** The real Astro, where `npm run engines` has put it: whole sites built, and what their pages show. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';

const MODULES = new URL('../../.engines/astro/node_modules', import.meta.url).pathname;
export const hasAstro = existsSync(join(MODULES, 'astro', 'astro.js'));

/** A site on disk, with Astro installed; whoever asks for it takes it away. */
export function writtenSite(files: ReadonlyMap<string, string>): string {
  const root = mkdtempSync(join(tmpdir(), 'verkstad-astro-'));
  for (const [path, text] of files) {
    mkdirSync(dirname(join(root, path)), { recursive: true });
    writeFileSync(join(root, path), text);
  }
  symlinkSync(MODULES, join(root, 'node_modules'), 'dir');
  return root;
}

/** Builds the files of a site; the text of its pages by their paths below the built folder. Throws with what Astro said. */
export function builtPages(files: ReadonlyMap<string, string>, pages: readonly string[]): Map<string, string> {
  const root = writtenSite(files);
  try {
    const { status, stdout, stderr } = spawnSync(process.execPath, [join(MODULES, 'astro', 'astro.js'), 'build'], {
      cwd: root,
      encoding: 'utf8',
      env: { ...process.env, ASTRO_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' },
    });
    if (status !== 0) throw new Error(`${stdout}\n${stderr}`);
    return new Map(pages.map((page) => [page, shown(readFileSync(join(root, 'dist', page), 'utf8'))]));
  } finally {
    rmSync(root, { recursive: true, force: true });
  }
}

/** A page without its style sheets, the marks of scopes, and white space beside tags. */
function shown(html: string): string {
  return html
    .replace(/<style[^>]*>[\s\S]*?<\/style>|<link rel="stylesheet"[^>]*>/g, '')
    .replace(/ data-astro-cid-\w+(?:="[^"]*")?/g, '')
    .replace(/\s+/g, ' ')
    .replace(/> | </g, (edge) => edge.trim())
    .replaceAll('><', '>\n<');
}
