<script setup>
import { computed, ref } from 'vue';

const props = defineProps(['hives']);
const query = ref('');
const found = computed(() => props.hives.filter((hive) => hive.includes(query.value)));
</script>

<template>
  <section>
    <input v-model="query" />
    <ul>
      <li v-for="hive in found" :key="hive">{{ hive }}</li>
    </ul>
  </section>
</template>
