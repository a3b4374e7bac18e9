/** Line and column for people; everywhere else the core counts UTF-16 offsets. */
import type { Span } from './edits.js';

export interface Position {
  /** 1-based. */
  readonly line: number;
  /** 1-based, in UTF-16 code units. */
  readonly column: number;
}

export class Lines {
  readonly #starts: number[] = [0];

  constructor(readonly text: string) {
    for (let i = text.indexOf('\n'); i >= 0; i = text.indexOf('\n', i + 1)) this.#starts.push(i + 1);
  }

  /** Number of lines; a last line end does not begin another line. */
  get count(): number {
    return this.text.endsWith('\n') ? this.#starts.length - 1 : this.#starts.length;
  }

  position(offset: number): Position {
    let low = 0;
    let high = this.#starts.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.#starts[middle]! <= offset) low = middle;
      else high = middle - 1;
    }
    return { line: low + 1, column: offset - this.#starts[low]! + 1 };
  }

  /** Offset of the first unit of a 1-based line, or undefined when there is no such line. */
  lineStart(line: number): number | undefined {
    return this.#starts[line - 1];
  }

  /** Offset behind the last unit of a 1-based line, its line end not counted. */
  lineEnd(line: number): number {
    const next = this.#starts[line];
    if (next === undefined) return this.text.length;
    return this.text[next - 2] === '\r' ? next - 2 : next - 1;
  }

  lineText(line: number): string {
    return this.text.slice(this.lineStart(line) ?? this.text.length, this.lineEnd(line));
  }

  /** First and last line of a span, 1-based and inclusive. */
  range(span: Span): [first: number, last: number] {
    return [this.position(span.start).line, this.position(Math.max(span.start, span.end - 1)).line];
  }
}
