// Everything the editor does with its file's earlier moments: the lifeline, the moment on show, and what is done
// from there.

import { useQuery, useQueryClient } from '@tanstack/react-query'
import { type Dispatch, type ReactNode, type SetStateAction, useEffect, useMemo, useState } from 'react'
import { flushSync } from 'react-dom'
import { useSearchParams } from 'react-router'
import { toast } from 'sonner'
import type { FileFacts, HistoryVersion, Trace } from '../../../core/contract'
import type { Written } from '../../../core/formats/refusals'
import { type Moment, momentsOf } from '../../../core/history/lifeline'
import { SaidError, saidBy } from '../../../core/words/said'
import { call, Refused } from '../../api/call'
import { keys } from '../../api/keys'
import { type Compared, CompareSides } from '../../compare/compare-sides'
import { saidVersion } from '../../compare/moments'
import { useOffer } from '../../design/commands'
import { written } from '../../rescue/inside'
import type { Sending } from '../../send/use-sending'
import { t, told } from '../../words/all'
import { gatherDraft } from '../../work/gather'
import type { DraftSession } from '../../work/session'
import type { SessionOutline } from '../../work/session-state'
import { compareWork } from '../../workers/compare'
import type { BodyProps, ThenDesk } from '../body'
import { LabelQuestion } from './label-question'
import { Lifeline } from './lifeline'
import { LookingBar } from './looking-bar'
import { useLooking } from './use-looking'

/** How often unfinished summaries are asked for; milliseconds. */
const every = 4000

export interface LifelineParts {
  /** The moment on show; null is now. */
  moment: Moment | null
  bar: ReactNode
  strip: ReactNode
  /** Two moments beside each other, in place of the work. */
  comparing: ReactNode
  questions: ReactNode
  body: Pick<BodyProps, 'looking' | 'near' | 'onThen'>
  look(moment: Moment | null): void
  showList(open: boolean): void
  /** Shows a version beside the work as it is now. */
  compare(versionId: string): void
}

/** Files whose list of versions is open: it stays so when the file is opened anew, as after a restore. */
const openLists = new Set<string>()

export function useLifeline({
  session,
  state,
  facts,
  personId,
  mayEdit,
  onRestore,
  onCopy,
  sending,
}: {
  session: DraftSession
  state: SessionOutline
  facts: FileFacts | undefined
  personId: string
  mayEdit: boolean
  onRestore: (version: HistoryVersion) => void
  /** Saves a moment's bytes as a copy. */
  /** What can be sent, and was. */
  sending: () => Sending
  onCopy: (moment: { said: string; originId: string | null; encode: () => Promise<Written> }) => void
}): LifelineParts {
  const client = useQueryClient()
  const fileId = state.file?.id ?? ''
  const [open, setOpenState] = useState(() => openLists.has(fileId))
  const setOpen: Dispatch<SetStateAction<boolean>> = (next) =>
    setOpenState((now) => {
      const then = typeof next === 'function' ? next(now) : next
      if (then) openLists.add(fileId)
      else openLists.delete(fileId)
      return then
    })
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set())
  const [desk, setDesk] = useState<ThenDesk | null>(null)
  const [near, setNear] = useState(false)
  const [labelling, setLabelling] = useState<HistoryVersion | null>(null)
  const [compared, setCompared] = useState<{ older: Moment; newer: Moment | null } | null>(null)
  const versions = facts?.versions ?? []
  const points = useQuery({
    // Asked for anew once another one was taken.
    queryKey: keys.points(state.draftId, state.pointSeq),
    enabled: !!state.file && state.unsaved,
    placeholderData: (before, query) => (query?.queryKey[1] === state.draftId ? before : undefined),
    retry: false,
    queryFn: () => call('points', { params: { draftId: state.draftId } }),
  })
  // What a version changed is found out soon after it was saved.
  const untold = versions.slice(0, 50).some(({ summary }) => summary === null)
  useQuery({
    queryKey: keys.untold(facts?.file.id),
    enabled: untold && !!facts,
    refetchInterval: every,
    queryFn: async () => {
      await client.invalidateQueries({ queryKey: keys.file(facts!.file.id) })
      return null
    },
  })
  // biome-ignore lint/correctness/useExhaustiveDependencies: the versions are those of these facts
  const moments = useMemo(
    () => momentsOf(versions, session.unsaved ? (points.data ?? []) : [], Date.now(), unfolded),
    [facts, points.data, unfolded, session.unsaved],
  )
  const { moment, shown, look: lookAt, sourceOf, tellPresent, prepare } = useLooking(session, state.kind, moments)
  const look = (one: Moment | null) => {
    // A version that is folded under another one comes out, so that the lifeline has it.
    const over = one && moments.find((each) => each.kind === 'version' && each.folded.some(({ id }) => id === one.id))
    if (over) setUnfolded((now) => new Set([...now, over.id]))
    lookAt(one)
  }
  const asMoment = (version: HistoryVersion): Moment =>
    moments.find(({ id }) => id === version.id) ?? {
      kind: 'version',
      id: version.id,
      at: Date.parse(version.at),
      version,
      folded: [],
    }
  const sought = useSought(session, facts, (version) => look(asMoment(version)))
  const looked = useMemo(
    () => shown && { ...shown, sought: sought?.versionId === shown.id ? sought.words : null },
    [shown, sought],
  )
  const at = moments.findIndex(({ id }) => id === (moment?.id ?? 'now'))
  useOffer([
    {
      id: 'versions',
      label: t('common.versions'),
      keys: 'Alt+V',
      group: t('common.this-file'),
      run: () => setOpen((now) => !now),
    },
    ...(versions.length
      ? [
          {
            id: 'earlier',
            label: t('lifeline.an-earlier-moment'),
            keys: 'Alt+,',
            group: t('common.this-file'),
            run: () => look(moments[Math.max(0, at - 1)] ?? null),
          },
          {
            id: 'later',
            label: t('lifeline.a-later-moment'),
            keys: 'Alt+.',
            group: t('common.this-file'),
            run: () => look(moments[Math.min(moments.length - 1, at + 1)] ?? null),
          },
        ]
      : []),
  ])
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || event.defaultPrevented || document.querySelector('[role=dialog], [role=menu]'))
        return
      if (compared) setCompared(null)
      else if (moment && !(event.target instanceof HTMLInputElement)) look(null)
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  })

  // What was compared stood in the place of the work, which could not have the keys: they go back to it.
  const comparing = compared !== null
  useEffect(
    () => () => {
      const has = document.activeElement
      if (comparing && (has === document.body || has?.tagName === 'MAIN')) session.focus()
    },
    [comparing, session],
  )

  const saidFault = (error: unknown, otherwise: string) =>
    toast.error(
      error instanceof Refused
        ? told(error.problem)
        : error instanceof RangeError || error instanceof SaidError
          ? told(saidBy(error))
          : otherwise,
    )

  const bringBack = async (what: 'content' | 'look' | 'sheet') => {
    const selected = desk?.selected()
    if (!moment) return
    if (!selected) {
      toast(t('lifeline.select-what-you-want-back-or-put'))
      return
    }
    try {
      const source = await sourceOf(moment)
      await tellPresent()
      const change =
        selected.kind === 'text'
          ? await compareWork().bringBackText(source, selected, what === 'look' ? 'look' : 'content')
          : await compareWork().bringBackCells(
              source,
              selected.sheet,
              what === 'sheet' ? null : selected.range,
              what === 'look' ? 'look' : 'content',
            )
      if (!change) return void toast(t('lifeline.nothing-to-bring-back-it-is-the'))
      if ('kind' in change) return void toast.error(told(change.reason))
      // The work comes to sight first: what is brought back is shown, and the keyboard is there.
      flushSync(() => look(null))
      session.bringBack(change)
      toast(t('lifeline.it-is-back-as-a-change-of'))
    } catch (error) {
      saidFault(error, t('lifeline.it-could-not-be-brought-back'))
    }
  }

  /** Where what is selected changed, from the moment on show or from now. */
  const trace = async (): Promise<Trace | null> => {
    try {
      let version = moment?.kind === 'version' ? moment.version : versions[0]
      let place = placeOf(moment ? (desk?.selected() ?? null) : session.selectedNow())
      if (!version || !place) {
        toast(t('lifeline.put-the-cursor-into-a-paragraph-or'))
        return null
      }
      if (!moment) {
        // The work as it is may have moved on since its newest version.
        await tellPresent()
        place = await compareWork().placeThen(state.kind, await sourceOf(asMoment(version)), place)
        if (!place) {
          toast(t('lifeline.it-is-not-in-any-version-yet'))
          return null
        }
      } else if (moment.kind === 'point') version = versions[0]!
      return await call('trace', { params: { versionId: version.id }, body: place })
    } catch (error) {
      saidFault(error, t('lifeline.it-could-not-be-followed-back'))
      return null
    }
  }

  const copy = (one: Moment) =>
    onCopy({
      said:
        one.kind === 'version'
          ? t('lifeline.version-in-sentence', { number: one.version.number })
          : t('lifeline.this-recovery-point'),
      originId: one.kind === 'version' ? one.id : (state.head?.id ?? null),
      encode: async () => {
        if (one.kind === 'version') return { bytes: await call('bytes', { params: { versionId: one.id } }), lost: [] }
        const gathered = await gatherDraft(state.draftId)
        if (!gathered || one.kind !== 'point') throw new Error(t('lifeline.this-recovery-point-is-not-there-any'))
        return written(gathered, one.toSeq)
      },
    })
  const setLabel = async (version: HistoryVersion, label: string | null) => {
    try {
      await call('labelVersion', { params: { versionId: version.id }, body: { label } })
      await client.invalidateQueries({ queryKey: keys.file(version.fileId) })
      setLabelling(null)
      toast(
        label
          ? t('lifeline.version-is-kept', { number: version.number, label })
          : t('lifeline.version-has-no-label-any-more', { number: version.number }),
      )
    } catch (error) {
      saidFault(error, t('lifeline.the-label-could-not-be-set'))
    }
  }
  const side = (one: Moment | null): Compared =>
    one === null || one.kind === 'now'
      ? { title: t('lifeline.now'), source: null }
      : {
          title: one.kind === 'version' ? saidVersion(one.version) : t('lifeline.recovery-point'),
          source: () => sourceOf(one),
        }

  const acts = {
    mayEdit,
    onRestore,
    onCompare: (older: HistoryVersion, newer: HistoryVersion | null) =>
      setCompared({ older: asMoment(older), newer: newer && asMoment(newer) }),
    onCopy: (version: HistoryVersion) => copy(asMoment(version)),
    onLabel: setLabelling,
    onTrace: trace,
    sending,
  }
  return {
    moment,
    look,
    showList: setOpen,
    compare: (versionId) => {
      const version = versions.find(({ id }) => id === versionId)
      if (version) setCompared({ older: asMoment(version), newer: null })
    },
    body: {
      looking: looked,
      near,
      onThen: setDesk,
    },
    bar: moment && !compared && (
      <LookingBar
        key={moment.id}
        moment={moment}
        then={shown?.id === moment.id ? shown.then : null}
        kind={state.kind}
        mayEdit={mayEdit}
        desk={desk}
        onBringBack={(what) => void bringBack(what)}
        onCompare={() => setCompared({ older: moment, newer: null })}
        onRestore={onRestore}
        onCopy={() => copy(moment)}
        onLabel={setLabelling}
        onBack={() => look(null)}
      />
    ),
    strip: (
      <Lifeline
        facts={facts}
        headId={state.head?.id}
        moments={moments}
        chosen={moment}
        personId={personId}
        open={open}
        unfolded={unfolded}
        onOpen={setOpen}
        onLook={look}
        onNear={() => {
          setNear(true)
          prepare()
        }}
        onUnfold={(id) => setUnfolded(new Set([...unfolded, id]))}
        acts={acts}
      />
    ),
    comparing: compared && (
      <CompareSides
        kind={state.kind}
        older={side(compared.older)}
        newer={side(compared.newer)}
        prepare={tellPresent}
        onBack={() => setCompared(null)}
      />
    ),
    questions: labelling && (
      <LabelQuestion
        version={labelling}
        onSet={(label) => void setLabel(labelling, label)}
        onClose={() => setLabelling(null)}
      />
    ),
  }
}

/**
 * A version that the address names is looked at once it is known, with the words that somebody looked for; the address
 * says it no more then, so that whoever opens it again sees the work as it is.
 */
function useSought(
  session: DraftSession,
  facts: FileFacts | undefined,
  look: (version: HistoryVersion) => void,
): { versionId: string; words: string } | null {
  const [query, setQuery] = useSearchParams()
  const [sought, setSought] = useState<{ versionId: string; words: string } | null>(null)
  const at = query.get('at')
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked at when it is named and known; how is the same each time
  useEffect(() => {
    if (!at || !facts) return
    const version = facts.versions.find(({ id }) => id === at)
    // The older ones follow the newest.
    if (!version && facts.versions.length < facts.versionsInAll) return
    let waiting = 0
    const go = () => {
      // What differs from now is shown with it: now has to be there.
      if (version && !session.present(false)) {
        waiting = requestAnimationFrame(go)
        return
      }
      if (version) {
        setSought({ versionId: at, words: query.get('words') ?? '' })
        look(version)
      } else toast(t('lifeline.this-version-is-not-there-any-more'))
      const rest = new URLSearchParams(query)
      rest.delete('at')
      rest.delete('words')
      setQuery(rest, { replace: true })
    }
    go()
    return () => cancelAnimationFrame(waiting)
  }, [at, facts])
  return sought
}

function placeOf(selected: ReturnType<ThenDesk['selected']>) {
  if (!selected) return null
  return selected.kind === 'text'
    ? { kind: 'paragraph' as const, at: selected.from }
    : { kind: 'cell' as const, sheet: selected.sheetName, row: selected.row, column: selected.column }
}
