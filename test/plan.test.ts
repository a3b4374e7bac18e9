/** `propose` and `apply` as a process: a plan is written, changed by hand, taken, committed, refused. */
import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parse } from 'valibot';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { formats, type PlanDocument as AnyPlan } from '../src/library/formats/index.js';
import { fingerprint, MemoryFiles } from '../src/core/index.js';
import { filesBelow } from './support/projects.js';
import { renderHtml } from './support/react.js';

const HOME = new URL('..', import.meta.url).pathname;
const folder = mkdtempSync(join(tmpdir(), 'verkstad-plan-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

let demo: string;
let count = 0;
beforeEach(() => {
  demo = join(folder, `demo${++count}`);
  cpSync(join(HOME, 'examples/apiary-react'), demo, {
    recursive: true,
    filter: (path) => !/node_modules|\/dist|\.verkstad/.test(path.slice(HOME.length)),
  });
  symlinkSync(join(HOME, 'node_modules'), join(demo, 'node_modules'), 'dir');
});

function run(command: string, args: readonly string[]) {
  const env = { ...process.env, NO_COLOR: '1', GIT_CONFIG_GLOBAL: '/dev/null', GIT_CONFIG_NOSYSTEM: '1' };
  const { status, stdout, stderr } = spawnSync(command, args, { cwd: demo, encoding: 'utf8', env });
  return { status, stdout, stderr };
}
const verkstad = (...args: string[]) => run(process.execPath, [join(HOME, 'dist/cli/bin.js'), ...args]);
const git = (...args: string[]) =>
  run('git', ['-c', 'user.name=Keeper', '-c', 'user.email=keeper@example.org', ...args]);
const read = (path: string) => readFileSync(join(demo, path), 'utf8');
const json = (text: string): unknown => JSON.parse(text);
const html = () =>
  renderHtml(new MemoryFiles(filesBelow(join(demo, 'src'))), { file: 'App.tsx', export: 'default', props: {} });

/** A plan that only cuts. */
type Cut = Extract<AnyPlan['steps'][number], { step: 'extract' }>;
type PlanDocument = Omit<AnyPlan, 'steps'> & { steps: Cut[] };

/** What is proposed for the page, which is the same each time. */
let proposed: string | undefined;

/** The plan for the page, changed. */
function plan(change: (plan: PlanDocument) => void): void {
  if (proposed === undefined) {
    expect(verkstad('propose', 'src/App.tsx', '--out', 'plan.json').status).toBe(0);
    proposed = read('plan.json');
  }
  const document = parse(formats.plan, json(proposed)) as PlanDocument;
  change(document);
  writeFileSync(join(demo, 'plan.json'), JSON.stringify(document));
}

describe('propose', () => {
  it('says where to cut and what is fine, for people and as data', () => {
    const text = verkstad('propose');
    expect(text.status, text.stderr).toBe(0);
    expect(text.stdout).toMatch(
      /App {2}src\/App\.tsx:\d+ {2}452 → about \d+ lines, \d+ components and 1 hook out of it/,
    );
    expect(text.stdout).toContain('├─ ◆ PageHeader');
    expect(text.stdout).toMatch(/✓ \d+ other components are fine as they are/);
    expect(text.stdout.split('\n').every((line) => line.length <= 160)).toBe(true);
    const data = parse(formats.propose, json(verkstad('propose', '--json').stdout));
    const header = data.proposals.find((p) => p.name === 'PageHeader')!;
    expect(header.seam.props.map((p) => p.name)).toEqual(['keeper']);
    expect(header.worth.total).toBe(header.worth.saved + header.worth.lighter - header.worth.seam);
    expect(data.components.find((c) => c.id.endsWith('#PricesPage'))!.fine.length).toBeGreaterThan(1);
  });

  it('says what is wrong with a goal or a path', () => {
    expect(verkstad('propose', '--goal', 'line=3').stderr).toContain('write lines=N, props=N or both');
    expect(verkstad('propose', 'src/Nothing.tsx').status).toBe(2);
    symlinkSync(folder, join(demo, '.verkstad'), 'dir');
    expect(verkstad('propose').stderr).toContain('.verkstad is a link');
    expect(existsSync(join(folder, 'plan.json'))).toBe(false);
    rmSync(join(demo, '.verkstad'));
    expect(verkstad('propose', '--out', 'nowhere/plan.json').stderr).toContain('name a file in a folder that is there');
  });
});

describe('hook', () => {
  it('makes a hook of lines that hold whole statements, and refuses others', () => {
    const lines = read('src/App.tsx').split('\n');
    const at = (start: string) => lines.findIndex((line) => line.trimStart().startsWith(start)) + 1;
    const effect = at('let cancelled') - 1;
    const states = `src/App.tsx:${at('const [inspections')}-${at('const [error')}`;
    const half = verkstad('hook', `${states},${effect}`);
    expect([half.status, half.stderr]).toEqual([3, expect.stringContaining('no whole statements')]);
    expect(verkstad('hook', `${states},${effect}-999`).status).toBe(2);
    const done = verkstad('hook', `${states},${effect}-${at('}, []);')}`);
    expect(done.status, done.stderr).toBe(0);
    expect(done.stdout).toContain('gives inspections, setInspections, loading, error');
    expect(read('src/App.tsx')).toContain('const { inspections, setInspections, loading, error } = useInspections();');
    expect(read('src/useInspections.ts')).toContain('clearTimeout(timer);');
    expect(verkstad('undo').status).toBe(0);
    expect(read('src/App.tsx')).toBe(lines.join('\n'));
  });
});

describe('function', () => {
  const tally = `import { Component } from 'react';

export class Tally extends Component<{ first: number }, { count: number }> {
  state = { count: this.props.first };

  add = () => this.setState((before) => ({ count: before.count + 1 }));

  render() {
    return <button onClick={this.add}>{this.state.count}</button>;
  }
}
`;

  it('by hand, in a plan, taken back; and refused by what a class does alone', () => {
    writeFileSync(join(demo, 'src/Tally.tsx'), tally);
    const done = verkstad('function', 'Tally');
    expect(done.status, done.stderr).toBe(0);
    expect(done.stdout).toContain('function Tally  src/Tally.tsx');
    expect(done.stdout).toContain('took     lines 3-11, the class; keeps count');
    expect(done.stdout).toContain('types    no new errors');
    const written = read('src/Tally.tsx');
    expect(written).toContain('export function Tally({ first }: { first: number }) {');
    expect(verkstad('undo').status).toBe(0);
    expect(read('src/Tally.tsx')).toBe(tally);

    const step = {
      step: 'function',
      name: 'Tally',
      component: 'Tally',
      path: 'src/Tally.tsx',
      lines: [3, 11],
      range: [40, 300],
    };
    const files = [{ path: 'src/Tally.tsx', fingerprint: fingerprint(tally) }];
    writeFileSync(join(demo, 'plan.json'), JSON.stringify({ format: 'verkstad/plan@1', files, steps: [step] }));
    const planned = verkstad('apply', 'plan.json', '--no-types');
    expect(planned.status, planned.stdout + planned.stderr).toBe(0);
    expect(read('src/Tally.tsx')).toBe(written);

    writeFileSync(join(demo, 'src/Tally.tsx'), tally.replace('add =', 'componentDidCatch() {}\n  add ='));
    const refused = verkstad('function', 'Tally');
    expect([refused.status, refused.stderr]).toEqual([
      3,
      expect.stringContaining('Tally stays a class: it catches errors'),
    ]);
    expect(refused.stderr).toContain('verkstad extract FILE:COMPONENT');
  });
});

describe('forms', () => {
  const board = `export function Board({ kind, place }: { kind: 'sick' | 'well'; place: string }) {
  return (
    <p className={kind === 'sick' ? 'alarm' : 'calm'}>
      {kind === 'sick' && <b>Sick</b>}
      {place}
    </p>
  );
}
`;

  it('by hand, in a plan, taken back; and refused by what asks for nothing', () => {
    writeFileSync(join(demo, 'src/Board.tsx'), board);
    const done = verkstad('forms', 'Board', '--by', 'kind', '--names', 'SickBoard,WellBoard');
    expect(done.status, done.stderr).toBe(0);
    expect(done.stdout).toContain(
      'took     what it shows by kind, asked for at 2 places: SickBoard (sick), WellBoard (otherwise)',
    );
    expect(done.stdout).toContain('types    no new errors');
    const written = ['Board', 'SickBoard', 'WellBoard'].map((name) => read(`src/${name}.tsx`));
    expect(written[1]).toContain('export function SickBoard({ place }');
    expect(verkstad('undo').status).toBe(0);
    expect(existsSync(join(demo, 'src/SickBoard.tsx'))).toBe(false);

    const names = ['SickBoard', 'WellBoard'];
    const place = { path: 'src/Board.tsx', lines: [1, 8], range: [0, 200] };
    const step = { step: 'forms', name: 'Board', component: 'Board', ...place, by: 'kind', names };
    const files = [{ path: 'src/Board.tsx', fingerprint: fingerprint(board) }];
    writeFileSync(join(demo, 'plan.json'), JSON.stringify({ format: 'verkstad/plan@1', files, steps: [step] }));
    const planned = verkstad('apply', 'plan.json', '--no-types');
    expect(planned.status, planned.stdout + planned.stderr).toBe(0);
    expect(['Board', ...names].map((name) => read(`src/${name}.tsx`))).toEqual(written);

    const refused = verkstad('forms', 'SickBoard', '--by', 'kind', '--no-types');
    expect([refused.status, refused.stderr]).toEqual([3, expect.stringContaining('asks nowhere for kind')]);
    expect(verkstad('forms', 'Board').stderr).toContain('--by');
  });
});

describe('through', () => {
  const scale = `export function Scale({ kilos, onWeigh }: { kilos: number; onWeigh: (kilos: number) => void }) {
  return <button onClick={() => onWeigh(kilos + 1)}>{kilos} kg</button>;
}
`;
  const frame = `import { Scale } from './Scale';

export function YardFrame({ place, kilos, onWeigh }: { place: string; kilos: number; onWeigh: (kilos: number) => void }) {
  return (
    <section>
      <h2>{place}</h2>
      <Scale kilos={kilos} onWeigh={onWeigh} />
    </section>
  );
}
`;
  const yard = `import { useState } from 'react';
import { YardFrame } from './YardFrame';

export function Yard({ place }: { place: string }) {
  const [kilos, setKilos] = useState(12);
  return <YardFrame place={place} kilos={kilos} onWeigh={setKilos} />;
}
`;

  it('by hand, in a plan, taken back; and refused by what uses all that it takes', () => {
    for (const [name, text] of Object.entries({ Scale: scale, YardFrame: frame, Yard: yard }))
      writeFileSync(join(demo, `src/${name}.tsx`), text);
    const done = verkstad('through', 'YardFrame');
    expect(done.status, done.stderr).toBe(0);
    expect(done.stdout).toContain('through YardFrame  <Scale> → Yard');
    expect(done.stdout).toContain('took     content of YardFrame; YardFrame without kilos, onWeigh');
    expect(done.stdout).toContain('proof    same with <YardFrame> expanded');
    expect(done.stdout).toContain('types    no new errors');
    const written = ['YardFrame', 'Yard'].map((name) => read(`src/${name}.tsx`));
    expect(written[0]).toContain('YardFrame({ place, children }: { place: string; children: ReactNode }) {');
    expect(verkstad('undo').status).toBe(0);
    expect(read('src/Yard.tsx')).toBe(yard);

    const place = { path: 'src/YardFrame.tsx', lines: [3, 10], range: [40, 200] };
    const inputs = ['kilos', 'onWeigh'];
    const step = { step: 'through', name: 'YardFrame', component: 'YardFrame', ...place, inputs, in: 'Yard' };
    const files = [{ path: 'src/YardFrame.tsx', fingerprint: fingerprint(frame) }];
    writeFileSync(join(demo, 'plan.json'), JSON.stringify({ format: 'verkstad/plan@1', files, steps: [step] }));
    const planned = verkstad('apply', 'plan.json', '--no-types');
    expect(planned.status, planned.stdout + planned.stderr).toBe(0);
    expect(['YardFrame', 'Yard'].map((name) => read(`src/${name}.tsx`))).toEqual(written);

    const refused = verkstad('through', 'Scale', '--no-types');
    expect([refused.status, refused.stderr]).toEqual([3, expect.stringContaining('it uses all that it takes')]);
  });
});

describe('inputs', () => {
  const sign = `export function Sign({ says, icon, wide }: { says: string; icon?: string; wide?: boolean }) {
  return <b className={wide ? 'wide' : 'plain'}>{icon && <i>{icon}</i>}{says}</b>;
}
export const Signs = () => <p><Sign says="a" wide /><Sign says="b" wide /></p>;
`;

  it('by hand, in a plan, taken back; and refused where they differ', () => {
    writeFileSync(join(demo, 'src/Sign.tsx'), sign);
    const done = verkstad('inputs', 'Sign');
    expect(done.status, done.stderr).toBe(0);
    expect(done.stdout).toContain('took     handed over at none of 2 places: icon; the same at 2 places: wide true');
    expect(done.stdout).toContain('types    no new errors');
    const written = read('src/Sign.tsx');
    expect(written).toContain(`Sign({ says }: { says: string }) {\n  return <b className="wide">{says}</b>;`);
    expect(written).toContain('<p><Sign says="a" /><Sign says="b" /></p>');
    expect(verkstad('undo').status).toBe(0);
    expect(read('src/Sign.tsx')).toBe(sign);

    const place = { path: 'src/Sign.tsx', lines: [1, 3], range: [0, 100] };
    const step = { step: 'inputs', name: 'Sign', component: 'Sign', ...place, names: ['icon', 'wide'] };
    const files = [{ path: 'src/Sign.tsx', fingerprint: fingerprint(sign) }];
    writeFileSync(join(demo, 'plan.json'), JSON.stringify({ format: 'verkstad/plan@1', files, steps: [step] }));
    const planned = verkstad('apply', 'plan.json', '--no-types');
    expect(planned.status, planned.stdout + planned.stderr).toBe(0);
    expect(read('src/Sign.tsx')).toBe(written);

    const refused = verkstad('inputs', 'Sign', '--names', 'says', '--no-types');
    expect([refused.status, refused.stderr]).toEqual([
      3,
      expect.stringContaining("not one constant everywhere: 'a', 'b'"),
    ]);
  });
});

describe('apply', () => {
  it('makes the demo a page of under 120 lines with no file over 150, and it shows the same', async () => {
    const before = await html();
    expect(verkstad('propose', 'src/App.tsx').status).toBe(0);
    const done = verkstad('apply', 'all');
    expect(done.status, done.stderr).toBe(0);
    const sizes = [...done.stdout.matchAll(/(\S+\.tsx?) +(?:\d+ → )?(\d+) lines/g)];
    expect(sizes.length).toBeGreaterThan(10);
    for (const [, path, count] of sizes) expect(Number(count), path).toBeLessThan(path === 'src/App.tsx' ? 120 : 150);
    expect(await html()).toBe(before);
    // What is proposed for what came out can be taken as well, to the end: a state that a hook takes along does not go home too.
    expect(verkstad('undo').stdout).toContain('useInspections');
    expect(verkstad('propose').stdout).toContain('useInspections');
    const again = verkstad('apply', 'all', '--no-types');
    expect(again.stderr).toBe('');
    expect(again.stdout).toMatch(/(\d+) of \1 steps taken/);
    expect(await html()).toBe(before);
  });

  it('makes what repeats one before it cuts, and it shows the same, where nothing is installed', async () => {
    rmSync(join(demo, 'node_modules'));
    const before = await html();
    const told = verkstad('propose');
    expect(told.stdout).toMatch(/Made one first[\s\S]*ApiaryCard {2}markup, 4 places in src\/App\.tsx/);
    const { steps } = parse(formats.plan, json(read('.verkstad/plan.json')));
    // What frames the pages comes last: what it holds is cut while it can still be found.
    const [first, ...kinds] = steps.map((s) => (s.step === 'unify' ? s.kind : s.step));
    expect(first).toBe('module');
    expect(kinds.at(-1)).toBe('frame');
    expect(kinds.lastIndexOf('markup')).toBe(kinds.filter((kind) => kind === 'markup').length - 1);
    // A dialog that is one of two is no cut of its own any more.
    expect(steps.map((s) => s.name)).not.toContain('RemoveInspectionDialog');
    const done = verkstad('apply', 'all');
    expect(done.status, done.stderr).toBe(0);
    expect(done.stdout).toMatch(/PageLayout +src\/pages\/\S+ → src\/pages\/PageLayout\.tsx {2}3 places {2}proof same/);
    expect(done.stdout.match(/no new type errors/g)).toHaveLength(steps.length);
    expect(read('src/Apiaries.tsx').match(/<ApiaryCard$/gm)).toHaveLength(4);
    expect(await html()).toBe(before);
    const gone = steps.find((s) => s.step === 'unify')!;
    const again = verkstad('apply', gone.id, '--no-types');
    expect([again.status, again.stderr]).toEqual([
      3,
      expect.stringContaining('is not the text that the plan was made on'),
    ]);
  });

  it('weighs pages as the components that they become, and takes frame and cuts with them', () => {
    cpSync(join(HOME, 'examples/apiary-pages'), join(demo, 'site'), { recursive: true });
    rmSync(join(demo, 'site/verkstad.config.json'));
    const before = read('site/harvest.html');
    expect(verkstad('propose', 'site').stdout).toContain('not weighed: 3 plain pages; --into vue, or jsx, weighs them');
    expect(verkstad('propose', 'src', '--into', 'vue').stderr).toContain('leave out --into');
    expect(verkstad('propose', 'site', '--into', 'scrolls').stderr).toContain('choose one of');
    const told = verkstad('propose', 'site', '--into', 'vue', '--json');
    const { pages } = parse(formats.propose, json(told.stdout));
    expect(pages!.map((page) => page.to)).toEqual(['site/HarvestPage.vue', 'site/HivesPage.vue', 'site/IndexPage.vue']);
    const { steps, files } = parse(formats.plan, json(read('.verkstad/plan.json')));
    expect(steps.map((s) => s.step).slice(0, 3)).toEqual(['page', 'page', 'page']);
    expect(files.every(({ path }) => path.endsWith('.html'))).toBe(true);
    const frame = steps.at(-1)!;
    const done = verkstad('apply', frame.step === 'unify' ? frame.id : '', '--no-types');
    expect(done.status, done.stderr).toBe(0);
    expect(done.stdout).toContain('4 of 4 steps taken');
    expect(read('site/PageLayout.vue')).toContain('<slot />');
    expect(verkstad('undo', '1').status).toBe(0);
    expect(read('site/harvest.html')).toBe(before);
    expect(existsSync(join(demo, 'site/HarvestPage.vue'))).toBe(false);
  });

  it('takes one group of the last proposals by its id', () => {
    verkstad('propose');
    const { steps } = parse(formats.plan, json(read('.verkstad/plan.json')));
    const cards = steps.find((s) => s.step === 'unify' && s.name === 'ApiaryCard')!;
    expect(cards.step === 'unify' && verkstad('apply', cards.id, '--no-types').stdout).toContain('1 of 1 step taken');
    expect(existsSync(join(demo, 'src/ApiaryCard.tsx'))).toBe(true);
    expect(verkstad('undo').status).toBe(0);
    expect(verkstad('apply', 'm00000').stderr).toContain('m00000');
  });

  it('takes a plan that a person has changed, and the page shows the same', async () => {
    const before = await html();
    plan((document) => {
      document.steps = document.steps.filter((s) => /^(?:PageHeader|Tabs|Reports)$/.test(s.name)).reverse();
      const tabs = document.steps.find((s) => s.name === 'Tabs')!;
      const text = read('src/App.tsx');
      const list = text.indexOf('<div role="tablist"');
      tabs.seam = { slots: { list: [list, text.indexOf('</div>', list) + '</div>'.length] } };
      document.steps.find((s) => s.name === 'PageHeader')!.seam = { events: { 'signIn(who)': 'setKeeper(who)' } };
      tabs.name = 'HoneyTabs';
      tabs.to = 'src/honey/HoneyTabs.tsx';
    });
    const done = verkstad('apply', 'plan.json');
    expect(done.status, done.stderr).toBe(0);
    expect(done.stdout).toContain(
      'HoneyTabs   src/App.tsx → src/honey/HoneyTabs.tsx  3 inputs  proof same, no new type errors',
    );
    expect(done.stdout).toContain('3 of 3 steps taken');
    expect(done.stdout).toMatch(/src\/App\.tsx +506 → \d+ lines/);
    expect(read('src/App.tsx')).toContain("import HoneyTabs from './honey/HoneyTabs';");
    expect(await html()).toBe(before);
    // The text is another one now.
    const again = verkstad('apply', 'plan.json', '--no-types');
    expect(again.status).toBe(3);
    expect(again.stderr).toContain('is not the text that the plan was made on');
  });

  it('takes numbers of the last proposals, and commits each step', () => {
    git('init', '-q');
    writeFileSync(join(demo, '.gitignore'), 'node_modules\n.verkstad\n');
    git('add', '-A');
    git('commit', '-qm', 'Start');
    git('config', 'user.name', 'Keeper');
    git('config', 'user.email', 'keeper@example.org');
    expect(verkstad('apply', '1').stderr).toContain('run `verkstad propose` first');
    const { proposals } = parse(formats.propose, json(verkstad('propose', 'src/App.tsx', '--json').stdout));
    expect(verkstad('apply', '99').stderr).toContain(`the last \`verkstad propose\` made ${proposals.length}`);
    const done = parse(formats.applied, json(verkstad('apply', '1', '2', '--commit', '--no-types', '--json').stdout));
    expect(done.steps.map((s) => s.name)).toEqual([proposals[0]!.name, proposals[1]!.name]);
    expect(done.left).toEqual([]);
    expect(git('log', '--format=%s').stdout.trim().split('\n')).toEqual([
      `Extract ${proposals[1]!.name} from App`,
      `Extract ${proposals[0]!.name} from App`,
      'Start',
    ]);
    expect(git('status', '--porcelain').stdout).toBe('');
    writeFileSync(join(demo, 'src/App.tsx'), `${read('src/App.tsx')}// open\n`);
    verkstad('propose', 'src/App.tsx');
    const open = verkstad('apply', 'all', '--commit', '--no-types');
    expect(open.status).toBe(3);
    expect(open.stderr).toContain('changes that are not committed');
  });

  it('stops at the first step that cannot be taken, and keeps what was done', () => {
    plan((document) => {
      document.steps = document.steps.filter((s) => /^(?:PageHeader|Apiaries|Reports)$/.test(s.name));
      document.steps[1]!.to = 'src/main.tsx';
    });
    const stopped = verkstad('apply', 'plan.json', '--no-types');
    expect(stopped.status).toBe(3);
    expect(stopped.stdout).toContain('1 of 3 steps taken');
    expect(stopped.stdout).toMatch(/left: \w+, \w+/);
    expect(stopped.stderr).toContain('src/main.tsx');
    expect(existsSync(join(demo, 'src/PageHeader.tsx'))).toBe(true);
    expect(verkstad('undo').status).toBe(0);
    expect(read('src/App.tsx')).toBe(readFileSync(join(HOME, 'examples/apiary-react/src/App.tsx'), 'utf8'));
  });

  it.each<[string, (document: PlanDocument) => void, number, string]>([
    ['out of its order', (d) => void d.steps.reverse(), 3, 'comes after it in the plan'],
    ['that points outside', (d) => void (d.steps[0]!.to = '../Out.tsx'), 3, '../Out.tsx'],
    ['on another file', (d) => void (d.steps[0]!.path = 'src/main.tsx'), 3, 'is not the text'],
    ['with a name that is none', (d) => void (d.steps[0]!.name = 'page header'), 2, 'steps.0.name'],
    ['with something else in it', (d) => void Object.assign(d, { run: 'x' }), 2, 'is no plan'],
  ])('refuses a plan %s', (_, change, status, words) => {
    expect(verkstad('propose', 'src/App.tsx', '--goal', 'lines=120', '--out', 'plan.json').status).toBe(0);
    const document = parse(formats.plan, json(read('plan.json'))) as PlanDocument;
    change(document);
    writeFileSync(join(demo, 'plan.json'), JSON.stringify(document));
    const refused = verkstad('apply', 'plan.json', '--no-types');
    expect(refused.stderr).toContain(words);
    expect(refused.status).toBe(status);
    expect(read('src/App.tsx')).toBe(readFileSync(join(HOME, 'examples/apiary-react/src/App.tsx'), 'utf8'));
  });
});

describe('inline', () => {
  it('puts back what was cut, at one place or all, and says what it did', async () => {
    const before = await html();
    plan((document) => void (document.steps = document.steps.filter((s) => /^(?:PageHeader|Tabs)$/.test(s.name))));
    expect(verkstad('apply', 'plan.json', '--no-types').status).toBe(0);
    const dry = verkstad('inline', 'Tabs', '--dry-run', '--no-types');
    expect(dry.stdout).toContain('--- a/src/Tabs.tsx\n+++ /dev/null');
    expect(existsSync(join(demo, 'src/Tabs.tsx'))).toBe(true);
    const done = verkstad('inline', 'Tabs');
    expect(done.stdout, done.stderr).toMatch(/inline Tabs {2}src\/Tabs\.tsx → src\/App\.tsx/);
    expect(done.stdout).toMatch(/took +the tag at src\/App\.tsx:\d+/);
    expect(done.stdout).toContain('no new errors');
    expect(existsSync(join(demo, 'src/Tabs.tsx'))).toBe(false);
    expect(await html()).toBe(before);
    const data = parse(formats.change, json(verkstad('inline', 'PageHeader', '--json', '--no-types').stdout));
    expect(data).toMatchObject({ step: 'inline', proof: { answer: 'same' }, places: [{ path: 'src/App.tsx' }] });
    expect(verkstad('undo').status).toBe(0);
    expect(existsSync(join(demo, 'src/PageHeader.tsx'))).toBe(true);
  });

  it('says what is wrong: a name nobody has, a place without it, a place that is none', () => {
    expect(verkstad('inline', 'Ap').stderr).toContain('there is no component "Ap"');
    const none = verkstad('inline', 'App', '--at', 'src/App.tsx:1-3');
    expect([none.status, none.stderr]).toEqual([3, expect.stringContaining('App is not shown in these lines')]);
    expect(verkstad('inline', 'App', '--at', 'src/App.tsx').stderr).toContain('src/App.tsx');
    expect(verkstad('inline', 'App', '--at', 'src/Nothing.tsx:1-3').status).toBe(2);
  });

  it('is a step of a plan where a split has gone wrong', () => {
    writeFileSync(
      join(demo, 'src/Mark.tsx'),
      'export function Mark({ a, b, c, d }: { a: string; b: string; c: string; d: string }) {\n  return <p>{a} {b} {c} {d}</p>;\n}\n',
    );
    writeFileSync(
      join(demo, 'src/Jar.tsx'),
      "import { Mark } from './Mark';\n\nexport function Jar({ honey, year }: { honey: string; year: string }) {\n  return (\n    <section>\n      <h2>{honey}</h2>\n      <Mark a={honey} b={year} c={honey} d={year} />\n    </section>\n  );\n}\n",
    );
    const data = parse(formats.propose, json(verkstad('propose', 'src/Mark.tsx', '--json').stdout));
    expect(data.proposals).toMatchObject([{ id: '1', step: 'inline', name: 'Mark', component: 'src/Jar.tsx#Jar' }]);
    expect(verkstad('propose', 'src/Mark.tsx').stdout).toMatch(/1 {2}put back Mark {2}src\/Mark\.tsx:1-3 {2}into Jar/);
    const done = verkstad('apply', '1');
    expect(done.status, done.stderr).toBe(0);
    expect(done.stdout).toContain('put back  proof same, no new type errors');
    expect(done.stdout).toMatch(/src\/Mark\.tsx +3 → gone/);
    expect(read('src/Jar.tsx')).toContain('<p>{honey} {year} {honey} {year}</p>');
  });
});

describe('home', () => {
  const apiary = (part: string) => `import { useState } from 'react';
import { HiveList } from './HiveList';

export function Apiary({ hives }: { hives: string[] }) {
  const [query, setQuery] = useState('');
  const [open, setOpen] = useState(false);
  const found = hives.filter((hive) => hive.includes(query));

  return (
    <main>
      <button onClick={() => setOpen(!open)}>Fold</button>
      ${part}
    </main>
  );
}
`;
  const list = `interface HiveListProps {
  hives: string[];
  query: string;
  onQuery: (query: string) => void;
}

export const HiveList = ({ hives, query, onQuery }: HiveListProps) => (
  <section>
    <input value={query} onChange={(event) => onQuery(event.target.value)} />
    {hives.map((hive) => (
      <p key={hive}>{hive}</p>
    ))}
  </section>
);
`;
  const use = '<HiveList hives={found} query={query} onQuery={setQuery} />';
  const write = (part: string) => {
    writeFileSync(join(demo, 'src/Apiary.tsx'), apiary(part));
    writeFileSync(join(demo, 'src/HiveList.tsx'), list);
  };

  it('is proposed where one component below alone uses a state, taken by its number, and taken back', () => {
    write(use);
    const text = verkstad('propose', 'src/Apiary.tsx');
    expect(text.stdout).toMatch(/ 1 {2}bring home query {2}src\/Apiary\.tsx:4-15 {2}Apiary → HiveList {2}worth 5\n/);
    const data = parse(formats.propose, json(verkstad('propose', 'src/Apiary.tsx', '--json').stdout));
    expect(data.proposals[0]).toMatchObject({ step: 'home', name: 'query', home: 'src/HiveList.tsx#HiveList' });
    const { worth } = data.proposals[0]!;
    expect(worth.total).toBe(worth.saved + worth.lighter - worth.seam);

    const taken = verkstad('apply', '1', '--no-types');
    expect(taken.status, taken.stdout + taken.stderr).toBe(0);
    expect(taken.stdout).toContain('src/Apiary.tsx → src/HiveList.tsx  brought home  proof same');
    expect(read('src/Apiary.tsx')).toContain('<HiveList hives={hives} />');
    expect(read('src/HiveList.tsx')).toContain("const [query, setQuery] = useState('');");
    expect(verkstad('undo').status).toBe(0);
    expect(read('src/Apiary.tsx')).toBe(apiary(use));
  });

  it('by hand: says what went and what is handed over, what would be lost, and who else uses it', () => {
    write(`{open && ${use}}`);
    const lost = verkstad('home', 'Apiary', 'query');
    expect(lost.status).toBe(3);
    expect(lost.stderr).toContain(
      '<HiveList> goes and comes with a condition, and query would begin anew each time; today it is kept',
    );
    expect(lost.stderr).toContain('--new-lifetime');
    const done = verkstad('home', 'Apiary', 'query', '--new-lifetime');
    expect(done.status, done.stderr).toBe(0);
    expect(done.stdout).toMatch(/took {5}query, setQuery, found; no longer handed over: query, onQuery/);
    expect(done.stdout).toContain('types    no new errors');
    const shared = verkstad('home', 'Apiary', 'open', '--in', 'HiveList', '--json');
    expect(shared.status).toBe(3);
    expect(parse(formats.refusal, json(shared.stdout)).code).toBe('home-shared');
    const up = verkstad('home', 'HiveList', 'query', '--in', 'Apiary', '--new-lifetime', '--json');
    expect(parse(formats.change, json(up.stdout))).toMatchObject({
      step: 'home',
      target: 'src/Apiary.tsx',
      seam: { props: [{ name: 'query', type: 'string' }] },
    });
  });
});

describe('a function that gives markup back', () => {
  it('is proposed with what it shows, taken by its number or named instead of lines, and gone', () => {
    const record = readFileSync(
      join(HOME, 'test/fixtures/jsx/helper-with-what-it-reads/before/HarvestRecord.jsx'),
      'utf8',
    );
    writeFileSync(join(demo, 'src/HarvestRecord.jsx'), record);
    writeFileSync(join(demo, 'src/scale.js'), 'export const [weigh, seal] = [Promise.resolve, Promise.resolve];\n');
    const text = verkstad('propose', 'src/HarvestRecord.jsx').stdout;
    expect(text.replace(/\s+/g, ' ')).toContain('renderHead is gone then: its calls become tags');
    const data = parse(formats.propose, json(verkstad('propose', 'src/HarvestRecord.jsx', '--json').stdout));
    const helpers = data.proposals.map((p) => ('helper' in p ? p.helper : undefined));
    expect(helpers).toEqual(['renderHead', 'renderFrame', 'renderTotal']);

    const taken = verkstad('apply', '1', '2', '--no-types');
    expect(taken.status, taken.stdout + taken.stderr).toBe(0);
    const note = verkstad('extract', 'src/HarvestRecord.jsx:HarvestRecord.renderNotes', '--name', 'HarvestNotes');
    expect(note.status, note.stderr).toBe(0);
    expect(note.stdout).toContain('<aside>; renderNotes is gone, called at one place');
    expect(read('src/HarvestRecord.jsx')).toContain('{this.state.open ? (');
    expect(read('src/HarvestRecord.jsx')).not.toMatch(/render(?:Head|Frame|Notes)/);
    const gone = verkstad('extract', 'src/HarvestRecord.jsx:renderHead');
    expect(gone.status).toBe(3);
    expect(gone.stderr).toContain('no function "renderHead" here gives markup back');
    expect(gone.stderr).toContain('those that do: renderTotal');
    expect([verkstad('undo').status, verkstad('undo').status, verkstad('undo').status]).toEqual([0, 0, 0]);
    expect(read('src/HarvestRecord.jsx')).toBe(record);
  });
});

describe('what a component shows, apart from what it knows', () => {
  it('is taken by its name, with what is asked of it, in a plan as well', () => {
    const fixture = join(HOME, 'test/fixtures/jsx/apart-from-what-it-knows');
    const hives = readFileSync(join(fixture, 'before/Hives.tsx'), 'utf8');
    const put = () => {
      writeFileSync(join(demo, 'src/Hives.tsx'), hives);
      writeFileSync(join(demo, 'src/api.ts'), readFileSync(join(fixture, 'before/api.ts')));
    };
    put();
    const asked = ['--event', 'choose(hive)=onPick(hive)', '--name', 'HiveTable'];
    const taken = verkstad('extract', 'src/Hives.tsx:Hives', ...asked);
    expect(taken.status, taken.stderr).toBe(0);
    expect(taken.stdout).toContain('lines 37-50, <section>');
    expect(taken.stdout.match(/on[A-Z]\w+/g)).toEqual(['onQueryChange', 'onClear', 'onChoose', 'onRemove']);
    expect(read('src/HiveTable.tsx')).toContain('onClick={() => onChoose(hive)}');
    expect(verkstad('undo').status).toBe(0);

    const step = { step: 'extract', name: 'HivesView', component: 'Hives', path: 'src/Hives.tsx', lines: [1, 2] };
    const files = [{ path: 'src/Hives.tsx', fingerprint: fingerprint(hives) }];
    const plan = { format: 'verkstad/plan@1', files, steps: [{ ...step, range: [0, 1], apart: true }] };
    writeFileSync(join(demo, 'apart.json'), JSON.stringify(plan));
    const applied = verkstad('apply', 'apart.json', '--no-types');
    expect(applied.status, applied.stdout + applied.stderr).toBe(0);
    expect(read('src/HivesView.tsx')).toBe(readFileSync(join(fixture, 'after/HivesView.tsx'), 'utf8'));
    expect(verkstad('undo').status).toBe(0);
    for (const path of ['src/Hives.tsx', 'src/api.ts', 'apart.json']) rmSync(join(demo, path));
  });
});

describe('logic that leaves for a module', () => {
  it('is proposed with its address, taken by its number or named, added to what is there, and taken back', () => {
    const fixture = join(HOME, 'test/fixtures/jsx/module-of-requests/before');
    const visits = readFileSync(join(fixture, 'Visits.jsx'), 'utf8').replace("'./api'", "'./latest'");
    writeFileSync(join(demo, 'src/Visits.jsx'), visits);
    writeFileSync(join(demo, 'src/latest.js'), readFileSync(join(fixture, 'api.js')));
    writeFileSync(join(demo, 'src/session.js'), readFileSync(join(fixture, 'session.js')));
    const text = verkstad('propose', 'src/Visits.jsx').stdout;
    expect(text).toMatch(/ 1 {2}take out loadVisits {2}src\/Visits\.jsx:18-26 {2}Visits → src\/api\.js {2}worth 8\n/);
    expect(text).toContain('takes page, hiveId, owner, signal');
    const data = parse(formats.propose, json(verkstad('propose', 'src/Visits.jsx', '--json').stdout));
    expect(data.proposals[0]).toMatchObject({ step: 'module', name: 'loadVisits', to: 'src/api.js' });

    const taken = verkstad('apply', '1', '--no-types');
    expect(taken.status, taken.stdout + taken.stderr).toBe(0);
    expect(taken.stdout).toContain('loadVisits  src/Visits.jsx → src/api.js  4 inputs  proof same');
    const named = verkstad('module', 'src/Visits.jsx:Visits', '--to', 'src/api.js');
    expect(named.status).toBe(3);
    expect(named.stderr).toContain('Visits cannot leave the file: it shows something');
    const latest = verkstad('module', 'src/latest.js:latest', '--to', 'src/api.js', '--json');
    expect(latest.status, latest.stderr).toBe(0);
    expect(parse(formats.change, json(latest.stdout))).toMatchObject({
      step: 'module',
      name: 'latest',
      target: 'src/api.js',
    });
    expect(read('src/latest.js')).toBe("export { latest } from './api';\n");
    expect(read('src/api.js')).toMatch(
      /^import \{ tokenOf \} from '\.\/session';[^]+async function loadVisits[^]+export function latest/,
    );
    const shown = read('src/Visits.jsx').split('\n');
    const line = shown.findIndex((l) => l.includes('setPage(page + 1)')) + 1;
    const column = shown[line - 1]!.indexOf('setPage(') + 1;
    const tied = verkstad('module', `src/Visits.jsx:${line}:${column}-${line}:${column + 16}`);
    expect(tied.status).toBe(3);
    expect(tied.stderr).toContain('this cannot stand in a module: it calls "setPage" of its component');
    expect([verkstad('undo').status, verkstad('undo').status]).toEqual([0, 0]);
    expect(read('src/Visits.jsx')).toBe(visits);
  });
});

describe('propose, beside the cuts', () => {
  it('lays alternatives side by side and tells who owns each state', () => {
    const ways = verkstad('propose', 'src/App.tsx', '--alternatives').stdout;
    expect(ways).toMatch(/keeper\.role decides between inspector, visitor, else at lines 160, /);
    expect(ways).toMatch(/by variant, one for each form +4 +\d+ +\d+ +\d+ +\d+ lines/);
    const states = verkstad('propose', 'src/App.tsx', '--states').stdout;
    expect(states).toMatch(/\n {2}tab +the markup +the markup +→ Tabs, with the plan\n/);
    expect(verkstad('propose', '--since', '1 month ago').stderr).toContain('the folder is in no repository');
  });
});
