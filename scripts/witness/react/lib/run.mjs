// One session = one evaluation of the modules + rendering + interaction, all deterministic.
import { createAnyWorld, isAny, pathOf, show, hash, shorten, Fuel, isComponentLike, SPREAD } from './any.mjs';
import { R, server, setHooks, createReact, createBases, createRenderHooks, isElement } from './react.mjs';
import { link, instantiate } from './load.mjs';
import { emptyProfile, addToProfile } from './profile.mjs';

const FUEL = { module: 60000, render: 150000, handler: 15000 };
const RealDate = Date, RealJSON = JSON, RealArray = Array, RealObject = Object;
const NOW = 1700000000000;
for (const C of [Number, RealDate, String, BigInt]) for (const m of Object.getOwnPropertyNames(C.prototype).filter((x) => /^toLocale/.test(x) || x === 'localeCompare')) {
  const o = C.prototype[m];
  Object.defineProperty(C.prototype, m, { configurable: true, writable: true, value: function (...a) { try { return o.apply(this, a.map((x) => (isAny(x) ? undefined : x && typeof x === 'object' ? undefined : x))) + (a.length ? '' : ''); } catch { return String(this); } } });
}
const toISO = RealDate.prototype.toISOString;
Object.defineProperty(RealDate.prototype, 'toISOString', { configurable: true, writable: true, value: function () { return Number.isNaN(this.getTime()) ? 'Invalid Date' : toISO.call(this); } });

function makeSession({ variant, nulls, profile, scale = 1 }) {
  const S = { variant, nulls, profile, scale, fuel: FUEL.module * scale, log: [], mute: 0, probing: 0, nested: 0, phase: 'module', stateN: 0, refN: 0, refNames: new WeakMap(), ctxNames: new Map(), idN: 0, classN: 0, stateVals: new Map(), sets: new Map(), classSets: new Map(), overrides: null, classOverrides: null,
    effects: [], instances: [], provides: [], keys: [], staticArrays: new WeakSet(), deferred: [], postQueue: [], timers: [], reg: [], hoc: new Set(), ctxN: {}, stubCount: 0, hostCount: 0, refErrors: new Set(), sites: new Set(), invoked: 0, noProbe: false };
  S.logLine = (l) => { if (S.mute) return; if (S.log.length < 4000) S.log.push(l); };
  S.fuelCheck = () => { if ((S.fuel -= 5) < 0) throw new Fuel(); };
  S.register = (name, fns, refs) => S.reg.push({ name, fns, refs: refs || [] }) - 1;
  S.defer = (k, f) => { if (S.mute) return; if (S.phase === 'post') { if (S.postQueue.length < 40) S.postQueue.push([k, f]); } else if (S.deferred.length < 600) S.deferred.push([k, f]); };
  Object.assign(S, createAnyWorld(S));
  S.canon = (v) => canon(S, v, 0, new Set());
  Object.assign(S, createBases(S));
  S.legacyCtx = R.createContext(S.any('legacyContext'));
  return S;
}
function canon(S, v, d, seen) {
  switch (typeof v) {
    case 'undefined': return 'undefined';
    case 'number': return Object.is(v, -0) ? '0' : String(v);
    case 'boolean': return String(v);
    case 'string': return RealJSON.stringify(v.length > 4000 ? shorten(v, 4000) : v);
    case 'bigint': return v + 'n';
    case 'symbol': return v.toString();
    case 'function': return isAny(v) ? show(v) : 'ƒ';
    default:
  }
  if (v === null) return 'null';
  if (isElement(v)) return nestedRender(S, v);
  if (v.$$typeof) return 'exotic';
  if (v.__rootProxy === true) return 'ROOTPROPS';
  if (S.refNames.has(v)) return S.refNames.get(v);
  if (d > 6) return '…';
  if (seen.has(v)) return '↺';
  const s2 = new Set(seen).add(v);
  S.fuelCheck();
  try {
    if (RealArray.isArray(v)) return '[' + v.slice(0, 200).map((x) => canon(S, x, d + 1, s2)).join(',') + ']';
    if (v instanceof RealDate) return 'Date(' + v.getTime() + ')';
    if (v instanceof Map) return 'Map' + canon(S, [...v], d + 1, s2);
    if (v instanceof Set) return 'Set' + canon(S, [...v], d + 1, s2);
    if (v instanceof RegExp) return String(v);
    if (v instanceof Error) return 'Error:' + v.name;
    if (typeof v.then === 'function') return 'promise';
    if (v.isReactComponent) return 'instance';
    if ('_idleTimeout' in v || v.constructor?.name === 'Immediate') return 'timer';
    const keys = Object.keys(v).filter((k) => { try { return v[k] !== undefined; } catch { return false; } }).sort().slice(0, 200);
    return '{' + keys.map((k) => k + ':' + canon(S, v[k], d + 1, s2)).join(',') + '}';
  } catch (e) { if (e instanceof Fuel) throw e; return '{!' + e.name + '}'; }
}
const uniq = (a) => [...new Set(a)].sort();
const strip = (h) => h.replace(/ data-fn="\d+"/g, ' data-fn');
function isolated(S, f) {
  const save = [S.stateN, S.idN, S.classN, S.refN];
  S.nested++;
  try { return f(); } finally { S.nested--; [S.stateN, S.idN, S.classN, S.refN] = save; }
}
function nestedRender(S, el) {
  if (S.nested >= 2) return '<…>';
  const n0 = S.reg.length;
  const ph = S.phase; S.phase = ph === 'module' ? 'render' : ph;
  try { return isolated(S, () => '<' + strip(server(S.nested).renderToStaticMarkup(el)) + '>'); } catch (e) { noteRef(S, e); if (e instanceof Fuel) throw e; return '<!' + e.name + '>'; } finally { S.reg.length = n0; S.phase = ph; }
}
function noteRef(S, e) { const m = e && e.name === 'ReferenceError' && /^(\S+) is not defined$/.exec(e.message); if (m) S.refErrors.add(m[1]); }

function makeGlobals(S) {
  const g = {};
  const A = (n) => S.any(n);
  for (const n of ['document', 'navigator', 'localStorage', 'sessionStorage', 'location', 'history', 'fetch', 'alert', 'confirm', 'prompt', 'Intl', 'Blob', 'File', 'FileReader', 'FormData', 'XMLHttpRequest', 'WebSocket', 'ResizeObserver', 'IntersectionObserver', 'MutationObserver', 'HTMLElement', 'Element', 'Node', 'Event', 'CustomEvent', 'KeyboardEvent', 'Image', 'crypto', 'performance', 'AbortController', 'getComputedStyle', 'matchMedia']) g[n] = A(n);
  g.window = A('window'); g.globalThis = A('globalThis'); g.global = A('globalThis'); g.self = A('window');
  g.innerWidth = 1024; g.innerHeight = 768;
  g.__importMeta = A('import.meta'); g.__importMetaEnv = A('import.meta.env');
  g.process = { env: new Proxy({ NODE_ENV: 'test' }, { get: (t, k) => (k in t ? t[k] : typeof k === 'string' ? S.valueFor('env.' + k, k) : undefined) }), platform: 'linux', argv: [], cwd: () => '/', nextTick: (f, ...a) => S.timers.push(() => f(...a)), versions: {}, browser: true };
  g.console = new Proxy({}, { get: () => () => {} });
  g.structuredClone = (v) => v;
  const timer = (f, ...a) => { if (typeof f === 'function' && !S.probing && S.timers.length < 30) S.timers.push(typeof f === 'function' && isAny(f) ? () => f() : () => f()); return 1; };
  g.setTimeout = timer; g.setInterval = timer; g.setImmediate = timer; g.queueMicrotask = timer; g.requestAnimationFrame = timer;
  g.clearTimeout = g.clearInterval = g.cancelAnimationFrame = () => {};
  g.Date = class Date extends RealDate {
    constructor(...a) { if (a.length === 0) super(NOW); else if (a.some(isAny)) super(NOW + (hash(a.map((x) => (isAny(x) ? pathOf(x) : String(x))).join()) % 1e9) * 1000); else { super(...a); } }
    static now() { return NOW; }
  };
  g.Date.parse = (x) => (isAny(x) ? NOW + (hash(pathOf(x)) % 1e9) : RealDate.parse(x)); 
  let seed = 12345;
  g.Math = Object.create(Math, { random: { value: () => { seed = (Math.imul(seed, 1103515245) + 12345) & 0x7fffffff; return seed / 0x7fffffff; } } });
  g.JSON = { parse: (s, r) => (isAny(s) || (typeof s === 'string' && s.includes('⟦')) ? S.any('JSON.parse(' + shorten(String(s), 80) + ')') : RealJSON.parse(s, r)), stringify: (v, r, i) => { try { return RealJSON.stringify(v, typeof r === 'function' && isAny(r) ? undefined : r, i); } catch { return S.canon(v); } } };
  g.URL = class { constructor(u, b) { return S.any('URL(' + S.canon(u) + (b ? ',' + S.canon(b) : '') + ')'); } static createObjectURL(x) { return S.any('URL.createObjectURL')(x); } static revokeObjectURL(x) { return S.any('URL.revokeObjectURL')(x); } };
  g.URLSearchParams = class { constructor(u) { return S.any('URLSearchParams(' + S.canon(u) + ')'); } };
  g.Array = RealArray; g.Object = RealObject;
  g.parseInt = (x, r) => (isAny(x) ? Number(x) : parseInt(x, r)); g.parseFloat = (x) => (isAny(x) ? Number(x) : parseFloat(x));
  g.RegExp = new Proxy(RegExp, { construct: (T, a) => { try { return new T(...a.map((x) => (isAny(x) ? 'any' : x))); } catch (e) { if (a.some((x) => String(x).includes('⟦'))) return /any/; throw e; } }, apply: (T, t, a) => { try { return T(...a.map((x) => (isAny(x) ? 'any' : x))); } catch (e) { if (a.some((x) => String(x).includes('⟦'))) return /any/; throw e; } } });
  return g;
}
function rootProps(S, defaults) {
  const keys = [...S.profile.propKeys].sort().slice(0, 60);
  const own = [...keys, 'children', 'data-rest'];
  const get = (k) => {
    if (typeof k === 'symbol') return undefined;
    if (k === '__rootProxy') return true;
    if (k === 'ref') return S.any('props.ref');
    if (k === 'key' || k === '$$typeof' || k === 'then' || k === 'toJSON' || k === 'isReactComponent' || k === 'default') return undefined;
    if (k === 'hasOwnProperty') return (x) => own.includes(x);
    if (k === 'children') return S.any('props.children');
    if (defaults && typeof defaults === 'object' && !isAny(defaults) && defaults[k] !== undefined && S.variant >= 2 && hash(S.variant + k) % 2) return defaults[k];
    const v = S.valueFor('props.' + k, k);
    if (v === undefined && defaults && !isAny(defaults) && defaults[k] !== undefined) return defaults[k];
    return v;
  };
  return new Proxy({}, { get: (_, k) => get(k), has: (_, k) => typeof k === 'string' && k !== 'ref' && k !== 'key', ownKeys: () => own, getOwnPropertyDescriptor: (_, k) => (own.includes(k) ? { value: get(k), enumerable: true, configurable: true, writable: true } : undefined), set: () => true });
}
const elementOf = (type, props) => ({ $$typeof: Symbol.for('react.transitional.element'), type, key: null, ref: null, props });

function targets(S, exp, want) {
  const out = [];
  const names = isAny(exp) ? ['module.exports'] : typeof exp === 'function' ? ['module.exports', ...Object.keys(exp)] : exp && typeof exp === 'object' ? Object.keys(exp) : [];
  for (const n of names) {
    if (n === '__esModule' || (want && n !== want && !(want === 'default' && n === 'module.exports'))) continue;
    let v; try { v = n === 'module.exports' ? exp : exp[n]; } catch { continue; }
    if (v === undefined || v === null || isAny(v)) continue;
    if (typeof v === 'function') {
      const isC = (n === 'default' || n === 'module.exports') ? !/^use[A-Z]/.test(v.name || '') : /^[A-Z]/.test(n) || !!(v.prototype && v.prototype.isReactComponent);
      out.push({ name: n, kind: isC ? 'component' : 'function', v });
    } else if (typeof v === 'object') {
      if (v.$$typeof === Symbol.for('react.context') || v.$$typeof === Symbol.for('react.consumer')) continue;
      out.push({ name: n, kind: isComponentLike(v, S) ? 'component' : 'value', v });
    }
  }
  return out.slice(0, 40);
}
const flush = () => new Promise((r) => setImmediate(r));

async function invokeBlock(S, label, f, args, depth = 0) {
  const outer = S.log; S.log = []; S.fuel = FUEL.handler; S.invoked++;
  const drain = async () => {
    for (let i = 0; i < 12 && (S.timers.length || S.postQueue.length); i++) {
      const t = S.timers.shift();
      if (t) { S.log.push('timer:'); try { const r = t(); if (r && typeof r.then === 'function' && !isAny(r)) { Promise.resolve(r).catch(() => {}); await flush(); } } catch (e) { S.log.push('!' + e.name); } continue; }
      const [k, g] = S.postQueue.shift();
      S.log.push('cb ' + shorten(k, 100) + ':'); const mk = S.log.length;
      try { const r = callIt(S, g, [S.any('$a0'), S.any('$a1'), S.any('$a2')]); if (r && typeof r.then === 'function' && !isAny(r)) { Promise.resolve(r).catch(() => {}); await flush(); } result(S, r, 2, mk); } catch (e) { noteRef(S, e); S.log.push('!' + e.name); }
    }
    S.timers.length = 0; S.postQueue.length = 0;
  };
  try {
    const r = callIt(S, f, args, label);
    if (r && typeof r === 'object' && typeof r.then === 'function') {
      let done = false;
      Promise.resolve(r).then((x) => { done = true; result(S, x, depth); }, (e) => { done = true; noteRef(S, e); S.log.push('!!' + (e && e.name)); });
      for (let i = 0; i < 4 && !done; i++) { await flush(); await drain(); }
      if (!done) S.log.push('pending');
    } else result(S, r, depth);
  } catch (e) { noteRef(S, e); S.log.push('!' + (e && e.name)); }
  await drain();
  const text = label + (S.log.some((l) => l === '!Fuel' || l === '!!Fuel') ? ' {!Fuel}' : ' {' + S.log.join('; ') + '}');
  S.log = outer;
  return text;
}
function callIt(S, f, args, label = '') {
  if (typeof f === 'object' || (f.prototype && f.prototype.isReactComponent)) return elementOf(f, rootProps(S, f.defaultProps));
  if (/(^|\.)(as|component|[a-z]+Component|[A-Z]\w*)(:|$)/.test(label.replace(/^.*?\|/, '')) && /^[A-Z]/.test(f.name || '')) return elementOf(f, rootProps(S, f.defaultProps));
  try { return f(...args); } catch (e) {
    if (e instanceof TypeError && /'use[A-Z]|reading 'use|of null \(reading/.test(e.message)) return elementOf(f, rootProps(S, f.defaultProps));
    throw e;
  }
}
// `mark`: where this call's lines begin in S.log. What is called while an element is made has no order (parts may run later, in a child).
function result(S, r, depth, mark = 0) {
  if (r === undefined) return;
  const settle = () => { const mine = S.log.splice(mark); S.log.push(...uniq(mine)); };
  if (typeof r === 'function' && !isAny(r)) {
    if (depth < 1) { try { S.log.push('→ƒ'); const mk = S.log.length; const q = r(S.any('$b0'), S.any('$b1')); result(S, q, depth + 1, mk); } catch (e) { S.log.push('→ƒ!' + e.name); } } else S.log.push('→ƒ');
    return;
  }
  if (isElement(r) && depth < 1) {
    const n0 = S.reg.length;
    try {
      const html = isolated(S, () => server(1).renderToStaticMarkup(r));
      settle();
      S.log.push('→<' + strip(html) + '>');
      const regs = idsOf(html).map((id) => S.reg[id]).filter(Boolean).slice(0, 12);
      for (const e of regs) for (const [k, g] of e.fns.slice(0, 6)) { S.log.push(`${e.name}.${k}:`); const mk = S.log.length; try { result(S, callIt(S, g, [S.any('$ev'), S.any('$a1')], '|' + k), depth + 1, mk); } catch (x) { noteRef(S, x); S.log.push('!' + x.name); } }
    } catch (e) { noteRef(S, e); S.log.push('→<!' + e.name + '>'); } finally { S.reg.length = n0; }
    return;
  }
  const text = '→' + shorten(S.canon(r), 3000);
  if (hasElement(r, 0)) settle();
  S.log.push(text);
}
const hasElement = (v, d) => v !== null && typeof v === 'object' && (isElement(v) || (d < 4 && (RealArray.isArray(v) ? v.some((x) => hasElement(x, d + 1)) : !v.$$typeof && Object.values(v).some((x) => hasElement(x, d + 1)))));
const idsOf = (html) => [...html.matchAll(/ data-fn="(\d+)"/g)].map((m) => Number(m[1]));

async function interact(S, html, pass) {
  S.phase = 'post';
  const ids = idsOf(html);
  const regs = ids.map((i) => S.reg[i]).filter(Boolean);
  let el = 0;
  for (const e of regs) for (const r of e.refs) { try { if (r.current === null || r.current === undefined) r.current = S.any(`el:${e.name}:${el++}`); } catch {} }
  const handlers = []; const effects = []; const deferred = [];
  let n = 0;
  for (const e of regs) {
    for (const [k, f] of [...e.fns].sort((a, b) => (a[0] < b[0] ? -1 : a[0] > b[0] ? 1 : 0))) {
      if (n++ > 160) break;
      const host = /^[a-z][a-z0-9]*$/.test(e.name);
      handlers.push(await invokeBlock(S, `${e.name}|${k}`, f, host ? [S.any(k === 'ref' ? '$el' : '$ev')] : [S.any('$a0'), S.any('$a1'), S.any('$a2')]));
    }
  }
  S.nHandlers = (S.nHandlers || 0) + handlers.length;
  if (pass === 1) {
    const effs = S.effects.slice(0, 80), insts = S.instances.slice(0, 40), defs = [...S.deferred].sort((a, b) => (a[0] < b[0] ? -1 : a[0] > b[0] ? 1 : 0)).slice(0, 200);
    for (const e of effs) if (typeof e.fn === 'function') effects.push(await invokeBlock(S, `${e.kind}${e.deps}`, e.fn, []));
    for (const i of insts) for (const m of ['componentDidMount', 'componentDidUpdate', 'componentWillUnmount']) if (typeof i[m] === 'function' && !isAny(i[m])) effects.push(await invokeBlock(S, m, () => i[m](i.props, i.state || {}, undefined), []));
    for (const [k, f] of defs) deferred.push(await invokeBlock(S, k, f, [S.any('$a0'), S.any('$a1'), S.any('$a2')]));
    const du = uniq(deferred); deferred.length = 0; deferred.push(...du);
  }
  return { handlers, effects, deferred };
}
const renumber = (html) => { let i = 0; return html.replace(/ data-fn="\d+"/g, () => ` data-fn="${i++}"`); };

function renderRoot(S, t) {
  S.phase = 'render'; S.fuel = FUEL.render * S.scale; S.log = []; S.provides = []; S.keys = []; S.stateN = 0; S.refN = 0; S.idN = 0; S.classN = 0; S.effects = []; S.instances = []; S.deferred = S.deferred.filter(() => false); S.reg = []; S.timers = []; S.postQueue = [];
  let el;
  if (t.kind === 'component') el = elementOf(t.v, rootProps(S, t.v.defaultProps));
  else {
    const Harness = () => { const r = t.kind === 'function' ? t.v(S.any('$x0'), S.any('$x1'), S.any('$x2')) : t.v; if (r && typeof r === 'object' && typeof r.then === 'function') r.then(() => {}, () => {}); return S.hooks.renderStub('export:' + t.name, r && isElement(r) ? { children: r } : { value: r === undefined ? 'undefined' : r }); };
    Object.defineProperty(Harness, 'name', { value: 'Harness' });
    el = elementOf(Harness, {});
  }
  return server(0).renderToStaticMarkup(el);
}
// ---- one side, one variant ----------------------------------------------------------
export async function runSide(mods, entry, { variant, nulls, profile, want, names, scale = 1 }) {
  const S = makeSession({ variant, nulls, profile, scale });
  S.hooks = createRenderHooks(S);
  setHooks(S.hooks);
  const specials = createReact(S);
  const out = { sections: new Map(), exports: [], errors: {}, stats: {}, refErrors: S.refErrors, sites: S.sites };
  let exp;
  try { exp = instantiate(mods, entry, S, specials, makeGlobals(S), profile.ambient); } catch (e) { noteRef(S, e); out.moduleError = err(e); return out; }
  const moduleLog = uniq(S.log);
  const moduleDeferred = S.deferred.slice(0, 40);
  S.deferred = [];
  let ts = targets(S, exp, want);
  out.exports = ts.map((t) => t.name + ':' + t.kind);
  if (names) { for (const n of names) if (!out.exports.includes(n)) out.missing = (out.missing || []).concat(n); ts = ts.filter((t) => names.includes(t.name + ':' + t.kind)); }
  out.sections.set('module', moduleLog);
  for (const t of ts) {
    S.stateVals.clear(); S.sets.clear(); S.classSets.clear(); S.overrides = null; S.classOverrides = null;
    const h0 = S.hostCount + S.stubCount, n0 = S.nHandlers || 0;
    let html;
    try { html = renderRoot(S, t); } catch (e) { noteRef(S, e); out.errors[t.name] = err(e); continue; }
    const calls = uniq(S.log), provides = uniq(S.provides), keys = S.keys;
    const sec = (k, v) => out.sections.set(`${t.name}/${k}`, v);
    sec('html', renumber(html));
    const st = (out.stats[t.name] = { kind: t.kind, html: html.length, elements: S.hostCount + S.stubCount - h0, text: html.length });
    const i1 = await interact(S, html, 1);
    sec('calls', calls); sec('provides', provides); sec('keys', keys);
    sec('handlers', i1.handlers); sec('effects', i1.effects); sec('deferred', i1.deferred);
    st.handlers = i1.handlers.length; st.invoked = S.nHandlers - n0;
    if (S.sets.size || S.classSets.size) {
      S.overrides = new Map(S.sets); S.classOverrides = new Map(S.classSets);
      let html2;
      try { html2 = renderRoot(S, t); } catch (e) { noteRef(S, e); out.errors[t.name + '/2'] = err(e); }
      if (html2 !== undefined) {
        sec('html2', renumber(html2));
        st.second = true;
        if (renumber(html2) !== out.sections.get(`${t.name}/html`)) { const i2 = await interact(S, html2, 2); sec('handlers2', i2.handlers); }
      }
    }
  }
  if (moduleDeferred.length) {
    S.phase = 'post';
    const d = []; for (const [k, f] of moduleDeferred) d.push(await invokeBlock(S, k, f, [S.any('$a0'), S.any('$a1'), S.any('$a2')]));
    out.sections.set('module-callbacks', d.sort());
  }
  return out;
}
const err = (e) => `${e && e.name}: ${String(e && e.message).split('\n')[0].slice(0, 200)}`;

// ---- compare ---------------------------------------------------------------------------
const ctx = (s, i) => s.slice(Math.max(0, i - 90), i + 110);
function firstDiff(a, b) { let i = 0; const n = Math.min(a.length, b.length); while (i < n && a.charCodeAt(i) === b.charCodeAt(i)) i++; return i; }
export function compareSections(A, B) {
  const diffs = [];
  const order = ['html', 'handlers', 'effects', 'deferred', 'provides', 'keys', 'html2', 'handlers2', 'calls'];
  const rank = (k) => { const i = order.indexOf(k.split('/').pop()); return i < 0 ? 99 : i; };
  for (const k of [...A.keys()].sort((x, y) => rank(x) - rank(y))) {
    const a = A.get(k), b = B.get(k);
    if (b === undefined) { diffs.push({ where: k, pos: 0, before: '(section exists)', after: '(missing)' }); continue; }
    const sa = typeof a === 'string' ? a : a.join('\n'), sb = typeof b === 'string' ? b : b.join('\n');
    if (sa === sb) continue;
    const i = firstDiff(sa, sb);
    diffs.push({ where: k, pos: i, before: ctx(sa, i), after: ctx(sb, i), orderOnly: typeof a !== 'string' && [...a].sort().join('\n') === [...b].sort().join('\n') });
  }
  for (const k of B.keys()) if (!A.has(k) && !k.endsWith('module-callbacks')) diffs.push({ where: k, pos: 0, before: '(missing)', after: '(section exists)' });
  return diffs;
}
// before, after: from makeFS. Returns {result, ...}
export async function compareFile({ before, after, file, want = null, variants = 6, depth = 0, afterFile = file, strict = false }) {
  const out = { file, result: 'same', variants: [], reason: undefined };
  const t0 = performance.now();
  const cmp = new Map();
  const same = before === after;
  const changed = (rel) => { if (same) return false; if (!cmp.has(rel)) cmp.set(rel, before.read(rel) !== after.read(rel)); return cmp.get(rel); };
  let bm, am;
  try { bm = await link(before, file, changed, depth); } catch (e) { return { ...out, result: 'not-renderable', reason: 'load: ' + err(e), ms: performance.now() - t0 }; }
  const profile = emptyProfile();
  try { for (const r of bm.keys()) addToProfile(profile, r, before.read(r)); } catch (e) { return { ...out, result: 'not-renderable', reason: 'parse: ' + err(e), ms: performance.now() - t0 }; }
  out.hasJsx = profile.hasJsx; out.classes = profile.classes;
  let afterLoadError = null;
  if (!same) { try { am = await link(after, afterFile, changed, depth); } catch (e) { afterLoadError = err(e); } } else am = bm;
  let rendered = 0; const reasons = []; const sites = new Set();
  out.jsxTotal = [...bm.values()].reduce((n, m) => n + m.t.sites, 0);
  for (let v = 0; v < variants; v++) {
    let b, nulls = true, ok = false;
    for (let tries = 0; tries < 8; tries++) {
      b = await runSide(bm, file, { variant: v, nulls, profile, want });
      const news = [...b.refErrors].filter((n) => !profile.ambient.has(n));
      if (news.length) { news.forEach((n) => profile.ambient.add(n)); continue; }
      ok = !b.moduleError && b.sections.size > 1 || (!b.moduleError && b.exports.length === 0 && b.sections.get('module').length > 0);
      const fails = Object.keys(b.errors).filter((k) => !k.endsWith('/2')).length;
      if ((b.moduleError || fails) && nulls && v > 0) { nulls = false; continue; }
      break;
    }
    for (const x of b.sites) sites.add(x);
    out.jsxReached = sites.size; out.sites = sites;
    const rec = { variant: v, ok, stats: b.stats, exports: b.exports };
    out.variants.push(rec);
    if (b.moduleError) { rec.error = b.moduleError; reasons.push(b.moduleError); continue; }
    for (const [k, e] of Object.entries(b.errors)) if (!k.endsWith('/2')) reasons.push(e);
    if (Object.keys(b.errors).length) rec.errors = b.errors;
    if (!ok) { if (!b.exports.length) reasons.push('no-exports'); continue; }
    rendered++;
    if (afterLoadError) { return { ...out, result: 'after-fails', reason: 'load: ' + afterLoadError, ms: performance.now() - t0 }; }
    const okNames = b.exports.filter((n) => !b.errors[n.split(':')[0]]);
    const a = await runSide(am, afterFile, { variant: v, nulls, profile, want, names: b.exports, scale: 1.5 });
    if (a.moduleError) return { ...out, result: 'after-fails', reason: a.moduleError, variant: v, ms: performance.now() - t0 };
    if (a.missing) return { ...out, result: 'after-fails', reason: 'exports missing or of another kind: ' + a.missing.join(', ') + ' (after has ' + a.exports.join(', ') + ')', variant: v, ms: performance.now() - t0 };
    const bad = Object.keys(a.errors).find((k) => !b.errors[k]);
    if (bad) return { ...out, result: 'after-fails', reason: `${bad}: ${a.errors[bad]}`, variant: v, ms: performance.now() - t0 };
    for (const k of Object.keys(b.errors)) if (!a.errors[k]) { (out.notes ||= []).push(`variant ${v}: ${k} failed before (${b.errors[k]}), renders after`); for (const s of [...a.sections.keys()]) if (s.startsWith(k.replace('/2', '') + '/') && !b.sections.has(s)) a.sections.delete(s); }
    let diffs = compareSections(b.sections, a.sections);
    if (!strict && diffs.length && diffs.every((d) => d.where.endsWith('/calls'))) { const d = diffs[0]; (out.notes ||= []).push(`variant ${v}: only render-time calls differ in ${d.where}: …${d.before}… / …${d.after}…`); out.callsDiffer = true; diffs = []; }
    if (diffs.length) return { ...out, result: 'different', variant: v, first: diffs[0], also: diffs.slice(1, 6).map((d) => d.where), orderOnly: diffs.every((d) => d.orderOnly), moduleOnly: diffs.every((d) => d.where.startsWith('module')), ms: performance.now() - t0 };
  }
  out.rendered = rendered;
  out.ms = performance.now() - t0;
  if (!rendered) { out.result = 'not-renderable'; out.reason = reasons[0] || 'nothing to render'; }
  return out;
}
process.on('unhandledRejection', () => {});
