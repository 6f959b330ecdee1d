// Who is signed in, and signing in, asked by the browser's own means alone: the first page waits for nothing else.
import type { Problem, Session } from '../../core/contract'
import { t, told } from '../words'
import { firstSession } from './early'

/** What the server said, or that it said nothing. */
export class NotLetIn extends Error {
  /** @param second a code of the second factor is asked for */
  constructor(
    message: string,
    readonly second = false,
  ) {
    super(message)
  }
}

async function asked(init: RequestInit): Promise<Session> {
  let response: Response
  try {
    response = await fetch('/api/session', { ...init, signal: AbortSignal.timeout(10_000) })
    if (response.ok) return (await response.json()) as Session
  } catch {
    throw new NotLetIn(t('app.jaulas-server-does-not-answer-right-now'))
  }
  const problem = (await response.json().catch(() => null)) as Problem | null
  const second = problem?.type === 'second-factor' || !!problem?.fields?.second
  throw new NotLetIn(problem ? told(problem) : t('app.signing-in-did-not-work-try-again'), second)
}

/** Who is signed in here, with what the first page says. @throws NotLetIn */
export const whoIsHere = async (): Promise<Session> => ((await firstSession()) as Session | null) ?? asked({})

/** @throws NotLetIn */
export const signIn = (handle: string, password: string, second?: string): Promise<Session> =>
  asked({
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ handle, password, second }),
  })

const mark = 'jaula signed in'
/** Whether somebody was signed in here last time, and most likely still is: then the rest is fetched at once. */
export function wasSignedIn(): boolean {
  try {
    return localStorage.getItem(mark) !== null
  } catch {
    return false
  }
}
export function noteSignedIn(signedIn: boolean): void {
  try {
    if (signedIn) localStorage.setItem(mark, 'yes')
    else localStorage.removeItem(mark)
  } catch {
    // A browser that keeps nothing fetches it when it is needed.
  }
}
