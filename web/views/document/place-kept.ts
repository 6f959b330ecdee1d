// Where somebody reads stays where it is on the screen while the page around it becomes larger or smaller.
import type { EditorView } from 'prosemirror-view'
import { useLayoutEffect, useRef } from 'react'

/** What scrolls the page; null where nothing does. */
export function scrollerOf(element: HTMLElement): HTMLElement | null {
  for (let one = element.parentElement; one; one = one.parentElement)
    if (/auto|scroll/.test(getComputedStyle(one).overflowY) && one.scrollHeight > one.clientHeight) return one
  return null
}

/** A place in the text, and how far below the top of what is seen its line is; pixels. */
interface Place {
  pos: number
  top: number
}

/** The caret where it is in sight, else what is at the top. */
function placeOf(view: EditorView): Place | null {
  const scroller = scrollerOf(view.dom)
  if (!scroller) return null
  const seen = scroller.getBoundingClientRect()
  const caret = view.state.selection.head
  const at = view.coordsAtPos(caret).top
  if (view.hasFocus() && at >= seen.top && at < seen.bottom) return { pos: caret, top: at - seen.top }
  const page = view.dom.getBoundingClientRect()
  const found = view.posAtCoords({ left: page.left + page.width / 3, top: Math.max(seen.top, page.top) + 8 })
  return found && { pos: found.pos, top: view.coordsAtPos(found.pos).top - seen.top }
}

/** @param size how large the page is shown */
export function usePlaceKept(view: { readonly current: EditorView | null }, size: number): void {
  const last = useRef<{ size: number; place: Place | null }>({ size, place: null })
  // Looked at while the page is drawn as it was.
  if (last.current.size !== size)
    last.current = { size, place: view.current && !view.current.isDestroyed ? placeOf(view.current) : null }
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each size
  useLayoutEffect(() => {
    const { place } = last.current
    last.current.place = null
    if (!place || !view.current || view.current.isDestroyed) return
    const scroller = scrollerOf(view.current.dom)
    const pos = Math.min(place.pos, view.current.state.doc.content.size)
    if (scroller)
      scroller.scrollTop += view.current.coordsAtPos(pos).top - scroller.getBoundingClientRect().top - place.top
  }, [size])
}
