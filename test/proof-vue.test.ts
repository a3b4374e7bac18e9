/** Wrong rewrites of Vue components, planted one by one: the proof must not call any of them the same. */
import { describe, expect, it } from 'vitest';
import { extract, isProblem, proveFiles, unresolvedNames } from '../src/core/index.js';
import { filesBelow, memoryProject } from './support/projects.js';

const SETUP = `<script setup lang="ts">
import { ref } from 'vue';
import Weight from './Weight.vue';

const props = defineProps<{ hives: any[]; limit?: number }>();
defineEmits(['picked']);
const open = ref(true);
const query = ref('');
const form = ref({ name: '' });
const choose = (hive: any) => (query.value = hive.name);
const drop = (hive: any, at: number) => (form.value.name = hive.name + at);
</script>

<template>
  <main>
    <ul v-if="open">
      <li v-for="(hive, i) in hives" :key="hive.id" :class="{ odd: i % 2 }" class="row" @click="choose(hive)">
        <b :title="query">{{ hive.name }}</b>
        <Weight :kilos="hive.kilos" @drop.once="drop(hive, i)" />
        <input v-model.trim="query">
        <p v-if="hive.kilos > 3" v-show="open">heavy</p>
        <p v-else>light</p>
        <slot name="tail" :hive="hive">none</slot>
        <a @click.stop="$emit('picked', hive)">pick</a>
      </li>
    </ul>
  </main>
</template>
`;

const HOST = SETUP.replace(
  /<li v-for[\s\S]*<\/li>/,
  `<HiveRow
        v-for="(hive, i) in hives"
        :key="hive.id"
        :hive="hive"
        :i="i"
        :open="open"
        v-model:query="query"
        @choose="choose(hive)"
        @drop="drop(hive, i)"
        @picked="$emit('picked', hive)"
      >
        <template #tail="slotProps"><slot name="tail" v-bind="slotProps">none</slot></template>
      </HiveRow>`,
).replace("import Weight from './Weight.vue';", "import HiveRow from './HiveRow.vue';");

const ROW = `<script setup lang="ts">
import Weight from './Weight.vue';

defineProps<{ hive: any; i: number; open: boolean }>();
defineEmits(['choose', 'drop', 'picked']);
const query = defineModel<string>('query');
</script>

<template>
  <li :class="{ odd: i % 2 }" class="row" @click="$emit('choose')">
    <b :title="query">{{ hive.name }}</b>
    <Weight :kilos="hive.kilos" @drop.once="$emit('drop')" />
    <input v-model.trim="query">
    <p v-if="hive.kilos > 3" v-show="open">heavy</p>
    <p v-else>light</p>
    <slot name="tail" :hive="hive" />
    <a @click.stop="$emit('picked')">pick</a>
  </li>
</template>
`;

const WEIGHT = `<script setup>\ndefineProps(['kilos']);\ndefineEmits(['drop']);\n</script>\n\n<template><i>{{ kilos }}</i></template>\n`;

/** The file that is wrong, what was right in it, and what stands there instead. */
type Fault = readonly ['host' | 'row', string, string];

const faults: readonly Fault[] = [
  ['host', ':hive="hive"\n', ''],
  ['host', ':i="i"', ':i="i + 1"'],
  ['host', ':open="open"', ':open="true"'],
  ['host', 'v-model:query="query"', ':query="query"'],
  ['host', 'v-model:query="query"', 'v-model:query="form.name"'],
  ['host', '@choose="choose(hive)"', ''],
  ['host', '@choose="choose(hive)"', '@choose="choose"'],
  ['host', '@drop="drop(hive, i)"', '@drop="drop(i, hive)"'],
  ['host', '@drop="drop(hive, i)"', '@drop="choose(hive)"'],
  ['host', ':key="hive.id"', ':key="i"'],
  ['host', '        :key="hive.id"\n', ''],
  ['host', 'v-if="open"', 'v-show="open"'],
  ['host', 'v-bind="slotProps">none', '>none'],
  ['host', '>none</slot>', '>nothing</slot>'],
  ['host', 'name="tail" v-bind', 'name="head" v-bind'],
  ['host', ':hive="hive"', ':hive="hive" class="wide"'],
  ['host', ':hive="hive"', ':hive="hive" :query="query"'],
  ['host', "import HiveRow from './HiveRow.vue';\n", ''],
  ['host', 'query.value = hive.name', 'query.value = hive.id'],
  ['row', ':class="{ odd: i % 2 }"', ''],
  ['row', 'class="row"', 'class="rows"'],
  ['row', 'odd: i % 2', 'even: i % 2'],
  ['row', '{{ hive.name }}', '{{ hive.id }}'],
  ['row', '>heavy<', '> heavy<'],
  ['row', '@drop.once', '@drop'],
  ['row', 'v-model.trim', 'v-model'],
  ['row', 'v-model.trim="query"', ':value="query"'],
  ['row', 'hive.kilos > 3', 'hive.kilos >= 3'],
  ['row', '<p v-else>light</p>', ''],
  ['row', 'v-else', 'v-if="open"'],
  ['row', 'v-show="open"', 'v-if="open"'],
  ['row', '<slot name="tail" :hive="hive" />', '<slot name="tail" />'],
  ['row', '<slot name="tail" :hive="hive" />', ''],
  ['row', '@click.stop', '@click'],
  ['row', "$emit('picked')", "$emit('choose')"],
  ['row', '@click="$emit(\'choose\')"', '@dblclick="$emit(\'choose\')"'],
  ['row', "import Weight from './Weight.vue';", "import Weight from './Other.vue';"],
  ['row', "import Weight from './Weight.vue';\n", ''],
  ['row', 'hive: any; ', ''],
  ['row', "const query = defineModel<string>('query');", "import { ref } from 'vue';\nconst query = ref('');"],
  ['row', 'defineEmits', "import { onMounted } from 'vue';\nonMounted(() => console.log(1));\ndefineEmits"],
];

describe('planted faults in Vue', () => {
  const before = memoryProject({ 'App.vue': SETUP, 'Weight.vue': WEIGHT, 'Other.vue': WEIGHT });
  const judge = (host: string, row: string) => {
    const files = { 'App.vue': host, 'HiveRow.vue': row, 'Weight.vue': WEIGHT, 'Other.vue': WEIGHT };
    const after = memoryProject(files);
    const paths = ['App.vue', 'HiveRow.vue'];
    const { answer } = proveFiles(before, after, paths);
    return answer === 'same' && unresolvedNames(before, after, paths).length > 0 ? 'unresolved' : answer;
  };

  it('the right rewrite is the same', () => {
    expect(judge(HOST, ROW)).toBe('same');
  });

  it.each(faults)('in the %s: %j becomes %j', (file, right, wrong) => {
    const text = file === 'host' ? HOST : ROW;
    expect(text).toContain(right);
    const changed = text.replace(right, wrong);
    expect(judge(file === 'host' ? changed : HOST, file === 'row' ? changed : ROW)).not.toBe('same');
  });
});

const OPTIONS = `<template>
  <div>
    <p :title="title">{{ total }} of {{ limit }}</p>
    <button @click="add(2)">{{ count }}</button>
  </div>
</template>

<script>
import HiveNote from './HiveNote.vue';

export default {
  name: 'HiveCount',
  components: { HiveNote },
  mixins: [],
  props: { title: String, limit: { type: Number, default: 3 } },
  data() {
    return { count: 0 };
  },
  computed: {
    total() {
      return this.count * 2;
    },
  },
  watch: {
    count() {
      this.$emit('counted', this.count);
    },
  },
  methods: {
    add(by) {
      this.count += by;
    },
  },
};
</script>
`;

describe('planted faults in the options of a component', () => {
  it.each([
    ['default: 3', 'default: 4'],
    ['count: 0', 'count: 1'],
    ['this.count * 2', 'this.count * 3'],
    ["'counted'", "'count'"],
    ['this.count += by', 'this.count -= by'],
    ['this.count += by', 'count += by'],
    ['watch: {', 'created() {},\n  watch: {'],
    ['mixins: []', 'mixins: [HiveNote]'],
    ['add(2)', 'add(3)'],
    ['{{ count }}', '{{ limit }}'],
    ['{{ count }}', '{{ counts }}'],
    [':title="title"', 'title="title"'],
    ["name: 'HiveCount'", "name: 'Hives'"],
  ])('%j becomes %j', (right, wrong) => {
    expect(OPTIONS).toContain(right);
    const files = (text: string) => memoryProject({ 'App.vue': text, 'HiveNote.vue': '<template><b /></template>' });
    const proof = proveFiles(files(OPTIONS), files(OPTIONS.replace(right, wrong)), ['App.vue']);
    expect(proof.answer).not.toBe('same');
  });
});

const KEPT = `<script setup>
import { computed, ref } from 'vue';

const props = defineProps(['hives', 'limit']);
const shown = ref(true);
const open = ref(false);
const heavy = computed(() => props.hives.filter((hive) => hive.kilos > props.limit));
const words = (hive) => hive.kilos + ' kg';
</script>

<template>
  <main>
    <button @click="shown = !shown">{{ shown }}</button>
    <section>
      <button @click="open = !open">{{ open }}</button>
      <p v-for="hive in heavy" :key="hive.id">{{ words(hive) }}</p>
    </section>
  </main>
</template>
`;

const WITHOUT = `<script setup>
import { ref } from 'vue';
import HiveList from './HiveList.vue';

const props = defineProps(['hives', 'limit']);
const shown = ref(true);
</script>

<template>
  <main>
    <button @click="shown = !shown">{{ shown }}</button>
    <HiveList :hives="hives" :limit="limit" />
  </main>
</template>
`;

const LIST = `<script setup>
import { computed, ref } from 'vue';

const props = defineProps(['hives', 'limit']);

const open = ref(false);
const heavy = computed(() => props.hives.filter((hive) => hive.kilos > props.limit));
const words = (hive) => hive.kilos + ' kg';
</script>

<template>
  <section>
    <button @click="open = !open">{{ open }}</button>
    <p v-for="hive in heavy" :key="hive.id">{{ words(hive) }}</p>
  </section>
</template>
`;

describe('planted faults in what went along', () => {
  const answer = (before: string, host: string, list: string) => {
    const left = memoryProject({ 'App.vue': before });
    const right = memoryProject({ 'App.vue': host, 'HiveList.vue': list });
    const proof = proveFiles(left, right, ['App.vue', 'HiveList.vue']);
    return proof.answer === 'same' && unresolvedNames(left, right, ['App.vue', 'HiveList.vue']).length > 0
      ? 'unresolved'
      : proof.answer;
  };

  it('the right one is the same', () => expect(answer(KEPT, WITHOUT, LIST)).toBe('same'));

  it.each([
    ['ref(false)', 'ref(true)'],
    ['props.limit));', 'props.hives));'],
    ['hive.kilos > props', 'hive.kilos < props'],
    ["' kg'", "' g'"],
    ['open = !open', 'open = open'],
    ['const open = ref(false);\n', ''],
    ['const words = (hive)', 'const word = (hive)'],
    ['props.limit));', 'limit));'],
    ['const open = ref(false);', 'const open = ref(false);\nconst more = ref(0);'],
  ])('%j becomes %j', (right, wrong) => {
    expect(LIST).toContain(right);
    expect(answer(KEPT, WITHOUT, LIST.replace(right, wrong))).not.toBe('same');
  });

  it('state that is removed and made again with its owner', () => {
    const under = (text: string, tag: string) => text.replace(tag, `${tag} v-if="shown"`);
    expect(answer(under(KEPT, '<section'), under(WITHOUT, '<HiveList'), LIST)).not.toBe('same');
  });
});

const FRAME = `<template>
  <main v-bind="$attrs">
    <YardPanel>
      <template #[tab]="{ count }">{{ count }} in {{ tab }}</template>
    </YardPanel>
    <form v-sticky:[side]="1">
      <input ref="kilos">
      <input ref="grams">
      <p v-for="hive in hives" :key="hive.id">
        <slot name="hive" :called="hive.name"><i>{{ hive.name }} {{ unit }}</i></slot>
      </p>
    </form>
  </main>
</template>

<script>
import YardPanel from './YardPanel.vue';
import { Sticky } from './directives.js';

export default {
  components: { YardPanel },
  directives: { Sticky },
  props: ['tab', 'side', 'hives', 'unit'],
  mounted() {
    this.$refs.kilos.focus();
  },
  methods: {
    weigh() {
      return this.$refs.kilos || this.$refs.grams;
    },
  },
};
</script>
`;

describe('planted faults in what is reached through a component', () => {
  const form = /<form[\s\S]*<\/form>/.exec(FRAME)![0];
  const use = `<ScaleForm ref="scale" :side="side" :hives="hives" :unit="unit">
      <template #hive="slotProps"><slot name="hive" v-bind="slotProps" /></template>
    </ScaleForm>`;
  const host = FRAME.replace(form, use)
    .replace('components: { YardPanel },\n  directives: { Sticky }', 'components: { YardPanel, ScaleForm }')
    .replace("import { Sticky } from './directives.js'", "import ScaleForm from './ScaleForm.vue'")
    .replace('this.$refs.kilos.', 'this.$refs.scale.$refs.kilos.')
    .replace('this.$refs.kilos ||', '(this.$refs.scale && this.$refs.scale.$refs.kilos) ||')
    .replace('this.$refs.grams', 'this.$refs.scale?.$refs.grams');
  const child = `<template>
  ${form}
</template>

<script>
import { Sticky } from './directives.js';

export default { directives: { Sticky }, props: ['side', 'hives', 'unit'] };
</script>
`;
  const answer = (app: string, scale: string) =>
    proveFiles(memoryProject({ 'App.vue': FRAME }), memoryProject({ 'App.vue': app, 'ScaleForm.vue': scale }), [
      'App.vue',
      'ScaleForm.vue',
    ]).answer;

  it('the right one is the same', () => expect(answer(host, child)).toBe('same'));

  it.each([
    ['$refs.scale.$refs.kilos.', '$refs.scale.$refs.grams.'],
    ['$refs.scale.$refs.kilos.', '$refs.kilos.'],
    ['this.$refs.scale && this.$refs.scale.$refs.kilos', 'this.$refs.scale && this.$refs.other.$refs.kilos'],
    ['ref="scale"', 'ref="form"'],
    ['ref="kilos"', 'ref="weight"'],
    ['ref="grams"', ''],
    ['v-bind="slotProps"', ''],
    ['<slot name="hive"', '<slot name="bee"'],
    ['<i>{{ hive.name }} {{ unit }}</i>', ''],
    ['hive.name }} {{ unit }}', 'hive.id }} {{ unit }}'],
    ['#[tab]', '#[side]'],
    ['#[tab]', '#tab'],
    ['v-bind="$attrs"', 'v-bind="$props"'],
    ['v-sticky:[side]', 'v-sticky:[unit]'],
    ['v-sticky', 'v-loose'],
    ['directives: { Sticky }, ', ''],
  ])('%j becomes %j', (right, wrong) => {
    expect(host + child).toContain(right);
    expect(answer(host.replace(right, wrong), child.replace(right, wrong))).not.toBe('same');
  });
});

describe('planted faults in refs that a template reads', () => {
  const form = `<form @click="$refs.grams.focus()">
      <input ref="grams">
      <input ref="kilos">
    </form>`;
  const room = (shown: string, script: string) => `<template>
  <main>
    <button @click="$refs.kilos.focus()">Weigh</button>
    ${shown}
  </main>
</template>

<script${script}</script>
`;
  const options = {
    before: '>\nexport default {};\n',
    after: `>\nimport ScaleForm from './ScaleForm.vue';\nexport default { components: { ScaleForm } };\n`,
  };
  const setup = { before: ' setup>\n', after: ` setup>\nimport ScaleForm from './ScaleForm.vue';\n` };
  const host = room('<ScaleForm ref="scale" />', options.after).replace('$refs.kilos', '$refs.scale.$refs.kilos');
  const child = `<template>\n  ${form}\n</template>\n\n<script>\nexport default {};\n</script>\n`;
  const answer = (before: string, app: string, scale: string) =>
    proveFiles(memoryProject({ 'App.vue': before }), memoryProject({ 'App.vue': app, 'ScaleForm.vue': scale }), [
      'App.vue',
      'ScaleForm.vue',
    ]).answer;

  it('the right one is the same', () => expect(answer(room(form, options.before), host, child)).toBe('same'));

  it.each([
    ['$refs.scale.$refs.kilos', '$refs.kilos'],
    ['$refs.scale.$refs.kilos', '$refs.scale.$refs.grams'],
    ['ref="scale"', ''],
    ['ref="kilos"', 'ref="weight"'],
    ['$refs.grams.focus()', '$refs.kilos.focus()'],
    ['@click="$refs.grams.focus()"', '@click="$parent.$refs.grams.focus()"'],
  ])('%j becomes %j', (right, wrong) => {
    expect(host + child).toContain(right);
    expect(answer(room(form, options.before), host.replace(right, wrong), child.replace(right, wrong))).not.toBe(
      'same',
    );
  });

  it('where refs cannot be followed, none may go to another component', () => {
    const moved = room('<ScaleForm />', setup.after);
    expect(answer(room(form, setup.before), moved, child.replace('export default {};', ''))).not.toBe('same');
    const asked = (text: string) => text.replace('$refs.kilos', '$refs[which]');
    expect(answer(asked(room(form, options.before)), asked(room('<ScaleForm />', options.after)), child)).not.toBe(
      'same',
    );
  });
});

describe('planted faults in refs of script setup that are reached through a component', () => {
  const room = `<script setup>
import { computed, onMounted, ref, useTemplateRef } from 'vue';

const chart = ref(null);
const kilos = useTemplateRef('weight');
onMounted(() => kilos.value.focus());
</script>

<template>
  <main>
    <form>
      <input ref="weight">
      <canvas ref="chart"></canvas>
    </form>
    <p>{{ chart ? 'drawn' : 'empty' }}</p>
  </main>
</template>
`;
  const form = /<form>[\s\S]*<\/form>/.exec(room)![0];
  const host = room
    .replace(form, '<ScaleForm ref="scaleForm" />')
    .replace(
      "const chart = ref(null);\nconst kilos = useTemplateRef('weight');",
      `const scaleForm = ref();
const chart = computed(() => scaleForm.value?.chart ?? null);
const kilos = computed(() => scaleForm.value?.kilos ?? null);`,
    )
    .replace("from 'vue';", "from 'vue';\nimport ScaleForm from './ScaleForm.vue';");
  const child = `<script setup>
import { ref, useTemplateRef } from 'vue';

const chart = ref(null);
const kilos = useTemplateRef('weight');
defineExpose({ chart, kilos });
</script>

<template>
  ${form}
</template>
`;
  const answer = (app: string, scale: string) =>
    proveFiles(memoryProject({ 'App.vue': room }), memoryProject({ 'App.vue': app, 'ScaleForm.vue': scale }), [
      'App.vue',
      'ScaleForm.vue',
    ]).answer;

  it('the right one is the same', () => expect(answer(host, child)).toBe('same'));

  it.each([
    ['scaleForm.value?.chart ?? null', 'scaleForm.value?.kilos ?? null'],
    ['scaleForm.value?.chart ?? null', 'scaleForm.value?.chart'],
    ['ref="scaleForm"', 'ref="form"'],
    ['ref="scaleForm" ', ''],
    ['defineExpose({ chart, kilos })', 'defineExpose({ chart })'],
    ['defineExpose({ chart, kilos })', 'defineExpose({ chart: kilos, kilos: chart })'],
    ['<input ref="weight">', '<input>'],
    ['<input ref="weight">\n      <canvas ref="chart">', '<input ref="chart">\n      <canvas ref="weight">'],
    ['const scaleForm = ref();\n', 'const scaleForm = ref();\nscaleForm.value = {};\n'],
    ['const scaleForm = ref();\nconst chart', 'const scaleForm = ref({});\nconst chart'],
  ])('%j becomes %j', (right, wrong) => {
    expect(host + child).toContain(right);
    expect(answer(host.replace(right, wrong), child.replace(right, wrong))).not.toBe('same');
  });

  it('what is asked for before the ref of the component is declared fails', () => {
    const late = host.replace(/(const scaleForm[^\n]*\n)(const chart[^\n]*\n)/, '$2$1');
    expect(late).not.toBe(host);
    expect(answer(late, child)).not.toBe('same');
  });
});

describe('planted faults in a form that goes along, and in a component that goes back', () => {
  const fixture = (side: string) =>
    Object.fromEntries(filesBelow(new URL(`./fixtures/vue/moves-form/${side}`, import.meta.url).pathname));
  const before = fixture('before');
  const after = { ...before, ...fixture('after') };
  const paths = ['VisitPage.vue', 'VisitForm.vue'];
  const forward = (files: Record<string, string>) => proveFiles(memoryProject(before), memoryProject(files), paths);
  const back = (files: Record<string, string>) =>
    proveFiles(memoryProject(files), memoryProject(after), paths, 'back').answer;

  it('the right ones are the same', () => {
    expect(forward(after).answer).toBe('same');
    expect(back(before)).toBe('same');
  });

  it.each([
    ['VisitForm.vue', "emit('note', 'saved')", "emit('note', 'noted')"],
    ['VisitForm.vue', "  emit('note', 'saved');\n", ''],
    ['VisitForm.vue', "emit('saved', 1)", "emit('saved', 2)"],
    ['VisitForm.vue', "emit('saved', 1)", "emit('note', 1)"],
    ['VisitForm.vue', "emit('addVisit', {", "if (trouble.value) emit('addVisit', {"],
    ['VisitForm.vue', 'who: draft.who', 'who: draft.notes'],
    ['VisitForm.vue', "ref('')", "ref('?')"],
    ['VisitForm.vue', '@submit.prevent="save"', '@submit="save"'],
    ['VisitPage.vue', 'visits.push($event)', 'visits.unshift($event)'],
    ['VisitPage.vue', ' @note="note"', ''],
    ['VisitPage.vue', '@note="note"', '@note="visits.push($event)"'],
    ['VisitPage.vue', "$emit('saved', $event)", "$emit('saved')"],
    ['VisitPage.vue', '<VisitForm', '<VisitForm v-if="hive"'],
  ])('in %s: %j becomes %j', (path, right, wrong) => {
    const text = after[path as keyof typeof after];
    expect(text).toContain(right);
    expect(forward({ ...after, [path]: text!.replace(right, wrong) }).answer).not.toBe('same');
  });

  it.each([
    ["note('saved')", "note('noted')"],
    ['visits.value.push(', 'visits.value.unshift('],
    ["  emit('saved', 1);\n", ''],
    ['<p v-if="trouble"', '<p v-if="!trouble"'],
    ['@submit.prevent="save"', '@submit="save"'],
    ["const trouble = ref('');", "const trouble = ref('?');"],
    ['v-model="draft.who"', 'v-model="draft.notes"'],
  ])('put back, %j becomes %j', (right, wrong) => {
    const text = before['VisitPage.vue']!;
    expect(text).toContain(right);
    expect(back({ ...before, 'VisitPage.vue': text.replace(right, wrong) })).not.toBe('same');
  });

  it('put back, what else the file exports has to stay', () => {
    const parts = (exported: string) => ({
      'Yard.jsx': 'import { Mark } from \'./Mark\';\nexport const Yard = () => <p><Mark name="a" /></p>;\n',
      'Mark.jsx': `export const UNIT = 'kg';\nexport const Mark = ({ name }) => <b>{name}{UNIT}</b>;\n${exported}`,
    });
    const apart = parts('export const LIMIT = 3;\n');
    const put = (own: string) => ({
      'Yard.jsx': "import { UNIT } from './Mark';\nexport const Yard = () => <p><b>a{UNIT}</b></p>;\n",
      'Mark.jsx': own,
    });
    const answer = (own: string) =>
      proveFiles(memoryProject(put(own)), memoryProject(apart), ['Yard.jsx', 'Mark.jsx'], 'back').answer;
    expect(answer("export const UNIT = 'kg';\nexport const LIMIT = 3;\n")).toBe('same');
    expect(answer("export const UNIT = 'kg';\n")).toBe('different');
    expect(answer("export const UNIT = 'kg';\nexport const LIMIT = 4;\n")).toBe('different');
  });
});

describe('a cut without a type checker', () => {
  it('hands over what it knows by the type that is written', () => {
    const marks = '{ label: string, kilos: number }[]';
    const list =
      '<ul>\n  <li v-for="mark in marks" :key="mark.label">\n    {{ mark.label }}: {{ mark.kilos }}\n  </li>\n  </ul>';
    const text = `<script setup lang="ts">\ndefineProps<{ marks: ${marks} }>();\n</script>\n\n<template>\n  <figure>\n  ${list}\n  </figure>\n</template>\n`;
    const range = { start: text.indexOf('<ul'), end: text.indexOf('</ul>') + 5 };
    const change = extract(memoryProject({ 'Gauge.vue': text }), { path: 'Gauge.vue', range, name: 'GaugeMarks' });
    expect(change).toMatchObject({ proof: { answer: 'same' } });
    const made = isProblem(change) ? undefined : change.files.find((f) => f.path === 'GaugeMarks.vue');
    expect(made?.text).toContain(`marks: ${marks}`);
  });
});

const BOARD = `<script setup>
import { computed, onMounted, reactive, ref, watch } from 'vue';
import { loadVisits } from './visits';

const props = defineProps(['apiary', 'days']);
const emit = defineEmits(['failed', 'chosen']);
const visits = ref([]);
const late = ref([]);
const draft = reactive({ text: '' });
const title = computed(() => props.apiary + visits.value.length);
let asked = 0;

async function reload() {
  const mine = ++asked;
  visits.value = await loadVisits(props.apiary, props.days);
  if (mine !== asked) emit('failed', 'late');
  late.value = visits.value.filter((v) => v.late);
}

function forget() {
  visits.value = [];
  draft.text = '';
}

watch(() => props.apiary, reload);
onMounted(() => reload());
watch(late, () => forget());
</script>

<template>
  <h2 @click="visits = []">{{ title }} {{ visits.length }} {{ late.length }} {{ draft.text }}</h2>
  <button @click="forget">Forget</button>
  <button @click="emit('chosen', 1)">Choose</button>
</template>
`;

const BOARD_USING = BOARD.replace(/const visits = ref[\s\S]*?const draft/, 'const draft')
  .replace(/let asked[\s\S]*?\n\}\n\n/, '')
  .replace('watch(() => props.apiary, reload);\n', '')
  .replace('onMounted(() => reload());\n', '')
  .replace("'./visits';", "'./visits';\nimport { useVisits } from './useVisits';")
  .replace('const draft', 'const { visits, late } = useVisits(props, emit);\nconst draft');

const USE_VISITS = `import { onMounted, ref, watch } from 'vue';
import { loadVisits } from './visits';

export function useVisits(props, emit) {
  const visits = ref([]);
  const late = ref([]);
  let asked = 0;

  async function reload() {
    const mine = ++asked;
    visits.value = await loadVisits(props.apiary, props.days);
    if (mine !== asked) emit('failed', 'late');
    late.value = visits.value.filter((v) => v.late);
  }

  watch(() => props.apiary, reload);
  onMounted(() => reload());

  return { visits, late };
}
`;

describe('planted faults in a composable', () => {
  const before = { 'Board.vue': BOARD, 'visits.js': 'export async function loadVisits() { return [] }' };
  const prove = (using: string, composable: string) => {
    const after = { ...before, 'Board.vue': using, 'useVisits.js': composable };
    const [x, y] = [memoryProject(before), memoryProject(after)];
    const paths = ['Board.vue', 'useVisits.js'];
    return { proof: proveFiles(x, y, paths), lost: unresolvedNames(x, y, paths) };
  };

  it('the right one is the same', () => {
    const { proof, lost } = prove(BOARD_USING, USE_VISITS);
    expect(proof.answer === 'same' ? '' : proof.detail).toBe('');
    expect(lost).toEqual([]);
  });

  it.each([
    ['what it gives back', 'return { visits, late }', 'return { visits: late, late: visits }'],
    ['what a ref holds and not the ref', 'return { visits, late }', 'return { visits: visits.value, late }'],
    ['a ref taken for what it holds', 'visits.value = await', 'visits = await'],
    ['another member', 'visits.value.filter', 'visits.filter'],
    ['another ref', 'late.value = visits.value', 'late.value = late.value'],
    ['another prop', 'loadVisits(props.apiary, props.days)', 'loadVisits(props.days, props.apiary)'],
    ['another event', "emit('failed'", "emit('chosen'"],
    ['what an event says', "'failed', 'late'", "'failed', 'soon'"],
    ['an event less', "if (mine !== asked) emit('failed', 'late');", ''],
    ['a watcher less', '  watch(() => props.apiary, reload);\n', ''],
    ['a watcher of what is there once', 'watch(() => props.apiary,', 'watch(props.apiary,'],
    ['a hook of another time', 'onMounted(() => reload())', 'onUnmounted(() => reload())'],
    ['at once and not when it is shown', 'onMounted(() => reload());', 'reload();'],
    [
      'a count of each call',
      'let asked = 0;\n\n  async function reload() {',
      'async function reload() {\n    let asked = 0;',
    ],
    ['another value to begin with', 'const late = ref([])', 'const late = ref([1])'],
    ['a ref that tells less', 'const late = ref([])', 'const late = shallowRef([])'],
  ])('%s', (_, from, to) => {
    expect(USE_VISITS).toContain(from);
    expect(prove(BOARD_USING, USE_VISITS.replace(from, to)).proof.answer).not.toBe('same');
  });

  it.each([
    ['a copy of the props', 'useVisits(props, emit)', 'useVisits({ ...props }, emit)'],
    ['arguments in another order', 'useVisits(props, emit)', 'useVisits(emit, props)'],
    ['other names', '{ visits, late } =', '{ visits: late, late: visits } ='],
    ['a ref of its own', '{ visits, late } =', '{ visits } ='],
    ['called twice', 'const draft', 'useVisits(props, emit);\nconst draft'],
    ['behind what it ran before', 'const { visits, late } = useVisits(props, emit);\n', ''],
    ['before the props are there', 'const props', 'const { visits, late } = useVisits(props, emit);\nconst props'],
    ['in markup, another name', '{{ visits.length }}', '{{ late.length }}'],
    ['in markup, written to another', 'visits = []', 'late = []'],
    ['in script, the ref for what it holds', 'visits.value = [];', 'visits.length = 0;'],
  ])('%s', (what, from, to) => {
    expect(BOARD_USING).toContain(from);
    const moved = what === 'behind what it ran before' || what === 'before the props are there';
    const bare = moved ? BOARD_USING.replace('const { visits, late } = useVisits(props, emit);\n', '') : BOARD_USING;
    const using =
      what === 'behind what it ran before'
        ? bare.replace('</script>', 'const { visits, late } = useVisits(props, emit);\n</script>')
        : bare.replace(from, to);
    expect(prove(using, USE_VISITS).proof.answer).not.toBe('same');
  });

  it('a watcher that is asked before what it waited behind', () => {
    const early = BOARD.replace('watch(late, () => forget());\n', '').replace(
      'watch(() => props.apiary, reload);',
      'watch(late, () => forget());\nwatch(() => props.apiary, reload);',
    );
    const after = { ...before, 'Board.vue': BOARD_USING, 'useVisits.js': USE_VISITS };
    const proof = proveFiles(memoryProject({ ...before, 'Board.vue': early }), memoryProject(after), [
      'Board.vue',
      'useVisits.js',
    ]);
    expect(proof).toMatchObject({ answer: 'different', code: 'statement-order' });
  });
});

describe('planted faults in a list of records', () => {
  const side = (fixture: string, which: string) =>
    Object.fromEntries(filesBelow(new URL(`./fixtures/vue/${fixture}/${which}`, import.meta.url).pathname));

  it.each(['unify-as-list-setup', 'unify-as-list-options'])('%s', (fixture) => {
    const before = side(fixture, 'before');
    const after = { ...before, ...side(fixture, 'after') };
    const answer = (files: Record<string, string>) =>
      proveFiles(memoryProject(before), memoryProject(files), ['SideMenu.vue', 'MenuEntry.vue']).answer;
    expect(answer(after)).toBe('same');
    const faults = [
      ["title: 'Keepers'", "title: 'Keeper'"],
      ["title: 'Keepers'", "title: 'Hives'"],
      ["entry: 'keepers'", "entry: 'hives'"],
      [/ *\{ entry: 'keepers'.*\n/, ''],
      ['menuEntry.entry', 'menuEntry.title'],
      [':title="menuEntry.title"', ':title="menuEntry.src"'],
      [' in menuEntries"', ' in menuEntries.slice(1)"'],
      ["{ entry: 'hives',", "{ entry: String('hives'),"],
      ['v-for="menuEntry in menuEntries"', 'v-for="(menuEntry, i) in menuEntries" :tabindex="i"'],
      [':hidden="!open"', ':hidden="menuEntries.length"'],
    ] as const;
    for (const [from, to] of faults) {
      const text = after['SideMenu.vue']!.replace(from, to);
      expect(text).not.toBe(after['SideMenu.vue']);
      expect(answer({ ...after, 'SideMenu.vue': text }), String(from)).not.toBe('same');
    }
  });
});

it('a macro of script setup means nothing in a module', () => {
  const before = {
    'Shelf.vue': `<script setup>\nconst slots = defineSlots();\n</script>\n<template><p>{{ slots.default }}</p></template>\n`,
  };
  const after = {
    'Shelf.vue': `<script setup>\nimport { useShelf } from './useShelf';\nconst { slots } = useShelf();\n</script>\n<template><p>{{ slots.default }}</p></template>\n`,
    'useShelf.js': `export function useShelf() {\n  const slots = defineSlots();\n  return { slots };\n}\n`,
  };
  const prove = (text: string) =>
    proveFiles(memoryProject(before), memoryProject({ ...after, 'useShelf.js': text }), Object.keys(after)).answer;
  expect(prove(after['useShelf.js'])).toBe('different');
});

describe('planted faults in data that went along', () => {
  const side = (which: string) =>
    Object.fromEntries(filesBelow(new URL(`./fixtures/vue/moves-options/${which}`, import.meta.url).pathname));
  const before = side('before');
  const after = { ...before, ...side('after') };
  const prove = (files: Record<string, string>) =>
    proveFiles(memoryProject(before), memoryProject(files), ['App.vue', 'HiveList.vue']);

  it('the right one is the same', () => expect(prove(after).answer).toBe('same'));

  it.each([
    ['HiveList.vue', 'shown: true', 'shown: false'],
    ['HiveList.vue', '      chosen: null,\n', ''],
    ['HiveList.vue', 'shown = !shown', 'chosen = !shown'],
    ['HiveList.vue', 'this.chosen = hive', 'this.shown = hive'],
    ['App.vue', '<HiveList', '<HiveList v-if="total"'],
    ['App.vue', '<HiveList', '<HiveList :key="unit"'],
    ['App.vue', "props: ['hives', 'unit'],", "props: ['hives', 'unit'],\n  data() { return { shown: true } },"],
  ])('in %s: %j becomes %j', (path, right, wrong) => {
    const text = after[path]!;
    expect(text).toContain(right);
    expect(prove({ ...after, [path]: text.replace(right, wrong) }).answer).not.toBe('same');
  });
});
