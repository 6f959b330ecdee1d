import { nameStandIns } from './printing/printers'
import { printing } from './printing/service'
import 'reflect-metadata'
import { randomBytes } from 'node:crypto'
import { rmSync } from 'node:fs'
import { createServer } from 'node:http'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import pino from 'pino'
import { startStandIns } from '../standins/start'
import { anybodyHasAnAccount } from './accounts/service'
import { livingSessions } from './accounts/sessions'
import { makeApp } from './app'
import { describing } from './changes/describe'
import { compareInThread } from './changes/threads'
import { readConfig } from './config'
import { copying } from './copies/by-itself'
import { closeRemote } from './copies/remote'
import { nameSites } from './copies/sites'
import { storeChecking } from './copies/store-check'
import { endTrial, trying } from './copies/trials'
import { counting } from './counts/fold'
import { openDatabase } from './database'
import { openDemoAccounts } from './demo/accounts'
import { makeOldDrive } from './demo/old-drive'
import { seedDemo } from './demo/seed'
import { sweeping } from './drafts/room'
import { openNewsroom } from './events/service'
import { intakeInThreads } from './intake/threads'
import { takingOver } from './intake/work'
import { openQueue } from './jobs/queue'
import { showInThreads } from './links/shown'
import { convertInThreads } from './mail/convert'
import { type MailParts, posting } from './mail/outbox'
import { readingReturns } from './mail/returns'
import { deliverBy } from './mail/way'
import { convertWithPages } from './paper/file-as-pdf'
import { typesetInProcesses } from './paper/typeset'
import { openSpool } from './requests/upload'
import { thinning } from './retention/thin'
import { openSeal } from './seal'
import { indexing } from './search/index-files'
import { wordsReader } from './search/read-words'
import { keepingInStep } from './side-lists/in-step'
import { sheetsInThreads } from './side-lists/read-sheets'
import { roleFaults } from './sql/roles'
import { openContents } from './storage/content'
import { moving } from './storage/move'
import { workInThreads } from './storage/threads'

const here = dirname(fileURLToPath(import.meta.url))
const config = (() => {
  try {
    return readConfig(process.env)
  } catch (error) {
    process.stderr.write(`${(error as Error).message}\n`)
    return process.exit(1)
  }
})()
const log = pino({ level: config.log }, pino.destination(2))
for (const warning of config.warnings) log.warn(warning)
const { databaseUrl: url, port, host, demo } = config
const database = await openDatabase(url, config.ownerDatabaseUrl)
// Whoever finds a way into this process finds no way to the owner.
delete process.env.JAULA_OWNER_DATABASE_URL
for (const secret of ['JAULA_MAIL_PASSWORD', 'JAULA_MAIL_RETURNS_PASSWORD']) delete process.env[secret]
for (const fault of await roleFaults(database)) log.warn(`${fault} See docs/security.md.`)
if (demo) await seedDemo(database)
if (config.demoDrive !== null) await makeOldDrive(config.demoDrive)
await openDemoAccounts(database, demo)
// Whoever starts the server by hand is told the code as well.
const firstCode = config.firstCode ?? randomBytes(6).toString('hex')
if (!config.firstCode && !(await anybodyHasAnAccount(database.manager)))
  process.stderr.write(`The code for the first administrator is ${firstCode}\n`)
const data = config.data ?? join(tmpdir(), `jaula-${process.pid}`)
let stopping = false
const workshop = workInThreads(new URL('./history.worker.js', import.meta.url))
const contents = openContents(workshop)
const newsroom = openNewsroom(url, database, livingSessions)
const words = wordsReader(new URL('./words.worker.js', import.meta.url))
const comparing = compareInThread(new URL('./compare.worker.js', import.meta.url))
const intakes = intakeInThreads(new URL('./intake.worker.js', import.meta.url))
const sheets = sheetsInThreads(new URL('./sheets.worker.js', import.meta.url))
const showing = showInThreads(new URL('./shown.worker.js', import.meta.url))
const conversion = convertInThreads(new URL('./convert.worker.js', import.meta.url))
const setting = typesetInProcesses(new URL('./typeset.worker.js', import.meta.url))
const convert = convertWithPages(conversion.convert, setting.typeset)
const fault = (error: unknown, work: string) => log.error({ err: error }, work)
await nameSites(database, config.copies.folders, config.copies)
const seal = config.keyFile === null ? null : openSeal(config.keyFile)
const reachable = {
  ...config.copies,
  trialDays: config.trials?.days ?? null,
  seal,
}
const standIns = config.standIns === null ? null : await startStandIns(config.standIns)
// So do the demo's printers, which an office names itself.
if (standIns && demo) await nameStandIns(database, standIns.printers)
// The demo's mail server stands in for an office's, where none was named.
const way = config.mail ?? standIns?.mail ?? null
const mail: MailParts | null = way && seal ? { way, seal, address: config.address } : null
const copies = copying(database, contents, reachable, (error) => fault(error, 'copy'))
await copies.look()
const queue = await openQueue(
  database,
  [
    indexing(database, contents, words.read),
    describing(database, comparing, contents),
    moving(database, contents, (error) => fault(error, 'move')),
    thinning(database),
    keepingInStep({
      database,
      contents,
      sheets: sheets.read,
      typeset: setting.typeset,
      quotas: config.quotas,
      onFault: (error) => fault(error, 'side-lists'),
    }),
    sweeping(database),
    counting(database),
    copies,
    ...(config.trials
      ? [trying(database, new URL('./trial.js', import.meta.url), config.trials.days, (error) => fault(error, 'trial'))]
      : []),
    ...(mail ? [posting({ database, contents, mail, convert, deliver: deliverBy(mail.way) })] : []),
    printing(database),
    ...(mail?.way.returns ? [readingReturns(database, mail.way.returns)] : []),
    storeChecking(database, contents, reachable, config.copies.days, (error) => fault(error, 'store-check')),
    takingOver(
      {
        database,
        tasks: intakes,
        quotas: config.quotas,
        largestFile: config.largestFile,
        folders: config.intakeFolders,
      },
      (error) => fault(error, 'intake'),
    ),
  ],
  fault,
)
// Whatever was changed may have to be indexed; what was saved, described and moved as well.
newsroom.onNews(({ about }) => {
  if (about === 'file' || about === 'place' || about === 'names') queue.soon('index')
  if (about === 'file') for (const name of ['describe', 'move', 'side-lists']) queue.soon(name)
  if (copies.afterChanges() && (about === 'file' || about === 'place')) queue.soon('copy')
  // What cannot be delivered comes back within seconds, mostly.
  if (about === 'mail' && mail?.way.returns) setTimeout(() => queue.soon('returned-mail'), 3000).unref()
  if (about === 'copies') void copies.look().catch((error) => fault(error, 'copy'))
})
const app = makeApp({
  database,
  seal,
  newsroom,
  comparing,
  contents,
  sheets: sheets.read,
  show: showing.show,
  convert,
  typeset: setting.typeset,
  findBreaks: setting.findBreaks,
  mail,
  spool: openSpool(join(data, 'spool')),
  log,
  demo,
  largestFile: config.largestFile,
  quotas: config.quotas,
  hosts: config.hosts,
  proxies: config.proxies,
  firstCode,
  reachable,
  intakeFolders: config.intakeFolders,
  soon: (work) => queue.soon(work),
  data,
  pages: config.pages ?? join(here, '../web'),
  version: '0.1.0',
})
const server = createServer(app)
server.on('error', (error) => {
  process.stderr.write(
    `${(error as NodeJS.ErrnoException).code === 'EADDRINUSE' ? `Port ${port} is taken. Set JAULA_PORT to another one.` : error.message}\n`,
  )
  process.exit(1)
})
// Longer than a proxy, or a program, keeps a connection that it is about to use again: closed in that moment, its request
// would be lost. Milliseconds.
server.keepAliveTimeout = 75_000
server.listen(port, host, () => {
  process.stdout.write(`listening http://${host}:${port}\n`)
})

async function stop(): Promise<void> {
  if (stopping) return
  stopping = true
  await newsroom.close()
  await comparing.close()
  endTrial()
  await queue.close()
  await closeRemote()
  await standIns?.close()
  await workshop.close()
  await words.close()
  await sheets.close()
  await showing.close()
  await conversion.close()
  await setting.close()
  await intakes.close()
  // A folder of its own was for what was on its way.
  if (!config.data) rmSync(data, { recursive: true, force: true })
  server.close()
  server.closeIdleConnections()
  // What is being answered gets a moment to finish; whatever is cut off is sent again with the same key.
  setTimeout(() => server.closeAllConnections(), 3000).unref()
  server.on('close', () => void database.destroy().finally(() => process.exit(0)))
}
process.on('SIGTERM', stop)
process.on('SIGINT', stop)
