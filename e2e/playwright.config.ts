import { defineConfig } from '@playwright/test'

/** The browser is Debian's; nothing of it may reach for the network. */
export const CHROMIUM = {
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
}

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  workers: 1,
  fullyParallel: false,
  timeout: 120_000,
  expect: { timeout: 15_000 },
  reporter: process.env.CHECK_REPORT ? [['list'], ['json', { outputFile: process.env.CHECK_REPORT }]] : 'list',
  outputDir: '../test-results',
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: CHROMIUM,
    trace: 'off',
    screenshot: 'only-on-failure',
    acceptDownloads: true,
    actionTimeout: 10_000,
    navigationTimeout: 15_000,
  },
})
