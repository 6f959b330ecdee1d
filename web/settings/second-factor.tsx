// A second factor for signing in: a code of a device, and codes to be used once in its place.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { toString as asSvg } from 'qrcode'
import { useEffect, useState } from 'react'
import { toast } from 'sonner'
import type { BegunSecondFactor } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { t, told } from '../words/all'
import { moment } from '../words/formats'

const sentence = (error: unknown) =>
  error instanceof Refused
    ? told(Object.values(error.problem.fields ?? {})[0] ?? error.problem)
    : t('common.this-did-not-work-try-again')

type Wanted = 'begin' | 'end' | 'codes'

export function SecondFactorOfMine() {
  const client = useQueryClient()
  const factor = useQuery({ queryKey: keys.secondFactor(), queryFn: () => call('secondFactor', {}) })
  const [asking, setAsking] = useState<Wanted | null>(null)
  const [begun, setBegun] = useState<BegunSecondFactor | null>(null)
  const [codes, setCodes] = useState<readonly string[]>([])
  const again = () => client.invalidateQueries({ queryKey: keys.secondFactor() })
  const on = factor.data?.since ?? null
  /** With the password: whoever sits down at an open page has none. */
  const carryOut = async (what: Wanted, password: string) => {
    if (what === 'begin') setBegun(await call('beginSecondFactor', { body: { password } }))
    if (what === 'codes') setCodes((await call('renewCodes', { body: { password } })).codes)
    if (what === 'end') {
      await call('endSecondFactor', { body: { password } })
      toast(t('settings.second-factor-is-off'))
    }
    setAsking(null)
    await again()
  }
  return (
    <div>
      <h3 className="font-medium">{t('settings.second-factor')}</h3>
      <p className="mb-3 mt-1 text-[14px] text-soft">
        {on
          ? t('settings.second-factor-since', { since: moment(on), codes: factor.data!.codesLeft })
          : t('settings.second-factor-is')}
      </p>
      {factor.data && (
        <div className="flex flex-wrap gap-2">
          {on ? (
            <>
              <Button onClick={() => setAsking('codes')}>{t('settings.new-recovery-codes')}</Button>
              <Button look="warning" onClick={() => setAsking('end')}>
                {t('settings.do-without-it')}
              </Button>
            </>
          ) : (
            <Button onClick={() => setAsking('begin')}>{t('settings.set-a-second-factor')}</Button>
          )}
        </div>
      )}
      {asking && (
        <AskPassword what={asking} onGiven={(password) => carryOut(asking, password)} onClose={() => setAsking(null)} />
      )}
      {begun && (
        <Confirm
          begun={begun}
          onConfirmed={(made) => {
            setBegun(null)
            setCodes(made)
            void again()
          }}
          onClose={() => setBegun(null)}
        />
      )}
      {codes.length > 0 && <Codes codes={codes} onClose={() => setCodes([])} />}
    </div>
  )
}

function AskPassword({
  what,
  onGiven,
  onClose,
}: {
  what: Wanted
  onGiven: (password: string) => Promise<void>
  onClose: () => void
}) {
  const [password, setPassword] = useState('')
  const [fault, setFault] = useState('')
  const title = {
    begin: t('settings.set-a-second-factor'),
    codes: t('settings.new-recovery-codes'),
    end: t('settings.do-without-it'),
  }[what]
  return (
    <Question
      title={title}
      onClose={onClose}
      answers={
        <>
          <Button look={what === 'end' ? 'warning' : 'main'} type="submit" form="with-password">
            {what === 'begin' ? t('settings.go-on') : title}
          </Button>
          <Button onClick={onClose}>{t('common.cancel')}</Button>
        </>
      }
    >
      {what === 'codes' && <p className="mb-3">{t('settings.earlier-codes-count-no-more')}</p>}
      <form
        id="with-password"
        noValidate
        onSubmit={(event) => {
          event.preventDefault()
          if (!password) return setFault(t('contract.enter-present-password'))
          void onGiven(password).catch((error) => setFault(sentence(error)))
        }}
      >
        <Field
          label={t('settings.present-password')}
          type="password"
          autoComplete="current-password"
          autoFocus
          value={password}
          fault={fault}
          onChange={(event) => {
            setPassword(event.target.value)
            setFault('')
          }}
        />
      </form>
    </Question>
  )
}

function Confirm({
  begun,
  onConfirmed,
  onClose,
}: {
  begun: BegunSecondFactor
  onConfirmed: (codes: string[]) => void
  onClose: () => void
}) {
  const [picture, setPicture] = useState('')
  const [second, setSecond] = useState('')
  const [fault, setFault] = useState('')
  useEffect(() => {
    void asSvg(begun.address, { type: 'svg', margin: 2 }).then((svg) =>
      setPicture(`data:image/svg+xml,${encodeURIComponent(svg)}`),
    )
  }, [begun.address])
  return (
    <Question
      title={t('settings.take-it-into-your-device')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" type="submit" form="second-code">
            {t('settings.it-counts-from-now-on')}
          </Button>
          <Button onClick={onClose}>{t('common.cancel')}</Button>
        </>
      }
    >
      <p className="mb-3">{t('settings.photograph-it-or-type-it')}</p>
      <div className="mb-4 flex flex-wrap items-center gap-4">
        {picture && (
          <img src={picture} alt={t('settings.picture-of-the-secret')} className="size-40 rounded-md border bg-white" />
        )}
        <code className="min-w-0 flex-1 basis-40 select-all break-all font-mono text-[14px] text-ink">
          {begun.secret.replace(/(.{4})(?=.)/g, '$1 ')}
        </code>
      </div>
      <form
        id="second-code"
        noValidate
        onSubmit={async (event) => {
          event.preventDefault()
          try {
            onConfirmed((await call('confirmSecondFactor', { body: { second } })).codes)
          } catch (error) {
            setFault(second ? sentence(error) : t('settings.enter-what-it-shows'))
          }
        }}
      >
        <Field
          label={t('settings.code-that-it-shows')}
          inputMode="numeric"
          autoComplete="one-time-code"
          autoFocus
          className="w-44"
          value={second}
          fault={fault}
          onChange={(event) => {
            setSecond(event.target.value)
            setFault('')
          }}
        />
      </form>
    </Question>
  )
}

function Codes({ codes, onClose }: { codes: readonly string[]; onClose: () => void }) {
  return (
    <Question
      title={t('settings.recovery-codes')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" onClick={onClose}>
            {t('settings.i-have-them')}
          </Button>
          <Button
            onClick={() =>
              void navigator.clipboard.writeText(codes.join('\n')).then(
                () => toast(t('settings.codes-copied')),
                () => toast.error(t('settings.codes-not-copied')),
              )
            }
          >
            {t('settings.copy-codes')}
          </Button>
        </>
      }
    >
      <p className="mb-3">{t('settings.each-stands-in-once')}</p>
      <ul className="grid grid-cols-2 gap-x-8 gap-y-1.5 font-mono text-[16px] text-ink" data-testid="recovery-codes">
        {codes.map((code) => (
          <li key={code} className="select-all">
            {code}
          </li>
        ))}
      </ul>
    </Question>
  )
}
