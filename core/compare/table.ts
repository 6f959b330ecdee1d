// Two tables of a document: columns laid beside each other where their number differs, then rows, then cells.

import { matchUp } from '../content/sequence'
import type { Findings, Stretch } from './findings'
import { bagOf, likeness, type Table, type TableRow, withoutImages } from './text-blocks'
import { compareWords } from './words-within'

const extent = (node: { at: number; node: { nodeSize: number } }): Stretch => ({
  from: node.at,
  to: node.at + node.node.nodeSize,
})
/** The place where a row's next cell would stand. */
const endOf = (row: TableRow): Stretch => ({ from: extent(row).to - 1, to: extent(row).to - 1 })
const cellText = ({ key }: { key: string }) => withoutImages(key).trim()
const told = (cells: readonly { key: string }[]) => cells.map(cellText).join(' · ')

/** Which column, and which row, of a table is which. */
export function layTables(older: Table, newer: Table) {
  const columns = alignColumns(older, newer)
  const keyOf = (row: TableRow, side: 0 | 1) => columns.map((pair) => row.cells[pair[side]]?.key ?? '').join('\u0002')
  const keys = [older.rows.map((row) => keyOf(row, 0)), newer.rows.map((row) => keyOf(row, 1))] as const
  const bags = keys.map((list) => list.map((key) => bagOf(withoutImages(key))))
  const { pairs, coarse } = matchUp(keys[0], keys[1], (i, j) => {
    const cells = columns.filter(([x, y]) => older.rows[i]!.cells[x]?.key === newer.rows[j]!.cells[y]?.key).length
    return Math.max(cells / Math.max(1, columns.length), likeness(bags[0]![i]!, bags[1]![j]!))
  })
  return { columns, keys, pairs, coarse }
}

export function compareTables(older: Table, newer: Table, found: Findings): void {
  if (older.key === newer.key && older.node.eq(newer.node)) return
  const { changes } = found
  const { columns, keys, pairs, coarse } = layTables(older, newer)
  changes.coarse ||= coarse
  const [is, was] = [new Set(pairs.map(([, j]) => j)), new Set(pairs.map(([i]) => i))]

  const kept = new Set(columns.map(([x]) => x))
  const came = new Set(columns.map(([, y]) => y))
  const width = (table: Table) => Math.max(0, ...table.rows.map(({ cells }) => cells.length))
  const column = (table: Table, at: number, kind: 'added' | 'removed') => {
    const cells = table.rows.flatMap((row, index) =>
      row.cells[at] && (kind === 'added' ? is : was).has(index) ? [row.cells[at]] : [],
    )
    if (!cells.length) return
    for (const cell of cells) changes[kind].push(extent(cell))
    const first = extent(cells[0]!)
    found.add({
      kind: `column ${kind}`,
      older: kind === 'removed' ? first : null,
      newer: kind === 'added' ? first : extent(newer),
      section: newer.section,
      before: kind === 'removed' ? told(cells.slice(0, 4)) : '',
      now: kind === 'added' ? told(cells.slice(0, 4)) : '',
    })
  }
  for (let at = 0; at < width(older); at++) if (!kept.has(at)) column(older, at, 'removed')
  for (let at = 0; at < width(newer); at++) if (!came.has(at)) column(newer, at, 'added')

  // Rows that say the same elsewhere have moved.
  const gone = new Map<string, number[]>()
  for (const [i, key] of keys[0].entries()) if (!was.has(i)) gone.set(key, [...(gone.get(key) ?? []), i])
  for (const [j, row] of newer.rows.entries()) {
    if (is.has(j)) continue
    const from = gone.get(keys[1][j]!)?.shift()
    if (from !== undefined && keys[1][j]!.length > columns.length) {
      changes.movedFrom.push(extent(older.rows[from]!))
      changes.moved.push(extent(row))
      was.add(from)
      found.add({
        kind: 'row moved',
        older: extent(older.rows[from]!),
        newer: extent(row),
        section: newer.section,
        before: '',
        now: told(row.cells),
      })
      continue
    }
    changes.added.push(extent(row))
    found.add({
      kind: 'row added',
      older: null,
      newer: extent(row),
      section: newer.section,
      before: '',
      now: told(row.cells),
    })
  }
  for (const [i, row] of older.rows.entries()) {
    if (was.has(i)) continue
    changes.removed.push(extent(row))
    const near = pairs.findLast(([at]) => at < i)
    const at = near ? extent(newer.rows[near[1]]!).to : newer.at + 1
    found.add({
      kind: 'row removed',
      older: extent(row),
      newer: { from: at, to: at },
      section: newer.section,
      before: told(row.cells),
      now: '',
    })
  }
  for (const [i, j] of pairs)
    for (const [x, y] of columns) {
      const [before, now] = [older.rows[i]!.cells[x], newer.rows[j]!.cells[y]]
      if (before && now && before.key === now.key && before.node.eq(now.node)) continue
      if (before?.blocks.length && now?.blocks.length) {
        compareWords(before.blocks, now.blocks, found)
        continue
      }
      // An empty cell was filled, or a filled one emptied; or one of the rows has no cell there, as where a cell of
      // another row reaches into it.
      const [gone, come] = [before?.blocks ?? [], now?.blocks ?? []]
      for (const { at, text } of gone) changes.removed.push({ from: at, to: at + text.length })
      for (const { at, text } of come) changes.added.push({ from: at, to: at + text.length })
      const words = (blocks: typeof come) =>
        blocks.reduce((sum, { text }) => sum + text.split(/\s+/).filter(Boolean).length, 0)
      found.count(newer.section, words(come), words(gone))
      if (before?.key || now?.key)
        found.add({
          kind: 'words',
          older: before ? extent(before) : endOf(older.rows[i]!),
          newer: now ? extent(now) : endOf(newer.rows[j]!),
          section: newer.section,
          before: before ? cellText(before) : '',
          now: now ? cellText(now) : '',
        })
    }
}

/** Which column is which: by their place while there are as many, by what is in them otherwise. */
function alignColumns(older: Table, newer: Table): [number, number][] {
  const width = (table: Table) => Math.max(0, ...table.rows.map(({ cells }) => cells.length))
  const [was, is] = [width(older), width(newer)]
  if (was === is) return Array.from({ length: was }, (_, at) => [at, at])
  const keys = (table: Table, size: number) =>
    Array.from({ length: size }, (_, at) => table.rows.map(({ cells }) => cells[at]?.key ?? ''))
  const [before, now] = [keys(older, was), keys(newer, is)]
  const joined = (list: string[][]) => list.map((column) => column.join('\u0002'))
  const sets = now.map((column) => new Set(column.filter(Boolean)))
  return matchUp(joined(before), joined(now), (i, j) => {
    const filled = before[i]!.filter(Boolean)
    return filled.length
      ? filled.filter((key) => sets[j]!.has(key)).length / Math.max(filled.length, sets[j]!.size)
      : 0.3
  }).pairs
}
