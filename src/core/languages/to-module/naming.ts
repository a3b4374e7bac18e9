/** What a function is called that sends a request or works something out, and the module that it belongs in. */
import { dirname, extname } from '../../files/paths.js';
import { packageAround } from '../rooms.js';
import { textOf } from '../../files/files.js';
import type { ProjectView } from '../../language/project.js';
import type { Node } from '../../script/parser.js';
import { capital, singular } from '../../text/words.js';
import { isFunction } from '../../script/walk.js';
import type { ScriptHost } from './host.js';
import type { Piece } from './piece.js';
import type { Sent } from './requests.js';

/** By method; the first that is free is taken. */
const VERBS: Readonly<Record<string, readonly string[]>> = {
  GET: ['load', 'fetch', 'get', 'request'],
  HEAD: ['probe'],
  POST: ['send', 'post', 'submit'],
  PUT: ['save', 'put', 'store'],
  PATCH: ['update', 'patch', 'change'],
  DELETE: ['remove', 'delete', 'drop'],
};

/** `loadVisits` for `GET /api/hives/${id}/visits`, `removeHive` for `DELETE /api/hives/${id}`. */
export function nameOfRequest(host: ScriptHost, { call, method, address }: Sent): string {
  const parts = partsOf(address);
  const named = parts.filter((p) => p.word !== undefined);
  const last = parts.at(-1);
  const subject = named.at(-1)?.word ?? takenAs(host, call) ?? spokenAround(host, call);
  // One of many, where the address ends in which.
  const isOne = last !== undefined && last.word === undefined && named.length > 0;
  const noun = subject === undefined ? 'Data' : capital(isOne ? singular(subject) : subject);
  const verbs = VERBS[method] ?? VERBS['GET']!;
  // What is sent to many is one more.
  const isAdded = method === 'POST' && subject !== undefined && !isOne && singular(subject) !== subject;
  const own = method === 'GET' ? habitualVerb(host) : undefined;
  const all = [...(own === undefined ? [] : [own]), ...verbs].map((verb) => verb + noun);
  if (isAdded) all.unshift(`add${capital(singular(subject))}`);
  return all.find((name) => !host.scopes.declares(name) && !host.isShown(name)) ?? `${all[0]!}Request`;
}

interface Part {
  /** Undefined where it is worked out. */
  readonly word: string | undefined;
}

/** The steps of a path: without its host, its version, what every address of an API has, and what is asked behind `?`. */
function partsOf(address: string): Part[] {
  const path = address
    .replace(/^\w+:\/\/[^/]*/, '')
    .replace(/^\$\{[^}]*\}/, '')
    .replace(/[?#].*$/s, '');
  return path
    .split('/')
    .filter((step) => step && !/^(?:api|rest|v\d+|public|index)$/i.test(step))
    .map((step) => ({ word: wordIn(step) }));
}

function wordIn(step: string): string | undefined {
  const plain = step.replace(/\$\{[^}]*\}/g, '').replace(/\.\w+$/, '');
  const words = plain.match(/[A-Za-z][A-Za-z0-9]*/g);
  return words ? words.map((w, i) => (i === 0 ? w[0]!.toLowerCase() + w.slice(1) : capital(w))).join('') : undefined;
}

/** What the answer of a request is called where it is taken: `doc` of `const doc = await …`, `context` of `this.context = await …`. */
function takenAs(host: ScriptHost, call: Node): string | undefined {
  const above = host.scopes.ancestorsOf(call);
  const until = above.findIndex((n) => isFunction(n));
  const holder = above
    .slice(0, until)
    .find((n) => n.type === 'VariableDeclarator' || n.type === 'AssignmentExpression');
  const target =
    holder?.type === 'VariableDeclarator'
      ? holder.id
      : holder?.type === 'AssignmentExpression'
        ? holder.left
        : undefined;
  const name =
    target?.type === 'Identifier'
      ? target.name
      : target?.type === 'MemberExpression' && target.property.type === 'Identifier'
        ? target.property.name === 'value' && target.object.type === 'Identifier'
          ? target.object.name
          : target.property.name
        : undefined;
  return name && !/^(?:res|resp|response|answer|result|results|data|json|body|value|r|ret|payload)$/i.test(name)
    ? name
    : undefined;
}

/** What the function around a request is about: `visits` of `loadVisits`. */
function spokenAround(host: ScriptHost, node: Node): string | undefined {
  for (const above of host.scopes.ancestorsOf(node)) {
    if (!isFunction(above)) continue;
    const holder = host.scopes.parentOf(above);
    const id =
      'id' in above && above.id
        ? above.id
        : holder?.type === 'VariableDeclarator'
          ? holder.id
          : holder && 'key' in holder
            ? holder.key
            : undefined;
    const name = id?.type === 'Identifier' ? id.name : undefined;
    const noun =
      name &&
      /^(?:load|fetch|get|request|read|send|save|submit|post|update|remove|delete|handle|on)([A-Z]\w*)$/.exec(
        name,
      )?.[1];
    if (noun) return noun[0]!.toLowerCase() + noun.slice(1);
  }
  return undefined;
}

/** `get` where most of what the file imports or declares by such a verb begins so. */
function habitualVerb(host: ScriptHost): string | undefined {
  const counts = new Map<string, number>();
  for (const { name } of host.scopes.moduleScope.variables) {
    const verb = /^(load|fetch|get|request)[A-Z]/.exec(name)?.[1];
    if (verb !== undefined) counts.set(verb, (counts.get(verb) ?? 0) + 1);
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}

/** Folders whose files answer requests. */
const SERVED = /(?:^|\/)(?:pages|app|routes|server)\/(?:.*\/)?api$|(?:^|\/)server\//;
const API_FOLDER = /(?:^|\/)(?:api|apis|services?|requests|clients?|http)$/;

/** The module for what an address is about: one that is there, else one in the folder that the project has for it, else one for all of them. */
export function addressModule(project: ProjectView, host: ScriptHost, { address }: Sent, name: string): string {
  const { path } = host.request.file;
  const end = host.extension;
  const source = /^(?:.*\/)?(?:src|app|source)(?=\/)/.exec(path)?.[0];
  const top = source ?? packageAround(project.files, dirname(path)).root;
  const about = partsOf(address).find((part) => part.word !== undefined)?.word ?? name;
  const isNear = (p: string) => top === '' || p.startsWith(`${top}/`);
  const scripts = project.files
    .list()
    .filter((p) => isNear(p) && /^\.[cm]?[jt]s$/.test(extname(p)) && !/\.(?:test|spec|d)\./.test(p));
  const stem = (p: string) => p.replace(/^.*\//, '').replace(/\..*$/, '');
  // Where no folder holds all sources, one that stands above the file.
  const isAbove = (dir: string) => source !== undefined || dirname(dir) === '' || path.startsWith(`${dirname(dir)}/`);
  const isRoom = (dir: string) => API_FOLDER.test(dir) && !SERVED.test(dir) && isAbove(dir);
  const known = scripts.filter((p) => isRoom(dirname(p)) && extname(p) === end);
  const same = known.find((p) => sameWord(stem(p), about));
  if (same !== undefined) return same;
  const folder = known[0] && dirname(known[0]);
  if (folder !== undefined) return `${folder}/${about}${end}`;
  const isSending = (p: string) => /\b(?:axios|ky)\b|[fF]etch\s*\(/.test(textOf(project.files, p) ?? '');
  const single = scripts.find((p) => /^(?:api|requests|client)$/.test(stem(p)) && extname(p) === end && isSending(p));
  return single ?? `${top === '' ? '' : `${top}/`}api${end}`;
}

function sameWord(a: string, b: string): boolean {
  const plain = (word: string) =>
    singular(
      word
        .toLowerCase()
        .replace(/(?:api|service|client)$/, '')
        .replace(/[^a-z0-9]/g, ''),
    );
  return plain(a) === plain(b);
}

/** `totalOf` for `const total = …`, `useMemo(…)` of it or not; undefined where nothing is declared: a person says. */
export function nameOfPiece(host: ScriptHost, { results, of, tail }: Piece): string | undefined {
  const code = of ?? tail;
  const declared = code && declaredBy(host, code);
  const [first] = of?.params ?? [];
  const isOwn = of !== undefined && host.scopes.parentOf(of)?.type === 'VariableDeclarator';
  if (isOwn && declared !== undefined && first?.type === 'Identifier') return declared + capital(first.name);
  const subject = results.length === 1 ? results[0]!.name : declared;
  return subject === undefined ? undefined : `${subject}Of`;
}

/** The name of the constant that code is the value of, or that a call has which is given it as a function. */
function declaredBy(host: ScriptHost, code: Node): string | undefined {
  let at = code;
  for (;;) {
    const parent = host.scopes.parentOf(at);
    if (parent?.type === 'VariableDeclarator') return parent.id.type === 'Identifier' ? parent.id.name : undefined;
    const isHanded = parent?.type === 'CallExpression' && parent.arguments[0] === at && isFunction(at);
    const isBody = parent?.type === 'ArrowFunctionExpression' && parent.body === at;
    if (!parent || !(isHanded || isBody || parent.type === 'AwaitExpression' || parent.type.startsWith('TS')))
      return undefined;
    at = parent;
  }
}
