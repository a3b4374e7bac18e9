/** What code does besides showing, whatever framework it is written for. */
import type { Deed } from '../markup/model.js';
import type { Node } from '../script/parser.js';
import { calleeName } from '../script/walk.js';

const LOADERS = new Set([
  'fetch',
  'axios',
  'useQuery',
  'useSWR',
  'useSWRImmutable',
  'useInfiniteQuery',
  'useMutation',
  'ky',
  'superagent',
  'xhr',
]);
const STORES = new Set(['localStorage', 'sessionStorage', 'indexedDB']);
const TIMERS = new Set(['setTimeout', 'setInterval', 'requestAnimationFrame']);
const SUBSCRIPTIONS = new Set(['addEventListener', 'subscribe', 'addListener']);
const CHANNELS = new Set(['WebSocket', 'EventSource', 'IntersectionObserver', 'ResizeObserver', 'MutationObserver']);

/** What one piece of syntax does by itself; undefined for most. */
export function deedOf(node: Node): Deed | undefined {
  switch (node.type) {
    case 'CallExpression': {
      const name = calleeName(node);
      if (name === undefined) return undefined;
      if (LOADERS.has(name)) return 'loads data';
      if (TIMERS.has(name)) return 'runs timers';
      return SUBSCRIPTIONS.has(name) ? 'holds a subscription' : undefined;
    }
    case 'NewExpression':
      if (node.callee.type !== 'Identifier') return undefined;
      if (CHANNELS.has(node.callee.name)) return 'holds a subscription';
      return node.callee.name === 'XMLHttpRequest' ? 'loads data' : undefined;
    case 'MemberExpression':
      if (node.object.type !== 'Identifier') return undefined;
      if (STORES.has(node.object.name)) return 'keeps storage';
      return node.object.name === 'axios' ? 'loads data' : undefined;
    default:
      return undefined;
  }
}
