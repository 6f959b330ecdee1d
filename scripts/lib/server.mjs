import { spawn } from 'node:child_process'
import { join } from 'node:path'
import { root } from './places.mjs'
import { CannotGoOn } from './say.mjs'

/**
 * Starts the server and waits until it listens. It is started again when it dies, until it is stopped.
 * @param env DATABASE_URL, JAULA_PORT, JAULA_HOST, JAULA_DEMO …
 */
export async function startServer(env, { revive = true } = {}) {
  let child
  let stopping = false
  const launch = () =>
    new Promise((done, failed) => {
      let complaint = ''
      child = spawn(process.execPath, ['--enable-source-maps', join(root, 'dist/server/main.js')], {
        env: { ...process.env, ...env },
        stdio: ['ignore', 'pipe', 'pipe'],
        detached: true,
      })
      child.stdout.on('data', (chunk) => {
        if (String(chunk).includes('listening ')) done()
      })
      child.stderr.on('data', (chunk) => {
        complaint = (complaint + chunk).slice(-4000)
        process.stderr.write(chunk)
      })
      child.once('exit', (code) => {
        failed(new CannotGoOn(`The server did not start (${code}). ${complaint.trim().split('\n').pop()}`))
        if (!stopping && revive && started)
          setTimeout(() => {
            if (!stopping) launch().catch(() => {})
          }, 500)
      })
    })
  let started = false
  await launch()
  started = true
  return {
    get pid() {
      return child.pid
    },
    async stop() {
      stopping = true
      if (child.exitCode !== null || child.signalCode !== null) return
      const gone = new Promise((resolve) => child.once('exit', resolve))
      child.kill('SIGTERM')
      const late = setTimeout(() => child.kill('SIGKILL'), 8000)
      await gone
      clearTimeout(late)
    },
  }
}
