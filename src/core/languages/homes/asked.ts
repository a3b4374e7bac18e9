/** What goes down when a person asks for it, or why it cannot. */
import type { HomeRequest } from '../../language/homing.js';
import { problem, type Problem } from '../../problems/problems.js';
import { spanOf } from '../../script/walk.js';
import { leavingWith, type Host, type Leaving } from './leaving.js';
import { lostBy, passingOf, type Passing } from './lifetime.js';
import { statementsOf } from './statements.js';

export interface Asked {
  readonly leaving: Leaving;
  /** What can take the tag away. */
  readonly passing: readonly Passing[];
  /** What would live for another time than today, where a person wants it all the same. */
  readonly lost: string | undefined;
}

export function askedOf({ outer, inner, use, names, newLifetime }: HomeRequest, host: Host): Asked | Problem {
  const { path } = outer.file;
  const first = statementsOf(host.fn, names);
  if ('unknown' in first)
    return problem('home-unknown', { path, span: outer.span }, first.unknown, outer.name, first.known);
  const leaving = leavingWith(host, first);
  if ('by' in leaving)
    return problem('home-shared', { path, span: spanOf(leaving.at) }, leaving.name, leaving.by, inner.name);
  const around = passingOf(host);
  if (typeof around === 'string') return problem('home-place', { path, span: use }, inner.name, around);
  const passing = around.filter((p) => !p.harmless);
  const lost = lostBy(host, leaving, passing, inner.name);
  if (lost !== undefined && !newLifetime) return problem('home-lifetime', { path, span: use }, lost);
  return { leaving, passing, lost };
}
