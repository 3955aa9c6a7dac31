import { defineConfig } from 'vitest/config'

const project = (name: string, extra: object = {}) => ({
  test: { name, include: [`${name}/src/**/*.test.ts`, `${name}/src/**/*.test.tsx`], ...extra },
})

export default defineConfig({
  test: {
    projects: [
      project('core'),
      project('cli', { testTimeout: 30_000 }),
      project('web'),
      { test: { name: 'scripts', include: ['scripts/*.test.mjs'], testTimeout: 120_000 } },
      project('server', {
        globalSetup: ['server/src/testing/postgres-setup.ts'],
        testTimeout: 30_000,
        hookTimeout: 60_000,
        fileParallelism: false,
      }),
    ],
  },
})
