import 'reflect-metadata'
import { createServer } from 'node:http'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import pino from 'pino'
import { makeApp } from './app'
import { openDescriber } from './changes/describe'
import { compareInThread } from './changes/threads'
import { openDatabase } from './database'
import { seedDemo } from './demo/seed'
import { openSweeper } from './drafts/room'
import { openNewsroom } from './events/service'
import { openMover } from './history/move'
import { openThinner } from './history/thin'
import { workInThreads } from './history/threads'
import { openSpool } from './requests/upload'
import { openIndexer } from './search/index-files'
import { wordsReader } from './search/read-words'
import { workIn } from './versions/content'

const here = dirname(fileURLToPath(import.meta.url))
const url = process.env.DATABASE_URL
const port = Number(process.env.JAULA_PORT ?? 4170)
const host = process.env.JAULA_HOST ?? '127.0.0.1'
const demo = (process.env.JAULA_DEMO ?? '1') !== '0'
const largestFile = Number(process.env.JAULA_LARGEST_FILE ?? 100_000_000)
const log = pino({ level: process.env.JAULA_LOG ?? 'warn' }, pino.destination(2))

if (!url) throw new Error('DATABASE_URL is not set; npm start sets it.')
const database = await openDatabase(url)
if (demo) await seedDemo(database)
let stopping = false
const workshop = workInThreads(new URL('./history.worker.js', import.meta.url))
workIn(workshop)
const newsroom = openNewsroom(url, database)
const words = wordsReader(new URL('./words.worker.js', import.meta.url))
const indexer = openIndexer(database, words.read, (error) => log.error({ err: error }, 'search index'))
const mover = openMover(database, (error) => log.error({ err: error }, 'history store'))
const thinner = openThinner(database, (error) => log.error({ err: error }, 'thinning'))
const comparing = compareInThread(new URL('./compare.worker.js', import.meta.url))
const describer = openDescriber(database, comparing, (error) => log.error({ err: error }, 'changes'))
const sweeper = openSweeper(database, (error) => log.error({ err: error }, 'recovery points'))
const app = makeApp({
  database,
  newsroom,
  comparing,
  spool: openSpool(join(process.env.JAULA_DATA ?? join(tmpdir(), `jaula-${process.pid}`), 'spool')),
  log,
  demo,
  largestFile,
  pages: process.env.JAULA_PAGES ?? join(here, '../web'),
  version: '0.1.0',
})
const server = createServer(app)
server.on('error', (error) => {
  process.stderr.write(
    `${(error as NodeJS.ErrnoException).code === 'EADDRINUSE' ? `Port ${port} is taken. Set JAULA_PORT to another one.` : error.message}\n`,
  )
  process.exit(1)
})
server.listen(port, host, () => {
  process.stdout.write(`listening http://${host}:${port}\n`)
})

async function stop(): Promise<void> {
  if (stopping) return
  stopping = true
  await newsroom.close()
  await indexer.close()
  await sweeper.close()
  await describer.close()
  await mover.close()
  await thinner.close()
  await workshop.close()
  await words.close()
  server.close()
  server.closeIdleConnections()
  // What is being answered gets a moment to finish; whatever is cut off is sent again with the same key.
  setTimeout(() => server.closeAllConnections(), 3000).unref()
  server.on('close', () => void database.destroy().finally(() => process.exit(0)))
}
process.on('SIGTERM', stop)
process.on('SIGINT', stop)
