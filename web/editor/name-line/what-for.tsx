// What the file is for: a type is chosen by what its receiver needs, and what that type cannot hold is told while it is.
import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { isCsv, isPoor } from '../../../core/formats/types'
import { keys } from '../../api/keys'
import { Choice } from '../../design/choice'
import { NeedsOf } from '../../views/needs'
import { t } from '../../words/all'
import type { WrittenType } from '../../work/content'
import { limitInWords } from '../questions'
import type { SlipBeginning } from './use-slip'

/** What was written meanwhile is counted in when the hands rest; milliseconds. */
const rest = 400

export function WhatFor({
  of: { types, sheets, lossOf, show, edits },
  own,
  goesOn,
  as,
  onChange,
}: {
  of: NonNullable<SlipBeginning['as']>
  /** The type of the work. */
  own: string
  /** It is the same file that goes on as another type. */
  goesOn: boolean
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
      <NeedsOf types={types} value={as.type} onChange={(type) => onChange({ type })} />
      {other && isCsv(as.type) && sheets.length > 1 && (
        <div className="mt-2">
          <Choice
            label={t('slip.which-sheet')}
            value={String(as.sheet ?? 0)}
            choices={sheets.map((name, index) => [String(index), name] as const)}
            onChange={(sheet) => onChange({ ...as, sheet: Number(sheet) })}
          />
        </div>
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
              <p className="text-rust">
                {isPoor(as.type) ? t('slip.not-in-it') : goesOn ? t('slip.stays-in-versions') : t('slip.stays-behind')}
              </p>
              <ul className="list-disc pl-5">
                {losses.data.map((limit) => (
                  <li key={limit.feature}>
                    {limit.at ? (
                      <button
                        type="button"
                        className="min-h-6 py-0.5 text-left align-top underline decoration-rule-strong underline-offset-2 hover:decoration-ink"
                        title={t('slip.go-to-it')}
                        onClick={() => show(limit.at!)}
                      >
                        {limitInWords(limit)}
                      </button>
                    ) : (
                      limitInWords(limit)
                    )}
                  </li>
                ))}
              </ul>
            </>
          )}
        </div>
      )}
    </div>
  )
}
