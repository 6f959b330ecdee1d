/**
 * Lets the pages start without the server; without it nothing else changes. What it fetches for that comes after
 * everything that somebody waits for.
 * @param after milliseconds until then
 * @param onFirst what was answered before the first worker took over is to be asked again, so that it is kept
 * @returns takes it back, as long as it has not begun
 */
export function registerOffline(after: number, onFirst: () => void): () => void {
  if (!('serviceWorker' in navigator)) return () => {}
  // Another tab may be the one that registers it.
  if (!navigator.serviceWorker.controller)
    navigator.serviceWorker.addEventListener('controllerchange', onFirst, { once: true })
  const timer = setTimeout(() => void navigator.serviceWorker.register('/service-worker.js').catch(() => {}), after)
  return () => {
    clearTimeout(timer)
    navigator.serviceWorker.removeEventListener('controllerchange', onFirst)
  }
}

/** Forgets every kept answer and content, when somebody signs out. */
export async function forgetOffline(): Promise<void> {
  const worker = navigator.serviceWorker?.controller
  if (!worker) return
  await new Promise<void>((resolve) => {
    const { port1, port2 } = new MessageChannel()
    port1.onmessage = () => resolve()
    worker.postMessage('forget', [port2])
    setTimeout(resolve, 2000)
  })
}
