// What the file is for: a type is chosen by what its receiver needs, and what that type cannot hold is told while it is.
import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { isCsv } from '../../../core/formats/types'
import { keys } from '../../api/keys'
import { t } from '../../words/all'
import type { WrittenType } from '../../work/content'
import { limitInWords } from '../questions'
import type { SlipBeginning } from './use-slip'

/** What each type is good for. */
const needs: Record<string, () => string> = {
  docx: () => t('slip.for-going-on'),
  xlsx: () => t('slip.for-going-on'),
  txt: () => t('slip.for-any-program'),
  csv: () => t('slip.for-rows'),
  tsv: () => t('slip.for-rows-by-tabs'),
}
/** What was written meanwhile is counted in when the hands rest; milliseconds. */
const rest = 400
const control = 'h-9 w-full rounded-md border border-rule-strong bg-sheet px-2 text-[14px] text-ink'

export function WhatFor({
  of: { types, sheets, lossOf, edits },
  own,
  as,
  onChange,
}: {
  of: NonNullable<SlipBeginning['as']>
  /** The type of the work. */
  own: string
  as: WrittenType
  onChange: (as: WrittenType) => void
}) {
  const [seen, setSeen] = useState(() => edits.now())
  useEffect(() => {
    let late: ReturnType<typeof setTimeout> | undefined
    const stop = edits.subscribe(() => {
      clearTimeout(late)
      late = setTimeout(() => setSeen(edits.now()), rest)
    })
    return () => {
      stop()
      clearTimeout(late)
    }
  }, [edits])
  const other = as.type !== own
  const losses = useQuery({
    queryKey: keys.losses(as.type, as.sheet, seen),
    enabled: other,
    queryFn: () => lossOf(as),
    placeholderData: (before) => before,
    gcTime: 0,
  })
  return (
    <div className="mt-3">
      <label className="flex flex-col gap-1 text-[13px] text-soft">
        {t('slip.what-for')}
        <select className={control} value={as.type} onChange={(event) => onChange({ type: event.target.value })}>
          {types.map((type) => (
            <option key={type} value={type}>
              {`${(needs[type] ?? (() => t('slip.for-the-same')))()} (.${type})`}
            </option>
          ))}
        </select>
      </label>
      {other && isCsv(as.type) && sheets.length > 1 && (
        <label className="mt-2 flex flex-col gap-1 text-[13px] text-soft">
          {t('slip.which-sheet')}
          <select
            className={control}
            value={as.sheet ?? 0}
            onChange={(event) => onChange({ ...as, sheet: Number(event.target.value) })}
          >
            {sheets.map((name, index) => (
              <option key={name} value={index}>
                {name}
              </option>
            ))}
          </select>
        </label>
      )}
      {other && (
        <div className="mt-2 text-[13px] leading-[18px]" role="status" data-testid="losses">
          {losses.isError ? (
            <p className="text-rust">{t('slip.losses-not-known')}</p>
          ) : !losses.data ? (
            <p className="text-soft">{t('slip.losses-are-looked-for')}</p>
          ) : losses.data.length === 0 ? (
            <p>{t('slip.nothing-is-lost')}</p>
          ) : (
            <>
              <p className="text-rust">{t('slip.not-in-it')}</p>
              <ul className="list-disc pl-5">
                {losses.data.map((limit) => (
                  <li key={limit.feature}>{limitInWords(limit)}</li>
                ))}
              </ul>
            </>
          )}
        </div>
      )}
    </div>
  )
}
