<script setup>
import { reactive, ref } from 'vue';

defineProps(['title']);
const guests = reactive([]);
const draft = ref('');
const open = ref(true);
</script>

<template>
  <main>
    <h1>{{ title }}</h1>
    <button @click="open = !open">{{ open ? 'Close' : 'Open' }}</button>
    <ul>
      <li v-for="guest in guests" :key="guest">
        {{ guest }}
      </li>
    </ul>
    <p>{{ guests.length }} guests</p>
    <form class="guest" @submit.prevent="guests.push(draft)">
      <fieldset>
        <label>
          Name
          <input v-model="draft" />
        </label>
      </fieldset>
      <button type="submit" :disabled="!open">Add</button>
    </form>
  </main>
</template>
