import { defineConfig } from 'vite';

/** The command line in one file with all that it needs, so that it is there at once. */
export default defineConfig({
  root: import.meta.dirname,
  ssr: { noExternal: true },
  build: { ssr: 'src/main.ts', outDir: 'dist', emptyOutDir: true, target: 'node20', minify: false },
});
