// Below the cells: what the cell holds, and what those that are selected add up to.

import { useRef, useState } from 'react'
import { T, t } from '../../words/all'
import { digits } from '../../words/formats'
import type { Block } from './acts'
import { breakLine } from './entry-field'
import { shownRows } from './filter-acts'
import { ColouredFormula, FormulaHelp, type Spot, useFormulaField, type Writing } from './formula-field'
import type { ShownWorkbook } from './still'

/** The address of the chosen cell and its entry, editable in one line. */
export function EntryLine({
  sheet,
  place,
  address,
  entry,
  editable,
  note,
  functions,
  onWriting,
  onEntry,
  onTyping,
  onLeave,
  wrong,
  children,
}: {
  sheet: number
  place: Spot
  address: string
  entry: string
  editable: boolean
  /** What is to be told of the cell's result. */
  note: string | null
  functions: readonly string[]
  onWriting: (writing: Writing | null) => void
  onEntry: (entry: string) => void
  onTyping: (entry: string | null) => void
  onLeave: () => void
  /** Why an entry is not what the cell may hold. */
  wrong?: Parameters<typeof useFormulaField>[0]['wrong']
  /** What stands behind it. */
  children?: React.ReactNode
}) {
  const [typed, setTyped] = useState<string | null>(null)
  const given = useRef(false)
  const field = useRef<HTMLTextAreaElement>(null)
  const [at, setAt] = useState<number | null>(null)
  const type = (text: string) => {
    given.current = false
    setTyped(text)
    onTyping(text)
  }
  const writing = useFormulaField({
    field,
    sheet,
    home: place,
    keys: false,
    active: at !== null && editable,
    onText: type,
    onWriting,
    functions,
    wrong,
  })
  const look = () => {
    writing.look()
    setAt(field.current?.scrollLeft ?? 0)
  }
  const finish = (keep: boolean, text = typed) => {
    if (typed === null || text === null || given.current) return
    // What the cell may not hold stays here, and is kept as what is being typed.
    if (keep && text !== entry && writing.refused(text)) return
    given.current = true
    if (keep && text !== entry) onEntry(text)
    else onTyping(null)
    setTyped(null)
  }
  const lines = (typed ?? entry).includes('\n')
  const coloured = at !== null && editable && writing.formula !== null ? writing.formula : null
  return (
    <div className="relative flex h-9 shrink-0 items-center border-b bg-paper font-mono text-[14px]">
      <span className="min-w-20 max-w-48 shrink-0 truncate border-r px-3 leading-9" data-testid="address">
        {address}
      </span>
      <div className="relative h-full min-w-0 flex-1">
        {coloured !== null && (
          <ColouredFormula
            formula={coloured}
            scroll={at ?? 0}
            className="absolute inset-0 whitespace-pre px-3 leading-9"
          />
        )}
        {(at !== null || (typed !== null && writing.shown?.is === 'fault')) && editable && writing.shown && (
          <FormulaHelp id={writing.id} shown={writing.shown} style={{ left: 8, top: 38 }} />
        )}
        <textarea
          ref={field}
          rows={1}
          wrap={lines ? 'soft' : 'off'}
          aria-label={t('sheet.entry-of', { address })}
          data-entry
          className={`${lines && at !== null ? 'absolute inset-x-0 top-0 z-20 max-h-48 overflow-y-auto bg-paper py-1.5 leading-6 shadow-slip [field-sizing:content]' : 'relative size-full overflow-hidden bg-transparent leading-9'} block resize-none px-3 outline-none ${coloured === null ? '' : 'text-transparent caret-ink'}`}
          readOnly={!editable}
          value={typed ?? entry}
          aria-describedby={note ? 'entry-note' : undefined}
          {...(at !== null && editable && writing.about)}
          spellCheck={false}
          onChange={(event) => {
            type(event.target.value)
            look()
          }}
          onFocus={look}
          onSelect={look}
          onScroll={look}
          onBlur={() => {
            // Another window was gone to: whoever comes back goes on.
            if (!document.hasFocus()) return
            setAt(null)
            finish(true)
          }}
          onKeyDown={(event) => {
            if (editable && writing.press(event)) return
            if (event.key === 'Enter') {
              event.preventDefault()
              if (event.altKey) return editable ? breakLine(event.currentTarget) : undefined
              const taken = typed === null ? null : writing.taken(typed)
              if (typed !== null && taken === null) return event.currentTarget.select()
              finish(true, taken)
              onLeave()
            }
            if (event.key === 'Escape') {
              finish(false)
              onLeave()
            }
          }}
        />
      </div>
      {note && (
        <span
          id="entry-note"
          className="min-w-0 max-w-[55%] shrink truncate border-l px-3 font-sans text-[13px] text-soft"
          title={note}
        >
          {note}
        </span>
      )}
      {children}
    </div>
  )
}

/** Count and sum of what is selected. */
export function Sum({ store, index, block }: { store: ShownWorkbook; index: number; block: Block }) {
  const sheet = store.workbook.sheets[index]!
  let numbers = 0
  let filled = 0
  let sum = 0
  for (const row of shownRows(sheet, block)) {
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
