// Sending a file, some of its versions or a link by mail: to whom, in which type, with what is not in it.
import { useQueries, useQueryClient } from '@tanstack/react-query'
import clsx from 'clsx'
import { useRef, useState } from 'react'
import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import type { HistoryVersion, Role, Version } from '../../core/contract'
import { mostVersionsSent, type Sent } from '../../core/contract'
import { sayLimit } from '../../core/formats/refusals'
import { fileType, writableBeside } from '../../core/formats/types'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Choice } from '../design/choice'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { needOf } from '../views/needs'
import { t, told, toldFields } from '../words/all'
import { moment, size } from '../words/formats'
import { LinkFields, type LinkWish, linkOf, usualLink } from './link-fields'
import { type Chosen, Recipients } from './recipients'

export interface ToSend {
  id: string
  kind: 'folder' | 'file'
  name: string
  /** What whoever sends may do there. */
  role: Role
  /** Of a file, the latest first; as many as are known. */
  versions: readonly (Version | HistoryVersion)[]
}
/** What is asked for already: from a version, or from what did not arrive. */
export interface Wish {
  versionIds?: readonly string[]
  type?: string | null
  words?: string
  as?: Sent['as']
}

/** What was begun and not sent, by what it is of: who looks something up meanwhile finds it again. */
const begun = new Map<string, { to: readonly Chosen[]; words: string }>()
/** So many versions are offered. */
const mostOffered = 60

export function SendQuestion({
  of,
  wish = {},
  unsaved = null,
  onClose,
}: {
  of: ToSend
  wish?: Wish
  /** What was written since the latest version, and how it is saved. */
  unsaved?: { save: () => void } | null
  onClose: () => void
}) {
  const client = useQueryClient()
  const { session } = useSession()
  const largest = session.mail?.largest ?? 0
  const before = begun.get(of.id)
  const [key] = useState(uuidv7)
  const [to, setTo] = useState<readonly Chosen[]>(before?.to ?? [])
  const [words, setWords] = useState(wish.words ?? before?.words ?? '')
  const [as, setAs] = useState<Sent['as']>(of.kind === 'folder' ? 'link' : (wish.as ?? 'file'))
  /** null: the latest, whichever that is when it is sent. */
  const [picked, setPicked] = useState<readonly string[] | null>(wish.versionIds ?? null)
  const [picking, setPicking] = useState((wish.versionIds?.length ?? 0) > 1)
  const [type, setType] = useState<string | null>(wish.type ?? null)
  const [link, setLink] = useState<LinkWish>(usualLink)
  const [faults, setFaults] = useState<Record<string, string>>({})
  const [busy, setBusy] = useState(false)
  const form = useRef<HTMLFormElement>(null)

  const head = of.versions[0]
  const chosen = head ? of.versions.filter(({ id }) => (picked ? picked.includes(id) : id === head.id)) : []
  const own = chosen[0]?.type ?? head?.type ?? ''
  const { kind } = fileType(own)
  const types = kind === 'other' || chosen.some((one) => one.type !== own) ? [] : [...writableBeside(own, kind), 'pdf']
  const wanted = type !== null && types.includes(type) ? type : null
  const asTypes = useQueries({
    queries: chosen.map(({ id }) => ({
      queryKey: keys.asType(id, wanted),
      enabled: as === 'file' && wanted !== null,
      queryFn: () => call('asType', { params: { versionId: id }, query: { type: wanted! } }),
      staleTime: Number.POSITIVE_INFINITY,
      retry: false,
    })),
  })
  const waits = wanted !== null && asTypes.some(({ isPending }) => isPending)
  const failed = wanted !== null ? asTypes.find(({ isError }) => isError)?.error : undefined
  const whole =
    wanted === null
      ? chosen.reduce((sum, one) => sum + one.size, 0)
      : asTypes.reduce((sum, { data }) => sum + (data?.size ?? 0), 0)
  const losses = [
    ...new Map(asTypes.flatMap(({ data }) => data?.losses ?? []).map((loss) => [loss.feature, loss])).values(),
  ]
  const tooLarge = as === 'file' && whole > largest
  const mayLink = of.role === 'manage'

  // What is remembered is of the last of all changes, also where two of them come before this is drawn again.
  const latest = useRef({ to, words })
  const remember = (part: { to?: readonly Chosen[]; words?: string }) => {
    latest.current = { ...latest.current, ...part }
    begun.set(of.id, latest.current)
  }
  const forget = () => {
    begun.delete(of.id)
    onClose()
  }
  const send = async () => {
    if (!to.length) {
      setFaults({ to: t('contract.enter-to-whom') })
      form.current?.querySelector<HTMLInputElement>('input')?.focus()
      return
    }
    setBusy(true)
    const common = { key, to: to.map(({ name: _, ...one }) => one), words }
    try {
      await (as === 'file'
        ? call('sendFile', {
            params: { fileId: of.id },
            body: { ...common, versionIds: chosen.map(({ id }) => id), type: wanted },
          })
        : call('sendLink', { params: { id: of.id }, body: { ...common, link: linkOf(link, head) } }))
      toast(t('sending.on-its-way', { people: to.length, name: to[0]!.name }))
      for (const each of [keys.sent(), keys.links(), keys.access()]) void client.invalidateQueries({ queryKey: each })
      forget()
    } catch (error) {
      setBusy(false)
      if (!(error instanceof Refused)) return setFaults({ other: t('common.this-did-not-work-try-again') })
      const fields = error.problem.fields ? toldFields(error.problem) : {}
      const atTo = Object.entries(fields).find(([field]) => field === 'to' || field.startsWith('to.'))?.[1]
      const ofLink = Object.fromEntries(
        Object.entries(fields).map(([field, why]) => [field.replace(/^link\./, ''), why]),
      )
      setFaults({
        ...ofLink,
        ...(atTo && { to: atTo }),
        ...(!atTo && !(as === 'link' && Object.keys(fields).length) && { other: told(error.problem) }),
      })
    }
  }
  const number = head?.number ?? 0
  return (
    <Question
      title={t('sending.send-name', { name: of.name })}
      onClose={onClose}
      answers={
        <>
          <Button
            look="main"
            type="submit"
            form="send"
            disabled={busy || waits || tooLarge || !!failed || (as === 'file' && !chosen.length)}
          >
            {t('sending.send-now', { people: to.length })}
          </Button>
          <Button onClick={forget}>{t('common.cancel')}</Button>
        </>
      }
    >
      <form
        ref={form}
        id="send"
        noValidate
        className="mt-3 flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          void send()
        }}
      >
        <Recipients
          to={to}
          fault={faults.to}
          onChange={(next) => {
            setTo(next)
            setFaults({})
            remember({ to: next })
          }}
        />
        <label className="flex flex-col gap-1 text-[13px] text-soft">
          {t('sending.words')}
          <textarea
            rows={2}
            maxLength={4000}
            className="rounded-md border border-rule-strong bg-sheet px-2.5 py-1.5 text-[15px] text-ink"
            value={words}
            onChange={(event) => {
              setWords(event.target.value)
              remember({ words: event.target.value })
            }}
          />
        </label>
        {of.kind === 'file' && mayLink && (
          <Choice
            label={t('sending.what')}
            value={as}
            choices={[
              ['file', t('sending.the-file')],
              ['link', t('sending.a-link')],
            ]}
            onChange={setAs}
          />
        )}
        {as === 'link' ? (
          <>
            <p className="-mt-2 text-[13px] leading-[18px]">{t('sending.link-each')}</p>
            <LinkFields wish={link} head={head} faults={faults} onChange={setLink} />
          </>
        ) : (
          <>
            {unsaved && (
              <div className="flex flex-wrap items-center gap-x-3 gap-y-2 border-l-4 border-ochre pl-3 text-ink">
                <span className="min-w-0 flex-1 basis-56">{t('sending.unsaved', { number })}</span>
                <Button onClick={unsaved.save}>{t('sending.save-first')}</Button>
              </div>
            )}
            <Versions
              versions={of.versions}
              picked={picked}
              picking={picking}
              onPick={setPicked}
              onPicking={(on) => {
                setPicking(on)
                if (!on) setPicked(null)
              }}
            />
            {types.length > 0 && (
              <Choice
                label={t('sending.needs')}
                value={wanted ?? ''}
                choices={[
                  ['', t('sending.as-it-is', { type: own })],
                  ...types.map((one) => [one, needOf(one)] as const),
                ]}
                onChange={(one) => setType(one || null)}
              />
            )}
            <div className="-mt-2 text-[13px] leading-[18px]" role="status" data-testid="losses">
              {failed ? (
                <p className="text-rust">
                  {failed instanceof Refused ? told(failed.problem) : t('common.this-did-not-work-try-again')}
                </p>
              ) : waits ? (
                <p>{t('sending.looking')}</p>
              ) : wanted !== null && losses.length === 0 ? (
                <p>{t('sending.all-in-it')}</p>
              ) : wanted !== null ? (
                <>
                  <p className="text-rust">{t('sending.not-in-it')}</p>
                  <ul className="list-disc pl-5 text-ink">
                    {losses.map((loss) => (
                      <li key={loss.feature}>{told(sayLimit(loss))}</li>
                    ))}
                  </ul>
                  <p>{t('sending.stays-here')}</p>
                </>
              ) : null}
              {!waits && !failed && !tooLarge && whole > largest / 4 && (
                <p>{t('sending.size', { size: size(whole), most: size(largest) })}</p>
              )}
              {tooLarge && (
                <div className="flex flex-wrap items-center gap-3 text-rust" role="alert">
                  {t('sending.too-large', { size: size(whole), most: size(largest) })}
                  {mayLink && (
                    <Button className="text-ink" onClick={() => setAs('link')}>
                      {t('sending.link-instead')}
                    </Button>
                  )}
                </div>
              )}
            </div>
          </>
        )}
        {faults.other && (
          <p className="text-rust" role="alert">
            {faults.other}
          </p>
        )}
      </form>
    </Question>
  )
}

function Versions({
  versions,
  picked,
  picking,
  onPick,
  onPicking,
}: {
  versions: ToSend['versions']
  picked: readonly string[] | null
  picking: boolean
  onPick: (ids: readonly string[] | null) => void
  onPicking: (on: boolean) => void
}) {
  const [head] = versions
  if (!head) return null
  const one = picked?.length === 1 ? versions.find(({ id }) => id === picked[0]) : picked ? undefined : head
  const line = (version: Version) =>
    t('sending.version', { number: version.number, at: moment(version.at), author: version.author.name })
  const ids = picked ?? [head.id]
  const toggle = (id: string) => {
    const next = ids.includes(id) ? ids.filter((other) => other !== id) : [...ids, id].slice(-mostVersionsSent)
    onPick(next)
  }
  return (
    <div role="group" aria-label={t('sending.which')}>
      <p className="text-[13px]">{t('sending.which')}</p>
      {!picking && one && (
        <div className="flex flex-wrap items-center gap-x-3 text-ink">
          <span className="min-w-0 flex-1 basis-56">
            {one.id === head.id ? t('sending.latest', { number: one.number }) : line(one)}
          </span>
          {versions.length > 1 && (
            <Button look="quiet" onClick={() => onPicking(true)}>
              {t('sending.other-versions')}
            </Button>
          )}
        </div>
      )}
      {picking && (
        <>
          <ul className="mt-1 max-h-44 overflow-auto rounded-md border bg-sheet">
            {versions.slice(0, mostOffered).map((version) => (
              <li key={version.id} className="border-b last:border-b-0">
                <label className={clsx('flex items-center gap-2.5 px-2.5 py-1.5 text-[14px] text-ink hover:bg-wash')}>
                  <input
                    type="checkbox"
                    className="accent-accent"
                    checked={ids.includes(version.id)}
                    onChange={() => toggle(version.id)}
                  />
                  <span className="min-w-0 flex-1 truncate">{line(version)}</span>
                </label>
              </li>
            ))}
          </ul>
          <Button look="quiet" className="-ml-3 mt-1" onClick={() => onPicking(false)}>
            {t('sending.only-the-latest')}
          </Button>
        </>
      )}
    </div>
  )
}
