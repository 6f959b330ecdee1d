// Lists of a spreadsheet's values beside it: which there are, what they say, and new ones.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import type { Entry } from '../../../core/contract'
import { nameKey } from '../../../core/naming/check'
import { sideListNames } from '../../../core/naming/side-lists'
import { call } from '../../api/call'
import { keys } from '../../api/keys'
import { Choice } from '../../design/choice'
import { Button } from '../../design/controls'
import { Question } from '../../design/overlay'
import { InStep, refusalWords, useInStep } from '../../views/in-step'
import { t } from '../../words/all'

/** Which sheets of a file are put beside it, and how. */
export interface Beside {
  sheets: readonly string[]
  type: 'csv' | 'tsv'
  guarded: boolean
  inStep: boolean
}

/**
 * Puts lists beside a file that is saved, under names that are free there.
 * @param all its sheets @throws Refused
 */
export async function putBeside(
  { id, shareId, folderId, name }: Pick<Entry, 'id' | 'shareId' | 'folderId' | 'name'>,
  all: readonly string[],
  { sheets, type, guarded, inStep }: Beside,
): Promise<Entry[]> {
  const { names } = await call('placeNames', { params: { shareId }, query: { ...(folderId && { folderId }) } })
  const called = sideListNames(name, all, sheets, type, names.map(nameKey))
  const lists = sheets.map((sheet, at) => ({ id: crypto.randomUUID(), sheet, name: called[at]! }))
  return call('newSideLists', { params: { fileId: id }, body: { lists, guarded, inStep } })
}

export function SideListsOf({
  file,
  sheets,
  number,
  unsaved,
  onClose,
}: {
  file: Pick<Entry, 'id' | 'shareId' | 'folderId' | 'name'>
  /** All that it has. */
  sheets: readonly string[]
  /** Of its newest version, which is what lists say. */
  number: number
  /** There are changes that are in no list before they are saved. */
  unsaved: boolean
  onClose: () => void
}) {
  const client = useQueryClient()
  const known = useInStep(file.id)
  const lists = (known.data?.lists ?? []).filter((list) => list.sheet !== null)
  const without = sheets.filter((sheet) => !lists.some((list) => list.sheet === sheet))
  const [chosen, setChosen] = useState<readonly string[] | null>(null)
  const wanted = chosen ?? without
  const [type, setType] = useState<'csv' | 'tsv'>('csv')
  const [guarded, setGuarded] = useState(false)
  const [inStep, setInStep] = useState(true)
  const again = () => void client.invalidateQueries({ queryKey: keys.sideLists() })
  const putting = useMutation({
    mutationFn: () => putBeside(file, sheets, { sheets: wanted, type, guarded, inStep }),
    onSuccess: (made) => {
      again()
      setChosen(null)
      toast(t('list.lists-are-beside-it', { count: made.length, name: made[0]!.name }))
      if (!inStep) onClose()
    },
  })
  const tick = 'size-4 shrink-0 accent-accent'
  return (
    <Question
      wide
      title={t('list.beside-it', { name: file.name })}
      onClose={onClose}
      answers={
        <>
          {known.data && without.length > 0 && (
            <Button look="main" disabled={!wanted.length || putting.isPending} onClick={() => putting.mutate()}>
              {t('list.put-beside', { count: wanted.length })}
            </Button>
          )}
          <Button look="quiet" onClick={onClose}>
            {t('common.close')}
          </Button>
        </>
      }
    >
      <p>
        {t('list.what-lists-are', { number })}
        {unsaved && ` ${t('list.what-is-unsaved-is-not-in-them')}`}
      </p>
      {known.isError && (
        <p role="alert" className="mt-3 text-rust">
          {refusalWords(known.error)}
        </p>
      )}
      <InStep lists={lists} newest={number} label={t('list.in-step-now')} />
      {known.data && without.length > 0 && (
        <div className="mt-4 flex flex-wrap gap-x-10 gap-y-3 text-ink">
          <fieldset className="min-w-48">
            <legend className="pb-1 text-[13px] text-soft">{t('list.of-which-sheets')}</legend>
            <div className="max-h-48 overflow-auto">
              {without.map((sheet) => (
                <label key={sheet} className="flex min-h-7 items-center gap-2">
                  <input
                    type="checkbox"
                    className={tick}
                    checked={wanted.includes(sheet)}
                    onChange={(event) =>
                      setChosen(without.filter((one) => (one === sheet ? event.target.checked : wanted.includes(one))))
                    }
                  />
                  <span className="max-w-64 truncate">{sheet}</span>
                </label>
              ))}
            </div>
          </fieldset>
          <div className="flex min-w-64 flex-1 flex-col gap-2">
            <Choice
              label={t('list.between-values')}
              value={type}
              choices={[
                ['csv', t('list.as-csv')],
                ['tsv', t('list.as-tsv')],
              ]}
              onChange={setType}
            />
            <label className="flex min-h-7 items-center gap-2">
              <input
                type="checkbox"
                className={tick}
                checked={inStep}
                onChange={(event) => setInStep(event.target.checked)}
              />
              {t('list.with-each-version')}
            </label>
            <GuardBox guarded={guarded} onChange={setGuarded} />
          </div>
        </div>
      )}
      {putting.isError && (
        <p role="alert" className="mt-3 text-rust">
          {refusalWords(putting.error)}
        </p>
      )}
    </Question>
  )
}

/** Whether texts that a program could take for formulas stand behind an apostrophe. */
export const GuardBox = ({ guarded, onChange }: { guarded: boolean; onChange: (guarded: boolean) => void }) => (
  <label className="flex min-h-7 items-center gap-2" title={t('list.why-guarded')}>
    <input
      type="checkbox"
      className="size-4 shrink-0 accent-accent"
      checked={guarded}
      onChange={(event) => onChange(event.target.checked)}
    />
    {t('list.guarded')}
  </label>
)
