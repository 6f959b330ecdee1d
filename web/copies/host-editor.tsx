// A folder of another computer as a place for copies: its address and who signs in, then the key that it shows.
import { type FormEvent, useState } from 'react'
import type { CopySite, HostShown } from '../../core/contract'
import { call, Refused } from '../api/call'
import { Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { t, told } from '../words/all'

/**
 * @param site one that is signed in at anew; without it another one is added
 * @param hosts computers that may be named
 * @param onDone is given the address that is used now
 */
export function HostEditor({
  site,
  hosts,
  onDone,
  onClose,
}: {
  site: CopySite | null
  hosts: readonly string[]
  onDone: (address: string) => void
  onClose: () => void
}) {
  const [address, setAddress] = useState(site?.folder ?? '')
  const [account, setAccount] = useState(site?.account ?? '')
  const [secret, setSecret] = useState('')
  const [byKey, setByKey] = useState(false)
  const [shown, setShown] = useState<HostShown | null>(null)
  const [fault, setFault] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const fine = address.trim() !== '' && account.trim() !== '' && secret !== ''

  const attempt = async (doing: () => Promise<void>) => {
    setBusy(true)
    setFault(null)
    try {
      await doing()
    } catch (error) {
      setFault(error instanceof Refused ? told(error.problem) : t('sites.could-not'))
    } finally {
      setBusy(false)
    }
  }
  const use = async ({ address: at, key }: HostShown) => {
    const signIn = { account: account.trim(), secret, key }
    if (site) await call('signInAtCopySite', { params: { siteId: site.id }, body: signIn })
    else await call('addCopyHost', { body: { address: at, ...signIn } })
    onDone(at)
  }
  const goOn = (event: FormEvent) => {
    event.preventDefault()
    if (!fine || busy) return
    void attempt(async () => {
      const found = await call('lookAtCopyHost', { body: { address } })
      // Its certificate vouches for it; a key somebody has to know, and has where it is the one of before.
      if (found.key === null || found.key === site?.key) await use(found)
      else setShown(found)
    })
  }
  const changed = shown !== null && site?.key != null && site.key !== shown.key

  if (shown)
    return (
      <Question
        title={changed ? t('sites.other-key') : t('sites.is-it-that-key')}
        onClose={onClose}
        answers={
          <>
            <Button look="main" disabled={busy} onClick={() => attempt(() => use(shown))}>
              {busy ? t('sites.signs-in') : t('sites.it-is')}
            </Button>
            {/* A key pressed in haste agrees to nothing. */}
            <Button key="back" look="quiet" autoFocus onClick={() => setShown(null)}>
              {t('sites.go-back')}
            </Button>
          </>
        }
      >
        <p>{t('sites.shows-this-key', { address: shown.address })}</p>
        <p className="my-3 break-all rounded-md bg-wash px-3 py-2 font-mono text-[12px] text-ink">{shown.key}</p>
        {changed && (
          <>
            <p>{t('sites.showed-before')}</p>
            <p className="my-3 break-all rounded-md bg-wash px-3 py-2 font-mono text-[12px] text-ink">{site.key}</p>
          </>
        )}
        <p>{changed ? t('sites.ask-why-other') : t('sites.compare-key')}</p>
        {fault && (
          <p role="alert" className="mt-3 text-rust">
            {fault}
          </p>
        )}
      </Question>
    )
  return (
    <Question
      title={site ? t('sites.sign-in-at', { site: site.name }) : t('sites.another-computer')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" type="submit" form="host" disabled={!fine || busy}>
            {busy ? t('sites.looks') : t('sites.go-on')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <form id="host" onSubmit={goOn} className="space-y-3.5 text-ink" autoComplete="off">
        <Field
          label={t('sites.address')}
          value={address}
          readOnly={!!site}
          autoFocus={!site}
          spellCheck={false}
          placeholder={`sftp://${hosts[0]?.replace(/\/.*/, '') ?? 'computer'}/copies`}
          hint={site ? undefined : t('sites.address-hint', { hosts: hosts.join(', ') })}
          onChange={(event) => setAddress(event.target.value)}
        />
        <Field
          label={t('sites.account')}
          value={account}
          spellCheck={false}
          autoFocus={!!site}
          autoComplete="off"
          onChange={(event) => setAccount(event.target.value)}
        />
        {byKey ? (
          <label className="block">
            <span className="mb-1 block text-[13px] text-soft">{t('sites.private-key')}</span>
            <textarea
              value={secret}
              rows={5}
              spellCheck={false}
              className="w-full rounded-md border border-rule-strong bg-sheet px-2.5 py-2 font-mono text-[12px]"
              onChange={(event) => setSecret(event.target.value)}
            />
          </label>
        ) : (
          <Field
            label={t('sites.password')}
            type="password"
            value={secret}
            autoComplete="new-password"
            hint={t('sites.kept-locked')}
            onChange={(event) => setSecret(event.target.value)}
          />
        )}
        <button
          type="button"
          className="min-h-6 text-[13px] text-accent hover:underline"
          onClick={() => {
            setByKey(!byKey)
            setSecret('')
          }}
        >
          {byKey ? t('sites.by-password') : t('sites.by-key')}
        </button>
        {fault && (
          <p role="alert" className="text-rust">
            {fault}
          </p>
        )}
      </form>
    </Question>
  )
}
