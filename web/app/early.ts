// What the first screen waits for in any case, asked for before the application itself has been read: who is
// signed in, and the editor where the address wants it. The build puts this before everything else (vite.config.ts).

/** The first answer to who is signed in; null when there was none, and it has to be asked for. */
let session: Promise<unknown> | null = fetch('/api/session', { signal: AbortSignal.timeout(10_000) })
  .then((response) => (response.ok ? response.json() : null))
  .catch(() => null)

/** Given once: whoever asks again wants to know how it is by then. */
export async function firstSession(): Promise<unknown> {
  const first = session
  session = null
  return first
}

if (/^\/(draft|new|open)\//.test(window.location.pathname)) void import('../editor/routes').catch(() => {})
