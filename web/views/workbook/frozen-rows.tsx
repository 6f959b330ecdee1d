// The rows that stay in sight while a sheet is scrolled: drawn once more over the top of it, and as good as the others
// to hands.
import {
  DataEditor,
  type DataEditorProps,
  type DataEditorRef,
  type GridSelection,
  type Item,
  type Rectangle,
} from '@glideapps/glide-data-grid'
import { type RefObject, useEffect, useImperativeHandle, useRef, useState } from 'react'

/** What the rows that stay and all others are drawn with. */
export type Drawn = Pick<
  DataEditorProps,
  | 'theme'
  | 'columns'
  | 'getCellContent'
  | 'gridSelection'
  | 'onGridSelectionChange'
  | 'rowMarkers'
  | 'rowHeight'
  | 'drawCell'
  | 'smoothScrollX'
  | 'smoothScrollY'
  | 'rangeSelect'
  | 'rowSelect'
  | 'freezeColumns'
  | 'highlightRegions'
  | 'scaleToRem'
  | 'verticalBorder'
  | 'drawFocusRing'
  | 'getRowThemeOverride'
  | 'onCellContextMenu'
>
export interface FrozenRowsRef {
  /** Where a cell of theirs is on the screen; nothing for others, and while the sheet is at its top. */
  boundsOf: (column: number, row: number) => Rectangle | undefined
}

const scrollerIn = (element: HTMLElement | null) => element?.querySelector<HTMLElement>('.dvn-scroller') ?? null

/**
 * @param height of all of them, in pixels; when they would leave no room for others they do not stay
 * @param holder has the sheet in it @param cursor column and row
 */
export function FrozenRows({
  rows,
  height,
  top,
  holder,
  drawn,
  onClicked,
  onFocus,
  cursor,
  boundsOf,
  ref,
}: {
  rows: number
  height: number
  top: number
  holder: RefObject<HTMLDivElement | null>
  drawn: Drawn
  onClicked: (cell: Item, event: { isDoubleClick?: boolean; localEventX?: number; bounds?: Rectangle }) => void
  /** The keyboard stays with the sheet. */
  onFocus: () => void
  cursor: Item | null
  boundsOf: (column: number, row: number) => Rectangle | undefined
  ref: RefObject<FrozenRowsRef | null>
}) {
  const [place, setPlace] = useState({ width: 0, scrolled: false })
  const band = useRef<HTMLDivElement>(null)
  const editor = useRef<DataEditorRef>(null)
  const stays = rows > 0 && place.scrolled
  const focus = useRef(onFocus)
  focus.current = onFocus
  useImperativeHandle(ref, () => ({
    boundsOf: (column, row) => (stays && row < rows ? editor.current?.getBounds(column, row) : undefined),
  }))

  // The sheet's own scroller comes a few frames late, when it knows its size.
  useEffect(() => {
    if (!rows) return
    let frame = 0
    let scroller: HTMLElement | null = null
    const follow = () => {
      if (!scroller) return
      const fits = height < scroller.clientHeight * 0.6
      setPlace({ width: scroller.clientWidth, scrolled: fits && scroller.scrollTop > 0 })
      const own = scrollerIn(band.current)
      if (own) own.scrollLeft = scroller.scrollLeft
    }
    const sizes = new ResizeObserver(follow)
    const find = () => {
      scroller = scrollerIn(holder.current)
      if (!scroller) {
        frame = requestAnimationFrame(find)
        return
      }
      scroller.addEventListener('scroll', follow, { passive: true })
      sizes.observe(scroller)
    }
    find()
    return () => {
      cancelAnimationFrame(frame)
      sizes.disconnect()
      scroller?.removeEventListener('scroll', follow)
    }
  }, [rows, height, holder])

  // Where they come to sight they are scrolled to the side as the sheet is, and no step of the Tab key.
  useEffect(() => {
    if (!stays) return
    let frame = 0
    const settle = () => {
      const own = scrollerIn(band.current)
      const canvas = band.current?.querySelector('canvas')
      if (!own || !canvas) {
        frame = requestAnimationFrame(settle)
        return
      }
      own.scrollLeft = scrollerIn(holder.current)?.scrollLeft ?? 0
      for (const one of band.current!.querySelectorAll('[tabindex]')) one.setAttribute('tabindex', '-1')
    }
    settle()
    const own = band.current!
    const hand = () => focus.current()
    own.addEventListener('focusin', hand)
    return () => {
      cancelAnimationFrame(frame)
      own.removeEventListener('focusin', hand)
    }
  }, [stays, holder])

  // The cursor goes to where it can be seen, not under them.
  const [column, row] = cursor ?? []
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked at when the cursor went somewhere, and not when the sheet was scrolled away from it
  useEffect(() => {
    if (!stays || column === undefined || row === undefined || row < rows) return
    const frame = requestAnimationFrame(() => {
      const scroller = scrollerIn(holder.current)
      const at = boundsOf(column, row)
      const edge = band.current?.getBoundingClientRect().bottom
      if (scroller && at && edge !== undefined && at.y < edge) scroller.scrollTop -= edge - at.y
    })
    return () => cancelAnimationFrame(frame)
  }, [column, row])

  if (!stays) return null
  return (
    <div
      ref={band}
      className="frozen-rows absolute left-0 overflow-hidden border-rule-strong border-b"
      style={{ top, width: place.width, height: height + 1 }}
      data-rows={rows}
      aria-hidden
    >
      <DataEditor
        {...drawn}
        gridSelection={selectedIn(drawn.gridSelection, rows)}
        onGridSelectionChange={(selection) => {
          // What is chosen here is in sight: the sheet below stays where it is.
          const scroller = scrollerIn(holder.current)
          const at = scroller?.scrollTop
          drawn.onGridSelectionChange?.(selection)
          requestAnimationFrame(() => {
            if (scroller && at !== undefined) scroller.scrollTop = at
          })
        }}
        ref={editor}
        width={place.width}
        height={height}
        rows={rows}
        headerHeight={0}
        onCellClicked={onClicked}
        trapFocus={false}
      />
    </div>
  )
}

/** What is selected of the first rows: the drawing takes nothing that reaches out of it. */
function selectedIn(selection: GridSelection | undefined, rows: number): GridSelection | undefined {
  const { current } = selection ?? {}
  if (!selection || !current) return selection
  const { range } = current
  if (current.cell[1] >= rows || range.y >= rows) return { columns: selection.columns, rows: selection.rows }
  const height = Math.min(range.height, rows - range.y)
  return { ...selection, current: { ...current, range: { ...range, height }, rangeStack: [] } }
}
