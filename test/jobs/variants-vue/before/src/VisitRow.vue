<script setup>
defineProps(['visit']);
</script>

<template>
  <li :class="visit.kind === 'sick' ? 'alarm' : 'calm'">
    <b v-if="visit.kind === 'sick'">Sick</b>
    <i v-else>Well</i>
    <span>{{ visit.hive }}</span>
    <a v-if="visit.kind === 'sick'" href="/vet">Call the vet</a>
  </li>
</template>
