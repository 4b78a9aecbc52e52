import { defineConfig } from 'vite';

// The benchmark of the composer as one file, as a browser's worker takes it.
export default defineConfig({
  logLevel: 'warn',
  define: { 'process.env.NODE_ENV': '"production"' },
  build: {
    outDir: '.playa/bench',
    emptyOutDir: false,
    minify: false,
    lib: {
      entry: 'bench/composing.worker.ts',
      formats: ['iife'],
      name: 'composing',
      fileName: () => 'composing.worker.js',
    },
  },
});
