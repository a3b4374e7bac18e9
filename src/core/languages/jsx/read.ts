/** Reading a JSX or TSX file into the model: find the components, then what each binds, does and shows. */
import type { ComponentModel, ModuleModel } from '../../markup/model.js';
import type { ParsedScript, Node } from '../../script/parser.js';
import { isFunction, spanOf } from '../../script/walk.js';
import { findComponents, type Candidate } from './candidates.js';
import { readDoings } from './bindings.js';
import { JsxMarkup } from './markup.js';
import { readModuleTables } from '../modules.js';
import { readProps } from './props.js';
import { JSX, type Dialect } from './dialect.js';
import { typeTable } from '../type-members.js';
import { componentNameFromFile } from '../../files/paths.js';

/** `fileName` names an anonymous default export. */
export function readJsxModule(
  text: string,
  script: ParsedScript,
  fileName: string,
  dialect: Pick<Dialect, 'rendered' | 'own'> = JSX,
): ModuleModel {
  const tables = readModuleTables(script.program, text);
  const { candidates, holdsJsx } = findComponents(script.program);
  const nodes = new Set<Node>(candidates.map((candidate) => candidate.node));
  const markup = new JsxMarkup(text, (node) => holdsJsx(node), nodes, dialect);
  const types = typeTable(script.program);
  const components = candidates.map((candidate): ComponentModel => {
    const { node } = candidate;
    const name = candidate.name ?? componentNameFromFile(fileName);
    const { props, open } = readProps(node, candidate.outer, text, types);
    const { bindings, deeds } = readDoings(node, nodes);
    const outer = candidate.outer;
    return {
      kind: candidate.kind,
      name,
      exported: exportOf(candidate, name, tables.exports),
      ...spanOf(outer.range[0] <= node.range[0] && outer.range[1] >= node.range[1] ? outer : node),
      props,
      openProps: open,
      bindings,
      deeds,
      markup: isFunction(node) ? markup.functionBody(node) : markup.parts(node),
    };
  });
  return {
    components,
    ...tables,
    mounts: candidates.length === 0 || hasLoose(script) ? markup.parts(script.program) : [],
    scripts: [script],
  };
}

function hasLoose(script: ParsedScript): boolean {
  return script.program.body.some((statement) => statement.type === 'ExpressionStatement');
}

function exportOf(candidate: Candidate, name: string, exports: ModuleModel['exports']): ComponentModel['exported'] {
  if (candidate.defaultExport || exports.some((e) => e.name === 'default' && e.local === name)) return 'default';
  return exports.some((e) => e.local === name && e.source === undefined) ? 'named' : 'none';
}
