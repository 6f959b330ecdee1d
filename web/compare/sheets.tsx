// Two workbooks beside each other, with what differs marked on both; the change that is chosen comes to sight on both.
import { useEffect, useMemo } from 'react'
import { SheetView } from '../views/workbook/sheet-view'
import { StillWorkbook } from '../views/workbook/still'
import type { Comparison, SheetMarks } from '../workers/looking-back'
import { cellPlaces } from './cell-changes'

type Sheets = Extract<Comparison, { kind: 'spreadsheet' }>

export function ComparedSheets({
  found,
  older,
  newer,
  at,
}: {
  found: Sheets
  older: string
  newer: string
  at: number
}) {
  const places = useMemo(() => cellPlaces(found), [found])
  const sides = useMemo(() => {
    const side = (which: 'older' | 'newer') => {
      const { workbook, results } = found[which]
      const marks = workbook.sheets.map(({ name }): SheetMarks => {
        const change = found.changes.sheets.find(
          (one) => (which === 'older' ? (one.formerName ?? one.name) : one.name) === name,
        )
        const lines = change?.lines
        return {
          cells: places.flatMap((place): [number, number][] => {
            const where = place[which]
            const cell = !/row|column|sheet/.test(place.what)
            return where && cell && place.sheet === change?.name ? [[where.row, where.column]] : []
          }),
          rows: (which === 'older' ? lines?.rowsGone : lines?.rowsCame) ?? [],
          columns: (which === 'older' ? lines?.columnsGone : lines?.columnsCame) ?? [],
          following: change?.following[which] ?? [],
        }
      })
      return { still: new StillWorkbook(workbook, results), marks }
    }
    return { older: side('older'), newer: side('newer') }
  }, [found, places])
  // biome-ignore lint/correctness/useExhaustiveDependencies: shown when another place is chosen; the sides are the same for one comparison
  useEffect(() => {
    const place = places[at]
    if (!place) return
    for (const which of ['older', 'newer'] as const) {
      const where = place[which] ?? place[which === 'older' ? 'newer' : 'older']
      const change = found.changes.sheets.find(({ name }) => name === place.sheet)
      const name = which === 'older' ? (change?.formerName ?? place.sheet) : place.sheet
      const index = found[which].workbook.sheets.findIndex((sheet) => sheet.name === name)
      if (index >= 0 && where) sides[which].still.reveal?.(index, where.row, where.column)
    }
  }, [at, places])
  return (
    <div className="grid min-h-0 grid-rows-2 md:grid-cols-2 md:grid-rows-1">
      {(['older', 'newer'] as const).map((which) => (
        <section
          key={which}
          aria-label={which === 'older' ? older : newer}
          className={`flex min-h-0 min-w-0 flex-col ${which === 'newer' ? 'border-l' : ''}`}
        >
          <h2 className="truncate border-b bg-desk px-4 py-1.5 text-[13px] text-soft">
            {which === 'older' ? older : newer}
          </h2>
          <SheetView store={sides[which].still} editable={false} marks={sides[which].marks} />
        </section>
      ))}
    </div>
  )
}
