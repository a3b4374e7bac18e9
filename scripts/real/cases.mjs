/** Everything that Verkstad would do to a project, one case at a time and in memory. */
import {
  apart,
  applied,
  candidateRegions,
  dissolve,
  extract,
  findRepeats,
  forms,
  inputs,
  through,
  home,
  hook,
  inline,
  isProblem,
  Lines,
  module,
  planOf,
  Project,
  proposeRegions,
  runStep,
  summarize,
  textOf,
  toFunction,
  unify,
  Whereabouts,
  withHelpers,
} from '../../dist/core/index.js';
import { needlessInputs } from '../../dist/core/analyze/inputs.js';
import { ComponentTree } from '../../dist/core/analyze/tree.js';
import { walkMarkup } from '../../dist/core/markup/walk.js';
import { walk } from '../../dist/core/script/walk.js';

const pathOf = (id) => id.slice(0, id.lastIndexOf('#'));

/** What a run comes to: files after it by path (null: deleted), or why there are none. */
const changed = (result) =>
  isProblem(result)
    ? { outcome: result.code === 'names-unresolved' ? 'unresolved' : 'refused', problem: result }
    : {
        outcome: result.proof.answer,
        detail: result.proof.answer === 'same' ? undefined : result.proof.detail,
        name: result.name,
        notes: result.notes,
        // What is handed other things than before is only the same from where it is shown.
        ...(result.step === 'home' ? { seenFrom: [pathOf(result.from), pathOf(result.home)] } : {}),
        files: new Map(result.files.map((f) => [f.path, f.text ?? null])),
      };

/** Steps one after another: the first that is not the same ends the case; where none is taken, it is refused. */
function chained(project, steps) {
  let now = project;
  const files = new Map();
  const notes = [];
  let first;
  let taken = 0;
  for (const step of steps) {
    const result = step(now);
    const one = changed(result);
    if (one.outcome === 'refused') {
      first ??= one;
      continue;
    }
    if (one.outcome !== 'same') return one;
    taken++;
    notes.push(...one.notes);
    for (const [path, text] of one.files) files.set(path, text);
    now = new Project(applied(now.files, result), project.ports);
  }
  return taken > 0 ? { outcome: 'same', name: `${taken} steps`, notes, files } : first;
}

const components = (project) =>
  project.sources().flatMap((path) => {
    const model = project.model(path);
    return isProblem(model) ? [] : model.components.map((component) => ({ path, model, component }));
  });

function* regions(project) {
  for (const path of project.sources()) {
    const model = project.model(path);
    if (isProblem(model)) continue;
    const roots = [...model.components.flatMap((c) => c.markup), ...model.mounts];
    for (const region of candidateRegions(textOf(project.files, path), roots)) yield { path, region };
  }
}

const modules = new WeakMap();

function moduleOf(project, path) {
  const known = modules.get(project) ?? new Map();
  modules.set(project, known);
  if (!known.has(path)) {
    const file = project.source(path);
    known.set(path, isProblem(file) ? file : file.language.prove?.(file, project.ports));
  }
  return known.get(path);
}

/** What somebody could ask of a region, the same at every run; undefined where there is nothing to ask for. */
function wishes(project, path, region) {
  const module = moduleOf(project, path);
  if (!module || isProblem(module)) return undefined;
  const codeOf = (node) => module.text.slice(...node.range);
  const inRegion = (node) => node.range[0] > region.start && node.range[1] < region.end;
  const values = [];
  const deeds = [];
  walk(module.script.program, (node) => {
    const parent = module.scopes.parentOf(node);
    if (node.range[1] < region.start || node.range[0] > region.end) return false;
    if (!inRegion(node) || codeOf(node).startsWith('<')) return undefined;
    const isDone = parent?.type === 'ExpressionStatement' || parent?.type === 'ArrowFunctionExpression';
    if (/^(?:Call|Assignment)Expression$/.test(node.type) && isDone) deeds.push(node);
    else if (/^(?:Member|Binary|Conditional|Call)Expression$/.test(node.type) && parent?.type !== 'MemberExpression')
      if (!(parent?.type === 'CallExpression' && parent.callee === node)) values.push(node);
    return undefined;
  });
  const pick = (list, nth) => list[(region.start * 7 + nth * 13) % list.length];
  const elements = [];
  walkMarkup(region.nodes ?? [], (node, above) => {
    if (node.kind === 'element' && above.length > 0) elements.push(node);
  });
  const piece = elements.length > 0 && region.start % 3 === 0 ? pick(elements, 5) : undefined;
  const taken = piece ? [piece] : [];
  /** None that has to do with what was asked for before. */
  const next = (list, nth) => {
    const apart = list.filter((node) => taken.every((t) => t.end <= node.range[0] || t.start >= node.range[1]));
    const node = apart.length > 0 ? pick(apart, nth) : undefined;
    if (node) taken.push({ start: node.range[0], end: node.range[1] });
    return node;
  };
  const deed = next(deeds, 3);
  const events = deed ? { happen: codeOf(deed) } : {};
  const inputs = {};
  for (const nth of [1, 2]) {
    const value = next(values, nth);
    if (value) inputs[`given${nth}`] = codeOf(value);
  }
  const slots = piece ? { children: { start: piece.start, end: piece.end } } : {};
  if (Object.keys({ ...inputs, ...events, ...slots }).length === 0) return undefined;
  return { inputs, events, slots };
}

/** Declarations that a file could do without, and values that a component works out, by their places. */
function declared(project, path) {
  const file = project.source(path);
  const read = moduleOf(project, path);
  if (isProblem(file) || !file.language.toModule || !read || isProblem(read)) return [];
  const found = [];
  const isBig = (node) => node.range[1] - node.range[0] > 60;
  walk(read.script.program, (node) => {
    const parent = read.scopes.parentOf(node);
    if (node.type !== 'VariableDeclarator' || !node.init || node.range[0] === node.range[1]) return;
    const isValue = /^(?:Call|Conditional|Binary|Logical|Template|Object|Array)/.test(node.init.type);
    const span = { start: node.init.range[0], end: node.init.range[1] };
    const isWritten = /[\w}\]]\s*=\s*$/.test(file.text.slice(0, span.start)) && isBig(node.init);
    if (isValue && isWritten && read.scopes.parentOf(parent)?.type !== 'Program')
      found.push({ span, wanted: { span } });
  });
  const body = isProblem(project.model(path)) ? [] : read.script.program.body;
  for (const statement of body) {
    const inner = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
    const id = inner?.type === 'FunctionDeclaration' ? inner.id : inner?.declarations?.[0]?.id;
    if (id?.type !== 'Identifier' || !isBig(statement) || id.range[0] === id.range[1]) continue;
    const span = { start: statement.range[0], end: statement.range[1] };
    const shows = /^[A-Z][a-z]/.test(id.name) || /<[\w>]/.test(file.text.slice(span.start, span.end));
    if (file.text.slice(...id.range) === id.name && !shows) found.push({ span, wanted: { names: [id.name] } });
  }
  return found;
}

/** `types(path)`: what a step is given to ask for types. */
export const STEPS = {
  /** Every request that a component sends itself goes to a module. */
  *request(project, { types }) {
    for (const path of project.sources()) {
      const file = project.source(path);
      if (isProblem(file) || !file.language.toModule) continue;
      for (const { span } of file.language.toModule.requests(project, file, project.ports))
        yield {
          path,
          region: span,
          run: () => changed(module(project, { path, wanted: { span }, ...types(path) })),
        };
    }
  },
  /** Declarations at the top of files with components, and values that components work out. */
  *apart(project, { types }) {
    for (const path of new Set(components(project).map((c) => c.path)))
      for (const { span, wanted } of declared(project, path))
        yield {
          path,
          region: span,
          run: () => changed(module(project, { path, wanted, name: 'givenValue', ...types(path) })),
        };
  },
  /** Every region that a person might cut out. */
  *extract(project, { types }) {
    for (const { path, region } of regions(project))
      yield { path, region, run: () => changed(extract(project, { path, range: region, ...types(path) })) };
  },
  /** The same with something asked of what crosses: code as inputs, a call as an event, a piece as content. */
  *seam(project, { types }) {
    for (const { path, region } of regions(project)) {
      const seam = wishes(project, path, region);
      if (seam)
        yield {
          path,
          region,
          seam,
          run: () => changed(extract(project, { path, range: region, seam, ...types(path) })),
        };
    }
  },
  /** Every region of a page, as a component of each language that can write one. */
  *pages(project) {
    for (const { path, region } of regions(project))
      if (/\.html?$/.test(path))
        for (const into of ['jsx', 'vue'])
          yield { path, region, run: () => changed(extract(project, { path, range: region, into })) };
  },
  /** The best repeats. */
  *unify(project, { types, limit }) {
    const repeats = findRepeats(project);
    for (const repeat of repeats.groups.slice(0, limit)) {
      const region = repeat.places[0];
      const run = () => changed(unify(project, { repeats, repeat, ...types(region.path) }));
      yield { path: region.path, region, repeat, run };
    }
  },
  /** Every function that gives markup back becomes a component. */
  *helper(project, { types }) {
    for (const path of project.sources()) {
      const file = project.source(path);
      if (isProblem(file)) continue;
      const { ports } = project;
      const { dissolving } = file.language;
      for (const name of dissolving?.list({ project, ports, file }) ?? []) {
        const found = dissolving.find({ project, ports, file, name });
        const region = isProblem(found) ? { start: 0, end: 0 } : found.shown;
        yield { path, region, run: () => changed(dissolve(project, { path, helper: name, ...types(path) })) };
      }
    }
  },
  /** What every stateful component shows, apart from what it knows. */
  *shown(project, { types }) {
    for (const { path, component } of components(project)) {
      const file = project.source(path);
      if (component.kind === 'helper' || !summarize(component, new Lines(file.text)).stateful) continue;
      const run = () => changed(apart(project, { path, component: component.name, ...types(path) }));
      yield { path, region: component, run };
    }
  },
  /** Every class that is a component, as a function. */
  *function(project) {
    for (const path of project.sources()) {
      const file = project.source(path);
      if (isProblem(file)) continue;
      const model = project.model(path);
      for (const component of file.language.functions?.list(file, project.ports) ?? []) {
        const region = isProblem(model) ? undefined : model.components.find((c) => c.name === component);
        const run = () => changed(toFunction(project, { path, component }));
        yield { path, region: region ?? { start: 0, end: 0 }, run };
      }
    }
  },
  /** Every component that asks for one value under several conditions, as one for each form. */
  *forms(project) {
    for (const { path, component } of components(project)) {
      if (component.kind !== 'function') continue;
      const file = project.source(path);
      const asked = new Map();
      walkMarkup(component.markup, (node) => {
        if (node.kind !== 'branch') return;
        for (const { condition } of node.arms) {
          const [, by] =
            /^!?([\w$.]+)(?:\s*[!=]==\s*['"\w]+)?$/.exec(
              condition ? file.text.slice(condition.start, condition.end) : '',
            ) ?? [];
          if (by) asked.set(by, (asked.get(by) ?? 0) + 1);
        }
      });
      for (const [by, times] of asked) {
        if (times < 2) continue;
        const run = () => changed(forms(project, { component: `${path}#${component.name}`, by, newLifetime: true }));
        yield { path, region: component, run };
      }
    }
  },
  /** Every component with inputs that no place hands over, or every place alike. */
  *inputs(project) {
    const tree = ComponentTree.of(project);
    for (const { path, component } of components(project)) {
      const node = component.kind === 'function' ? tree.node(`${path}#${component.name}`) : undefined;
      if (!node || needlessInputs(tree, node).length === 0) continue;
      yield { path, region: component, run: () => changed(inputs(project, { component: node.id })) };
    }
  },
  /** Every component that hands something on without using it. */
  *through(project) {
    const tree = ComponentTree.of(project);
    for (const { path, component } of components(project)) {
      const id = `${path}#${component.name}`;
      const values = component.kind === 'function' ? tree.values(id) : [];
      const isHandedOn = ({ binding, uses }) =>
        binding.kind === 'prop' && uses.length > 0 && uses.every((use) => use.passed?.plain);
      if (!values.some(isHandedOn) || tree.usesOf(id).length === 0) continue;
      yield { path, region: component, run: () => changed(through(project, { component: id })) };
    }
  },
  /** Every component that stands in the project, put back where it is shown. */
  *inline(project) {
    for (const { path, component } of components(project)) {
      if (component.kind !== 'function' && component.kind !== 'class') continue;
      const run = () => changed(inline(project, { component: `${path}#${component.name}` }));
      yield { path, region: component, run };
    }
  },
  /** Every state: down to where it is handed, and up to what shows its component. */
  *home(project) {
    const tree = ComponentTree.of(project);
    for (const { path, component } of components(project)) {
      const id = `${path}#${component.name}`;
      const [use, ...others] = tree.usesOf(id);
      const above = use?.host && others.length === 0 ? `${use.path}#${use.host.name}` : undefined;
      for (const { binding } of tree.values(id).filter((v) => v.binding.kind === 'state'))
        for (const to of [undefined, ...(above ? [above] : [])]) {
          const asked = { component: id, names: [binding.name], newLifetime: true, ...(to ? { in: to } : {}) };
          const run = () => {
            const result = changed(home(project, asked));
            return result.seenFrom ? { ...result, seenFrom: result.seenFrom[to ? 1 : 0] } : result;
          };
          yield { path, region: binding, run };
        }
    }
  },
  /** Every region cut out without the state that only it uses, which is brought to it then. */
  *after(project) {
    const tree = ComponentTree.of(project);
    for (const { path, region } of regions(project)) {
      const model = project.model(path);
      const around = model.components.find((c) => c.start <= region.start && c.end >= region.end);
      const id = around && `${path}#${around.name}`;
      const isUsed = ({ uses }) => uses.some((u) => u.at >= region.start && u.at < region.end);
      const states = id ? tree.values(id).filter((v) => v.binding.kind === 'state' && isUsed(v)) : [];
      for (const { names } of states) {
        const run = () => {
          const cut = extract(project, { path, range: region, seam: { stays: names.slice(0, 1) } });
          if (isProblem(cut) || cut.proof.answer !== 'same')
            return { outcome: 'refused', problem: isProblem(cut) ? cut : { code: 'cut', message: 'no cut' } };
          const now = new Project(applied(project.files, cut), project.ports);
          const to = `${cut.target}#${cut.name}`;
          const brought = changed(home(now, { component: id, names: names.slice(0, 1), in: to, newLifetime: true }));
          return brought.files
            ? {
                ...brought,
                seenFrom: path,
                files: new Map([...cut.files.map((f) => [f.path, f.text ?? null]), ...brought.files]),
              }
            : brought;
        };
        yield { path, region, run };
      }
    }
  },
  /** Every group of statements that is proposed as a hook. */
  *hook(project, { types }) {
    for (const path of project.sources()) {
      const plans = proposeRegions(project, path, {});
      for (const { hooks } of isProblem(plans) ? [] : plans)
        for (const { statements, name, range } of hooks ?? [])
          yield {
            path,
            region: range ?? { start: statements[0].start, end: statements.at(-1).end },
            run: () => changed(hook(project, { path, statements, name, ...types(path) })),
          };
    }
  },
  /** All that is proposed for a file, step by step. */
  *plan(project, { types }) {
    for (const path of project.sources()) {
      const found = proposeRegions(project, path, { lines: 80 });
      if (isProblem(found) || found.length === 0) continue;
      const plan = planOf(project, withHelpers(project, found));
      if (plan.steps.length === 0) continue;
      const run = () => {
        const where = new Whereabouts(plan.steps);
        return chained(
          project,
          plan.steps.map((step) => (now) => {
            const result = runStep(now, step, where, types(path));
            if (!isProblem(result)) where.after(result);
            return result;
          }),
        );
      };
      yield { path, region: { start: 0, end: 0 }, run };
    }
  },
  /** A region cut out and put back. */
  *back(project, { types }) {
    for (const { path, region } of regions(project)) {
      let name;
      const out = (now) => {
        const result = extract(now, { path, range: region, ...types(path) });
        if (!isProblem(result)) name = `${result.target}#${result.name}`;
        return result;
      };
      const back = (now) => inline(now, { component: name });
      yield {
        path,
        region,
        run: () => {
          const result = chained(project, [out, (now) => (name ? back(now) : extract(now, { path, range: region }))]);
          return result.outcome === 'same' && result.name === '1 steps'
            ? { ...result, outcome: 'refused', problem: { code: 'not-put-back', message: 'cut out, and not put back' } }
            : result;
        },
      };
    }
  },
};
