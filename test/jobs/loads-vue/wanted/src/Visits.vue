<script setup>
import { onMounted, ref } from 'vue';
import { loadVisits } from './api';
import VisitsView from './VisitsView.vue';

const props = defineProps(['hive']);
const visits = ref([]);
const failed = ref(false);

onMounted(async () => {
  try {
    const found = await loadVisits(props.hive);
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
  <VisitsView v-else :hive="hive" :visits="visits" @forget="forget" />
</template>
