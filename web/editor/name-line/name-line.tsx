import clsx from 'clsx'
import { useMemo } from 'react'
import type { FileFacts } from '../../../core/contract'
import { splitExtension } from '../../../core/naming/check'
import { readyConvention } from '../../../core/naming/convention'
import { readName } from '../../../core/naming/reading'
import { NameParts } from '../../design/kind'
import { conventionIn, useShareNaming } from '../../places/place'
import { t, told } from '../../words/all'

/**
 * The name by its parts, after the place it is in. Each part leads to its field in the filing slip; a
 * name that does not follow shows which part is wrong.
 */
export function NameLine({
  name,
  facts,
  onSettle,
}: {
  name: string
  facts: FileFacts | undefined
  onSettle: ((partId?: string) => void) | undefined
}) {
  const naming = useShareNaming(facts?.file.shareId)
  const convention = facts ? conventionIn(naming.data, facts.trail) : null
  const [stem, extension] = splitExtension(name)
  const reading = useMemo(() => {
    if (!convention || !naming.data) return null
    const versions = [convention, ...convention.earlier].map(({ rules }) => readyConvention(rules, naming.data.lists))
    const followed = versions.find((one) => one.parse(stem))
    return readName(followed ?? versions[0]!, stem)
  }, [convention, naming.data, stem])
  // A guest is not told where a file lies.
  const where = facts?.share.name ? [facts.share.name, ...facts.trail.map((one) => one.name)] : []
  const place = where.length > 0 && (
    <span className="hidden shrink truncate text-[14px] text-soft md:inline" dir="auto">
      {where.join(' / ')} /
    </span>
  )
  if (!reading || !onSettle || !reading.follows)
    return (
      <>
        {place}
        <button
          type="button"
          className="flex min-h-6 min-w-0 shrink items-center gap-2 rounded px-0.5 hover:enabled:bg-wash"
          disabled={!onSettle}
          onClick={() => onSettle?.()}
          title={
            reading && !reading.follows
              ? t('slip.this-name-does-not-follow-2', {
                  conventionName: convention?.name,
                  faults: reading.faults.map(({ reason }) => told(reason)).join(' '),
                })
              : onSettle
                ? t('common.rename-or-move')
                : name
          }
        >
          <NameParts name={name} className="truncate font-mono text-[15px] font-medium" />
          {reading && !reading.follows && (
            <span className="shrink-0 rounded-full border border-ochre/60 px-2 text-[12px] leading-[18px] text-ochre">
              {firstWord(reading.faults[0]?.about)}
            </span>
          )}
        </button>
      </>
    )
  let shown = 0
  return (
    <>
      {place}
      <span
        className="flex min-w-0 shrink items-center font-mono text-[15px] font-medium"
        data-testid="name-line"
        title={name}
      >
        {reading.parts.map(({ part, text, state }) => {
          if (state === 'absent') return null
          const separator = shown++ > 0 ? part.separator : ''
          return (
            <span
              key={part.id}
              className={clsx('flex items-center', part.kind === 'words' ? 'min-w-0 shrink' : 'shrink-0')}
            >
              <span className="whitespace-pre text-rule-strong">{separator}</span>
              <button
                type="button"
                className="min-h-6 min-w-6 truncate rounded px-px leading-6 hover:bg-wash hover:text-accent"
                aria-label={`${part.label}: ${text}`}
                title={`${part.label}: ${text}`}
                onClick={() => onSettle(part.kind === 'text' ? undefined : part.id)}
                dir="auto"
              >
                {text}
              </button>
            </span>
          )
        })}
        <span className="text-soft">{extension}</span>
      </span>
    </>
  )
}

const firstWord = (about: string | undefined) =>
  ({
    'version word': t('slip.version-by-hand'),
    'date form': t('slip.date-form'),
    'not in list': t('slip.not-in-its-list'),
    missing: t('slip.a-part-missing'),
    spelling: t('slip.written-otherwise'),
    order: t('slip.another-order'),
    'left over': t('slip.words-left-over'),
  })[about ?? ''] ?? t('slip.does-not-follow')
