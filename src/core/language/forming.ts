/** What the forms step asks of a language: a component that asks once, and has markup of its own for each answer. */
import type { ComponentModel } from '../markup/model.js';
import type { Problem } from '../problems/problems.js';
import type { Answer, Question } from '../script/question.js';
import type { Edit, Span } from '../text/edits.js';
import type { Ports, SourceFile } from './ports.js';

export interface FormsRequest {
  readonly ports: Ports;
  readonly file: SourceFile;
  readonly component: ComponentModel;
  readonly question: Question;
  /** Values that are only true and false. */
  readonly booleans: ReadonlySet<string>;
}

export interface Form {
  readonly answer: Answer;
  /** What is shown for it, in the text that the edits make; undefined where that is nothing. */
  readonly region: Span | undefined;
}

export interface Divided {
  /** How many places asked. */
  readonly places: number;
  readonly edits: readonly Edit[];
  /** In the order in which they are asked for. */
  readonly forms: readonly Form[];
  /** Whether nothing of one form lives on in another one as it is today. */
  readonly isApart: boolean;
}

/** Capability of a language: the question asked once, around what is shown. */
export interface Forms {
  /** Undefined where nothing that it shows asks. */
  divide(request: FormsRequest): Divided | Problem | undefined;
}

/** A piece of a file written anew, with what is shown for an answer in it. */
export interface Piece {
  readonly span: Span;
  readonly parts: readonly (string | { readonly answer: Answer; readonly text: string; readonly isShown: boolean })[];
}

/** The edits of pieces, and where each form stands afterwards. */
export function assembled(pieces: readonly Piece[]): Pick<Divided, 'edits' | 'forms'> {
  const edits: Edit[] = [];
  const forms: Form[] = [];
  let shift = 0;
  for (const { span, parts } of [...pieces].sort((a, b) => a.span.start - b.span.start)) {
    let text = '';
    for (const part of parts) {
      const start = span.start + shift + text.length;
      const own = typeof part === 'string' ? part : part.text;
      if (typeof part !== 'string')
        forms.push({ answer: part.answer, region: part.isShown ? { start, end: start + own.length } : undefined });
      text += own;
    }
    edits.push({ ...span, text });
    shift += text.length - (span.end - span.start);
  }
  return { edits, forms };
}
