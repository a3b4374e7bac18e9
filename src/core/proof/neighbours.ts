/** Components that look at the one around them, or at those inside of them: a new one in between is what they find. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../script/parser.js';
import { attributeName, walk } from '../script/walk.js';
import type { Definitions } from './definitions.js';
import type { UsePlace } from './expansion.js';
import { Mismatch } from './mismatch.js';
import type { Side } from './side.js';
import type { Neighbours, ProofModule } from '../language/proof-module.js';
import { plainName } from './questions.js';

/** How far bases of bases are followed. */
const BASES = 4;

/** Throws where somebody finds the new component; nothing is asked of a language whose components cannot look. */
export function checkNeighbours({ use, module, shown, component }: UsePlace, definitions: Definitions): void {
  const { neighbours } = module;
  if (!neighbours) return;
  const at = { module, node: use };
  const name = plainName(component.variable.name);
  const asks = (direction: 'outward' | 'inward', asked: ProofModule | undefined) =>
    asked !== undefined && textsOf(asked, neighbours, definitions.side).some((text) => neighbours[direction](text));
  const outermost = (node: Node) => outermostComponents(node, neighbours);
  const inside = [
    ...outermost(shown).map((element) => ({ element, module: component.module })),
    ...use.children.flatMap(outermost).map((element) => ({ element, module })),
  ];
  const asking = inside.find((i) => asks('outward', definitions.moduleOf(i.module, i.element)));
  if (asking) {
    const words = `${tagOf(asking.element, asking.module)} looks at the component around it, and finds <${name}> there`;
    throw new Mismatch('component-parent-read', words, undefined, at);
  }
  const holder = module.scopes
    .ancestorsOf(use)
    .find((n): n is TSESTree.JSXElement => n.type === 'JSXElement' && isComponent(n, neighbours));
  for (const attribute of attributesIn(shown)) {
    const known = textsOf(module, neighbours, definitions.side)
      .slice(1)
      .map((text) => neighbours.known(text, attribute))
      .find((found) => found !== undefined);
    if (known !== undefined && module !== component.module)
      throw new Mismatch(
        'component-directive',
        `"${known}" comes from what the component around <${name}> is based on, and means nothing in <${name}>`,
        undefined,
        at,
      );
  }
  if (asks('inward', holder ? definitions.moduleOf(module, holder) : module)) {
    const who = holder ? tagOf(holder, module) : 'the component around it';
    const words = `${who} looks at the components inside of it, and finds <${name}> there`;
    throw new Mismatch('component-children-read', words, undefined, at);
  }
}

/** The text of a module, and of those that its components get members from. */
function textsOf(module: ProofModule, neighbours: Neighbours, side: Side, depth = 0): string[] {
  if (depth > BASES) return [];
  const bases = neighbours.basesOf(module.text).flatMap((source): string[] => {
    const target = side.resolve(module.path, source);
    const base = target.kind === 'file' ? side.open(target.path) : undefined;
    return base ? textsOf(base, neighbours, side, depth + 1) : [];
  });
  return [module.text, ...bases];
}

/** Names of attributes, of all elements. */
function attributesIn(shown: Node): ReadonlySet<string> {
  const names = new Set<string>();
  walk(shown, (node) => {
    if (node.type === 'JSXAttribute') names.add(attributeName(node));
  });
  return names;
}

/** Component elements with no other around them. */
function outermostComponents(shown: Node, neighbours: Neighbours): TSESTree.JSXElement[] {
  const found: TSESTree.JSXElement[] = [];
  walk(shown, (node) => {
    if (node.type !== 'JSXElement' || !isComponent(node, neighbours)) return true;
    found.push(node);
    return false;
  });
  return found;
}

function isComponent({ openingElement: { name } }: TSESTree.JSXElement, { isBetween }: Neighbours): boolean {
  if (name.type === 'JSXMemberExpression') return true;
  return name.type === 'JSXIdentifier' && /^[A-Z]/.test(name.name) && isBetween(name.name);
}

function tagOf({ openingElement: { name } }: TSESTree.JSXElement, { text }: ProofModule): string {
  // As it is written, which may be longer than the name that it stands for: `b-field`.
  return `<${/^[^\s/>]*/.exec(text.slice(name.range[0]))![0]}>`;
}
