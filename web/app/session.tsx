import { useQuery, useQueryClient } from '@tanstack/react-query'
import { createContext, type ReactNode, useContext, useEffect, useState } from 'react'
import { type Person, type Session, type Settings, standardInterval } from '../../core/contract'
import { Blank, Button } from '../design/controls'
import { forgetOffline } from '../offline/register'
import { onJournal, tellJournal } from '../work/journal'
import { call, isAway, onSignedOut } from './call'
import { deviceName } from './device'
import { firstSession } from './early'
import { SignIn } from './sign-in'

interface SignedIn {
  person: Person
  session: Session
  settings: Settings
  signOut: () => Promise<void>
}
const Context = createContext<SignedIn | null>(null)
/** The person who is signed in; only inside SessionGate. */
export const useSession = (): SignedIn => useContext(Context)!

/** Until a person's own settings are known. Nothing is cleared away by these: the room is the widest there is. */
const standard: Settings = {
  recoveryInterval: standardInterval,
  continuousSave: false,
  keptDays: 14,
  weeklyDrill: false,
  appearance: 'system',
  defaults: {},
  unsavedPlace: null,
  deviceRoom: 10_000,
  storageRoom: 10_000,
  goesFirst: 'oldest',
}

/** Shows the sign-in page until somebody is signed in; later, over the work, when a session ends. */
export function SessionGate({ children }: { children: ReactNode }) {
  const client = useQueryClient()
  const session = useQuery({
    queryKey: ['session'],
    queryFn: async () => ((await firstSession()) as Session | null) ?? call('session', {}, { timeout: 10_000 }),
    staleTime: 5 * 60_000,
  })
  const [person, setPerson] = useState<Person | null>(null)
  const [again, setAgain] = useState(false)
  const settings = useQuery({
    queryKey: ['settings'],
    queryFn: () => call('settings', {}),
    enabled: person !== null,
    staleTime: 60_000,
  })
  const mine = settings.data ?? standard

  useEffect(() => {
    if (session.data?.person && !person) setPerson(session.data.person)
  }, [session.data, person])
  useEffect(() => {
    const ended = () => setAgain(true)
    const stops = [
      onSignedOut(ended),
      onJournal((message) => message.say === 'server' && message.state === 'signed out' && ended()),
    ]
    return () => {
      for (const stop of stops) stop()
    }
  }, [])
  useEffect(() => {
    if (person)
      tellJournal({
        do: 'start',
        personId: person.id,
        deviceName: deviceName(),
        interval: mine.recoveryInterval,
      })
  }, [person, mine.recoveryInterval])
  useEffect(() => {
    const dark = window.matchMedia('(prefers-color-scheme: dark)')
    const dress = () =>
      document.documentElement.classList.toggle(
        'dark',
        mine.appearance === 'dark' || (mine.appearance === 'system' && dark.matches),
      )
    dress()
    dark.addEventListener('change', dress)
    return () => dark.removeEventListener('change', dress)
  }, [mine.appearance])

  if (session.isPending) return <Blank title="One moment" waiting />
  if (session.isError && !person)
    return (
      <div className="grid h-full place-items-center">
        <Blank title={isAway(session.error) ? 'Jaula’s server does not answer' : 'Jaula could not start'}>
          <p>What you wrote on this device is safe in its journal. Check that the server is running, then try again.</p>
          <Button look="main" className="mt-4" onClick={() => session.refetch()}>
            Try again
          </Button>
        </Blank>
      </div>
    )
  const signedIn = async (next: Session) => {
    client.setQueryData(['session'], next)
    if (person && next.person?.id !== person.id) return window.location.reload()
    setPerson(next.person)
    setAgain(false)
    tellJournal({ do: 'try now' })
    await client.invalidateQueries()
  }
  if (!person) return session.data ? <SignIn session={session.data} onSignedIn={signedIn} /> : null
  const signOut = async () => {
    await call('signOut', {}).catch(() => {})
    await forgetOffline()
    window.location.assign('/')
  }
  return (
    <Context.Provider value={{ person, session: session.data!, settings: mine, signOut }}>
      {children}
      {/* The card takes no focus: whoever is typing goes on typing, and nothing of it lands in a password. */}
      {again && (
        <div className="fixed right-4 top-[68px] z-[60]" role="dialog" aria-label="Sign in again" aria-live="polite">
          <SignIn session={session.data!} onSignedIn={signedIn} again={person} />
        </div>
      )}
    </Context.Provider>
  )
}
