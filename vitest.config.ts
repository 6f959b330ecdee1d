import { request } from 'node:http'
import tailwindcss from '@tailwindcss/vite'
import { playwright } from '@vitest/browser-playwright'
import type { Plugin } from 'vite'
import { defineConfig } from 'vitest/config'

/** Hands what a page asks the server for on to the office that `web/testing/office.ts` opened. */
const toOffice = (): Plugin => ({
  name: 'to-office',
  configureServer({ middlewares }) {
    middlewares.use('/api', (asked, answer) => {
      const { hostname, port } = new URL(process.env.TEST_OFFICE_URL ?? 'http://127.0.0.1:1')
      const { method, headers, originalUrl } = asked as typeof asked & { originalUrl: string }
      const onward = request({ hostname, port, path: originalUrl, method, headers }, (answered) => {
        answer.writeHead(answered.statusCode ?? 502, answered.headers)
        answered.pipe(answer)
      })
      onward.once('error', () => answer.destroy())
      answer.once('close', () => onward.destroy())
      asked.pipe(onward)
    })
  },
})

/** What is waited for may take its time on a machine that others use, too. */
const patient = { testTimeout: 240_000, hookTimeout: 120_000, expect: { poll: { timeout: 45_000 } } }

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          ...patient,
          name: 'node',
          include: ['core/**/*.test.ts', 'server/**/*.test.ts', 'web/**/*.test.ts'],
          exclude: ['**/*.browser.test.*'],
          maxWorkers: 3,
          // Files share what they import, which is a quarter of the time otherwise; each has a database of its own.
          isolate: false,
        },
      },
      {
        plugins: [tailwindcss(), toOffice()],
        // Points are taken, and pages asked, twenty times as often.
        define: { __MEASURING__: 'false', __PACE__: '20' },
        worker: { format: 'es' },
        server: { host: '127.0.0.1' },
        // Found at once, so that nothing is read anew in the middle of a test.
        optimizeDeps: {
          include: ['vitest-browser-react', 'radix-ui', 'lucide-react'],
          entries: ['web/main.tsx', 'web/**/*.worker.ts', 'web/**/*.browser.test.*'],
        },
        test: {
          ...patient,
          name: 'browser',
          maxWorkers: 3,
          include: ['web/**/*.browser.test.{ts,tsx}'],
          globalSetup: 'web/testing/office.ts',
          browser: {
            enabled: true,
            headless: true,
            screenshotFailures: false,
            viewport: { width: 1280, height: 800 },
            provider: playwright({
              launchOptions: {
                executablePath: '/usr/bin/chromium',
                args: [
                  '--no-sandbox',
                  '--disable-gpu',
                  '--no-first-run',
                  '--disable-background-networking',
                  '--disable-sync',
                ],
              },
            }),
            instances: [{ browser: 'chromium' }],
          },
        },
      },
    ],
  },
})
