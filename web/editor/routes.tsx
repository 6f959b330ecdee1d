import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { Link, Navigate, useLocation, useParams, useSearchParams } from 'react-router'
import { uuidv7 } from 'uuidv7'
import type { FileFacts } from '../../core/contract'
import { saidBy } from '../../core/words/said'
import { isAway, Refused } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Blank, Button } from '../design/controls'
import { t, told } from '../words/all'
import { device } from '../work/device'
import { comeBack } from '../work/open-works'
import { carriedOver, type Opening, openDraft, openFile, openNew } from '../work/opening'
import { OtherFile } from './other-file'
import { Workspace } from './workspace'

/** New work gets its draft's address at once, so that a reload finds it again. */
export function NewRoute() {
  const { kind } = useParams()
  const [query] = useSearchParams()
  // biome-ignore lint/correctness/useExhaustiveDependencies: each kind that is begun is work of its own
  const id = useMemo(uuidv7, [kind])
  const place = query.get('share')
    ? `&share=${query.get('share')}${query.get('folder') ? `&folder=${query.get('folder')}` : ''}`
    : ''
  const template = query.get('template') ? `&template=${query.get('template')}` : ''
  return (
    <Navigate
      replace
      state={{ fresh: true }}
      to={`/draft/${id}?new=${kind === 'spreadsheet' ? 'spreadsheet' : 'document'}${place}${template}`}
    />
  )
}

type Loaded = { opening: Opening } | { otherType: FileFacts } | { fault: string; away: boolean } | null

/** What was loaded, for one address and attempt: what belongs to an earlier one is never shown, not even for a moment. */
function useLoaded(key: string): [Loaded, (loaded: Loaded) => void] {
  const [held, setHeld] = useState<{ key: string; loaded: Loaded }>({ key, loaded: null })
  return [held.key === key ? held.loaded : null, (loaded) => setHeld({ key, loaded })]
}

export function FileRoute() {
  const { fileId } = useParams()
  const { person } = useSession()
  const client = useQueryClient()
  const [attempt, setAttempt] = useState(0)
  const [takeOver, setTakeOver] = useState(false)
  const [loaded, setLoaded] = useLoaded(`${fileId} ${attempt}`)
  // biome-ignore lint/correctness/useExhaustiveDependencies: opened once for each address and each attempt
  useEffect(() => {
    let gone = false
    comeBack(`/open/${fileId}`)
      .then(async (back) => {
        const opened = await openFile(fileId!, person.id, uuidv7(), takeOver)
        return back && 'beginning' in opened ? { ...opened, recoveredFrom: null } : opened
      })
      .then((result) => {
        if (gone) return
        client.setQueryData(keys.file(fileId), 'otherType' in result ? result.otherType : result.facts)
        setLoaded('otherType' in result ? result : { opening: result })
      })
      .catch((error) => !gone && setLoaded(faultOf(error)))
    return () => {
      gone = true
    }
  }, [fileId, attempt])
  const again = (here = false) => {
    setTakeOver(here)
    setAttempt(attempt + 1)
  }
  return <Show loaded={loaded} key={`${fileId} ${attempt}`} onAgain={again} onOpened={setLoaded} />
}

export function DraftRoute() {
  const { draftId } = useParams()
  const [query] = useSearchParams()
  const fresh = query.get('new')
  const separate = query.get('as') === 'separate'
  const { state } = useLocation()
  const [takeOver, setTakeOver] = useState(false)
  const [attempt, setAttempt] = useState(0)
  const [loaded, setLoaded] = useLoaded(`${draftId} ${attempt} ${separate}`)
  // biome-ignore lint/correctness/useExhaustiveDependencies: opened once for each address and each attempt
  useEffect(() => {
    let gone = false
    const blank = () => openNew(draftId!, fresh === 'spreadsheet' ? 'spreadsheet' : 'document', query.get('template'))
    const known = () => openDraft(draftId!, null, separate, takeOver)
    // Work that was begun this moment is blank. At its address anybody else, and a later start, may find it grown.
    const begun = fresh && state?.fresh && attempt === 0
    const opening = begun
      ? device
          .draft(draftId!)
          .catch(() => undefined)
          .then((there) => (there ? known() : blank()))
      : comeBack(`/draft/${draftId}`).then(async (back) => {
          const opening = (await known()) ?? (fresh ? await blank() : null)
          return opening && back ? { ...opening, recoveredFrom: null } : opening
        })
    opening
      .then((opening) => {
        if (gone) return
        if (opening) setLoaded({ opening })
        else
          setLoaded({
            fault: t('editor.this-work-is-not-known-here-it'),
            away: false,
          })
      })
      .catch((error) => !gone && setLoaded(faultOf(error)))
    return () => {
      gone = true
    }
  }, [draftId, attempt, separate])
  const again = (here = false) => {
    setTakeOver(here)
    setAttempt(attempt + 1)
  }
  return <Show loaded={loaded} key={`${draftId} ${attempt}`} onAgain={again} onOpened={setLoaded} slip={separate} />
}

const faultOf = (error: unknown): Loaded => ({
  fault: error instanceof Refused ? told(error.problem) : told(saidBy(error)),
  away: isAway(error),
})

function Show({
  loaded,
  onAgain,
  onOpened,
  slip,
}: {
  loaded: Loaded
  onAgain: (here?: boolean) => void
  onOpened: (loaded: Loaded) => void
  slip?: boolean
}) {
  if (!loaded) return <Blank screen title={t('common.opening')} waiting />
  if ('fault' in loaded)
    return (
      <Blank screen title={loaded.away ? t('editor.it-cannot-be-opened-right-now') : t('editor.it-cannot-be-opened')}>
        <p>{loaded.fault}</p>
        <div className="mt-4 flex justify-center gap-2">
          <Button look="main" onClick={() => onAgain()}>
            {t('common.try-again')}
          </Button>
          <Link
            to="/"
            className="inline-flex h-8 items-center rounded-md border border-rule-strong bg-paper px-3 font-medium"
          >
            {t('editor.to-the-desk')}
          </Link>
        </div>
      </Blank>
    )
  if ('otherType' in loaded) return <OtherFile facts={loaded.otherType} />
  return (
    <Workspace
      key={loaded.opening.beginning.draftId}
      opening={loaded.opening}
      slipAtOnce={slip ?? false}
      onReload={onAgain}
      onCarried={(edit) => onOpened({ opening: carriedOver(loaded.opening, edit) })}
    />
  )
}
