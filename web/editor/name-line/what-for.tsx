// What the file is for: a type is chosen by what its receiver needs, and what that type cannot hold is told while it is.
import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { isCsv, isPoor, plainType, takesType } from '../../../core/formats/types'
import { keys } from '../../api/keys'
import { Choice } from '../../design/choice'
import { NeedsOf, withLists, withPdf } from '../../views/needs'
import { t } from '../../words/all'
import type { WrittenType } from '../../work/content'
import { limitInWords } from '../questions'
import type { SlipBeginning } from './use-slip'
import { Ways } from './ways'

/** What was written meanwhile is counted in when the hands rest; milliseconds. */
const rest = 400

export function WhatFor({
  of: { types, sheets, beside, pdf, values, textWay, lossOf, show, edits },
  own,
  goesOn,
  only,
  share,
  as,
  onChange,
}: {
  of: NonNullable<SlipBeginning['as']>
  /** The type of the work. */
  own: string
  /** It is the same file that goes on as another type. */
  goesOn: boolean
  /** The types that the share takes, where its managers narrowed them. */
  only: readonly string[] | undefined
  share: string
  as: WrittenType
  onChange: (as: WrittenType) => void
}) {
  const root = useRef<HTMLDivElement>(null)
  const [seen, setSeen] = useState(() => edits.now())
  const taken = types.filter((type) => (goesOn && type === own) || takesType(only, type))
  const first = taken[0]
  const refused = !!first && !taken.includes(as.type)
  // What the share does not take is not left chosen: its slip could not be settled.
  useEffect(() => {
    if (refused) onChange({ type: first })
  }, [refused, first, onChange])
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
  const other = as.type !== own || !!as.values || !!as.text?.encoding
  const losses = useQuery({
    queryKey: keys.losses(as, seen),
    enabled: other,
    queryFn: () => lossOf(as),
    placeholderData: (before) => before,
    gcTime: 0,
  })
  return (
    <div className="mt-3" ref={root}>
      <NeedsOf
        types={taken}
        value={as.beside === 'pdf' ? withPdf : as.beside ? withLists : as.type}
        beside={beside && takesType(only, 'csv') ? taken[0] : undefined}
        pdfBeside={pdf && takesType(only, 'pdf') ? taken[0] : undefined}
        onChange={(type) =>
          onChange(
            type === withLists
              ? { type: taken[0]!, beside: 'csv' }
              : type === withPdf
                ? { type: taken[0]!, beside: 'pdf' }
                : { type },
          )
        }
      />
      {only && taken.length < types.length && (
        <p className="mt-2 text-[13px] leading-[18px] text-soft">
          {t('slip.share-takes', { share, types: taken.map((type) => `.${type}`).join(', ') })}
        </p>
      )}
      {(as.beside || as.type === 'pdf') && (
        <p className="mt-2 text-[13px] leading-[18px] text-soft">
          {as.type === 'pdf'
            ? t('slip.pdf-is')
            : as.beside === 'pdf'
              ? t('slip.pdf-beside-it')
              : t('slip.lists-beside-it', { count: sheets.length })}
        </p>
      )}
      <Ways as={as} own={own} values={values} textWay={textWay} onChange={onChange} />
      {other && isCsv(as.type) && sheets.length > 1 && (
        <div className="mt-2">
          <Choice
            label={t('slip.which-sheet')}
            value={String(as.sheet ?? 0)}
            choices={[
              ...sheets.map((name, index) => [String(index), name] as const),
              ...(beside ? [[withLists, t('slip.each-in-a-list')] as const] : []),
            ]}
            onChange={(sheet) => {
              if (sheet !== withLists) return onChange({ ...as, sheet: Number(sheet) })
              // This question goes: the keyboard stays with the one that it belongs to.
              root.current?.querySelector('select')?.focus()
              onChange({ type: taken[0]!, beside: plainType(as.type) === 'tsv' ? 'tsv' : 'csv' })
            }}
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
            as.type !== 'pdf' && <p>{t('slip.nothing-is-lost')}</p>
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
