<script setup>
import VisitRow from './VisitRow.vue';

defineProps(['visits']);
</script>

<template>
  <ul>
    <VisitRow v-for="visit in visits" :key="visit.hive" :visit="visit" />
  </ul>
</template>
