// What saving loses of real files: one edit each, at a place that a seed chooses, through the real reader and writer,
// judged by bench/judge.ts. The folder of files is JAULA_FILES; without it there is nothing to measure.
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { Calculation } from '../core/calc/engine'
import {
  type Cell,
  type CellValue,
  cellAt,
  columnName,
  columnNumber,
  isError,
  type Workbook,
} from '../core/content/workbook'
import { applyOp, applyOps, invertOp, type WorkbookOp } from '../core/content/workbook-ops'
import { DamagedFile, NotPatched } from '../core/formats/refusals'
import { patchXlsx } from '../core/formats/xlsx/patch'
import { readXlsx } from '../core/formats/xlsx/read'
import { writeXlsx } from '../core/formats/xlsx/write'
import { difference, every, kids, local, losses, partsOf, type Raw, text, tree } from './judge'
import { largeWorkbook } from './papers'
import { inTurn, report } from './report'
import { judgeDocx } from './whole-docx'

const folder = process.env.JAULA_FILES
if (!folder) {
  process.stderr.write('JAULA_FILES names no folder of files.\n')
  process.exit(0)
}
const seed = Number(process.env.BENCH_SEED ?? 7)
const tell = !!process.env.BENCH_TELL
const only = process.env.BENCH_ONLY
const files = readdirSync(folder, { recursive: true, encoding: 'utf8' })
  .map((name) => join(folder, name))
  .filter((path) => statSync(path).isFile())
  .sort()

/** Numbers that look chosen at random and are the same for one seed and one file (mulberry32). */
function chance(from: string): () => number {
  let state = seed
  for (const letter of from) state = Math.imul(state ^ letter.charCodeAt(0), 0x01000193)
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}

interface Tally {
  whole: number
  all: number
}
const tallies = new Map<string, Tally>()
/** @param told it was written whole, or says what it loses, so that whoever saves is asked */
function count(kind: string, path: string, lost: readonly string[], told: boolean): void {
  if (lost.length && !told) {
    silent++
    if (tell) process.stderr.write(`silent: ${kind} ${path.split('/').at(-1)}\n`)
  }
  const tally = tallies.get(kind) ?? { whole: 0, all: 0 }
  tallies.set(kind, tally)
  tally.all++
  if (!lost.length) tally.whole++
  else if (tell)
    process.stderr.write(`${kind} ${path.split('/').at(-1)}: ${lost.slice(0, 3).join(' | ').slice(0, 300)}\n`)
}
let silent = 0
let unchanged = 0
let opened = 0
let unclear = 0

// Spreadsheets.
const at = (row: number, column: number) => `${columnName(column)}${row + 1}`

/** A sheet's part with the edited cell, and results of formulas, taken out: what is left must be what it was. */
function sheetRule(edited: ReadonlySet<string>, styled: boolean) {
  return (before: Raw, after: Raw): string[] => {
    const strip = (root: Raw, take: boolean) => {
      let row = 0
      for (const data of kids(root, 'sheetData'))
        for (const line of kids(data, 'row')) {
          row = line.attributes.r ? Number(line.attributes.r) : row + 1
          line.attributes = { ...line.attributes, r: String(row) }
          let column = -1
          for (const cell of kids(line, 'c')) {
            column = cell.attributes.r ? columnNumber(cell.attributes.r.replace(/\d+/, '')) : column + 1
            cell.attributes = { ...cell.attributes, r: at(row - 1, column) }
          }
          delete line.attributes.spans
          line.children = line.children.filter(
            (cell) => !take || typeof cell === 'string' || !edited.has(cell.attributes.r ?? ''),
          )
          for (const cell of kids(line, 'c'))
            if (kids(cell, 'f').length) {
              delete cell.attributes.t
              cell.children = cell.children.filter((child) => typeof child === 'string' || local(child.name) === 'f')
            }
        }
      for (const used of kids(root, 'dimension')) used.attributes.ref = ''
    }
    const formats = (root: Raw) =>
      kids(kids(root, 'sheetData')[0])
        .flatMap((line) => kids(line, 'c'))
        .filter((cell) => edited.has(cell.attributes.r ?? ''))
        .map((cell) => cell.attributes.s ?? '0')
        .join()
    const lost: string[] = []
    strip(before, false)
    strip(after, false)
    if (!styled && formats(before) && formats(before) !== formats(after))
      lost.push(`the format of the cell: ${formats(before)} became ${formats(after)}`)
    strip(before, true)
    strip(after, true)
    const what = difference(before, after)
    return what ? [...lost, what] : lost
  }
}

/** The part of each sheet, from the raw workbook. */
function sheetParts(parts: Record<string, Uint8Array>): string[] {
  const workbookName = Object.keys(parts).find((name) => /(^|\/)workbook\d*\.xml$/.test(name))!
  const folderName = workbookName.slice(0, workbookName.lastIndexOf('/') + 1)
  const relations = tree(parts[`${folderName}_rels/${workbookName.slice(folderName.length)}.rels`]!)
  return kids(kids(tree(parts[workbookName]!), 'sheets')[0], 'sheet').flatMap((sheet) => {
    const id = Object.entries(sheet.attributes).find(([key]) => local(key) === 'id')?.[1]
    const relation = kids(relations).find((one) => one.attributes.Id === id)!
    if (!relation || !/\/worksheet$/.test(relation.attributes.Type!)) return []
    const target = relation.attributes.Target!
    return [target.startsWith('/') ? target.slice(1) : folderName + target]
  })
}

function someCell(workbook: Workbook, random: () => number, want: (cell: Cell) => boolean) {
  const found: { sheet: number; row: number; column: number }[] = []
  workbook.sheets.forEach((sheet, index) => {
    sheet.rows.forEach((line, row) =>
      line?.forEach((cell, column) => cell && want(cell) && found.push({ sheet: index, row, column })),
    )
  })
  return found[Math.floor(random() * found.length)]
}

function xlsx(path: string): void {
  const bytes = new Uint8Array(readFileSync(path))
  let read: ReturnType<typeof readXlsx>
  try {
    read = readXlsx(bytes)
  } catch (error) {
    if (!(error instanceof DamagedFile)) {
      unclear++
      if (tell) process.stderr.write(`unclear ${path}: ${error}\n`)
    }
    return
  }
  opened++
  let whole = false
  const write = (workbook: Workbook, ops: readonly WorkbookOp[]): Uint8Array => {
    whole = false
    const resultOf = (sheet: number, row: number, column: number) => read.results[sheet]?.get(row * 16384 + column)
    try {
      return patchXlsx({ base: bytes, read, workbook, ops, resultOf, isNew: () => false })
    } catch (error) {
      if (!(error instanceof NotPatched)) throw error
      if (tell) process.stderr.write(`not patched ${path.split('/').at(-1)}: ${error.message}\n`)
      whole = true
      return writeXlsx(workbook, resultOf)
    }
  }
  const untouched = write(read.workbook, [])
  if (Buffer.compare(untouched, bytes) === 0) unchanged++
  const random = chance(path.split('/').at(-1)!)
  const parts = sheetParts(partsOf(bytes))
  const edit = (kind: string, ops: WorkbookOp[], where: { sheet: number; cells: string[]; styled?: boolean }) => {
    const after = write(applyOps(read.workbook, ops), ops)
    const lost = losses(bytes, after, {
      parts: {
        [parts[where.sheet]!]: sheetRule(new Set(where.cells), !!where.styled),
        ...(where.styled && { 'xl/styles.xml': () => [] }),
      },
      calcChain: true,
    })
    count(`xlsx-${kind}`, path, lost, whole)
    return after
  }
  for (const [kind, ops] of [
    ['sheet-added', [{ op: 'add sheet', at: read.workbook.sheets.length, name: 'Added here' }]],
    ['sheet-renamed', [{ op: 'rename sheet', sheet: 0, name: 'Called otherwise' }]],
  ] satisfies [string, WorkbookOp[]][]) {
    const [was, is] = [partsOf(bytes), partsOf(write(applyOps(read.workbook, ops), ops))]
    const lost = Object.keys(was).filter((name) => {
      if (!is[name]) return !/calcChain/.test(name)
      // A new sheet is told of by the workbook alone; a name is a reference, which stands anywhere.
      if (/workbook\d*\.xml|\[Content_Types\]/.test(name) || kind === 'sheet-renamed') return false
      return Buffer.compare(was[name]!, is[name]!) !== 0
    })
    count(
      `xlsx-${kind}`,
      path,
      lost.map((name) => `${name} is gone or another one`),
      whole,
    )
  }
  newErrors(path, read, chance(`${path.split('/').at(-1)} errors`))
  moveRowsAndColumns(path, bytes, read, chance(`${path.split('/').at(-1)} moved`), write, () => whole)
  undone(path, bytes, read, chance(`${path.split('/').at(-1)} undone`), write)
  const value = someCell(read.workbook, random, (cell) => cell.value !== undefined && !isError(cell.value))
  if (value) {
    const { sheet, row, column } = value
    const style = cellAt(read.workbook.sheets[sheet], row, column)?.style
    const cell: Cell = { value: random() < 0.5 ? 'Water level' : 4711, ...(style && { style }) }
    edit('cell', [{ op: 'cells', sheet, cells: [{ row, column, cell }] }], { sheet, cells: [at(row, column)] })
    edit(
      'format',
      [
        {
          op: 'cells',
          sheet,
          cells: [
            {
              row,
              column,
              cell: {
                ...cellAt(read.workbook.sheets[sheet], row, column)!,
                style: { ...style, bold: true, fill: '#ffe08a' },
              },
            },
          ],
        },
      ],
      { sheet, cells: [at(row, column)], styled: true },
    )
  }
}

/** A few edits and their undoing, which leaves the very bytes. */
function undone(
  path: string,
  bytes: Uint8Array,
  read: ReturnType<typeof readXlsx>,
  random: () => number,
  write: (workbook: Workbook, ops: readonly WorkbookOp[]) => Uint8Array,
): void {
  const sheet = Math.floor(random() * read.workbook.sheets.length)
  const edits: WorkbookOp[] = [
    { op: 'cells', sheet, cells: [{ row: Math.floor(random() * 20), column: 1, cell: { value: 'Changed' } }] },
    { op: 'insert', sheet, axis: 'rows', at: Math.floor(random() * 5), count: 2 },
    { op: 'width', sheet, column: 2, width: 333 },
    { op: 'rename sheet', sheet, name: 'Called otherwise' },
  ]
  const back: WorkbookOp[] = []
  let workbook = read.workbook
  for (const op of edits) {
    back.unshift(...invertOp(workbook, op))
    workbook = applyOp(workbook, op)
  }
  const ops = [...edits, ...back]
  const after = write(back.reduce(applyOp, workbook), ops)
  count('xlsx-edit-and-undo', path, Buffer.compare(after, bytes) === 0 ? [] : ['other bytes'], false)
}

let agreeing = 0
let reckoned = 0
let stored = 0
let errors = 0
/** What opening, and then changing one number, makes of the results that the file holds. */
function newErrors(path: string, read: ReturnType<typeof readXlsx>, random: () => number): void {
  if (read.workbook.sheets.some(({ rows }) => rows.length > 20_000)) return
  const calculation = new Calculation(read.workbook, read.results, read.source)
  // What this engine makes of it when nothing is known; a result that it cannot have stays the file's.
  const anew = new Calculation(read.workbook, [], read.source)
  const same = (now: CellValue | undefined, value: CellValue): boolean =>
    typeof now === 'number' && typeof value === 'number'
      ? Math.abs(now - value) <= 1e-9 * Math.max(1, Math.abs(value))
      : JSON.stringify(now) === JSON.stringify(value)
  const held = (visit: (sheet: number, row: number, column: number, value: CellValue) => void) => {
    for (const [sheet, results] of read.results.entries())
      for (const [key, value] of results) visit(sheet, Math.floor(key / 16384), key % 16384, value)
  }
  held((sheet, row, column, value) => {
    if (/\b(?:NOW|TODAY|RAND|RANDBETWEEN)\b/i.test(cellAt(read.workbook.sheets[sheet], row, column)?.formula ?? ''))
      return
    stored++
    if (same(calculation.resultOf(sheet, row, column), value)) agreeing++
    if (anew.standing(sheet, row, column) === 'stale' || same(anew.resultOf(sheet, row, column), value)) reckoned++
    else if (tell)
      process.stderr.write(
        `otherwise ${path.split('/').at(-1)} ${sheet} ${row} ${column}: ${JSON.stringify(anew.resultOf(sheet, row, column))} for ${JSON.stringify(value)}\n`,
      )
  })
  anew.close()
  const number = someCell(read.workbook, random, (cell) => typeof cell.value === 'number')
  if (number) {
    const { sheet, row, column } = number
    const old = cellAt(read.workbook.sheets[sheet], row, column)!
    const ops: WorkbookOp[] = [
      { op: 'cells', sheet, cells: [{ row, column, cell: { ...old, value: Number(old.value) + 1 } }] },
    ]
    calculation.apply(ops, applyOps(read.workbook, ops))
    held((at, y, x, value) => {
      const now = calculation.resultOf(at, y, x)
      if (isError(value) || !isError(now)) return
      errors++
      if (tell)
        process.stderr.write(
          `new error ${path.split('/').at(-1)} ${at} ${y} ${x}: ${now.error} ${cellAt(read.workbook.sheets[at], y, x)?.formula?.slice(0, 80)}\n`,
        )
    })
  }
  calculation.close()
}

/** References in a text, moved by one row or column that comes before `at` or goes there: a rule of the judge's own. */
function movedText(
  text: string,
  home: boolean,
  sheet: string,
  axis: 'rows' | 'columns',
  at: number,
  by: 1 | -1,
): string {
  const name = sheet.toLowerCase()
  const number = (letters: string) =>
    [...letters.toUpperCase()].reduce((sum, one) => sum * 26 + one.charCodeAt(0) - 64, 0)
  const one = (value: number): number | null => {
    if (by > 0) return value >= at + 1 ? value + 1 : value
    if (value === at + 1) return null
    return value > at + 1 ? value - 1 : value
  }
  const ends = (first: number, last: number): [number, number] | null => {
    if (by > 0) return [one(first)!, one(last)!]
    if (first === last && first === at + 1) return null
    return [first > at + 1 ? first - 1 : first, last >= at + 1 ? last - 1 : last]
  }
  return text.replace(
    /"(?:[^"]|"")*"|\[[^\]]*\]|((?:'(?:[^']|'')+'|[\p{L}_][\p{L}\p{N}_.]*)!)?(?:(\$?)([A-Za-z]{1,3})(\$?)(\d{1,7})(?::(\$?)([A-Za-z]{1,3})(\$?)(\d{1,7}))?|(\$?)(\d{1,7}):(\$?)(\d{1,7})|(\$?)([A-Za-z]{1,3}):(\$?)([A-Za-z]{1,3}))(?![\p{L}\p{N}_.(!])|[\p{L}_][\p{L}\p{N}_.]*/gu,
    (whole, prefix, c1, a1, r1, n1, c2, a2, r2, n2, rr1, m1, rr2, m2, cc1, b1, cc2, b2) => {
      if (!a1 && !m1 && !b1) return whole
      const on = prefix ? prefix.slice(0, -1).replace(/^'|'$/g, '').replaceAll("''", "'").toLowerCase() === name : home
      if (!on || (prefix && /[[:]/.test(prefix.slice(0, -1)))) return whole
      const before = prefix ?? ''
      if (m1) {
        const moved = axis === 'rows' ? ends(Number(m1), Number(m2)) : [Number(m1), Number(m2)]
        return moved ? `${before}${rr1}${moved[0]}:${rr2}${moved[1]}` : `${before}#REF!`
      }
      if (b1) {
        const moved = axis === 'columns' ? ends(number(b1), number(b2)) : [number(b1), number(b2)]
        return moved
          ? `${before}${cc1}${columnName(moved[0]! - 1)}:${cc2}${columnName(moved[1]! - 1)}`
          : `${before}#REF!`
      }
      const [x, y] = [
        axis === 'columns' ? ends(number(a1), number(a2 ?? a1)) : [number(a1), number(a2 ?? a1)],
        axis === 'rows' ? ends(Number(n1), Number(n2 ?? n1)) : [Number(n1), Number(n2 ?? n1)],
      ]
      if (!x || !y) return `${before}#REF!`
      const first = `${c1}${columnName(x[0]! - 1)}${r1}${y[0]}`
      return `${before}${first}${n2 ? `:${c2}${columnName(x[1]! - 1)}${r2}${y[1]}` : ''}`
    },
  )
}

/** Every reference of a file, as text with where it stands, moved or as it is. */
function referencesOf(
  parts: Record<string, Uint8Array>,
  sheet: { part: string; name: string },
  all: { part: string; name: string }[],
  move: (text: string, home: boolean) => string,
): string[] {
  const own = new Set([sheet.part])
  const folderOf = (part: string) => part.slice(0, part.lastIndexOf('/') + 1)
  const rels = `${folderOf(sheet.part)}_rels/${sheet.part.split('/').at(-1)}.rels`
  if (parts[rels])
    for (const { attributes } of kids(tree(parts[rels]!)))
      if (attributes.TargetMode !== 'External')
        own.add(new URL(attributes.Target!, `file:///${folderOf(sheet.part)}`).pathname.slice(1))
  const found: string[] = []
  for (const [part, bytes] of Object.entries(parts).toSorted(([a], [b]) => (a < b ? -1 : 1))) {
    if (!/^xl\/.*\.xml$/.test(part) || /externalLinks|calcChain|sharedStrings|styles\.xml|theme/.test(part)) continue
    const owns = own.has(part)
    const home = all.find((one) => one.part === part)
    const sheets =
      part === 'xl/workbook.xml'
        ? kids(kids(tree(bytes), 'sheets')[0], 'sheet').map(({ attributes }) => attributes.name)
        : []
    const visit = (element: Raw, inCells: boolean) => {
      const name = local(element.name)
      if (inCells && name === 'f') {
        if (element.attributes.t !== 'shared') found.push(`${part} f ${move(text(element), owns)}`)
        return
      }
      if (name === 'sheetData') {
        for (const child of kids(element)) visit(child, true)
        return
      }
      if (!inCells) {
        // What stands for cells alone that went is gone with them: a format by condition, a validation.
        const ranges = owns && /^(?:conditional\w+|dataValidation)$/.test(name) ? element.attributes.sqref : undefined
        if (ranges?.split(' ').every((one) => move(one, true).includes('#REF!'))) return
        if (owns)
          for (const key of ['ref', 'sqref', 'activeCell', 'topLeftCell'])
            if (element.attributes[key] && name !== 'dimension' && name !== 'worksheetSource')
              for (const one of element.attributes[key]!.split(' ')) {
                const now = move(one, true)
                const [first, last] = now.split(':')
                if (
                  !now.includes('#REF!') &&
                  !(name === 'mergeCell' && first === last) &&
                  !/^(?:pane|selection|sheetView)$/.test(name)
                )
                  found.push(`${part} ${name} ${now}`)
              }
        if (/^(?:f|formula|formula1|formula2|calculatedColumnFormula)$/.test(name) && !kids(element).length)
          found.push(`${part} ${name} ${move(text(element), !!home && owns)}`)
        if (name === 'definedName') {
          const on = element.attributes.localSheetId
          found.push(
            `${part} ${element.attributes.name} ${move(text(element), on !== undefined && sheets[Number(on)] === sheet.name)}`,
          )
        }
        if (name === 'worksheetSource' && element.attributes.sheet === sheet.name && element.attributes.ref)
          found.push(`${part} source ${move(element.attributes.ref, true)}`)
      }
      for (const child of kids(element)) visit(child, inCells)
    }
    visit(tree(bytes), false)
  }
  return found
}

function moveRowsAndColumns(
  path: string,
  bytes: Uint8Array,
  read: ReturnType<typeof readXlsx>,
  random: () => number,
  write: (workbook: Workbook, ops: readonly WorkbookOp[]) => Uint8Array,
  told: () => boolean,
): void {
  const before = partsOf(bytes)
  const names = read.workbook.sheets.map(({ name }) => name)
  const all = sheetParts(before).map((part, index) => ({ part, name: names[index]! }))
  const index = Math.floor(random() * all.length)
  const sheet = all[index]!
  const size = read.workbook.sheets[index]!.rows.length
  const width = Math.max(1, ...read.workbook.sheets[index]!.rows.map((row) => row?.length ?? 0))
  for (const [kind, op, axis] of [
    ['row-inserted', 'insert', 'rows'],
    ['row-removed', 'remove', 'rows'],
    ['column-inserted', 'insert', 'columns'],
    ['column-removed', 'remove', 'columns'],
  ] as const) {
    const at = Math.floor(random() * (axis === 'rows' ? Math.max(1, size) : width))
    const ops: WorkbookOp[] = [{ op, sheet: index, axis, at, count: 1 }]
    const after = partsOf(write(applyOps(read.workbook, ops), ops))
    const gone = Object.keys(before).filter((name) => !after[name] && !/calcChain/.test(name))
    const by = op === 'insert' ? 1 : -1
    const wanted = referencesOf(before, sheet, all, (one, home) => movedText(one, home, sheet.name, axis, at, by))
    const is = new Map<string, number>()
    for (const one of referencesOf(after, sheet, all, (text) => text)) is.set(one, (is.get(one) ?? 0) + 1)
    const missing = wanted.filter((one) => {
      const left = is.get(one) ?? 0
      is.set(one, left - 1)
      // The formulas of cells that went are gone; those of cells are checked against the model at every save.
      return left <= 0 && !(op === 'remove' && / f /.test(one))
    })
    const lost = [...gone.map((name) => `${name} is gone`), ...missing.map((one) => `reference ${one}`)]
    count(`xlsx-${kind}`, path, lost, told())
  }
}

for (const path of files) {
  if (only && !path.includes(only)) continue
  if (/\.xls[xm]$/i.test(path)) xlsx(path)
  if (/\.doc[xm]$/i.test(path)) {
    const name = path.split('/').at(-1)!
    const judged = judgeDocx(path, chance(name), (said) => tell && process.stderr.write(`${name}: ${said}\n`))
    if (judged.unclear) unclear++
    if (judged.unclear && tell) process.stderr.write(`unclear ${name}: ${judged.unclear}\n`)
    if (!judged.opened) continue
    opened++
    if (judged.unchanged) unchanged++
    for (const [kind, lost, told] of judged.kinds) count(`docx-${kind}`, path, lost, told)
  }
}
const share = ({ whole, all }: Tally) => whole / Math.max(1, all)
for (const [kind, tally] of tallies)
  report({
    suite: 'whole',
    case: kind,
    value: share(tally),
    unit: `of ${tally.all} files`,
    baseline: null,
    better: 'higher',
  })
report({
  suite: 'whole',
  case: 'results-agree',
  value: agreeing / Math.max(1, stored),
  unit: `of ${stored} results`,
  baseline: null,
  better: 'higher',
})
report({
  suite: 'whole',
  case: 'results-reckoned-alike',
  value: reckoned / Math.max(1, stored),
  unit: `of ${stored} results`,
  baseline: null,
  better: 'higher',
})
report({
  suite: 'whole',
  case: 'new-errors',
  value: errors,
  unit: 'results after one number',
  baseline: null,
  better: 'lower',
})
{
  // One cell of two hundred thousand, beside writing the whole anew.
  const large = writeXlsx(largeWorkbook(200_000), () => 1)
  const read = readXlsx(large)
  const ops: WorkbookOp[] = [{ op: 'cells', sheet: 0, cells: [{ row: 100, column: 1, cell: { value: 'Changed' } }] }]
  const workbook = applyOps(read.workbook, ops)
  const { ours, baseline } = await inTurn(
    5,
    () => patchXlsx({ base: large, read, workbook, ops, resultOf: () => undefined, isNew: () => false }),
    () => writeXlsx(workbook, () => 1),
  )
  report({ suite: 'whole', case: 'save-one-cell-of-200k', value: ours, unit: 'ms', baseline, better: 'lower' })
}
{
  // A thousand sums by a criterion over four thousand rows, beside a thousand plain sums over them.
  const sums = (formula: (row: number) => string): Workbook => ({
    sheets: [
      {
        name: 'Sums',
        widths: {},
        rows: Array.from({ length: 4000 }, (_, row) => [
          { value: `LK${row % 1000}` },
          { value: row },
          row < 1000 ? { formula: formula(row) } : undefined,
        ]),
      },
    ],
  })
  const [asked, plain] = [
    sums((row) => `SUMIF(A$1:A$4000,"LK${row}",B$1:B$4000)`),
    sums((row) => `SUM(B$1:B$4000)+${row}`),
  ]
  const { ours, baseline } = await inTurn(
    5,
    () => new Calculation(asked).close(),
    () => new Calculation(plain).close(),
  )
  report({ suite: 'whole', case: 'sums-by-criteria', value: ours, unit: 'ms', baseline, better: 'lower' })
}
report({
  suite: 'whole',
  case: 'no-edit-same-bytes',
  value: unchanged / Math.max(1, opened),
  unit: `of ${opened} files`,
  baseline: null,
  better: 'higher',
})
report({ suite: 'whole', case: 'silent-losses', value: silent, unit: 'edits', baseline: null, better: 'lower' })
report({ suite: 'whole', case: 'unclear-failures', value: unclear, unit: 'files', baseline: null, better: 'lower' })
void [every, text]
