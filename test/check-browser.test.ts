/**
 * `check --level browser` on the demos: every planted fault is caught at the level that is named for it, and a right
 * rewrite is the same. Needs Chromium and minutes: `npm run test:all`; FAULTS=all takes those as well that are found late,
 * RIGHT=50 RUNS=3 that many right rewrites, each so often.
 */
import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parse } from 'valibot';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { formats } from '../src/library/formats/index.js';
import { candidateRegions, extract, isProblem, Project, textOf } from '../src/core/index.js';
import { DiskFiles, nodePorts, ProjectTypes } from '../src/node/index.js';
import { CHROMIUM } from './support/browser.js';
import { FAULTS, type Fault } from './support/faults.js';

const HOME = new URL('..', import.meta.url).pathname;
const folder = mkdtempSync(join(tmpdir(), 'verkstad-browser-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A copy of a demo, to be compared with the demo itself. */
function copyOf(demo: string): string {
  const root = mkdtempSync(join(folder, `${demo}-`));
  cpSync(join(HOME, 'examples', demo), root, {
    recursive: true,
    filter: (path) => !/node_modules|\/dist|\.verkstad/.test(path.slice(HOME.length)),
  });
  symlinkSync(join(HOME, 'node_modules'), join(root, 'node_modules'), 'dir');
  return root;
}

function verkstad(root: string, ...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [join(HOME, 'dist/cli/bin.js'), ...args], {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, NO_COLOR: '1' },
  });
  return { status, stdout, stderr };
}

function checked(root: string, demo: string, level: string, ...more: string[]) {
  const done = verkstad(root, 'check', '--against', join(HOME, 'examples', demo), '--level', level, '--json', ...more);
  if (!done.stdout) throw new Error(done.stderr);
  return { status: done.status, ...parse(formats.check, JSON.parse(done.stdout)) };
}

function plant(root: string, { file = 'src/App.tsx', edits }: Fault): void {
  let text = readFileSync(join(root, file), 'utf8');
  for (const [find, instead] of edits) {
    expect(text).toContain(find);
    text = text.replace(find, instead);
  }
  writeFileSync(join(root, file), text);
}

/** A page with everything that goes by a clock of its own. */
const RESTLESS = `import { useEffect, useRef, useState } from 'react';
import { createRoot } from 'react-dom/client';

const css = \`
:root { ${Array.from({ length: 12 }, (_, i) => `--honey-${i}: ${i}px;`).join(' ')} }
.turning { animation: turn 1.1s linear infinite; width: 20px; height: 20px; border-top: 3px solid red; }
@keyframes turn { to { transform: rotate(360deg); } }
.hive { transition: transform 0.3s; }
.hive.open { transform: translateX(40px); }
\`;

function Hives() {
  const [now, setNow] = useState(() => new Date());
  const [isOpen, setOpen] = useState(false);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const timer = setInterval(() => setNow(new Date()), 1000);
    return () => clearInterval(timer);
  }, []);
  useEffect(() => {
    const context = canvas.current!.getContext('2d')!;
    let handle = 0;
    let frames = 0;
    const draw = () => {
      context.clearRect(0, 0, 100, 40);
      context.fillRect(frames++ % 100, 10, 20, 20);
      handle = requestAnimationFrame(draw);
    };
    draw();
    return () => cancelAnimationFrame(handle);
  }, []);
  return (
    <main>
      <style>{css}</style>
      <h1>{'Scales'} {now.toLocaleTimeString()}</h1>
      <div className="turning" />
      <canvas ref={canvas} width="100" height="40" />
      <p className={isOpen ? 'hive open' : 'hive'}>North meadow</p>
      <button onClick={() => setOpen(!isOpen)}>Open</button>
    </main>
  );
}

createRoot(document.querySelector('#root')!).render(<Hives />);
`;

const RIGHT = Number(process.env.RIGHT ?? 3);
const RUNS = Number(process.env.RUNS ?? 1);

/** Regions of the demos that are cut out, proven and with their types; spread over all that there are. */
function rewrites(): { demo: string; files: readonly { path: string; text: string }[] }[] {
  const made = ['apiary-react', 'apiary-vue'].flatMap((demo) => {
    const root = join(HOME, 'examples', demo);
    const project = new Project(new DiskFiles(root), nodePorts());
    const path = demo === 'apiary-vue' ? 'src/App.vue' : 'src/App.tsx';
    const model = project.model(path);
    if (isProblem(model)) throw new Error(model.message);
    const types = new ProjectTypes(root, project.files, path);
    const roots = model.components.flatMap((c) => c.markup);
    const changes = candidateRegions(textOf(project.files, path)!, roots, 3).flatMap((range) => {
      const change = extract(project, { path, range, types });
      if (isProblem(change) || change.proof.answer !== 'same') return [];
      return [{ demo, files: change.files.map((f) => ({ path: f.path, text: f.text! })) }];
    });
    types.dispose();
    return changes;
  });
  return Array.from({ length: RIGHT }, (_, i) => made[Math.floor((i * made.length) / RIGHT)]!);
}

const isWanted = (fault: Fault) => process.env.FAULTS === 'all' || !fault.late;

describe.runIf(CHROMIUM !== undefined && process.env.VERKSTAD_ALL === '1')('check in a browser', () => {
  it.each(FAULTS.filter(isWanted).map((fault) => [fault.name, fault] as const))('catches %s', (_, fault) => {
    const root = copyOf('apiary-react');
    plant(root, fault);
    const found = checked(root, 'apiary-react', fault.level, ...(fault.late ? ['--seconds', '400'] : []));
    expect(found.status).toBe(1);
    const seen = found.differences.filter((d) => d.level === fault.level);
    expect(seen.map((d) => d.words).join('\n')).toMatch(fault.says);
    if (fault.level !== 'browser') return;
    for (const path of seen[0]!.pictures!) expect(existsSync(join(root, path))).toBe(true);
    // Nothing is left of what was built.
    expect(existsSync(join(root, '.verkstad/check/work'))).toBe(false);
  });

  it('is not misled by what moves by itself, and says what is never the same twice', () => {
    const [before, now] = [copyOf('apiary-react'), copyOf('apiary-react')];
    const seen = (was: string, is: string) => {
      for (const [root, text] of [
        [before, was],
        [now, is],
      ] as const) {
        rmSync(join(root, 'src'), { recursive: true });
        mkdirSync(join(root, 'src'));
        writeFileSync(join(root, 'src/main.tsx'), text);
      }
      const done = verkstad(now, 'check', '--against', before, '--level', 'browser', '--json', '--steps', '12');
      return parse(formats.check, JSON.parse(done.stdout)).levels.at(-1)!;
    };
    expect(seen(RESTLESS, RESTLESS.replace("'Scales'", '`Scales`'))).toMatchObject({ answer: 'same' });
    const random = RESTLESS.replace("'Scales'", 'crypto.getRandomValues(new Uint32Array(1))[0]');
    const { answer, left } = seen(random, `${random}\n`);
    expect(answer).toBe('unchecked');
    expect(left.map((l) => l.why).join()).toContain('not the same twice, even before');
  });

  it('lets nothing out of the application, and names what wanted to', () => {
    const root = copyOf('apiary-react');
    const ways = `
      new WebSocket('ws://bees.example/scales').onerror = () => {};
      try { new RTCPeerConnection({ iceServers: [{ urls: 'stun:bees.example' }] }); } catch {}
      try { new WebTransport('https://bees.example/swarm'); } catch {}
      void fetch('https://bees.example/harvest').catch(() => {});
    `;
    const main = readFileSync(join(root, 'src/main.tsx'), 'utf8');
    const before = copyOf('apiary-react');
    writeFileSync(join(before, 'src/main.tsx'), `${main}\n${ways}`);
    writeFileSync(join(root, 'src/main.tsx'), `${main}\n${ways}\n// again\n`);
    const done = verkstad(root, 'check', '--against', before, '--level', 'browser', '--json', '--steps', '3');
    const { left } = parse(formats.check, JSON.parse(done.stdout)).levels.at(-1)!;
    const said = left.map((l) => l.what).join('\n');
    for (const way of [
      'WebSocket ws://bees.example/scales',
      'RTCPeerConnection',
      'WebTransport https://bees.example/swarm',
    ])
      expect(said).toContain(way);
  });

  it.each(['apiary-react', 'apiary-vue'])('finds %s the same after its whole plan', (demo) => {
    const root = copyOf(demo);
    expect(verkstad(root, 'propose', demo === 'apiary-vue' ? 'src/App.vue' : 'src/App.tsx').status).toBe(0);
    expect(verkstad(root, 'apply', 'all').status).toBe(0);
    const found = checked(root, demo, 'browser', '--steps', '40', '--seconds', '30');
    expect(found.differences).toEqual([]);
    expect(found.levels.find((l) => l.level === 'browser')).toMatchObject({ answer: 'same' });
    expect(found.status).toBe(0);
  });

  describe(`right rewrites, ${RIGHT} of them, ${RUNS} times each`, () => {
    let made: ReturnType<typeof rewrites> = [];
    beforeAll(() => void (made = rewrites()), 300_000);

    it.each(Array.from({ length: RIGHT }, (_, i) => i))(
      'finds rewrite %i the same',
      (i) => {
        const { demo, files } = made[i]!;
        const root = copyOf(demo);
        for (const { path, text } of files) writeFileSync(join(root, path), text);
        for (let run = 0; run < RUNS; run++) {
          const found = checked(root, demo, 'browser', '--steps', '12', '--seconds', '10');
          expect(found.levels.find((l) => l.level === 'browser')!.compared.length).toBeGreaterThan(0);
          expect(found.differences).toEqual([]);
          expect(found.status).toBe(0);
        }
      },
      RUNS * 200_000,
    );
  });
});
