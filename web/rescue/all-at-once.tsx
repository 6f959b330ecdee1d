// What can be done with all interrupted work at once: each becomes the next version of its file, each
// becomes a separate file in one place, or all of it is let go (and kept for its days).

import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import { sayLeftOut } from '../../core/formats/refusals'
import { typeOfWork, typeWritten } from '../../core/formats/types'
import { freeName, nameKey } from '../../core/naming/check'
import { proposeName } from '../../core/naming/propose'
import { saidBy } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Button } from '../design/controls'
import { Menu, MenuItem, MenuRule, Question } from '../design/overlay'
import { type ChosenPlace, lastPlace, usePlace } from '../places/place'
import { PlaceBrowser } from '../places/place-browser'
import { t, told } from '../words'
import { endedInFile, endPiece } from '../work/ending'
import { gatherDraft } from '../work/gather'
import type { Piece } from '../work/pieces'
import { lastVersionOf, saveAsNext, written } from './inside'

const called = (piece: Piece) => piece.name ?? `“${piece.opening.slice(0, 40) || piece.kind}”`
const said = (error: unknown) => (error instanceof Refused ? told(error.problem) : told(saidBy(error)))

export function AllAtOnce({ pieces }: { pieces: readonly Piece[] }) {
  const client = useQueryClient()
  const { settings } = useSession()
  const [busy, setBusy] = useState('')
  const [placing, setPlacing] = useState(false)
  if (pieces.length < 2) return null
  const withFile = pieces.filter(({ fileId }) => fileId)
  /** Each on its own: one that fails keeps none of the others from being done. */
  const each = async (doing: string, some: readonly Piece[], act: (piece: Piece) => Promise<string>) => {
    for (const [index, piece] of some.entries()) {
      setBusy(t('rescue.doing', { doing, at: index + 1, all: some.length }))
      try {
        toast(await act(piece))
      } catch (error) {
        toast.error(`${called(piece)}: ${said(error)}`)
      }
    }
    setBusy('')
    await client.invalidateQueries({ queryKey: keys.pieces() })
  }
  const letGo = async () => {
    setBusy(t('rescue.closing'))
    const gone: Piece[] = []
    for (const piece of pieces)
      try {
        await endPiece(piece.id, 'let go', settings.keptDays)
        gone.push(piece)
      } catch (error) {
        toast.error(`${called(piece)}: ${said(error)}`)
      }
    setBusy('')
    await client.invalidateQueries({ queryKey: keys.pieces() })
    toast(t('rescue.pieces-of-work-were-closed-without-saving', { gone: gone.length, keptDays: settings.keptDays }), {
      action: {
        label: t('rescue.get-it-back'),
        onClick: async () => {
          for (const piece of gone) await endPiece(piece.id, 'open', settings.keptDays)
          await client.invalidateQueries({ queryKey: keys.pieces() })
        },
      },
    })
  }
  return (
    <>
      <Menu trigger={<Button disabled={!!busy}>{busy || t('rescue.all-at-once', { pieces: pieces.length })}</Button>}>
        {withFile.length > 0 && (
          <MenuItem
            onSelect={() =>
              each('Saving', withFile, async (piece) => {
                const { version } = await saveAsNext(piece.id)
                return t('rescue.is-saved-as-version', { pieceName: piece.name, number: version.number })
              })
            }
          >
            {t('rescue.save-the-that-have-a-file-as', {
              withFileIs: Boolean(withFile.length === pieces.length),
              withFile: withFile.length,
            })}
          </MenuItem>
        )}
        <MenuItem onSelect={() => setPlacing(true)}>{t('rescue.save-each-as-a-separate-file')}</MenuItem>
        <MenuRule />
        <MenuItem onSelect={letGo}>{t('rescue.close-all-of-them-without-saving')}</MenuItem>
      </Menu>
      {placing && (
        <SeparateFiles
          pieces={pieces}
          onClose={() => setPlacing(false)}
          onKeep={(at, names) => {
            setPlacing(false)
            void each('Keeping', pieces, async (piece) => keepSeparately(piece, at, names.get(piece.id)!))
          }}
        />
      )}
    </>
  )
}

async function keepSeparately(piece: Piece, { shareId, folderId }: ChosenPlace, name: string): Promise<string> {
  const gathered = await gatherDraft(piece.id)
  if (!gathered) throw new Error(t('common.the-server-cannot-give-this-work-right'))
  if (gathered.lostFrom) throw new Error(t('rescue.what-this-computer-has-of-it-is', { it: gathered.lostFrom - 1 }))
  const originId = lastVersionOf(gathered)
  const { bytes, lost } = await written(gathered)
  const { file } = await call('newFile', {
    query: {
      key: uuidv7(),
      reason: 'copied',
      shareId,
      ...(folderId && { folderId }),
      name,
      ...(originId && { originId }),
    },
    bytes,
  })
  await endedInFile(gathered)
  const leftOut = sayLeftOut(lost)
  return [t('rescue.saved-as', { fileName: file.name }), leftOut && told(leftOut)].filter(Boolean).join(' ')
}

function SeparateFiles({
  pieces,
  onKeep,
  onClose,
}: {
  pieces: readonly Piece[]
  onKeep: (at: ChosenPlace, names: Map<string, string>) => void
  onClose: () => void
}) {
  const [at, setAt] = useState<ChosenPlace | null>(lastPlace())
  const listing = usePlace(at)
  const taken = new Set((listing.data?.entries ?? []).map(({ name }) => nameKey(name)))
  const names = new Map<string, string>()
  for (const piece of pieces) {
    const stem = proposeName(piece.opening, (piece.lastEditAt ?? piece.bornAt).slice(0, 10), piece.name ?? undefined)
    const name = freeName(`${stem}.${typeWritten(typeOfWork(piece.name, piece.kind), piece.kind)}`, taken)
    taken.add(nameKey(name))
    names.set(piece.id, name)
  }
  return (
    <Question
      title={t('rescue.save-pieces-as-separate-files', { pieces: pieces.length })}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!at || !listing.data} onClick={() => at && onKeep(at, names)}>
            {t('rescue.save-them-here')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <p className="pb-3">{t('rescue.afterwards-each-is-a-file-of-its')}</p>
      <PlaceBrowser className="h-56 rounded-md border bg-sheet text-ink" at={at} onChoose={setAt} />
      <ul
        className="mt-3 max-h-40 overflow-auto border-t text-[14px]"
        aria-label={t('rescue.what-they-will-be-called')}
      >
        {pieces.map((piece) => (
          <li key={piece.id} className="flex justify-between gap-4 border-b py-1">
            <span className="min-w-0 flex-1 truncate">{called(piece)}</span>
            <bdi className="min-w-0 flex-1 truncate text-right font-mono text-ink">{names.get(piece.id)}</bdi>
          </li>
        ))}
      </ul>
    </Question>
  )
}
