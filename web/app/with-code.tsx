import { useState } from 'react'
import type { Session } from '../../core/contract'
import { call, Refused } from '../api/call'
import { Button, Field } from '../design/controls'
import { t, toldFields } from '../words'

interface Entered {
  handle: string
  code: string
  password: string
  /** Of the second factor, once it is asked for. */
  second?: string
}

/** Sets a password with a code that an administrator gave, and signs in. */
export default function WithCode({
  handle: first,
  onSignedIn,
  onBack,
}: {
  handle: string
  onSignedIn: (session: Session) => void
  onBack: () => void
}) {
  const [body, setBody] = useState<Entered>({ handle: first, code: '', password: '' })
  const [faults, setFaults] = useState<Record<string, string>>({})
  const [busy, setBusy] = useState(false)
  async function enter() {
    const missing = Object.entries(body).find(([name, value]) => name !== 'second' && !value)
    if (missing) return setFaults({ [missing[0]]: t('app.this-is-needed') })
    setBusy(true)
    try {
      onSignedIn(await call('useCode', { body }))
    } catch (error) {
      const told = error instanceof Refused ? toldFields(error.problem) : {}
      if (told.second) setBody((before) => ({ ...before, second: before.second ?? '' }))
      setFaults(Object.keys(told).length ? told : { code: t('common.this-did-not-work-try-again') })
    } finally {
      setBusy(false)
    }
  }
  const field = (name: keyof typeof body, label: string, more: object) => (
    <Field
      label={label}
      value={body[name]}
      fault={faults[name]}
      onChange={(event) => setBody({ ...body, [name]: event.target.value })}
      {...more}
    />
  )
  return (
    <form
      className="flex flex-col gap-4"
      aria-label={t('app.enter-with-a-code')}
      noValidate
      onSubmit={(event) => {
        event.preventDefault()
        void enter()
      }}
    >
      <p className="text-soft">{t('app.a-code-is-used-once')}</p>
      {field('handle', t('app.sign-in-name'), { autoComplete: 'username', autoFocus: !first })}
      {field('code', t('app.code'), { autoComplete: 'one-time-code', spellCheck: false, autoFocus: !!first })}
      {field('password', t('app.a-password-of-your-own'), { type: 'password', autoComplete: 'new-password' })}
      {body.second !== undefined &&
        field('second', t('app.code-of-your-device'), { autoComplete: 'one-time-code', autoFocus: true })}
      <Button look="main" type="submit" disabled={busy} className="h-9">
        {t('app.set-it-and-sign-in')}
      </Button>
      <Button look="quiet" onClick={onBack} className="self-start">
        {t('app.i-have-a-password')}
      </Button>
    </form>
  )
}
