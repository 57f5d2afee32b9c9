import { defineConfig } from 'vite';

/** The command line in one file, so that it is there at once: packages stay where they are. */
export default defineConfig({
  root: import.meta.dirname,
  build: { ssr: 'src/main.ts', outDir: 'dist', emptyOutDir: true, target: 'node20', minify: false },
});
