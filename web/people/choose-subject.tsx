import { useQuery } from '@tanstack/react-query'
import { Command as Palette } from 'cmdk'
import { UserRound, UsersRound } from 'lucide-react'
import { useId, useState } from 'react'
import type { Subject } from '../../core/contract'
import { queries } from '../api/queries'
import { t } from '../words/all'

/** So many are shown below the field. */
const most = 8

/** A person or a group, found by a part of the name. */
export function ChooseSubject({
  label,
  onChoose,
  groups = true,
  without = [],
}: {
  label: string
  onChoose: (subject: Subject) => void
  /** Whether groups can be chosen, too. */
  groups?: boolean
  /** Who is not offered. */
  without?: readonly string[]
}) {
  const directory = useQuery(queries.directory)
  const [typed, setTyped] = useState('')
  const id = useId()
  const words = typed.toLowerCase().normalize('NFC').split(/\s+/).filter(Boolean)
  const fits = (text: string) => words.every((word) => text.toLowerCase().includes(word))
  const begins = (name: string) =>
    words.every((word) =>
      name
        .toLowerCase()
        .split(/\s+/)
        .some((part) => part.startsWith(word)),
    )
  const found: (Subject & { beside: string })[] = words.length
    ? [
        ...(groups ? (directory.data?.groups ?? []) : [])
          .filter(({ name }) => fits(name))
          .map(({ people, ...one }) => ({ ...one, kind: 'group' as const, beside: t('people.people', { people }) })),
        ...(directory.data?.people ?? [])
          .filter(({ name, handle }) => fits(`${name} ${handle}`))
          .map(({ handle, ...one }) => ({ ...one, kind: 'person' as const, beside: handle })),
      ]
        .filter((one) => !without.includes(one.id))
        // Whose name begins with it is meant more often than who has it in the middle.
        .toSorted((a, b) => Number(begins(b.name)) - Number(begins(a.name)))
    : []
  const shown = found.slice(0, most)
  return (
    <Palette shouldFilter={false} label={label} className="relative">
      <label htmlFor={id} className="mb-1 block text-[13px] text-soft">
        {label}
      </label>
      <Palette.Input
        id={id}
        value={typed}
        onValueChange={setTyped}
        placeholder={t('people.part-of-a-name')}
        className="h-9 w-full rounded-md border border-rule-strong bg-sheet px-2.5"
        onKeyDown={(event) => {
          if (event.key !== 'Escape' || !typed) return
          event.stopPropagation()
          setTyped('')
        }}
      />
      <Palette.List
        className={
          words.length ? 'absolute inset-x-0 top-full z-30 mt-1 rounded-md border bg-paper p-1 shadow-slip' : 'sr-only'
        }
      >
        {words.length > 0 && shown.length === 0 && (
          <p className="px-2.5 py-2 text-[14px] text-soft" role="status">
            {directory.isPending ? t('common.one-moment') : t('people.nobody-is-called-that')}
          </p>
        )}
        {shown.map(({ beside, ...one }) => (
          <Palette.Item
            key={one.id}
            value={one.id}
            onSelect={() => {
              setTyped('')
              onChoose(one)
            }}
            className="flex cursor-pointer items-center gap-2.5 rounded px-2.5 py-1.5 data-[selected=true]:bg-wash"
          >
            <SubjectGlyph kind={one.kind} />
            <span className="min-w-0 flex-1 truncate">{one.name}</span>
            <span className="text-[13px] text-soft">{beside}</span>
          </Palette.Item>
        ))}
        {found.length > most && (
          <p className="px-2.5 py-1.5 text-[13px] text-soft">{t('people.and-more', { more: found.length - most })}</p>
        )}
      </Palette.List>
    </Palette>
  )
}

export function SubjectGlyph({ kind }: { kind: Subject['kind'] }) {
  const Glyph = kind === 'group' ? UsersRound : UserRound
  return (
    <>
      <Glyph size={16} className="shrink-0 text-soft" aria-hidden />
      {kind === 'group' && <span className="sr-only">{t('people.group')}</span>}
    </>
  )
}
