/** Words of texts and names, and names made of words. */

const DULL = /^(?:the|a|an|of|for|and|to|your|my|our|in|on|is|are)$/i;

/** PascalCase of the first words of a text; undefined when there is no word in it. */
export function wordsName(text: string | undefined, most: number): string | undefined {
  if (!text) return undefined;
  const plain = text
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/^\/[*/]+|\*+\/$/g, '')
    .replace(/['’]/g, '');
  const words = plain
    .replace(/([a-z0-9])([A-Z])/g, '$1 $2')
    .split(/[^A-Za-z0-9]+/)
    .filter(Boolean);
  if (words.length === 0 || words.length > most + 2) return undefined;
  const isDull = (word: string | undefined) => word === undefined || DULL.test(word);
  // `Date of death` is not a date death, and `Sign in` no sign.
  const isKept = (w: string, i: number) =>
    (/^of$/i.test(w) && !isDull(words[i - 1]) && !isDull(words[i + 1])) ||
    (/^(?:in|on)$/i.test(w) && /^(?:sign|log|check|opt|zoom|turn|built|plug)$/i.test(words[i - 1] ?? ''));
  const shown = words.filter((w, i) => !isDull(w) || isKept(w, i));
  const kept: string[] = [];
  for (const word of shown) if (kept.filter((w) => !isDull(w)).length < most) kept.push(word);
  if (/^of$/i.test(kept.at(-1) ?? '')) kept.pop();
  const name = kept
    .map((w) => w[0]!.toUpperCase() + (w === w.toUpperCase() && w.length > 3 ? w.slice(1).toLowerCase() : w.slice(1)))
    .join('');
  return /^[A-Z]/.test(name) ? name : undefined;
}

const ASKING =
  /^(?:please\s+)?(?:enter|select|choose|pick|provide|specify|type in|filter by|search (?:for|by))\s+(?:(?:an?|the|your|some)\s+)?(?=\S)/i;
const TURNED = /^(type|kind|reason|level|source) (?:of|for) (?:the |a |an )?(\w+(?: \w+)?)$/i;

/** What a field is for, without how one is asked for it: `queen` of `Enter queen here`, `honey type` of `Type of honey`. */
export function askedFor(label: string): string {
  const plain = label
    .trim()
    .replace(/\s*(?:\([^)]*\)|…|\.\.\.|:)\s*$/, '')
    .replace(ASKING, '')
    .replace(/\s+(?:here|below)$/i, '');
  return plain.replace(TURNED, '$2 $1');
}

/** The name with what kind of thing it is behind it, once. */
export function withSuffix(name: string | undefined, suffix: string | undefined): string | undefined {
  if (!name || !suffix) return name;
  if (name.endsWith(suffix)) return name;
  // The `AuthLink` that says `Auth link sign in` is a `SignInAuthLink`.
  return name.startsWith(suffix) && /^[A-Z]/.test(name.slice(suffix.length))
    ? name.slice(suffix.length) + suffix
    : name + suffix;
}

/** `HarvestTable` for a table in `HarvestPage`: with the component that it is cut out of in front, once. */
export function hostPrefixed(host: string, part: string): string {
  const base =
    host.replace(/^Exported(?=[A-Z])|(?<=[a-z])(?:Page|View|Screen|Container|Component|Extension|Base|Edit)$/g, '') ||
    host;
  const pascal = wordsName(part, 4) ?? 'Content';
  if (pascal.startsWith(base)) return pascal;
  // The table toolbar of a `HarvestTable` is a `HarvestTableToolbar`.
  const lastWord = /[A-Z][a-z0-9]+$/.exec(base)?.[0];
  if (lastWord && lastWord !== base && pascal.startsWith(lastWord) && pascal !== lastWord)
    return base + pascal.slice(lastWord.length);
  // The button of a `RefreshButton` is no `RefreshButtonButton`.
  if (lastWord === pascal && lastWord !== base)
    return pascal === 'Content' ? `${base.slice(0, -pascal.length)}Body` : `${base}Content`;
  const short = base.length + pascal.length > LONG_NAME ? firstWords(base, LONG_NAME - pascal.length) : base;
  return pascal.startsWith(short) ? pascal : short + pascal;
}

/** Beyond that a name says no more. */
const LONG_NAME = 28;

/** What a long host is about stands at its beginning, and what kind of thing it is at its end. */
function firstWords(name: string, most: number): string {
  const words = name.split(/(?=[A-Z][a-z])/);
  let short = words[0]!;
  for (const word of words.slice(1)) {
    if (short.length + word.length > most) break;
    short += word;
  }
  return short;
}

/** The words of a name, in small letters. */
export function wordsIn(name: string): string[] {
  return name
    .replace(/([a-z])([A-Z])/g, '$1-$2')
    .toLowerCase()
    .split(/[-_]+/);
}
