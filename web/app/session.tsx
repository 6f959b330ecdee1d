import { useQuery, useQueryClient } from '@tanstack/react-query'
import { type ReactNode, useEffect, useRef, useState } from 'react'
import type { Person, Session } from '../../core/contract'
import { call, onSignedOut } from '../api/call'
import { keys } from '../api/keys'
import { standardSettings } from '../api/settings'
import { SignedInContext } from '../api/signed-in'
import { forgetOffline } from '../offline/register'
import { t } from '../words'
import { keepLanguage } from '../words/language'
import { deviceName } from '../work/device-name'
import { onJournal, tellJournal } from '../work/journal'
import { useAppearance } from './appearance'
import { noteSignedIn } from './door'
import { LinkAgain } from './guest'
import { SignIn } from './sign-in'

/** Who is signed in, for everything below. When a session ends, the sign-in card comes over the work. @param first as it began */
export function SessionGate({ first, children }: { first: Session; children: ReactNode }) {
  const client = useQueryClient()
  const session = useQuery({
    queryKey: keys.session(),
    queryFn: () => call('session', {}, { timeout: 10_000 }),
    staleTime: 5 * 60_000,
    initialData: first,
  })
  const [person, setPerson] = useState<Person>(first.person!)
  // Renamed here or elsewhere, it is the same person.
  const named = session.data.person
  if (named && named.id === person.id && (named.name !== person.name || named.administrator !== person.administrator))
    setPerson(named)
  const [again, setAgain] = useState(false)
  /** How often somebody signed in again on this page. */
  const signIns = useRef(0)
  const mineId = first.person!.id
  const settings = useQuery({
    queryKey: keys.settings(),
    queryFn: () => call('settings', {}),
    staleTime: 60_000,
  })
  const mine = settings.data ?? standardSettings

  useEffect(() => noteSignedIn(true), [])
  const chosen = settings.data?.language
  useEffect(() => {
    // A page on which somebody writes goes on in the language that it began in.
    if (chosen && keepLanguage(chosen) && !/^\/(draft|new|open)\//.test(window.location.pathname))
      window.location.reload()
  }, [chosen])
  useEffect(() => {
    // A refusal may be of a request that was on its way before somebody signed in again, here or in another tab.
    const ended = async () => {
      const seen = signIns.current
      const now = await call('session', {}, { timeout: 10_000 }).catch(() => null)
      const over = now?.person?.id !== mineId
      if (signIns.current === seen) setAgain(over)
      // The journal waits until somebody signs in, and nobody has to.
      if (!over) tellJournal({ do: 'try now' })
    }
    const stops = [
      onSignedOut(() => void ended()),
      onJournal((message) => message.say === 'server' && message.state === 'signed out' && void ended()),
    ]
    return () => {
      for (const stop of stops) stop()
    }
  }, [mineId])
  useEffect(() => {
    tellJournal({
      do: 'start',
      personId: person.id,
      deviceName: deviceName(),
      interval: mine.recoveryInterval,
    })
  }, [person, mine.recoveryInterval])
  useAppearance(mine.appearance)

  const signedIn = async (next: Session) => {
    client.setQueryData(keys.session(), next)
    if (next.person?.id !== person.id) return window.location.reload()
    signIns.current++
    setPerson(next.person)
    setAgain(false)
    tellJournal({ do: 'try now' })
    await client.invalidateQueries()
  }
  const signOut = async () => {
    noteSignedIn(false)
    await call('signOut', {}).catch(() => {})
    await forgetOffline()
    window.location.assign('/')
  }
  return (
    <SignedInContext.Provider value={{ person, session: session.data, settings: mine, signOut }}>
      {children}
      {/* The card takes no focus: whoever is typing goes on typing, and nothing of it lands in a password. */}
      {again && (
        <div
          className="fixed right-4 top-[68px] z-[60]"
          role="dialog"
          aria-label={t('app.sign-in-again')}
          aria-live="polite"
        >
          {person.guestOf === undefined ? (
            <SignIn session={session.data} onSignedIn={signedIn} again={person} />
          ) : (
            <LinkAgain />
          )}
        </div>
      )}
    </SignedInContext.Provider>
  )
}
