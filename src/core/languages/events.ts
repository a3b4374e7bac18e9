/** Names of callback props, as the trade gives them. */

export function isEventName(name: string): boolean {
  return /^on[A-Z]/.test(name);
}

/** `handleRemove` and `removeHive` become `onRemove` and `onRemoveHive`; `onSave` stays. */
export function eventNameFor(name: string): string {
  if (isEventName(name)) return name;
  const rest = /^_*(?:handle|do|fire|emit)(?=[A-Z])/.test(name)
    ? name.replace(/^_*(?:handle|do|fire|emit)/, '')
    : name.replace(/^[_$]+/, '');
  if (/^On[A-Z]/.test(rest)) return 'o' + rest.slice(1);
  return rest ? `on${rest[0]!.toUpperCase()}${rest.slice(1)}` : 'onAction';
}

/** `choose` for `onChoose`: what a listener is called without its `on`; undefined for another name. */
export function plainEvent(name: string): string | undefined {
  const rest = /^on([A-Z].*)$/.exec(name)?.[1];
  return rest === undefined ? undefined : rest[0]!.toLowerCase() + rest.slice(1);
}

/**
 * `setRemoving(hive)` asks for the removal of a hive: `onRemove`. Undefined where a state is not called after something
 * that is going on.
 */
export function eventForAsking(setter: string): string | undefined {
  const stem = /^set([A-Z][a-z]*)ing$/.exec(setter)?.[1];
  if (stem === undefined || stem.length < 3 || !/[aeiouy]/i.test(stem)) return undefined;
  const single = /([bdgmnprt])\1$/.test(stem) && stem !== 'Add' ? stem.slice(0, -1) : stem;
  return `on${single}${WITHOUT_E.test(stem) ? 'e' : ''}`;
}

/** Stems of verbs that end with an e: `remov`, `delet`, `renam`, `clos`, `manag`. */
const WITHOUT_E = /(?:[ao]v|iv|let|nam|creat|[^aeiou]at|[^aeiou]ar|[^aeiou]or|i[sz]|os|ang|rg|ag|ut|plac|duc)$/i;

/**
 * What happens where a state is only ever set to one value that is written out: `close` for `open = false`, else what the button says,
 * else `clearChosen` for `chosen = null`. Undefined where nothing says it.
 */
export function deedOf(state: string, value: string, label: string | undefined): string | undefined {
  if (
    /^shows?(?:[A-Z]|$)|^is(?:Open|Shown|Visible)|(?:Open|Opened|Visible|Shown)$|^(?:open|opened|visible|shown)$/.test(
      state,
    )
  ) {
    if (value === 'false') return 'close';
    if (value === 'true') return 'open';
  }
  const words = label?.trim().split(/\s+/) ?? [];
  const capital = (word: string) => word[0]!.toUpperCase() + word.slice(1);
  if (words.length === 0 || words.length > 3 || !words.every((word) => /^[A-Za-z]+$/.test(word)))
    return /^(?:null|''|""|)$/.test(value) ? `clear${capital(state)}` : undefined;
  const [first, ...rest] = words.map((word) => word.toLowerCase());
  return first! + rest.map(capital).join('');
}

/** `setQuery` becomes `onQueryChange`. */
export function eventForState(setter: string): string {
  const rest = setter.replace(/^set/, '');
  return rest ? `on${rest[0]!.toUpperCase()}${rest.slice(1)}Change` : 'onChange';
}
