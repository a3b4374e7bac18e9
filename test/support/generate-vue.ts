/** Vue components made from a seed: script setup and options, nested loops and branches, shadowing, slots, models, events. */
import { seeded } from './projects.js';

interface Name {
  readonly code: string;
  readonly kind: 'text' | 'number' | 'list' | 'record' | 'action';
  /** Can be assigned to. */
  readonly writable?: boolean;
}

export interface GeneratedVue {
  readonly files: Record<string, string>;
  readonly props: Record<string, unknown>;
}

const HIVES = [
  { id: 'h1', name: 'Heather', kilos: 3, parts: [{ id: 'p1', name: 'brood', kilos: 1 }] },
  { id: 'h2', name: 'Clover', kilos: 0, parts: [] },
];

const BADGE = `<script setup>
defineProps(['label']);
defineEmits(['pick']);
const shown = defineModel('shown');
</script>

<template>
  <em :title="label"><slot :size="3">none</slot><slot name="tail" /><i v-if="shown">{{ shown }}</i></em>
</template>
`;

export function generateVue(seed: number): GeneratedVue {
  const maker = new Maker(seeded(seed));
  return {
    files: { 'Demo.vue': maker.file(), 'Badge.vue': BADGE },
    props: { hives: HIVES, keeper: { name: 'Mirja', kilos: 7 }, title: 'Apiary', count: 2 },
  };
}

class Maker {
  #fresh = 0;

  constructor(readonly random: () => number) {}

  #pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.random() * list.length)]!;
  }

  #chance(p: number): boolean {
    return this.random() < p;
  }

  #name(stem: string): string {
    // Names repeat on purpose, so that inner ones hide outer ones.
    return this.#chance(0.4) ? stem : `${stem}${++this.#fresh}`;
  }

  file(): string {
    const scope: Name[] = [
      { code: 'hives', kind: 'list' },
      { code: 'keeper', kind: 'record' },
      { code: 'title', kind: 'text' },
      { code: 'count', kind: 'number' },
      { code: 'open', kind: 'text', writable: true },
      { code: 'form.name', kind: 'text', writable: true },
      { code: 'total', kind: 'number' },
      { code: 'toggle', kind: 'action' },
    ];
    const script = this.#chance(0.5) ? this.#setup(scope) : this.#options();
    const markup = Array.from({ length: this.#chance(0.2) ? 2 : 1 }, () => this.#element(scope, 0, '  '));
    const template = `<template>\n${markup.map((m) => `  ${m}`).join('\n')}\n</template>`;
    return this.#chance(0.5) ? `${script}\n\n${template}\n` : `${template}\n\n${script}\n`;
  }

  #setup(scope: Name[]): string {
    const typed = this.#chance(0.5);
    const props = typed
      ? `defineProps<{ hives: any[]; keeper: any; title: string; count?: number }>()`
      : `defineProps({ hives: Array, keeper: Object, title: { type: String, default: 'none' }, count: Number })`;
    const style = this.#pick(['plain', 'held', 'taken']);
    const read = style === 'held' ? 'props.hives' : 'hives';
    const head = {
      plain: `const all = ${props}`,
      held: `const props = ${props}`,
      taken: `const { hives, keeper, title, count = 4 } = ${props}`,
    }[style];
    const rows = style === 'plain' ? 'all.hives' : read;
    if (style === 'held') scope.push({ code: 'props.title', kind: 'text' });
    return `<script setup${typed ? ' lang="ts"' : ''}>
import { computed, reactive, ref } from 'vue';
import Badge from './Badge.vue';

${head};
const open = ref('yes');
const form = reactive({ name: 'n' });
const total = computed(() => ${rows}.reduce((sum${typed ? ': number' : ''}, each${typed ? ': any' : ''}) => sum + each.kilos, 0));
function toggle() {
  open.value = open.value ? '' : 'yes';
}
const weight = (kilos${typed ? ': number' : ''}) => kilos + ' kg';
</script>`;
  }

  #options(): string {
    return `<script>
import Badge from './Badge.vue';

export default {
  name: 'Demo',
  components: { Badge },
  props: { hives: Array, keeper: Object, title: String, count: { type: Number, default: 4 } },
  data() {
    return { open: 'yes', form: { name: 'n' } };
  },
  computed: {
    total() {
      return this.hives.reduce((sum, each) => sum + each.kilos, 0);
    },
  },
  methods: {
    toggle() {
      this.open = this.open ? '' : 'yes';
    },
    weight(kilos) {
      return kilos + ' kg';
    },
  },
};
</script>`;
  }

  #of(scope: readonly Name[], kind: Name['kind']): string {
    const fitting = scope.filter((n) => n.kind === kind);
    if (fitting.length > 0) return this.#pick(fitting).code;
    return { text: `'plain'`, number: '4', list: '[]', record: `({ name: 'n', kilos: 1 })`, action: '() => {}' }[kind];
  }

  #shown(scope: readonly Name[]): string {
    const choice = this.random();
    if (choice < 0.3) return this.#of(scope, 'text');
    if (choice < 0.5) return this.#of(scope, 'number');
    if (choice < 0.65) return `weight(${this.#of(scope, 'number')})`;
    if (choice < 0.8) return `${this.#of(scope, 'record')}.name`;
    if (choice < 0.9) return `\`\${${this.#of(scope, 'text')}}-\${${this.#of(scope, 'number')}}\``;
    return `${this.#of(scope, 'list')}.length`;
  }

  #element(scope: readonly Name[], depth: number, indent: string, structural: readonly string[] = []): string {
    const tag = this.#pick(['div', 'section', 'p', 'ul', 'span']);
    const attributes = [...structural];
    if (this.#chance(0.4)) attributes.push(`class="${this.#pick(['hive-card', 'row odd', 'note'])}"`);
    if (this.#chance(0.3)) attributes.push(`:title="${this.#of(scope, 'text')} + ''"`);
    if (this.#chance(0.15)) attributes.push(`:style="{ width: ${this.#of(scope, 'number')} + 'px' }"`);
    if (this.#chance(0.15)) attributes.push(`v-bind="{ 'data-n': ${this.#of(scope, 'number')} }"`);
    if (this.#chance(0.1)) attributes.push(`v-show="${this.#of(scope, 'text')}"`);
    const inner = `${indent}  `;
    const count = depth > 3 ? 1 : 1 + Math.floor(this.random() * 3);
    const children = Array.from({ length: count }, () => this.#child(scope, depth + 1, inner));
    const open = [tag, ...attributes].join(' ');
    if (this.#chance(0.15)) return `<${open}>${children.map((c) => c.trim()).join(this.#pick(['', ' ']))}</${tag}>`;
    return `<${open}>\n${children.map((c) => inner + c).join('\n')}\n${indent}</${tag}>`;
  }

  #child(scope: readonly Name[], depth: number, indent: string): string {
    const choice = this.random();
    if (depth > 4 || choice < 0.1) return this.#pick(['Plain words', 'two  spaces', '&amp; more', '<!-- said -->']);
    if (choice < 0.26) return `{{ ${this.#shown(scope)} }}`;
    if (choice < 0.32) return `words {{ ${this.#shown(scope)} }} and <b>{{ ${this.#shown(scope)} }}</b> more`;
    if (choice < 0.44) return this.#button(scope);
    if (choice < 0.5) return this.#input(scope);
    if (choice < 0.58) return this.#element(scope, depth, indent, [`v-if="${this.#of(scope, 'text')}"`]);
    if (choice < 0.66) {
      const first = this.#element(scope, depth, indent, [`v-if="${this.#of(scope, 'number')} > 2"`]);
      const last = this.#element(scope, depth, indent, ['v-else']);
      return `${first}\n${indent}${last}`;
    }
    if (choice < 0.84) return this.#loop(scope, depth, indent);
    if (choice < 0.94) return this.#badge(scope, depth, indent);
    if (choice < 0.97) return this.#outlet(scope);
    return this.#element(scope, depth, indent);
  }

  #button(scope: readonly Name[]): string {
    const action = this.#of(scope, 'action');
    const text = this.#of(scope, 'text');
    const target = this.#of(
      scope.filter((n) => n.writable),
      'text',
    );
    const write = target.startsWith(`'`) ? 'toggle()' : `${target} = ${text}`;
    const call = this.#pick([
      action,
      `${action}()`,
      write,
      `(event) => { ${write}; }`,
      `${write}; toggle()`,
      `$emit('picked', ${text})`,
    ]);
    return `<button @click="${call}">Go</button>`;
  }

  #input(scope: readonly Name[]): string {
    const target = this.#of(
      scope.filter((n) => n.writable),
      'text',
    );
    if (target.startsWith(`'`)) return `<input :value="${target}">`;
    return `<input v-model="${target}"${this.#chance(0.3) ? ` :title="${target}"` : ''}>`;
  }

  #outlet(scope: readonly Name[]): string {
    const size = this.#chance(0.5) ? ` :size="${this.#of(scope, 'number')}"` : '';
    return this.#pick([`<slot${size}>fallback</slot>`, `<slot name="extra"${size} />`]);
  }

  #badge(scope: readonly Name[], depth: number, indent: string): string {
    const label = `:label="${this.#of(scope, 'text')} + ''"`;
    const target = this.#of(
      scope.filter((n) => n.writable),
      'text',
    );
    const model = this.#chance(0.3) && !target.startsWith(`'`) ? ` v-model:shown="${target}"` : '';
    const listens = this.#chance(0.4)
      ? ` @pick="${this.#pick(['toggle', 'toggle()', '(...all) => toggle(...all)'])}"`
      : '';
    if (this.#chance(0.4)) return `<Badge ${label}${model}${listens}>{{ ${this.#shown(scope)} }}</Badge>`;
    const size = this.#name('size');
    const inner = [...scope.filter((n) => n.code !== size), { code: size, kind: 'number' } as const];
    const body = this.#element(inner, depth + 1, `${indent}    `);
    return `<Badge ${label}${model}${listens}>\n${indent}  <template #default="{ size: ${size} }">\n${indent}    ${body}\n${indent}  </template>\n${indent}  <template #tail>{{ ${this.#shown(scope)} }}</template>\n${indent}</Badge>`;
  }

  #loop(scope: readonly Name[], depth: number, indent: string): string {
    const list = this.#of(scope, 'list');
    const item = this.#name('hive');
    const index = this.#name('i');
    const bound = new Set([item, index]);
    const inner: Name[] = scope.filter((n) => !bound.has(n.code.split('.')[0]!));
    const style = this.random();
    if (style < 0.25) {
      const visible = scope.filter((n) => !['id', 'name', 'kilos'].includes(n.code.split('.')[0]!));
      visible.push({ code: 'name', kind: 'text' }, { code: 'kilos', kind: 'number' });
      return this.#element(visible, depth, indent, [`v-for="{ id, name, kilos } in ${list}"`, ':key="id"']);
    }
    inner.push(
      { code: item, kind: 'record' },
      { code: `${item}.name`, kind: 'text', writable: true },
      { code: `${item}.kilos`, kind: 'number' },
    );
    if (depth < 2) inner.push({ code: `(${item}.parts || [])`, kind: 'list' });
    if (style < 0.6) {
      inner.push({ code: index, kind: 'number' });
      return this.#element(inner, depth, indent, [`v-for="(${item}, ${index}) in ${list}"`, `:key="${item}.id"`]);
    }
    const body = this.#element(inner, depth + 1, `${indent}  `);
    return `<template v-for="${item} of ${list}" :key="${item}.id">\n${indent}  ${body}\n${indent}</template>`;
  }
}
