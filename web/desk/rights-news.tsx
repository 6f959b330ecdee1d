import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import type { RightsNews } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Button } from '../design/controls'
import { t, told } from '../words'
import { moment } from '../words/formats'

type Of = RightsNews['given'][number]['of']
const addressOf = ({ id, kind, shareId }: Of): string =>
  kind === 'share' ? `/files/${id}` : kind === 'folder' ? `/files/${shareId}/${id}` : `/open/${id}`

/** What somebody was given, what is asked of them, and what they were not given. */
export function RightsNewsOnDesk() {
  const client = useQueryClient()
  const news = useQuery(queries.rightsNews)
  const [busy, setBusy] = useState<string | null>(null)
  const { given = [], asked = [], refused = [] } = news.data ?? {}
  if (!given.length && !asked.length && !refused.length) return null
  const act = async (id: string, what: () => Promise<unknown>) => {
    setBusy(id)
    try {
      await what()
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('common.this-did-not-work-try-again'))
    }
    await client.invalidateQueries({ queryKey: keys.rightsNews() })
    setBusy(null)
  }
  const see = (part: Partial<{ given: string[]; refused: string[] }>) =>
    call('seeRightsNews', { body: { given: [], refused: [], ...part } })
  const line = 'flex flex-wrap items-start gap-x-4 gap-y-2 border-b py-2.5'
  const name = (of: Of) => (
    <Link to={addressOf(of)} className="font-medium underline decoration-rule-strong underline-offset-2">
      {of.name}
    </Link>
  )
  return (
    <section aria-label={t('desk.given-and-asked')}>
      <h2 className="mb-1 text-[17px] font-semibold">{t('desk.given-and-asked')}</h2>
      <ul className="border-t">
        {asked.map(({ id, of, person, role, words, at }) => (
          <li key={id} className={line}>
            <div className="min-w-0 flex-1 basis-64">
              <p>
                {t('desk.asks-for', { person, role })} {name(of)}
              </p>
              {words && <p className="text-[14px]">{t('desk.in-their-words', { words })}</p>}
              <p className="text-[13.5px] text-soft">{moment(at)}</p>
            </div>
            <div className="flex gap-2">
              <Button
                look="main"
                disabled={busy === id}
                aria-label={t('desk.give-to', { person, name: of.name })}
                onClick={() =>
                  act(id, () => call('answerRequest', { params: { requestId: id }, body: { give: true } }))
                }
              >
                {t('desk.give')}
              </Button>
              <Button
                disabled={busy === id}
                aria-label={t('desk.do-not-give-to', { person, name: of.name })}
                onClick={() =>
                  act(id, () => call('answerRequest', { params: { requestId: id }, body: { give: false } }))
                }
              >
                {t('desk.do-not-give')}
              </Button>
            </div>
          </li>
        ))}
        {given.map(({ id, of, role, until, by, at, words, group }) => (
          <li key={id} className={line}>
            <div className="min-w-0 flex-1 basis-64">
              <p>
                {name(of)}: {t('desk.you-may', { role })}
              </p>
              {words && <p className="text-[14px]">{t('desk.in-their-words', { words })}</p>}
              <p className="text-[13.5px] text-soft">
                {t('desk.given-by', {
                  by,
                  at: moment(at),
                  grouped: Boolean(group !== null),
                  group: group ?? '',
                  ends: Boolean(until !== null),
                  until: until ? moment(until) : '',
                })}
              </p>
            </div>
            <Button
              look="quiet"
              disabled={busy === id}
              aria-label={t('desk.seen-of', { name: of.name })}
              onClick={() => act(id, () => see({ given: [id] }))}
            >
              {t('desk.seen')}
            </Button>
          </li>
        ))}
        {refused.map(({ id, of, by, role, at }) => (
          <li key={id} className={line}>
            <div className="min-w-0 flex-1 basis-64">
              <p>
                {name(of)}: {t('desk.was-not-given', { by, role })}
              </p>
              <p className="text-[13.5px] text-soft">{moment(at)}</p>
            </div>
            <Button
              look="quiet"
              disabled={busy === id}
              aria-label={t('desk.seen-of', { name: of.name })}
              onClick={() => act(id, () => see({ refused: [id] }))}
            >
              {t('desk.seen')}
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}
