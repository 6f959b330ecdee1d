// Letting work go, calling it back, and ending it when it is whole in a file.
import { call, isAway } from '../app/call'
import { device, forgetDraft, heldDrafts } from './device'
import { settleHere } from './gather'

/** Lets a piece of work go, or takes that back; either way it is kept for its days, which shared storage counts. */
export async function endPiece(id: string, state: 'let go' | 'closed', keptDays: number): Promise<void> {
  const stored = await device.draft(id).catch(() => undefined)
  if (!stored) {
    await call('endDraft', { params: { draftId: id }, body: { state } })
    return
  }
  const keptUntil = new Date(Date.now() + keptDays * 86400_000).toISOString()
  await device.commit({
    expect: [[id, stored.generation]],
    drafts: [{ ...stored, state, keptUntil, endUntold: true, refused: null }],
  })
  await settleHere(id)
}

/** Ends a piece of work that is whole in a file now, as a version has confirmed. */
export async function endedInFile(draftId: string): Promise<void> {
  await call('endDraft', { params: { draftId }, body: { state: 'finished' } }).catch((error) => {
    if (!isAway(error)) return
  })
  if (!(await heldDrafts()).has(draftId)) await forgetDraft(draftId)
}
