// Cells that are pointed at with the pointer while a formula asks for some.
import type { Rectangle } from '@glideapps/glide-data-grid'
import type { Spot, Writing } from './formula-field'
import type { Scene } from './scene'

/** The cell at a place on the screen: the first one of a merged area. @param seen columns and rows that are in sight */
export function spotUnder(
  x: number,
  y: number,
  {
    seen,
    frozen,
    mergedAt,
    boundsOf,
  }: {
    seen: Rectangle
    frozen: { rows: number; columns: number }
    mergedAt: Scene['mergedAt']
    boundsOf: (column: number, row: number) => Rectangle | undefined
  },
): Spot | null {
  const lines = (from: number, count: number, before: number) => [
    ...Array.from({ length: before }, (_, line) => line),
    ...Array.from({ length: count + 1 }, (_, line) => from + line),
  ]
  const over = (at: Rectangle | undefined) =>
    !!at && x >= at.x && x < at.x + at.width && y >= at.y && y < at.y + at.height
  for (const row of lines(seen.y, seen.height, frozen.rows))
    for (const column of lines(seen.x, seen.width, frozen.columns))
      if (over(boundsOf(column, row))) {
        const area = mergedAt(row, column)
        return area ? { row: area.top, column: area.left } : { row, column }
      }
  return null
}

/**
 * A press on a cell while a formula asks for some names it, and those up to where the pointer is drawn; the keyboard stays
 * where it is.
 * @param sheet its name, where the cells are not on the formula's own
 */
export function pointWith(
  event: React.PointerEvent<HTMLElement>,
  writing: Writing | null,
  { sheet, spotAt }: { sheet: string | null; spotAt: (x: number, y: number) => Spot | null },
): void {
  const onCells = event.target instanceof HTMLElement && !!event.target.closest('.dvn-scroller, canvas')
  if (event.button !== 0 || !onCells || !writing?.pointing.asks()) return
  const spot = spotAt(event.clientX, event.clientY)
  if (!spot) return
  event.preventDefault()
  event.stopPropagation()
  const own = event.currentTarget
  own.setPointerCapture(event.pointerId)
  writing.pointing.point(spot, event.shiftKey, sheet)
  const move = ({ clientX, clientY }: PointerEvent) => {
    const to = spotAt(clientX, clientY)
    if (to) writing.pointing.point(to, true, sheet)
  }
  const end = () => {
    own.removeEventListener('pointermove', move)
    own.removeEventListener('pointerup', end)
    own.removeEventListener('pointercancel', end)
  }
  own.addEventListener('pointermove', move)
  own.addEventListener('pointerup', end)
  own.addEventListener('pointercancel', end)
}
