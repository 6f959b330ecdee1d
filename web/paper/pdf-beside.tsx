// PDFs of a file beside it: which there are, which version they say, and another one.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import type { Entry, PaperLikes } from '../../core/contract'
import { keys } from '../api/keys'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { InStep, refusalWords, useInStep } from '../views/in-step'
import { t } from '../words/all'
import { putPdfBeside } from './as-pdf'

export function PdfBeside({
  file,
  number,
  unsaved,
  likes,
  plain,
  onClose,
}: {
  file: Pick<Entry, 'id' | 'shareId' | 'folderId' | 'name'>
  /** Of its newest version, which is what a PDF says. */
  number: number
  /** There are changes that are in none before they are saved. */
  unsaved: boolean
  likes: PaperLikes
  /** No pages were chosen, or laid onto sides: a file has them all, as they are. */
  plain: boolean
  onClose: () => void
}) {
  const client = useQueryClient()
  const known = useInStep(file.id)
  const pdfs = (known.data?.lists ?? []).filter(({ sheet }) => sheet === null)
  const [inStep, setInStep] = useState(true)
  const putting = useMutation({
    mutationFn: () => putPdfBeside(file, inStep, likes),
    onSuccess: ({ name }) => {
      void client.invalidateQueries({ queryKey: keys.sideLists() })
      toast(t('paper.pdf-is-beside-it', { name }))
      onClose()
    },
  })
  return (
    <Question
      wide
      title={t('paper.pdf-beside', { name: file.name })}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={putting.isPending || known.isPending} onClick={() => putting.mutate()}>
            {pdfs.length ? t('paper.put-another') : t('paper.put-pdf-beside')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.close')}
          </Button>
        </>
      }
    >
      <p>
        {t('paper.what-it-says', { number, standard: likes.standard })}
        {!plain && ` ${t('paper.all-of-its-pages')}`}
        {unsaved && ` ${t('paper.what-is-unsaved')}`}
      </p>
      <InStep lists={pdfs} newest={number} label={t('paper.pdfs-in-step')} />
      <label className="mt-4 flex min-h-7 items-center gap-2 text-ink">
        <input
          type="checkbox"
          className="size-4 shrink-0 accent-accent"
          checked={inStep}
          onChange={(event) => setInStep(event.target.checked)}
        />
        {t('paper.with-each-version')}
      </label>
      {(known.isError || putting.isError) && (
        <p role="alert" className="mt-3 text-rust">
          {refusalWords(putting.error ?? known.error!)}
        </p>
      )}
    </Question>
  )
}
