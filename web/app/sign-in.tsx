import { lazy, Suspense, useState } from 'react'
import type { Person, Session } from '../../core/contract'
import { Button, Field } from '../design/controls'
import { t } from '../words'
import { NotLetIn, signIn } from './door'
import { Wordmark } from './wordmark'

const FirstRun = lazy(() => import('./first-run'))
const WithCode = lazy(() => import('./with-code'))

/** The sign-in page; with `again` a small card over the work, for the person whose session ended. */
export function SignIn({
  session,
  onSignedIn,
  onBegin,
  again,
}: {
  session: Session
  onSignedIn: (session: Session) => void
  /** Somebody is about to sign in. */
  onBegin?: () => void
  again?: Person
}) {
  const [handle, setHandle] = useState(again?.handle ?? '')
  const [password, setPassword] = useState('')
  const [fault, setFault] = useState('')
  /** The code of the second factor, once it is asked for. */
  const [second, setSecond] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const [coded, setCoded] = useState(false)

  async function enter(name: string, secret: string) {
    setBusy(true)
    setFault('')
    try {
      onSignedIn(await signIn(name, secret, second ?? undefined))
    } catch (error) {
      if (error instanceof NotLetIn && error.second) setSecond((before) => before ?? '')
      setFault(error instanceof NotLetIn ? error.message : t('app.signing-in-did-not-work-try-again'))
    } finally {
      setBusy(false)
    }
  }
  const form = (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault()
        if (!handle || !password) return setFault(t('app.enter-your-name-and-your-password'))
        void enter(handle, password)
      }}
    >
      <Field
        label={t('app.sign-in-name')}
        autoComplete="username"
        autoFocus={!again}
        value={handle}
        onChange={(event) => {
          setHandle(event.target.value)
          setSecond(null)
        }}
      />
      <Field
        label={t('app.password')}
        type="password"
        autoComplete="current-password"
        value={password}
        onChange={(event) => setPassword(event.target.value)}
        fault={second === null ? fault : ''}
      />
      {second !== null && (
        <Field
          label={t('app.code-of-your-device')}
          autoComplete="one-time-code"
          autoFocus
          value={second}
          onChange={(event) => setSecond(event.target.value)}
          fault={fault}
        />
      )}
      <Button look="main" type="submit" disabled={busy} className="h-9">
        {t('app.sign-in')}
      </Button>
    </form>
  )
  if (again)
    return (
      <div className="w-[min(380px,calc(100vw-32px))] rounded-lg border bg-paper p-6 shadow-slip">
        <h2 className="text-[18px] font-semibold">{t('app.sign-in-again-to-go-on')}</h2>
        <p className="mb-4 mt-1 text-soft">{t('app.your-session-ended-your-work-stays-open')}</p>
        {form}
      </div>
    )
  return (
    <main onInput={onBegin} onPointerMove={onBegin} className="grid h-full place-items-center overflow-auto p-8">
      <div className="grid w-full max-w-4xl items-stretch gap-12 md:grid-cols-[minmax(0,360px)_1fr]">
        <section>
          <h1>
            <Wordmark large />
          </h1>
          <p className="mb-8 mt-3 text-soft">{t('app.your-work-under-its-right-name-in')}</p>
          {session.firstRun ? (
            <Suspense>
              <FirstRun coded={session.firstCode} onSignedIn={onSignedIn} />
            </Suspense>
          ) : coded ? (
            <Suspense>
              <WithCode handle={handle} onSignedIn={onSignedIn} onBack={() => setCoded(false)} />
            </Suspense>
          ) : (
            <>
              {form}
              <Button look="quiet" className="-ml-3 mt-3" onClick={() => setCoded(true)}>
                {t('app.i-have-a-code')}
              </Button>
            </>
          )}
        </section>
        {session.demoAccounts.length > 0 && !session.firstRun && (
          <section className="md:border-l md:pl-12" aria-label={t('app.demo-accounts')}>
            <h2 className="font-semibold">{t('app.the-merrowdale-canal-trust')}</h2>
            <p className="mb-4 text-soft">{t('app.an-invented-office-to-try-jaula-in')}</p>
            <ul className="flex flex-col">
              {session.demoAccounts.map((account) => (
                <li key={account.handle}>
                  <button
                    type="button"
                    disabled={busy}
                    className="-mx-3 w-[calc(100%+24px)] rounded-md px-3 py-3 text-left hover:bg-wash"
                    onClick={() => enter(account.handle, account.password)}
                  >
                    <span className="block font-medium">{account.name}</span>
                    <span className="block text-[14px] text-soft">{account.work}</span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </main>
  )
}
