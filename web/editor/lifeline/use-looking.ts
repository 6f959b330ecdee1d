// Looking at a file as it was: fetches a moment, has it decoded and compared with now, and has its neighbours ready.

import { useEffect, useRef, useState } from 'react'
import { typeReadAs } from '../../../core/formats/csv/said'
import { plainType, typeOfWork } from '../../../core/formats/types'
import type { Moment } from '../../../core/history/lifeline'
import { saidBy } from '../../../core/words/said'
import { call, isAway, Refused } from '../../api/call'
import { t, told } from '../../words/all'
import { gatherDraft } from '../../work/gather'
import type { DraftSession } from '../../work/session'
import { compareWork } from '../../workers/compare'
import type { MomentSource } from '../../workers/looking-back'
import type { LookedAt } from '../body'

/** Versions whose bytes are kept in this page. */
const mostKept = 24
/** A moment that shared storage did not give is asked for again this often; milliseconds. */
const askAgain = 3000
/** Moments on either side that are decoded ahead. */
const ahead = 3

export interface Looking {
  /** The moment that is asked for; null is now. */
  moment: Moment | null
  /** The moment that is on show. It stays until the next one is there. */
  shown: LookedAt | null
  look(moment: Moment | null): void
  /** Where a moment comes from, for the compare worker. */
  sourceOf(moment: Moment): Promise<MomentSource>
  /** Tells the compare worker the work as it is now. */
  tellPresent(settled?: boolean): Promise<void>
  /** Has the newest moments ready before somebody asks for them. */
  prepare(): void
}

export function useLooking(
  session: DraftSession,
  kind: 'document' | 'spreadsheet',
  moments: readonly Moment[],
): Looking {
  const [wanted, setMoment] = useState<Moment | null>(null)
  // What is known of it grows: its summary, its label.
  const moment = wanted && (moments.find(({ id }) => id === wanted.id) ?? wanted)
  const [shown, setShown] = useState<Looking['shown']>(null)
  /** Shared storage did not give the moment that is asked for. */
  const [missing, setMissing] = useState(false)
  const asked = useRef(0)
  const bytes = useRef(new Map<string, Promise<Uint8Array>>())
  const toldToken = useRef<unknown>(undefined)
  const toldState = useRef<unknown>(null)
  const latest = useRef(moments)
  latest.current = moments

  const bytesOf = (versionId: string): Promise<Uint8Array> => {
    const there = bytes.current.get(versionId)
    if (there) return there
    const coming = call('bytes', { params: { versionId } })
    bytes.current.set(versionId, coming)
    coming.catch(() => bytes.current.delete(versionId))
    if (bytes.current.size > mostKept) bytes.current.delete(bytes.current.keys().next().value!)
    return coming
  }
  const sourceOf = async (one: Moment): Promise<MomentSource> => {
    const { file } = session.state
    const type = typeReadAs(typeOfWork(file?.name ?? null, kind), file?.readAs ?? null)
    if (one.kind === 'version')
      return {
        id: one.id,
        bytes: await bytesOf(one.id),
        records: null,
        // A file may have been another type then.
        type: one.version.type === plainType(type) ? type : one.version.type,
      }
    const gathered = await gatherDraft(session.state.draftId)
    if (!gathered) throw new Error(t('lifeline.this-recovery-point-is-not-there-any'))
    const records = one.kind === 'point' ? gathered.records.slice(0, one.toSeq) : gathered.records
    return {
      id: `${session.state.draftId} ${records.length}`,
      bytes: gathered.base,
      records,
      model: gathered.model,
      type,
    }
  }
  const tellPresent = async (settled = true) => {
    const present = session.present(settled)
    if (!present || present.token === toldToken.current) return
    await compareWork().setPresent(kind, present.state, present.results)
    toldToken.current = present.token
    toldState.current = present.state
  }
  const prepareAround = async (one: Moment, ask: number) => {
    const at = latest.current.findIndex(({ id }) => id === one.id)
    for (let step = 1; step <= ahead; step++)
      for (const near of [latest.current[at - step], latest.current[at + step]]) {
        if (near?.kind !== 'version' || ask !== asked.current) continue
        await compareWork().prepare(kind, await sourceOf(near))
      }
  }

  const look = (next: Moment | null) => {
    const ask = ++asked.current
    if (!next || next.kind === 'now') {
      setMoment(null)
      setShown(null)
      setMissing(false)
      return
    }
    setMoment(next)
    void (async () => {
      try {
        const [source] = await Promise.all([sourceOf(next), tellPresent()])
        if (ask !== asked.current) return
        const present = toldState.current
        const then = await compareWork().lookAt(kind, source)
        if (ask !== asked.current) return
        setMissing(false)
        setShown({ id: next.id, then, present })
        void prepareAround(next, ask).catch(() => {})
      } catch (error) {
        if (ask !== asked.current) return
        const reason = isAway(error)
          ? t('lifeline.the-server-does-not-answer-right-now')
          : error instanceof Refused
            ? told(error.problem)
            : told(saidBy(error))
        setMissing(isAway(error))
        setShown({ id: next.id, then: { kind: 'damaged', reason }, present: null })
      }
    })()
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked again by the clock while a moment is missing
  useEffect(() => {
    if (!missing || !wanted) return
    const again = setInterval(() => look(wanted), askAgain)
    return () => clearInterval(again)
  }, [missing, wanted])
  // A version that went meanwhile, by retention, is not looked at any longer.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only what moments there are can take one away
  useEffect(() => {
    if (moment && !moments.some(({ id }) => id === moment.id)) look(null)
  }, [moments])
  const prepared = useRef('')
  const prepare = () => {
    const newest = latest.current.at(-2)
    if (newest?.kind !== 'version' || prepared.current === newest.id) return
    prepared.current = newest.id
    void (async () => {
      // Whoever only comes near ends no entry by that.
      await tellPresent(false)
      await compareWork().prepare(kind, await sourceOf(newest))
      await prepareAround(newest, asked.current)
    })().catch(() => {})
  }
  return { moment, shown, look, sourceOf, tellPresent, prepare }
}
