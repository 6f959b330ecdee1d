// A formula while it is typed, in its cell or in the line above: cells are pointed at instead of typed, what it names is
// coloured there and here, functions are offered by their names and told with their arguments, and where it cannot be read
// it says where. An entry that is none is offered what it may go on to be.
import { type RefObject, useEffect, useId, useLayoutEffect, useRef, useState } from 'react'
import {
  asksForCells,
  callAround,
  type EntryReference,
  faultOf,
  isFormulaEntry,
  mended,
  nameBefore,
  referencesIn,
  referenceTo,
  withNextAnchors,
} from '../../../core/content/formula-entry'
import type { MergedArea } from '../../../core/content/looks'
import { largestSheet } from '../../../core/content/workbook'
import { t, told } from '../../words/all'
import { arrowSteps } from './acts'
import { argumentAt, functionHelp } from './function-help'

export interface Spot {
  row: number
  column: number
}
/** What points at cells, while a formula asks for some. */
export interface Pointing {
  /** Whether a cell that is pressed now goes into the formula. */
  asks: () => boolean
  /** @param extend from the cell where pointing began to this one @param sheet its name, where it is not the formula's own */
  point: (spot: Spot, extend: boolean, sheet?: string | null) => void
}
/** Where what is written points, for the cells to be shown so. */
export interface Writing {
  sheet: number
  pointing: Pointing
  references: readonly EntryReference[]
}
/** The colours that what is named takes in turn, from the design. */
export const referenceColours = ['plum', 'accent', 'ochre', 'rust'] as const

const mostOffered = 8
const between = (a: Spot, b: Spot): MergedArea => ({
  top: Math.min(a.row, b.row),
  left: Math.min(a.column, b.column),
  bottom: Math.max(a.row, b.row),
  right: Math.max(a.column, b.column),
})
interface Pointed {
  from: number
  to: number
  anchor: Spot
  at: Spot
}

/** @param keys whether the arrow keys point, too: in an entry that was begun by typing they do, in one that is changed not */
export function useFormulaField({
  field,
  sheet,
  home,
  keys: keysPoint,
  active = true,
  edge,
  onPointed,
  onText,
  onWriting,
  functions,
  goesOn,
  wrong,
}: {
  field: RefObject<HTMLInputElement | HTMLTextAreaElement | null>
  sheet: number
  home: Spot
  keys: boolean
  /** The edge of what is filled, from a cell on in steps of rows and columns. */
  edge?: (from: Spot, step: readonly [number, number]) => Spot
  /** A cell was pointed at with the keys: it is to be in sight. */
  onPointed?: (spot: Spot) => void
  /** Whether the keyboard is in it. */
  active?: boolean
  /** The text was changed by other hands than the keyboard's. */
  onText: (text: string) => void
  onWriting: (writing: Writing | null) => void
  /** Names of all functions that can be calculated. */
  functions: readonly string[]
  /** What may be meant by what is typed so far, and is no formula. */
  goesOn?: ((typed: string) => readonly string[]) | undefined
  /** Why an entry is not what the cell may hold; `again` when it is taken as soon as it is said again. */
  wrong?: ((entry: string) => { words: string; again: boolean } | null) | undefined
}) {
  const warned = useRef<string | null>(null)
  const [text, setText] = useState<string | null>(null)
  const [caret, setCaret] = useState(0)
  const [chosen, setChosen] = useState(-1)
  const [hushed, setHushed] = useState<string | null>(null)
  const [fault, setFault] = useState<string | null>(null)
  const [byKeys, setByKeys] = useState(keysPoint)
  const pointed = useRef<Pointed | null>(null)
  const formula = text?.startsWith('=') ? text : null
  const id = useId()

  const look = () => {
    const own = field.current
    if (!own) return
    if (own.value !== text) {
      setText(own.value)
      setFault(null)
      setChosen(-1)
    }
    setCaret(own.selectionStart ?? 0)
    const now = pointed.current
    if (now && own.selectionStart !== now.to) pointed.current = null
  }
  const put = (from: number, to: number, piece: string) => {
    const own = field.current!
    own.focus({ preventScroll: true })
    own.setRangeText(piece, from, to, 'end')
    setText(own.value)
    setCaret(from + piece.length)
    setFault(null)
    setChosen(-1)
    onText(own.value)
  }
  const asks = (): boolean => {
    const own = field.current
    if (!own || own.selectionStart !== own.selectionEnd) return false
    return pointed.current !== null || asksForCells(own.value, own.selectionStart ?? 0)
  }
  const point = (spot: Spot, extend: boolean, on: string | null = null) => {
    const own = field.current
    if (!own || !asks()) return
    const now = pointed.current
    const [from, to] = now ? [now.from, now.to] : [own.selectionStart!, own.selectionStart!]
    const anchor = extend && now ? now.anchor : spot
    const piece = referenceTo(between(anchor, spot), on)
    pointed.current = { from, to: from + piece.length, anchor, at: spot }
    put(from, to, piece)
  }

  const typed = formula !== null ? nameBefore(formula, caret) : null
  const offered =
    typed && hushed !== typed.name
      ? [
          ...[...functionHelp.keys()].filter((name) => name.startsWith(typed.name)),
          ...functions.filter((name) => name.startsWith(typed.name) && !functionHelp.has(name)),
        ].slice(0, mostOffered)
      : []
  const take = (name: string) => typed && put(typed.from, caret, `${name}(`)
  const entries = text !== null && formula === null && fault === null ? (goesOn?.(text) ?? []) : []
  const takeEntry = (entry: string) => put(0, field.current!.value.length, entry)
  const call = formula !== null && !offered.length ? callAround(formula, caret) : null

  /** @returns whether the key was for the formula */
  const press = (event: React.KeyboardEvent): boolean => {
    const done = () => {
      event.preventDefault()
      event.stopPropagation()
      return true
    }
    /** Through what is offered, and past either end to the typed again. */
    const choose = (count: number) => {
      const way = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0
      if (way) setChosen(((chosen + 1 + way + count + 1) % (count + 1)) - 1)
      return way !== 0
    }
    if (formula === null) {
      if (!entries.length || event.ctrlKey || event.metaKey || event.altKey || event.shiftKey) return false
      if (choose(entries.length)) return done()
      if (chosen < 0) return false
      if (event.key === 'Escape') {
        setChosen(-1)
        return done()
      }
      // It is entered with the same key.
      if (event.key === 'Enter' || event.key === 'Tab') takeEntry(entries[chosen]!)
      return false
    }
    const step = arrowSteps[event.key]
    if (step && byKeys && !event.altKey && !offered.length && asks()) {
      const from = pointed.current?.at ?? home
      const next = {
        row: Math.min(largestSheet.rows - 1, Math.max(0, from.row + step[0])),
        column: Math.min(largestSheet.columns - 1, Math.max(0, from.column + step[1])),
      }
      const far = (event.ctrlKey || event.metaKey) && edge ? edge(from, step) : next
      point(far, event.shiftKey)
      onPointed?.(far)
      return done()
    }
    if (event.ctrlKey || event.metaKey || event.altKey) return false
    if (offered.length) {
      if (choose(offered.length)) return done()
      if (event.key === 'Tab' || (event.key === 'Enter' && chosen >= 0)) {
        take(offered[Math.max(0, chosen)]!)
        return done()
      }
      if (event.key === 'Escape') {
        setHushed(typed!.name)
        setChosen(-1)
        return done()
      }
    }
    if (event.key === 'F2') {
      setByKeys(!byKeys)
      return done()
    }
    if (event.key === 'F4') {
      const next = withNextAnchors(formula, field.current?.selectionStart ?? 0)
      if (next) put(next.from, next.to, next.text)
      return done()
    }
    return false
  }
  /** Whether an entry is not what the cell may hold, which is said. */
  const refused = (entry: string): boolean => {
    const why = wrong?.(entry)
    if (!why || (why.again && warned.current === entry)) return false
    warned.current = entry
    setText(entry)
    setFault(why.words)
    return true
  }
  /** @returns what was typed as it is taken; null where it cannot be read, or is not to be there, which is said */
  const taken = (entry: string): string | null => {
    if (!isFormulaEntry(entry)) return refused(entry) ? null : entry
    const meant = mended(entry.slice(1))
    if (meant !== null) return `=${meant}`
    const found = faultOf(entry.slice(1))!
    setText(entry)
    setFault(told(found.why))
    field.current?.setSelectionRange(found.from + 1, found.to + 1)
    return null
  }

  const latest = useRef({ asks, point, onWriting })
  latest.current = { asks, point, onWriting }
  const writes = useRef(false)
  const shows = formula !== null && active
  useLayoutEffect(() => {
    // Of two fields the one that is not written in says nothing of the other.
    if (!shows && !writes.current) return
    writes.current = shows
    latest.current.onWriting(
      shows
        ? {
            sheet,
            references: referencesIn(formula),
            pointing: { asks: () => latest.current.asks(), point: (...to) => latest.current.point(...to) },
          }
        : null,
    )
  }, [shows, formula, sheet])
  useEffect(() => () => void (writes.current && latest.current.onWriting(null)), [])

  const help = call ? functionHelp.get(call.name) : undefined
  const shown =
    fault !== null
      ? { is: 'fault' as const, fault }
      : offered.length
        ? { is: 'offered' as const, offered, chosen, take }
        : call && help
          ? { is: 'call' as const, name: call.name, help, argument: argumentAt(help, call.argument) }
          : entries.length
            ? { is: 'entries' as const, offered: entries, chosen, take: takeEntry }
            : null
  return {
    look,
    press,
    asks,
    taken,
    refused,
    formula,
    shown,
    /** For who hears the screen: what is told of the field beside it. */
    about: {
      'aria-autocomplete': 'list' as const,
      ...(shown && { 'aria-describedby': id }),
      ...(shown && 'offered' in shown && { 'aria-controls': id }),
      ...(shown && 'offered' in shown && chosen >= 0 && { 'aria-activedescendant': `${id}-${chosen}` }),
      ...(shown?.is === 'fault' && { 'aria-invalid': true }),
    },
    id,
  }
}

type Shown = NonNullable<ReturnType<typeof useFormulaField>['shown']>

/** What is told of a formula where the cursor is, in a small box beside it. */
export function FormulaHelp({ id, shown, style }: { id: string; shown: Shown; style: React.CSSProperties }) {
  const frame = 'absolute z-30 max-w-[26rem] rounded-md border bg-paper text-[13px] shadow-slip'
  if (shown.is === 'fault')
    return (
      <p id={id} role="alert" style={style} className={`${frame} border-rust px-3 py-1.5 text-rust`}>
        {shown.fault}
      </p>
    )
  if (shown.is === 'call') {
    const { name, help, argument } = shown
    return (
      <div id={id} style={style} className={`${frame} px-3 py-1.5`}>
        <p className="font-mono">
          {name}(
          {help.arguments.map(({ name: one, optional }, at) => (
            <span key={one}>
              {at > 0 && ', '}
              <span className={at === argument ? 'font-bold text-accent' : optional ? 'text-soft italic' : ''}>
                {one}
              </span>
            </span>
          ))}
          )
        </p>
        <p className="text-soft">{help.does}</p>
      </div>
    )
  }
  return (
    <div
      id={id}
      role="listbox"
      aria-label={shown.is === 'entries' ? t('sheet.goes-on-as') : t('sheet.functions')}
      tabIndex={-1}
      style={style}
      className={`${frame} min-w-56 p-1`}
    >
      {shown.offered.map((name, at) => (
        <div
          key={name}
          id={`${id}-${at}`}
          role="option"
          tabIndex={-1}
          aria-selected={at === shown.chosen}
          className={`flex cursor-pointer gap-3 rounded px-2 py-0.5 ${at === shown.chosen ? 'bg-wash' : 'hover:bg-wash'}`}
          // The keyboard stays in the formula.
          onPointerDown={(event) => {
            event.preventDefault()
            event.stopPropagation()
            shown.take(name)
          }}
        >
          {shown.is === 'entries' ? (
            <span className="truncate">{name}</span>
          ) : (
            <>
              <span className="font-mono">{name}</span>
              <span className="ml-auto truncate text-soft">{functionHelp.get(name)?.does}</span>
            </>
          )}
        </div>
      ))}
    </div>
  )
}

/** What is typed, with what it names in its colours; it lies under the field, whose own letters are not seen. */
export function ColouredFormula({
  formula,
  className,
  style,
  scroll = 0,
}: {
  formula: string
  className: string
  style?: React.CSSProperties
  /** How far the field is scrolled to its right; pixels. */
  scroll?: number
}) {
  const references = referencesIn(formula)
  const colours = coloursOf(references)
  const pieces: React.ReactNode[] = []
  let at = 0
  references.forEach(({ from, to }, index) => {
    pieces.push(formula.slice(at, from))
    pieces.push(
      <span key={from} style={{ color: `var(--${colours[index]})` }}>
        {formula.slice(from, to)}
      </span>,
    )
    at = to
  })
  pieces.push(formula.slice(at))
  return (
    <div aria-hidden style={style} className={`pointer-events-none overflow-hidden ${className}`}>
      <div style={{ transform: `translateX(${-scroll}px)` }}>{pieces}</div>
    </div>
  )
}

/** The same cells have one colour, however often they are named. */
export function coloursOf(references: readonly EntryReference[]): string[] {
  const given = new Map<string, string>()
  return references.map(({ sheet, area }) => {
    const key = `${sheet?.toLowerCase() ?? ''} ${area.top} ${area.left} ${area.bottom} ${area.right}`
    const colour = given.get(key) ?? referenceColours[given.size % referenceColours.length]!
    given.set(key, colour)
    return colour
  })
}
