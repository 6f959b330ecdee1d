// npm start: everything from a fresh machine to a running Jaula; Ctrl+C stops all of it.
import { buildAll } from './lib/build.mjs'
import { installDebian, installNpm, postgresPrograms } from './lib/packages.mjs'
import { databaseAccount, dataFolder, portIsFree, requireSpace, root } from './lib/places.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { CannotGoOn, run } from './lib/say.mjs'
import { startServer } from './lib/server.mjs'

await run(async () => {
  const port = Number(process.env.JAULA_PORT ?? 4170)
  const host = process.env.JAULA_HOST ?? '127.0.0.1'
  if (!(await portIsFree(port, host)))
    throw new CannotGoOn(`Port ${port} is taken, perhaps by another Jaula. Set JAULA_PORT to a free one.`)
  requireSpace(root, 300)
  const own = !process.env.DATABASE_URL
  if (own && !postgresPrograms()) installDebian(['postgresql'], 'Jaula')
  installNpm()

  const stops = []
  let stopped
  const stop = () =>
    (stopped ??= (async () => {
      for (const one of stops.reverse()) await one()
    })())
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => void stop().then(() => process.exit(0)))
  try {
    let url = process.env.DATABASE_URL
    if (own) {
      const account = databaseAccount()
      const data = dataFolder(process.env.JAULA_DATA ?? '.jaula', account)
      requireSpace(data, 200)
      const postgres = await startPostgres(postgresPrograms(), data, account)
      stops.push(() => postgres.stop())
      url = postgres.url
    }
    await buildAll()
    const server = await startServer({ DATABASE_URL: url, JAULA_PORT: String(port), JAULA_HOST: host })
    stops.push(() => server.stop())
    console.log(`Jaula is ready: http://${host}:${port}`)
  } catch (error) {
    await stop()
    throw error
  }
})
