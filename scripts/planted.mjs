/** Generated projects with planted repeats: what stands more than once is known, everything else is one of a kind. */

/** Mulberry32, a small generator with a fixed seed. */
export function random(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const TAGS = [
  'section',
  'article',
  'div',
  'aside',
  'header',
  'figure',
  'ul',
  'li',
  'p',
  'span',
  'button',
  'strong',
  'h2',
  'h3',
  'dl',
  'label',
  'nav',
  'em',
  'small',
  'output',
];
const WORDS =
  'hive queen drone comb frame smoker veil meadow quarry orchard clover heather linden weir ford moor nectar pollen wax brood super swarm keeper harvest mite varroa jar label scale press barrel cellar'.split(
    ' ',
  );
const ATTRIBUTES = [
  'title',
  'role',
  'lang',
  'dir',
  'data-kind',
  'data-place',
  'aria-label',
  'tabIndex',
  'draggable',
  'hidden',
  'itemProp',
  'slot',
];
const NAMES = 'alpha beta gamma'.split(' ');

/** A tree that can be written out in several ways. */
function tree(next, depth, size) {
  const pick = (list) => list[Math.floor(next() * list.length)];
  const attributes = new Map();
  for (let i = 0; i < 1 + Math.floor(next() * 3); i++)
    attributes.set(pick(ATTRIBUTES), `${pick(WORDS)}-${Math.floor(next() * 90)}`);
  const children = [];
  if (depth > 0) {
    let left = size - 1;
    while (left > 0 && children.length < 5) {
      const part = Math.max(1, Math.floor(next() * left));
      children.push(tree(next, depth - 1, part));
      left -= part;
    }
  }
  const kind = children.length > 0 ? 'none' : ['text', 'name', 'text', 'call', 'member'][Math.floor(next() * 5)];
  return {
    tag: pick(TAGS),
    attributes: [...attributes],
    children,
    kind,
    text: `${pick(WORDS)} ${pick(WORDS)}`,
    name: pick(NAMES),
    method: pick(WORDS),
    edited: next() < 0.12,
  };
}

/** `vary` changes every name and some of the literals, `reorder` the attributes, `extra` puts one element more in. */
function print(node, { vary, reorder, extra, salt }, indent, path = '0') {
  const attributes = reorder ? [...node.attributes].reverse() : node.attributes;
  // As when somebody copies and edits: a few words, not all of them.
  const varies = vary && node.edited;
  const written = attributes.map(([k, v]) => ` ${k}="${varies ? `${v}-${salt}` : v}"`).join('');
  const name = vary ? `${node.name}${salt}` : node.name;
  const text = varies ? `${node.text} ${salt}` : node.text;
  const inner = {
    none: '',
    text,
    name: `{${name}}`,
    call: `{${name}.${node.method}('${text}')}`,
    member: `{${name}.${node.method}}`,
  }[node.kind];
  const more = extra && path === '0' ? [`${indent}  <mark data-extra="${salt}">one more {extra${salt}}</mark>`] : [];
  if (node.children.length === 0 && more.length === 0) return `${indent}<${node.tag}${written}>${inner}</${node.tag}>`;
  const lines = node.children.map((child, i) =>
    print(child, { vary, reorder, extra, salt }, `${indent}  `, `${path}.${i}`),
  );
  return `${indent}<${node.tag}${written}>\n${[...lines, ...more].join('\n')}\n${indent}</${node.tag}>`;
}

const namesOf = (text) => [...new Set([...text.matchAll(/\b(?:alpha|beta|gamma|extra)\d*\b/g)].map((m) => m[0]))];

function logic(next, salt, vary) {
  const pick = (list) => list[Math.floor(next() * list.length)];
  const steps = Array.from({ length: 3 + Math.floor(next() * 4) }, () => [
    pick(WORDS),
    pick(WORDS),
    Math.floor(next() * 40),
    pick(['<', '>', '===', '!==', '<=', '>=']),
    pick(['+', '-', '*', '%']),
  ]);
  return (salt2) => {
    const v = vary ? salt2 : '';
    const body = steps
      .map(
        ([m, w, n, op, sum], i) =>
          `  const ${w}${i}${v} = ${i === 0 ? `rows${v}` : `${steps[i - 1][1]}${i - 1}${v}`}.${m}((entry${v}) => entry${v}.kilos ${op} ${vary && i === 1 ? n + Number(salt2) : n} ${sum} ${i + 2});`,
      )
      .join('\n');
    return `function work${salt}x${salt2}(rows${v}) {\n${body}\n  return ${steps[steps.length - 1][1]}${steps.length - 1}${v};\n}`;
  };
}

/** Files by path, and the groups with the places of each. A third of the files hold a planted place. */
export function plantedProject(count, seed) {
  const next = random(seed);
  const inserts = Array.from({ length: count }, () => []);
  const groups = [];
  const kinds = ['exact', 'parameterised', 'reordered', 'edited', 'logic'];
  let free = 0;
  for (let g = 0; free < count / 3; g++) {
    const kind = kinds[g % kinds.length];
    const places = 2 + Math.floor(next() * 3);
    const base = tree(next, 3, 12 + Math.floor(next() * 8));
    const code = logic(next, g, true);
    const group = { kind, marks: [] };
    for (let i = 0; i < places; i++) {
      const file = (free++ * 7919) % count;
      const salt = `${g % 97}${i}`;
      const mark = `P${g}_${i}`;
      const text =
        kind === 'logic'
          ? code(String(i + 1))
          : print(
              base,
              {
                vary: kind !== 'exact',
                reorder: kind === 'reordered' && i % 2 === 1,
                extra: kind === 'edited' && i === places - 1,
                salt,
              },
              '      ',
            );
      inserts[file].push({ mark, text, isLogic: kind === 'logic' });
      group.marks.push({ file, mark });
    }
    groups.push(group);
  }
  const files = {};
  const places = new Map();
  inserts.forEach((list, i) => {
    const path = `src/part${i % 50}/Part${i}.jsx`;
    const own = print(tree(next, 4, 26), { vary: false, salt: '' }, '      ');
    const helper = logic(next, `own${i}`, false)('0');
    const shown = list.filter((x) => !x.isLogic);
    const all = [own, ...shown.map((x) => x.text)].join('\n');
    const names = namesOf(all).join(', ');
    let text = `${helper}\n`;
    for (const x of list.filter((y) => y.isLogic)) {
      const first = text.split('\n').length;
      text += `${x.text}\n`;
      places.set(x.mark, { path, lines: [first, text.split('\n').length - 1] });
    }
    text += `export function Part${i}({ ${names} }) {\n  return (\n    <main id="part-${i}">\n${own}\n`;
    for (const x of shown) {
      const first = text.split('\n').length;
      text += `${x.text}\n`;
      places.set(x.mark, { path, lines: [first, text.split('\n').length - 1] });
    }
    files[path] = `${text}    </main>\n  );\n}\n`;
  });
  return {
    files,
    groups: groups.map(({ kind, marks }) => ({ kind, places: marks.map(({ mark }) => places.get(mark)) })),
  };
}
