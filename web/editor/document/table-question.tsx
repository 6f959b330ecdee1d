// How large a new table is.
import { type FormEvent, useState } from 'react'
import { Button, Field } from '../../design/controls'
import { Question } from '../../design/overlay'
import { t } from '../../words/all'

export interface TableSize {
  columns: number
  rows: number
  /** The first row has headings. */
  heads: boolean
}
/** What is larger is a spreadsheet's. */
const most = { columns: 40, rows: 500 }

export function TableQuestion({ onInsert, onClose }: { onInsert: (size: TableSize) => void; onClose: () => void }) {
  const [columns, setColumns] = useState('3')
  const [rows, setRows] = useState('3')
  const [heads, setHeads] = useState(true)
  const fault = (typed: string, side: 'columns' | 'rows') =>
    /^\d+$/.test(typed.trim()) && Number(typed) >= 1 && Number(typed) <= most[side]
      ? ''
      : t('document.table-within', { most: most[side] })
  const faults = { columns: fault(columns, 'columns'), rows: fault(rows, 'rows') }
  const right = !faults.columns && !faults.rows
  const insert = (event?: FormEvent) => {
    event?.preventDefault()
    if (right) onInsert({ columns: Number(columns), rows: Number(rows), heads })
  }
  return (
    <Question
      title={t('document.how-large-is-the-table')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!right} onClick={() => insert()}>
            {t('document.insert-table')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <form onSubmit={insert} className="grid grid-cols-2 gap-x-4 gap-y-3">
        <Field
          label={t('document.table-columns')}
          inputMode="numeric"
          value={columns}
          fault={faults.columns}
          onChange={(event) => setColumns(event.target.value)}
          onFocus={(event) => event.target.select()}
          autoFocus
        />
        <Field
          label={t('document.table-rows')}
          inputMode="numeric"
          value={rows}
          fault={faults.rows}
          onChange={(event) => setRows(event.target.value)}
          onFocus={(event) => event.target.select()}
        />
        <label className="col-span-2 flex items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-[var(--accent)]"
            checked={heads}
            onChange={(event) => setHeads(event.target.checked)}
          />
          {t('document.first-row-has-headings')}
        </label>
        {/* Enter in a field is the answer. */}
        <button type="submit" hidden tabIndex={-1} aria-hidden />
      </form>
    </Question>
  )
}
