/** What Vue tells the engine by which logic leaves for a module. */
import { isProblem, problem } from '../../problems/problems.js';
import { ScriptScopes } from '../../script/scopes.js';
import { nodeWithin, within } from '../../script/walk.js';
import { lineEndOf } from '../../text/layout.js';
import { functionDeed, type OpenHost } from '../to-module/host.js';
import { toModule } from '../to-module/leave.js';
import { WORDS } from './composables/groups.js';
import { habitsOf } from './cut/habits.js';
import { importingOf } from './cut/host.js';
import { lower } from './lower.js';
import { parseSfc, type ScriptBlock, type Sfc } from './sfc.js';

const open: OpenHost = (project, file, ports, wanted) => {
  const sfc = parseSfc(file, ports);
  if (isProblem(sfc)) return sfc;
  const block = blockOf(sfc, wanted);
  if (!block || block.src !== undefined) return problem('module-script', { path: file.path });
  const { script } = block;
  const scopes = ScriptScopes.of(script);
  const ofInstance = block === sfc.setup;
  const lowered = lower(sfc, true);
  const shown = new Set(
    lowered.scopes.references
      .filter((r) => !nodeWithin(r.identifier, block.inner))
      .map((r) => String((r.identifier as { name?: unknown }).name)),
  );
  const styled = sfc.styles.map((s) => file.text.slice(s.inner.start, s.inner.end)).join('\n');
  for (const [, name] of styled.matchAll(/v-bind\(\s*['"]?\s*([\w$]+)/g)) shown.add(name!);
  const { propsLocal, emitLocal, members } = lowered.definition;
  const methods = new Set(members.filter((b) => b.kind === 'handler').map((b) => b.name));
  const kept = importingOf({ text: file.text, lowered, request: { file } }).kept ?? new Set<string>();
  const nl = lineEndOf(file.text);
  const head = /^[ \t]*(?:\r?\n)?/.exec(file.text.slice(block.inner.start, block.inner.end))![0].length;
  return {
    text: file.text,
    script,
    scopes,
    request: { file },
    kept: new Set([...kept, ...shown]),
    firstImport: { offset: block.inner.start + head, around: ['', nl + nl] },
    habits: habitsOf(sfc, project.files),
    typed: sfc.syntax.startsWith('ts'),
    extension: sfc.syntax.startsWith('ts') ? '.ts' : '.js',
    ofInstance,
    isShown: (name) => shown.has(name),
    lives: WORDS.isHook,
    holds: (word) => /^(?:this|props|value|data|params|\$.*)$/.test(word),
    fixedMembers(root, [first]) {
      if (root.type === 'ThisExpression') return 1;
      const name = root.type === 'Identifier' ? root.name : undefined;
      return first !== undefined && (first === 'value' || name === propsLocal) ? 1 : 0;
    },
    deedOf: (variable) => (variable.name === emitLocal ? 'it tells who shows the component' : functionDeed(variable)),
    deedOfThis([first]) {
      if (first!.startsWith('$') && !/^\$(?:route|props|data|attrs)$/.test(first!))
        return `it needs "${first!}" of its component`;
      return methods.has(first!) ? `it needs the method "${first!}"` : undefined;
    },
  };
};

/** The script that holds a place, or declares a name; setup where nothing says. */
function blockOf({ script, setup }: Sfc, wanted: Parameters<OpenHost>[3]): ScriptBlock | undefined {
  const blocks = [setup, script].filter((b) => b !== undefined);
  if ('span' in wanted) return blocks.find((b) => within(wanted.span, b.inner));
  const [first] = wanted.names;
  return blocks.find((b) => first !== undefined && ScriptScopes.of(b.script).moduleScope.set.has(first)) ?? blocks[0];
}

export const vueToModule = toModule(open);
