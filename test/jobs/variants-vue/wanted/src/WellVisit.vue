<script setup>
defineProps(['visit']);
</script>

<template>
  <li class="calm">
    <i>Well</i>
    <span>{{ visit.hive }}</span>
  </li>
</template>
