/** Reading a Vue file into the model: one component, with what both its scripts bind and what its template shows. */
import type { Binding, ComponentModel, Deed, Markup, ModuleModel } from '../../markup/model.js';
import { together } from '../../markup/walk.js';
import { walk } from '../../script/walk.js';
import { componentNameFromFile } from '../../files/paths.js';
import { deedOf } from '../deeds.js';
import { readModuleTables } from '../modules.js';
import { componentBehind, defineOf, pascal, type Definition } from './definition.js';
import { readMarkup } from './markup.js';
import type { Sfc } from './sfc.js';

export function nameOf(definition: Definition, path: string): string {
  return definition.name === undefined ? componentNameFromFile(path) : pascal(definition.name);
}

/** The markup of a file, its component tags called by the names of the variables behind them. */
export function markupOf(sfc: Sfc, definition: Definition): Markup[] {
  return named(readMarkup(sfc.shown, sfc.text, sfc.pieces), definition.components);
}

/** What a component's tag is called, and the variable that it stands for. */
function tagOf(tag: string, components: ReadonlyMap<string, string>): { name: string; local?: string } {
  const local = componentBehind(tag, components);
  if (local !== undefined) return /^[A-Z_$]/.test(local) ? { name: local } : { name: pascal(tag), local };
  return { name: tag.includes('.') ? tag : pascal(tag) };
}

function named(nodes: readonly Markup[], components: ReadonlyMap<string, string>): Markup[] {
  const list = (inner: readonly Markup[]) => named(inner, components);
  return nodes.map((node): Markup => {
    switch (node.kind) {
      case 'element': {
        const attributes = node.attributes.map((a) => (a.parts.length ? { ...a, parts: list(a.parts) } : a));
        return {
          ...node,
          ...(node.component ? tagOf(node.name, components) : {}),
          attributes,
          children: list(node.children),
        };
      }
      case 'branch':
        return { ...node, arms: node.arms.map((arm) => ({ ...arm, body: list(arm.body) })) };
      case 'loop':
        return { ...node, body: list(node.body) };
      case 'fragment':
        return { ...node, children: list(node.children) };
      case 'outlet':
        return node.fallback ? { ...node, fallback: list(node.fallback) } : node;
      default:
        return node;
    }
  });
}

export function readVueModule(sfc: Sfc): ModuleModel {
  const scripts = [sfc.script, sfc.setup].flatMap((block) => (block ? [block.script] : []));
  const definition = defineOf(sfc.text, sfc.script?.script.program, sfc.setup?.script.program);
  const tables = scripts.map((script) => readModuleTables(script.program, sfc.text));
  const linked = [sfc.script, sfc.setup, sfc.template, ...sfc.styles].flatMap((block) => block?.src ?? []);
  const deeds = new Set<Deed>();
  for (const { program } of scripts) {
    walk(program, (node) => {
      const deed = deedOf(node);
      if (deed) deeds.add(deed);
    });
  }
  const props = definition.props.map(({ name, type, required, default: given }) => ({
    name,
    required,
    ...(type === undefined ? {} : { type }),
    ...(given === undefined ? {} : { default: given }),
  }));
  const component: ComponentModel = {
    kind: 'function',
    name: nameOf(definition, sfc.path),
    exported: 'default',
    start: 0,
    end: sfc.text.length,
    props,
    openProps: definition.openProps,
    bindings: [
      ...props.map((p): Binding => ({ kind: 'prop', name: p.name, start: 0, end: 0 })),
      ...definition.members.map(({ kind, name, start, end }): Binding => ({ kind, name, start, end })),
    ],
    deeds: [...deeds].sort(),
    markup: together(markupOf(sfc, definition)),
  };
  const exports = tables.flatMap((t) => t.exports).filter((e) => e.name !== 'default');
  return {
    components: [component],
    imports: tables.flatMap((t) => t.imports),
    exports: [{ name: 'default', local: component.name }, ...exports],
    loads: [...tables.flatMap((t) => t.loads), ...linked],
    mounts: [],
    registers: tables.flatMap((t) => t.registers),
    started: [],
    scripts,
  };
}
