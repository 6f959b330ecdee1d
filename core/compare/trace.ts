// One paragraph, or one cell, followed back through a file's versions: in each it is found where it was then.
import { entryOf } from '../content/entry'
import { cellAt, type Workbook } from '../content/workbook'
import { alignSheets } from './axis'
import { layBeside } from './document'
import { type Decoded, decoded, type FileState } from './files'
import { layTables } from './table'
import { type TextBlock, type Unit, unitsOf } from './text-blocks'
import { matchSheets } from './workbook'

/** Where to begin: a position in a document, or a cell of a sheet. */
export type TracedPlace =
  | { kind: 'paragraph'; at: number }
  | { kind: 'cell'; sheet: string; row: number; column: number }

/** What it says in one version; null where it is not there. */
export interface Traced {
  text: string | null
}

type State =
  | { kind: 'document'; units: readonly Unit[]; unit: number; row: number; column: number }
  | { kind: 'spreadsheet'; workbook: Workbook; sheet: number; row: number; column: number }

const blockOf = ({ units, unit, row, column }: Extract<State, { kind: 'document' }>): TextBlock[] => {
  const one = units[unit]
  if (!one) return []
  return one.kind === 'text' ? [one] : (one.rows[row]?.cells[column]?.blocks ?? [])
}

export class Tracer {
  private state: State | null

  /** Begins in a version. @throws DamagedFile */
  constructor(version: FileState | Decoded, place: TracedPlace) {
    this.state = begin('bytes' in version ? decoded(version) : version, place)
  }

  /** Where it is now; null when it is lost. */
  get place(): TracedPlace | null {
    const { state } = this
    if (!state) return null
    if (state.kind === 'spreadsheet')
      return {
        kind: 'cell',
        sheet: state.workbook.sheets[state.sheet]!.name,
        row: state.row,
        column: state.column,
      }
    const [block] = blockOf(state)
    return block ? { kind: 'paragraph', at: block.at } : null
  }

  /** What it says where it is now. */
  get text(): string | null {
    const { state } = this
    if (!state) return null
    if (state.kind === 'spreadsheet') {
      const cell = cellAt(state.workbook.sheets[state.sheet], state.row, state.column)
      return cell ? entryOf(cell) : ''
    }
    return blockOf(state)
      .map(({ text }) => text.replaceAll('\ufffc', ''))
      .join('\n')
  }

  /** Goes back to an earlier version. @returns what it said there; null where it was not there @throws DamagedFile */
  back(version: FileState | Decoded): string | null {
    const { state } = this
    if (!state) return null
    const then = 'bytes' in version ? decoded(version) : version
    if (state.kind === 'spreadsheet') {
      if (then?.kind !== 'spreadsheet') return this.lose()
      const sheet = matchSheets(then.workbook, state.workbook)[state.sheet]
      if (sheet == null) return this.lose()
      const axes = alignSheets(then.workbook.sheets[sheet]!, state.workbook.sheets[state.sheet]!)
      const back = (to: readonly (number | null)[], added: readonly number[], at: number) => {
        const was = to.indexOf(at)
        if (was >= 0) return was
        return added.includes(at) ? null : at
      }
      const row = back(axes.rows.to, axes.rows.added, state.row)
      const column = back(axes.columns.to, axes.columns.added, state.column)
      if (row === null || column === null) return this.lose()
      this.state = { kind: 'spreadsheet', workbook: then.workbook, sheet, row, column }
      return this.text
    }
    if (!then || then.kind === 'spreadsheet') return this.lose()
    const units = unitsOf(then.doc)
    const pair = layBeside(units, state.units).find(([, is]) => is === state.unit)
    if (!pair) return this.lose()
    const [was, is] = [units[pair[0]]!, state.units[state.unit]!]
    let { row, column } = state
    if (was.kind === 'table' && is.kind === 'table') {
      const laid = layTables(was, is)
      row = laid.pairs.find(([, now]) => now === row)?.[0] ?? -1
      column = laid.columns.find(([, now]) => now === column)?.[0] ?? -1
      if (row < 0 || column < 0) return this.lose()
    }
    this.state = { kind: 'document', units, unit: pair[0], row, column }
    return this.text
  }

  private lose(): null {
    this.state = null
    return null
  }
}

function begin(now: Decoded | null, place: TracedPlace): State | null {
  if (place.kind === 'cell') {
    if (now?.kind !== 'spreadsheet') return null
    const sheet = now.workbook.sheets.findIndex(({ name }) => name.toLowerCase() === place.sheet.toLowerCase())
    return sheet < 0
      ? null
      : { kind: 'spreadsheet', workbook: now.workbook, sheet, row: place.row, column: place.column }
  }
  if (!now || now.kind === 'spreadsheet') return null
  const units = unitsOf(now.doc)
  const holds = ({ at, text }: TextBlock) => at - 1 <= place.at && place.at <= at + text.length
  for (const [unit, one] of units.entries()) {
    if (one.kind === 'text') {
      if (holds(one)) return { kind: 'document', units, unit, row: 0, column: 0 }
      continue
    }
    for (const [row, { cells }] of one.rows.entries())
      for (const [column, { at, node }] of cells.entries())
        if (at <= place.at && place.at < at + node.nodeSize) return { kind: 'document', units, unit, row, column }
  }
  return null
}
