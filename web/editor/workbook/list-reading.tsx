// How the values of a list are written, said by somebody: with a preview, before the list is read so.
import { useMutation, useQuery } from '@tanstack/react-query'
import clsx from 'clsx'
import { useState } from 'react'
import { toast } from 'sonner'
import { displayOf } from '../../../core/content/display'
import { isDateFormat } from '../../../core/content/entry'
import type { Cell } from '../../../core/content/workbook'
import type { CsvDialect } from '../../../core/formats/csv/dialect'
import { type SaidOfList, saidIn, sayableEncodings } from '../../../core/formats/csv/said'
import { call, Refused } from '../../api/call'
import { keys } from '../../api/keys'
import { Choice } from '../../design/choice'
import { Button, Notice } from '../../design/controls'
import { Question } from '../../design/overlay'
import type { WorkbookStore } from '../../views/workbook/store'
import { encodingNames } from '../../views/workbook/written-as'
import { t, told } from '../../words/all'
import { day } from '../../words/formats'
import { GuardBox } from './side-lists'

const mostColumns = 6

/** A cell so that nobody can take it for something else: the month of a date in letters. */
function meant(cell: Cell | undefined): string {
  if (typeof cell?.value === 'number' && isDateFormat(cell.style?.format))
    return day((cell.value - 25_569) * 86_400_000 + new Date().getTimezoneOffset() * 60_000)
  return displayOf(cell, undefined)
}

export function ListReading({
  store,
  fileId,
  unsaved,
  onRead,
  onClose,
}: {
  store: WorkbookStore
  fileId: string
  /** There are changes that were made in it as it is read now. */
  unsaved: boolean
  onRead: () => void
  onClose: () => void
}) {
  const list = store.csv!
  const [said, setSaid] = useState<SaidOfList>(() => saidIn(list.readAs))
  const preview = useQuery({
    queryKey: keys.listPreview(fileId, said),
    queryFn: () => store.preview(said),
    placeholderData: (before) => before,
    gcTime: 0,
  })
  const saying = useMutation({
    mutationFn: () => call('setReading', { params: { fileId }, body: said }),
    onSuccess: onRead,
  })
  const now: CsvDialect = preview.data?.dialect ?? { ...list.dialect, ...said }
  const say = (part: SaidOfList) => setSaid({ ...said, ...part })
  const isMarked = !(sayableEncodings as readonly string[]).includes(list.dialect.encoding)
  return (
    <Question
      wide
      title={t('list.how-it-is-written')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={unsaved || !preview.data || saying.isPending} onClick={() => saying.mutate()}>
            {t('list.read-it-so')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <p>{t('list.nobody-says-it')}</p>
      <div className="mt-4 flex flex-wrap gap-x-5 gap-y-3 text-ink">
        <Choice
          label={t('list.separator')}
          value={now.separator}
          choices={[
            [',', t('list.comma')],
            [';', t('list.semicolon')],
            ['\t', t('list.tab')],
            ['|', t('list.bar')],
          ]}
          onChange={(separator) => say({ separator })}
        />
        <Choice
          label={t('list.decimal-sign')}
          value={now.decimal}
          choices={[
            ['.', t('list.point')],
            [',', t('list.comma')],
          ]}
          onChange={(decimal) => say({ decimal })}
        />
        <Choice
          label={t('list.dates')}
          value={now.dates}
          choices={[
            ['day', t('list.day-first')],
            ['month', t('list.month-first')],
          ]}
          onChange={(dates) => say({ dates })}
        />
        {isMarked ? (
          <p className="self-end pb-1 text-soft">
            {t('list.encoding-is-marked', { encoding: encodingNames[now.encoding] })}
          </p>
        ) : (
          <Choice
            label={t('list.encoding')}
            value={said.encoding ?? now.encoding}
            choices={sayableEncodings.map((one) => [one, `${encodingNames[one]}: ${letters[one]}`] as const)}
            onChange={(encoding) => say({ encoding: encoding as NonNullable<SaidOfList['encoding']> })}
          />
        )}
      </div>
      <div className="mt-3 text-ink">
        <GuardBox
          guarded={!!now.guarded}
          onChange={(guarded) => {
            const { guarded: _, ...rest } = said
            setSaid({ ...rest, ...(guarded && { guarded: true as const }) })
          }}
        />
        {now.guarded && !saidIn(list.readAs).guarded && (
          <p className="text-[13px] text-soft">{t('list.guard-from-next-save')}</p>
        )}
      </div>
      {preview.data === null ? (
        <p role="alert" className="mt-4 text-rust">
          {t('list.no-text-in-it', { encoding: encodingNames[now.encoding] })}
        </p>
      ) : (
        preview.data && <Preview rows={preview.data.rows} columns={preview.data.columns} />
      )}
      {unsaved && (
        <p role="status" className="mt-3 text-rust">
          {t('list.save-first')}
        </p>
      )}
      {saying.isError && (
        <p role="alert" className="mt-3 text-rust">
          {saying.error instanceof Refused
            ? told(saying.error.problem)
            : t('common.the-server-does-not-answer-right-now')}
        </p>
      )}
    </Question>
  )
}

/** Whose letters an encoding has. */
const letters: Record<(typeof sayableEncodings)[number], string> = {
  'utf-8': t('list.all-letters'),
  'windows-1252': t('list.western'),
  'windows-1250': t('list.central'),
  'windows-1251': t('list.cyrillic'),
  'windows-1253': t('list.greek'),
  'windows-1254': t('list.turkish'),
  'windows-1257': t('list.baltic'),
  'iso-8859-2': t('list.central'),
  'iso-8859-15': t('list.western'),
  macintosh: t('list.western-old'),
  ibm866: t('list.cyrillic-old'),
}

function Preview({ rows, columns }: { rows: readonly (readonly { cell: Cell | undefined }[])[]; columns: number }) {
  const shown = Math.min(columns, mostColumns)
  return (
    <div className="mt-4 overflow-x-auto border-y">
      <table className="text-[13.5px] text-ink" aria-label={t('list.first-rows')}>
        <tbody>
          {rows.map((row, at) => (
            <tr key={at} className="border-b border-rule last:border-0">
              {Array.from({ length: shown }, (_, column) => {
                const cell = row[column]?.cell
                const number = typeof cell?.value === 'number'
                return (
                  <td
                    key={column}
                    className={clsx('max-w-56 truncate py-1 pl-2 pr-6', number && 'text-right tabular-nums')}
                  >
                    {meant(cell)}
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {columns > shown && <p className="px-2 py-1 text-[13px]">{t('list.more-columns', { n: columns - shown })}</p>}
    </div>
  )
}

/** What of a list could be either, with how it is read here: told until somebody says that it is so. */
export function ListDoubts({
  store,
  fileId,
  onSay,
  onDone,
}: {
  store: WorkbookStore
  fileId: string
  onSay: () => void
  onDone: () => void
}) {
  const { doubts, dialect, readAs } = store.csv!
  const saying = useMutation({
    mutationFn: () =>
      call('setReading', {
        params: { fileId },
        body: {
          ...saidIn(readAs),
          ...(doubts.dates && { dates: dialect.dates }),
          ...(doubts.decimal && { decimal: dialect.decimal }),
          ...(doubts.separator && { separator: dialect.separator }),
          ...(doubts.mixed && { encoding: 'windows-1252' as const }),
        },
      }),
    onSuccess: onDone,
    onError: (error) =>
      toast.error(error instanceof Refused ? told(error.problem) : t('common.the-server-does-not-answer-right-now')),
  })
  const { dates, decimal, separator, mixed } = doubts
  const said = mixed
    ? t('list.doubt-mixed', { n: mixed })
    : dates
      ? t('list.doubt-date', { date: dates, first: dialect.dates })
      : decimal
        ? t('list.doubt-number', { number: decimal, decimal: dialect.decimal === ',' ? 'comma' : 'point' })
        : separator && t('list.doubt-separator')
  if (!said) return null
  return (
    <Notice
      actions={
        <>
          <Button onClick={onSay}>{t('list.say-otherwise')}</Button>
          <Button look="quiet" disabled={saying.isPending} onClick={() => saying.mutate()}>
            {t('list.it-is-right')}
          </Button>
        </>
      }
    >
      {said}
    </Notice>
  )
}
