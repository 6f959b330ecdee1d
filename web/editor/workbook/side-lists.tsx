// Lists of a spreadsheet's values beside it: which there are, what they say, and new ones.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import type { Entry, SideList } from '../../../core/contract'
import { nameKey } from '../../../core/naming/check'
import { sideListNames } from '../../../core/naming/side-lists'
import { call, Refused } from '../../api/call'
import { keys } from '../../api/keys'
import { Choice } from '../../design/choice'
import { Button, Notice } from '../../design/controls'
import { NameText } from '../../design/kind'
import { Question } from '../../design/overlay'
import { T, t, told } from '../../words/all'

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

const useSideLists = (fileId: string) =>
  useQuery({
    queryKey: keys.sideLists(fileId),
    queryFn: () => call('sideLists', { params: { fileId } }),
  })
/** In step is what says the newest version, and is as it was written. */
const stateOf = ({ changed, number: says }: SideList, newest: number): string =>
  changed
    ? t('list.changed-since', { number: says })
    : says === newest
      ? t('list.says-version', { number: says })
      : t('list.says-an-older', { number: says, newest })
const refusal = (error: Error) =>
  error instanceof Refused ? told(error.problem) : t('common.the-server-does-not-answer-right-now')

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
  const known = useSideLists(file.id)
  const lists = known.data?.lists ?? []
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
  const ending = useMutation({
    mutationFn: (sideListId: string) => call('endSideList', { params: { sideListId } }),
    onSettled: again,
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
          {refusal(known.error)}
        </p>
      )}
      {lists.length > 0 && (
        <ul className="mt-4 border-t text-[13.5px] text-ink" aria-label={t('list.in-step-now')}>
          {lists.map((list) => (
            <li key={list.id} className="flex flex-wrap items-center gap-x-4 border-b border-rule py-1">
              <span className="w-32 truncate">{list.sheet}</span>
              <span className="min-w-52 flex-1">
                {list.name === null ? (
                  <span className="text-soft">{t('list.not-to-be-seen')}</span>
                ) : (
                  <Link to={`/open/${list.fileId}`} className="text-accent">
                    <NameText name={list.name} className="underline underline-offset-2" />
                  </Link>
                )}
              </span>
              <span className="min-w-40 flex-1 text-soft">
                {list.name === null ? null : list.fault ? (
                  <span className="text-rust">{t('list.behind', { why: told(list.fault), number: list.number })}</span>
                ) : (
                  stateOf(list, number)
                )}
              </span>
              <Button
                look="quiet"
                disabled={ending.isPending}
                aria-label={t('list.no-longer', { name: list.name ?? list.sheet })}
                onClick={() => ending.mutate(list.id)}
              >
                {t('list.keep-as-it-is')}
              </Button>
            </li>
          ))}
        </ul>
      )}
      {ending.isError && (
        <p role="alert" className="mt-3 text-rust">
          {refusal(ending.error)}
        </p>
      )}
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
          {refusal(putting.error)}
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

/** In a list that is written anew with each version of its spreadsheet: what is changed here does not last. */
export function InStepNotice({ fileId }: { fileId: string }) {
  const of = useSideLists(fileId).data?.of
  if (!of) return null
  return (
    <Notice
      actions={
        <Link to={`/open/${of.fileId}`} className="inline-flex h-8 items-center px-2 text-accent underline">
          {t('list.open-the-spreadsheet')}
        </Link>
      }
    >
      <T
        k="list.is-in-step-with"
        v={{ bold: <NameText name={of.name} className="text-ink" />, sheet: of.sheet, number: of.number }}
      />
    </Notice>
  )
}
