/** Words that no variable may be called by. */
const RESERVED = new Set(
  'class default for in if do else new var let const function return switch case break continue this typeof instanceof delete void with while try catch finally throw debugger enum export import extends super null true false yield await arguments eval static implements interface package private protected public'.split(
    ' ',
  ),
);

export function isReserved(name: string): boolean {
  return RESERVED.has(name);
}
