// The keeper of a running Jaula: PostgreSQL and the server are its children, and are started again when they
// die or hang. It runs apart from `npm start`, so that a start that is killed, or whose terminal goes, takes
// nothing along; the next start finds it by its file and takes it over. SIGTERM stops all of it.
import { createWriteStream } from 'node:fs'
import { postgresPrograms } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { forgetRunning, isGone, isProcess, readRunning, writeRunning } from './lib/running.mjs'
import { CannotGoOn } from './lib/say.mjs'
import { startServer } from './lib/server.mjs'

const { port, host, data, account, file, log, url: given } = JSON.parse(process.env.JAULA_KEEPER)
const tell = (message) => {
  // Whoever started this may be gone: that is what it is for.
  if (process.connected) process.send(message, () => {})
}
const stops = []
let stopping
const stop = () =>
  (stopping ??= (async () => {
    for (const one of stops.reverse()) await one()
    forgetRunning(file)
  })())
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void stop().then(() => process.exit(0)))
process.on('SIGHUP', () => {})
process.on('disconnect', () => {})

try {
  // A server whose keeper was killed is nobody's child: this one starts its own in its place.
  const left = readRunning(file)
  if (left?.server && isProcess(left.server, 'dist/server/main.js')) {
    process.kill(left.server, 'SIGTERM')
    if (!(await isGone(left.server, 'dist/server/main.js', 8000))) process.kill(left.server, 'SIGKILL')
  }
  const address = `http://${host}:${port}`
  const running = { keeper: process.pid, address, since: new Date().toISOString() }
  writeRunning(file, running)
  let url = given
  let ownerUrl = process.env.JAULA_OWNER_DATABASE_URL
  let trial
  if (!url) {
    const postgres = await startPostgres(postgresPrograms(), data, account)
    stops.push(() => postgres.stop())
    url = postgres.url
    ownerUrl = postgres.ownerUrl
    trial = postgres.trial()
  }
  const server = await startServer(
    {
      DATABASE_URL: url,
      ...(ownerUrl && { JAULA_OWNER_DATABASE_URL: ownerUrl }),
      JAULA_PORT: String(port),
      JAULA_HOST: host,
      ...(data && { JAULA_DATA: data }),
      ...(trial && { JAULA_TRIAL_DATABASE_URL: trial.url, JAULA_TRIAL_OWNER_DATABASE_URL: trial.ownerUrl }),
    },
    {
      complain: createWriteStream(log, { flags: 'a' }),
      onStart: (pid) => writeRunning(file, { ...running, server: pid }),
    },
  )
  stops.push(() => server.stop())
  tell({ ready: address })
} catch (error) {
  tell({ failed: error instanceof CannotGoOn ? error.message : (error.stack ?? String(error)) })
  await stop()
  process.exit(1)
}
