import { svelte } from '@sveltejs/vite-plugin-svelte';
import type { AtRule } from 'postcss';
import { defineConfig } from 'vite';

/** Carbon's style sheet names fonts on a server of its own; ours ship with the application, so its are left out. */
const withoutCarbonFonts = {
  postcssPlugin: 'without-carbon-fonts',
  AtRule: {
    'font-face': (rule: AtRule) => {
      if (rule.source?.input.file?.includes('carbon-components-svelte')) rule.remove();
    },
  },
};

export default defineConfig({
  plugins: [svelte()],
  base: '/',
  css: { postcss: { plugins: [withoutCarbonFonts] } },
  build: { outDir: '../evenquill/desk/static', emptyOutDir: true, chunkSizeWarningLimit: 900 },
});
