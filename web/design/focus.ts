// Where the keyboard goes when what had it is gone. A slip that closes, a dialog, a card, a screen that
// changes: each takes the element with the focus along, and the browser then gives the keys to the page's
// body, where they do nothing. Whatever screen is shown says what its home is (in the editor: the work, where
// the cursor was), and the focus goes there in the same moment, before the next key.
import { useEffect, useRef } from 'react'

let home: (() => void) | null = null

/** Makes this the place that the focus goes back to, while it is shown. */
export function useFocusHome(focus: () => void): void {
  const latest = useRef(focus)
  latest.current = focus
  useEffect(() => {
    const own = () => latest.current()
    const before = home
    home = own
    return () => {
      if (home === own) home = before
    }
  }, [])
}

/** What is open above the screen, and holds the focus itself. */
const above = '[role="dialog"][data-state="open"], [role="menu"][data-state="open"]'

/** Whether something is open above the screen that has the keys: what comes late below it leaves them there. */
export const isCovered = (): boolean => document.querySelector(above) !== null

/** Gives the focus to the screen's home, if nothing else has it. */
export function goHome(): void {
  if (document.activeElement !== document.body || isCovered()) return
  home?.()
  if (document.activeElement === document.body) toMain()
}

/**
 * Gives the focus back when what was open above the screen closes: to the screen's home, else to what opened it.
 * @param opener what had the focus before
 */
export function giveBack(opener: Element | null): void {
  if (document.activeElement !== document.body || isCovered()) return
  if (!home && opener instanceof HTMLElement && opener.isConnected && opener !== document.body) opener.focus()
  else goHome()
}

/** Gives the focus to what the screen is about. */
export function toMain(): void {
  const main = document.querySelector<HTMLElement>('main')
  if (!main) return
  if (!main.hasAttribute('tabindex')) main.tabIndex = -1
  main.style.outline = 'none'
  main.focus({ preventScroll: true })
}

/** Watches for the focus being lost with its element. @returns what ends it */
export function watchFocus(): () => void {
  let last: Element | null = null
  const note = (event: FocusEvent) => {
    last = event.target instanceof Element ? event.target : null
  }
  const look = () => {
    // A click into nothing is a person's own; an element that is gone, or hidden, is not.
    if (document.activeElement !== document.body || !last) return
    if (last.isConnected && (last as HTMLElement).offsetParent !== null) return
    goHome()
  }
  document.addEventListener('focusin', note)
  const observer = new MutationObserver(look)
  observer.observe(document.body, { childList: true, subtree: true, attributes: true, attributeFilter: ['hidden'] })
  return () => {
    document.removeEventListener('focusin', note)
    observer.disconnect()
  }
}
