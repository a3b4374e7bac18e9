/**
 * The set of well-factored pages in test/factored: every child is put back into its page, so that the page becomes a
 * monolith, and `propose` is asked where to cut it. What good developers had cut is what it should find again.
 */
import { readdirSync, readFileSync } from 'node:fs';
import {
  applied,
  inline,
  isProblem,
  MemoryFiles,
  movedOffset,
  Project,
  proposeRegions,
  snap,
  standsAt,
  textOf,
  loadLanguages,
} from '../dist/core/index.js';
import { nodePorts } from '../dist/node/index.js';

await loadLanguages();

const FOLDER = new URL('../test/factored/', import.meta.url);

export function readFactored() {
  return readdirSync(FOLDER)
    .filter((name) => name.endsWith('.txt'))
    .sort()
    .map((file) => {
      const parts = readFileSync(new URL(file, FOLDER), 'utf8')
        .split(/^--- /m)
        .slice(1)
        .map((part) => [part.slice(0, part.indexOf('\n')), part.slice(part.indexOf('\n') + 1)]);
      return { name: file.replace(/\.txt$/, ''), page: parts[0][0], files: Object.fromEntries(parts) };
    });
}

/** The page with all its children in it, and where each of them stands; `refused`: children that cannot go back. */
export function monolithOf({ page, files }) {
  let project = new Project(new MemoryFiles(files), nodePorts());
  const children = new Map();
  const refused = [];
  for (;;) {
    // From the outside in: what is shown by the page itself.
    const next = shownBy(project, page).find((id) => !refused.some((r) => r.id === id));
    if (!next) break;
    const name = next.slice(next.lastIndexOf('#') + 1);
    const source = textOf(project.files, next.slice(0, next.lastIndexOf('#')));
    const change = inline(project, { component: next });
    const put = !isProblem(change) && change.proof.answer === 'same' ? standsAt(change) : undefined;
    if (!put) {
      refused.push({ id: next, why: isProblem(change) ? change.message : change.proof.detail });
      continue;
    }
    const { edits } = change.files.find((f) => f.path === page);
    for (const child of children.values()) follow(child, edits);
    children.set(name, { ...put.span, crossing: crossingOf(change, source) });
    project = new Project(applied(project.files, change), project.ports);
  }
  return { project, text: textOf(project.files, page), children, refused };
}

function follow(child, edits) {
  const { start, end } = child;
  child.start = movedOffset(
    edits.filter((e) => e.end <= start),
    start,
  );
  child.end = movedOffset(
    edits.filter((e) => e.start < end),
    end,
  );
}

/** Ids of components of the project that the page shows. */
function shownBy(project, page) {
  const model = project.model(page);
  const ids = [];
  const visit = (node) => {
    if (Array.isArray(node)) node.forEach(visit);
    else if (node && typeof node === 'object') {
      if (node.kind === 'element' && node.component) {
        const name = node.name.replace(/(?:^|-)(\w)/g, (_, letter) => letter.toUpperCase());
        const path = project.sources().find((p) => p.replace(/\.\w+$/, '') === name);
        if (path) ids.push(`${path}#${name}`);
      }
      for (const [key, value] of Object.entries(node)) if (key !== 'syntax' && key !== 'code') visit(value);
    }
  };
  model.components.forEach((c) => visit(c.markup));
  return [...new Set(ids)];
}

/** Names that cross the boundary of a component that was written by hand. */
function crossingOf({ seam }, source) {
  const sent = [...source.matchAll(/\bemit\('([\w-]+)'/g)].map((m) => m[1]);
  return [...seam.props, ...seam.events].map((p) => p.name).concat([...new Set(sent)]);
}

const WORDS = /[\p{L}\p{N}_$]+|[^\s\p{L}\p{N}_$]/gu;

function tokensIn(text, { start, end }) {
  return [...text.slice(start, end).matchAll(WORDS)].length;
}

/** Share of the tokens of two spans that they have in common. */
export function agreement(text, a, b) {
  const common = { start: Math.max(a.start, b.start), end: Math.min(a.end, b.end) };
  if (common.end <= common.start) return 0;
  const shared = tokensIn(text, common);
  return shared / (tokensIn(text, a) + tokensIn(text, b) - shared);
}

const bare = (name) => name.replace(/^on(?=[A-Z])|(?:Change|d)$/g, '').toLowerCase();

/** Share of the names that both boundaries have. */
function seamAgreement(wanted, { props, events }) {
  const a = new Set(wanted.map(bare));
  const b = new Set([...props, ...events].map((p) => bare(p.name)));
  const all = new Set([...a, ...b]);
  return all.size === 0 ? 1 : [...a].filter((name) => b.has(name)).length / all.size;
}

const wordsOf = (name) => name.match(/[A-Z][a-z\d]*/g) ?? [name];

export function judgeFactored(cases) {
  const result = {
    children: 0,
    proposed: 0,
    found: 0,
    seams: 0,
    sameName: 0,
    sharedWord: 0,
    missed: [],
    extra: [],
    refused: [],
    apart: [],
    names: [],
  };
  for (const one of cases) {
    const { project, text, children, refused } = monolithOf(one);
    result.refused.push(...refused.map((r) => `${one.name}: ${r.id} ${r.why}`));
    const plans = proposeRegions(project, one.page);
    const file = project.source(one.page);
    const lists = file.language.lists(file, project.ports);
    const proposals = plans.flatMap((p) => p.proposals);
    const wanted = [...children].map(([name, child]) => ({
      name,
      ...child,
      ...spanOf(snap(text, child, lists) ?? child),
    }));
    result.children += wanted.length;
    result.proposed += proposals.length;
    const hit = new Set();
    for (const child of wanted) {
      const best = proposals
        .map((p) => ({ p, share: agreement(text, child, p.region) }))
        .sort((a, b) => b.share - a.share)[0];
      if (!best || best.share < 0.9) {
        result.missed.push(
          `${one.name}: ${child.name}${best ? ` (closest ${best.p.name}, ${best.share.toFixed(2)})` : ''}`,
        );
        continue;
      }
      hit.add(best.p);
      result.found++;
      const seam = seamAgreement(child.crossing, best.p.seam);
      result.seams += seam;
      if (seam < 0.5)
        result.apart.push(
          `${one.name}: ${child.name} took ${child.crossing.join(', ') || 'nothing'}; would take ${[...best.p.seam.props, ...best.p.seam.events].map((p) => p.name).join(', ') || 'nothing'}`,
        );
      if (best.p.name === child.name) result.sameName++;
      if (wordsOf(best.p.name).some((w) => wordsOf(child.name).includes(w))) result.sharedWord++;
      else result.names.push(`${one.name}: ${child.name} is called ${best.p.name}`);
    }
    for (const p of proposals)
      if (!hit.has(p))
        result.extra.push(
          `${one.name}: ${p.name} ${p.region.nodes[0].name ?? p.region.nodes[0].kind} worth ${p.worth.total}`,
        );
  }
  return result;
}

function spanOf({ start, end }) {
  return { start, end };
}
