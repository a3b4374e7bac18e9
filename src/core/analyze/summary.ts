/** What a survey keeps of one file: small, plain data that can be stored beside the fingerprint of its text. */
import type { ExportModel, ImportModel } from '../markup/model.js';
import { isProblem, withinDepth } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import { fingerprint } from '../text/fingerprint.js';
import { Lines } from '../text/lines.js';
import { idTroubles, type IdTrouble } from './ids.js';
import { summarize, tagsIn, type ComponentSummary } from './measures.js';

/** Changes whenever a summary of the same text would come out otherwise. */
export const SUMMARY_VERSION = 3;

export interface FileSummary {
  readonly path: string;
  readonly language: string;
  readonly lines: number;
  readonly fingerprint: string;
  readonly problem?: {
    readonly code: string;
    readonly message: string;
    readonly line?: number;
    readonly column?: number;
  };
  readonly components: readonly ComponentSummary[];
  readonly imports: readonly Pick<ImportModel, 'source' | 'local' | 'imported' | 'typeOnly'>[];
  readonly exports: readonly ExportModel[];
  readonly loads: readonly string[];
  readonly mounts: readonly string[];
  readonly ids: readonly IdTrouble[];
  /** Names by which the whole application may show a component of this file's imports. */
  readonly registers: readonly { readonly name: string; readonly local: string }[];
}

/** Summaries by path and fingerprint, from an earlier run. */
export interface SummaryCache {
  get(path: string, print: string): FileSummary | undefined;
  set(summary: FileSummary): void;
}

export function summarizeFile(project: Project, path: string, cache?: SummaryCache): FileSummary {
  const file = project.source(path);
  const empty = {
    path,
    language: 'none',
    lines: 0,
    fingerprint: '',
    components: [],
    imports: [],
    exports: [],
    loads: [],
    mounts: [],
    ids: [],
    registers: [],
  };
  if (isProblem(file)) return { ...empty, problem: { code: file.code, message: file.message } };
  const print = fingerprint(file.text);
  const known = cache?.get(path, print);
  if (known) return known;
  const lines = new Lines(file.text);
  const base = { ...empty, language: file.language.id, lines: lines.count, fingerprint: print };
  const read = withinDepth(path, () => {
    const model = file.language.read(file, project.ports);
    return isProblem(model)
      ? model
      : {
          model,
          components: model.components.map((c) => summarize(c, lines)),
          mounts: [...new Set([...tagsIn(model.mounts), ...model.started])],
          ids: model.components.flatMap((c) => idTroubles(c, lines)),
        };
  });
  let summary: FileSummary;
  if (isProblem(read)) {
    const at = read.span && lines.position(read.span.start);
    summary = {
      ...base,
      problem: { code: read.code, message: read.message, ...(at ? { line: at.line, column: at.column } : {}) },
    };
  } else {
    const { model, components, mounts, ids } = read;
    summary = {
      ...base,
      components,
      imports: model.imports.map(({ source, local, imported, typeOnly }) => ({ source, local, imported, typeOnly })),
      exports: model.exports,
      loads: model.loads,
      mounts,
      ids,
      registers: model.registers,
    };
  }
  cache?.set(summary);
  return summary;
}
