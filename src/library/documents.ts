/** What was found, as documents. */
import {
  differencesOf,
  givenText,
  notRead,
  type Graph,
  type Input,
  type Repeat,
  type Repeats,
  type Survey,
} from '../core/index.js';
import type { CheckReport } from '../node/check/check.js';
import type { JournalEntry } from '../node/journal/journal.js';
import type {
  CheckDocument,
  RepeatsDocument,
  SurveyDocument,
  TreeDocument,
  TreeNode,
  UndoDocument,
} from './formats/index.js';
import { linesFewer, placesOf, slicer } from './places.js';
import type { Workspace } from './workspace.js';

export function surveyDocument(workspace: Workspace, { files, graph, findings, attention }: Survey): SurveyDocument {
  return {
    format: 'verkstad/survey@1',
    root: workspace.root,
    files: files.map((f) => ({
      path: f.path,
      language: f.language,
      lines: f.lines,
      ...(f.problem ? { problem: f.problem } : {}),
    })),
    components: [...graph.nodes.values()].map(({ id, path, component: c, renders }) => ({
      id,
      name: c.name,
      kind: c.kind,
      path,
      lines: [...c.lines],
      range: [...c.range],
      exported: c.exported,
      props: c.props.map((p) => ({
        name: p.name,
        required: p.required,
        ...(p.type === undefined ? {} : { type: p.type }),
        ...(p.default === undefined ? {} : { default: p.default }),
      })),
      state: [...c.state],
      renders: [...renders],
      stateful: c.stateful,
      effects: c.effects,
      handlers: c.handlers,
      branches: c.branches,
      loops: c.loops,
      elements: c.elements,
      depth: c.depth,
      does: [...c.deeds],
    })),
    roots: [...graph.roots],
    entries: [...graph.entries],
    findings: findings.map((f) => ({ ...f, lines: [...f.lines] })),
    attention: attention.map((a) => ({ id: a.id, reasons: [...a.reasons] })),
    notRead: notRead(workspace.project).map(({ what, files: n }) => ({ what, files: n })),
    proposals: [],
  };
}

/** Deeper than this, JSON itself becomes a burden to its readers. */
const MAX_DEPTH = 400;

export function treeDocument(graph: Graph, roots: readonly string[]): TreeDocument {
  const opened = new Set<string>();
  const node = (id: string, above: readonly string[]): TreeNode => {
    const left = above.includes(id)
      ? 'circle'
      : opened.has(id)
        ? 'again'
        : above.length >= MAX_DEPTH
          ? 'depth'
          : undefined;
    if (left) return { id, children: [], left };
    opened.add(id);
    return { id, children: (graph.nodes.get(id)?.renders ?? []).map((child) => node(child, [...above, id])) };
  };
  return { format: 'verkstad/tree@1', roots: roots.map((id) => node(id, [])) };
}

/** So many groups that stand by themselves, each with those inside of it. */
export function limited(groups: readonly Repeat[], limit: number): readonly Repeat[] {
  let count = 0;
  const end = groups.findIndex((group) => group.within === undefined && ++count > limit);
  return end < 0 ? groups : groups.slice(0, end);
}

export function repeatsDocument(workspace: Workspace, repeats: Repeats, limit = Infinity): RepeatsDocument {
  const sourceOf = slicer(workspace);
  return {
    format: 'verkstad/repeats@1',
    groups: limited(repeats.groups, limit).map((repeat) => {
      const valueOf = (value: Input['values'][number]) => (value ? givenText(repeats.forms, value, sourceOf) : null);
      const entry = (input: Input) => ({
        name: input.name,
        values: input.values.map(valueOf),
        ...(input.default ? { default: givenText(repeats.forms, input.default, sourceOf) } : {}),
        ...(input.kind === 'flag' ? { type: 'boolean' } : isWords(input) ? { type: 'string' } : {}),
      });
      const ofKind = (...kinds: Input['kind'][]) => repeat.inputs.filter((i) => kinds.includes(i.kind)).map(entry);
      const hostEntry = (event: boolean) =>
        repeat.hostNames
          .filter((h) => h.event === event)
          .map(({ name }) => ({ name, values: repeat.places.map(() => name) }));
      return {
        id: repeat.id,
        kind: repeat.kind,
        name: repeat.name,
        alike: Math.round(repeat.alike * 100) / 100,
        places: placesOf(workspace, repeat),
        differs: differencesOf(repeats.forms, repeat, sourceOf).map(({ values, inputs }) => ({
          values: values.map((v) => v ?? null),
          inputs: inputs.map((i) => i.name),
        })),
        props: [...ofKind('prop', 'flag'), ...hostEntry(false)],
        slots: ofKind('slot'),
        events: [...ofKind('event'), ...hostEntry(true)],
        worth: repeat.worth,
        lines: linesFewer(workspace, repeat),
        ...(repeat.step ? { step: repeat.step } : {}),
        ...(repeat.byHand ? { byHand: repeat.byHand } : {}),
        ...(repeat.within === undefined ? {} : { within: repeat.within }),
      };
    }),
    leftOut: [...repeats.leftOut],
    unread: [...repeats.unread],
  };
}

function isWords(input: Input): boolean {
  return input.values.every((v) => !v || v.kind === 'string');
}

export function undoDocument(entries: readonly JournalEntry[]): UndoDocument {
  return {
    format: 'verkstad/undo@1',
    changes: entries.map((e) => ({
      id: e.id,
      step: e.step,
      title: e.title,
      files: e.files.map((f) => ({
        path: f.path,
        change: f.before === null ? 'delete' : f.after === null ? 'create' : 'edit',
      })),
    })),
  };
}

export function checkDocument({ answer, against, changed, levels }: CheckReport): CheckDocument {
  return {
    format: 'verkstad/check@1',
    answer,
    against,
    changed: [...changed],
    levels: levels.map(({ level, answer: one, compared, figures, left }) => ({
      level,
      answer: one,
      compared: [...compared],
      figures,
      left: left.map((l) => ({ ...l })),
    })),
    differences: levels
      .flatMap((l) => l.differences)
      .map(({ steps, pictures, before, after, ...rest }) => ({
        ...rest,
        ...(before ? { before: { ...before } } : {}),
        ...(after ? { after: { ...after } } : {}),
        ...(steps ? { steps: [...steps] } : {}),
        ...(pictures ? { pictures: [pictures[0], pictures[1]] as [string, string] } : {}),
      })),
  };
}
