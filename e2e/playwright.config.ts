import { defineConfig } from '@playwright/test';

/** Another one where two checkouts are tested at once. */
export const PORT = Number(process.env.E2E_PORT ?? 4890);

export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  timeout: 120_000,
  expect: { timeout: 15_000 },
  fullyParallel: false,
  workers: 1,
  // A test that passes only the second time is named by `npm test`.
  retries: 1,
  reporter: [['line'], ['json']],
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
        '--ignore-gpu-blocklist',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--disable-quic',
        '--no-first-run',
      ],
    },
  },
  webServer: {
    command: `node --import tsx server.ts ${PORT}`,
    url: `http://127.0.0.1:${PORT}/api/health`,
    timeout: 120_000,
    stdout: 'ignore',
    stderr: 'pipe',
  },
});
