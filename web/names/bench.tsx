import { useQuery } from '@tanstack/react-query'
import clsx from 'clsx'
import { useMemo, useState } from 'react'
import type { Share, ShareNaming } from '../../core/contract'
import { splitExtension } from '../../core/naming/check'
import { readyConvention } from '../../core/naming/convention'
import { skeleton } from '../../core/naming/lookalike'
import { type PartReading, readName } from '../../core/naming/reading'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { Blank, Field } from '../design/controls'
import { NameText } from '../design/kind'
import { t, told } from '../words/all'

const most = 200

/** A bench: real names of the share, or any that is typed, read part by part. */
export function Bench({ share, naming }: { share: Share; naming: ShareNaming }) {
  const [chosen, setChosen] = useState(naming.conventions[0]?.id ?? '')
  const [typed, setTyped] = useState('')
  const [held, setHeld] = useState('')
  const material = useQuery({
    queryKey: keys.audit(share.id),
    staleTime: 30_000,
    queryFn: () => call('auditMaterial', { params: { shareId: share.id } }),
  })
  const convention = naming.conventions.find(({ id }) => id === chosen)
  const ready = useMemo(
    () => (convention ? readyConvention(convention.rules, naming.lists) : null),
    [convention, naming.lists],
  )
  const names = useMemo(() => {
    const wanted = skeleton(held)
    const found: string[] = []
    for (const [, , name] of material.data?.files ?? []) {
      if (found.length >= most) break
      if (!wanted || skeleton(name).includes(wanted)) found.push(name)
    }
    return found
  }, [material.data, held])
  if (!ready || !convention)
    return <Blank title={t('names.there-is-no-convention-to-try-names')}>{t('names.make-one-under-conventions')}</Blank>
  const parts = ready.parts.filter(({ part }) => part.kind !== 'text')
  const columns = {
    gridTemplateColumns: `minmax(220px,1.6fr) repeat(${parts.length}, minmax(90px,1fr)) minmax(160px,1.2fr)`,
  }
  const row = (name: string, key: string) => {
    const reading = readName(ready, splitExtension(name)[0])
    return (
      <li key={key} className="grid items-start gap-x-4 border-b py-2 text-[14px]" style={columns}>
        <NameText name={name} className="min-w-0 text-[13px]" />
        {parts.map(({ part, index }) => (
          <PartCell key={part.id} reading={reading.parts[index]!} />
        ))}
        <span className="text-[13px] leading-[17px]">
          {reading.follows ? (
            <span className="text-accent">{t('names.follows')}</span>
          ) : reading.stem ? (
            <>
              <NameText name={reading.stem} />
              {reading.doubts[0] && <span className="block text-ochre">{told(reading.doubts[0])}</span>}
            </>
          ) : (
            <span className="text-rust">
              {told(
                reading.doubts[0] ??
                  reading.faults.find(({ about }) => about === 'missing')?.reason ??
                  reading.faults[0]?.reason ??
                  '',
              )}
            </span>
          )}
        </span>
      </li>
    )
  }
  return (
    <div className="flex h-full min-h-0 flex-col px-6 py-5">
      <div className="flex items-end gap-4 pb-4">
        <label className="flex flex-col text-[13px] text-soft">
          {t('names.read-by')}
          <select
            className="mt-1 h-9 rounded-md border border-rule-strong bg-sheet px-2 text-ink"
            value={chosen}
            onChange={(event) => setChosen(event.target.value)}
          >
            {naming.conventions.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <Field
          label={t('names.a-name-to-try')}
          className="min-w-56 flex-1 [&_input]:font-mono"
          value={typed}
          spellCheck={false}
          dir="auto"
          placeholder={t('names.type-any-name')}
          onChange={(event) => setTyped(event.target.value)}
        />
        <Field
          label={t('names.only-names-with')}
          className="w-56"
          value={held}
          onChange={(event) => setHeld(event.target.value)}
        />
      </div>
      <div className="grid gap-x-4 border-b pb-1.5 text-[13px] text-soft" style={columns}>
        <span>{t('common.name')}</span>
        {parts.map(({ part }) => (
          <span key={part.id}>{part.label}</span>
        ))}
        <span>{t('names.by-the-convention')}</span>
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is scrolled by keys, too. */}
      <ul tabIndex={0} className="min-h-0 flex-1 overflow-auto" aria-label={t('names.names-part-by-part')}>
        {typed.trim() && row(typed.trim(), 'typed')}
        {material.isPending ? (
          <li>
            <Blank title={t('common.one-moment')} waiting />
          </li>
        ) : (
          names.map((name, index) => row(name, `${index}`))
        )}
        {names.length === most && (
          <li className="py-3 text-[14px] text-soft">{t('names.the-first-are-shown-type-what-they', { most })}</li>
        )}
      </ul>
    </div>
  )
}

const looks: Record<PartReading['state'], string> = {
  good: 'text-ink',
  corrected: 'text-ink',
  guessed: 'text-ochre',
  failed: 'text-rust',
  missing: 'text-rust',
  absent: 'text-soft',
}

function PartCell({ reading }: { reading: PartReading }) {
  const { state, value, text, reason } = reading
  return (
    <span className={clsx('min-w-0 break-words', looks[state])} title={reason ? told(reason) : undefined}>
      {state === 'missing' ? (
        t('names.missing')
      ) : state === 'absent' ? (
        '–'
      ) : (
        <bdi className="font-mono text-[13px]">{value ?? text}</bdi>
      )}
      {(state === 'corrected' || state === 'guessed') && text && text !== value && (
        <bdi className="block text-[12px] text-soft">{t('names.from', { text })}</bdi>
      )}
      {state === 'failed' && <span className="block text-[12px]">{t('names.not-in-its-list-or-form')}</span>}
    </span>
  )
}
