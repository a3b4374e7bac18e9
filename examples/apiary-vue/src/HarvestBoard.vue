<template>
  <section class="board">
    <h2>Harvest</h2>
    <p v-if="!hives.length">No hives yet</p>
    <table v-else>
      <thead>
        <tr>
          <th><button type="button" @click="sortBy('name')">Hive</button></th>
          <th><button type="button" @click="sortBy('kilos')">Honey</button></th>
          <th>Comb</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="hive in sorted" :key="hive.id" :class="{ low: hive.kilos < limit }">
          <td>{{ hive.name }}</td>
          <td><honey-weight :kilos="hive.kilos" /></td>
          <td>
            <label>
              frames
              <input v-model.number="frames[hive.id]" type="number" min="0" :max="limit">
            </label>
            <button type="button" @click="take(hive)">Take</button>
          </td>
        </tr>
      </tbody>
    </table>
    <form class="limit" @submit.prevent>
      <label for="limit">Low below</label>
      <input id="limit" v-model.number="limit" type="number">
      <button type="button" :disabled="limit === 5" @click="limit = 5">Back to 5</button>
      <span>{{ low.length }} hives are low</span>
    </form>
    <footer class="sum">
      <strong>{{ format(sum) }}</strong> in all, <em>{{ format(average) }}</em> a hive
      <button type="button" @click="$emit('weighed', heaviest, 1)">Weigh {{ heaviest && heaviest.name }} again</button>
    </footer>
  </section>
</template>

<script>
import HoneyWeight from './components/HoneyWeight.vue';

export default {
  name: 'HarvestBoard',
  components: { HoneyWeight },
  props: {
    hives: { type: Array, required: true },
  },
  emits: ['weighed'],
  data() {
    return { key: 'name', limit: 5, frames: {} };
  },
  computed: {
    sorted() {
      return [...this.hives].sort((a, b) => (a[this.key] > b[this.key] ? 1 : -1));
    },
    low() {
      return this.hives.filter((hive) => hive.kilos < this.limit);
    },
    sum() {
      return this.hives.reduce((total, hive) => total + hive.kilos, 0);
    },
    average() {
      return this.hives.length ? this.sum / this.hives.length : 0;
    },
    heaviest() {
      return [...this.hives].sort((a, b) => b.kilos - a.kilos)[0];
    },
  },
  methods: {
    sortBy(key) {
      this.key = key;
    },
    take(hive) {
      this.$emit('weighed', hive, -(this.frames[hive.id] || 0));
      this.frames[hive.id] = 0;
    },
    format(kilos) {
      return `${kilos.toFixed(1)} kg`;
    },
  },
};
</script>

<style scoped>
.board {
  border-top: 2px solid #d9c79a;
  padding-top: 0.5rem;
}

.low td {
  color: #a33;
}

.limit {
  display: flex;
  gap: 0.5rem;
  align-items: baseline;
  margin: 0.5rem 0;
}

.sum em {
  font-style: normal;
  color: #7a6a45;
}
</style>
