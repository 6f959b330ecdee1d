// The sheets as they were at an earlier moment, where the work was, with what differs from now marked.
import { useEffect, useMemo, useRef } from 'react'
import type { Workbook } from '../../../core/content/workbook'
import { applyOps } from '../../../core/content/workbook-ops'
import { Phrase } from '../../../core/history/past-words'
import { cellsThatSay } from '../../../core/history/where-said'
import { Blank } from '../../design/controls'
import { SheetView, selectedCells } from '../../views/workbook/sheet-view'
import { StillWorkbook } from '../../views/workbook/still'
import { t, told } from '../../words/all'
import type { Selected } from '../../work/content'
import type { BodyProps, ThenDesk } from '../body'

export function ThenSheets({
  looking,
  onThen,
}: {
  looking: NonNullable<BodyProps['looking']>
  onThen: (desk: ThenDesk | null) => void
}) {
  const { then } = looking
  // biome-ignore lint/correctness/useExhaustiveDependencies: a moment comes with the work that it was made from
  const still = useMemo(
    () =>
      then.kind === 'spreadsheet'
        ? new StillWorkbook(applyOps(looking.present as Workbook, then.ops), then.results)
        : null,
    [then],
  )
  const { sought } = looking
  const found = useMemo(
    () =>
      still && sought && then.kind === 'spreadsheet'
        ? cellsThatSay(still.workbook, then.results, new Phrase(sought))
        : [],
    [still, sought, then],
  )
  useEffect(() => {
    if (found[0]) still?.reveal?.(...found[0])
  }, [found, still])
  const selected = useRef<Selected | null>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: told when another moment is shown; who is told stays the same
  useEffect(() => {
    if (then.kind !== 'spreadsheet') return
    const places = then.marks.flatMap(({ cells, rows, columns }, sheet) => [
      ...[...cells, ...rows.map((row): [number, number] => [row, 0])]
        .sort((a, b) => a[0] - b[0] || a[1] - b[1])
        .map(([row, column]) => ({ sheet, row, column })),
      ...columns.map((column) => ({ sheet, row: 0, column })),
    ])
    let at = -1
    onThen({
      differences: places.length,
      selected: () => selected.current,
      step(by) {
        at = (at + by + places.length) % Math.max(1, places.length)
        const place = places[at]
        if (!place) return 0
        still?.reveal?.(place.sheet, place.row, place.column)
        return at + 1
      },
    })
    return () => onThen(null)
  }, [then, still])
  if (then.kind !== 'spreadsheet' || !still)
    return (
      <div className="flex-1" data-testid="earlier-version" data-moment={looking.id}>
        <Blank title={t('common.this-moment-cannot-be-shown')}>{then.kind === 'damaged' && told(then.reason)}</Blank>
      </div>
    )
  return (
    <div
      className="page-then flex bg-paper pl-3 min-h-0 min-w-0 flex-1 flex-col"
      data-testid="earlier-version"
      data-moment={looking.id}
    >
      <SheetView
        store={still}
        editable={false}
        marks={then.marks}
        onPlace={(sheet, place) => {
          selected.current = selectedCells(still, sheet, place)
        }}
      />
    </div>
  )
}
