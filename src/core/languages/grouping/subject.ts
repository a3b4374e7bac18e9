/** What a piece of logic is about, told by the names that it declares. */

/**
 * What names have in common: `orders` of `newOrders` and `oldOrders`, else the words that most of them share, `selectedHive` of
 * `selectedHiveId` and `selectedHiveName`; else the first of them.
 */
export function subjectOf([first, ...others]: readonly string[]): string {
  const words = (name: string) => name.split(/(?=[A-Z])/);
  const ends = others.map((name) => words(name).reverse());
  const own = words(first!).reverse();
  const other = own.findIndex((word, i) => ends.some((end) => end[i]?.toLowerCase() !== word.toLowerCase()));
  const shared = own
    .slice(0, other < 0 ? own.length : other)
    .reverse()
    .join('');
  const common = shared || sharedBySome([first!, ...others].map(words));
  return common ? `${common[0]!.toLowerCase()}${common.slice(1)}` : first!;
}

/** Two words or more in a row that several names have: those of the most names, then the longest. */
function sharedBySome(names: readonly (readonly string[])[]): string {
  const counts = new Map<string, number>();
  for (const words of names) {
    const runs = words.flatMap((_, i) => words.slice(i + 1).map((_, n) => words.slice(i, i + n + 2).join('')));
    for (const run of new Set(runs.map((r) => r[0]!.toUpperCase() + r.slice(1))))
      counts.set(run, (counts.get(run) ?? 0) + 1);
  }
  const [best] = [...counts].filter(([, n]) => n > 1).sort(([a, n], [b, m]) => m - n || b.length - a.length);
  return best?.[0] ?? '';
}
