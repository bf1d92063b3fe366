import { defineConfig } from '@playwright/test'

export default defineConfig({
  testDir: 'e2e',
  timeout: 360_000,
  workers: 2,
  fullyParallel: true,
  retries: 0,
  reporter: [['line'], ['json']],
  outputDir: 'test-results/browser',
  projects: [
    { name: 'e2e', testIgnore: 'stops.spec.ts', outputDir: 'test-results/browser/e2e' },
    // What kills parts of the bench is alone with it.
    { name: 'stops', testMatch: 'stops.spec.ts', fullyParallel: false, outputDir: 'test-results/browser/stops' },
  ],
  expect: { timeout: 120_000 },
  use: {
    baseURL: process.env.GLUE_BENCH_ADDRESS,
    viewport: { width: 1280, height: 800 },
    // No test judges the picture: one pixel is drawn in place of sixteen.
    deviceScaleFactor: 0.25,
    screenshot: 'only-on-failure',
    actionTimeout: 120_000,
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        // Pages are put together by the processor, which is faster here than a graphics card played by it.
        '--disable-gpu',
        '--enable-unsafe-swiftshader',
      ],
    },
  },
})
