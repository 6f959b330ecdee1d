// Writes edits into the file that they were made in: records that hold no changed cell are the file's own, byte for byte.
import { columnsThatDiffer, rowsThatDiffer } from '../../content/looks'
import { type CellValue, largestSheet, sameCell, sameStyle, sameValue, type Workbook } from '../../content/workbook'
import type { WorkbookOp } from '../../content/workbook-ops'
import { joined, writeCompound } from '../compound/compound'
import { NotPatched } from '../refusals'
import { type ResultOf, widthToFile } from '../xlsx/write'
import { cellRecords, formulaRecords } from './cells'
import { largestOfFormat } from './formula-tokens'
import type { Globals } from './globals'
import { Changes, PatchTables } from './patch-tables'
import { drawnFeature, openXls } from './read'
import { type BiffRecord, record, recordsOf, short, viewOf, written } from './records'
import { textBytes } from './strings'
import { mergedRecords } from './write'

export interface XlsPatch {
  base: Uint8Array
  /** What the base holds. */
  read: { workbook: Workbook; results: readonly ReadonlyMap<number, CellValue>[] }
  /** Everything that was done since, in order. */
  ops: readonly WorkbookOp[]
  workbook: Workbook
  resultOf: ResultOf
}

/** What can be done to a sheet where it stands; rows and columns that come and go cannot. */
const inPlace = new Set(['cells', 'width', 'freeze', 'merge', 'unmerge', 'height', 'hide', 'rename sheet'])

/** What is done to cells, their looks, frozen lines and names of sheets goes into the file. @throws NotPatched for all else */
export function patchXls({ base, read, ops, workbook, resultOf }: XlsPatch): Uint8Array {
  for (const { op } of ops) if (!inPlace.has(op)) throw new NotPatched(op)
  const { root, stream, globals } = openXls(base)
  const drawn = globals.sheets.some(({ cells }) => !cells) || hasDrawings(stream, globals)
  const tables = new PatchTables(globals, drawn)
  const places = new Map<number, number>()
  let cellSheet = 0
  for (const [at, { cells }] of globals.sheets.entries()) if (cells) places.set(at, cellSheet++)
  if (cellSheet !== workbook.sheets.length) throw new NotPatched('sheets')
  tables.sheetNames = globals.sheets.map(({ name }, at) => {
    const place = places.get(at)
    return place === undefined ? name : workbook.sheets[place]!.name
  })
  // Each part of the stream to where the next one begins: something may stand behind the end of one.
  const starts = globals.sheets.map(({ from }) => from)
  const order = [...new Set(starts)].sort((a, b) => a - b)
  if (order.length !== starts.length || order[0]! < globals.end) throw new NotPatched('parts')
  const parts = new Map<number, Uint8Array>()
  for (const [at, { from }] of globals.sheets.entries()) {
    const next = order[order.indexOf(from) + 1] ?? stream.length
    const part = stream.subarray(from, next)
    const place = places.get(at)
    parts.set(
      from,
      place === undefined
        ? part
        : new SheetPatch(part, {
            before: read.workbook.sheets[place]!,
            results: read.results[place] ?? new Map(),
            now: workbook.sheets[place]!,
            resultOf: (row, column) => resultOf(place, row, column),
            tables,
          }).patched(),
    )
  }
  if (!tables.finish()) throw new NotPatched('room')
  const head = (at: (from: number) => number) => {
    const { changes } = tables
    const pieces: Uint8Array[] = []
    let sheet = 0
    for (const [index, one] of globals.records.entries()) {
      if (one.type === record.bound) {
        const data = one.data.slice()
        const { from, name } = globals.sheets[sheet]!
        viewOf(data).setUint32(0, at(from), true)
        const now = tables.sheetNames[sheet++]!
        pieces.push(
          now === name
            ? written(record.bound, data)
            : written(record.bound, [...data.subarray(0, 6), ...textBytes(now, 1)]),
        )
      } else
        pieces.push(
          changes.instead.get(index) ?? (changes.instead.has(index) ? none : stream.subarray(one.from, one.to)),
        )
      pieces.push(...(changes.behind.get(index) ?? []))
    }
    return joined([...pieces, stream.subarray(globals.end, order[0])])
  }
  const begins = new Map<number, number>()
  let end = head(() => 0).length
  for (const from of order) {
    begins.set(from, end)
    end += parts.get(from)!.length
  }
  const bytes = joined([head((from) => begins.get(from)!), ...order.map((from) => parts.get(from)!)])
  return writeCompound({
    ...root,
    children: root.children.map((one) =>
      one.is === 'stream' && one.name.toLowerCase() === 'workbook' ? { ...one, bytes } : one,
    ),
  })
}
const none = new Uint8Array(0)
/** Of cells that have no other (§2.4.353). */
const usualFormat = 15

/** Whether anything is drawn on a sheet that may use the colours of the file: comments and lists of filters do not. */
function hasDrawings(stream: Uint8Array, { sheets }: Globals): boolean {
  for (const { from } of sheets) {
    let depth = 0
    for (const one of recordsOf(stream, from)) {
      if (one.type === record.object && drawnFeature(one.data)) return true
      if (one.type === record.begin) depth++
      if (one.type === record.endOfPart && --depth === 0) break
    }
  }
  return false
}

const placed = (row: number, column: number) => row * largestSheet.columns + column

interface SheetWork {
  before: Workbook['sheets'][number]
  results: ReadonlyMap<number, CellValue>
  now: Workbook['sheets'][number]
  resultOf: (row: number, column: number) => CellValue | undefined
  tables: PatchTables
}
interface Piece {
  column: number
  format: number
  records: Uint8Array[]
}
const ofTable: ReadonlySet<number> = new Set([
  record.row,
  record.blank,
  record.blanks,
  record.number,
  record.shortNumber,
  record.shortNumbers,
  record.text,
  record.label,
  record.truthOrError,
  record.formula,
  0x206,
  0x406,
  record.string,
  record.shared,
  record.array,
  record.dataTable,
  record.indexOfRows,
  // Text with looks of its own.
  0xd6,
])

class SheetPatch {
  private readonly lines = new Map<number, Piece[]>()
  private readonly rowRecords = new Map<number, BiffRecord>()
  /** What is before the cells, and behind them. */
  private readonly ahead: BiffRecord[] = []
  private readonly after: BiffRecord[] = []
  private readonly tail: Uint8Array
  /** Formulas that share one: by the cell that says it. */
  private readonly groups = new Map<number, { row: number; column: number }[]>()

  constructor(
    private readonly part: Uint8Array,
    private readonly work: SheetWork,
  ) {
    let depth = 0
    let seen = false
    let last: Piece | null = null
    let end = part.length
    for (const one of recordsOf(part)) {
      if (one.type === record.begin) depth++
      const inside = depth === 1
      if (one.type === record.endOfPart && --depth === 0) {
        end = one.from
        break
      }
      const goesOn = one.type === record.goesOn && last
      if (inside && (ofTable.has(one.type) || goesOn)) {
        if (this.after.length) throw new NotPatched('cells in two places')
        seen = true
        if (one.type === record.row) {
          this.rowRecords.set(viewOf(one.data).getUint16(0, true), one)
          last = null
        } else if (
          goesOn ||
          one.type === record.string ||
          one.type === record.shared ||
          one.type === record.array ||
          one.type === record.dataTable
        ) {
          if (!last) throw new NotPatched('a record without its cell')
          last.records.push(part.subarray(one.from, one.to))
        } else if (one.type !== record.indexOfRows) last = this.cell(one)
      } else {
        last = null
        ;(seen ? this.after : this.ahead).push(one)
      }
    }
    this.tail = part.subarray(end)
  }

  private cell(one: BiffRecord): Piece {
    const { type, data } = one
    const view = viewOf(data)
    const row = view.getUint16(0, true)
    const first = view.getUint16(2, true)
    const line = this.lines.get(row) ?? []
    this.lines.set(row, line)
    const push = (column: number, format: number, bytes: Uint8Array) => {
      const piece = { column, format, records: [bytes] }
      line.push(piece)
      return piece
    }
    // Several cells in one record are parted where one of them changes, and only there.
    if (type === record.shortNumbers || type === record.blanks) {
      const size = type === record.blanks ? 2 : 6
      const count = Math.floor((data.length - 6) / size)
      const columns = Array.from({ length: count }, (_, at) => first + at)
      const whole = !columns.some((column) => this.changes(row, column))
      if (whole && count > 0) {
        const piece = push(first, view.getUint16(4, true), this.part.subarray(one.from, one.to))
        return piece
      }
      let piece: Piece | null = null
      for (const [at, column] of columns.entries()) {
        const from = 4 + at * size
        const format = view.getUint16(from, true)
        const own = [...short(row), ...short(column), ...data.subarray(from, from + size)]
        piece = push(column, format, written(type === record.blanks ? record.blank : record.shortNumber, own))
      }
      return piece ?? push(first, 15, this.part.subarray(one.from, one.to))
    }
    if (type === record.formula || type === 0x206 || type === 0x406) {
      const [token] = data.subarray(22)
      if (token === 1 || token === 2) {
        const group = placed(view.getUint16(23, true), view.getUint16(25, true))
        const members = this.groups.get(group) ?? []
        members.push({ row, column: first })
        this.groups.set(group, members)
      }
    }
    return push(first, view.getUint16(4, true), this.part.subarray(one.from, one.to))
  }

  private changes(row: number, column: number): boolean {
    const { before, now } = this.work
    return !sameCell(before.rows[row]?.[column], now.rows[row]?.[column])
  }

  patched(): Uint8Array {
    const { before, now, results, resultOf } = this.work
    const changed: { row: number; column: number }[] = []
    const rows = Math.max(before.rows.length, now.rows.length)
    for (let row = 0; row < rows; row++) {
      const [was, is] = [before.rows[row], now.rows[row]]
      if (was === is) continue
      for (let column = 0; column < Math.max(was?.length ?? 0, is?.length ?? 0); column++)
        if (this.changes(row, column)) changed.push({ row, column })
    }
    if (changed.some(({ row, column }) => row >= largestOfFormat.rows || column >= largestOfFormat.columns))
      throw new NotPatched('beyond')
    const again = new Set(changed.map(({ row, column }) => placed(row, column)))
    for (const [group, members] of this.groups) {
      if (!members.some(({ row, column }) => again.has(placed(row, column)))) continue
      if (!this.isShared(group)) throw new NotPatched('a formula of several cells')
      // Each of them says its own from now on.
      for (const { row, column } of members) if (!again.has(placed(row, column))) changed.push({ row, column })
    }
    let touched = changed.length > 0
    for (const { row, column } of changed) this.put(row, column)
    // Results that are others now.
    for (const [row, line] of now.rows.entries())
      for (const [column, cell] of (line ?? []).entries()) {
        const key = placed(row, column)
        if (cell?.formula === undefined || again.has(key)) continue
        const result = resultOf(row, column)
        if (result === undefined || sameValue(result, results.get(key))) continue
        this.putResult(row, column, result)
        touched = true
      }
    const framed = (['widths', 'frozen', 'merged', 'heights', 'hiddenRows', 'hiddenColumns'] as const).some(
      (what) => before[what] !== now[what],
    )
    if (!touched && !framed) return this.part
    const changes = new Changes()
    this.widths(changes)
    this.freeze(changes)
    this.merge(changes)
    const emit = (records: readonly BiffRecord[], offset: number) =>
      records.flatMap((one, index) => {
        const instead = changes.instead.get(offset + index)
        const own = instead === undefined ? this.part.subarray(one.from, one.to) : (instead ?? none)
        return [own, ...(changes.behind.get(offset + index) ?? [])]
      })
    return joined([
      // Where rows begin is not said again: programs find them without.
      ...emit(this.ahead, 0).filter((one) => typeOf(one) !== record.index),
      ...this.table(),
      ...emit(this.after, this.ahead.length),
      this.tail,
    ])
  }

  private isShared(group: number): boolean {
    const [row, column] = [Math.floor(group / largestSheet.columns), group % largestSheet.columns]
    const head = this.pieceAt(row, column)
    return !!head?.records.some((one) => typeOf(one) === record.shared)
  }
  private pieceAt(row: number, column: number): Piece | undefined {
    return this.lines.get(row)?.find((piece) => piece.column === column)
  }

  /** Writes a cell as it is now. */
  private put(row: number, column: number): void {
    const { now, before, tables, resultOf } = this.work
    const cell = now.rows[row]?.[column]
    const was = before.rows[row]?.[column]
    const line = this.lines.get(row) ?? []
    this.lines.set(row, line)
    const at = line.findIndex((piece) => piece.column === column)
    const piece = line[at]
    // A cell that comes new looks as usual; how its column looks is not shown here.
    const own = piece?.format ?? usualFormat
    const style = piece ? was?.style : tables.styleOf(usualFormat)
    const format = sameStyle(style, cell?.style) ? own : tables.formatFor(own, style, cell?.style)
    const head = [...short(row), ...short(column), ...short(format)]
    const records = cellRecords(
      cell,
      head,
      now.name,
      { links: tables, textNumber: (text) => tables.textNumber(text) },
      () => resultOf(row, column),
    )
    const next = { column, format, records }
    if (at >= 0) line[at] = next
    else line.push(next)
  }
  /** Another result of a formula that stays as it is. */
  private putResult(row: number, column: number, result: CellValue): void {
    const piece = this.pieceAt(row, column)
    const [own, ...others] = piece?.records ?? []
    if (!piece || !own || ![record.formula, 0x206, 0x406].includes(typeOf(own) as 0x06)) return
    const view = viewOf(own)
    const length = view.getUint16(24, true)
    const tokens = own.subarray(26, 26 + length)
    const [formula, ...text] = formulaRecords(own.subarray(4, 10), { tokens, more: own.subarray(26 + length) }, result)
    // Whether it is shared, or to be calculated always, stays.
    formula!.set(own.subarray(18, 24), 18)
    const shared = others.filter((one) => typeOf(one) !== record.string && typeOf(one) !== record.goesOn)
    piece.records = [formula!, ...shared, ...text]
  }

  private table(): Uint8Array[] {
    const rows = [...new Set([...this.lines.keys(), ...this.rowRecords.keys(), ...this.framed()])]
      .filter((row) => row < largestOfFormat.rows)
      .sort((a, b) => a - b)
    const pieces: Uint8Array[] = []
    for (let from = 0; from < rows.length; ) {
      let to = from
      while (to < rows.length && rows[to]! >> 5 === rows[from]! >> 5) to++
      const block = rows.slice(from, to)
      for (const row of block) pieces.push(this.rowRecord(row))
      for (const row of block)
        for (const { records } of (this.lines.get(row) ?? []).sort((a, b) => a.column - b.column))
          pieces.push(...records)
      from = to
    }
    return pieces
  }
  /** Rows of another height, and those that are hidden now or shown again. */
  private framed(): ReadonlySet<number> {
    return (this.differing ??= new Set(rowsThatDiffer(this.work.before, this.work.now)))
  }
  private differing: ReadonlySet<number> | null = null
  private hidden: ReadonlySet<number> | null = null
  /** Writes the height of a row, and whether it is shown (§2.4.221), where they are others. */
  private framedRow(row: number, data: Uint8Array): Uint8Array {
    if (!this.framed().has(row)) return data
    const view = viewOf(data)
    const { before, now } = this.work
    const height = now.heights?.[row]
    let flags = view.getUint16(12, true)
    if (height !== before.heights?.[row]) {
      view.setUint16(6, height === undefined ? 0x80ff : Math.min(0x7fff, Math.round(height * 20)), true)
      flags = height === undefined ? flags & ~0x40 : flags | 0x40
    }
    view.setUint16(12, (this.hidden ??= new Set(now.hiddenRows)).has(row) ? flags | 0x20 : flags & ~0x20, true)
    return data
  }
  private rowRecord(row: number): Uint8Array {
    const line = this.lines.get(row) ?? []
    const least = line.reduce((most, { column }) => Math.min(most, column), 256)
    const most = line.reduce((all, { column }) => Math.max(all, column + 1), 0)
    const there = this.rowRecords.get(row)
    if (!there) {
      const fresh = [
        ...short(row),
        ...short(least === 256 ? 0 : least),
        ...short(most),
        0xff,
        0x80,
        0,
        0,
        0,
        0,
        0,
        1,
        15,
        0,
      ]
      return written(record.row, this.framedRow(row, Uint8Array.from(fresh)))
    }
    const data = there.data.slice()
    const view = viewOf(data)
    const [first, until] = [view.getUint16(2, true), view.getUint16(4, true)]
    view.setUint16(2, until ? Math.min(first, least) : least === 256 ? 0 : least, true)
    view.setUint16(4, Math.max(until, most), true)
    return written(record.row, this.framedRow(row, data))
  }

  private indexOf(type: number): number {
    const at = this.ahead.findIndex((one) => one.type === type)
    if (at >= 0) return at
    const behind = this.after.findIndex((one) => one.type === type)
    return behind < 0 ? -1 : this.ahead.length + behind
  }
  private recordAt(at: number): BiffRecord | undefined {
    return at < this.ahead.length ? this.ahead[at] : this.after[at - this.ahead.length]
  }

  private widths(changes: Changes): void {
    const { before, now } = this.work
    const size = this.indexOf(record.size)
    const data = this.recordAt(size)?.data.slice()
    if (data && data.length >= 14) {
      const view = viewOf(data)
      const lines = [...this.lines].filter(([, line]) => line.length)
      const rows = lines.reduce((most, [row]) => Math.max(most, row + 1), 0)
      const columns = lines.reduce((most, [, line]) => Math.max(most, ...line.map(({ column }) => column + 1)), 0)
      const first = lines.reduce((least, [row]) => Math.min(least, row), view.getUint32(0, true))
      const left = lines.reduce(
        (least, [, line]) => Math.min(least, ...line.map(({ column }) => column)),
        view.getUint16(8, true),
      )
      view.setUint32(0, first, true)
      view.setUint32(4, Math.max(rows, view.getUint32(4, true)), true)
      view.setUint16(8, left, true)
      view.setUint16(10, Math.max(columns, view.getUint16(10, true)), true)
      changes.instead.set(size, written(record.size, data))
    }
    if (before.widths === now.widths && before.hiddenColumns === now.hiddenColumns) return
    if (size < 0) throw new NotPatched('width')
    const columns = new Map<number, number[]>()
    for (const [at, { type, data: own }] of this.ahead.entries()) {
      if (type !== record.columns) continue
      const view = viewOf(own)
      for (let column = view.getUint16(0, true); column <= Math.min(255, view.getUint16(2, true)); column++)
        columns.set(column, [...own.subarray(4, 12)])
      changes.instead.set(at, null)
    }
    const isHidden = new Set(now.hiddenColumns)
    for (const column of columnsThatDiffer(before, now)) {
      if (column > 255) continue
      const pixels = now.widths[column]
      const [other, hidden] = [before.widths[column] !== pixels, isHidden.has(column)]
      if (pixels === undefined && !hidden) {
        columns.delete(column)
        continue
      }
      const own = columns.get(column) ?? [...short(usualWidth), 15, 0, 0, 0, 0, 0]
      const width =
        pixels === undefined
          ? other
            ? short(usualWidth)
            : own.slice(0, 2)
          : short(Math.min(65_280, Math.round(widthToFile(pixels) * 256)))
      const flags = (own[4]! & ~3) | (pixels === undefined ? 0 : 2) | (hidden ? 1 : 0)
      columns.set(column, [...width, own[2]!, own[3]!, flags, ...own.slice(5)])
    }
    // Neighbours that are alike are said once.
    const runs: { first: number; last: number; own: number[] }[] = []
    for (const [column, own] of [...columns].sort(([a], [b]) => a - b)) {
      const run = runs.at(-1)
      if (run && run.last === column - 1 && run.own.join() === own.join()) run.last = column
      else runs.push({ first: column, last: column, own })
    }
    changes.putBehind(
      size - 1,
      ...runs.map(({ first, last, own }) => written(record.columns, [...short(first), ...short(last), ...own])),
    )
  }

  /** Merged cells (§2.4.168) are said anew where they are others. */
  private merge(changes: Changes): void {
    const { before, now } = this.work
    if (before.merged === now.merged) return
    const all = this.ahead.length + this.after.length
    const there = Array.from({ length: all }, (_, at) => at).filter((at) => this.recordAt(at)!.type === record.merged)
    for (const at of there) changes.instead.set(at, null)
    let last = there[0] ?? this.indexOf(record.window)
    if (last < 0) throw new NotPatched('merge')
    // Behind how the sheet is looked at: how large, its panes, what is selected, the usual width.
    if (!there.length)
      while ([0x88b, 0xa0, record.pane, 0x1d, 0x99].includes(this.recordAt(last + 1)?.type ?? 0)) last++
    changes.putBehind(last, ...mergedRecords(now.merged ?? []))
  }

  private freeze(changes: Changes): void {
    const { before, now } = this.work
    if (before.frozen === now.frozen) return
    const window = this.indexOf(record.window)
    const data = this.recordAt(window)?.data.slice()
    if (!data) throw new NotPatched('freeze')
    const view = viewOf(data)
    const flags = view.getUint16(0, true) & ~0x108
    const { frozen } = now
    view.setUint16(0, frozen ? flags | 0x108 : flags, true)
    changes.instead.set(window, written(record.window, data))
    const pane = this.indexOf(record.pane)
    if (pane >= 0) changes.instead.set(pane, null)
    if (!frozen) return
    // Behind how large it is shown.
    let last = window
    while ([0x88b, 0xa0].includes(this.recordAt(last + 1)?.type ?? 0)) last++
    const { rows, columns } = frozen
    const active = rows && columns ? 0 : rows ? 2 : 1
    changes.putBehind(
      last,
      written(record.pane, [...short(columns), ...short(rows), ...short(rows), ...short(columns), active, 0]),
    )
  }
}
/** Of a column that says nothing of it, in 256ths of a letter. */
const usualWidth = Math.round(9.14 * 256)
const typeOf = (bytes: Uint8Array): number => (bytes.length >= 2 ? bytes[0]! | (bytes[1]! << 8) : -1)
