/** Does something that nobody waits for, once the page has nothing else to do. @returns gives it up */
export function whenIdle(work: () => void): () => void {
  // Not every browser can say when that is.
  if (!('requestIdleCallback' in globalThis)) {
    const timer = setTimeout(work, 200)
    return () => clearTimeout(timer)
  }
  const idle = requestIdleCallback(work)
  return () => cancelIdleCallback(idle)
}
