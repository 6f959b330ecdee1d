import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Undo2 } from 'lucide-react'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { call, isAway } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Blank, Button } from '../design/controls'
import { KindGlyph, NameParts } from '../design/kind'
import { count, moment } from '../design/words'
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
  if (removed.isPending) return <Blank screen title="One moment" waiting />
  if (removed.isError)
    return (
      <Blank
        screen
        title={isAway(removed.error) ? 'Shared storage does not answer right now' : 'This place is not here'}
      />
    )
  return (
    <main className="flex min-w-0 flex-1 flex-col overflow-auto px-6 py-6">
      <h1 className="text-[20px] font-semibold">
        <Link to={`/files/${shareId}`} className="font-normal text-soft hover:text-ink">
          {share?.name}
        </Link>{' '}
        <span className="font-normal text-soft">/</span> Removed files
      </h1>
      <p className="pb-4 text-soft">What was removed is kept for 30 days, with its name, place and versions.</p>
      {refusal && (
        <p role="alert" className="pb-3 text-rust">
          {refusal}
        </p>
      )}
      {removed.data.length === 0 ? (
        <Blank title="Nothing was removed here in the last 30 days" />
      ) : (
        <ul className="border-t" aria-label="Removed files">
          {removed.data.map(({ entry, folders, removedAt, removedBy, until, inside }) => (
            <li
              key={entry.id}
              className="grid grid-cols-[20px_minmax(0,1fr)_auto] items-center gap-x-4 md:grid-cols-[20px_minmax(0,1.5fr)_minmax(0,1fr)_minmax(0,1fr)_auto] border-b px-1 py-2"
            >
              <KindGlyph type={entry.type} folder={entry.kind === 'folder'} />
              <span className="min-w-0">
                <NameParts name={entry.name} className="block truncate font-mono text-[14px]" />
                {inside > 0 && <span className="text-[13px] text-soft">with {count(inside, 'thing')} inside</span>}
              </span>
              <span className="truncate text-[14px] text-soft">{[share?.name, ...folders].join(' / ')}</span>
              <span className="truncate text-[14px] text-soft">
                {moment(removedAt)} by {removedBy}, kept until {moment(until).replace(/,.*/, '')}
              </span>
              {share?.role !== 'view' && (
                <Button
                  onClick={async () =>
                    setRefusal((await act(client, 'bring back', [{ id: entry.id }], entry.name))?.title ?? '')
                  }
                >
                  <Undo2 size={16} aria-hidden />
                  Bring back
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
    </main>
  )
}
