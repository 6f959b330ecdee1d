import { spawn } from 'node:child_process'
import { join } from 'node:path'
import { root } from './places.mjs'
import { CannotGoOn } from './say.mjs'

/** A server that answers nothing at all for this long is ended and started anew; milliseconds. */
const patience = 15_000
const askEvery = 1_000

/**
 * Starts the server and waits until it listens. It is started again when it dies, or answers nothing for
 * `patience`, until it is stopped. That it says it is unhealthy, as with the database gone or the disk full, is an
 * answer: starting it anew would not help.
 * @param env DATABASE_URL, JAULA_PORT, JAULA_HOST, JAULA_DEMO …
 */
export async function startServer(env, { revive = true, onStart = () => {}, complain = process.stderr } = {}) {
  let child
  let stopping = false
  let started = false
  const launch = () =>
    new Promise((done, failed) => {
      let complaint = ''
      child = spawn(process.execPath, ['--enable-source-maps', join(root, 'dist/server/main.js')], {
        env: { ...process.env, ...env },
        stdio: ['ignore', 'pipe', 'pipe'],
        detached: true,
      })
      onStart(child.pid)
      child.stdout.on('data', (chunk) => {
        if (String(chunk).includes('listening ')) done()
      })
      child.stderr.on('data', (chunk) => {
        complaint = (complaint + chunk).slice(-4000)
        complain.write(chunk)
      })
      child.once('exit', (code) => {
        failed(new CannotGoOn(`The server did not start (${code}). ${complaint.trim().split('\n').pop()}`))
        if (!stopping && revive && started)
          setTimeout(() => {
            if (!stopping) launch().catch(() => {})
          }, 500)
      })
    })
  await launch()
  started = true

  let answeredAt = performance.now()
  let asked
  const watching = setInterval(async () => {
    const { pid } = child
    if (asked !== pid) {
      // A new process has its own time to begin in.
      asked = pid
      answeredAt = performance.now()
    }
    try {
      await fetch(`http://${env.JAULA_HOST ?? '127.0.0.1'}:${env.JAULA_PORT}/api/health`, {
        signal: AbortSignal.timeout(askEvery * 4),
      })
      answeredAt = performance.now()
    } catch {
      if (stopping || child.pid !== pid || performance.now() - answeredAt < patience) return
      answeredAt = performance.now()
      complain.write(`The server has answered nothing for ${patience / 1000} s. It is started anew.\n`)
      child.kill('SIGKILL')
    }
  }, askEvery)
  if (!revive) clearInterval(watching)

  return {
    get pid() {
      return child.pid
    },
    async stop() {
      stopping = true
      clearInterval(watching)
      if (child.exitCode !== null || child.signalCode !== null) return
      const gone = new Promise((resolve) => child.once('exit', resolve))
      child.kill('SIGTERM')
      const late = setTimeout(() => child.kill('SIGKILL'), 8000)
      await gone
      clearTimeout(late)
    },
  }
}
