// Two people's versions of a workbook, merged over the version that both began from. Rows, columns and sheets
// that either put in or took away are settled first; then each cell is merged where it belongs, with its
// formulas read as they stand once the other side's rows and columns have moved them.
import { type Axis, alignSheets, cellKey } from '../compare/axis'
import { matchSheets, unlikeAll } from '../compare/workbook'
import { mergeAbout, workbookAbout } from '../content/about'
import { type EntryRule, ruleKey, rulesOutside, withRuleFormulas } from '../content/entry-rules'
import { relocateFormula } from '../content/formula'
import { inOrder, overlap } from '../content/looks'
import { columnsOf, type SheetFilter, sameFilter } from '../content/sheet-filter'
import {
  type Cell,
  type CellStyle,
  type MergedArea,
  type Row,
  type Sheet,
  sameCell,
  sameValue,
  type Workbook,
} from '../content/workbook'
import { tidyCell } from '../content/workbook-ops'

/** A cell that both changed, each to something else. Mine stands there. */
export interface CellConflict {
  sheet: string
  row: number
  column: number
  base: Cell | null
  mine: Cell | null
  theirs: Cell | null
}
export interface MergedWorkbook {
  workbook: Workbook
  conflicts: CellConflict[]
}

/** One row, column or sheet of the result: where it is in each of the three. */
interface Line {
  base: number | null
  mine: number | null
  theirs: number | null
}

/**
 * Lines of the result in order: what both still have and what either put in.
 * @param keeps for a base line that one side took away: whether the other changed it, so that it stays
 * @param sameAdded whether lines that both put in at one place are the same
 */
function mergeAxis(
  mine: Axis,
  theirs: Axis,
  keeps: (line: Line) => boolean,
  sameAdded: (mine: readonly number[], theirs: readonly number[]) => boolean,
): Line[] {
  const lines: Line[] = []
  let [m, t] = [0, 0]
  const added = (axis: Axis, from: number, before: number) => axis.added.slice(from).filter((at) => at < before)
  const put = (beforeMine: number, beforeTheirs: number) => {
    const ours = added(mine, m, beforeMine)
    const others = added(theirs, t, beforeTheirs)
    m += ours.length
    t += others.length
    if (ours.length && sameAdded(ours, others))
      for (const [index, at] of ours.entries()) lines.push({ base: null, mine: at, theirs: others[index]! })
    else {
      for (const at of ours) lines.push({ base: null, mine: at, theirs: null })
      for (const at of others) lines.push({ base: null, mine: null, theirs: at })
    }
  }
  const size = Math.max(mine.to.length, theirs.to.length)
  for (let base = 0; base < size; base++) {
    const line = { base, mine: mine.to[base] ?? null, theirs: theirs.to[base] ?? null }
    // Lines that came before this one on a side that still has it.
    put(line.mine ?? -1, line.theirs ?? -1)
    if (line.mine === null && line.theirs === null) continue
    if ((line.mine === null || line.theirs === null) && !keeps(line)) continue
    lines.push(line)
  }
  put(Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY)
  return lines
}

type Side = 'base' | 'mine' | 'theirs'
const sides: readonly Side[] = ['base', 'mine', 'theirs']

interface SheetPlan {
  name: string
  sheets: Record<Side, Sheet | null>
  rows: Line[]
  columns: Line[]
}

export function mergeWorkbooks(base: Workbook, mine: Workbook, theirs: Workbook): MergedWorkbook {
  const plans = planSheets(base, mine, theirs)
  // Where each side's rows and columns are in the result, by the sheet's name on that side.
  const places = Object.fromEntries(
    sides.map((side) => [
      side,
      new Map(
        plans.flatMap((plan) => {
          const sheet = plan.sheets[side]
          if (!sheet) return []
          return [
            [
              sheet.name.toLowerCase(),
              { name: plan.name, rows: back(plan.rows, side), columns: back(plan.columns, side) },
            ],
          ]
        }),
      ),
    ]),
  ) as Record<Side, Map<string, Place>>
  const moved = Object.fromEntries(
    sides.map((side) => [side, [...places[side]].some(([name, place]) => !stays(name, place))]),
  )
  const relocated = (side: Side, home: string, formula: string): string =>
    relocateFormula(formula, home, (name, axis, index) => {
      const place = places[side].get(name.toLowerCase())
      return place ? { name: place.name, index: at(place[axis], index) } : { name, index }
    })
  const read = (side: Side, sheet: Sheet | null, row: Row | undefined, column: number | null): Cell | undefined => {
    if (!sheet || !row || column === null) return undefined
    const cell = row[column]
    if (cell?.formula === undefined || !moved[side]) return cell
    const formula = relocated(side, sheet.name, cell.formula)
    return formula === cell.formula ? cell : { ...cell, formula }
  }
  const conflicts: CellConflict[] = []
  const merged = plans.map((plan): Sheet => {
    const { base: sheetWas, mine: sheetIs, theirs: sheetOther } = plan.sheets
    const columns = plan.columns
    const rowOf = (sheet: Sheet | null, at: number | null) => (sheet && at !== null ? sheet.rows[at] : undefined)
    const rows: (Row | undefined)[] = plan.rows.map((line, row) => {
      const cells: (Cell | undefined)[] = []
      const [rowWas, rowIs, rowOther] = [
        rowOf(sheetWas, line.base),
        rowOf(sheetIs, line.mine),
        rowOf(sheetOther, line.theirs),
      ]
      // Without lists and functions made for each cell: there may be a million of them.
      for (let column = 0; column < columns.length; column++) {
        const across = columns[column]!
        const was = read('base', sheetWas, rowWas, across.base)
        const is = read('mine', sheetIs, rowIs, across.mine)
        const other = read('theirs', sheetOther, rowOther, across.theirs)
        // A line that only one side has is that side's.
        const noneMine = sheetWas !== null && (line.mine === null || across.mine === null)
        const noneTheirs = sheetWas !== null && (line.theirs === null || across.theirs === null)
        let cell: Cell | undefined
        if (noneMine) cell = noneTheirs ? (is ?? other) : other
        else if (noneTheirs || sameCell(is, other)) cell = is
        else if (sameCell(was, is)) cell = other
        else if (sameCell(was, other)) cell = is
        else {
          if (bothChanged(was, is, other))
            conflicts.push({
              sheet: plan.name,
              row,
              column,
              base: was ?? null,
              mine: is ?? null,
              theirs: other ?? null,
            })
          cell = mergeCell(was, is, other)
        }
        cells[column] = tidyCell(cell)
      }
      while (cells.length && cells.at(-1) === undefined) cells.pop()
      return cells.length ? cells : undefined
    })
    while (rows.length && rows.at(-1) === undefined) rows.pop()
    const widths: Record<number, number> = {}
    for (const [column, across] of plan.columns.entries()) {
      const [was, is, other] = sides.map((side) =>
        across[side] === null ? undefined : plan.sheets[side]?.widths[across[side]!],
      )
      const width = across.mine === null ? other : across.theirs === null ? is : is === was ? other : is
      if (width !== undefined) widths[column] = width
    }
    const { base: was, mine: is, theirs: other } = plan.sheets
    const frozen = (is && was && same(is.frozen, was.frozen) && other ? other : (is ?? other))?.frozen
    const setUp = (is && was && same(is.setUp, was.setUp) && other ? other : (is ?? other))?.setUp
    return {
      name: plan.name,
      rows,
      widths,
      ...(frozen && { frozen }),
      ...mergeFrames(plan),
      ...mergeFilters(plan),
      ...mergeRules(plan, relocated),
      ...(setUp && { setUp }),
    }
  })
  const about = mergeAbout(base.about, mine.about, theirs.about)
  return { workbook: workbookAbout<Workbook>({ sheets: merged }, about), conflicts }
}

interface Place {
  name: string
  rows: Int32Array
  columns: Int32Array
}

const same = (a: unknown, b: unknown) => a === b || JSON.stringify(a) === JSON.stringify(b)

/** For each index on a side, its index in the result; -1 for one that is not there. */
function back(lines: readonly Line[], side: Side): Int32Array {
  const size = lines.reduce((most, line) => Math.max(most, (line[side] ?? -1) + 1), 0)
  const places = new Int32Array(size).fill(-1)
  for (const [index, line] of lines.entries()) if (line[side] !== null) places[line[side]!] = index
  return places
}
const stays = (name: string, { name: now, rows, columns }: Place) =>
  name === now.toLowerCase() && [rows, columns].every((axis) => axis.every((to, index) => to === index))
/** Beyond what has cells, lines follow the last one. */
function at(axis: Int32Array, index: number): number | null {
  if (index < axis.length) return axis[index]! < 0 ? null : axis[index]!
  const last = axis.length ? Math.max(...[axis.at(-1)!, axis.at(-2) ?? -1]) : -1
  return last < 0 && axis.length ? index : index - (axis.length - 1) + last
}

const sameEntry = (a: Cell | undefined, b: Cell | undefined): boolean =>
  a?.formula === b?.formula && sameValue(a?.value, b?.value)

/** Whether both wrote something else into a cell, and not the same. */
const bothChanged = (was: Cell | undefined, is: Cell | undefined, other: Cell | undefined): boolean =>
  !sameEntry(is, was) && !sameEntry(other, was) && !sameEntry(is, other)

/** A cell that both changed: what it says from whoever changed that, mine where both did; its look trait by trait. */
function mergeCell(was: Cell | undefined, is: Cell | undefined, other: Cell | undefined): Cell {
  const from = sameEntry(is, was) ? other : is
  const style = mergeStyle(was?.style, is?.style, other?.style)
  return {
    ...(from?.formula !== undefined && { formula: from.formula }),
    ...(from?.value !== undefined && { value: from.value }),
    ...(style && { style }),
  }
}

/** What stands around the cells: each line, and each merged area, from whichever side changed it; mine where both did. */
function mergeFrames({
  sheets,
  rows,
  columns,
}: SheetPlan): Pick<Sheet, 'merged' | 'heights' | 'hiddenRows' | 'hiddenColumns'> {
  const { base, mine, theirs } = sheets
  if (![base, mine, theirs].some((one) => one && (one.merged || one.heights || one.hiddenRows || one.hiddenColumns)))
    return {}
  /** What both say of the lines of an axis, those past the last one of the result counted on. */
  const ofLines = <T>(
    lines: readonly Line[],
    valueOf: (sheet: Sheet | null, line: number) => T | undefined,
    last: number,
  ) => {
    const found: [number, T][] = []
    const past = { base: 0, mine: 0, theirs: 0 }
    for (const line of lines)
      for (const side of sides) if (line[side] !== null) past[side] = Math.max(past[side], line[side]! + 1)
    const beyond = Math.max(0, ...sides.map((side) => last - past[side] + 1))
    for (let at = 0; at < lines.length + beyond; at++) {
      const line =
        lines[at] ??
        (Object.fromEntries(sides.map((side) => [side, past[side] + at - lines.length])) as unknown as Line)
      const [was, is, other] = sides.map((side) =>
        line[side] === null ? undefined : valueOf(sheets[side], line[side]!),
      )
      const value = line.mine === null || !mine ? other : line.theirs === null || !theirs ? is : is === was ? other : is
      if (value !== undefined) found.push([at, value])
    }
    return found
  }
  const all = [base, mine, theirs]
  const lastOf = (of: (sheet: Sheet) => readonly number[]) =>
    Math.max(-1, ...all.map((one) => (one ? Math.max(-1, ...of(one)) : -1)))
  const hiddenIn = new Map(
    all.map((one) => [one, { rows: new Set(one?.hiddenRows), columns: new Set(one?.hiddenColumns) }] as const),
  )
  const hidden = (lines: readonly Line[], axis: 'rows' | 'columns') =>
    ofLines(
      lines,
      (sheet, line) => hiddenIn.get(sheet)?.[axis].has(line) || undefined,
      lastOf((sheet) => (axis === 'rows' ? sheet.hiddenRows : sheet.hiddenColumns) ?? []),
    ).map(([line]) => line)
  const heights = ofLines(
    rows,
    (sheet, line) => sheet?.heights?.[line],
    lastOf((sheet) => Object.keys(sheet.heights ?? {}).map(Number)),
  )
  const [hiddenRows, hiddenColumns] = [hidden(rows, 'rows'), hidden(columns, 'columns')]
  const merged = mergeAreas(sheets, rows, columns)
  return {
    ...(merged.length && { merged }),
    ...(heights.length && { heights: Object.fromEntries(heights) }),
    ...(hiddenRows.length && { hiddenRows }),
    ...(hiddenColumns.length && { hiddenColumns }),
  }
}

/** Areas of both where they are in the result, without those that either parted; of two that overlap, mine. */
function mergeAreas(sheets: SheetPlan['sheets'], rows: readonly Line[], columns: readonly Line[]): MergedArea[] {
  const moved = Object.fromEntries(
    sides.map((side) => {
      const [down, right] = [back(rows, side), back(columns, side)]
      const areas = (sheets[side]?.merged ?? []).flatMap((area): MergedArea[] => {
        const [vertical, across] = [spanOf(down, area.top, area.bottom), spanOf(right, area.left, area.right)]
        return vertical && across ? [{ top: vertical[0], left: across[0], bottom: vertical[1], right: across[1] }] : []
      })
      return [side, areas]
    }),
  ) as Record<Side, MergedArea[]>
  const keyed = (areas: readonly MergedArea[]) => new Set(areas.map((area) => JSON.stringify(Object.values(area))))
  const has = (keys: ReadonlySet<string>, area: MergedArea) => keys.has(JSON.stringify(Object.values(area)))
  const [was, ours, others] = [keyed(sheets.base ? moved.base : []), keyed(moved.mine), keyed(moved.theirs)]
  const kept = (areas: readonly MergedArea[], other: ReadonlySet<string>, there: boolean) =>
    areas.filter((area) => !there || !has(was, area) || has(other, area))
  const mine = kept(moved.mine, others, sheets.theirs !== null)
  const theirs = kept(moved.theirs, ours, sheets.mine !== null)
    .filter((area) => !has(ours, area))
    .filter((area) => !mine.some((one) => overlap(one, area)))
  return inOrder([...mine, ...theirs])
}

/** What rows are filtered by, from whichever side changed that, where its area is in the result; mine where both did. */
function mergeFilters({ sheets, rows, columns }: SheetPlan): Pick<Sheet, 'filter'> {
  if (!sides.some((side) => sheets[side]?.filter)) return {}
  const [was, is, other] = sides.map((side): SheetFilter | undefined => {
    const filter = sheets[side]?.filter
    if (!filter) return undefined
    const [down, right] = [back(rows, side), back(columns, side)]
    const { area } = filter
    const [vertical, across] = [spanOf(down, area.top, area.bottom), spanOf(right, area.left, area.right)]
    // Without its headings it is none.
    if (!vertical || !across || at(down, area.top) === null) return undefined
    const moved = columnsOf(filter).flatMap(([column, one]) => {
      const place = at(right, column)
      return place === null ? [] : [[place, one] as const]
    })
    return {
      area: { top: vertical[0], left: across[0], bottom: vertical[1], right: across[1] },
      columns: Object.fromEntries(moved),
    }
  })
  const filter = !sheets.mine || (sheets.base && sheets.theirs && sameFilter(is, was)) ? other : is
  return filter ? { filter } : {}
}

/**
 * What is to be entered into cells: rules of both where their cells are in the result, without those that either took
 * away or changed; where two of them are of one cell, mine.
 * @param relocated a formula of one side's sheet, as it is in the result
 */
function mergeRules(
  { sheets, rows, columns }: SheetPlan,
  relocated: (side: Side, sheet: string, formula: string) => string,
): Pick<Sheet, 'rules'> {
  if (!sides.some((side) => sheets[side]?.rules)) return {}
  const [was, is, other] = sides.map((side): EntryRule[] => {
    const sheet = sheets[side]
    const [down, right] = [back(rows, side), back(columns, side)]
    return (sheet?.rules ?? []).flatMap((rule) => {
      const areas = rule.areas.flatMap((area): MergedArea[] => {
        const [vertical, across] = [spanOf(down, area.top, area.bottom), spanOf(right, area.left, area.right)]
        return vertical && across ? [{ top: vertical[0], left: across[0], bottom: vertical[1], right: across[1] }] : []
      })
      if (!areas.length) return []
      return [{ ...withRuleFormulas(rule, (formula) => relocated(side, sheet!.name, formula)), areas }]
    })
  }) as [EntryRule[], EntryRule[], EntryRule[]]
  if (!sheets.mine) return other.length ? { rules: other } : {}
  if (!sheets.theirs) return is.length ? { rules: is } : {}
  const keys = (rules: readonly EntryRule[]) => new Set(rules.map(ruleKey))
  const has = (there: ReadonlySet<string>, rule: EntryRule) => there.has(ruleKey(rule))
  const [before, ours, others] = [keys(sheets.base ? was : []), keys(is), keys(other)]
  const mine = is.filter((rule) => !has(before, rule) || has(others, rule))
  const theirs = other.filter((rule) => !has(ours, rule) && !has(before, rule))
  // What of theirs mine says otherwise is mine.
  const rest = rulesOutside(
    theirs,
    is.filter((rule) => !has(before, rule)).flatMap(({ areas }) => areas),
  )
  // And what both left where it was gives way to what came.
  const came = rest.flatMap(({ areas }) => areas)
  const rules = [...rulesOutside(mine, came), ...rest]
  return rules.length ? { rules } : {}
}

/** From where to where lines are that were beside one another; null where all of them are gone. */
function spanOf(axis: Int32Array, from: number, to: number): [number, number] | null {
  let first: number | null = null
  for (let line = from; line <= to && first === null; line++) first = at(axis, line)
  let end: number | null = null
  for (let line = to; line >= from && end === null; line--) end = at(axis, line)
  return first !== null && end !== null && end >= first ? [first, end] : null
}

/** Each trait from whichever side changed it; mine where both did. */
function mergeStyle(
  was: CellStyle | undefined,
  is: CellStyle | undefined,
  other: CellStyle | undefined,
): CellStyle | undefined {
  const traits = new Set([...Object.keys(is ?? {}), ...Object.keys(other ?? {})]) as Set<keyof CellStyle>
  const style: Record<string, unknown> = {}
  for (const trait of traits) {
    const value = is?.[trait] === was?.[trait] ? other?.[trait] : is?.[trait]
    if (value !== undefined) style[trait] = value
  }
  return Object.keys(style).length ? (style as CellStyle) : undefined
}

function planSheets(base: Workbook, mine: Workbook, theirs: Workbook): SheetPlan[] {
  const ofMine = matchSheets(base, mine)
  const ofTheirs = matchSheets(base, theirs)
  const plans: SheetPlan[] = []
  const find = (matched: readonly (number | null)[], index: number) => matched.indexOf(index)
  const plan = (was: Sheet | null, is: Sheet | null, other: Sheet | null, name: string) => {
    if (!was || !is || !other) {
      const only = is ?? other!
      const line = (index: number): Line => ({ base: null, mine: is ? index : null, theirs: other ? index : null })
      plans.push({
        name,
        sheets: { base: null, mine: is, theirs: other },
        rows: only.rows.map((_, index) => line(index)),
        columns: Array.from({ length: widest(only) }, (_, index) => line(index)),
      })
      return
    }
    const [ours, others] = [alignSheets(was, is), alignSheets(was, other)]
    const rowKey = (sheet: Sheet, row: number) => (sheet.rows[row] ?? []).map((cell) => cellKey(cell)).join('\u0001')
    const columnKey = (sheet: Sheet, column: number) => sheet.rows.map((row) => cellKey(row?.[column])).join('\u0001')
    const settle = (axis: 'rows' | 'columns', keyOf: typeof rowKey) =>
      mergeAxis(
        ours[axis],
        others[axis],
        (line) => {
          const [sheet, index] = line.mine === null ? [other, line.theirs!] : [is, line.mine]
          return keyOf(was, line.base!) !== keyOf(sheet, index)
        },
        (a, b) => a.length === b.length && a.every((one, at) => keyOf(is, one) === keyOf(other, b[at]!)),
      )
    const columns = settle('columns', columnKey)
    // Widths may be set beyond the last cell, where columns follow one another on every side.
    const next = { base: filled(was), mine: filled(is), theirs: filled(other) }
    const past = { base: widest(was), mine: widest(is), theirs: widest(other) }
    const beyond = (side: Side) => (next[side] < past[side] ? next[side]++ : null)
    while (sides.some((side) => next[side] < past[side]))
      columns.push({ base: beyond('base'), mine: beyond('mine'), theirs: beyond('theirs') })
    plans.push({ name, sheets: { base: was, mine: is, theirs: other }, rows: settle('rows', rowKey), columns })
  }
  for (const [at, sheet] of mine.sheets.entries()) {
    const was = ofMine[at]
    if (was == null) {
      // Both may have put in the same sheet.
      const twin = theirs.sheets.findIndex(
        (one, index) => ofTheirs[index] === null && one.name === sheet.name && same(one, sheet),
      )
      plan(null, sheet, null, sheet.name)
      if (twin >= 0) ofTheirs[twin] = -1
      continue
    }
    const other = find(ofTheirs, was)
    const before = base.sheets[was]!
    if (other < 0) {
      // Theirs took it away: it stays only when it was changed here.
      if (!same(before, sheet)) plan(null, sheet, null, sheet.name)
      continue
    }
    plan(before, sheet, theirs.sheets[other]!, sheet.name === before.name ? theirs.sheets[other]!.name : sheet.name)
  }
  for (const [at, sheet] of theirs.sheets.entries()) {
    const was = ofTheirs[at]
    if (was === -1) continue
    if (was == null || (find(ofMine, was) < 0 && !same(base.sheets[was], sheet))) {
      const taken = plans.some(({ name }) => name.toLowerCase() === sheet.name.toLowerCase())
      const name = taken ? unlikeAll(sheet.name, mine, theirs, base) : sheet.name
      plan(null, null, sheet, name)
    }
  }
  // Neither side alone can have taken away the last sheet, but both together can.
  if (!plans.length) plan(null, mine.sheets[0]!, null, mine.sheets[0]!.name)
  return plans
}

/** Columns up to the last one with a cell. */
const filled = (sheet: Sheet): number => sheet.rows.reduce((most, row) => Math.max(most, row?.length ?? 0), 0)
/** Columns up to the last one with a cell or a width. */
const widest = (sheet: Sheet): number =>
  Math.max(filled(sheet), ...Object.keys(sheet.widths).map((key) => Number(key) + 1))
