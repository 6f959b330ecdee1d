import type { DataEditorRef } from '@glideapps/glide-data-grid'
import { DropdownMenu } from 'radix-ui'
import { useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react'
import { toast } from 'sonner'
import { entryOf } from '../../../core/content/entry'
import type { FoundCell } from '../../../core/content/find-cells'
import { referenceTo } from '../../../core/content/formula-entry'
import { type CellStyle, type CellValue, cellAt, columnName, usedSize } from '../../../core/content/workbook'
import type { WorkbookOp } from '../../../core/content/workbook-ops'
import { saidBy } from '../../../core/words/said'
import { useOffer } from '../../design/commands'
import { MenuItem, MenuRule } from '../../design/overlay'
import { t, told } from '../../words/all'
import { withControl } from '../../words/formats'
import type { Selected } from '../../work/content'
import type { SheetMarks } from '../../workers/looking-back'
import { SignsBeside } from '../signs-beside'
import { SizeOnScreen } from '../size-on-screen'
import { type Block, fillKeyOp, numbersBefore, pastedOp, sortOp, styleOp, sumsOp, usedPart } from './acts'
import { CalculationLine } from './calculation-line'
import { noLook } from './cell-looks'
import { copiedCells } from './copied'
import { EntryLine, Sum } from './entry-line'
import { onlySeen, rowsShown, seenFrom, shownParts, shownRows } from './filter-acts'
import { FilteredRows, useFilter } from './filter-rows'
import { FindInSheets } from './find-in-sheets'
import type { Writing } from './formula-field'
import { Grid, type GridPlace } from './grid'
import { HiddenLines } from './hidden-lines'
import { useLookCommands } from './look-commands'
import { enter, faultOfEntry, noticeOf } from './rules'
import { SheetTabs } from './sheet-tabs'
import { SheetTools } from './sheet-tools'
import { SortRows } from './sort-rows'
import { errorNote, noteOf } from './standing'
import type { ShownWorkbook } from './still'
import { typedCell } from './typed'
import { useRules } from './use-rules'
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
  mayFilter = false,
  mayRule = false,
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
  /** Its file can hold which rows are shown. */
  mayFilter?: boolean
  /** Its file can hold what may be entered into cells; `near` those that are used, as it says each of them. */
  mayRule?: 'everywhere' | 'near' | false
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
    }
    return () => {
      store.reveal = null
    }
  }, [store])
  const index = Math.min(chosen, store.workbook.sheets.length - 1)
  // biome-ignore lint/correctness/useExhaustiveDependencies: told when the place changed; who is told stays the same
  useEffect(() => onPlace?.(index, place), [index, place])
  const sheet = store.workbook.sheets[index]!
  const [showHidden, setShowHidden] = useState(false)
  const [writing, setWriting] = useState<Writing | null>(null)
  const [functions, setFunctions] = useState<readonly string[]>([])
  const [tracing, setTracing] = useState(false)
  const [sorting, setSorting] = useState<Block | null>(null)
  const [finding, setFinding] = useState(false)
  /** One panel stands beside the cells at a time. */
  const [panel, setPanel] = useState<'looks' | 'signs' | null>(null)
  const looking = panel === 'looks'
  const putIn = useRef<((letters: string) => void) | null>(null)
  const closeRules = useRef(() => {})
  const [found, setFound] = useState<readonly FoundCell[]>([])
  const foundHere = useMemo(() => {
    if (!found.length) return undefined
    const cells = found.flatMap(([at, row, column]) => (at === index ? [[row, column] as [number, number]] : []))
    return { cells, rows: [], columns: [], following: [] }
  }, [found, index])
  /** The cell that the line above the cells writes into, while it does. */
  const [held, setHeld] = useState<{ sheet: number; row: number; column: number } | null>(null)
  const line = held ?? { sheet: index, row: place.row, column: place.column }
  const lineCell = cellAt(store.workbook.sheets[line.sheet], line.row, line.column)
  const isWriting = writing !== null
  useEffect(() => {
    if (isWriting) void store.functions().then(setFunctions)
  }, [isWriting, store])
  const cell = cellAt(sheet, place.row, place.column)
  const style: CellStyle = cell?.style ?? {}
  const used = usedSize(sheet)
  const many = place.block.width * place.block.height > 1

  /** @returns whether it was done */
  const act = (ops: WorkbookOp[]): boolean => {
    try {
      store.change(ops.filter((op) => op.op !== 'cells' || op.cells.length > 0))
      return true
    } catch (error) {
      toast.error(told(saidBy(error)))
      return false
    }
  }
  const change = (ops: WorkbookOp[]) => {
    act(ops)
    grid.current?.focus()
  }
  // A style set on whole columns goes to the rows in use; past them it is set when something is there.
  const block: Block =
    place.wholeColumns.length || place.wholeRows.length ? usedPart(sheet, place.block, used.columns) : place.block
  const look = (part: Parameters<typeof styleOp>[3]) =>
    // A list of values shows numbers and dates in their letters; other looks it has none.
    store.csv && !('format' in part)
      ? void toast(t('sheet.values-have-no-looks'))
      : change(shownParts(sheet, block).map((one) => styleOp(sheet, index, one, part)))
  const rowsAt = place.wholeRows.length
    ? { at: place.wholeRows[0]!, count: place.wholeRows.at(-1)! - place.wholeRows[0]! + 1 }
    : { at: place.block.y, count: place.block.height }
  const columnsAt = place.wholeColumns.length
    ? { at: place.wholeColumns[0]!, count: place.wholeColumns.at(-1)! - place.wholeColumns[0]! + 1 }
    : { at: place.block.x, count: place.block.width }
  /** Of the rows that are selected those that are seen. */
  const seenParts = shownParts(sheet, { x: 0, width: 1, y: rowsAt.at, height: rowsAt.count })
  const valueAt = (row: number, column: number): CellValue | undefined => {
    const one = cellAt(sheet, row, column)
    return one?.formula === undefined ? one?.value : store.result(index, row, column)
  }
  const looks = useLookCommands({
    store,
    index,
    block,
    style,
    rowsAt: { ...rowsAt, across: place.wholeColumns.length > 0 },
    columnsAt: { ...columnsAt, across: place.wholeRows.length > 0 },
    act,
    back: () => grid.current?.focus(),
    onLooking: (on) => {
      if (on) closeRules.current()
      setPanel(on ? 'looks' : null)
    },
  })
  const filters = useFilter({
    store,
    index,
    place,
    offered: editable && mayFilter,
    act,
    back: () => grid.current?.focus(),
  })
  const rules = useRules({
    store,
    index,
    place,
    editable,
    offered: editable && mayRule !== false,
    near: mayRule === 'near',
    act,
    back: () => grid.current?.focus(),
    spotOf: filters.spotOf,
    onOpen: () => setPanel(null),
  })
  closeRules.current = rules.close
  const signs = () => {
    rules.close()
    setPanel(panel === 'signs' ? null : 'signs')
  }
  const sort = (down: boolean) => {
    // One cell or whole columns: everything under the headings in the first row.
    const all = !many || place.wholeColumns.length > 0
    const range = all
      ? { x: 0, y: 1, width: used.columns, height: Math.max(0, used.rows - 1) }
      : usedPart(sheet, place.block, used.columns)
    if (range.height < 2) return void toast(t('sheet.there-is-nothing-to-sort-here'))
    change([sortOp(sheet, index, range, [{ column: place.column, down }], valueAt)])
    filters.again()
  }
  const sortSeveral = () => {
    const all = { x: 0, y: 0, width: used.columns, height: used.rows }
    const range = many && !place.wholeColumns.length ? usedPart(sheet, place.block, used.columns) : all
    if (range.height < 2) return void toast(t('sheet.there-is-nothing-to-sort-here'))
    setSorting(range)
  }
  const paste = (how: Parameters<typeof pastedOp>[4]) => {
    const copied = copiedCells()
    if (!copied) return void toast(t('sheet.nothing-copied-here'))
    if (store.csv && how === 'looks') return void toast(t('sheet.values-have-no-looks'))
    const into = { ...place.block, height: shownRows(sheet, place.block).length }
    const op = pastedOp(sheet, index, into, copied, how, seenFrom(sheet, place.block.y))
    change([op])
    noticeOf(store, op)
  }
  const isNumber = (row: number, column: number) => typeof valueAt(row, column) === 'number'
  const addUp = () => {
    if (many) {
      const op = sumsOp(sheet, index, usedPart(sheet, block, used.columns), isNumber)
      if (!op.cells.length) return void toast(t('sheet.nothing-to-add-up'))
      return change([op])
    }
    const area = numbersBefore(place, isNumber)
    if (!area || cell?.value !== undefined || cell?.formula !== undefined)
      return void toast(t('sheet.nothing-to-add-up'))
    const sum = typedCell(`=SUM(${referenceTo(area, null)})`, cell, store.workbook, index)
    change([{ op: 'cells', sheet: index, cells: [{ row: place.row, column: place.column, cell: sum }] }])
  }
  const fill = (way: 'down' | 'right') => {
    const op = fillKeyOp(sheet, index, block, way)
    if (!op) return void toast(t('sheet.nothing-to-fill-from'))
    const seen = onlySeen(sheet, op)
    change([seen])
    noticeOf(store, seen)
  }
  /** Rows and columns that stay in sight, as far as the cursor; none where there are some already. */
  const keep = (axis: 'rows' | 'columns') => {
    const { rows = 0, columns = 0 } = sheet.frozen ?? {}
    const now = {
      rows,
      columns,
      [axis]: (axis === 'rows' ? rows : columns) ? 0 : axis === 'rows' ? place.row : place.column,
    }
    change([{ op: 'freeze', sheet: index, frozen: now.rows || now.columns ? now : null }])
  }
  const keepLabel = (axis: 'rows' | 'columns') =>
    axis === 'rows'
      ? sheet.frozen?.rows
        ? t('sheet.let-rows-go')
        : t('sheet.keep-rows', { n: place.row })
      : sheet.frozen?.columns
        ? t('sheet.let-columns-go')
        : t('sheet.keep-columns', { n: place.column })
  const mayKeep = (axis: 'rows' | 'columns') =>
    !store.csv && (!!sheet.frozen?.[axis] || (axis === 'rows' ? place.row : place.column) > 0)
  useOffer(
    editable
      ? [
          { id: 'add up', label: t('sheet.add-up'), keys: 'Alt+A', run: addUp },
          { id: 'signs', label: t('signs.title'), run: signs },
          { id: 'fill down', label: t('sheet.fill-down'), run: () => fill('down') },
          { id: 'fill right', label: t('sheet.fill-right'), run: () => fill('right') },
          { id: 'paste values', label: t('sheet.paste-values'), run: () => paste('values') },
          { id: 'paste looks', label: t('sheet.paste-looks'), run: () => paste('looks') },
          { id: 'paste turned', label: t('sheet.paste-turned'), run: () => paste('turned') },
          ...(['rows', 'columns'] as const)
            .filter(mayKeep)
            .map((axis) => ({ id: `keep ${axis}`, label: keepLabel(axis), run: () => keep(axis) })),
          ...(store.csv ? [] : looks.offers),
          { id: 'sort by several', label: t('sheet.sort-by-several'), run: sortSeveral },
        ].map((one) => ({ ...one, group: t('common.in-a-spreadsheet') }))
      : [],
  )
  useOffer([
    {
      id: 'find',
      label: t('document.find-and-replace'),
      keys: 'Mod+F',
      group: t('common.this-file'),
      run: () => setFinding(true),
    },
    {
      id: 'what it reads',
      label: tracing ? t('sheet.hide-what-it-reads') : t('sheet.show-what-it-reads'),
      group: t('common.in-a-spreadsheet'),
      run: () => {
        setTracing(!tracing)
        grid.current?.focus()
      },
    },
  ])
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
      u: () => look({ underline: style.underline ? undefined : true }),
      '\\': () => look(noLook),
      // In the cells alone: elsewhere these are the browser's own.
      d: () => fill('down'),
      r: () => fill('right'),
    }
    const key = event.key.toLowerCase()
    const act = event.shiftKey && key !== 'z' ? (key === 'v' ? () => paste('values') : undefined) : run[key]
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
      <MenuItem
        onSelect={() =>
          // From the last one on, so that the others are where they were.
          change(
            seenParts
              .map(({ y, height }) => ({
                op: 'remove' as const,
                sheet: index,
                axis: 'rows' as const,
                at: y,
                count: height,
              }))
              .reverse(),
          )
        }
      >
        {seenParts.length > 1
          ? t('sheet.remove-shown-rows', { n: seenParts.reduce((sum, { height }) => sum + height, 0) })
          : t('sheet.remove-rows-to', { count: rowsAt.count, it: rowsAt.at + 1, it2: rowsAt.at + rowsAt.count })}
      </MenuItem>
    </>
  )
  const keeping = (axis: 'rows' | 'columns') =>
    mayKeep(axis) && (
      <>
        <MenuRule />
        <MenuItem onSelect={() => keep(axis)}>{keepLabel(axis)}</MenuItem>
      </>
    )
  const pasting = (
    <>
      <MenuItem keys={withControl('Shift+V')} onSelect={() => paste('values')}>
        {t('sheet.paste-values')}
      </MenuItem>
      <MenuItem onSelect={() => paste('looks')}>{t('sheet.paste-looks')}</MenuItem>
      <MenuItem onSelect={() => paste('turned')}>{t('sheet.paste-turned')}</MenuItem>
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
          addUp={addUp}
          filter={
            editable && mayFilter ? { on: rowsShown(sheet) !== null, open: () => filters.open(place.column) } : null
          }
          looking={looking}
          onLooks={() => {
            rules.close()
            setPanel(looking ? null : 'looks')
          }}
          signing={panel === 'signs'}
          onSigns={signs}
          ruling={editable && mayRule ? { on: rules.panel !== null, open: rules.toggle } : null}
          rows={
            <>
              {insertRemove}
              {looks.menu('rows')}
              {keeping('rows')}
            </>
          }
          columns={
            <>
              {insertRemoveColumns}
              {looks.menu('columns')}
              {keeping('columns')}
              <MenuRule />
              <MenuItem onSelect={sortSeveral}>{t('sheet.sort-by-several')}</MenuItem>
            </>
          }
          onDone={() => grid.current?.focus()}
        />
      )}
      {editable && looking && !store.csv && looks.panel()}
      {rules.panel}
      {editable && panel === 'signs' && (
        <div className="contents" data-for-entry>
          <SignsBeside
            onInsert={(sign) => putIn.current?.(sign)}
            onClose={() => {
              setPanel(null)
              // Back to the entry, where one was begun.
              const entry = document.querySelector<HTMLElement>('textarea[data-cell-entry]')
              ;(entry ?? grid.current)?.focus()
            }}
          />
        </div>
      )}
      {slip}
      <div className="flex min-w-0 flex-1 flex-col" onKeyDownCapture={press}>
        {finding && (
          <FindInSheets
            store={store}
            index={index}
            place={place}
            editable={editable}
            onFound={setFound}
            onGoTo={([at, row, column]) => store.reveal?.(at, row, column)}
            onClose={() => {
              setFinding(false)
              grid.current?.focus()
            }}
          />
        )}
        <EntryLine
          key={`${line.sheet} ${line.row} ${line.column}`}
          sheet={line.sheet}
          place={line}
          functions={functions}
          onWriting={setWriting}
          address={`${line.sheet === index ? '' : `${store.workbook.sheets[line.sheet]?.name ?? ''} `}${columnName(line.column)}${line.row + 1}`}
          entry={entryOf(lineCell)}
          note={
            noteOf(store.markOf(line.sheet, line.row, line.column)) ??
            errorNote(store, line.sheet, line.row, line.column)
          }
          editable={editable}
          wrong={(entry) => faultOfEntry(store, line.sheet, line.row, line.column, entry)}
          onTyping={(entry) => {
            // Cells of other sheets may be pointed at meanwhile.
            setHeld(entry === null ? null : line)
            store.typing(entry === null ? null : { sheet: line.sheet, row: line.row, column: line.column, entry })
          }}
          onEntry={(entry) => {
            setHeld(null)
            const { sheet: at, row, column } = line
            change([enter(store, at, row, column, entry)])
          }}
          onLeave={() => {
            setHeld(null)
            setChosen(line.sheet)
            grid.current?.focus()
          }}
        >
          {rules.atCell}
        </EntryLine>
        <Grid
          putIn={putIn}
          store={store}
          sheet={index}
          editable={editable}
          marks={foundHere ?? marks?.[index]}
          told={(marks || found.length) && revealed?.sheet === index ? revealed : null}
          cursor={revealed?.sheet === index ? revealed : null}
          onPlace={setPlace}
          onMenu={(at, about) => editable && setMenu({ ...at, about })}
          {...(editable && mayFilter && { onFilter: filters.open })}
          {...(editable && { onChoose: rules.choose })}
          spotOf={filters.spotOf}
          gridRef={grid}
          beginAt={rested?.[0] === index ? rested.slice(1) : null}
          showHidden={showHidden}
          onSheet={setChosen}
          writing={writing}
          tracing={tracing}
          onWriting={setWriting}
          functions={functions}
        />
        <SheetTabs
          store={store}
          index={index}
          editable={editable && !store.csv}
          change={change}
          staying={() => writing?.pointing.asks() ?? false}
          onChoose={setChosen}
        >
          <CalculationLine store={store} />
          {store.csv && <WrittenAs dialect={store.csv.dialect} onChange={onWrittenAs} />}
          <div className="ml-auto flex items-stretch">
            <FilteredRows sheet={sheet} onShowAll={editable && mayFilter ? filters.showAll : undefined} />
            <HiddenLines sheet={sheet} shown={showHidden} onShow={setShowHidden} />
            {many && <Sum store={store} index={index} block={usedPart(sheet, place.block, used.columns)} />}
            <SizeOnScreen what="sheet" className="ml-2" back={() => grid.current?.focus()} />
          </div>
        </SheetTabs>
      </div>
      {filters.list}
      {rules.list}
      {sorting && (
        <SortRows
          block={sorting}
          column={place.column}
          valueAt={valueAt}
          onSort={(rows, keys) => {
            setSorting(null)
            change([sortOp(sheet, index, rows, keys, valueAt)])
            filters.again()
          }}
          onClose={() => setSorting(null)}
        />
      )}
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
                {menu.about === 'cell' && (
                  <>
                    <MenuRule />
                    {pasting}
                  </>
                )}
                {menu.about === 'row' && looks.menu('rows')}
                {menu.about === 'column' && looks.menu('columns')}
                {menu.about === 'cell' && looks.mergeMenu}
              </DropdownMenu.Content>
            </section>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      )}
    </>
  )
}
