<script setup>
import SickVisit from './SickVisit.vue';
import WellVisit from './WellVisit.vue';

defineProps(['visit']);
</script>

<template>
  <SickVisit v-if="visit.kind === 'sick'" :visit="visit" />
  <WellVisit v-else :visit="visit" />
</template>
