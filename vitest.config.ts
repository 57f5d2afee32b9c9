import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: [
      'core/test/**/*.test.ts',
      'server/test/**/*.test.ts',
      'cli/test/**/*.test.ts',
      'web/test/**/*.test.{ts,tsx}',
      'demo/test/**/*.test.ts',
    ],
    setupFiles: ['core/test/property-seed.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    fileParallelism: true,
    maxWorkers: 2,
  },
});
