// npm start, and who keeps what it started: killed starts, killed and hanging servers.
import { type ChildProcess, spawn } from 'node:child_process'
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'

const root = join(import.meta.dirname, '..')

const freePort = () =>
  new Promise<number>((done) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number }
      server.close(() => done(port))
    })
  })
const isThere = (pid: number) => {
  try {
    process.kill(pid, 0)
    return !/\) Z /.test(readFileSync(`/proc/${pid}/stat`, 'utf8'))
  } catch {
    return false
  }
}
const healthy = (address: string) =>
  fetch(`${address}/api/health`, { signal: AbortSignal.timeout(2000) }).then(
    async (answer) => (await answer.json()).ok === true,
    () => false,
  )

test('what was started outlives a killed start and is taken over; a killed or hanging server comes back; Ctrl+C ends all of it', async () => {
  test.setTimeout(480_000)
  const data = mkdtempSync(join(tmpdir(), 'jaula-start-'))
  chmodSync(data, 0o755)
  const port = await freePort()
  const address = `http://127.0.0.1:${port}`
  const starts: ChildProcess[] = []
  const start = () =>
    new Promise<{ child: ChildProcess; said: () => string }>((done, failed) => {
      let said = ''
      const child = spawn(process.execPath, ['scripts/start.mjs'], {
        cwd: root,
        env: { ...process.env, JAULA_DATA: data, JAULA_PORT: String(port), DATABASE_URL: '', JAULA_DEMO: '0' },
        stdio: ['ignore', 'pipe', 'pipe'],
      })
      starts.push(child)
      for (const stream of [child.stdout!, child.stderr!])
        stream.on('data', (chunk) => {
          said += chunk
          if (said.includes('Jaula is ready')) done({ child, said: () => said })
        })
      child.once('exit', (code) => failed(new Error(`It ended with ${code}: ${said}`)))
    })
  const running = () =>
    JSON.parse(readFileSync(join(data, 'running.json'), 'utf8')) as { keeper: number; server: number }
  try {
    const first = await start()
    const before = running()
    const gone = new Promise((done) => first.child.once('exit', done))
    first.child.kill('SIGKILL')
    await gone
    // The server goes on, and when it dies it comes back, although the start is gone.
    expect(await healthy(address)).toBe(true)
    process.kill(before.server, 'SIGKILL')
    await expect.poll(() => running().server).not.toBe(before.server)
    await expect.poll(() => healthy(address)).toBe(true)

    const second = await start()
    expect(second.said()).toContain('is taken over')
    expect(running().keeper).toBe(before.keeper)
    // One that hangs answers nothing: it is ended after its time, and comes back.
    const hanging = running().server
    process.kill(hanging, 'SIGSTOP')
    await expect.poll(() => running().server).not.toBe(hanging)
    await expect.poll(() => healthy(address)).toBe(true)
    expect(isThere(hanging)).toBe(false)

    // The keeper is kept as well.
    process.kill(before.keeper, 'SIGKILL')
    await expect.poll(() => running().keeper).not.toBe(before.keeper)
    await expect.poll(() => healthy(address)).toBe(true)
    const last = running()
    const ended = new Promise((done) => second.child.once('exit', done))
    second.child.kill('SIGINT')
    await ended
    expect([isThere(last.keeper), isThere(last.server), await healthy(address)]).toEqual([false, false, false])
  } finally {
    for (const child of starts) if (child.exitCode === null && child.signalCode === null) child.kill('SIGTERM')
    rmSync(data, { recursive: true, force: true })
  }
})
