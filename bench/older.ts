// Spreadsheets of older programs, those of a folder: whether they open, whether an independent reader finds the same values
// in them and in what is saved of them, and what one changed cell costs.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { extname, join } from 'node:path'
import { type CellValue, isError, largestSheet } from '../core/content/workbook'
import { applyOps, type WorkbookOp } from '../core/content/workbook-ops'
import { DamagedFile, NotPatched } from '../core/formats/refusals'
import { patchXls } from '../core/formats/xls/patch'
import { readXls } from '../core/formats/xls/read'
import { lostInXls, writeXls } from '../core/formats/xls/write'
import { readXlsx } from '../core/formats/xlsx/read'
import { report } from './report'

/** What Debian's xlrd reads: by file, by sheet, row, column, kind and value; null for a file that it refuses. */
const reader = `
import xlrd, json, sys, io, os
for name in sorted(os.listdir('.')):
    if not name.lower().endswith('.xls'): continue
    try:
        w = xlrd.open_workbook(name, logfile=io.StringIO())
        cells = [[i, y, x, s.cell_type(y, x), s.cell_value(y, x)] for i, s in enumerate(w.sheets()) for y in range(s.nrows) for x in range(s.row_len(y)) if s.cell_type(y, x) not in (0, 6) and s.cell_value(y, x) != '']
        print(json.dumps([name, [s.name for s in w.sheets()], w.datemode, cells]))
    except Exception as error:
        print(json.dumps([name, None, 0, str(error)]))
`
type Read = [
  name: string,
  sheets: string[] | null,
  from1904: number,
  cells: [number, number, number, number, string | number][],
]
const readElsewhere = (folder: string): Read[] =>
  execFileSync('/usr/bin/python3', ['-c', reader], { cwd: folder, encoding: 'utf8', maxBuffer: 2 ** 30 })
    .trim()
    .split('\n')
    .filter(Boolean)
    .map((line) => JSON.parse(line) as Read)

const errors: Record<number, string> = {
  0: '#NULL!',
  7: '#DIV/0!',
  15: '#VALUE!',
  23: '#REF!',
  29: '#NAME?',
  36: '#NUM!',
  42: '#N/A',
}
/** How many values of a file an independent reader reads as they are read here. */
function agreeing(bytes: Uint8Array, [, sheets, from1904, cells]: Read): { same: number; all: number } {
  const { workbook, results } = readXls(bytes)
  let same = 0
  for (const [at, row, column, kind, wanted] of cells) {
    const sheet = workbook.sheets.findIndex(({ name }) => name === sheets![at])
    const cell = workbook.sheets[sheet]?.rows[row]?.[column]
    const value: CellValue | undefined =
      cell?.formula === undefined ? cell?.value : results[sheet]?.get(row * largestSheet.columns + column)
    if (kind === 1) same += value === wanted ? 1 : 0
    else if (kind === 4) same += value === (wanted === 1) ? 1 : 0
    else if (kind === 5) same += isError(value) && value.error === errors[wanted as number] ? 1 : 0
    else if (typeof value === 'number') {
      const near = (other: number) => Math.abs(value - other) <= 1e-9 * Math.max(1, Math.abs(other))
      same += near(wanted as number) || (from1904 && near((wanted as number) + 1462)) ? 1 : 0
    }
  }
  return { same, all: cells.length }
}

export function olderSpreadsheets(folder: string): void {
  const scratch = mkdtempSync(join(tmpdir(), 'jaula-bench-'))
  const put = (part: string, name: string, bytes: Uint8Array) => writeFileSync(join(scratch, part, name), bytes)
  const share = (name: string, part: number, all: number, what: string) =>
    report({
      suite: 'types',
      case: name,
      value: all ? part / all : Number.NaN,
      unit: `of ${all} ${what}`,
      baseline: 1,
      better: 'higher',
    })
  try {
    for (const part of ['as-they-are', 'changed', 'written']) execFileSync('mkdir', [join(scratch, part)])
    let undamaged = 0
    let opens = 0
    let kept = 0
    let written = 0
    let equal = 0
    for (const name of readdirSync(folder, { recursive: true, encoding: 'utf8' }).toSorted()) {
      const ending = extname(name).toLowerCase()
      if (ending !== '.xls' && ending !== '.xlsx') continue
      const bytes = readFileSync(join(folder, name))
      const flat = name.replaceAll(/[/\\]/g, ' ')
      let read: ReturnType<typeof readXlsx>
      try {
        read = ending === '.xls' ? readXls(bytes) : readXlsx(bytes)
      } catch (error) {
        if (!(error instanceof DamagedFile)) throw error
        if (ending === '.xls') {
          undamaged += /password|protected/.test(error.message) ? 0 : 1
          process.stderr.write(`not opened: ${name} (${error.message})\n`)
        }
        continue
      }
      const { workbook, results, source, usual } = read
      const resultOf = (sheet: number, row: number, column: number) =>
        results[sheet]?.get(row * largestSheet.columns + column)
      const whole = writeXls({ workbook, resultOf, names: source.names, usual })
      written++
      if (!whole.lost.length) equal++
      put('written', flat.replace(/x$/, ''), whole.bytes)
      if (ending !== '.xls') continue
      undamaged++
      opens++
      put('as-they-are', flat, bytes)
      const row = workbook.sheets[0]!.rows.length
      const ops: WorkbookOp[] = [{ op: 'cells', sheet: 0, cells: [{ row, column: 0, cell: { value: 'Read by Ida' } }] }]
      const now = applyOps(workbook, ops)
      try {
        const changed = patchXls({ base: bytes, read, ops, workbook: now, resultOf })
        put('changed', flat, changed)
        if (!lostInXls({ workbook: now, resultOf, names: source.names }, changed).length) kept++
      } catch (error) {
        if (!(error instanceof NotPatched)) throw error
      }
    }
    share('opens-xls', opens, undamaged, 'files without a password')
    share('xls-changed-cell-keeps-all', kept, opens, 'files')
    share('written-read-equal-xls', equal, written, 'files (xls and xlsx)')
    for (const part of ['as-they-are', 'changed', 'written']) {
      let same = 0
      let all = 0
      for (const one of readElsewhere(join(scratch, part))) {
        if (!one[1]) process.stderr.write(`refused by the other reader, ${part}: ${one[0]} (${one[3]})\n`)
        else {
          const found = agreeing(readFileSync(join(scratch, part, one[0])), one)
          same += found.same
          all += found.all
        }
      }
      share(`xls-values-agree-${part}`, same, all, 'cells')
    }
  } finally {
    rmSync(scratch, { recursive: true, force: true })
  }
}
