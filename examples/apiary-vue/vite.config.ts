import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [vue()],
  build: { rollupOptions: { input: ['index.html', 'weighing.html'] } },
});
