// What is kept in step with a file: lists of its values, and PDFs of it; and what such a one is in step with.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Link } from 'react-router'
import type { SideList } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Button, Notice } from '../design/controls'
import { NameText } from '../design/kind'
import { T, t, told } from '../words/all'

export const useInStep = (fileId: string) =>
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
export const refusalWords = (error: Error): string =>
  error instanceof Refused ? told(error.problem) : t('common.the-server-does-not-answer-right-now')

/** Those that there are, with which version they say, and a way to end it. */
export function InStep({ lists, newest, label }: { lists: readonly SideList[]; newest: number; label: string }) {
  const client = useQueryClient()
  const ending = useMutation({
    mutationFn: (sideListId: string) => call('endSideList', { params: { sideListId } }),
    onSettled: () => client.invalidateQueries({ queryKey: keys.sideLists() }),
  })
  if (!lists.length) return null
  return (
    <>
      <ul className="mt-4 border-t text-[13.5px] text-ink" aria-label={label}>
        {lists.map((list) => (
          <li key={list.id} className="flex flex-wrap items-center gap-x-4 border-b border-rule py-1">
            {list.sheet !== null && <span className="w-32 truncate">{list.sheet}</span>}
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
                stateOf(list, newest)
              )}
            </span>
            <Button
              look="quiet"
              disabled={ending.isPending}
              aria-label={t('list.no-longer', { name: list.name ?? list.sheet ?? 'PDF' })}
              onClick={() => ending.mutate(list.id)}
            >
              {t('list.keep-as-it-is')}
            </Button>
          </li>
        ))}
      </ul>
      {ending.isError && (
        <p role="alert" className="mt-3 text-rust">
          {refusalWords(ending.error)}
        </p>
      )}
    </>
  )
}

/** In what is written anew with each version of another file: what is changed here does not last. */
export function InStepNotice({ fileId }: { fileId: string }) {
  const of = useInStep(fileId).data?.of
  if (!of) return null
  const { sheet, number } = of
  const bold = <NameText name={of.name} className="text-ink" />
  return (
    <Notice
      actions={
        <Link to={`/open/${of.fileId}`} className="inline-flex h-8 items-center px-2 text-accent underline">
          {sheet === null ? t('paper.open-its-file') : t('list.open-the-spreadsheet')}
        </Link>
      }
    >
      {sheet === null ? (
        <T k="paper.is-in-step-with" v={{ bold, number }} />
      ) : (
        <T k="list.is-in-step-with" v={{ bold, sheet, number }} />
      )}
    </Notice>
  )
}
