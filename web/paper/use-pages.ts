// The work on pages, set anew while somebody writes: what is being set is waited for, and nothing older is taken for it.
import { useEffect, useRef, useState, useSyncExternalStore } from 'react'
import type { PaperLikes } from '../../core/contract'
import { Refused } from '../api/call'
import { t, told } from '../words/all'
import type { DraftSession } from '../work/session'
import { askForPages, type Pages } from './ask'
import { type LookedAtThen, thenOnPaper } from './then'

/** What was written meanwhile is set when the hands rest, the longer the more there is to set; milliseconds. */
const rest = { least: 40, most: 800 } as const

export interface SetPages {
  pages: Pages | null
  fault: string
  /** They are of the work as it is: nothing older is saved or printed as if it were. */
  isNow: boolean
  /** Sheets of the workbook beside the one that is shown; null for a document. */
  others: number | null
}

export function usePages(
  session: DraftSession,
  name: string,
  number: number | null,
  { paper, standard, allSheets }: Pick<PaperLikes, 'paper' | 'standard' | 'allSheets'>,
  /** In place of the work. */
  looked: LookedAtThen | null,
  /** What is selected alone. */
  selected: boolean,
  /** What differs from now is marked in what is looked at. */
  marked: boolean,
): SetPages {
  const edits = useSyncExternalStore(session.subscribeToEdits, () => session.state.reach.edit.seq)
  const head = looked?.version?.id ?? session.state.head?.id ?? null
  const [state, setState] = useState<SetPages>({ pages: null, fault: '', isNow: false, others: null })
  /** What is being set; whoever writes on waits for it, so that no more than one of them is under way. */
  const under = useRef<Promise<void>>(Promise.resolve())
  const took = useRef(0)
  const asked = JSON.stringify([paper, standard, allSheets, selected, marked])
  // biome-ignore lint/correctness/useExhaustiveDependencies: set anew after each edit, and each choice
  useEffect(() => {
    let gone = false
    setState((before) => ({ ...before, isNow: false }))
    const set = async () => {
      if (gone) return
      const begun = performance.now()
      try {
        const put = looked ? thenOnPaper(looked, !allSheets, marked) : await session.onPaper(!allSheets, selected)
        if (!put) return
        const pages = await askForPages(put, head, name, number, { paper, standard })
        took.current = performance.now() - begun
        // Also those of a moment ago are shown while somebody writes on.
        setState({ pages, fault: '', isNow: !gone, others: put.kind === 'sheets' ? put.others : null })
      } catch (error) {
        if (!gone)
          setState((before) => ({
            ...before,
            fault: error instanceof Refused ? told(error.problem) : t('common.this-did-not-work-try-again'),
          }))
      }
    }
    const late = setTimeout(
      () => {
        under.current = under.current.then(set)
      },
      Math.min(rest.most, Math.max(rest.least, (took.current - 200) / 2)),
    )
    return () => {
      gone = true
      clearTimeout(late)
    }
  }, [session, looked ? looked.id : edits, head, name, number, asked])
  return state
}
