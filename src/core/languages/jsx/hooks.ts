/** Which functions of React keep, work out and wait, and where the statements of a component stand. */
import { isProblem } from '../../problems/problems.js';
import type { Node } from '../../script/parser.js';
import { EFFECTS, KEEPERS } from '../../script/quiet.js';
import { ScriptScopes } from '../../script/scopes.js';
import { isFunction, spanOf, walk, within } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';
import { hooksOf } from '../grouping/groups.js';
import type { LogicReader } from '../grouping/statements.js';
import { isHookName } from '../../script/quiet.js';
import { parseFile } from './source.js';

const REFS = new Set(['useRef']);

const reader: LogicReader = {
  words: {
    keepers: KEEPERS,
    effects: EFFECTS,
    afterwards: EFFECTS,
    states: new Set(['useState', 'useReducer']),
    refs: REFS,
    derives: new Set(['useMemo']),
    wraps: new Set(['useCallback']),
    lasting: false,
    isHook: isHookName,
  },

  around(file, ports, piece) {
    const script = parseFile(file, ports);
    if (isProblem(script)) return script.message;
    let found: Span | undefined;
    walk(script.program, (node) => {
      if (node.range[0] > piece.start || node.range[1] < piece.end) return false;
      if (!found && isFunction(node)) found = spanOf(node);
      return !found;
    });
    return found ?? 'they stand in no component';
  },

  open(file, ports, component) {
    const script = parseFile(file, ports);
    if (isProblem(script)) return script;
    let block: Node | undefined;
    walk(script.program, (node) => {
      if (block || node.range[1] < component.start || node.range[0] > component.end) return false;
      if (isFunction(node) && within(spanOf(node), component) && node.body.type === 'BlockStatement') block = node.body;
      return undefined;
    });
    const statements = block?.type === 'BlockStatement' ? block.body : [];
    return { text: file.text, scopes: ScriptScopes.of(script), statements };
  },

  // What a ref holds is changed by whoever has the ref.
  changes: ({ resolved }, { declared, keeps }) => keeps === 'ref' || resolved !== declared[0],
};

export const hooks = hooksOf(reader);
