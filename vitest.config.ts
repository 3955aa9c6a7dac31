import { defineConfig } from 'vitest/config'

const project = (name: string, extra: object = {}) => ({
  // Tests wait for results; the bound only says when to give up, also on a machine that others slow down.
  test: { name, include: [`${name}/src/**/*.test.ts`, `${name}/src/**/*.test.tsx`], testTimeout: 60_000, ...extra },
})

export default defineConfig({
  test: {
    projects: [
      project('core'),
      project('node'),
      project('drawn'),
      project('cli'),
      project('web'),
      { test: { name: 'scripts', include: ['scripts/*.test.mjs'], testTimeout: 120_000 } },
      // long ones, for a quiet machine: `npm run drills`
      {
        test: {
          name: 'drills',
          include: ['server/src/drills/*.drill.ts'],
          globalSetup: ['server/src/testing/postgres-setup.ts'],
          testTimeout: 900_000,
          hookTimeout: 120_000,
          fileParallelism: false,
        },
      },
      project('server', {
        globalSetup: ['server/src/testing/postgres-setup.ts'],
        testTimeout: 300_000,
        hookTimeout: 300_000,
        fileParallelism: false,
        isolate: false,
      }),
    ],
  },
})
