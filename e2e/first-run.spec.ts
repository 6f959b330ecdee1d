import { spawn } from 'node:child_process'
import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { freePort } from '../scripts/lib/places.mjs'
import { expect, test } from './office'

test('a new Jaula gives its first account to whoever has the code that the start printed', async ({ page }) => {
  const data = mkdtempSync(join(tmpdir(), 'jaula-first-'))
  chmodSync(data, 0o755)
  const port = await freePort()
  const start = spawn(process.execPath, ['scripts/start.mjs'], {
    env: { ...process.env, JAULA_DATA: data, JAULA_PORT: String(port), JAULA_DEMO: '0', DATABASE_URL: '' },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  try {
    let said = ''
    start.stdout.on('data', (text) => {
      said += text
    })
    await expect.poll(() => said, { timeout: 90_000 }).toContain('Jaula is ready')
    const code = /The code for its first administrator: (\S+)/.exec(said)![1]!
    // The ready line stays the last one.
    expect(said.trim().split('\n').at(-1)).toBe(`Jaula is ready: http://127.0.0.1:${port}`)
    await page.goto(`http://127.0.0.1:${port}`)
    await expect(page.getByText('Make its first administrator')).toBeVisible()
    await expect(page.getByText('lock-and-weir')).toHaveCount(0)
    await page.getByLabel('Your name').fill('Ottoline Vane')
    await page.getByLabel('Sign-in name').fill('ottoline')
    await page.getByLabel('Password').fill('sluice and lantern')
    await page.getByLabel('Code from the terminal').fill('000000000000')
    await page.keyboard.press('Enter')
    await expect(page.getByText('It is in the terminal where Jaula was started.')).toBeVisible()
    await page.getByLabel('Code from the terminal').fill(code)
    await page.keyboard.press('Enter')
    await expect(page.getByRole('button', { name: /Ottoline Vane/ })).toBeVisible()
  } finally {
    const ended = new Promise((done) => start.once('exit', done))
    start.kill('SIGTERM')
    await ended
    rmSync(data, { recursive: true, force: true })
  }
})
