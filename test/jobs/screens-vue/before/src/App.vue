<script setup>
import { computed, ref } from 'vue';
import HiveList from './HiveList.vue';

const props = defineProps(['hives']);
const query = ref('');
const found = computed(() => props.hives.filter((hive) => hive.includes(query.value)));
</script>

<template>
  <main>
    <h1>Apiary</h1>
    <HiveList v-model:query="query" :found="found" />
  </main>
</template>
