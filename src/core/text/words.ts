/** Words that names are made of. */

export function capital(word: string): string {
  return word[0]!.toUpperCase() + word.slice(1);
}

/** One of many: `visit` for `visits`. */
export function singular(word: string): string {
  if (/(?:ies)$/.test(word) && word.length > 4) return word.slice(0, -3) + 'y';
  if (/(?:sses|shes|ches|xes)$/.test(word)) return word.slice(0, -2);
  if (/[^sui]s$/.test(word)) return word.slice(0, -1);
  return word.replace(/List$/, '');
}
