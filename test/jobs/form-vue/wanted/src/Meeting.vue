<script setup>
import { reactive, ref } from 'vue';
import GuestForm from './GuestForm.vue';

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
    <GuestForm :open="open" v-model:draft="draft" @add="guests.push(draft)" />
  </main>
</template>
