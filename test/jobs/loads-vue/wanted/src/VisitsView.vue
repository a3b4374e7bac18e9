<script setup>
defineProps(['hive', 'visits']);
defineEmits(['forget']);
</script>

<template>
  <section>
    <h2>{{ hive }}</h2>
    <ul>
      <li v-for="visit in visits" :key="visit">
        {{ visit }}
        <button @click="$emit('forget', visit)">Forget</button>
      </li>
    </ul>
  </section>
</template>
