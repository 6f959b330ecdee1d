// npm run bench [suite]: one JSON object a line, each value beside a baseline of the same run.
import { spawn } from 'node:child_process'
import { chownSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { buildAll, buildPages, bundleServer } from './lib/build.mjs'
import { installDebian, installNpm, paperFonts, postgresPrograms } from './lib/packages.mjs'
import { databaseAccount, freePort, root } from './lib/places.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { CannotGoOn, run } from './lib/say.mjs'
import { startServer } from './lib/server.mjs'

const suites = [
  'open',
  'save',
  'journal',
  'start',
  'naming',
  'recovery',
  'history',
  'compare',
  'merge',
  'devices',
  'doors',
  'web',
  'whole',
  'mutants',
  'copies',
  'types',
  'rights',
  'together',
  'paper',
  'editing',
  'past',
]

/** The time from the command to its ready line, the second time on the same data. */
async function benchStart(scratch) {
  const { spawn } = await import('node:child_process')
  const port = await freePort()
  const once = () =>
    new Promise((done, failed) => {
      const begun = performance.now()
      const child = spawn(process.execPath, ['scripts/start.mjs'], {
        cwd: root,
        env: { ...process.env, JAULA_DATA: join(scratch, 'start'), JAULA_PORT: String(port), DATABASE_URL: '' },
        stdio: ['ignore', 'pipe', 'inherit'],
      })
      let seconds
      child.stdout.on('data', (chunk) => {
        if (!String(chunk).includes('Jaula is ready')) return
        seconds = (performance.now() - begun) / 1000
        child.kill('SIGTERM')
      })
      child.once('exit', () => (seconds ? done(seconds) : failed(new CannotGoOn('Jaula did not start.'))))
    })
  const first = await once()
  const again = [await once(), await once(), await once()].sort((a, b) => a - b)[1]
  console.log(
    JSON.stringify({
      suite: 'start',
      case: 'start-again',
      value: Number(again.toFixed(2)),
      unit: 's',
      baseline: Number(first.toFixed(2)),
      ratio: Number((again / first).toFixed(3)),
      better: 'lower',
    }),
  )
}

await run(async () => {
  const wanted = process.argv[2] ? [process.argv[2]] : suites
  for (const suite of wanted)
    if (!suites.includes(suite)) throw new CannotGoOn(`There is no suite ${suite}. There are: ${suites.join(', ')}.`)
  installDebian(
    [
      'postgresql',
      'chromium',
      ...(wanted.includes('history') ? ['zstd', 'pandoc'] : []),
      ...(wanted.includes('copies') ? ['rsync'] : []),
      ...(wanted.includes('paper') ? ['poppler-utils', ...paperFonts] : []),
      ...(wanted.includes('types') ? ['python3-xlrd', 'pandoc', 'antiword'] : []),
    ],
    'npm run bench',
  )
  installNpm()
  await buildAll()
  const scratch = mkdtempSync(join(tmpdir(), 'jaula-bench-'))
  const account = databaseAccount()
  if (account) chownSync(scratch, account.uid, account.gid)
  const stops = []
  const children = new Set()
  let stopped
  const stopAll = () =>
    (stopped ??= (async () => {
      // A suite ends its browsers; one that does not in its time is ended itself.
      await Promise.all(
        [...children].map(async (child) => {
          const gone = new Promise((done) => child.once('exit', done))
          child.kill('SIGTERM')
          const late = setTimeout(() => child.kill('SIGKILL'), 5000)
          await gone
          clearTimeout(late)
        }),
      )
      for (const stop of stops.reverse()) await stop()
      rmSync(scratch, { recursive: true, force: true })
    })())
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => void stopAll().then(() => process.exit(1)))
  // Whoever reads may go away, too.
  for (const stream of [process.stdout, process.stderr])
    stream.on('error', () => void stopAll().then(() => process.exit(1)))
  process.on('SIGPIPE', () => void stopAll().then(() => process.exit(1)))
  try {
    const env = { ...process.env }
    /** What a suite may kill, by its name. */
    const victims = {}
    if (
      wanted.some((suite) =>
        [
          'save',
          'journal',
          'naming',
          'recovery',
          'history',
          'merge',
          'devices',
          'doors',
          'web',
          'copies',
          'rights',
          'together',
          'paper',
          'past',
        ].includes(suite),
      )
    ) {
      const postgres = await startPostgres(postgresPrograms(), scratch, account)
      stops.push(() => postgres.stop())
      const port = await freePort()
      const measuring = wanted.includes('journal') || wanted.includes('recovery')
      if (measuring) await buildPages(join(root, 'dist/bench-web'), true)
      // Work on two devices is measured at a tenth of the usual silences and pauses; it stands alone.
      const hurried = wanted.length === 1 && wanted[0] === 'devices'
      if (hurried) await buildPages(join(root, 'dist/bench-devices'), true, 10)
      const server = await startServer({
        DATABASE_URL: postgres.url,
        JAULA_OWNER_DATABASE_URL: postgres.ownerUrl,
        JAULA_PORT: String(port),
        ...(measuring && { JAULA_PAGES: join(root, 'dist/bench-web') }),
        ...(hurried && { JAULA_PAGES: join(root, 'dist/bench-devices'), JAULA_SILENCE_SECONDS: '2' }),
      })
      stops.push(() => server.stop())
      Object.assign(victims, { server: () => server.pid, database: () => postgres.pid })
      Object.assign(env, { BENCH_URL: `http://127.0.0.1:${port}`, BENCH_DATABASE_URL: postgres.superuserUrl })
    }
    for (const suite of wanted) {
      if (suite === 'start') {
        await benchStart(scratch)
        continue
      }
      const bundle = join(root, `dist/bench/${suite}.mjs`)
      await bundleServer(`bench/${suite}.ts`, bundle)
      const status = await new Promise((done) => {
        const child = spawn(process.execPath, ['--expose-gc', '--max-old-space-size=4096', bundle], {
          cwd: root,
          env,
          stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
        })
        children.add(child)
        // The crash campaign asks for a process to be killed; it is started again by whoever keeps it.
        child.on('message', ({ kill, key }) => {
          process.kill(victims[kill](), 'SIGKILL')
          child.send({ key })
        })
        child.once('exit', (status) => {
          children.delete(child)
          done(status)
        })
      })
      if (status !== 0) process.exitCode = 1
    }
  } finally {
    await stopAll()
  }
})
