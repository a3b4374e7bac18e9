/** What JSX and TSX tell the engine by which logic leaves for a module. */
import { extname } from '../../files/paths.js';
import { isProblem } from '../../problems/problems.js';
import { isPropsObject, ScriptScopes, type Variable } from '../../script/scopes.js';
import { bare, calleeName } from '../../script/walk.js';
import { functionDeed, methodNames, type OpenHost } from '../to-module/host.js';
import { toModule } from '../to-module/leave.js';
import { habitsOf } from './cut/habits.js';
import { isTyped, parseFile } from './source.js';

const open: OpenHost = (project, file, ports) => {
  const script = parseFile(file, ports);
  if (isProblem(script)) return script;
  const scopes = ScriptScopes.of(script);
  let methods: ReadonlySet<string> | undefined;
  return {
    text: file.text,
    script,
    scopes,
    request: { file },
    habits: habitsOf(file.path, file.text, script.program, project.files),
    typed: isTyped(file.path),
    extension: extname(file.path).replace(/x$/, ''),
    ofInstance: false,
    isShown: () => false,
    lives: () => false,
    holds: (word) => /^(?:this|props|state|current|data|params)$/.test(word),
    fixedMembers(root, [first, second]) {
      if (root.type === 'ThisExpression') return /^(?:props|state)$/.test(first!) && second !== undefined ? 2 : 1;
      const variable = scopes.variableOf(root);
      const isHeld = first === 'current' || (variable !== undefined && isPropsObject(scopes, variable));
      return isHeld && first !== undefined ? 1 : 0;
    },
    deedOf: (variable, members) => {
      const isProps = isPropsObject(scopes, variable);
      const told = isProps ? members[0] : variable.defs[0]?.type === 'Parameter' ? variable.name : undefined;
      if (told !== undefined && isEvent(told)) return tells(told);
      return setterDeed(variable) ?? functionDeed(variable);
    },
    deedOfThis([first, second]) {
      if (first === 'props') return second !== undefined && isEvent(second) ? tells(second) : undefined;
      methods ??= methodNames(script.program);
      return first !== 'state' && methods.has(first!) ? `it needs the method "${first!}" of its class` : undefined;
    },
  };
};

function isEvent(name: string): boolean {
  return /^on[A-Z]/.test(name);
}

function tells(name: string): string {
  return `it tells who shows the component, by "${name}"`;
}

/** The second of what `useState` gives. */
function setterDeed(variable: Variable): string | undefined {
  const definition = variable.defs[0];
  if (definition?.type !== 'Variable' || definition.node.id.type !== 'ArrayPattern') return undefined;
  const { id, init } = definition.node;
  const isSetter = id.elements[1] === variable.identifiers[0];
  return isSetter &&
    init &&
    /^use(?:State|Reducer|Optimistic|ActionState|Transition)$/.test(calleeName(bare(init)) ?? '')
    ? `it sets state of its component, by "${variable.name}"`
    : undefined;
}

export const jsxToModule = toModule(open);
