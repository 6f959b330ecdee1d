// A sheet that becomes larger or smaller shows what it showed: the cursor stays at its height on the screen where it was in
// sight, else what is at the top stays there.
import type { Item, Rectangle } from '@glideapps/glide-data-grid'
import { type RefObject, useLayoutEffect, useRef } from 'react'
import type { Scene } from './scene'

/** Where lines begin, in pixels from the first one. */
interface Lines {
  topOf: (row: number) => number
  leftOf: (column: number) => number
}
const linesOf = (scene: Scene, columns: readonly { width: number }[]): Lines => ({
  topOf: (row) => scene.heightBetween(0, row),
  leftOf: (column) => columns.slice(0, column).reduce((sum, { width }) => sum + width, 0),
})

/**
 * Where to scroll to along one direction.
 * @param was where it was scrolled to @param room pixels that cells were and are seen in
 * @param cursor where the cursor's line began and begins, and how long it is now
 * @param first the same of the first line in sight, whose beginning may be above
 */
export function scrolledTo(
  was: number,
  room: { before: number; now: number },
  cursor: { before: number; now: number; length: number } | null,
  first: { before: number; now: number },
  ratio: number,
): number {
  const away = cursor ? cursor.before - was : -1
  if (cursor && away >= 0 && away < room.before)
    return cursor.now - Math.max(0, Math.min(away, room.now - cursor.length))
  return first.now + (was - first.before) * ratio
}

export function usePlaceKept({
  size,
  scene,
  columns,
  names,
  cursor,
  sight,
  holder,
}: {
  size: number
  scene: Scene
  columns: readonly { width: number }[]
  /** Room of the names of rows and columns; pixels. */
  names: { width: number; height: number }
  cursor: Item | null
  sight: RefObject<Rectangle>
  holder: RefObject<HTMLElement | null>
}): void {
  const scroller = () => holder.current?.querySelector<HTMLElement>('.dvn-scroller') ?? null
  const drawn = useRef({ size, names, lines: linesOf(scene, columns) })
  const before = useRef<(typeof drawn.current & { ratio: number; top: number; left: number }) | null>(null)
  // Looked at while it is drawn as it was: with fewer pixels to scroll through it would be somewhere else.
  if (drawn.current.size !== size && !before.current) {
    const own = scroller()
    if (own)
      before.current = {
        ...drawn.current,
        ratio: size / drawn.current.size,
        top: own.scrollTop,
        left: own.scrollLeft,
      }
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: after each time it is drawn; only another size moves anything
  useLayoutEffect(() => {
    const was = before.current
    const lines = linesOf(scene, columns)
    drawn.current = { size, names, lines }
    before.current = null
    const own = scroller()
    if (!was || !own || (!was.top && !was.left)) return
    const { x, y } = sight.current
    const [column, row] = cursor ?? [0, -1]
    const of = (way: 'topOf' | 'leftOf', line: number) => ({
      before: was.lines[way](line),
      now: lines[way](line),
      length: lines[way](line + 1) - lines[way](line),
    })
    const high = { before: own.clientHeight - was.names.height, now: own.clientHeight - names.height }
    const wide = { before: own.clientWidth - was.names.width, now: own.clientWidth - names.width }
    const top = scrolledTo(was.top, high, row < 0 ? null : of('topOf', row), of('topOf', y), was.ratio)
    const left = scrolledTo(was.left, wide, row < 0 ? null : of('leftOf', column), of('leftOf', x), was.ratio)
    const scroll = () => {
      own.scrollTop = top
      own.scrollLeft = was.left ? left : 0
    }
    scroll()
    // What is scrolled through may get its new size with the next frame.
    const frame = requestAnimationFrame(scroll)
    return () => cancelAnimationFrame(frame)
  }, [scene, columns])
}
