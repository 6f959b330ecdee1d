// The columns of a folder's list: which of them somebody wants, and which of those have room.
import { Check, Columns3 } from 'lucide-react'
import { type RefObject, useEffect, useMemo, useState } from 'react'
import { IconButton } from '../design/icon-button'
import { Menu, MenuItem } from '../design/overlay'
import { t } from '../words'

/** In the order in which they stand. */
const all = ['type', 'size', 'version', 'saved', 'by'] as const
export type Column = (typeof all)[number]
/** Pixels. The name is what people come for: it keeps this much before another column is shown. */
const widths: Record<Column, number> = { type: 92, size: 60, version: 60, saved: 116, by: 124 }
const nameRoom = 300
const gap = 16
/** The glyph before the name and what stands behind the last column, with the list's own margins. */
const fixed = 20 + 36 + 16 + 2 * gap
/** Which go last where there is not room for all of them. */
const rank: readonly Column[] = ['saved', 'by', 'type', 'size', 'version']
const usual: readonly Column[] = ['type', 'size', 'saved', 'by']
const mark = 'jaula-columns'

export const rowGrid = 'grid items-center gap-x-4'
export const columnNames: Record<Column, string> = {
  type: t('common.type'),
  size: t('common.size'),
  version: t('files.version'),
  saved: t('common.saved'),
  by: t('common.by'),
}

/** @param width of the list, in pixels @returns the wished columns that there is room for, in their order */
export function fitting(wished: readonly Column[], width: number): Column[] {
  let room = width - fixed - nameRoom
  const shown = new Set<Column>()
  for (const column of rank) {
    if (!wished.includes(column)) continue
    // A narrower one of lower rank does not take its place: with more room none would go again.
    if (room < widths[column] + gap) break
    shown.add(column)
    room -= widths[column] + gap
  }
  return all.filter((column) => shown.has(column))
}

/** As CSS's grid-template-columns. */
export const templateOf = (columns: readonly Column[]): string =>
  ['20px', 'minmax(0,1fr)', ...columns.map((column) => `${widths[column]}px`), '36px'].join(' ')

/** @param text what this browser kept @returns the columns of it that there are; the usual ones when it is nothing of ours */
export function readWish(text: string | null): readonly Column[] {
  if (text === null) return usual
  return all.filter((column) => text.split(' ').includes(column))
}

export function useColumns(list: RefObject<HTMLElement | null>) {
  const [wished, setWished] = useState(() => readWish(kept()))
  const [width, setWidth] = useState(0)
  useEffect(() => {
    const element = list.current
    if (!element) return
    const observer = new ResizeObserver(() => setWidth(element.clientWidth))
    observer.observe(element)
    setWidth(element.clientWidth)
    return () => observer.disconnect()
  }, [list])
  const columns = useMemo(() => fitting(wished, width), [wished, width])
  const template = useMemo(() => templateOf(columns), [columns])
  const wish = (next: readonly Column[]) => {
    setWished(next)
    try {
      localStorage.setItem(mark, next.join(' '))
    } catch {
      // Chosen for as long as this page is open.
    }
  }
  return { columns, template, wished, wish }
}

function kept(): string | null {
  try {
    return localStorage.getItem(mark)
  } catch {
    return null
  }
}

export function ColumnsMenu({
  wished,
  onWish,
}: {
  wished: readonly Column[]
  onWish: (columns: readonly Column[]) => void
}) {
  return (
    <Menu
      trigger={
        <IconButton label={t('files.columns-that-are-shown')} className="size-7 focus-visible:-outline-offset-2">
          <Columns3 />
        </IconButton>
      }
    >
      {all.map((column) => {
        const on = wished.includes(column)
        return (
          <MenuItem
            key={column}
            checked={on}
            onSelect={() => onWish(on ? wished.filter((one) => one !== column) : [...wished, column])}
          >
            {on ? <Check aria-hidden /> : <span className="size-4" />}
            {columnNames[column]}
          </MenuItem>
        )
      })}
    </Menu>
  )
}
