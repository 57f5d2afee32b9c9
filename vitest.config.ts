import { defineConfig } from 'vitest/config';

const common = {
  setupFiles: ['core/test/property-seed.ts'],
  // A browser beside them on a slow machine takes most of it: what hangs is told from what waits.
  testTimeout: 240_000,
  hookTimeout: 240_000,
};

export default defineConfig({
  test: {
    fileParallelism: true,
    maxWorkers: 2,
    projects: [
      // Core has no state of its own: its tests share what they load, each file's own is made anew.
      {
        test: {
          ...common,
          name: 'core',
          include: ['core/test/**/*.test.ts', 'demo/test/**/*.test.ts'],
          isolate: false,
        },
      },
      {
        test: {
          ...common,
          name: 'rest',
          include: ['server/test/**/*.test.ts', 'cli/test/**/*.test.ts', 'web/test/**/*.test.{ts,tsx}'],
        },
      },
    ],
  },
});
