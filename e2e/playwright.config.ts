import { defineConfig } from '@playwright/test'
import { CHROMIUM } from '../scripts/chromium.mjs'

const GIVE_UP_MS = 150_000

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  globalSetup: './demo-template.ts',
  // each has a server and a database of its own; one alone leaves a core idle half of the time
  workers: 2,
  fullyParallel: false,
  // Journeys wait for what they see; these only say when to give up, also on a machine that others slow down.
  // What the server works out gives way to everything else there, browsers too: sixty small files took a minute in CI.
  timeout: 600_000,
  expect: { timeout: GIVE_UP_MS },
  reporter: process.env.CHECK_REPORT ? [['list'], ['json', { outputFile: process.env.CHECK_REPORT }]] : 'list',
  outputDir: '../test-results',
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: CHROMIUM,
    trace: 'off',
    screenshot: 'only-on-failure',
    acceptDownloads: true,
    actionTimeout: GIVE_UP_MS,
    navigationTimeout: GIVE_UP_MS,
  },
})
