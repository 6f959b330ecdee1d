import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import { sayLeftOut, type Written } from '../../core/formats/refusals'
import { typeOfWork, typeWritten } from '../../core/formats/types'
import { checkName, correctName, nameKey, splitExtension } from '../../core/naming/check'
import { saidBy } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { type ChosenPlace, lastPlace, usePlace } from '../places/place'
import { PlaceBrowser } from '../places/place-browser'
import { T, t, told } from '../words'
import { timeOf } from '../words/formats'
import { unnamed } from '../words/unnamed'
import { wholeFacts } from '../work/file-facts'
import type { Gathered } from '../work/gather'
import { lastVersionOf } from './inside'

/** Puts a copy of unsaved work aside as a file, with its full name and place, whatever becomes of the page that has it. */
export function SafeCopy({
  gathered,
  name,
  encode,
  onClose,
}: {
  gathered: Gathered
  name: string | null
  encode: () => Promise<Written>
  onClose: () => void
}) {
  const client = useQueryClient()
  const ending = `.${typeWritten(typeOfWork(name, gathered.kind), gathered.kind)}`
  const [stem, setStem] = useState(() =>
    t('rescue.safe-copy', {
      it: name ? splitExtension(name)[0] : unnamed(gathered.kind, new Date(gathered.bornAt)).replace(/:/g, '.'),
      format: timeOf(new Date()).replace(':', '.'),
    }),
  )
  const [chosen, setChosen] = useState<ChosenPlace | null | undefined>(undefined)
  const [busy, setBusy] = useState(false)
  const [refusal, setRefusal] = useState('')
  const file = useQuery({
    queryKey: keys.file(gathered.fileId),
    enabled: !!gathered.fileId,
    queryFn: () => wholeFacts(gathered.fileId!),
  })
  const own = file.data && { shareId: file.data.file.shareId, folderId: file.data.file.folderId, path: [] }
  const at = chosen === undefined ? (own ?? (gathered.fileId && file.isPending ? null : lastPlace())) : chosen
  const listing = usePlace(at)
  const path = listing.data ? [listing.data.share.name, ...listing.data.trail.map((one) => one.name)] : []
  const called = stem.trim() + ending
  const fault = checkName(called)
  const taken = listing.data?.entries.some((entry) => nameKey(entry.name) === nameKey(called))
  const said = fault?.reason ?? (taken ? t('rescue.a-file-with-this-name-is-here') : '')
  const save = async () => {
    if (!at || said || busy) return
    setBusy(true)
    try {
      const origin = lastVersionOf(gathered)
      const { bytes, lost } = await encode()
      const leftOut = sayLeftOut(lost)
      const saved = await call('newFile', {
        query: {
          key: uuidv7(),
          reason: 'copied',
          shareId: at.shareId,
          ...(at.folderId && { folderId: at.folderId }),
          name: called,
          ...(origin && { originId: origin }),
        },
        bytes,
      })
      await call('noteSafeCopy', { params: { draftId: gathered.draftId } }).catch(() => {})
      await client.invalidateQueries({ queryKey: keys.place(at.shareId) })
      toast(t('rescue.the-safe-copy-is', { it: [...path, saved.file.name].join(' / ') }), {
        duration: leftOut ? 30_000 : 15_000,
        description: leftOut && told(leftOut),
      })
      onClose()
    } catch (error) {
      setRefusal(error instanceof Refused ? told(error.problem) : told(saidBy(error)))
      setBusy(false)
    }
  }
  return (
    <Question
      title={t('rescue.save-a-safe-copy')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!at || !!said || busy} onClick={save}>
            {busy ? t('common.saving') : t('rescue.save-the-safe-copy')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <p className="pb-3">{t('rescue.afterwards-there-is-one-more-file-with')}</p>
      <Field
        label={t('common.name')}
        value={stem}
        className="[&_input]:font-mono [&_input]:text-ink"
        fault={
          said && (
            <>
              {said}{' '}
              {fault && correctName(called) && (
                <button
                  type="button"
                  className="underline"
                  onClick={() => setStem(splitExtension(correctName(called)!)[0])}
                >
                  {t('rescue.use', { correctName: correctName(called) })}
                </button>
              )}
            </>
          )
        }
        onChange={(event) => setStem(event.target.value)}
        onKeyDown={(event) => event.key === 'Enter' && void save()}
        autoFocus
      />
      <PlaceBrowser at={at} onChoose={setChosen} className="mt-3 h-56 rounded-md border bg-sheet text-ink" />
      <p className="pt-2 text-[14px]" data-testid="safe-copy-path">
        {at && path.length ? (
          <T
            k="rescue.it-will-be"
            v={{ path: path.join(' / '), called, bdi: (c) => <bdi className="font-mono text-ink">{c}</bdi> }}
          />
        ) : (
          t('common.choose-a-place')
        )}
      </p>
      {refusal && (
        <p role="alert" className="pt-1 text-rust">
          {refusal}
        </p>
      )}
    </Question>
  )
}
