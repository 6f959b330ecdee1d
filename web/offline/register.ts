/**
 * Lets the pages start without the server from now on; without it nothing else changes.
 * @param onFirst what was answered before the first worker took over is to be asked again, so that it is kept
 */
export function registerOffline(onFirst: () => void): void {
  if (!('serviceWorker' in navigator)) return
  if (!navigator.serviceWorker.controller)
    navigator.serviceWorker.addEventListener('controllerchange', onFirst, { once: true })
  void navigator.serviceWorker.register('/service-worker.js').catch(() => {})
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
