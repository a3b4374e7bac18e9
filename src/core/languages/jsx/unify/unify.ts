/**
 * One component for several places: the reference is cut out with the inputs in the place of what differs, and every
 * place gets a use of it that passes what it had.
 */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import { ScriptScopes } from '../../../script/scopes.js';
import { spanOf } from '../../../script/walk.js';
import type { Crossed, CutRequest, TypeName } from '../../../language/cutting.js';
import type {
  ExistingComponent,
  GivenInput,
  Passed,
  UnifyPlace,
  UnifyRequest,
  Unifying,
} from '../../../language/unifying.js';
import type { Edit, Span } from '../../../text/edits.js';
import { indentAt } from '../../../text/layout.js';
import { circularNote, importLineFor, link, prepare, type Prepared, type Writing } from '../cut/cut.js';
import { habitsIn, type Habits } from '../cut/habits.js';
import { droppedImports, importPlace, placedImport, sourceFor, without } from '../../imports.js';
import type { NamedProp } from '../cut/interface.js';
import { Scene } from '../cut/scene.js';
import { useText } from '../cut/write.js';
import { eventNameFor } from '../../events.js';
import { functionFor, typeOfWritten, typesGiven } from '../../handed-functions.js';
import { JSX, type Dialect } from '../dialect.js';
import { foreignInputs } from './foreign.js';
import { unifyLogic } from './logic.js';
import { writeList } from './list.js';
import { writeSite } from './sites.js';
import { attributeOf, codeOf, moved, spansPassed, unionOf, valueOf, withoutUpdater } from './values.js';

export function unify(request: UnifyRequest, writing: Writing = { dialect: JSX }): Unifying | Problem {
  const scenes = openScenes(request, writing.dialect);
  if (isProblem(scenes)) return scenes;
  if (request.kind === 'logic') return unifyLogic(request, scenes);
  if (request.existing) return reuse(request, request.existing, scenes);
  const inputs = request.inputs.map((input) => (input.asked ? asEvent(input) : input));
  return unifyMarkup({ ...request, inputs }, scenes, writing);
}

/** `onChoose` for `choose`. */
function asEvent(input: GivenInput): GivenInput {
  return input.kind === 'event' ? { ...input, name: eventNameFor(input.name) } : input;
}

function unifyMarkup(request: UnifyRequest, scenes: readonly Scene[], writing: Writing): Unifying | Problem {
  const reference = scenes[request.reference]!;
  const foreign = foreignInputs(request, scenes);
  if (isProblem(foreign)) return foreign;
  const inputs = [...request.inputs, ...foreign];

  const crossed = inputs.map((input) => crossedOf(request, scenes, input));
  const cutRequest: CutRequest = { ...reference.request, name: request.name, target: request.target, inputs: crossed };
  const here = scenes.filter((s) => s !== reference && s.request.file.path === reference.request.file.path);
  const goingHere = here.flatMap((scene) => {
    const place = scenes.indexOf(scene);
    return without(scene.region, staysAt(request, inputs, place, scene));
  });
  let prepared = prepare(cutRequest, goingHere, writing);
  if (isProblem(prepared)) return prepared;
  const notes: string[] = [];
  if (prepared.sharing?.circular !== undefined) {
    const needed = prepared.sharing.circular;
    if (writing.newFile || scenes.length > here.length + 1)
      return problem('unify-circular', { path: reference.request.file.path, span: reference.region }, needed);
    notes.push(circularNote(request.name, needed));
    prepared = prepare({ ...cutRequest, target: undefined }, goingHere);
    if (isProblem(prepared)) return prepared;
  }
  const uses = new Uses(request, scenes, inputs, prepared);
  const written = uses.write();
  if (isProblem(written)) return written;

  const { path } = reference.request.file;
  const cutting = link(withOptional(prepared, uses.absent), [...(written.get(path) ?? [])]);
  const edits = new Map<string, readonly Edit[]>([[path, cutting.edits]]);
  for (const [other, list] of written) {
    if (other !== path) edits.set(other, [...list, ...linkOther(request, scenes, inputs, prepared, other)]);
  }
  return { edits, files: cutting.files, name: request.name, seam: cutting.seam, notes: [...notes, ...cutting.notes] };
}

/** Puts uses of a component in the other places; what it shows is compared with what they showed by the proof. */
function reuse(request: UnifyRequest, existing: ExistingComponent, scenes: readonly Scene[]): Unifying | Problem {
  const edits = new Map<string, Edit[]>();
  for (const [place, scene] of scenes.entries()) {
    if (place === existing.place) continue;
    const { path } = scene.request.file;
    const own = scenes.filter((s, i) => i !== existing.place && s.request.file.path === path);
    const habits = habitsIn(scene);
    const indent = indentAt(scene.text, scene.region.start);
    const inner = indent + habits.indent;
    const attributes = scene.key ? [scene.slice(scene.key)] : [];
    let slot: string | undefined;
    for (const [name, value] of existing.passes[place]!) {
      if (name === 'children') slot = contentOf(value, scene.text, inner, habits);
      else attributes.push(attributeOf(name, value, scene.text, habits, inner));
    }
    const column = scene.region.start - (scene.text.lastIndexOf('\n', scene.region.start - 1) + 1);
    const text = useText(existing.name, attributes, slot, { indent, column }, habits);
    const list = edits.get(path) ?? [];
    list.push({ ...scene.region, text });
    edits.set(path, list);
    if (scene !== own[own.length - 1]) continue;
    const kept = (s: Scene) => [...existing.passes[scenes.indexOf(s)]!.values()].flatMap((v) => spansPassed(v));
    const removed = own.flatMap((s) => without(s.region, s.key ? [...kept(s), spanOf(s.key)] : kept(s)));
    const all = [...list, ...droppedImports(scene, removed)];
    const variable = scene.scopes.moduleScope.set.get(existing.name);
    const known = path === existing.path || (variable !== undefined && variable.defs.length > 0);
    const source = `${habits.quote}${sourceFor(scene, path, existing.path)}${habits.quote}`;
    const clause = existing.exported === 'default' ? existing.name : `{${habits.pad}${existing.name}${habits.pad}}`;
    const line = `import ${clause} from ${source}${habits.semi}`;
    edits.set(path, known ? all : placedImport(scene, importPlace(scene), all, [line], habits.lineEnd));
  }
  const props = [...existing.passes[existing.place]!.keys()].map((name) => ({ name }));
  const note = `${existing.name} in ${existing.path} is this already: it is used, and stays as it is`;
  return { edits, files: new Map(), name: existing.name, seam: { props, events: [], slots: [] }, notes: [note] };
}

function openScenes(request: UnifyRequest, dialect: Dialect): Scene[] | Problem {
  const scopes = new Map<string, ScriptScopes>();
  const scenes: Scene[] = [];
  for (const place of request.places) {
    const script = dialect.parse(place.file, request.ports);
    if (isProblem(script)) return script;
    const known = scopes.get(place.file.path) ?? new ScriptScopes(script);
    scopes.set(place.file.path, known);
    scenes.push(new Scene(cutRequestFor(request, place), script, known, dialect));
  }
  return scenes;
}

function cutRequestFor(request: UnifyRequest, { file, span }: UnifyPlace): CutRequest {
  const { project, ports, name, target, types, alone, going, props = 'auto' } = request;
  const asked = { ...(alone ? { alone } : {}), ...(going ? { going } : {}) };
  return { project, ports, file, region: { nodes: [], ...span }, name, target, props, types, ...asked };
}

/** An input as the cut takes it: rewrites in the reference, and a type that holds at every place. */
function crossedOf(request: UnifyRequest, scenes: readonly Scene[], input: GivenInput): Crossed {
  const scene = scenes[request.reference]!;
  const habits = habitsIn(scene);
  const { asFile } = scene.dialect;
  const context = { program: scene.script.program, text: scene.text, habits, reference: request.reference, asFile };
  const parts = input.sites.map((site) => writeSite(context, input, site));
  const value = input.values[request.reference];
  const typing = typeOf(request, input, asFile !== undefined);
  return {
    name: input.name,
    event: input.kind === 'event',
    slot: input.kind === 'slot',
    ...(input.asked ? { asked: true } : {}),
    value: codeOf(value, scene.text, habits),
    sites: parts.flatMap((p) => p.sites),
    stays: parts.flatMap((p) => p.stays),
    ...typing,
    optional: input.default !== undefined || input.values.includes(undefined),
    default: input.default && codeOf(input.default, scene.text, habits),
  };
}

function typeOf(
  request: UnifyRequest,
  input: GivenInput,
  asFile: boolean,
): { type: string | undefined; typeNames: readonly TypeName[] } {
  const names = new Map<string, TypeName>();
  const { path } = request.places[request.reference]!.file;
  const written = typeOfWritten(input, (spans) => {
    const found = typesGiven(request.types, path, spans, withoutUpdater);
    for (const name of found.flatMap((answer) => answer?.names ?? [])) names.set(name.name, name);
    return unionOf(found.map((answer) => answer?.text ?? 'any'));
  });
  if (written !== undefined) return { type: written, typeNames: [...names.values()] };
  const given = [...input.values, input.default].filter((v) => v !== undefined);
  const opened = input.sites.find((site) => site.kind === 'spread');
  if (opened?.kind === 'spread')
    return {
      type: `Partial<ComponentProps<typeof ${opened.tag}>>`,
      typeNames: [{ name: 'ComponentProps', from: { module: 'react' } }],
    };
  const words = [...new Set(given.map((v) => (v.kind === 'string' ? v.text : undefined)))];
  if (input.kind === 'flag') return { type: 'boolean', typeNames: [] };
  if (given.some((v) => v.kind === 'markup') && asFile) return { type: undefined, typeNames: [] };
  const node: TypeName = { name: 'ReactNode', from: { module: 'react' } };
  if (given.some((v) => v.kind === 'markup')) {
    names.set(node.name, node);
    const taken = parametersOf(request, input, names);
    return { type: taken ? `(${taken}) => ReactNode` : 'ReactNode', typeNames: [...names.values()] };
  }
  if (words.every((w) => w !== undefined) && input.parameters.length === 0) {
    const wanted = wantedWords(request, input);
    if (wanted) return wanted;
    const choice = input.sites.some((s) => s.kind === 'choice');
    const union = words.map((w) => `'${w.replaceAll('\\', '\\\\').replaceAll("'", "\\'")}'`).join(' | ');
    return { type: choice ? union : 'string', typeNames: [] };
  }
  const types = new Set<string>();
  input.values.forEach((value, p) => {
    if (value?.kind === 'string') types.add('string');
    if (value?.kind !== 'code') return;
    const { file } = request.places[p]!;
    const text = file.text.slice(value.span.start, value.span.end);
    if (/^-?\d[\d._]*$/.test(text)) types.add('number');
    else if (text === 'true' || text === 'false') types.add('boolean');
    else {
      const answer = request.types?.typeAt(file.path, value.span);
      types.add(answer?.text ?? (input.kind === 'event' && /^\(\) =>/.test(text) ? '() => void' : 'any'));
      const isReference = file.path === request.places[request.reference]!.file.path;
      for (const name of answer?.names ?? [])
        names.set(
          name.name,
          name.from === 'here' && !isReference ? { name: name.name, from: { path: file.path } } : name,
        );
    }
  });
  if (types.has('any')) return { type: 'any', typeNames: [] };
  if (input.kind === 'event' && input.parameters.length === 0) {
    const text = [...types].map((t) => t.replace(/=> [^=]*$/, '=> void'));
    return { type: unionOf(text), typeNames: [...names.values()] };
  }
  const union = unionOf([...types]);
  const taken = parametersOf(request, input, names);
  return { type: taken ? `(${taken}) => ${union}` : union || 'any', typeNames: [...names.values()] };
}

/** What a function of names that the region binds takes; notes the names in the types. */
function parametersOf(request: UnifyRequest, input: GivenInput, names: Map<string, TypeName>): string {
  const { path } = request.places[request.reference]!.file;
  const parameters = input.parameterSpans.map((span, i) => {
    const answer = request.types?.typeAt(path, span);
    for (const name of answer?.names ?? []) names.set(name.name, name);
    return `${input.parameters[request.reference]![i]!}: ${answer?.text ?? 'any'}`;
  });
  return parameters.join(', ');
}

/** Where words go into code, the narrowest type that is wanted of them there. */
function wantedWords(
  request: UnifyRequest,
  input: GivenInput,
): { type: string; typeNames: readonly TypeName[] } | undefined {
  const { path } = request.places[request.reference]!.file;
  const wanted = input.sites.flatMap((site) =>
    site.kind === 'whole' && !site.head && !site.tail ? (request.types?.expectedAt(path, site.span) ?? []) : [],
  );
  const words = wanted.filter(({ text }) => text !== 'string' && text !== 'any' && !/\bReactNode\b|^[A-Z]/.test(text));
  const narrowest = words.sort((x, y) => x.text.length - y.text.length)[0];
  return narrowest && /^['"]/.test(narrowest.text)
    ? { type: narrowest.text.replaceAll(/ \| (?:undefined|null)\b/g, ''), typeNames: narrowest.names }
    : undefined;
}

/** What a place keeps for itself: what it passes, and the key of its root. */
function staysAt(request: UnifyRequest, inputs: readonly GivenInput[], place: number, scene: Scene): Span[] {
  const spans = inputs.flatMap((input) => {
    return spansPassed(input.values[place]);
  });
  return scene.key ? [...spans, spanOf(scene.key)] : spans;
}

/** Writes the use at every place. */
class Uses {
  /** Props for which some place has nothing to pass. */
  readonly absent = new Set<NamedProp>();

  constructor(
    readonly request: UnifyRequest,
    readonly scenes: readonly Scene[],
    readonly inputs: readonly GivenInput[],
    readonly prepared: Prepared,
  ) {}

  write(): Map<string, Edit[]> | Problem {
    const { request, scenes } = this;
    if (request.asList) {
      const list = writeList(request, scenes, this.inputs, this.prepared);
      return isProblem(list) ? list : new Map([[scenes[0]!.request.file.path, [...list]]]);
    }
    const edits = new Map<string, Edit[]>();
    for (const [place, scene] of scenes.entries()) {
      const text = this.#use(place, scene);
      if (isProblem(text)) return text;
      const { path } = scene.request.file;
      // The comment above the reference goes along with it.
      const comment = place === request.reference ? scene.comment : undefined;
      const start = comment ? comment.range[0] : scene.region.start;
      edits.set(path, [...(edits.get(path) ?? []), { start, end: scene.region.end, text }]);
    }
    return edits;
  }

  #use(place: number, scene: Scene): string | Problem {
    const { parts } = this.prepared;
    const indent = indentAt(scene.text, scene.region.start);
    const inner = indent + parts.habits.indent;
    const attributes = scene.key ? [scene.slice(scene.key)] : [];
    let slot: string | undefined;
    for (const prop of parts.shape.props) {
      const passed = this.#passed(place, scene, prop);
      if (isProblem(passed)) return passed;
      if (!passed) continue;
      const { value, parameters } = passed;
      if (prop.crossing.slot) {
        const content =
          parameters.length > 0 && value.kind !== 'flag'
            ? `{${valueOf(value, scene.text, parts.habits, inner, parameters)}}`
            : contentOf(value, scene.text, inner, parts.habits);
        const written = scene.dialect.asFile?.content(prop.name, content) ?? content;
        slot = slot === undefined ? written : slot + parts.habits.lineEnd + inner + written;
      } else attributes.push(attributeOf(prop.name, value, scene.text, parts.habits, inner, parameters));
    }
    const column = scene.region.start - (scene.text.lastIndexOf('\n', scene.region.start - 1) + 1);
    return useText(this.request.name, attributes, slot, { indent, column }, parts.habits);
  }

  #passed(
    place: number,
    scene: Scene,
    prop: NamedProp,
  ): { value: Passed; parameters: readonly string[] } | Problem | undefined {
    const input = this.inputs.find((i) => prop.crossing.given && i.name === prop.crossing.given.name);
    if (input) {
      const written = functionFor(input, place);
      if (written !== undefined) return { value: { kind: 'source', text: written }, parameters: [] };
      const value = input.values[place];
      return value && { value, parameters: input.parameters[place] ?? [] };
    }
    const reference = this.scenes[this.request.reference]!;
    const { crossing } = prop;
    const sources = crossing.sites
      .map((site) => this.request.counterpart(place, site.span))
      .filter((s) => s !== undefined);
    if (sources.length === 0) {
      this.absent.add(prop);
      return undefined;
    }
    const texts = new Set(sources.map((s) => scene.text.slice(s.start, s.end)));
    const plain = crossing.sites.every((site) => reference.slice(site.span) === crossing.value);
    const sameText = texts.size === 1 && [...texts][0] === reference.slice(crossing.sites[0]!.span);
    if (texts.size === 1 && plain) return { value: { kind: 'code', span: sources[0]! }, parameters: [] };
    // What hangs on `this` is written the same way in every class.
    if (sameText && (scene === reference || /\bthis\./.test(crossing.value)))
      return { value: { kind: 'source', text: crossing.value }, parameters: [] };
    return problem(
      'unify-crossing',
      { path: scene.request.file.path, span: sources[0]! },
      reference.slice(crossing.sites[0]!.span),
    );
  }
}

/** What stands between the tags of a use. */
function contentOf(value: Passed, text: string, indent: string, habits: Habits): string {
  if (value.kind === 'string')
    return /^\s|\s$|[{}<>&]/.test(value.text) ? `{${codeOf(value, text, habits)}}` : value.text;
  if (value.kind === 'flag') return '{true}';
  if (value.kind === 'source') return `{${value.text}}`;
  if (value.kind === 'record') return `{${codeOf(value, text, habits)}}`;
  return value.kind === 'code' ? `{${moved(text, value.span, indent)}}` : moved(text, value.span, indent);
}

function withOptional(prepared: Prepared, absent: ReadonlySet<NamedProp>): Prepared {
  if (absent.size === 0) return prepared;
  const props = prepared.parts.shape.props.map((prop) => (absent.has(prop) ? { ...prop, optional: true } : prop));
  return { ...prepared, parts: { ...prepared.parts, shape: { ...prepared.parts.shape, props } } };
}

/** The import of the component in another file, and the imports there that nothing uses any more. */
function linkOther(
  request: UnifyRequest,
  scenes: readonly Scene[],
  inputs: readonly GivenInput[],
  prepared: Prepared,
  path: string,
): Edit[] {
  const own = scenes.filter((s) => s.request.file.path === path);
  const scene = own[0]!;
  const habits = habitsIn(scene);
  const removed = own.flatMap((s) => without(s.region, staysAt(request, inputs, scenes.indexOf(s), s)));
  const line = importLineFor(scene, prepared, habits, request.target!);
  const edits = droppedImports(scene, removed);
  return placedImport(scene, importPlace(scene), edits, [line], habits.lineEnd);
}
