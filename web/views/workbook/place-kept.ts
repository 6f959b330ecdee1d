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
 * @param was where it was scrolled to
 * @param room pixels that cells were and are seen in, from behind those that always stay in sight
 * @param cursor where the cursor's line began and begins, and how long it is now
 * @param first the same of the first line in sight, whose beginning may be above
 */
export function scrolledTo(
  was: number,
  room: { before: readonly [from: number, to: number]; now: readonly [from: number, to: number] },
  cursor: { before: number; now: number; length: number } | null,
  first: { before: number; now: number },
  ratio: number,
): number {
  const away = cursor ? cursor.before - was : -1
  if (cursor && away >= (was ? room.before[0] : 0) && away < room.before[1]) {
    const [from, to] = room.now
    // From the beginning nothing is scrolled away that has room.
    if (!was) return Math.max(0, cursor.now + cursor.length - to)
    return Math.max(0, cursor.now - Math.max(from, Math.min(away, to - cursor.length)))
  }
  if (!was) return 0
  return first.now + (was - first.before) * ratio
}

export function usePlaceKept({
  size,
  scene,
  columns,
  names,
  frozen,
  cursor,
  sight,
  holder,
}: {
  size: number
  scene: Scene
  columns: readonly { width: number }[]
  /** Room of the names of rows and columns; pixels. */
  names: { width: number; height: number }
  /** How many of the first rows and columns always stay in sight. */
  frozen: { rows: number; columns: number }
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
    if (!was || !own) return
    const { x, y } = sight.current
    const [column, row] = cursor ?? [0, -1]
    const of = (way: 'topOf' | 'leftOf', line: number) => ({
      before: was.lines[way](line),
      now: lines[way](line),
      length: lines[way](line + 1) - lines[way](line),
    })
    const seen = (all: number, way: 'topOf' | 'leftOf', side: 'height' | 'width', first: number) => ({
      before: [was.lines[way](first), all - was.names[side]] as const,
      now: [lines[way](first), all - names[side]] as const,
    })
    const high = seen(own.clientHeight, 'topOf', 'height', frozen.rows)
    const wide = seen(own.clientWidth, 'leftOf', 'width', frozen.columns)
    const top = scrolledTo(was.top, high, row < 0 ? null : of('topOf', row), of('topOf', y), was.ratio)
    const left = scrolledTo(was.left, wide, row < 0 ? null : of('leftOf', column), of('leftOf', x), was.ratio)
    const scroll = () => {
      own.scrollTop = top
      own.scrollLeft = left
    }
    scroll()
    // What is scrolled through may get its new size with the next frame.
    const frame = requestAnimationFrame(scroll)
    return () => cancelAnimationFrame(frame)
  }, [scene, columns])
}
