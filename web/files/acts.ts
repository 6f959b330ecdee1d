// Acts on files and folders from a screen: carried out, told in a sentence, undone from there.
import type { QueryClient } from '@tanstack/react-query'
import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import type { ActResult, Change, Problem } from '../../core/contract'
import { call, Refused } from '../api/call'
import { t, told } from '../words'

type What = 'rename' | 'move' | 'remove' | 'bring back' | 'correct'

const said: Record<What, (things: string) => string> = {
  rename: (things) => t('files.renamed', { things }),
  move: (things) => t('files.moved', { things }),
  remove: (things) => t('files.removed', { things }),
  'bring back': (things) => t('files.is-back', { things }),
  correct: (things) => t('files.corrected', { things }),
}

const concerned = ['place', 'names', 'removed', 'recent', 'file', 'search', 'audit', 'shares', 'recent places']
export const invalidatePlaces = (client: QueryClient): Promise<void> =>
  client.invalidateQueries({ predicate: ({ queryKey }) => concerned.includes(String(queryKey[0])) })

/** Carries out an act and says so with a way to undo it. @returns the refusal, or null when it was done */
export async function act(
  client: QueryClient,
  what: What,
  changes: Change[],
  called?: string,
): Promise<Problem | null> {
  try {
    const done = await call('act', { body: { id: uuidv7(), what, changes } }, { timeout: 120_000 })
    await invalidatePlaces(client)
    const things = called ?? done.entry?.name ?? t('files.files-and-folders', { changes: changes.length })
    const renamed = done.renamed
      .map(({ name, now }) => t('files.is-now-because-its-name-was-taken', { name, now }))
      .join(' ')
    toast(`${said[what](things)} ${renamed}`, {
      duration: 12_000,
      action: { label: t('common.undo'), onClick: () => void undo(client, done) },
    })
    return null
  } catch (error) {
    const problem = error instanceof Refused ? error.problem : null
    return problem ?? { type: 'unexpected', title: t('files.that-did-not-work-nothing-was-changed'), status: 0 }
  }
}

/** Undoes an act and says so. */
export async function undo(client: QueryClient, done: ActResult): Promise<void> {
  try {
    await call('undo', { params: { actId: done.id } }, { timeout: 120_000 })
    toast(t('files.undone'))
  } catch (error) {
    toast.error(error instanceof Refused ? told(error.problem) : t('common.it-could-not-be-undone'))
  }
  await invalidatePlaces(client)
}
