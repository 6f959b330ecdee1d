import { type ComponentType, useEffect, useState } from 'react'
import type { Session } from '../../core/contract'
import { Blank, Button } from '../design/controls'
import { t } from '../words'
import { useAppearance } from './appearance'
import { wasSignedIn, whoIsHere } from './door'
import { SignIn } from './sign-in'

type Office = ComponentType<{ session: Session }>
/** All that is behind the sign-in page. */
const fetchOffice = () => import('./office').then(({ Office }): Office => Office)
if (wasSignedIn()) void fetchOffice().catch(() => {})

/** The first page, which waits for nothing but who is signed in; then the office, for whoever is. */
export function Gate() {
  const [session, setSession] = useState<Session | null>(null)
  const [office, setOffice] = useState<Office | null>(null)
  const [away, setAway] = useState(false)
  useAppearance('system')
  const begin = async () => {
    setAway(false)
    try {
      const here = session ?? (await whoIsHere())
      setSession(here)
      if (here.person) {
        const component = await fetchOffice()
        setOffice(() => component)
      }
    } catch {
      setAway(true)
    }
  }
  const person = session?.person
  // biome-ignore lint/correctness/useExhaustiveDependencies: begun at first, and again when somebody signed in
  useEffect(() => void begin(), [person])
  if (away)
    return (
      <div className="grid h-full place-items-center">
        <Blank screen title={t('app.jaulas-server-does-not-answer')}>
          <p>{t('app.check-that-the-server-is-running-then')}</p>
          <Button look="main" className="mt-4" onClick={() => void begin()}>
            {t('common.try-again')}
          </Button>
        </Blank>
      </div>
    )
  if (session && !person)
    return <SignIn session={session} onSignedIn={setSession} onBegin={() => void fetchOffice().catch(() => {})} />
  const Inside = office
  return session && Inside ? <Inside session={session} /> : <Blank screen title={t('common.one-moment')} waiting />
}
