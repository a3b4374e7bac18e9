/** What a component shows, read like a table of contents: landmarks, headings, loops, conditions and components. */
import type { Markup } from '../../markup/model.js';
import { childLists } from '../../markup/walk.js';
import type { Choice } from './choose.js';

export interface OutlineNode {
  /** A tag, `each hive of hives`, `if open`, or the name of a new component. */
  readonly label: string;
  /** The text of a heading that stands in it. */
  readonly title?: string;
  /** Set for a component that a plan makes. */
  readonly made?: true;
  readonly children: readonly OutlineNode[];
}

const SHOWN =
  /^(?:header|nav|main|aside|footer|form|table|thead|tbody|ul|ol|dl|dialog|fieldset|section|article|figure|details)$/;

/** `nameOf`: what a chosen region is called. */
export function outlineOf(
  text: string,
  nodes: readonly Markup[],
  choices: readonly Choice[],
  nameOf: (choice: Choice) => string,
): OutlineNode[] {
  const ofList = (list: readonly Markup[]): OutlineNode[] => {
    const result: OutlineNode[] = [];
    for (const node of list) {
      const choice = choices.find((c) => c.region.nodes.includes(node));
      if (!choice) result.push(...ofNode(node));
      else if (choice.region.nodes[0] === node)
        result.push({
          label: nameOf(choice),
          made: true,
          children: outlineOf(text, childrenOf(choice), choice.inner, nameOf),
        });
    }
    return merged(result);
  };
  const ofNode = (node: Markup): OutlineNode[] => {
    const children = childLists(node).flatMap(ofList);
    switch (node.kind) {
      case 'element': {
        const title = titleIn(node);
        if (!node.component && !SHOWN.test(node.name)) return children;
        return [{ label: node.name, ...(title ? { title } : {}), children }];
      }
      case 'loop':
        return [{ label: `each ${node.items[0] ?? 'one'}`, children }];
      case 'branch': {
        const asked = node.arms[0]?.condition;
        return [{ label: `if ${asked ? short(text.slice(asked.start, asked.end)) : '…'}`, children }];
      }
      case 'outlet':
        return [{ label: `slot ${node.name === 'children' ? 'default' : node.name}`, children }];
      default:
        return children;
    }
  };
  return ofList(nodes);
}

function childrenOf({ region }: Choice): Markup[] {
  return region.nodes.flatMap((node) => (node.kind === 'element' ? childLists(node).flat() : [node]));
}

/** Conditions and loops that show nothing worth a name are left out; equal neighbours stand once. */
function merged(nodes: readonly OutlineNode[]): OutlineNode[] {
  const kept = nodes.filter((n) => n.children.length > 0 || n.made || !/^(?:if|each) /.test(n.label));
  return kept.filter((n, i) => {
    const before = kept[i - 1];
    return !before || n.children.length > 0 || before.children.length > 0 || n.label !== before.label || n.made;
  });
}

function titleIn(node: Markup): string | undefined {
  for (const child of childLists(node).flat()) {
    if (child.kind !== 'element' || !/^(?:h[1-6]|legend|caption|summary)$/.test(child.name)) continue;
    const text = child.children.flatMap((c) => (c.kind === 'text' ? [c.text] : [])).join(' ');
    if (text.trim()) return short(text.trim().replace(/\s+/g, ' '));
  }
  return undefined;
}

function short(text: string): string {
  const line = text.replace(/\s+/g, ' ').trim();
  return line.length > 40 ? `${line.slice(0, 39)}…` : line;
}
