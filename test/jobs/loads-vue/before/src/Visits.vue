<script setup>
import { onMounted, ref } from 'vue';

const props = defineProps(['hive']);
const visits = ref([]);
const failed = ref(false);

onMounted(async () => {
  try {
    const answer = await fetch(`/visits?hive=${props.hive}`);
    if (!answer.ok) throw new Error('no visits');
    const found = await answer.json();
    visits.value = found;
  } catch {
    failed.value = true;
  }
});

function forget(visit) {
  visits.value = visits.value.filter((one) => one !== visit);
}
</script>

<template>
  <p v-if="failed">The visits could not be loaded.</p>
  <section v-else>
    <h2>{{ hive }}</h2>
    <ul>
      <li v-for="visit in visits" :key="visit">
        {{ visit }}
        <button @click="forget(visit)">Forget</button>
      </li>
    </ul>
  </section>
</template>
