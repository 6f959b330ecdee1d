// What was sent of a folder or file: when, by whom, to whom, which versions, and what became of each message.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import clsx from 'clsx'
import { toast } from 'sonner'
import type { Sent, SentMail } from '../../core/contract'
import { sayLimit } from '../../core/formats/refusals'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { t, told } from '../words/all'
import { listed, moment } from '../words/formats'
import { calledOf, isLost, stateInWords } from './said'
import type { Wish } from './send'

export const useSent = (entryId: string | undefined) =>
  useQuery({
    queryKey: keys.sent(entryId),
    queryFn: () => call('sent', { params: { entryId: entryId! } }),
    enabled: entryId !== undefined,
  })

export interface SentActs {
  /** Shows what is other now than in a version that was sent; absent where that is not shown. */
  onChanges?: (versionId: string) => void
  /** Sends the same to somebody else; absent where nothing is sent. */
  onAgain?: (wish: Wish) => void
}

export function SentList({ sent, onChanges, onAgain }: { sent: readonly Sent[] } & SentActs) {
  return (
    <ul aria-label={t('sending.what-was-sent')} className="text-ink">
      {sent.map((one) => (
        <li key={one.id} className="border-b py-3 first:pt-1 last:border-b-0">
          <Sending one={one} {...(onChanges && { onChanges })} {...(onAgain && { onAgain })} />
        </li>
      ))}
    </ul>
  )
}

function Sending({ one, onChanges, onAgain }: { one: Sent } & SentActs) {
  const [version] = one.versions
  return (
    <>
      <p className="text-[13.5px] text-soft">{t('sending.by-at', { by: one.by, at: moment(one.at) })}</p>
      {one.as === 'link' && (
        <p className="font-medium">
          {t('sending.was-a-link', { which: version ? 'this' : 'latest', number: version?.number ?? 0 })}
        </p>
      )}
      {one.as === 'file' && (
        <ul>
          {one.versions.map(({ id, number, name, there }) => (
            <li key={id} className="flex flex-wrap items-center gap-x-3">
              <span className="min-w-0 flex-1 basis-72">
                <span className="font-medium">
                  {t('sending.sent-version', { number })}
                  {one.type && ` ${t('sending.as-type', { type: one.type })}`}
                </span>{' '}
                <span className="break-all font-mono text-[13px] text-soft">{name}</span>
              </span>
              {!there && <span className="text-[13.5px] text-soft">{t('sending.gone', { number })}</span>}
              {there && onChanges && (
                <Button
                  look="quiet"
                  aria-label={t('sending.changed-since-which', { number })}
                  onClick={() => onChanges(id)}
                >
                  {t('sending.changed-since')}
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
      {one.losses.length > 0 && (
        <p className="text-[13.5px] text-soft">
          {t('sending.did-not-hold', { losses: listed(one.losses.map((loss) => told(sayLimit(loss)))) })}
        </p>
      )}
      {one.words && (
        <p className="max-w-2xl whitespace-pre-wrap text-[14px]">{t('sending.in-words', { words: one.words })}</p>
      )}
      <ul className="mt-1">
        {one.mails.map((mail) => (
          <Mail key={mail.id} of={one} mail={mail} {...(onAgain && { onAgain })} />
        ))}
      </ul>
    </>
  )
}

function Mail({ of, mail, onAgain }: { of: Sent; mail: SentMail; onAgain?: SentActs['onAgain'] }) {
  const client = useQueryClient()
  const name = mail.name ?? mail.address
  const params = { mailId: mail.id }
  const act = async (what: () => Promise<unknown>) => {
    try {
      await what()
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('common.this-did-not-work-try-again'))
    }
    for (const key of [keys.sent(), keys.undelivered(), keys.links()]) void client.invalidateQueries({ queryKey: key })
  }
  return (
    <li className="flex flex-wrap items-center gap-x-3 text-[14px]">
      <span className="min-w-0 flex-1 basis-72 break-words">
        {calledOf(mail)} <span className={clsx(isLost(mail) ? 'text-rust' : 'text-soft')}>{stateInWords(mail)}</span>
      </span>
      {of.own && mail.state === 'waiting' && (
        <>
          {mail.said !== null && (
            <Button
              look="quiet"
              aria-label={t('sending.try-now-to', { name })}
              onClick={() => act(() => call('tryMailAgain', { params }))}
            >
              {t('sending.try-now')}
            </Button>
          )}
          <Button
            look="quiet"
            aria-label={t('sending.withdraw-to', { name })}
            onClick={() => act(() => call('withdrawMail', { params }))}
          >
            {t('sending.withdraw')}
          </Button>
        </>
      )}
      {of.own && isLost(mail) && onAgain && (
        <Button
          look="quiet"
          aria-label={t('sending.to-another-than', { name })}
          onClick={() => {
            void act(() => call('seeUndelivered', { params }))
            onAgain({
              as: of.as,
              words: of.words ?? '',
              type: of.type,
              ...(of.as === 'file' && { versionIds: of.versions.filter(({ there }) => there).map(({ id }) => id) }),
            })
          }}
        >
          {t('sending.to-another')}
        </Button>
      )}
    </li>
  )
}

/** The same as a question over the work. */
export function SentQuestion({ entryId, onClose, ...acts }: { entryId: string; onClose: () => void } & SentActs) {
  const sent = useSent(entryId)
  return (
    <Question
      title={t('sending.what-was-sent')}
      wide
      onClose={onClose}
      answers={<Button onClick={onClose}>{t('people.close-this')}</Button>}
    >
      {sent.isPending && <p role="status">{t('common.one-moment')}</p>}
      {sent.isError && <p>{t('common.the-server-does-not-answer-right-now')}</p>}
      {sent.data?.length === 0 && <p>{t('sending.nothing-yet')}</p>}
      {sent.data && sent.data.length > 0 && (
        <div className="relative max-h-[60vh] overflow-auto">
          <SentList sent={sent.data} {...acts} />
        </div>
      )}
    </Question>
  )
}
