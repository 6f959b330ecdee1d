import { defineConfig } from '@playwright/test'

export default defineConfig({
  testDir: 'e2e',
  timeout: 90_000,
  expect: { timeout: 15_000 },
  workers: 2,
  // A test that fails once and passes then is a defect of its own.
  retries: 0,
  fullyParallel: false,
  use: {
    browserName: 'chromium',
    viewport: { width: 1280, height: 800 },
    actionTimeout: 15_000,
    launchOptions: {
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
    },
  },
})
