<script setup>
defineProps(['visit']);
</script>

<template>
  <li class="alarm">
    <b>Sick</b>
    <span>{{ visit.hive }}</span>
    <a href="/vet">Call the vet</a>
  </li>
</template>
