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

/** `setQuery` becomes `onQueryChange`. */
export function eventForState(setter: string): string {
  const rest = setter.replace(/^set/, '');
  return rest ? `on${rest[0]!.toUpperCase()}${rest.slice(1)}Change` : 'onChange';
}
