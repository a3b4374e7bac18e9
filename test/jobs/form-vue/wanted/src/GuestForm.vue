<script setup>
defineProps(['open']);
defineEmits(['add']);
const draft = defineModel('draft');
</script>

<template>
  <form class="guest" @submit.prevent="$emit('add')">
    <fieldset>
      <label>
        Name
        <input v-model="draft" />
      </label>
    </fieldset>
    <button type="submit" :disabled="!open">Add</button>
  </form>
</template>
