/** Tables that `propose` prints: who owns each state, and two ways to cut where one value decides. */
import type { Alternatives, Weighed, WeighedState } from '../core/index.js';
import type { Colors } from './host.js';
import type { Session } from './session.js';

export function nameIn(id: string): string {
  return id.slice(id.lastIndexOf('#') + 1);
}

/** Each state with who reads it, who writes it and where it could live. */
export function statesText({ colors: c }: Session, { states }: Weighed): string {
  if (states.length === 0) return 'no component here keeps a state\n';
  const out: string[] = [];
  for (const id of new Set(states.map((s) => s.component))) {
    const own = states.filter((s) => s.component === id);
    const rows = own.map((s) => [s.name, some(s.readers), some(s.writers), s.needless ?? homeText(s)]);
    out.push(c.bold(nameIn(id)) + c.dim(`  ${id.slice(0, id.lastIndexOf('#'))}`));
    out.push(...columns([['state', 'read by', 'written by', 'home'], ...rows], c), '');
  }
  return `${out.join('\n').trimEnd()}\n`;
}

function homeText({ home, then, only }: WeighedState): string {
  if (home) return `→ ${nameIn(home.component)}`;
  if (then) return `→ ${then}, with the plan`;
  return only ? `here: ${only} alone uses it, but comes and goes` : 'here';
}

function some(names: readonly string[]): string {
  if (names.length === 0) return '–';
  return names.length <= 3 ? names.join(', ') : `${names.slice(0, 2).join(', ')} and ${names.length - 2} more`;
}

/** Two ways to cut each component in which a value decides in several places. */
export function alternativesText({ colors: c }: Session, alternatives: readonly Alternatives[]): string {
  if (alternatives.length === 0) return 'no value decides at three places of a component\n';
  const out: string[] = [];
  for (const { component, value, forms, places, ways } of alternatives) {
    const where = places.map(([first, last]) => (first === last ? String(first) : `${first}-${last}`)).join(', ');
    out.push(`${c.bold(nameIn(component))}  ${c.dim(component.slice(0, component.lastIndexOf('#')))}`);
    out.push(`  ${c.cyan(value)} decides between ${forms.join(', ')} at lines ${where}`);
    const rows = ways.map((way) => [
      way.way === 'section' ? 'by section, the switch inside' : 'by variant, one for each form',
      String(way.components),
      String(way.lines[0]),
      way.lines[1] === 0 ? '–' : String(way.lines[1]),
      String(way.crossing),
      way.twice === 0 ? '–' : `${way.twice} lines`,
    ]);
    out.push(...columns([['way', 'components', 'host', 'longest', 'crosses', 'twice'], ...rows], c));
    out.push(`  ${c.dim(verdict(ways))}`, '');
  }
  return `${out.join('\n').trimEnd()}\n`;
}

function verdict([section, variant]: Alternatives['ways']): string {
  if (section.components === 1) return 'the plan cuts nothing here; by variant is the only way of the two';
  if (variant.twice > section.crossing && variant.crossing >= section.crossing)
    return 'by section: less crosses, and nothing stands twice; the plan holds this one';
  return variant.twice + variant.crossing < section.crossing
    ? 'by variant: fewer things cross, and little stands twice; the plan holds the way by section'
    : 'the plan holds the way by section';
}

/** Rows under a head, each column as wide as its widest cell; columns of numbers stand at the right. */
function columns(rows: readonly (readonly string[])[], c: Colors): string[] {
  const widths = rows[0]!.map((_, i) => Math.max(...rows.map((row) => row[i]!.length)));
  const isNumber = rows[0]!.map((_, i) => rows.slice(1).every((row) => /^(?:\d+|–)(?: lines)?$/.test(row[i]!)));
  return rows.map((row, at) => {
    const cells = row.map((cell, i) => (isNumber[i] ? cell.padStart(widths[i]!) : cell.padEnd(widths[i]!)));
    const line = `  ${cells.join('  ')}`.trimEnd();
    return at === 0 ? c.dim(line) : line;
  });
}
