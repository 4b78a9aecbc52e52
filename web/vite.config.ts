import tailwindcss from '@tailwindcss/vite';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';

export default defineConfig({
  // Spaces between inline elements stay, as in any page.
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } }), tailwindcss()],
  worker: { format: 'es' },
  build: { target: 'es2023', chunkSizeWarningLimit: 700 },
  server: { proxy: { '/api': 'http://127.0.0.1:4810' } },
});
