// Work that parted from what is open here: another device wrote on while this was gone on with, or this page
// did. It is offered to be taken in, over the last record that both have, with what both wrote in one place
// shown to choose from; nothing of it goes before its person says so.

import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { saidBy } from '../../core/words/said'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Button, Notice } from '../design/controls'
import { t, told } from '../words'
import type { Work } from './content'
import { endPiece } from './ending'
import { gatherDraft } from './gather'
import { beyondInWords, type Piece } from './pieces'
import { usePieces } from './use-pieces'

/** What a parted piece holds, and what both have in common. @returns null when it cannot be had now */
export async function partedWork(id: string): Promise<{ base: Work; theirs: Work } | null> {
  const gathered = await gatherDraft(id)
  if (!gathered?.forkOf) return null
  const { base: bytes, records, model, forkOf } = gathered
  return { base: { bytes, records: records.slice(0, forkOf.seq), model }, theirs: { bytes, records, model } }
}

/** Pieces that parted from this work and that nobody has open. */
export function usePartedPieces(draftId: string, fileId: string | undefined): Piece[] {
  const { data } = usePieces(false)
  return (data?.pieces ?? []).filter(
    ({ id, forkOf, fileId: own, state, mine }) =>
      mine &&
      forkOf &&
      id !== draftId &&
      state === 'interrupted' &&
      (forkOf.draftId === draftId || (fileId && (forkOf.fileId ?? own) === fileId)),
  )
}

export function PartedNotices({
  pieces,
  takeIn,
}: {
  pieces: readonly Piece[]
  /** @returns whether it was taken in */
  takeIn: (work: { base: Work; theirs: Work }) => Promise<boolean>
}) {
  const client = useQueryClient()
  const { settings } = useSession()
  const [busy, setBusy] = useState(false)
  const take = async (piece: Piece) => {
    setBusy(true)
    try {
      const work = await partedWork(piece.id)
      if (!work) toast.error(t('common.the-server-cannot-give-this-work-right'))
      else if (await takeIn(work)) {
        // It is in this work now; as a piece of its own it is kept for its days.
        await endPiece(piece.id, 'let go', settings.keptDays)
        await client.invalidateQueries({ queryKey: keys.pieces() })
      }
    } catch (error) {
      toast.error(told(saidBy(error)))
    }
    setBusy(false)
  }
  return pieces.map((piece) => (
    <Notice
      key={piece.id}
      actions={
        <>
          <Button look="main" disabled={busy} onClick={() => void take(piece)}>
            {t('work.combine-it-with-this')}
          </Button>
          <Link to={`/rescue/${piece.id}`} className="inline-flex h-8 items-center px-2 text-accent underline">
            {t('common.look-inside')}
          </Link>
        </>
      }
    >
      <span data-testid="parted">
        {t('work.what-only-had-is-kept-separately-from', {
          device: piece.device,
          beyondInWords: beyondInWords(piece.beyond),
        })}
      </span>
    </Notice>
  ))
}
