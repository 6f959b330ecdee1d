import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Link } from 'react-router'
import type { Undelivered } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Button } from '../design/controls'
import { t, told } from '../words'
import { moment } from '../words/formats'

type Of = NonNullable<Undelivered['of']>
/** Where it was sent from. */
const addressOf = ({ id, kind, shareId }: Of): string =>
  kind === 'file' ? `/open/${id}` : kind === 'folder' ? `/access/${id}` : `/files/${shareId}`

/** Messages of one's own that did not reach somebody. */
export function UndeliveredOnDesk() {
  const client = useQueryClient()
  const { data = [] } = useQuery(queries.undelivered)
  if (!data.length) return null
  return (
    <section aria-label={t('desk.did-not-arrive')}>
      <h2 className="mb-1 text-[17px] font-semibold">{t('desk.did-not-arrive')}</h2>
      <ul className="border-t">
        {data.map(({ mail, of, subject }) => {
          const name = mail.name ?? mail.address
          return (
            <li key={mail.id} className="flex flex-wrap items-start gap-x-4 gap-y-2 border-b py-2.5">
              <div className="min-w-0 flex-1 basis-64">
                <p>
                  {of ? (
                    <Link
                      to={addressOf(of)}
                      className="font-medium underline decoration-rule-strong underline-offset-2"
                    >
                      {of.name}
                    </Link>
                  ) : (
                    <span className="font-medium">{subject}</span>
                  )}{' '}
                  {t('desk.did-not-reach', { name })}
                </p>
                {mail.said !== null && <p className="text-[14px] text-rust">{told(mail.said)}</p>}
                <p className="text-[13.5px] text-soft">{moment(mail.since)}</p>
              </div>
              <Button
                look="quiet"
                aria-label={t('desk.seen-of', { name })}
                onClick={async () => {
                  await call('seeUndelivered', { params: { mailId: mail.id } }).catch(() => {})
                  await client.invalidateQueries({ queryKey: keys.undelivered() })
                }}
              >
                {t('desk.seen')}
              </Button>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
