// The field in a cell. It is ours, because the grid loads its own late and loses the first letters.
import { useLayoutEffect, useRef } from 'react'
import { t } from '../../words/all'

/** Told to a cell's field to take in what it holds now, as Enter would, without moving on. */
export const settleEvent = 'jaula-settle'

export interface Entry {
  row: number
  column: number
  entry: string
  x: number
  y: number
  width: number
  height: number
}

/** The field in a cell; what is being typed is kept from its first letter. */
export function EntryField({
  entry,
  x,
  y,
  width,
  height,
  onTyping,
  onFinish,
}: Entry & {
  onTyping: (text: string) => void
  onFinish: (text: string | null, move: readonly [number, number]) => void
}) {
  const field = useRef<HTMLTextAreaElement>(null)
  const over = useRef(false)
  const pressed = useRef(false)
  const latest = useRef({ onTyping, onFinish })
  latest.current = { onTyping, onFinish }
  const end = (keep: boolean, move: readonly [number, number]) => {
    if (over.current) return
    over.current = true
    latest.current.onFinish(keep ? field.current!.value : null, move)
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: begins once, with the cell; what it calls is always the latest
  useLayoutEffect(() => {
    const own = field.current!
    own.focus()
    own.setSelectionRange(own.value.length, own.value.length)
    if (own.value) latest.current.onTyping(own.value)
    const settle = () => end(true, [0, 0])
    own.addEventListener(settleEvent, settle)
    const press = () => {
      pressed.current = true
    }
    document.addEventListener('pointerdown', press, true)
    return () => {
      own.removeEventListener(settleEvent, settle)
      document.removeEventListener('pointerdown', press, true)
    }
  }, [])
  const keys: Record<string, (event: React.KeyboardEvent) => void> = {
    Enter: (event) => end(true, [0, event.shiftKey ? -1 : 1]),
    Tab: (event) => end(true, [event.shiftKey ? -1 : 1, 0]),
    Escape: () => end(false, [0, 0]),
  }
  return (
    <textarea
      ref={field}
      aria-label={t('sheet.cell-entry')}
      data-cell-entry
      defaultValue={entry}
      spellCheck={false}
      style={{ left: x - 1, top: y - 1, minWidth: width + 2, height: height + 2 }}
      className="absolute z-20 resize-none overflow-hidden border-2 border-accent bg-sheet px-[6px] py-[2px] text-[14px] leading-5 shadow-slip outline-none [field-sizing:content]"
      onChange={(event) => latest.current.onTyping(event.target.value)}
      // A click elsewhere takes the entry in, as it does with the line above. The grid takes the focus some time after
      // it was clicked: that is not for it to have while somebody types.
      onBlur={({ relatedTarget }) => {
        const grid = field.current?.parentElement
        if (!pressed.current && !over.current && relatedTarget && grid?.contains(relatedTarget)) field.current!.focus()
        else end(true, [0, 0])
      }}
      onKeyDown={(event) => {
        if (event.nativeEvent.isComposing || event.altKey) return
        const run = keys[event.key]
        if (!run) return
        event.preventDefault()
        event.stopPropagation()
        run(event)
      }}
    />
  )
}
