/** Inputs that every use hands over alike, or none does, written out in the component: what they decide is decided. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Fixed, Fixes, Fixing, FixRequest } from '../../language/fixing.js';
import { isProblem, problem, type Problem } from '../../problems/problems.js';
import { attributeName, bare, spanOf } from '../../script/walk.js';
import type { Edit } from '../../text/edits.js';
import { constantOf, type Handed } from '../constants.js';
import { Substitution, Unwritable, type Argument } from '../substitution.js';
import { habitsOf } from './cut/habits.js';
import { tagAt } from './cut/scene.js';
import { saidOf, unheld } from './home/macros.js';
import { changedTag } from './home/tag.js';
import { loweredIn, takenApart, type Definition } from './inline/definition.js';
import { HandedOver } from './inline/handed.js';
import { useIn, type Place } from './inline/place.js';
import { TemplateText } from './inline/template.js';
import { lower } from './lower.js';
import { parseSfc } from './sfc.js';

export const fixes: Fixes = {
  fix(request) {
    const { file, name, span } = request.component;
    const at = { path: file.path, span };
    const inner = takenApart(request.component, request.ports);
    if ('why' in inner) return problem('inputs-component', at, name, inner.why);
    if (isProblem(inner)) return inner;
    if (!inner.sfc.setup) return problem('inputs-component', at, name, 'it has no script setup');
    try {
      return fixedIn(request, inner);
    } catch (error) {
      if (!(error instanceof Unwritable)) throw error;
      return problem('inputs-component', at, name, `it has ${error.reason} there`);
    }
  },
};

function fixedIn(request: FixRequest, inner: Definition): Fixing | Problem {
  const { component, names, project } = request;
  const uses = usesIn(request);
  if (isProblem(uses)) return uses;
  const none = { inTemplate: () => new Map(), inScript: () => new Map() };
  const handed = new HandedOver(inner, uses[0]!.place, none, true);
  const fixed: Fixed[] = [];
  for (const name of names) {
    const all = uses.map(({ place, attributes }): Handed | undefined => {
      const attribute = attributes.find((a) => attributeName(a) === name);
      return attribute && { attribute, text: place.text };
    });
    const one = constantOf(name, component, all);
    if (isProblem(one)) return one;
    handed.values.set(name, one.first ? given(one.first.attribute, handed) : leftOut(inner, name));
    fixed.push({ name, value: one.value });
  }
  const said = saidOf(inner, new Set(names), [], false, habitsOf(inner.sfc, project.files));
  if (typeof said === 'string')
    return problem('inputs-component', { path: inner.path, span: component.span }, component.name, said);
  const edits = new Map<string, Edit[]>();
  const add = (path: string, more: readonly Edit[]) => edits.set(path, [...(edits.get(path) ?? []), ...more]);
  for (const { place, path, attributes } of uses) {
    const gone = attributes.filter((a) => names.includes(attributeName(a)));
    if (gone.length > 0) add(path, changedTag(place, gone, new Map(), habitsOf(place.sfc, project.files)));
  }
  const own = [...decided(inner, handed), ...said.edits];
  add(inner.path, [...own, ...unheld(inner.text, inner.lowered.definition, own)]);
  return { edits, fixed };
}

interface Use {
  readonly path: string;
  readonly place: Place;
  readonly attributes: readonly TSESTree.JSXAttribute[];
}

function usesIn({ component, names, uses, ports }: FixRequest): Use[] | Problem {
  const found: Use[] = [];
  for (const { file, span } of uses) {
    const { path } = file;
    const sfc = parseSfc(file, ports);
    if (isProblem(sfc)) return sfc;
    const lowered = lower(sfc);
    const tag = tagAt(sfc.shown, span.start);
    const use = useIn(lowered, span);
    const refuse = (why: string) => problem('inputs-use', { path, span }, component.name, why);
    if (!tag || !use) return refuse('shows it by no plain tag');
    const attributes = use.openingElement.attributes.filter((a) => a.type === 'JSXAttribute');
    if (attributes.length < use.openingElement.attributes.length) return refuse('hands on what it does not name');
    const both = names.find((name) => attributes.some((a) => attributeName(a) === `v-model:${name}`));
    if (both !== undefined) return refuse(`hands ${both} over both ways (v-model)`);
    found.push({ path, place: { sfc, lowered, tag, use, text: sfc.text }, attributes });
  }
  return found;
}

/** Script and template with what was handed over in the place of its names. */
function decided(inner: Definition, handed: HandedOver): Edit[] {
  const substitution = new Substitution(
    inner.text,
    inner.lowered.scopes,
    (node) => handed.argument(node),
    new Map(),
    (node, self) => handed.special(node, self),
  );
  const declared = inner.declared.flatMap(({ node }) => loweredIn(inner, spanOf(node)));
  const template = new TemplateText(inner.text, inner.fn, substitution);
  return [...declared.flatMap((node) => substitution.edits(node)), ...template.edits(inner.roots)];
}

function given({ value }: TSESTree.JSXAttribute, handed: HandedOver): Argument {
  if (!value) return { kind: 'constant', value: true };
  return handed.code(value.type === 'JSXExpressionContainer' ? value.expression : value);
}

/** What a prop is that nobody hands over: its default; a truth is none then. */
function leftOut({ lowered, text }: Definition, name: string): Argument {
  const prop = lowered.definition.props.find((p) => p.name === name);
  const instead = prop?.defaultNode && bare(prop.defaultNode);
  if (!instead) return { kind: 'constant', value: /^boolean\b/i.test(prop?.type ?? '') ? false : undefined };
  if (instead.type === 'Literal' && (typeof instead.value === 'string' || typeof instead.value === 'boolean'))
    return { kind: 'constant', value: instead.value };
  if (instead.type !== 'Literal') throw new Unwritable(`a default for ${name} that is made anew each time`, instead);
  return {
    kind: 'code',
    node: instead,
    scopes: lowered.scopes,
    source: text,
    write: () => text.slice(...instead.range),
  };
}
