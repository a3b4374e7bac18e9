/** The command line as a process, on a copy of the demo project and on bad input. */
import { spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync, mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parse } from 'valibot';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { formats } from '../src/library/formats/index.js';
import { MemoryFiles, problemCodes } from '../src/core/index.js';
import { filesBelow } from './support/projects.js';
import { inOrder, renderHtml } from './support/react.js';

const HOME = new URL('..', import.meta.url).pathname;
const BIN = join(HOME, 'dist/cli/bin.js');

let folder: string;
let demo: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'verkstad-cli-'));
  demo = join(folder, 'demo');
  cpSync(join(HOME, 'examples/apiary-react'), demo, {
    recursive: true,
    filter: (path) => !/node_modules|\/dist/.test(path.slice(HOME.length)),
  });
  symlinkSync(join(HOME, 'node_modules'), join(demo, 'node_modules'), 'dir');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function verkstad(args: readonly string[], cwd = demo) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [BIN, ...args], {
    cwd,
    encoding: 'utf8',
    env: { ...process.env, XDG_CACHE_HOME: join(folder, 'cache'), NO_COLOR: '1' },
  });
  return { status, stdout, stderr };
}

/** 1-based lines of a piece of the demo's App.tsx. */
function lines(from: string, to: string): string {
  const text = readFileSync(join(demo, 'src/App.tsx'), 'utf8').split('\n');
  const first = text.findIndex((line) => line.includes(from));
  return `src/App.tsx:${first + 1}-${text.findIndex((line, i) => i >= first && line.includes(to)) + 1}`;
}

const json = (text: string): unknown => JSON.parse(text);

/** The pages of the demo as the server renders them. */
function shown(): Promise<string[]> {
  const files = new MemoryFiles(filesBelow(join(demo, 'src')));
  const pages = ['App.tsx', 'pages/AssociationPage.tsx', 'pages/KeepersPage.tsx', 'pages/PricesPage.tsx'];
  return Promise.all(
    pages.map(async (file) => inOrder(await renderHtml(files, { file, export: 'default', props: {} }))),
  );
}

describe('verkstad', () => {
  it('answers --version and --help', () => {
    expect(verkstad(['--version']).stdout).toMatch(/^\d+\.\d+\.\d+\n$/);
    const help = verkstad(['--help']);
    expect(help.status).toBe(0);
    for (const name of ['survey', 'tree', 'repeats', 'extract', 'unify', 'frame', 'undo'])
      expect(help.stdout).toContain(name);
  });

  it('surveys the demo, for people and as data', () => {
    const text = verkstad(['survey']);
    expect(text.status).toBe(0);
    expect(text.stdout).toMatch(/● App src\/App\.tsx\s+\d+\s+17/);
    expect(text.stdout).toContain('Worth a look');
    expect(text.stdout.split('\n').every((line) => line.length <= 100)).toBe(true);
    expect(text.stdout).not.toContain('\u001b[');
    const data = parse(formats.survey, json(verkstad(['survey', '--json']).stdout));
    expect(data.components.map((c) => c.name).sort()).toEqual(['App', 'AssociationPage', 'KeepersPage', 'PricesPage']);
    expect(data.findings.map((f) => f.code)).toContain('component-large');
    expect(verkstad(['survey', '--fail-on', 'warning']).status).toBe(1);
    expect(verkstad(['survey', '--color', 'always']).stdout).toContain('\u001b[');
  });

  it('draws the tree in every form', () => {
    expect(verkstad(['tree']).stdout).toContain('● App  src/App.tsx:');
    expect(parse(formats.tree, json(verkstad(['tree', '--format', 'json']).stdout)).roots).toContainEqual({
      id: 'src/App.tsx#App',
      children: [],
    });
    expect(verkstad(['tree', 'App', '--format', 'mermaid']).stdout).toBe('graph TD\n  c0[["App"]]\n');
    expect(verkstad(['tree', 'App', '--format', 'dot']).stdout).toContain('digraph components {');
    const wrong = verkstad(['tree', 'Ap']);
    expect(wrong.status).toBe(2);
    expect(wrong.stderr).toContain('did you mean App?');
  });

  it('finds what stands more than once, for people and as data', () => {
    const text = verkstad(['repeats']);
    expect(text.status).toBe(0);
    expect(text.stdout).toMatch(/ApiaryCard {2}markup, 4 places/);
    expect(text.stdout).toMatch(/PageLayout {2}frame, 3 places/);
    expect(text.stdout).toMatch(/lastVisit +2026-05-04 +2026-05-06/);
    expect(text.stdout).toContain('→ <Dialog id title action onAction onKeep>…</Dialog>\n');
    expect(text.stdout).toContain('  src/pages/\n    1  AssociationPage.tsx:3-33  in AssociationPage\n');
    expect(text.stdout).toMatch(/onShowInspections +…North'\) +…Heather'\)/);
    for (const line of text.stdout.split('\n')) expect(line.length, line).toBeLessThanOrEqual(100);
    const data = parse(formats.repeats, json(verkstad(['repeats', '--json']).stdout));
    expect(data.groups.map((g) => [g.kind, g.name, g.places.length])).toEqual([
      ['markup', 'ApiaryCard', 4],
      ['frame', 'PageLayout', 3],
      ['markup', 'TabPanel', 2],
      ['markup', 'Dialog', 2],
      ['markup', 'Field', 2],
    ]);
    const panel = data.groups[2]!;
    expect(panel.props[0]).toEqual({ name: 'kind', type: 'string', values: ['heather', 'clover'] });
    // Of its own kind, what the frame has otherwise.
    const inFrames = parse(
      formats.repeats,
      json(verkstad(['repeats', 'src/pages', '--kind', 'markup', '--json']).stdout),
    );
    expect(inFrames.groups.map((g) => g.kind)).not.toContain('frame');
    expect(inFrames.groups.length).toBeGreaterThan(0);
    const whole = verkstad(['repeats', data.groups[3]!.id]).stdout;
    expect(whole).toContain('    1  () => removeInspection(removing.id)\n    2  handleReset\n');
    expect(whole).toContain('  │ export default function Dialog({ id, title, children, action, onAction, onKeep }');
    const unknown = verkstad(['repeats', 'm00000']);
    expect([unknown.status, unknown.stderr]).toEqual([2, expect.stringContaining('no repeat has the id "m00000"')]);
    expect(
      parse(formats.repeats, json(verkstad(['repeats', '--min-worth', '100', '--json']).stdout)).groups,
    ).toHaveLength(3);
  });

  it('unifies each of them, rendered the same, then takes it back', async () => {
    const before = Object.fromEntries(filesBelow(join(demo, 'src')));
    const html = await shown();
    const idOf = (name: string) =>
      parse(formats.repeats, json(verkstad(['repeats', '--json']).stdout)).groups.find((g) => g.name === name)!.id;
    const dry = verkstad(['unify', idOf('Dialog'), '--name', 'ConfirmDialog', '--dry-run']);
    expect(dry.status, dry.stderr).toBe(0);
    expect(dry.stdout).toContain('+++ b/src/ConfirmDialog.tsx');
    expect(Object.fromEntries(filesBelow(join(demo, 'src')))).toEqual(before);
    const frame = verkstad(['frame', idOf('PageLayout')]);
    expect(frame.stdout, frame.stderr).toContain(
      "props    current: 'association' | 'keepers' | 'prices', title: string",
    );
    const list = verkstad(['unify', idOf('ApiaryCard'), '--as-list', '--no-types', '--json']);
    const change = parse(formats.change, json(list.stdout));
    expect(change).toMatchObject({ step: 'unify', proof: { answer: 'same' }, types: { answer: 'skipped' } });
    expect(change.places).toHaveLength(4);
    const panel = verkstad(['unify', idOf('TabPanel'), '--to', 'src/parts/TabPanel.tsx']);
    expect(panel.stdout, panel.stderr).toContain('create   src/parts/TabPanel.tsx');
    expect(panel.stdout).toContain('types    no new errors');
    expect(verkstad(['unify', idOf('Dialog'), '--no-types']).status).toBe(0);
    const after = readFileSync(join(demo, 'src/App.tsx'), 'utf8');
    expect(after).toContain('{APIARY_CARDS.map((apiaryCard) => (');
    expect(await shown()).toEqual(html);
    for (let i = 0; i < 4; i++) expect(verkstad(['undo']).status).toBe(0);
    expect(Object.fromEntries(filesBelow(join(demo, 'src')))).toEqual(before);
  });

  it('says what is wrong with a repeat that was asked for', () => {
    const groups = parse(formats.repeats, json(verkstad(['repeats', '--json']).stdout)).groups;
    const [card, frame] = [groups[0]!.id, groups.find((g) => g.kind === 'frame')!.id];
    const near = verkstad(['unify', `${card.slice(0, -1)}_`]);
    expect([near.status, near.stderr]).toEqual([2, expect.stringContaining(`did you mean ${card}?`)]);
    expect(verkstad(['unify', frame]).stderr).toContain(`verkstad frame ${frame}`);
    expect(verkstad(['frame', card]).stderr).toContain(`verkstad unify ${card}`);
    expect(verkstad(['unify', card, '--only', '1,9']).stderr).toContain('there is no place 9: the repeat has 4');
    expect(verkstad(['unify', card, '--only', '1,x']).status).toBe(2);
    const one = verkstad(['unify', card, '--only', '2']);
    expect([one.status, one.stderr]).toEqual([3, expect.stringContaining('fewer than two places')]);
    const name = verkstad(['unify', card, '--name', 'card']);
    expect([name.status, name.stderr]).toEqual([3, expect.stringContaining('"card" is not a name')]);
    const slot = verkstad(['unify', groups.find((g) => g.name === 'Dialog')!.id, '--as-list']);
    expect([slot.status, slot.stderr]).toEqual([3, expect.stringContaining('do not stand side by side')]);
  });

  it('cuts, proves, checks types, writes, and takes it all back', () => {
    const before = Object.fromEntries(filesBelow(join(demo, 'src')));
    const dry = verkstad(['extract', lines('<header className', '</header>'), '--dry-run']);
    expect(dry.status).toBe(0);
    expect(dry.stdout).toMatch(/^--- a\/src\/App\.tsx\n\+\+\+ b\/src\/App\.tsx\n/);
    expect(dry.stderr).toContain('nothing written');
    expect(Object.fromEntries(filesBelow(join(demo, 'src')))).toEqual(before);

    const first = verkstad(['extract', lines('<header className', '</header>'), '--json']);
    expect(first.status).toBe(0);
    const change = parse(formats.change, json(first.stdout));
    expect(change).toMatchObject({
      name: 'PageHeader',
      proof: { answer: 'same' },
      types: { answer: 'same' },
      seam: { props: [{ name: 'keeper', type: 'Keeper | null' }], events: [{ name: 'onKeeperChange' }] },
    });
    expect(change.files.map((f) => `${f.change} ${f.path}`)).toEqual([
      'edit src/App.tsx',
      'create src/AppShared.ts',
      'create src/AppTypes.ts',
      'create src/PageHeader.tsx',
    ]);

    const second = verkstad([
      'extract',
      lines('<dialog open', '</dialog>'),
      '--name',
      'RemoveDialog',
      '--to',
      'src/dialogs/RemoveDialog.tsx',
    ]);
    expect(second.stdout).toContain('RemoveDialog  src/App.tsx → src/dialogs/RemoveDialog.tsx');
    expect(readFileSync(join(demo, 'src/dialogs/RemoveDialog.tsx'), 'utf8')).toContain(`from '../AppShared'`);

    const listed = verkstad(['undo', '--list']).stdout;
    const [earlier, later] = [
      ...listed.matchAll(/^ *(\d+) {2}extract (?:PageHeader|RemoveDialog) from src\/App\.tsx$/gm),
    ].map((m) => Number(m[1]));
    const undone = parse(formats.undo, json(verkstad(['undo', String(earlier), '--json']).stdout));
    expect(undone.changes.map((c) => c.id)).toEqual([later, earlier]);
    expect(Object.fromEntries(filesBelow(join(demo, 'src')))).toEqual(before);
    expect(verkstad(['undo']).status).toBe(3);
  });

  it('lets what crosses be decided: inputs, events, content, at one place and at several', async () => {
    const before = await shown();
    const header = verkstad([
      'extract',
      lines('<header className', '</header>'),
      '--event',
      'signIn(who)=setKeeper(who)',
      '--event',
      'signOut=setKeeper(null)',
      '--slot',
      `links=${lines('<nav aria', '</nav>').split(':')[1]!}`,
      '--json',
    ]);
    expect(header.stderr).toBe('');
    expect(parse(formats.change, json(header.stdout)).seam).toMatchObject({
      props: [{ name: 'links', type: 'ReactNode' }, { name: 'keeper' }],
      events: [
        { name: 'onSignOut', type: '() => void' },
        { name: 'onSignIn', type: '(who: Keeper | null) => void' },
      ],
    });
    expect(readFileSync(join(demo, 'src/App.tsx'), 'utf8')).toContain('onSignIn={setKeeper}');
    const { groups } = parse(formats.repeats, json(verkstad(['repeats', '--json']).stdout));
    const panels = groups.find((group) => group.name === 'TabPanel')!;
    const hidden = ['--input', "hidden=tab !== 'heather'", '--input', 'heading=title'];
    const unified = verkstad(['unify', panels.id, ...hidden, '--json']);
    expect(parse(formats.change, json(unified.stdout)).seam.props.map((prop) => prop.name)).toEqual([
      'kind',
      'hidden',
      'heading',
      'text',
      'harvests',
    ]);
    const refused = verkstad(['extract', lines('<footer', '</footer>'), '--input', 'year=getYear()']);
    expect(refused.status).toBe(3);
    expect(refused.stderr).toContain('there is no "getYear()" in the region that "year" could stand for');
    expect(await shown()).toEqual(before);
    verkstad(['undo']);
    verkstad(['undo']);
  });

  it('passes narrowed members where whole objects would lose a type', () => {
    const dir = join(folder, 'narrow');
    mkdirSync(dir);
    symlinkSync(join(HOME, 'node_modules'), join(dir, 'node_modules'), 'dir');
    writeFileSync(join(dir, 'package.json'), '{}');
    writeFileSync(
      join(dir, 'tsconfig.json'),
      '{"compilerOptions":{"strict":true,"jsx":"react-jsx","module":"esnext","moduleResolution":"bundler","types":[]}}',
    );
    writeFileSync(
      join(dir, 'App.tsx'),
      `interface Hive {\n  queen?: { marked: string };\n}\nexport function App({ hive }: { hive: Hive }) {\n  return <main>{hive.queen && <p><b>{hive.queen.marked}</b></p>}</main>;\n}\n`,
    );
    const result = verkstad(['extract', 'App.tsx:5:31-5:63', '--name', 'Queen', '--json'], dir);
    expect(parse(formats.change, json(result.stdout))).toMatchObject({
      types: { answer: 'same' },
      seam: { props: [{ name: 'queen', type: '{ marked: string }' }] },
    });
  });

  it.each([
    ['a missing command', ['extrac'], 2, 'did you mean extract?'],
    ['a wrong option', ['survey', '--jsn'], 2, 'did you mean --json?'],
    ['a wrong number', ['survey', '--limit', 'many'], 2, 'whole number'],
    ['a range that is none', ['extract', 'src/App.tsx'], 2, 'is not a range'],
    ['lines that are not there', ['extract', 'src/App.tsx:9000-9001'], 2, 'lies outside the file, which has'],
    ['a file that is not there', ['extract', 'src/Ap.tsx:1-2'], 2, 'not among the files'],
    ['lines without markup', ['extract', 'src/App.tsx:1-2'], 3, 'src/App.tsx:1:1 there is no markup'],
    ['a name that is none', ['extract', 'src/App.tsx:151-179', '--name', 'page'], 3, 'capital letter'],
    ['a target outside', ['extract', 'src/App.tsx:151-179', '--to', '../x.tsx'], 3, 'outside the project'],
    ['a target that exists', ['extract', 'src/App.tsx:151-179', '--to', 'src/main.tsx'], 3, 'exists already'],
    ['a root that is none', ['survey', '--root', 'nowhere'], 2, 'is not a folder'],
  ])('says what to do about %s', (_, args, status, words) => {
    const result = verkstad(args);
    expect(result.stderr).toContain(words);
    expect(result.stderr).toContain('→');
    expect(result.status).toBe(status);
  });

  it('gives refusals as data', () => {
    const refusal = parse(formats.refusal, json(verkstad(['extract', 'src/App.tsx:1-2', '--json']).stdout));
    expect(refusal).toMatchObject({ code: 'range-empty', path: 'src/App.tsx', lines: [1, 2] });
    expect(problemCodes).toContain(refusal.code);
  });

  it('reads markup that is nested thousands deep, and goes on where a step cannot', () => {
    const dir = join(folder, 'deep');
    mkdirSync(dir);
    const row = '<li className="row" title={name}><b lang="en">North</b></li>\n';
    writeFileSync(join(dir, 'wide.jsx'), `export const Wide = ({ name }) => (\n<ul>\n${row.repeat(1500)}</ul>\n);\n`);
    writeFileSync(
      join(dir, 'deep.jsx'),
      `export const Deep = () => (\n${'<div>\n'.repeat(2000)}x${'</div>'.repeat(2000)});\n`,
    );
    const data = parse(formats.survey, json(verkstad(['survey', '--json'], dir).stdout));
    expect(data.components.map((c) => c.depth)).toEqual([2000, 3]);
    expect(verkstad(['repeats', 'wide.jsx'], dir).stdout).toContain('1500 places');
    const cut = verkstad(['extract', 'deep.jsx:1000-1001', '--dry-run'], dir);
    expect([0, 2]).toContain(cut.status);
    if (cut.status === 2) expect(cut.stderr).toContain('nested too deeply');
  });

  it('reads a folder of built files where it is named, and says of what was not read that it was not', () => {
    const dir = join(folder, 'built');
    mkdirSync(join(dir, 'dist/theme'), { recursive: true });
    writeFileSync(join(dir, 'package.json'), '{}');
    const card = (name: string) =>
      `<article className="card"><h3>${name}</h3><p className="card__place">By the weir</p><a href="/#">open it</a></article>`;
    const text = `export const Cards = () => (\n  <main>\n    ${card('North')}\n    ${card('South')}\n    ${card('Mill')}\n  </main>\n);\n`;
    writeFileSync(join(dir, 'dist/theme/Cards.jsx'), text);
    expect(verkstad(['repeats'], dir).stdout).toContain('no file was read');
    expect(verkstad(['repeats', 'dist/theme'], dir).stdout).toContain('3 places');
    const cut = verkstad(['extract', 'dist/theme/Cards.jsx:3', '--name', 'Card', '--dry-run', '--no-types'], dir);
    expect(cut.stdout + cut.stderr).toContain('same with <Card> expanded');
  });

  it('survives every kind of bad file, and reads configuration as data', () => {
    const dir = join(folder, 'bad');
    mkdirSync(join(dir, 'vendor'), { recursive: true });
    writeFileSync(join(dir, 'ok.jsx'), 'export const Ok = () => <p/>;\n');
    writeFileSync(join(dir, 'syntax.jsx'), 'export const A = () => <p>;\n');
    writeFileSync(join(dir, 'latin.jsx'), Buffer.from([0x2f, 0x2f, 0xe4, 0xf6, 0x0a]));
    writeFileSync(join(dir, 'empty.jsx'), '');
    writeFileSync(join(dir, 'large.jsx'), `export const x = "${'x'.repeat(2_000_000)}";\n`);
    writeFileSync(join(dir, 'vendor/v.jsx'), 'export const V = () => <p/>;\n');
    writeFileSync(join(dir, '.gitignore'), 'ignored.jsx\n');
    writeFileSync(join(dir, 'ignored.jsx'), 'export const I = () => <p/>;\n');
    writeFileSync(join(dir, 'verkstad.config.json'), '{ "exclude": ["vendor/**"], "limits": { "lines": 1 } }');
    const data = parse(formats.survey, json(verkstad(['survey', '--json'], dir).stdout));
    expect(Object.fromEntries(data.files.map((f) => [f.path, f.problem?.code]))).toEqual({
      'empty.jsx': 'file-empty',
      'large.jsx': 'file-large',
      'latin.jsx': 'file-encoding',
      'ok.jsx': undefined,
      'syntax.jsx': 'file-syntax',
    });
    expect(data.components.map((c) => c.name)).toEqual(['Ok']);
    expect(verkstad(['survey'], dir).stdout).toMatch(/syntax\.jsx:1:\d+ cannot be parsed/);
    writeFileSync(join(dir, 'verkstad.config.json'), '{ "limits": { "lines": "many" } }');
    const wrong = verkstad(['survey'], dir);
    expect(wrong.status).toBe(2);
    expect(wrong.stderr).toContain('limits.lines');
  });
});
