// To whom something goes: people from here by their names, anybody by their address.
import { useQuery } from '@tanstack/react-query'
import { Command as Palette } from 'cmdk'
import { AtSign, UserRound, X } from 'lucide-react'
import { useId, useRef, useState } from 'react'
import { mostRecipients, type Recipient } from '../../core/contract'
import { queries } from '../api/queries'
import { useSession } from '../api/signed-in'
import { t } from '../words/all'
import { addressesIn } from './addresses'

/** Somebody, with what they are called on the screen. */
export type Chosen = Recipient & { name: string }
const keyOf = (one: Recipient) => ('personId' in one ? one.personId : one.address.toLowerCase())

/** So many are shown below the field. */
const most = 7

export function Recipients({
  to,
  fault,
  onChange,
}: {
  to: readonly Chosen[]
  fault?: string | undefined
  onChange: (to: readonly Chosen[]) => void
}) {
  const directory = useQuery(queries.directory)
  const { person } = useSession()
  const [typed, setTyped] = useState('')
  const input = useRef<HTMLInputElement>(null)
  const id = useId()
  const addresses = addressesIn(typed)
  const words = typed.toLowerCase().normalize('NFC').split(/\s+/).filter(Boolean)
  const taken = new Set(to.map(keyOf))
  const found = words.length
    ? (directory.data?.people ?? []).filter(
        (one) =>
          one.id !== person.id &&
          !taken.has(one.id) &&
          words.every((word) => `${one.name} ${one.handle}`.toLowerCase().includes(word)),
      )
    : []
  const add = (more: readonly Chosen[]) => {
    const there = new Set(taken)
    const fresh = more.filter((one) => !there.has(keyOf(one)) && there.add(keyOf(one)))
    onChange([...to, ...fresh].slice(0, mostRecipients))
    setTyped('')
  }
  const addAddresses = () => addresses && add(addresses.map((address) => ({ address, name: address })))
  return (
    <Palette shouldFilter={false} label={t('sending.to')} className="relative">
      <label htmlFor={id} className="mb-1 block text-[13px] text-soft">
        {t('sending.to')}
      </label>
      <div
        className={`flex min-h-9 flex-wrap items-center gap-1.5 rounded-md border bg-sheet px-1.5 py-1 ${fault ? 'border-rust' : 'border-rule-strong'}`}
      >
        {to.map((one) => (
          <span
            key={keyOf(one)}
            className="inline-flex max-w-full items-center gap-1 rounded bg-wash pl-2 text-[14px] text-ink"
          >
            <span className="truncate">{one.name}</span>
            <button
              type="button"
              aria-label={t('sending.without', { name: one.name })}
              className="grid size-6 shrink-0 place-items-center rounded hover:bg-rule"
              onClick={() => {
                onChange(to.filter((other) => keyOf(other) !== keyOf(one)))
                input.current?.focus()
              }}
            >
              <X size={14} aria-hidden />
            </button>
          </span>
        ))}
        <Palette.Input
          ref={input}
          id={id}
          autoFocus
          value={typed}
          onValueChange={setTyped}
          placeholder={to.length ? '' : t('sending.to-hint')}
          autoComplete="off"
          spellCheck={false}
          aria-invalid={fault ? true : undefined}
          aria-describedby={fault ? `${id}-fault` : undefined}
          className="h-7 min-w-40 flex-1 bg-transparent px-1 text-ink outline-none placeholder:text-soft"
          onKeyDown={(event) => {
            if (event.key === 'Escape' && typed) {
              event.stopPropagation()
              event.preventDefault()
              setTyped('')
            } else if (event.key === 'Backspace' && !typed && to.length) onChange(to.slice(0, -1))
            else if ((event.key === ',' || event.key === ';' || event.key === ' ') && addresses) {
              event.preventDefault()
              addAddresses()
            } else if (event.key === 'Enter' && !typed) event.preventDefault()
          }}
          // When the focus has come to where it goes: a dialog whose parts go while nothing has it takes it for itself.
          onBlur={() => void setTimeout(addAddresses)}
        />
      </div>
      {fault && (
        <p id={`${id}-fault`} role="alert" className="mt-1 text-[13px] leading-[18px] text-rust">
          {fault}
        </p>
      )}
      <Palette.List
        className={
          words.length ? 'absolute inset-x-0 top-full z-30 mt-1 rounded-md border bg-paper p-1 shadow-slip' : 'sr-only'
        }
      >
        {addresses && (
          <Palette.Item
            value="address"
            onSelect={addAddresses}
            className="flex cursor-pointer items-center gap-2.5 rounded px-2.5 py-1.5 text-ink data-[selected=true]:bg-wash"
          >
            <AtSign size={16} className="shrink-0 text-soft" aria-hidden />
            <span className="min-w-0 flex-1 truncate">{addresses.join(', ')}</span>
            <span className="text-[13px] text-soft">{t('sending.to-this-address')}</span>
          </Palette.Item>
        )}
        {found.slice(0, most).map(({ id: personId, name, handle, byMail }) => (
          <Palette.Item
            key={personId}
            value={personId}
            disabled={!byMail}
            onSelect={() => add([{ personId, name }])}
            className="flex cursor-pointer items-center gap-2.5 rounded px-2.5 py-1.5 text-ink data-[disabled=true]:cursor-default data-[selected=true]:bg-wash data-[disabled=true]:text-soft"
          >
            <UserRound size={16} className="shrink-0 text-soft" aria-hidden />
            <span className="min-w-0 flex-1 truncate">{name}</span>
            <span className="text-[13px] text-soft">{byMail ? handle : t('sending.no-address')}</span>
          </Palette.Item>
        ))}
        {words.length > 0 && !addresses && found.length === 0 && (
          <p className="px-2.5 py-2 text-[14px] text-soft" role="status">
            {directory.isPending ? t('common.one-moment') : t('sending.nobody')}
          </p>
        )}
      </Palette.List>
    </Palette>
  )
}
