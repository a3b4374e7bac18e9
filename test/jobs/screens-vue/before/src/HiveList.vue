<script setup>
defineProps(['found']);
const query = defineModel('query');
</script>

<template>
  <section>
    <input v-model="query" />
    <ul>
      <li v-for="hive in found" :key="hive">{{ hive }}</li>
    </ul>
  </section>
</template>
