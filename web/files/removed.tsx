import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Undo2 } from 'lucide-react'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { call, isAway } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Blank, Button } from '../design/controls'
import { KindGlyph, NameParts } from '../design/kind'
import { T, t, told } from '../words'
import { dayOf, moment } from '../words/formats'
import { act } from './acts'

/** What was removed from a share and can be brought back. */
export function Removed() {
  const { shareId } = useParams()
  const client = useQueryClient()
  const [refusal, setRefusal] = useState('')
  const removed = useQuery({
    queryKey: keys.removed(shareId),
    queryFn: () => call('removed', { params: { shareId: shareId! } }),
  })
  const shares = useQuery(queries.shares)
  const share = shares.data?.find(({ id }) => id === shareId)
  if (removed.isPending) return <Blank screen title={t('common.one-moment')} waiting />
  if (removed.isError)
    return (
      <Blank
        screen
        title={
          isAway(removed.error)
            ? t('common.the-server-does-not-answer-right-now')
            : t('files.this-place-does-not-exist-or-you')
        }
      />
    )
  return (
    <main className="flex min-w-0 flex-1 flex-col overflow-auto px-6 py-6">
      <h1 className="text-[20px] font-semibold">
        <T
          k="files.removed-files-2"
          v={{
            shareName: share?.name,
            link: (c) => (
              <Link to={`/files/${shareId}`} className="font-normal text-soft hover:text-ink">
                {c}
              </Link>
            ),
            span: (c) => <span className="font-normal text-soft">{c}</span>,
          }}
        />
      </h1>
      <p className="pb-4 text-soft">{t('files.what-was-removed-is-kept-for-30')}</p>
      {refusal && (
        <p role="alert" className="pb-3 text-rust">
          {refusal}
        </p>
      )}
      {removed.data.length === 0 ? (
        <Blank title={t('files.nothing-was-removed-here-in-the-last')} />
      ) : (
        <ul className="border-t" aria-label={t('files.removed-files')}>
          {removed.data.map(({ entry, folders, removedAt, removedBy, until, inside }) => (
            <li
              key={entry.id}
              className="grid grid-cols-[20px_minmax(0,1fr)_auto] items-center gap-x-4 md:grid-cols-[20px_minmax(0,1.5fr)_minmax(0,1fr)_minmax(0,1fr)_auto] border-b px-1 py-2"
            >
              <KindGlyph type={entry.type} folder={entry.kind === 'folder'} />
              <span className="min-w-0">
                <NameParts name={entry.name} className="block truncate font-mono text-[14px]" />
                {inside > 0 && (
                  <span className="text-[13px] text-soft">{t('files.with-items-inside', { inside })}</span>
                )}
              </span>
              <span className="truncate text-[14px] text-soft">{[share?.name, ...folders].join(' / ')}</span>
              <span className="truncate text-[14px] text-soft">
                {t('files.by-kept-until', {
                  removedAt: moment(removedAt),
                  removedBy,
                  until: dayOf(until),
                })}
              </span>
              {share?.role !== 'view' && (
                <Button
                  onClick={async () => {
                    const problem = await act(client, 'bring back', [{ id: entry.id }], entry.name)
                    setRefusal(problem ? told(problem) : '')
                  }}
                >
                  <Undo2 size={16} aria-hidden />
                  {t('common.bring-back')}
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
    </main>
  )
}
