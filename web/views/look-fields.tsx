// Fields for how something looks: a font, a size, a length, a colour.
import { Minus, Plus, X } from 'lucide-react'
import { type ReactNode, useEffect, useId, useRef, useState } from 'react'
import { Button } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { t } from '../words/all'

/** For text that is read, and for what lies behind it. */
export const inkColours = ['#1f2729', '#5b6b6c', '#0b6b5b', '#1d5c8f', '#5b3f8c', '#8c2f5d', '#a3402a', '#8a6100']
export const fillColours = ['#f7eccb', '#dfe9e3', '#d7dff5', '#f8d3cb', '#e9dff0', '#e6e2d8']
/** Those that come with Jaula's pages, and those that others stand in for line by line. */
const fonts = [
  'Caladea',
  'Carlito',
  'Liberation Mono',
  'Liberation Sans',
  'Liberation Serif',
  'Arial',
  'Calibri',
  'Cambria',
  'Courier New',
  'Times New Roman',
]
const smallestText = 4
const largestText = 200

/** What is chosen about looks, beside the tools. Escape closes it. */
export function LookPanel({ label, onClose, children }: { label: string; onClose: () => void; children: ReactNode }) {
  const root = useRef<HTMLElement>(null)
  // The keys come along, once: whoever goes on in the work, or at the edge of the page, stays there.
  useEffect(() => root.current?.querySelector<HTMLElement>('[data-first], input')?.focus(), [])
  return (
    <section
      ref={root}
      aria-label={label}
      className="absolute inset-y-0 left-11 z-20 w-64 max-w-[calc(100%-44px)] overflow-auto border-r bg-paper px-4 pb-4 shadow-page md:static md:z-auto md:shrink-0 md:shadow-none"
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || event.defaultPrevented) return
        event.stopPropagation()
        onClose()
      }}
    >
      <div className="flex items-center justify-between py-2">
        <h2 className="text-[17px] font-semibold">{label}</h2>
        <IconButton label={t('people.close-this')} onClick={onClose}>
          <X />
        </IconButton>
      </div>
      {children}
    </section>
  )
}

/** A font and its size. @param children what stands behind the size */
export function FontAndSize({
  font,
  size,
  none,
  sizeNow,
  onFont,
  onSize,
  children,
}: {
  /** Null for the usual one, undefined where several are. */
  font: string | null | undefined
  size: number | null | undefined
  /** The size as it is by now: keys are faster than what is drawn. */
  sizeNow: () => number | null | undefined
  /** Stands there for no font of its own. */
  none?: string
  onFont: (font: string | null) => void
  onSize: (points: number | null) => void
  children: ReactNode
}) {
  const id = useId()
  const stepBy = (points: number) => setSize((sizeNow() ?? 11) + points)
  const setSize = (next: number | null) =>
    onSize(next === null ? null : Math.min(largestText, Math.max(smallestText, Math.round(next * 2) / 2)))
  return (
    <>
      <label htmlFor={`${id}-font`} className="mb-1 block text-[13px] text-soft">
        {t('document.font')}
      </label>
      <FontField id={`${id}-font`} font={font} {...(none !== undefined && { none })} onSet={onFont} />
      <div className="mt-3 flex items-end gap-1 pb-3">
        <div className="flex-1">
          <label htmlFor={`${id}-size`} className="mb-1 block text-[13px] text-soft">
            {t('document.text-size')}
          </label>
          <Points
            id={`${id}-size`}
            points={size ?? null}
            none={size === undefined ? '…' : '–'}
            least={smallestText}
            most={largestText}
            onSet={setSize}
          />
        </div>
        <IconButton label={t('document.smaller-text')} onClick={() => stepBy(-1)}>
          <Minus />
        </IconButton>
        <IconButton label={t('document.larger-text')} onClick={() => stepBy(1)}>
          <Plus />
        </IconButton>
        {children}
      </div>
    </>
  )
}

/** A colour of those that go well together, or any other. */
export function Swatches({
  label,
  colours,
  chosen,
  onSet,
}: {
  label: string
  colours: readonly string[]
  /** Null for none of its own; undefined where several are. */
  chosen: string | null | undefined
  onSet: (colour: string | null) => void
}) {
  return (
    <fieldset className="border-t py-3">
      <legend className="float-left mb-2 w-full text-[13px] text-soft">{label}</legend>
      <div className="clear-both flex flex-wrap items-center gap-2">
        {colours.map((colour) => (
          <button
            key={colour}
            type="button"
            className="size-7 rounded-full border border-rule-strong outline-offset-2 aria-pressed:ring-2 aria-pressed:ring-accent aria-pressed:ring-offset-2 aria-pressed:ring-offset-paper"
            style={{ background: colour }}
            aria-pressed={chosen === colour}
            aria-label={t('document.this-colour', { colour })}
            title={colour}
            onClick={() => onSet(colour)}
          />
        ))}
        <input
          type="color"
          className="h-7 w-9 rounded border border-rule-strong bg-sheet"
          aria-label={t('document.another-colour', { what: label })}
          value={chosen ?? '#808080'}
          onChange={(event) => onSet(event.target.value.toLowerCase())}
        />
        {chosen !== null && (
          <Button look="quiet" className="h-7 px-2 text-[13px]" onClick={() => onSet(null)}>
            {t('document.no-own-colour')}
          </Button>
        )}
      </div>
    </fieldset>
  )
}

/** A font by its name: one that is known, or any other that the reader's program may have. */
function FontField({
  id,
  font,
  none = t('document.as-the-style'),
  onSet,
}: {
  id: string
  /** Stands there for none. */
  none?: string
  font: string | null | undefined
  onSet: (font: string | null) => void
}) {
  const [typed, setTyped] = useState<string | null>(null)
  const take = () => {
    if (typed === null) return
    const name = typed
      .trim()
      .replace(/["\\;]/g, '')
      .slice(0, 60)
    setTyped(null)
    if (name !== (font ?? '')) onSet(name || null)
  }
  return (
    <>
      <input
        id={id}
        list={`${id}-known`}
        className="h-9 w-full rounded-md border border-rule-strong bg-sheet px-2.5"
        value={typed ?? font ?? ''}
        placeholder={font === undefined ? t('document.several') : none}
        onChange={(event) => {
          setTyped(event.target.value)
          // One that was chosen from the list is meant at once.
          if (fonts.includes(event.target.value)) {
            setTyped(null)
            onSet(event.target.value)
          }
        }}
        onBlur={take}
        onKeyDown={(event) => event.key === 'Enter' && take()}
      />
      <datalist id={`${id}-known`}>
        {fonts.map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
    </>
  )
}

/** A number that is taken with Enter or when the keys go elsewhere; empty is as the style has it. */
function Points({
  id,
  points,
  none = t('document.as-the-style'),
  least,
  most,
  onSet,
}: {
  id: string
  points: number | null
  /** Stands there for none. */
  none?: string
  least: number
  most: number
  onSet: (points: number | null) => void
}) {
  const [typed, setTyped] = useState<string | null>(null)
  const take = () => {
    if (typed === null) return
    const number = Number(typed.replace(',', '.'))
    setTyped(null)
    if (typed.trim() === '') return onSet(null)
    if (Number.isFinite(number) && number >= least && number <= most) onSet(number)
  }
  return (
    <input
      id={id}
      inputMode="decimal"
      className="h-9 w-full rounded-md border border-rule-strong bg-sheet px-2.5 tabular-nums"
      value={typed ?? (points === null ? '' : String(Math.round(points * 100) / 100))}
      placeholder={none}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => event.key === 'Enter' && take()}
    />
  )
}
export function Length({
  label,
  ...rest
}: {
  label: ReactNode
  /** Stands there for none. */
  none?: string
  least: number
  most?: number
  points: number | null
  onSet: (points: number | null) => void
}) {
  const id = useId()
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-[13px] leading-[16px] text-soft">
        {label}
      </label>
      <Points id={id} most={800} {...rest} />
    </div>
  )
}
