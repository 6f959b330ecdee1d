import { defineConfig } from '@playwright/test'

export default defineConfig({
  testDir: 'e2e',
  // A machine that others use stands still for a minute at times; what is wrong for good is found all the same.
  timeout: 420_000,
  expect: { timeout: 120_000 },
  workers: 2,
  // On a machine that others use, too: what fails once and then passes, with an office of its own, is told as flaky.
  retries: 0,
  fullyParallel: false,
  use: {
    browserName: 'chromium',
    viewport: { width: 1280, height: 800 },
    // It fetches everything for every context; where it is what is tested, a browser of its own has it (offline.spec.ts).
    serviceWorkers: 'block',
    actionTimeout: 60_000,
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
