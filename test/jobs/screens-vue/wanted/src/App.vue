<script setup>
import HiveList from './HiveList.vue';

defineProps(['hives']);
</script>

<template>
  <main>
    <h1>Apiary</h1>
    <HiveList :hives="hives" />
  </main>
</template>
