/** There and back: what is cut out of generated components is put back, proven, and renders as it did. */
import { describe, expect, it } from 'vitest';
import { applied, candidateRegions, extract, inline, isProblem, Project, textOf } from '../../src/core/index.js';
import type { Kind } from '../support/every-region.js';
import { jsx, vue } from '../support/kinds.js';
import { memoryProject, seeded } from '../support/projects.js';

const COMPONENTS = Number(process.env.ROUND ?? 90);

interface Round {
  readonly answer: 'as it was' | 'same' | 'refused' | 'fault';
  readonly detail: string;
}

async function round(kind: Kind, seed: number): Promise<Round> {
  const { entry } = kind;
  const { files, props } = kind.make(seed);
  const project = memoryProject(files);
  const model = project.model(entry);
  if (isProblem(model)) return { answer: 'fault', detail: `seed ${seed}: ${model.message}` };
  const regions = candidateRegions(
    files[entry]!,
    model.components.flatMap((c) => c.markup),
    1,
  );
  const region = regions[Math.floor(seeded(seed)() * regions.length)];
  const cut = region && extract(project, { path: entry, range: region });
  if (!cut || isProblem(cut)) return { answer: 'refused', detail: `seed ${seed}: not cut` };
  const at = `seed ${seed}, offsets ${region.start}-${region.end}`;
  const middle = new Project(applied(project.files, cut), project.ports);
  const back = inline(middle, { component: cut.name });
  if (isProblem(back)) return { answer: 'refused', detail: `${at}: ${back.message}` };
  if (back.proof.answer !== 'same')
    return { answer: 'fault', detail: `${at}: ${back.proof.answer}, ${back.proof.detail}` };
  const after = applied(middle.files, back);
  const wrong = kind.errors(after, [entry]);
  if (wrong.length > 0) return { answer: 'fault', detail: `${at}: ${wrong.join()}` };
  if (textOf(after, cut.target) !== undefined) return { answer: 'fault', detail: `${at}: ${cut.target} is left` };
  if (textOf(after, entry) === files[entry]) return { answer: 'as it was', detail: at };
  const [was, now] = [
    await kind.html(project.files, props),
    await Promise.resolve(kind.html(after, props)).catch(String),
  ];
  return was === now
    ? { answer: 'same', detail: at }
    : { answer: 'fault', detail: `${at}: renders otherwise\n  before ${was}\n  after  ${now}` };
}

describe.each([jsx, vue])('there and back: $language', (kind) => {
  it(`${COMPONENTS} components`, async () => {
    const rounds: Round[] = [];
    for (let seed = 1; seed <= COMPONENTS; seed++) rounds.push(await round(kind, seed));
    const count = (answer: Round['answer']) => rounds.filter((r) => r.answer === answer).length;
    expect(rounds.filter((r) => r.answer === 'fault')).toEqual([]);
    expect(count('refused'), JSON.stringify(rounds.filter((r) => r.answer === 'refused'))).toBeLessThan(
      COMPONENTS * 0.12,
    );
    // Most of it comes back to the letter.
    expect(count('as it was')).toBeGreaterThan(COMPONENTS / 2);
  });
});
