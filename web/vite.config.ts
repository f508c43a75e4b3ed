import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [svelte()],
  base: '/',
  build: { outDir: '../evenquill/desk/static', emptyOutDir: true, chunkSizeWarningLimit: 900 },
});
