// The field in a cell. It is ours, because the grid loads its own late and loses the first letters.
import { useLayoutEffect, useRef } from 'react'
import { t } from '../../words/all'
import { ColouredFormula, FormulaHelp, type Spot, useFormulaField, type Writing } from './formula-field'

/** Told to a cell's field to take in what it holds now, as Enter would, without moving on. */
export const settleEvent = 'jaula-settle'

/** Told to a cell's field to take in letters where its caret is, while the keys are elsewhere. */
export const putInEvent = 'jaula-put-in'

export interface Entry {
  sheet: number
  row: number
  column: number
  entry: string
  x: number
  y: number
  width: number
  height: number
  /** Whether it was begun by typing over what is there. */
  typed: boolean
  /** The keys stay where they are, beside the cells. */
  quiet?: boolean
}

/** What is told of a formula takes no more than this; pixels. */
const helpRoom = { width: 420, offered: 220, entries: 180, call: 72, fault: 72 }

/** A line ends where the cursor is, as if it was typed: the field's own undo takes it back. */
export function breakLine(field: HTMLTextAreaElement): void {
  if (!document.execCommand('insertText', false, '\n'))
    field.setRangeText('\n', field.selectionStart, field.selectionEnd, 'end')
}

/** Whether something is of what stands beside the cells for what is typed into them. */
const isBeside = (element: Element | null) => !!element?.closest('[data-for-entry]')

/** The field in a cell; what is being typed is kept from its first letter. */
export function EntryField({
  sheet,
  row,
  column,
  entry,
  typed,
  quiet = false,
  x,
  y,
  width,
  height,
  size = 1,
  room,
  functions,
  edge,
  onPointed,
  onWriting,
  onTyping,
  onFinish,
  goesOn,
  wrong,
}: Entry & {
  /** How large the sheet is shown. */
  size?: number
  /** Of the cells that are in sight; pixels. */
  room: { width: number; height: number }
  functions: readonly string[]
  /** The edge of what is filled, from a cell on. */
  edge?: (from: Spot, step: readonly [number, number]) => Spot
  /** A cell was pointed at with the keys. */
  onPointed?: (spot: Spot) => void
  onWriting: (writing: Writing | null) => void
  onTyping: (text: string) => void
  onFinish: (text: string | null, move: readonly [number, number]) => void
  /** What may be meant by what is typed so far. */
  goesOn?: (typed: string) => readonly string[]
  /** Why an entry is not what the cell may hold. */
  wrong?: Parameters<typeof useFormulaField>[0]['wrong']
}) {
  const field = useRef<HTMLTextAreaElement>(null)
  const over = useRef(false)
  const pressed = useRef(false)
  /** The keys are beside the cells, and come back. */
  const isAway = useRef(quiet)
  const writing = useFormulaField({
    field,
    sheet,
    home: { row, column },
    keys: typed,
    ...(edge && { edge }),
    ...(onPointed && { onPointed }),
    onText: onTyping,
    onWriting,
    functions,
    // What is only changed a little is not begun anew.
    goesOn: typed ? goesOn : undefined,
    wrong,
  })
  const latest = useRef({ onTyping, onFinish, asks: writing.asks, refused: writing.refused })
  latest.current = { onTyping, onFinish, asks: writing.asks, refused: writing.refused }
  const end = (keep: boolean, move: readonly [number, number]) => {
    if (over.current) return
    // What the cell may not hold stays here, and is kept as what is being typed.
    if (keep && latest.current.refused(field.current!.value)) return
    over.current = true
    latest.current.onFinish(keep ? field.current!.value : null, move)
  }
  /** With a key: a formula that cannot be read stays where it is, and says so. */
  const endByKey = (move: readonly [number, number]) => {
    const taken = writing.taken(field.current!.value)
    if (taken === null) return
    field.current!.value = taken
    end(true, move)
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: begins once, with the cell; what it calls is always the latest
  useLayoutEffect(() => {
    const own = field.current!
    if (!quiet) own.focus()
    own.setSelectionRange(own.value.length, own.value.length)
    if (own.value) latest.current.onTyping(own.value)
    writing.look()
    const settle = () => end(true, [0, 0])
    own.addEventListener(settleEvent, settle)
    const putIn = ({ detail }: CustomEvent<string>) => {
      own.setRangeText(detail, own.selectionStart, own.selectionEnd, 'end')
      latest.current.onTyping(own.value)
      writing.look()
    }
    own.addEventListener(putInEvent, putIn as EventListener)
    // Who comes from beside the cells and goes on elsewhere has entered it.
    const elsewhere = ({ target }: FocusEvent) => {
      if (!isAway.current || isBeside(target as Element)) return
      isAway.current = false
      if (target === own) return
      end(true, [0, 0])
      if (!over.current) own.focus()
    }
    document.addEventListener('focusin', elsewhere)
    const press = () => {
      // A cell that is pointed at takes nothing in.
      pressed.current = !latest.current.asks()
    }
    document.addEventListener('pointerdown', press, true)
    return () => {
      own.removeEventListener(settleEvent, settle)
      own.removeEventListener(putInEvent, putIn as EventListener)
      document.removeEventListener('focusin', elsewhere)
      document.removeEventListener('pointerdown', press, true)
    }
  }, [])
  const keys: Record<string, (event: React.KeyboardEvent) => void> = {
    Enter: (event) => endByKey([0, event.shiftKey ? -1 : 1]),
    Tab: (event) => endByKey([event.shiftKey ? -1 : 1, 0]),
    Escape: () => end(false, [0, 0]),
  }
  // What is told of it stays in sight.
  const beside = {
    ...(y + height < room.height - helpRoom[writing.shown?.is ?? 'offered']
      ? { top: y + height + 4 }
      : { bottom: room.height - y + 4 }),
    ...(x < room.width - helpRoom.width ? { left: x } : { right: 8 }),
  }
  const most = Math.max(width + 2, room.width - x - 12)
  const letters = { fontSize: 14 * size, lineHeight: `${20 * size}px`, padding: `${2 * size}px ${6 * size}px` }
  return (
    <>
      {writing.formula !== null && (
        <ColouredFormula
          formula={writing.formula}
          className="absolute z-[21] whitespace-pre-wrap border-2 border-transparent"
          style={{ left: x - 1, top: y - 1, maxWidth: most, ...letters }}
        />
      )}
      {writing.shown && <FormulaHelp id={writing.id} shown={writing.shown} style={beside} />}
      <textarea
        ref={field}
        aria-label={t('sheet.cell-entry')}
        data-cell-entry
        defaultValue={entry}
        spellCheck={false}
        style={{ left: x - 1, top: y - 1, minWidth: width + 2, maxWidth: most, minHeight: height + 2, ...letters }}
        className={`absolute z-20 resize-none overflow-hidden border-2 border-accent bg-sheet shadow-slip outline-none [field-sizing:content] ${writing.formula === null ? '' : 'text-transparent caret-ink'}`}
        {...writing.about}
        onChange={(event) => {
          latest.current.onTyping(event.target.value)
          writing.look()
        }}
        onSelect={writing.look}
        // A click elsewhere takes the entry in, as it does with the line above. The grid takes the focus some time after
        // it was clicked: that is not for it to have while somebody types.
        onBlur={({ relatedTarget }) => {
          // Another window was gone to: whoever comes back goes on.
          if (!document.hasFocus()) return
          isAway.current = isBeside(relatedTarget as Element | null)
          if (isAway.current) return
          const grid = field.current?.parentElement
          const inCells = relatedTarget !== null && grid?.contains(relatedTarget)
          if (!pressed.current && !over.current && inCells) field.current!.focus()
          else end(true, [0, 0])
          // What the cell may not hold is still here, and so are the keys of who is among the cells.
          if (!over.current && inCells) field.current!.focus()
        }}
        onKeyDown={(event) => {
          if (event.nativeEvent.isComposing) return
          if (event.altKey) {
            if (event.key !== 'Enter') return
            event.preventDefault()
            event.stopPropagation()
            breakLine(event.currentTarget)
            return
          }
          if (writing.press(event)) return
          const run = keys[event.key]
          if (!run) return
          event.preventDefault()
          event.stopPropagation()
          run(event)
        }}
      />
    </>
  )
}
