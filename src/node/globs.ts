/** Patterns for paths that a project brings along: matching one of them must not take for ever. */

const MOST = { length: 300, inName: 4, folders: 6, braces: 4 };

/**
 * Whether a pattern can be matched without trying a great many ways: the time grows with the length of a path to the
 * power of the wildcards in one name, and repeated groups (`+(…)`, `*(…)`) inside of each other double it for each letter.
 */
export function isQuick(pattern: string): boolean {
  const names = pattern.split('/');
  const stars = (name: string) => (name === '**' ? 0 : (name.match(/\*+|\?\(|[@!+]\(/g) ?? []).length);
  return (
    pattern.length <= MOST.length &&
    names.every((name) => stars(name) <= MOST.inName) &&
    names.filter((name) => name === '**').length <= MOST.folders &&
    (pattern.match(/\{/g) ?? []).length <= MOST.braces &&
    !/[+*]\(/.test(pattern)
  );
}
