import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import type { Entry } from '../../core/contract'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { type ChosenPlace, usePlace } from '../places/place'
import { PlaceBrowser } from '../places/place-browser'
import { t, told } from '../words'
import { act } from './acts'

/** Where to? A place is chosen by walking; nothing is moved before it is said where. */
export function MoveQuestion({ entries, onClose }: { entries: readonly Entry[]; onClose: () => void }) {
  const client = useQueryClient()
  const [at, setAt] = useState<ChosenPlace | null>({
    shareId: entries[0]!.shareId,
    folderId: entries[0]!.folderId,
    path: [],
  })
  const [refusal, setRefusal] = useState('')
  const listing = usePlace(at)
  const called = entries.length === 1 ? entries[0]!.name : t('files.items-2', { entries: entries.length })
  const to = listing.data ? [listing.data.share.name, ...listing.data.trail.map(({ name }) => name)].join(' / ') : ''
  const same = entries.every((entry) => entry.shareId === at?.shareId && entry.folderId === at?.folderId)
  const move = async () => {
    if (!at || same) return
    const problem = await act(
      client,
      'move',
      entries.map(({ id, name }) => ({ id, from: name, shareId: at.shareId, folderId: at.folderId })),
      called,
    )
    if (problem) setRefusal(told(problem))
    else onClose()
  }
  return (
    <Question
      title={t('files.move', { called })}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!at || same || !to} onClick={move}>
            {at && to && !same
              ? t('files.move-to-2', { it: listing.data!.trail.at(-1)?.name ?? listing.data!.share.name })
              : t('files.choose-another-place')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <PlaceBrowser at={at} onChoose={setAt} className="h-80 overflow-hidden rounded-md border bg-sheet text-ink" />
      <p className="pt-2 text-[14px]">
        {at ? t('files.it-goes-to-versions-stay-with-it', { to }) : t('files.choose-a-share')}
      </p>
      {refusal && (
        <p role="alert" className="pt-1 text-rust">
          {refusal}
        </p>
      )}
    </Question>
  )
}
