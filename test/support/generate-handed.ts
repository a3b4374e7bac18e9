/** Generated components that hand on what they do not use, in React and in Vue from one description. */
import { random } from '../../scripts/planted.mjs';

interface Part {
  readonly leaf: 'Scale' | 'Sign';
  readonly around: 'nothing' | 'open' | 'choice' | 'div';
  /** What a sign is told: an input, a member of one. */
  readonly says: 'name' | 'hive.name';
}

export interface MadeHanded {
  /** `Yard.jsx` shows `Frame`, once or twice, or by way of `Wing`. */
  readonly react: Record<string, string>;
  readonly vue: Record<string, string>;
  /** Inputs of the frame that only its parts are given. */
  readonly inputs: readonly string[];
}

export function madeHanded(seed: number): MadeHanded {
  const next = random(seed);
  const chance = (share: number) => next() < share;
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!;
  const part = (leaf: Part['leaf']): Part => ({
    leaf,
    around: pick(['nothing', 'nothing', 'open', 'choice', 'div']),
    says: chance(0.25) ? 'hive.name' : 'name',
  });
  const parts = [part('Scale'), ...(chance(0.5) ? [part('Sign')] : []), ...(chance(0.2) ? [part('Sign')] : [])];
  if (chance(0.5)) parts.reverse();
  const signs = parts.filter((p) => p.leaf === 'Sign');
  const told = [...new Set(signs.map((p) => p.says.split('.')[0]!))];
  const readsKilos = chance(0.2);
  const names = ['place', 'kilos', ...told];
  const inputs = [...(readsKilos ? [] : ['kilos']), 'onWeigh', ...told];
  const twice = chance(0.3);
  const byWing = chance(0.4);
  const report = pick(['setKilos', '(n) => setKilos(n)', '(n) => { log(n); setKilos(n); }']);
  const given = (of: string) => ({ place: `"${of}"`, kilos: '{kilos}', onWeigh: `{${report}}`, name: pick(['{name}', '"moor"']), hive: '{hive}' }); // prettier-ignore
  const tag = (frame: string, of: string) => {
    const values: Record<string, string> = given(of);
    return `<${frame} ${[...names, 'onWeigh'].map((n) => `${n}=${values[n]!}`).join(' ')} />`;
  };
  const taken = [...names, 'onWeigh'].join(', ');
  const places = twice ? ['mill', 'ford'] : ['mill'];
  const inReact = ({ leaf, around, says }: Part) => {
    const own = leaf === 'Scale' ? '<Scale kilos={kilos} onWeigh={onWeigh} />' : `<Sign says={${says}} unit="kg" />`;
    if (around === 'div') return `<div>${own}</div>`;
    if (around === 'nothing') return own;
    return around === 'open' ? `{open && ${own}}` : `{open ? <i>open</i> : ${own}}`;
  };
  const inVue = ({ leaf, around, says }: Part) => {
    const guard = { nothing: '', div: '', open: ' v-if="open"', choice: ' v-if="!open"' }[around];
    const own =
      leaf === 'Scale'
        ? `<Scale${guard} :kilos="kilos" @weigh="$emit('weigh', $event)" />`
        : `<Sign${guard} :says="${says}" unit="kg" />`;
    return around === 'div' ? `<div>${own}</div>` : own;
  };
  const frame = byWing ? 'Wing' : 'Frame';
  const wing = `import { Frame } from './Frame';\n\nexport function Wing({ ${taken} }) {\n  return <div><Frame ${[...names, 'onWeigh'].map((n) => `${n}={${n}}`).join(' ')} /></div>;\n}\n`; // prettier-ignore
  const vueTag = (name: string, of: string) =>
    `<${name} place="${of}" ${names.slice(1).map((n) => `:${n}="${n}"`).join(' ')} @weigh="(n) => (kilos = n)" />`; // prettier-ignore
  const vueProps = `defineProps([${names.map((n) => `'${n}'`).join(', ')}]);\ndefineEmits(['weigh']);`;
  return {
    inputs,
    react: {
      'Scale.jsx': `import { useEffect, useState } from 'react';

export function Scale({ kilos, onWeigh }) {
  const [times, setTimes] = useState(0);
  useEffect(() => {
    log('on', kilos);
    return () => log('off', kilos);
  }, []);
  return <button onClick={() => { setTimes(times + 1); onWeigh(kilos + 1); }}>{kilos} after {times}</button>;
}
`,
      'Sign.jsx': `export function Sign({ says, unit }) {\n  return <b>{says} in {unit}</b>;\n}\n`,
      'Frame.jsx': `import { useState } from 'react';
import { Scale } from './Scale';
import { Sign } from './Sign';

export function Frame({ ${taken} }) {
  const [open, setOpen] = useState(${chance(0.5)});
  return (
    <section>
      <h2 onClick={() => setOpen(!open)}>{place}${readsKilos ? ' {kilos}' : ''}</h2>
      <button onClick={() => setOpen(!open)}>{open ? 'close' : 'open'}</button>
      ${parts.map(inReact).join('\n      <hr />\n      ')}
    </section>
  );
}
`,
      ...(byWing ? { 'Wing.jsx': wing } : {}),
      'Yard.jsx': `import { useState } from 'react';
import { ${frame} } from './${frame}';

export function Yard() {
  const [kilos, setKilos] = useState(12);
  const name = kilos % 2 ? 'odd' : 'even';
  const hive = { name };
  return (
    <main>
      ${places.map((of) => tag(frame, of)).join('\n      ')}
    </main>
  );
}
`,
    },
    vue: {
      'Scale.vue': `<script setup>\ndefineProps(['kilos']);\ndefineEmits(['weigh']);\n</script>\n\n<template>\n  <button @click="$emit('weigh', kilos + 1)">{{ kilos }}</button>\n</template>\n`,
      'Sign.vue': `<script setup>\ndefineProps(['says', 'unit']);\n</script>\n\n<template>\n  <b>{{ says }} in {{ unit }}</b>\n</template>\n`,
      'Frame.vue': `<script setup>
import { ref } from 'vue';
import Scale from './Scale.vue';
import Sign from './Sign.vue';

${vueProps}
const open = ref(${chance(0.5)});
</script>

<template>
  <section>
    <h2 @click="open = !open">{{ place }}${readsKilos ? ' {{ kilos }}' : ''}</h2>
    ${parts.map(inVue).join('\n    <hr />\n    ')}
  </section>
</template>
`,
      ...(byWing
        ? {
            'Wing.vue': `<script setup>\nimport Frame from './Frame.vue';\n\n${vueProps}\n</script>\n\n<template>\n  <div><Frame ${names.map((n) => `:${n}="${n}"`).join(' ')} @weigh="$emit('weigh', $event)" /></div>\n</template>\n`,
          }
        : {}),
      'Yard.vue': `<script setup>
import { computed, ref } from 'vue';
import ${frame} from './${frame}.vue';

const kilos = ref(12);
const name = computed(() => (kilos.value % 2 ? 'odd' : 'even'));
const hive = computed(() => ({ name: name.value }));
</script>

<template>
  <main>
    ${places.map((of) => vueTag(frame, of)).join('\n    ')}
  </main>
</template>
`,
    },
  };
}
