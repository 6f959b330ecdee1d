// How large work is shown on the screen: texts and sheets apart, kept on this device, and the same in each of its tabs.
// Paper knows nothing of it.
import { useSyncExternalStore } from 'react'

export type Sized = 'text' | 'sheet'

/** As shares of the usual size. */
export const sizes = [0.5, 0.75, 0.9, 1, 1.1, 1.25, 1.5, 1.75, 2, 2.5, 3] as const

const place = (what: Sized) => `jaula.size.${what}`
const listeners = new Set<() => void>()

/** What is kept and is none of the sizes, as of a later version, is the usual size. */
export function sizeOf(what: Sized): number {
  const kept = Number(localStorage.getItem(place(what)) ?? 1)
  return sizes.find((size) => size === kept) ?? 1
}

export function setSize(what: Sized, size: number): void {
  try {
    localStorage.setItem(place(what), String(size))
  } catch {
    // No room on this device: it is shown as it was.
  }
  for (const listener of listeners) listener()
}

/** The size a step larger or smaller; the last one stays. */
export const stepFrom = (size: number, way: 1 | -1): number =>
  (way > 0 ? sizes.find((one) => one > size) : sizes.findLast((one) => one < size)) ?? size

function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  window.addEventListener('storage', listener)
  return () => {
    listeners.delete(listener)
    window.removeEventListener('storage', listener)
  }
}

export const useSize = (what: Sized): number => useSyncExternalStore(subscribe, () => sizeOf(what))
