import type { DataEditorRef } from '@glideapps/glide-data-grid'
import { DropdownMenu } from 'radix-ui'
import { useEffect, useRef, useState, useSyncExternalStore } from 'react'
import { toast } from 'sonner'
import { entryOf, readEntry } from '../../../core/content/entry'
import { type CellStyle, cellAt, columnName, usedSize } from '../../../core/content/workbook'
import type { WorkbookOp } from '../../../core/content/workbook-ops'
import { saidBy } from '../../../core/words/said'
import { MenuItem, MenuRule } from '../../design/overlay'
import { t, told } from '../../words/all'
import type { Selected } from '../../work/content'
import type { SheetMarks } from '../../workers/looking-back'
import { type Block, sortOp, styleOp, usedPart } from './acts'
import { CalculationLine } from './calculation-line'
import { EntryLine, Sum } from './entry-line'
import { Grid, type GridPlace } from './grid'
import { HiddenLines } from './hidden-lines'
import { SheetTabs } from './sheet-tabs'
import { SheetTools } from './sheet-tools'
import { noteOf } from './standing'
import type { ShownWorkbook } from './still'
import { WrittenAs } from './written-as'

/** A place in a grid as what is selected in a workbook. */
export const selectedCells = (
  { workbook }: ShownWorkbook,
  sheet: number,
  { row, column, block }: GridPlace,
): Selected => ({
  kind: 'cells',
  sheet,
  sheetName: workbook.sheets[sheet]?.name ?? '',
  row,
  column,
  range: { top: block.y, left: block.x, bottom: block.y + block.height - 1, right: block.x + block.width - 1 },
})

export function SheetView({
  store,
  editable,
  slip,
  marks,
  onPlace,
  rested,
  onFocus,
  onWrittenAs,
}: {
  store: ShownWorkbook
  editable: boolean
  slip?: React.ReactNode
  /** By sheet: cells, rows and columns that are shown apart. */
  marks?: readonly SheetMarks[]
  onPlace?: (sheet: number, place: GridPlace) => void
  /** Where the cursor was: sheet, column, row, width, height. */
  rested?: readonly number[] | null
  /** Gives what brings the focus to the cells. */
  onFocus?: (focus: () => void) => void
  /** Somebody says how the values of a list are written. */
  onWrittenAs?: (() => void) | undefined
}) {
  useSyncExternalStore(store.subscribe, store.snapshot)
  const grid = useRef<DataEditorRef>(null)
  const [chosen, setChosen] = useState(rested?.[0] ?? 0)
  // biome-ignore lint/correctness/useExhaustiveDependencies: given once: it asks for the grid as it is then
  useEffect(() => onFocus?.(() => grid.current?.focus()), [])
  const [place, setPlace] = useState<GridPlace>({
    row: 0,
    column: 0,
    block: { x: 0, y: 0, width: 1, height: 1 },
    wholeRows: [],
    wholeColumns: [],
  })
  const [menu, setMenu] = useState<{ x: number; y: number; about: 'row' | 'column' | 'cell' } | null>(null)
  const [revealed, setRevealed] = useState<{ sheet: number; row: number; column: number } | null>(null)
  useEffect(() => {
    store.reveal = (to, row, column) => {
      setChosen(to)
      setRevealed({ sheet: to, row, column })
      setPlace({ row, column, block: { x: column, y: row, width: 1, height: 1 }, wholeRows: [], wholeColumns: [] })
      grid.current?.scrollTo(column, row)
    }
    return () => {
      store.reveal = null
    }
  }, [store])
  const index = Math.min(chosen, store.workbook.sheets.length - 1)
  // biome-ignore lint/correctness/useExhaustiveDependencies: told when the place changed; who is told stays the same
  useEffect(() => onPlace?.(index, place), [index, place])
  const sheet = store.workbook.sheets[index]!
  const looks = store.looksOf(index)
  const [showHidden, setShowHidden] = useState(false)
  const cell = cellAt(sheet, place.row, place.column)
  const style: CellStyle = cell?.style ?? {}
  const used = usedSize(sheet)
  const many = place.block.width * place.block.height > 1

  const change = (ops: WorkbookOp[]) => {
    try {
      store.change(ops.filter((op) => op.op !== 'cells' || op.cells.length > 0))
    } catch (error) {
      toast.error(told(saidBy(error)))
    }
    grid.current?.focus()
  }
  // A style set on whole columns goes to the rows in use; past them it is set when something is there.
  const block: Block =
    place.wholeColumns.length || place.wholeRows.length ? usedPart(sheet, place.block, used.columns) : place.block
  const look = (part: Parameters<typeof styleOp>[3]) =>
    // A list of values shows numbers and dates in their letters; other looks it has none.
    store.csv && !('format' in part)
      ? void toast(t('sheet.values-have-no-looks'))
      : change([styleOp(sheet, index, block, part)])
  const rowsAt = place.wholeRows.length
    ? { at: place.wholeRows[0]!, count: place.wholeRows.at(-1)! - place.wholeRows[0]! + 1 }
    : { at: place.block.y, count: place.block.height }
  const columnsAt = place.wholeColumns.length
    ? { at: place.wholeColumns[0]!, count: place.wholeColumns.at(-1)! - place.wholeColumns[0]! + 1 }
    : { at: place.block.x, count: place.block.width }
  const sort = (down: boolean) => {
    // One cell or whole columns: everything under the headings in the first row.
    const all = !many || place.wholeColumns.length > 0
    const range = all
      ? { x: 0, y: 1, width: used.columns, height: Math.max(0, used.rows - 1) }
      : usedPart(sheet, place.block, used.columns)
    if (range.height < 2) return void toast(t('sheet.there-is-nothing-to-sort-here'))
    change([
      sortOp(sheet, index, range, place.column, down, (row, column) => {
        const one = cellAt(sheet, row, column)
        return one?.formula === undefined ? one?.value : store.result(index, row, column)
      }),
    ])
  }
  const press = (event: React.KeyboardEvent) => {
    if (
      !(event.ctrlKey || event.metaKey) ||
      event.altKey ||
      !editable ||
      (event.target as HTMLElement).tagName === 'INPUT' ||
      (event.target as HTMLElement).tagName === 'TEXTAREA'
    )
      return
    const run: Record<string, () => void> = {
      z: () => (event.shiftKey ? store.redo() : store.undo()),
      y: () => store.redo(),
      b: () => look({ bold: style.bold ? undefined : true }),
      i: () => look({ italic: style.italic ? undefined : true }),
    }
    const act = run[event.key.toLowerCase()]
    if (!act) return
    event.preventDefault()
    event.stopPropagation()
    act()
  }
  const insertRemove = (
    <>
      <MenuItem onSelect={() => change([{ op: 'insert', sheet: index, axis: 'rows', ...rowsAt }])}>
        {t('sheet.insert-rows-above', { count: rowsAt.count })}
      </MenuItem>
      <MenuItem
        onSelect={() =>
          change([{ op: 'insert', sheet: index, axis: 'rows', at: rowsAt.at + rowsAt.count, count: rowsAt.count }])
        }
      >
        {t('sheet.insert-below')}
      </MenuItem>
      <MenuItem onSelect={() => change([{ op: 'remove', sheet: index, axis: 'rows', ...rowsAt }])}>
        {t('sheet.remove-rows-to', { count: rowsAt.count, it: rowsAt.at + 1, it2: rowsAt.at + rowsAt.count })}
      </MenuItem>
    </>
  )
  const insertRemoveColumns = (
    <>
      <MenuItem onSelect={() => change([{ op: 'insert', sheet: index, axis: 'columns', ...columnsAt }])}>
        {t('sheet.insert-columns-before', { count: columnsAt.count })}
      </MenuItem>
      <MenuItem
        onSelect={() =>
          change([
            { op: 'insert', sheet: index, axis: 'columns', at: columnsAt.at + columnsAt.count, count: columnsAt.count },
          ])
        }
      >
        {t('sheet.insert-after')}
      </MenuItem>
      <MenuItem onSelect={() => change([{ op: 'remove', sheet: index, axis: 'columns', ...columnsAt }])}>
        {t('sheet.remove-columns-to', {
          count: columnsAt.count,
          columnName: columnName(columnsAt.at),
          columnName2: columnName(columnsAt.at + columnsAt.count - 1),
        })}
      </MenuItem>
    </>
  )
  return (
    <>
      {editable && (
        <SheetTools
          store={store}
          style={style}
          column={place.column}
          look={look}
          sort={sort}
          rows={insertRemove}
          columns={insertRemoveColumns}
          onDone={() => grid.current?.focus()}
        />
      )}
      {slip}
      <div className="flex min-w-0 flex-1 flex-col" onKeyDownCapture={press}>
        <EntryLine
          key={`${index} ${place.row} ${place.column}`}
          address={`${columnName(place.column)}${place.row + 1}`}
          entry={entryOf(cell)}
          note={noteOf(store.markOf(index, place.row, place.column))}
          editable={editable}
          onTyping={(entry) =>
            store.typing(entry === null ? null : { sheet: index, row: place.row, column: place.column, entry })
          }
          onEntry={(entry) =>
            change([
              {
                op: 'cells',
                sheet: index,
                cells: [{ row: place.row, column: place.column, cell: readEntry(entry, cell) }],
              },
            ])
          }
          onLeave={() => grid.current?.focus()}
        />
        <Grid
          store={store}
          sheet={index}
          editable={editable}
          marks={marks?.[index]}
          told={marks && revealed?.sheet === index ? revealed : null}
          onPlace={setPlace}
          onMenu={(at, about) => editable && setMenu({ ...at, about })}
          gridRef={grid}
          beginAt={rested?.[0] === index ? rested.slice(1) : null}
          showHidden={showHidden}
        />
        <SheetTabs store={store} index={index} editable={editable && !store.csv} change={change} onChoose={setChosen}>
          <CalculationLine store={store} />
          {store.csv && <WrittenAs dialect={store.csv.dialect} onChange={onWrittenAs} />}
          <HiddenLines looks={looks} shown={showHidden} onShow={setShowHidden} />
          {many && <Sum store={store} index={index} block={usedPart(sheet, place.block, used.columns)} />}
        </SheetTabs>
      </div>
      {menu && (
        <DropdownMenu.Root modal={false} open onOpenChange={(open) => !open && setMenu(null)}>
          <DropdownMenu.Trigger asChild>
            <span className="fixed size-0" style={{ left: menu.x, top: menu.y }} />
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <section aria-label={t('common.menu')}>
              <DropdownMenu.Content align="start" className="z-50 min-w-52 rounded-md border bg-paper p-1 shadow-slip">
                {menu.about !== 'column' && insertRemove}
                {menu.about === 'cell' && <MenuRule />}
                {menu.about !== 'row' && insertRemoveColumns}
              </DropdownMenu.Content>
            </section>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      )}
    </>
  )
}
