// npm start: everything from a fresh machine to a running Jaula; Ctrl+C stops all of it.
import { spawn } from 'node:child_process'
import { createHash, randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { buildAll } from './lib/build.mjs'
import { installDebian, installNpm, paperFonts, postgresPrograms } from './lib/packages.mjs'
import { databaseAccount, dataFolder, portIsFree, requireSpace, root } from './lib/places.mjs'
import { isGone, isProcess, readRunning } from './lib/running.mjs'
import { CannotGoOn, run } from './lib/say.mjs'

const keeperScript = join(root, 'scripts/keeper.mjs')

/** Starts the keeper, apart from this process. @returns its process id, when Jaula is ready */
function startKeeper(settings) {
  return new Promise((done, failed) => {
    const keeper = spawn(process.execPath, [keeperScript], {
      cwd: root,
      env: { ...process.env, JAULA_KEEPER: JSON.stringify(settings) },
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
      detached: true,
    })
    keeper.on('message', ({ ready, failed: why }) => {
      keeper.disconnect()
      keeper.unref()
      ready ? done(keeper.pid) : failed(new CannotGoOn(why))
    })
    keeper.once('exit', () => failed(new CannotGoOn('The keeper of the server ended before Jaula was ready.')))
  })
}

/** The demo has places for copies from the beginning: folders that stand for a share of the network and for a drive. */
function standIns(data, host) {
  const demo = process.env.JAULA_DEMO
    ? process.env.JAULA_DEMO === '1'
    : ['127.0.0.1', '::1', 'localhost'].includes(host)
  // The drive that the office worked on before: the server makes it (server/demo/old-drive.ts).
  if (demo && !process.env.JAULA_TAKE_OVER_FOLDERS)
    process.env.JAULA_DEMO_DRIVE = resolve(data, 'stand-ins/Old office drive')
  if (!demo || process.env.JAULA_COPY_FOLDERS || process.env.JAULA_COPY_DRIVES) return
  const [network, drives] = ['stand-ins/Network share', 'stand-ins/drives'].map((folder) => resolve(data, folder))
  for (const folder of [network, join(drives, 'Blue drive')]) mkdirSync(folder, { recursive: true })
  process.env.JAULA_COPY_FOLDERS = network
  process.env.JAULA_COPY_DRIVES = drives
  // Two more computers that keep files, which the server starts with itself (standins/start.ts).
  if (process.env.JAULA_COPY_HOSTS) return
  process.env.JAULA_STAND_INS = resolve(data, 'stand-ins')
  process.env.JAULA_COPY_HOSTS = '127.0.0.1'
}

await run(async () => {
  const port = Number(process.env.JAULA_PORT ?? 4170)
  const host = process.env.JAULA_HOST ?? '127.0.0.1'
  const url = process.env.DATABASE_URL
  requireSpace(root, 300)
  if (!url && !postgresPrograms()) installDebian(['postgresql'], 'Jaula')
  try {
    if (process.getuid() === 0) installDebian(paperFonts, 'setting pages')
  } catch (error) {
    // Pages are set without them, too, in fonts of other widths.
    if (!(error instanceof CannotGoOn)) throw error
    console.log(error.message)
  }
  const account = url ? undefined : databaseAccount()
  const data = url ? undefined : dataFolder(process.env.JAULA_DATA ?? '.jaula', account)
  const file = data
    ? join(data, 'running.json')
    : join(tmpdir(), `jaula-${createHash('sha256').update(`${url} ${port}`).digest('hex').slice(0, 12)}.json`)
  const log = `${file.replace(/running\.json$|\.json$/, '')}server.log`

  // Whoever makes the first account has seen this terminal.
  const kept = data ? join(data, 'first-code') : null
  const code = kept && existsSync(kept) ? readFileSync(kept, 'utf8').trim() : randomBytes(6).toString('hex')
  if (kept && !existsSync(kept)) writeFileSync(kept, code, { mode: 0o600 })
  process.env.JAULA_FIRST_CODE ??= code
  /** Says where Jaula is, and what a new one needs to begin. */
  const ready = async (address) => {
    const session = await fetch(`${address}/api/session`)
      .then((response) => response.json())
      .catch(() => null)
    if (session?.firstRun) console.log(`The code for its first administrator: ${process.env.JAULA_FIRST_CODE}`)
    console.log(`Jaula is ready: ${address}`)
  }

  let stopping = false
  let keeper
  const stop = async () => {
    if (stopping) return
    stopping = true
    if (keeper && isProcess(keeper, keeperScript)) {
      process.kill(keeper, 'SIGTERM')
      await isGone(keeper, keeperScript, 40_000)
    }
    process.exit(0)
  }
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop())

  const found = readRunning(file)
  if (found && isProcess(found.keeper, keeperScript)) {
    // An earlier start was killed, or runs elsewhere: what it started goes on, and is this one's from here.
    keeper = found.keeper
    const answers = async () => (await fetch(`${found.address}/api/health`).catch(() => null)) !== null
    const end = Date.now() + 60_000
    while (!(await answers())) {
      if (Date.now() > end || !isProcess(keeper, keeperScript))
        throw new CannotGoOn(`A Jaula from an earlier start (process ${keeper}) does not answer at ${found.address}.`)
      await new Promise((later) => setTimeout(later, 300))
    }
    console.log(`Jaula has run since ${found.since} and is taken over. Ctrl+C stops it.`)
    await ready(found.address)
  } else {
    const ours = found?.server && isProcess(found.server, 'dist/server/main.js')
    if (!ours && !(await portIsFree(port, host)))
      throw new CannotGoOn(
        `Port ${port} is taken by another program, or by a Jaula with other data. Set JAULA_PORT to a free one.`,
      )
    if (data) requireSpace(data, 200)
    if (data) standIns(data, host)
    installNpm()
    await buildAll()
    if (stopping) return
    keeper = await startKeeper({ port, host, data, account, file, log, url })
    await ready(`http://${host}:${port}`)
  }

  // The keeper keeps the server; this process keeps the keeper for as long as it is there itself.
  for (;;) {
    await new Promise((later) => setTimeout(later, 500))
    if (stopping || isProcess(keeper, keeperScript)) continue
    const other = readRunning(file)
    if (other && other.keeper !== keeper && isProcess(other.keeper, keeperScript)) {
      keeper = other.keeper
      continue
    }
    // Stopped on purpose by another start: its file is gone.
    if (!other) return console.log('Jaula was stopped by another start.')
    console.log('The keeper of the server had died. It is started again.')
    keeper = await startKeeper({ port, host, data, account, file, log, url })
  }
})
