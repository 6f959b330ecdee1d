// A drive that is taken over: how fast it is read, planned and taken in, what it takes of memory, whether the series on it
// are found as they were made, and how soon all of it can be found.
import { execFileSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { mkdirSync, utimesSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import type { DataSource } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { documentSchema } from '../core/content/document'
import { writeDocx } from '../core/formats/docx/write'
import { makeDrive, seriesRight } from '../core/intake/made-drive'
import { foldSeries } from '../core/intake/series'
import { unbounded } from '../server/counts/quotas'
import { IntakeRow } from '../server/intake/entity'
import { lookThrough, planAll } from '../server/intake/look'
import { beginIntake } from '../server/intake/service'
import { takeAll } from '../server/intake/take'
import { intakeInThreads } from '../server/intake/threads'
import { indexQueued } from '../server/search/index-files'
import { wordsReader } from '../server/search/read-words'
import type { Contents } from '../server/storage/content'
import { report } from './report'

const suite = 'copies'
/** As many series as the promise is about; each brings some six files. */
const series = Number(process.env.BENCH_SERIES ?? 300)
/** Only looked at and planned: for drives of a hundred thousand files. */
const looked = process.env.BENCH_TAKE === '0'

const paper = (text: string) =>
  writeDocx(
    documentSchema.nodes.doc.create(
      null,
      text.split('. ').map((words) => documentSchema.nodes.paragraph.create(null, documentSchema.text(words || '-'))),
    ),
  )
const built = (name: string) => new URL(`../server/${name}`, import.meta.url)
const seconds = async (doing: () => Promise<unknown>) => {
  const begun = performance.now()
  await doing()
  return (performance.now() - begun) / 1000
}

export async function takeOver(
  { database, contents, share, person }: { database: DataSource; contents: Contents; share: string; person: string },
  scratch: string,
): Promise<void> {
  const { files, truth } = makeDrive(4170, series)
  report({
    suite,
    case: 'series-right',
    value: seriesRight(truth, foldSeries(files)),
    unit: `of ${series} made series`,
    baseline: null,
    better: 'higher',
  })
  const drive = join(scratch, 'drive')
  const digests = new Set<string>()
  for (const { path, text, at } of files) {
    const file = join(drive, path)
    mkdirSync(dirname(file), { recursive: true })
    const bytes = path.endsWith('.docx') && !looked ? paper(text) : Buffer.from(text || `drawn ${path}`)
    digests.add(createHash('sha256').update(bytes).digest('hex'))
    writeFileSync(file, bytes)
    utimesSync(file, new Date(at), new Date(at))
  }
  const plain = join(scratch, 'drive-rsync')
  const baseline =
    files.length / (await seconds(async () => void execFileSync('rsync', ['-a', '--fsync', `${drive}/`, plain])))
  const tasks = intakeInThreads(built('intake.worker.js'))
  const words = wordsReader(built('words.worker.js'))
  try {
    const id = uuidv7()
    await beginIntake(database.manager, person, share, { id, folderId: null, source: 'server', root: drive })
    const intake = await database.manager.findOneByOrFail(IntakeRow, { id })
    const looking = { database, tasks, largestFile: 100_000_000 }
    let most = 0
    const before = process.memoryUsage().rss
    const sampling = setInterval(() => {
      most = Math.max(most, process.memoryUsage().rss - before)
    }, 50)
    const look = await seconds(() => lookThrough(looking, intake, drive, () => false))
    await database.manager.update(IntakeRow, { id }, { state: 'planning' })
    const plan = await seconds(() => planAll(looking, intake))
    clearInterval(sampling)
    // With the threads that read and plan.
    report({
      suite,
      case: 'take-over-memory',
      value: most / 1e6,
      unit: `MB for ${files.length} files`,
      baseline: null,
      better: 'lower',
    })
    const rate = (time: number) => files.length / time
    const unit = 'files/s'
    const measure = { suite, unit, baseline: null, better: 'higher' } as const
    report({ ...measure, case: 'take-over-read', value: rate(look) })
    report({ ...measure, case: 'take-over-plan', value: rate(plan) })
    if (looked) return
    await database.manager.update(IntakeRow, { id }, { state: 'taking' })
    const take = await seconds(() => takeAll({ database, quotas: unbounded }, intake, drive, () => false))
    report({ ...measure, case: 'take-over-rate', value: rate(look + plan + take), baseline })
    const there: { digest: string }[] = await database.query("select encode(sha256, 'hex') as digest from version")
    const kept = new Set(there.map(({ digest }) => digest))
    report({
      suite,
      case: 'take-over-lost',
      value: [...digests].filter((digest) => !kept.has(digest)).length,
      unit: `of ${digests.size} contents`,
      baseline: null,
      better: 'lower',
    })
    // The server beside this reads them for the search while they come in.
    const waiting = async () =>
      (await database.query('select count(distinct file_id)::int as n from search_queue'))[0].n as number
    const behind = await waiting()
    report({
      suite,
      case: 'index-behind',
      value: behind,
      unit: `of ${truth.length} files`,
      baseline: null,
      better: 'lower',
    })
    const index = await seconds(async () => {
      await database.query('update search_file set version_id = null')
      await database.query('insert into search_queue (file_id) select file_id from search_file')
      while ((await waiting()) > 0)
        if ((await indexQueued(database, contents, words.read)) < 0) await new Promise((again) => setTimeout(again, 50))
    })
    const [{ n }] = await database.query('select count(*)::int as n from search_file')
    report({ ...measure, case: 'index-rate', value: n / index })
  } finally {
    await tasks.close()
    await words.close()
  }
}
