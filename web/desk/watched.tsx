import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Link } from 'react-router'
import { toast } from 'sonner'
import type { Watched } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Button } from '../design/controls'
import { t, told } from '../words'
import { listed, moment } from '../words/formats'

/** Where what is new is shown: a file itself, a place as it differs from when it was last looked at. */
const addressOf = ({ of: { id, kind, shareId }, since }: Watched): string =>
  kind === 'file'
    ? `/open/${id}`
    : `/moment/${shareId}?at=${encodeURIComponent(since)}${kind === 'folder' ? `&folder=${id}` : ''}`

/** What others saved where somebody watches, since they last looked. */
export function WatchedOnDesk() {
  const client = useQueryClient()
  const watched = useQuery(queries.watched)
  const fresh = (watched.data ?? []).filter(({ files }) => files > 0)
  if (!fresh.length) return null
  const see = async ({ of, latest }: Watched) => {
    // As far as this page knows: what was saved meanwhile is still new.
    await call('seeWatched', { params: { id: of.id }, body: { at: latest! } }).catch((error: unknown) =>
      toast.error(error instanceof Refused ? told(error.problem) : t('common.this-did-not-work-try-again')),
    )
    await client.invalidateQueries({ queryKey: keys.watched() })
  }
  return (
    <section aria-label={t('desk.new-where-you-watch')}>
      <h2 className="mb-1 text-[17px] font-semibold">{t('desk.new-where-you-watch')}</h2>
      <ul className="border-t">
        {fresh.map((one) => (
          <li key={one.of.id} className="flex items-start gap-4 border-b px-1 py-2">
            <div className="min-w-0 flex-1">
              <Link
                to={addressOf(one)}
                className="block min-h-6 truncate font-medium underline decoration-rule-strong underline-offset-2"
              >
                {one.of.name}
              </Link>
              <p className="text-[13.5px] leading-[19px] text-soft">
                {t('desk.saved-there', {
                  kind: one.of.kind,
                  files: one.files,
                  people: listed(one.people),
                  latest: moment(one.latest!),
                })}
              </p>
            </div>
            <Button look="quiet" aria-label={t('desk.seen-of', { name: one.of.name })} onClick={() => void see(one)}>
              {t('desk.seen')}
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}
