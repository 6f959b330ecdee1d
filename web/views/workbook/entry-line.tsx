// Below the cells: what the cell holds, and what those that are selected add up to.

import { useRef, useState } from 'react'
import { T, t } from '../../words/all'
import { digits } from '../../words/formats'
import type { Block } from './acts'
import type { ShownWorkbook } from './still'

/** The address of the chosen cell and its entry, editable in one line. */
export function EntryLine({
  address,
  entry,
  editable,
  note,
  onEntry,
  onTyping,
  onLeave,
}: {
  address: string
  entry: string
  editable: boolean
  /** What is to be told of the cell's result. */
  note: string | null
  onEntry: (entry: string) => void
  onTyping: (entry: string | null) => void
  onLeave: () => void
}) {
  const [typed, setTyped] = useState<string | null>(null)
  const given = useRef(false)
  const finish = (keep: boolean) => {
    if (typed === null || given.current) return
    given.current = true
    if (keep && typed !== entry) onEntry(typed)
    else onTyping(null)
    setTyped(null)
  }
  return (
    <div className="flex h-9 shrink-0 items-center border-b bg-paper font-mono text-[14px]">
      <span className="w-20 shrink-0 border-r px-3 leading-9" data-testid="address">
        {address}
      </span>
      <input
        aria-label={t('sheet.entry-of', { address })}
        data-entry
        className="h-full min-w-0 flex-1 bg-transparent px-3 outline-none"
        readOnly={!editable}
        value={typed ?? entry}
        aria-describedby={note ? 'entry-note' : undefined}
        spellCheck={false}
        onChange={(event) => {
          given.current = false
          setTyped(event.target.value)
          onTyping(event.target.value)
        }}
        onBlur={() => finish(true)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            finish(true)
            onLeave()
          }
          if (event.key === 'Escape') {
            finish(false)
            onLeave()
          }
        }}
      />
      {note && (
        <span
          id="entry-note"
          className="min-w-0 max-w-[55%] shrink truncate border-l px-3 font-sans text-[13px] text-soft"
          title={note}
        >
          {note}
        </span>
      )}
    </div>
  )
}

/** Count and sum of what is selected. */
export function Sum({ store, index, block }: { store: ShownWorkbook; index: number; block: Block }) {
  const sheet = store.workbook.sheets[index]!
  let numbers = 0
  let filled = 0
  let sum = 0
  for (let row = block.y; row < block.y + block.height; row++) {
    const line = sheet.rows[row]
    if (!line) continue
    for (let column = block.x; column < Math.min(block.x + block.width, line.length); column++) {
      const cell = line[column]
      const value = cell?.formula === undefined ? cell?.value : store.result(index, row, column)
      if (value === undefined) continue
      filled++
      if (typeof value === 'number') {
        numbers++
        sum += value
      }
    }
  }
  return (
    <span className="ml-auto self-center whitespace-nowrap pl-4 text-[13px] text-soft">
      {t('sheet.filled', { filled: digits(filled) })}
      {numbers > 0 && (
        <T
          k="sheet.sum"
          v={{
            Number: Number(sum.toPrecision(12)).toLocaleString('en'),
            span: (c) => <span className="font-mono">{c}</span>,
          }}
        />
      )}
    </span>
  )
}
