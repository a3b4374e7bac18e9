/** The longest head and tail that all texts share, ending where a word ends; undefined where there is neither. */
export function commonEnds(texts: readonly string[]): { head: string; tail: string } | undefined {
  if (texts.length < 2 || texts.every((t) => t === texts[0])) return undefined;
  const least = Math.min(...texts.map((t) => t.length));
  let head = 0;
  while (head < least && texts.every((t) => t[head] === texts[0]![head])) head++;
  while (head > 0 && !/[^\p{L}\p{N}]/u.test(texts[0]![head - 1]!)) head--;
  let tail = 0;
  const fromEnd = (t: string, i: number) => t[t.length - 1 - i];
  while (tail < least - head && texts.every((t) => fromEnd(t, tail) === fromEnd(texts[0]!, tail))) tail++;
  while (tail > 0 && !/[^\p{L}\p{N}]/u.test(fromEnd(texts[0]!, tail - 1)!)) tail--;
  if (head + tail === 0 || texts.some((t) => t.length <= head + tail)) return undefined;
  return { head: texts[0]!.slice(0, head), tail: tail ? texts[0]!.slice(-tail) : '' };
}

/** How many words all names share at either end, whatever their case; of each name at least one is left between. */
export function commonWords(names: readonly (readonly string[])[]): { head: number; tail: number } {
  const least = Math.min(...names.map((words) => words.length)) - 1;
  const isShared = (at: number) =>
    names.every((words) => words.at(at)?.toLowerCase() === names[0]!.at(at)?.toLowerCase());
  let head = 0;
  while (head < least && isShared(head)) head++;
  let tail = 0;
  while (tail < least - head && isShared(-1 - tail)) tail++;
  return { head, tail };
}
