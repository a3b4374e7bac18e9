/** How the project writes its Vue files: measured from the host's file and its package, so that new files follow. */
import { camelized } from '../markup.js';
import type { FileSet } from '../../../files/files.js';
import { textOf } from '../../../files/files.js';
import { dirname } from '../../../files/paths.js';
import { indentAt, indentUnitOf, lineEndOf } from '../../../text/layout.js';
import { formattingOf } from '../../formatting.js';
import type { Sfc } from '../sfc.js';

export interface Habits {
  readonly semi: string;
  readonly quote: "'" | '"';
  readonly pad: ' ' | '';
  readonly comma: ',' | '';
  readonly indent: string;
  readonly lineEnd: string;
  readonly typed: boolean;
  /** `hive-row` rather than `HiveRow`. */
  readonly kebabTags: boolean;
  /** `:owner-name` rather than `:ownerName`. */
  readonly kebabProps: boolean;
  /** `v-bind:` and `v-on:` written out. */
  readonly longhand: boolean;
  readonly scriptFirst: boolean;
  /** Indentation of statements in the script, and of what the template shows. */
  readonly scriptIndent: string;
  readonly templateIndent: string;
  readonly width: number;
  readonly vue: VueVersion;
}

export interface VueVersion {
  readonly major: number;
  readonly minor: number;
  /** No package says: what is written has to do for both. */
  readonly guessed?: boolean;
}

export function habitsOf(sfc: Sfc, files: FileSet): Habits {
  const { text } = sfc;
  const script = sfc.setup ?? sfc.script;
  const code = script ? text.slice(script.inner.start, script.inner.end) : '';
  const template = sfc.template ? text.slice(sfc.template.inner.start, sfc.template.inner.end) : '';
  const count = (pattern: RegExp, within = code) => (within.match(pattern) ?? []).length;
  const tags = count(/<[a-z]+(?:-[a-z0-9]+)+/g, template) - count(/<(?:router|keep|transition)-/g, template);
  const first = sfc.shown[0];
  const said = formattingOf(files, sfc.path);
  return {
    semi: said.semi ?? (count(/;\s*$/gm) * 2 > count(/[\w)'"\]}]\s*$/gm) / 2 ? ';' : ''),
    quote: said.quote ?? (count(/"[^"'\n]*"/g) > count(/'[^"'\n]*'/g) ? '"' : "'"),
    pad: said.pad ?? (count(/import \{\S/g) > count(/import \{ /g) ? '' : ' '),
    comma:
      said.trailingComma === undefined
        ? count(/,\s*\n\s*[}\])]/g) > count(/[^,\s]\s*\n\s*[}\])]/g) / 3
          ? ','
          : ''
        : said.trailingComma
          ? ','
          : '',
    indent: indentUnitOf(template.trim() ? template : text),
    lineEnd: lineEndOf(text),
    typed: sfc.syntax.startsWith('ts'),
    kebabTags: tags > count(/<[A-Z]\w*/g, template),
    kebabProps: count(/\s:?[a-z]+[A-Z]\w*=/g, template) <= count(/\s:[a-z]+-[a-z-]+=/g, template),
    longhand: count(/\sv-(?:bind|on):/g, template) > count(/\s[:@]\w/g, template),
    scriptFirst: !script || !sfc.template || script.start < sfc.template.start,
    scriptIndent: /^(?:[ \t]*\r?\n)*([ \t]*)\S/.exec(code)?.[1] ?? '',
    templateIndent: first ? indentAt(text, first.loc.start.offset) : '  ',
    width: said.width ?? Math.min(120, Math.max(80, longest(template))),
    vue: vueOf(files, sfc.path),
  };
}

/** Nearly all lines are at most this long. */
function longest(text: string): number {
  const lengths = text
    .split('\n')
    .map((line) => line.length)
    .sort((a, b) => a - b);
  return lengths[Math.floor(lengths.length * 0.98)] ?? 80;
}

/** Whether `defineModel` is there. */
export function hasModels({ vue }: Habits): boolean {
  return vue.major > 3 || (vue.major === 3 && vue.minor >= 4);
}

/** The version that the closest `package.json` asks for; the newest where none says. */
export function vueOf(files: FileSet, path: string): VueVersion {
  for (let dir = dirname(path); ; dir = dirname(dir)) {
    const text = textOf(files, dir ? `${dir}/package.json` : 'package.json');
    const asked = /"vue"\s*:\s*"[^\d"]*(\d+)(?:\.(\d+))?/.exec(text ?? '');
    if (asked) return { major: Number(asked[1]), minor: Number(asked[2] ?? 99) };
    if (
      /"(?:nuxt"\s*:\s*"[^\d"]*2|vuepress"\s*:\s*"[^\d"]*[01]\.|@vue\/composition-api"|vue-template-compiler")/.test(
        text ?? '',
      )
    )
      return { major: 2, minor: 7 };
    if (!dir)
      return OLDER.test(textOf(files, path) ?? '')
        ? { major: 2, minor: 7, guessed: true }
        : { major: 3, minor: 99, guessed: true };
  }
}

/** What only Vue 2 has. */
const OLDER =
  /@vue\/composition-api|\sslot-scope=|\sslot="|\.sync=|\b(?:beforeDestroy|destroyed)\s*\(|\$scopedSlots|\$listeners|\.native[.=]|Vue\.extend\(/;

/** `owner-name` for `ownerName`; names that would not come back the same stay as they are. */
export function hyphenated(name: string): string {
  const result = name.replace(/\B([A-Z])/g, '-$1').toLowerCase();
  return camelized(result) === name ? result : name;
}

/** What an event is called where it is sent: Vue 2 listens for exactly what was sent. */
export function sentName(name: string, habits: Habits): string {
  return habits.vue.major < 3 ? hyphenated(name) : name;
}
