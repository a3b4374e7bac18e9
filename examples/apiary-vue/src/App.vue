<script setup lang="ts">
import { computed, reactive, ref } from 'vue';
import HarvestBoard from './HarvestBoard.vue';
import HoneyWeight from './components/HoneyWeight.vue';
import { HIVES, KEEPERS, type Hive } from './data';

const hives = ref<Hive[]>(HIVES);
const query = ref('');
const apiary = ref<'all' | 'meadow' | 'orchard'>('all');
const chosen = ref('h1');
const dialog = ref<'' | 'inspect' | 'feed' | 'swarm'>('');
const draft = reactive({ kilos: 0, text: '' });

const found = computed(() =>
  hives.value.filter(
    (hive) =>
      hive.name.toLowerCase().includes(query.value.toLowerCase()) &&
      (apiary.value === 'all' || hive.apiary === apiary.value),
  ),
);
const total = computed(() => hives.value.reduce((sum, hive) => sum + hive.kilos, 0));
const heaviest = computed(() => Math.max(...hives.value.map((one) => one.kilos)));
const lightest = computed(() => Math.min(...hives.value.map((one) => one.kilos)));
const oldQueens = computed(() => hives.value.filter((hive) => hive.queen.year < 2025).length);
const hive = computed(() => hives.value.find((one) => one.id === chosen.value));

function choose(one: Hive) {
  chosen.value = one.id;
}

function addNote(one: Hive) {
  if (!draft.text) return;
  one.notes.push(draft.text);
  draft.text = '';
}

function weigh(one: Hive, kilos: number) {
  one.kilos = Math.max(0, one.kilos + kilos);
}

function close() {
  dialog.value = '';
}
</script>

<template>
  <div class="page">
    <header class="head">
      <h1>Meadow Bee Co-operative</h1>
      <nav aria-label="Apiaries">
        <button :class="{ active: apiary === 'all' }" @click="apiary = 'all'">All</button>
        <button :class="{ active: apiary === 'meadow' }" @click="apiary = 'meadow'">Meadow</button>
        <button :class="{ active: apiary === 'orchard' }" @click="apiary = 'orchard'">Orchard</button>
      </nav>
    </header>

    <section class="figures">
      <article class="figure">
        <span class="mark" aria-hidden="true">◆</span>
        <h2>Honey this year</h2>
        <p class="value"><HoneyWeight :kilos="total" /></p>
        <button id="figure-honey" type="button" @click="dialog = 'inspect'">How it is counted</button>
      </article>
      <article class="figure">
        <span class="mark" aria-hidden="true">◆</span>
        <h2>Heaviest hive</h2>
        <p class="value"><HoneyWeight :kilos="heaviest" /></p>
        <button id="figure-heaviest" type="button" @click="dialog = 'feed'">When to feed</button>
      </article>
      <article class="figure">
        <span class="mark" aria-hidden="true">◆</span>
        <h2>Lightest hive</h2>
        <p class="value"><HoneyWeight :kilos="lightest" /></p>
        <p class="hint">Look at it before winter</p>
        <button id="figure-lightest" type="button" @click="dialog = 'swarm'">About swarms</button>
      </article>
    </section>

    <div class="columns">
      <aside class="search">
        <label for="query">Find a hive</label>
        <input id="query" v-model.trim="query" type="search" :placeholder="`${hives.length} hives`">
        <button v-if="query" type="button" @click="query = ''">Clear "{{ query }}"</button>
        <p class="hint">{{ found.length }} of {{ hives.length }} hives</p>
      </aside>

      <ul class="hives">
        <!-- one hive of the list -->
        <li
          v-for="(one, place) in found"
          :key="one.id"
          class="hive"
          :class="{ chosen: one.id === chosen, heavy: one.kilos > 15 }"
          @click="choose(one)"
        >
          <span class="place">{{ place + 1 }}</span>
          <strong>{{ one.name }}</strong>
          <em v-if="one.queen.marked">marked queen of {{ one.queen.year }}</em>
          <em v-else>queen of {{ one.queen.year }}, not marked</em>
          <HoneyWeight :kilos="one.kilos" />
          <span class="steps">
            <button type="button" @click.stop="weigh(one, -1)">less</button>
            <button type="button" @click.stop="weigh(one, 1)">more</button>
          </span>
        </li>
      </ul>

      <section v-if="hive" class="detail">
        <h2>{{ hive.name }}</h2>
        <dl>
          <dt>Apiary</dt>
          <dd>{{ hive.apiary }}</dd>
          <dt>Keepers</dt>
          <dd>
            <template v-for="keeper in KEEPERS" :key="keeper.id">
              <span v-if="keeper.hives.includes(hive.id)" class="keeper">
                {{ keeper.name }} <a v-if="keeper.phone" :href="`tel:${keeper.phone}`">{{ keeper.phone }}</a>
              </span>
            </template>
          </dd>
        </dl>
        <h3>Notes</h3>
        <ol class="notes">
          <li v-for="(note, i) in hive.notes" :key="i">{{ note }}</li>
        </ol>
        <form class="note-form" @submit.prevent="addNote(hive)">
          <input v-model="draft.text" placeholder="What was seen">
          <button type="submit" :disabled="!draft.text">Add</button>
        </form>
      </section>
    </div>

    <HarvestBoard :hives="hives" @weighed="weigh" />

    <div v-if="dialog === 'inspect'" class="dialog" role="dialog" aria-modal="true" tabindex="-1" aria-labelledby="inspect-title">
      <header>
        <h2 id="inspect-title">How honey is counted</h2>
        <button type="button" @click="close">Close</button>
      </header>
      <div class="dialog-body">
        <p>All supers are weighed <b>before</b> and after.</p>
      </div>
    </div>
    <div v-if="dialog === 'feed'" class="dialog" role="dialog" aria-modal="true" tabindex="-1" aria-labelledby="feed-title">
      <header>
        <h2 id="feed-title">When to feed</h2>
        <button type="button" @click="close">Close</button>
      </header>
      <div class="dialog-body">
        <ul>
          <li v-for="one in hives.filter((each) => each.kilos < 5)" :key="one.id">{{ one.name }}</li>
        </ul>
      </div>
    </div>
    <div v-if="dialog === 'swarm'" class="dialog" role="dialog" aria-modal="true" tabindex="-1" aria-labelledby="swarm-title">
      <header>
        <h2 id="swarm-title">About swarms</h2>
        <button type="button" @click="close">Close</button>
      </header>
      <div class="dialog-body">
        <p>Old queens leave in May. Look for queen cells every week.</p>
        <p>{{ oldQueens }} queens are old.</p>
      </div>
    </div>
  </div>
</template>

<style scoped>
.page {
  max-width: 70rem;
  margin: 0 auto;
  padding: 1rem;
}

.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
}

.active {
  background: #e3a91f;
}

.figures {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 1rem;
}

.figure {
  border: 1px solid #d9c79a;
  border-radius: 0.5rem;
  padding: 0.75rem 1rem;
}

.value {
  font-size: 2rem;
  margin: 0;
}

.mark {
  float: right;
  color: #e3a91f;
}

.hint {
  color: #7a6a45;
}

.columns {
  display: grid;
  grid-template-columns: 14rem 1fr 18rem;
  gap: 1rem;
  margin: 1rem 0;
}

.hives {
  list-style: none;
  margin: 0;
  padding: 0;
}

.hive {
  display: flex;
  gap: 0.75rem;
  align-items: baseline;
  padding: 0.4rem 0.6rem;
  border-bottom: 1px solid #ead9ae;
}

.hive.chosen {
  background: #fbeecb;
}

/* over fifteen kilos */
.hive.heavy strong {
  color: #9a5b00;
}

.place {
  color: #7a6a45;
  min-width: 1.5ch;
}

.steps button {
  font-size: 0.8rem;
}

.keeper {
  display: block;
}

.dialog {
  position: fixed;
  inset: 30% 30% auto;
  padding: 1rem;
  background: white;
  border: 1px solid #d9c79a;
}

.dialog header {
  display: flex;
  justify-content: space-between;
}

@media (width < 50rem) {
  .columns {
    grid-template-columns: 1fr;
  }

  .steps {
    display: none;
  }
}
</style>
