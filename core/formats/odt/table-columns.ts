// The columns of a table that stays while they come, go or get another width (ISO/IEC 26300-1 §9.1.6).
import type { Node } from 'prosemirror-model'
import { matchUp } from '../../content/sequence'
import { elements, type XmlElement } from '../opc/xml'
import type { Mapped } from './read'

export interface ColumnNow {
  /** Which one of the file's it is; null for a new one. */
  from: number | null
  /** The one of the file's that it is, or beside which it comes. */
  beside: number
  /** The file's element; null for a new one. */
  own: XmlElement | null
  /** In pixels; null where nothing is said. */
  width: number | null
  /** Whether it is as wide as it was. */
  same: boolean
}

const isPlain = (row: Node): boolean => row.children.every(({ attrs }) => attrs.colspan === 1 && attrs.rowspan === 1)

/** The element of each column of the file; null where columns are grouped, or it does not say all of them. */
function columnElements(table: XmlElement, width: number): XmlElement[] | null {
  const found: XmlElement[] = []
  for (const one of elements(table)) {
    if (/^table:table-(?:columns|header-columns|column-group)$/.test(one.name)) return null
    if (one.name !== 'table:table-column' || one.at!.kind !== 'empty') continue
    const times = Number(one.attributes['table:number-columns-repeated'] ?? 1)
    for (let at = 0; at < times && found.length <= width; at++) found.push(one)
  }
  return found.length === width ? found : null
}

/** The width that all cells of a column say; undefined where they differ. */
function widthOf(rows: readonly Node[], column: number): number | null | undefined {
  const said = new Set(rows.map((row) => (row.child(column).attrs.colwidth as number[] | null)?.[0] ?? null))
  return said.size === 1 ? [...said][0] : undefined
}

/** @returns the columns as they are now; null where rows came or went too, or cells reach over others */
export function columnsLaid(was: Mapped, node: Node): ColumnNow[] | null {
  const rows = was.children ?? []
  const [before, now] = [rows.map((row) => row.node), node.children]
  if (!was.element || before.length !== now.length || !before.length) return null
  if (before.some((row, at) => row.attrs.header !== now[at]!.attrs.header)) return null
  if (![...before, ...now].every(isPlain)) return null
  const [older, newer] = [before[0]!.childCount, now[0]!.childCount]
  if (before.some((row) => row.childCount !== older) || now.some((row) => row.childCount !== newer)) return null
  const single = ({ element }: Mapped, name: string, repeated: string) =>
    element?.name === name && element.attributes[repeated] === undefined
  const alone = rows.every(
    (row) =>
      single(row, 'table:table-row', 'table:number-rows-repeated') &&
      row.children?.length === older &&
      row.children.every((cell) => single(cell, 'table:table-cell', 'table:number-columns-repeated')),
  )
  const own = alone ? columnElements(was.element, older) : null
  if (!own) return null
  const words = (all: readonly Node[], column: number) => all.map((row) => row.child(column).textContent)
  const [olderWords, newerWords] = [older, newer].map((width, side) =>
    Array.from({ length: width }, (_, column) => words(side ? now : before, column)),
  ) as [string[][], string[][]]
  const likeness = (a: number, b: number) =>
    olderWords[a]!.filter((text, row) => text === newerWords[b]![row]).length / before.length
  const key = (column: string[]) => column.join('\u0001')
  const { pairs } = matchUp(olderWords.map(key), newerWords.map(key), likeness)
  const fromOf = new Map(pairs.map(([a, b]) => [b, a]))
  const laid: ColumnNow[] = []
  for (let column = 0; column < newer; column++) {
    const from = fromOf.get(column) ?? null
    const width = widthOf(now, column)
    if (width === undefined) return null
    const near = [...fromOf].toSorted(([a], [b]) => Math.abs(a - column) - Math.abs(b - column))[0]?.[1] ?? 0
    const same = from !== null && widthOf(before, from) === width
    laid.push({ from, beside: from ?? near, own: from === null ? null : own[from]!, width, same })
  }
  return laid
}
