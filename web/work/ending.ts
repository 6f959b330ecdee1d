// Closing work without saving, getting it back, and ending it when it is whole in a file.
import { uuidv7 } from 'uuidv7'
import { Cleared, Superseded } from '../../core/recovery/ports'
import { call } from '../api/call'
import { device } from './device'
import { type Gathered, settleHere } from './gather'

/**
 * Closes a piece of work without saving it (`let go`), and it is kept for its days, which the server counts; or gets it
 * back among what was interrupted (`open`).
 */
export async function endPiece(id: string, state: 'let go' | 'open', keptDays: number): Promise<void> {
  const keptUntil = state === 'open' ? null : new Date(Date.now() + keptDays * 86400_000).toISOString()
  for (let left = 5; ; left--) {
    const stored = await device.draft(id).catch(() => undefined)
    if (!stored) {
      await call('endDraft', { params: { draftId: id }, body: { state } })
      return
    }
    try {
      await device.commit({
        expect: [[id, stored.generation, stored.head]],
        // Under a generation of its own: whoever is still telling how it ended before does not write over this.
        drafts: [{ ...stored, generation: uuidv7(), state, keptUntil, endUntold: true, refused: null }],
      })
      break
    } catch (error) {
      // Something was just written of it, as that the server knows of its being closed: the wish is of what is there now.
      if (!(error instanceof Superseded) || !left) throw error
    }
  }
  await settleHere(id)
}

/** Ends a piece of work that is whole in a file now, as a version has confirmed. */
export async function endedInFile({ draftId, seen }: Gathered): Promise<void> {
  // A draft that shared storage cannot be told of now is told of by its device, or is found whole in its file.
  await call('endDraft', { params: { draftId }, body: { state: 'finished' } }).catch(() => {})
  // What was written since it was read is not in that version, and stays.
  if (seen)
    await device.commit({ expect: [[draftId, seen.generation, seen.head]], forget: [draftId] }).catch((error) => {
      if (!(error instanceof Superseded || error instanceof Cleared)) throw error
    })
}
