/** Requests and calculations of generated components leave for modules; both versions are played in a DOM with a made server. */
import { describe, expect, it } from 'vitest';
import { applied, isProblem, MemoryFiles, module, Project, textOf, type FileSet } from '../../src/core/index.js';
import { nodePorts } from '../../src/node/index.js';
import { madeWithRequests, playWithServer } from '../support/generate-requests.js';

const COMPONENTS = 200;

/** Takes every request of the file to a module, and what the component works out. */
function taken(files: FileSet): { after: FileSet; count: number; refused: string[] } {
  let after = files;
  let count = 0;
  const refused: string[] = [];
  const take = (wanted: () => { start: number; end: number } | undefined, name?: string) => {
    const project = new Project(after, nodePorts());
    const span = wanted();
    if (!span) return false;
    const change = module(project, { path: 'Apiary.jsx', wanted: { span }, ...(name ? { name } : {}) });
    if (isProblem(change)) {
      refused.push(change.code);
      return false;
    }
    if (change.proof.answer !== 'same') {
      refused.push(change.proof.code);
      return false;
    }
    after = applied(after, change);
    count++;
    return true;
  };
  const textNow = () => {
    const file = new Project(after, nodePorts()).source('Apiary.jsx');
    if (isProblem(file)) throw new Error(file.message);
    return file;
  };
  for (;;) {
    const file = textNow();
    const [first] = file.language.toModule!.requests(new Project(after, nodePorts()), file, nodePorts());
    if (!first || !take(() => first.span)) break;
  }
  const { text } = textNow();
  const start = text.indexOf('const worked');
  const end = text.indexOf(';', /\}, \[hives, count\]/.exec(text)?.index ?? start) + 1;
  take(() => ({ start, end }));
  return { after, count, refused };
}

describe('logic that leaves for modules', () => {
  it(`of ${COMPONENTS} generated components: the same shown and asked at every point`, async () => {
    const refused = new Map<string, number>();
    let steps = 0;
    for (let seed = 1; seed <= COMPONENTS; seed++) {
      const text = madeWithRequests(seed);
      const before = new MemoryFiles({ 'Apiary.jsx': text });
      const { after, count, refused: codes } = taken(before);
      for (const code of codes) refused.set(code, (refused.get(code) ?? 0) + 1);
      steps += count;
      const was = await playWithServer(before, seed);
      const is = await playWithServer(after, seed);
      const now = after
        .list()
        .map((path) => textOf(after, path))
        .join('\n');
      expect(is, `${seed}\n${text}\n${now}`).toEqual(was);
    }
    expect(steps).toBeGreaterThan(COMPONENTS * 3);
    expect([...refused.keys()]).toEqual([]);
  }, 120_000);
});
