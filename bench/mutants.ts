// Real files, damaged: each is to open in bounds of time, or to be refused with a sentence. What else happens is
// unclear: an exception of another kind, or more than ten seconds. The folder of files is JAULA_FILES; how many mutants
// is BENCH_MUTANTS.
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { unzipSync, zipSync } from 'fflate'
import { Calculation } from '../core/calc/engine'
import { patchDocx } from '../core/formats/docx/patch'
import { readDocx } from '../core/formats/docx/read'
import { DamagedFile, NotPatched } from '../core/formats/refusals'
import { patchXlsx } from '../core/formats/xlsx/patch'
import { readXlsx } from '../core/formats/xlsx/read'
import { report } from './report'

const folder = process.env.JAULA_FILES
if (!folder) {
  process.stderr.write('JAULA_FILES names no folder of files.\n')
  process.exit(0)
}
const wanted = Number(process.env.BENCH_MUTANTS ?? 1000)
const longest = 10_000
let state = Number(process.env.BENCH_SEED ?? 7)
/** The next number that looks chosen at random, below a bound (mulberry32). */
function below(bound: number): number {
  state = (state + 0x6d2b79f5) | 0
  let t = Math.imul(state ^ (state >>> 15), 1 | state)
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
  return Math.floor((((t ^ (t >>> 14)) >>> 0) / 4294967296) * bound)
}
const oneOf = <T>(items: readonly T[]): T => items[below(items.length)]!

const files = readdirSync(folder, { recursive: true, encoding: 'utf8' })
  .map((name) => join(folder, name))
  .filter((path) => /\.(docx|docm|xlsx|xlsm)$/i.test(path) && statSync(path).size < 300_000)
  .sort()
/** What stands in attributes of files that are made to harm. */
const hostile = [
  '',
  'abc',
  '-1',
  '0',
  '2.5',
  '1e9',
  '999999999999',
  'A0',
  'XFE1',
  'A1048577',
  'A1:XFD1048576',
  '#REF!',
  '../../x',
  'true',
]

const text = new TextDecoder('latin1')
const bytesOf = (xml: string) => Uint8Array.from(xml, (letter) => letter.charCodeAt(0))
function mutant(path: string): Uint8Array {
  const bytes = new Uint8Array(readFileSync(path))
  if (below(10) === 0) {
    // The container itself.
    const damaged = bytes.slice(0, below(2) ? bytes.length : below(bytes.length))
    for (let times = below(20); times > 0 && damaged.length; times--) damaged[below(damaged.length)] = below(256)
    return damaged
  }
  const parts = unzipSync(bytes)
  const names = Object.keys(parts).filter((name) => /\.(xml|rels)$/i.test(name) && parts[name]!.length)
  for (let times = 1 + below(3); times > 0 && names.length; times--) {
    const name = oneOf(names)
    const xml = text.decode(parts[name])
    const attributes = [...xml.matchAll(/="[^"]*"/g)]
    const elements = [...xml.matchAll(/<[\w:]+[^>]*>/g)]
    const at = below(xml.length)
    const length = below(200)
    switch (below(6)) {
      case 0:
        parts[name] = bytesOf(xml.slice(0, at) + xml.slice(at + length))
        break
      case 1:
        parts[name] = bytesOf(xml.slice(0, at + length) + xml.slice(at))
        break
      case 2:
        delete parts[name]
        names.splice(names.indexOf(name), 1)
        break
      case 3: {
        const element = elements.length ? oneOf(elements) : null
        if (element)
          parts[name] = bytesOf(
            xml.slice(0, element.index) + element[0].repeat(1 + below(60)) + xml.slice(element.index),
          )
        break
      }
      default: {
        const attribute = attributes.length ? oneOf(attributes) : null
        if (attribute)
          parts[name] = bytesOf(
            `${xml.slice(0, attribute.index)}="${oneOf(hostile)}"${xml.slice(attribute.index + attribute[0].length)}`,
          )
      }
    }
  }
  return zipSync(parts, { level: 1 })
}

/** Opens a file and saves it as it is, as the editors do. */
function use(path: string, bytes: Uint8Array): void {
  if (/\.doc.$/i.test(path)) {
    const { doc } = readDocx(bytes)
    try {
      patchDocx(bytes, doc)
    } catch (error) {
      if (!(error instanceof NotPatched)) throw error
    }
    return
  }
  const read = readXlsx(bytes)
  const calculation = new Calculation(read.workbook, read.results, read.source)
  const [sheet] = read.workbook.sheets
  const ops = [{ op: 'cells' as const, sheet: 0, cells: [{ row: 0, column: 0, cell: { value: 'Changed' } }] }]
  const rows = sheet!.rows.slice()
  rows[0] = [{ value: 'Changed' }, ...(rows[0] ?? []).slice(1)]
  const workbook = { sheets: [{ ...sheet!, rows }, ...read.workbook.sheets.slice(1)] }
  calculation.apply(ops, workbook)
  try {
    patchXlsx({
      base: bytes,
      read,
      workbook,
      ops,
      resultOf: (...at) => calculation.resultOf(...at),
      isNew: (...at) => calculation.isNew(...at),
      recalculate: calculation.anyStale,
    })
  } catch (error) {
    if (!(error instanceof NotPatched)) throw error
  } finally {
    calculation.close()
  }
}

let unclear = 0
let refused = 0
let slowest = 0
for (let number = 0; number < wanted; number++) {
  const path = oneOf(files)
  let bytes: Uint8Array
  try {
    bytes = mutant(path)
  } catch {
    // A file that is damaged already has no parts to take.
    continue
  }
  const begun = process.cpuUsage()
  let what: string | null = null
  try {
    use(path, bytes)
  } catch (error) {
    if (error instanceof DamagedFile) refused++
    else what = error instanceof Error ? `${error.stack?.split('\n').slice(0, 4).join(' ')}` : String(error)
  }
  const { user, system } = process.cpuUsage(begun)
  const took = (user + system) / 1000
  slowest = Math.max(slowest, took)
  if (took > longest) what ??= `${Math.round(took)} ms`
  if (!what) continue
  unclear++
  if (process.env.BENCH_TELL) process.stderr.write(`${path.split('/').at(-1)} ${number}: ${what}\n`)
}
report({
  suite: 'mutants',
  case: 'mutants-unclear',
  value: unclear,
  unit: `of ${wanted}, ${refused} refused`,
  baseline: null,
  better: 'lower',
})
report({ suite: 'mutants', case: 'slowest-mutant', value: slowest, unit: 'ms of CPU', baseline: null, better: 'lower' })
