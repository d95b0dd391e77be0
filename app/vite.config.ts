import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';
import { fileURLToPath } from 'node:url';

export default defineConfig({
  resolve: { alias: { 'brotli/decompress.js': fileURLToPath(new URL('src/lib/workers/brotli.cjs', import.meta.url)) } },
  plugins: [tailwindcss(), sveltekit()],
  worker: { format: 'es' },
  // light-dark() as it is: written out for older browsers, a dark part of a light page would take the page's colours.
  build: { chunkSizeWarningLimit: 2000, cssTarget: ['chrome123', 'firefox120', 'safari17.5'] },
});
