// The page's side of the journal worker: one for each tab, started with the application.
import type { FromJournal, ToJournal } from '../../core/recovery/protocol'

let worker: Worker | undefined
const listeners = new Set<(message: FromJournal) => void>()

function started(): Worker {
  if (!worker) {
    worker = new Worker(new URL('./journal.worker.ts', import.meta.url), { type: 'module', name: 'journal' })
    worker.onmessage = ({ data }: MessageEvent<FromJournal>) => {
      if (data.say === 'do you answer') worker?.postMessage({ do: 'answer' } satisfies ToJournal)
      else for (const listener of listeners) listener(data)
    }
  }
  return worker
}

export const tellJournal = (message: ToJournal, transfer: Transferable[] = []): void =>
  started().postMessage(message, transfer)
export function onJournal(listener: (message: FromJournal) => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}
