<script setup lang="ts">
defineProps<{ kilos: number }>();
</script>

<template>
  <span class="weight">{{ kilos }} <small>kg</small></span>
</template>

<style scoped>
.weight {
  font-variant-numeric: tabular-nums;
}
</style>
