import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['core/**/*.test.ts', 'server/**/*.test.ts', 'web/**/*.test.ts'],
    testTimeout: 60_000,
    hookTimeout: 60_000,
    maxWorkers: 2,
    // Files share what they import, which is a quarter of the time otherwise; each has a database of its own.
    isolate: false,
    // What is waited for may take its time on a machine that others use, too.
    expect: { poll: { timeout: 45_000 } },
  },
})
