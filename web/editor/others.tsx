// Who else has this file open.

import { useQuery } from '@tanstack/react-query'
import { UsersRound } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { uuidv7 } from 'uuidv7'
import type { Present } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { t } from '../words/all'

/** How often this page says that it has the file open still; who comes and goes is news, and not waited for. */
const every = 15_000
/** How often it looks whether somebody went to another place. */
const everyMove = 2000

/** Tells that this page has the file open, and who else has. */
export function useOthers(fileId: string | undefined, placeNow: () => string): readonly Present[] {
  const [pageId] = useState(() => uuidv7())
  const latest = useRef(placeNow)
  latest.current = placeNow
  /** Where this page said that it is. */
  const said = useRef('')
  const others = useQuery({
    queryKey: keys.presence(fileId, pageId),
    enabled: !!fileId,
    refetchInterval: every,
    refetchIntervalInBackground: true,
    queryFn: () => {
      said.current = latest.current()
      return call('presence', { params: { fileId: fileId! }, body: { pageId, leaving: false, place: said.current } })
    },
  })
  // Where somebody goes is told when they are there, and not at each key.
  const { refetch } = others
  useEffect(() => {
    if (!fileId) return
    const timer = setInterval(() => latest.current() !== said.current && void refetch(), everyMove)
    return () => clearInterval(timer)
  }, [fileId, refetch])
  useEffect(() => {
    if (!fileId) return
    const leave = () =>
      void call('presence', { params: { fileId }, body: { pageId, leaving: true } }, { keepalive: true }).catch(
        () => {},
      )
    window.addEventListener('pagehide', leave)
    return () => {
      window.removeEventListener('pagehide', leave)
      leave()
    }
  }, [fileId, pageId])
  return others.isError ? [] : (others.data ?? [])
}

export function Others({ people }: { people: readonly Present[] }) {
  if (!people.length) return null
  const [first, ...rest] = people
  const writing = people.filter((one) => one.writing)
  const said = t('editor.and-more-have-it-open', {
    firstName: first!.name,
    restIs: Boolean(rest.length),
    people: people.length,
    rest: rest.length,
  })
  return (
    <p
      className="flex max-w-56 items-center gap-2 text-[13.5px] leading-4 text-soft"
      title={people
        .map(({ name, place, writing: writes }) => t('editor.present', { name, place, placed: Boolean(place), writes }))
        .join('\n')}
      data-testid="others"
    >
      <UsersRound size={16} className="shrink-0 text-accent" aria-hidden />
      <span className="line-clamp-3">
        {said}
        {writing.length > 0 && t('editor.with-unsaved-work')}
        {!rest.length && first!.place && ` · ${first!.place}`}
      </span>
    </p>
  )
}
