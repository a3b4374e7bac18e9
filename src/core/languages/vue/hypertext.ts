/** Plain markup as a Vue template, and back: a template is HTML, but for what Vue reads in attributes and white space. */
import type { ElementNode } from '../../markup/model.js';
import type { Span } from '../../text/edits.js';
import type { Hypertext } from '../../language/hypertext.js';
import { normalValue } from '../../plain/decode.js';
import type { DomElement, DomNode } from '../../plain/dom.js';
import { eventAttributes } from '../../plain/handlers.js';
import { plainTree } from '../../plain/tree.js';

export const hypertext: Hypertext = {
  spelling: {
    attribute({ name, start, end }, element, source) {
      if (/^(?:v-|[:@#.])/.test(name)) return { unsayable: `\`${name}\`, which Vue would read as its own` };
      if (/^(?:key|ref|is)$/i.test(name)) return { unsayable: `the attribute "${name}", which Vue keeps for itself` };
      const lower = name.toLowerCase();
      // Small letters for HTML: `onClick` would be a listener of Vue's.
      return lower === name || /[a-z][A-Z]/.test(element.name) || isSvgName(name)
        ? undefined
        : lower + source.slice(start + name.length, end);
    },
    text: () => [],
    comment: (text) => text,
    closesVoid: true,
    space: "{{ ' ' }}",
    code: (code) => `{{ ${code} }}`,
    // The compiler drops a line end between tags, and all white space at the edges of an element.
    keeps: ({ text, alone, edge, besideComment }) => !alone || !(edge || besideComment || /\n/.test(text)),
  },
  extension: () => '.vue',
  margin: ({ unit }) => unit,
  component: (_, markup, { unit, lineEnd: nl }) => `<template>${nl}${unit}${markup}${nl}</template>${nl}`,
  mount: (name, source, root) => [
    "import { createApp } from 'vue';",
    `import ${name} from '${source}';`,
    '',
    `createApp(${name}).mount('#${root}');`,
  ],
  plain: (nodes) => plainTree(nodes, element),
  notes: (shown) => {
    const handlers = eventAttributes(shown);
    return handlers.length > 0
      ? [
          handlers.length === 1
            ? 'an inline handler stays an attribute and calls what the scripts of the page make global'
            : `${handlers.length} inline handlers stay attributes and call what the scripts of the page make global`,
        ]
      : [];
  },
};

function isSvgName(name: string): boolean {
  return /^(?:viewBox|preserveAspectRatio|gradient[A-Z]|pattern[A-Z]|clipPath[A-Z]|marker[A-Z]|ref[XY]$|std[A-Z]|text[LP]|spread[A-Z]|base[A-Z])/.test(
    name,
  );
}

/** Only what is plain: an element that binds anything has no plain form. */
function element(node: ElementNode, children: readonly DomNode[]): DomElement | Span {
  const attributes = new Map<string, string>();
  for (const attribute of node.attributes) {
    if (attribute.kind !== 'static') return attribute;
    attributes.set(attribute.name, normalValue(attribute.name, attribute.text ?? ''));
  }
  return { kind: 'element', start: node.start, end: node.end, name: node.name, attributes, children };
}
