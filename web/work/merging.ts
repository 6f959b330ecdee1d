// Saving when somebody else saved meanwhile: their version is merged in where the work is, and saving goes on.

import { useState } from 'react'
import { toast } from 'sonner'
import type { Reason, Version } from '../../core/contract'
import type { Sentence } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { useSession } from '../api/signed-in'
import { t, told } from '../words'
import type { Choice, TakenPart, Work } from './content'
import { type DraftSession, isProblem } from './session'

/** As often as somebody else can be first in a row before it is left to the person. */
const mostTries = 8

export function useMerging(session: DraftSession) {
  const [merging, setMerging] = useState(false)
  /** Where this work and a version that was taken in both have something else. */
  const [choices, setChoices] = useState<{ whose: string; list: Choice[] } | null>(null)
  const { person } = useSession()
  /** Whose a version is, as it stands beside one's own: one's own from another window is nobody else's. */
  const whoseIs = ({ author }: Version) =>
    author.id === person.id ? t('work.yours-from-elsewhere') : `${author.name.split(' ')[0]}’s`

  /**
   * Takes in what a version has beyond a base; null as the base when neither came of the other.
   * @param adopt the next save is based on it
   * @param saying what is said when it is done
   * @returns null when it could not be, which it says
   */
  const takeInOver = async (
    base: string | null,
    theirs: Version,
    {
      adopt,
      baseType,
      part = null,
      saying,
    }: {
      adopt: boolean
      /** That of the base, where it is known. */
      baseType?: string | undefined
      part?: TakenPart | null
      saying: (summary: Sentence) => string
    },
  ) => {
    setMerging(true)
    try {
      const [was, other] = await Promise.all([
        base === null ? null : call('bytes', { params: { versionId: base } }),
        call('bytes', { params: { versionId: theirs.id } }),
      ])
      // A file may have gone on as another type meanwhile.
      const { head } = session.state
      const type = head?.id === base ? head?.type : baseType
      const before = was && { bytes: was, ...(type && { type }) }
      return await take(
        before,
        { bytes: other, type: theirs.type },
        whoseIs(theirs),
        saying,
        adopt ? theirs : null,
        part,
      )
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('work.the-newer-version-could-not-be-combined'))
      return null
    } finally {
      setMerging(false)
    }
  }
  const take = async (
    base: Work | null,
    theirs: Work,
    whose: string,
    saying: (summary: Sentence) => string,
    head: Version | null = null,
    part: TakenPart | null = null,
  ) => {
    const taken = await session.takeIn(base, theirs, head, part)
    if ('left' in taken) return null
    if ('refused' in taken) {
      toast.error(told(taken.refused), { duration: 12_000 })
      return null
    }
    toast(saying(taken.summary), { duration: 12_000 })
    setChoices((open) => ({ whose, list: [...(open?.list ?? []), ...taken.choices] }))
    return taken
  }
  /** Takes in work that parted from this one. @returns whether it is in */
  const takeInParted = async ({ base, theirs }: { base: Work; theirs: Work }): Promise<boolean> => {
    setMerging(true)
    try {
      return !!(await take(base, theirs, t('work.the-other-ones'), (summary) =>
        t('work.it-is-combined-with-your-work', { summary }),
      ))
    } finally {
      setMerging(false)
    }
  }
  /** Takes in what somebody saved meanwhile. */
  const takeIn = (head: Version) =>
    takeInOver(session.state.head!.id, head, {
      adopt: true,
      saying: (summary) =>
        t('work.saved-version-meanwhile-it-is-combined-with', {
          it: head.author.id === person.id ? t('common.you') : head.author.name,
          number: head.number,
          id: Boolean(head.author.id === person.id),
          summary,
        }),
    })

  /**
   * Saves, and merges as often as somebody else was first. Where both wrote in one place it is left to the person
   * to choose before it is saved; the answer is then the refusal.
   */
  const saveMerging = async (reason: Reason = 'saved'): ReturnType<DraftSession['save']> => {
    for (let tries = 0; ; tries++) {
      const answer = await session.save('own file', tries ? 'merged' : reason)
      if (!isProblem(answer) || answer.type !== 'newer-version' || !answer.head || tries > mostTries) return answer
      const taken = await takeIn(answer.head)
      if (!taken || taken.choices.length) return answer
    }
  }

  /** Takes in by itself what somebody saved meanwhile, where nobody has to choose. @returns whether it is in */
  const flowIn = async (newer: Version): Promise<boolean> => {
    const { head } = session.state
    // What goes on as another type is looked at by a person first.
    if (!head || newer.type !== head.type) return false
    const [was, is] = await Promise.all([
      call('bytes', { params: { versionId: head.id } }),
      call('bytes', { params: { versionId: newer.id } }),
    ])
    // Somebody took it in, or saved, while it came.
    if (session.state.head?.id !== head.id) return true
    const taken = await session.flowIn({ bytes: was, type: head.type }, { bytes: is, type: newer.type }, newer)
    if (!('choices' in taken)) return false
    toast(
      t('work.saved-version-it-is-in-your-work', {
        it: newer.author.id === person.id ? t('common.you') : newer.author.name,
        own: Boolean(newer.author.id === person.id),
        number: newer.number,
        summary: taken.summary,
      }),
      { id: 'flow' },
    )
    return true
  }

  const settle = (id: string) =>
    setChoices((open) => open && { ...open, list: open.list.filter((one) => one.id !== id) })
  return { merging, choices, settle, takeIn, takeInOver, takeInParted, flowIn, saveMerging }
}
