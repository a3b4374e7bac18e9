/** One thing that crosses the boundary of a region of a template. */
import type { Crossed } from '../../../language/cutting.js';
import { isReserved } from '../../../script/reserved.js';
import type { Variable } from '../../../script/scopes.js';
import type { Span } from '../../../text/edits.js';

export interface Crossing {
  readonly kind: 'prop' | 'event' | 'model' | 'slot';
  /** What the interface of the new component calls it. */
  readonly name: string;
  /** What the use passes, in the host's terms. */
  readonly value: string;
  /** Names that the region binds and an event hands out: its arguments. */
  readonly args: readonly Argument[];
  /** An event hands on what it was given itself: the event object, all that a component gave, or what the host names. */
  readonly event: 'none' | 'one' | 'all' | 'named';
  /** Expression of the host whose type it has. */
  readonly typed: Span | undefined;
  readonly variable: Variable | undefined;
  /** Its type, where that is known without asking. */
  readonly type?: string;
  /** In the text of the region: what stands there once the interface has its names. */
  readonly sites: { readonly span: Span; readonly text: (name: string) => string }[];
  /** Slots: what the outlet hands to its content. */
  readonly scoped?: boolean;
  /** Set for what differs between places that become one. */
  readonly given?: Crossed;
  /** An event: the code that the host keeps. */
  readonly code?: Span;
}

/** A name that an event hands out, and where the region reads it. */
export interface Argument {
  readonly variable: Variable;
  readonly span: Span;
}

export interface Found {
  readonly key: string;
  readonly draft: Omit<Crossing, 'sites'>;
  readonly site: Crossing['sites'][number];
}

export type Add = (key: string, draft: Omit<Crossing, 'sites'>, site: Crossing['sites'][number]) => void;

const RESERVED: Record<string, string> = {
  key: 'itemKey',
  ref: 'innerRef',
  class: 'className',
  style: 'innerStyle',
  is: 'shown',
  slot: 'slotName',
  // What stands between the tags goes by this name.
  children: 'childList',
};

export function propName(name: string): string {
  const plain = name.replace(/^\$+/, '');
  return RESERVED[name] ?? (isReserved(plain) ? `${plain}Value` : plain);
}

export function plainOf(name: string): string {
  return name.replace(/^(?:this|props)\./, '');
}
