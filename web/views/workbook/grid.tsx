import '@glideapps/glide-data-grid/dist/index.css'
import {
  CompactSelection,
  DataEditor,
  type DataEditorRef,
  type GridSelection,
  type Item,
  type Rectangle,
} from '@glideapps/glide-data-grid'
import { useEffect, useLayoutEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react'
import { flushSync } from 'react-dom'
import { displayOf } from '../../../core/content/display'
import { entryOf } from '../../../core/content/entry'
import { referencesIn } from '../../../core/content/formula-entry'
import { extentOf, frameOf, isPlainFrame, lookOf } from '../../../core/content/looks'
import { cellAt, columnName, largestSheet, type Sheet, usedSize } from '../../../core/content/workbook'
import { isCovered } from '../../design/focus'
import type { SheetMarks } from '../../workers/looking-back'
import { useSize } from '../size'
import { arrowSteps, type Block, clearOp, edgeFrom, fillOp } from './acts'
import { type Entry, EntryField, putInEvent } from './entry-field'
import { onlySeen, shownParts, shownRows } from './filter-acts'
import { canvasMeasure, gridFont, neededWidth, noNeeds, rowNeeds } from './fitting'
import { coloursOf, type Writing } from './formula-field'
import { type Drawn, FrozenRows, type FrozenRowsRef } from './frozen-rows'
import { useGridTheme } from './grid-theme'
import { usePlaceKept } from './place-kept'
import { pointWith, spotUnder } from './pointing'
import { enter, entriesGoingOn, faultOfEntry, noticeOf } from './rules'
import { pastHidden, sceneOf, settled, signWidth } from './scene'
import type { ShownWorkbook } from './still'
import { useCells, usualWidth } from './use-cells'
import { useCopying } from './use-copying'

/** Pixels on either side of the edge behind a column. */
const edgeReach = 6
const headHeight = 28
/** More would fill any screen. */
const mostFrozenRows = 60
/** A row of no height has no number either. */
const unseen = { textLight: 'transparent', textMedium: 'transparent', textDark: 'transparent' }
const nothingSelected: GridSelection = { columns: CompactSelection.empty(), rows: CompactSelection.empty() }

export interface GridPlace {
  row: number
  column: number
  block: Block
  wholeRows: number[]
  wholeColumns: number[]
}

/** The cell at a place as what is selected, from where a cursor began: column, row, width, height. */
function currentAt(at: readonly number[] | null | undefined): NonNullable<GridSelection['current']> {
  const [x = 0, y = 0, width = 1, height = 1] = at ?? []
  return { cell: [x, y], range: { x, y, width, height }, rangeStack: [] }
}

/** Whether any cell of a sheet has a look of its own, once it had one: only rows that are others are looked through. */
function useAnyLook(model: Sheet): boolean {
  const known = useRef<{ rows: Sheet['rows']; any: boolean }>({ rows: [], any: false })
  const before = known.current
  if (before.rows !== model.rows) {
    const any =
      before.any ||
      model.rows.some((row, at) => row !== before.rows[at] && row?.some((cell) => lookOf(cell?.style) !== undefined))
    known.current = { rows: model.rows, any }
  }
  return known.current.any
}

/** The cells of one sheet. */
export function Grid({
  store,
  sheet,
  editable,
  onPlace,
  onMenu,
  onFilter,
  onChoose,
  spotOf,
  putIn,
  onSheet = () => {},
  gridRef,
  marks,
  told,
  cursor,
  beginAt,
  showHidden = false,
  writing,
  tracing = false,
  onWriting,
  functions,
}: {
  store: ShownWorkbook
  sheet: number
  editable: boolean
  onPlace: (place: GridPlace) => void
  onMenu: (at: { x: number; y: number }, about: 'row' | 'column' | 'cell') => void
  /** Which rows are shown by a column is to be said. */
  onFilter?: (column: number) => void
  /** One of what the cell that the cursor is in may hold is to be chosen. @returns whether it has a list */
  onChoose?: () => boolean
  /** Gives where a cell is on screen; nothing for one that is out of sight. */
  spotOf?: React.RefObject<((column: number, row: number) => Rectangle | undefined) | null>
  /** Puts letters into the entry of the cell that the cursor is in, which is begun where none is; the keys stay where they are. */
  putIn?: React.RefObject<((letters: string, tries?: number) => void) | null>
  /** Another sheet is gone to. */
  onSheet?: (sheet: number) => void
  gridRef?: React.Ref<DataEditorRef>
  /** What is shown apart. */
  marks?: SheetMarks | undefined
  /** The marked cell that is spoken of. */
  told?: { row: number; column: number } | null
  /** Where the cursor is to go; it goes there once for each that is given. */
  cursor?: { row: number; column: number } | null
  /** Where the cursor begins: column, row, width, height. */
  beginAt?: readonly number[] | null
  /** Rows and columns that the file hides are shown. */
  showHidden?: boolean
  /** What the cell that the cursor is in is calculated from is shown. */
  tracing?: boolean
  /** The formula that is being typed, here or in the line above. */
  writing: Writing | null
  onWriting: (writing: Writing | null) => void
  functions: readonly string[]
}) {
  const revision = useSyncExternalStore(store.subscribe, store.snapshot)
  const size = useSize('sheet')
  const head = Math.round(headHeight * size)
  const theme = useGridTheme(size)
  const inner = useRef<DataEditorRef | null>(null)
  const holder = useRef<HTMLDivElement>(null)
  const frozen = useRef<FrozenRowsRef | null>(null)
  const beginning = useRef(beginAt)
  const [selection, setSelection] = useState<GridSelection>({ ...nothingSelected, current: currentAt(beginAt) })
  const model = store.workbook.sheets[sheet]!
  const used = useMemo(() => usedSize(model), [model])
  const { merged, heights, hiddenRows, hiddenColumns, filter } = model
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is typed into cells is not a part of it
  const frame = useMemo(() => frameOf(model), [merged, heights, hiddenRows, hiddenColumns])
  const anyLook = useAnyLook(model)
  const frozenRows = Math.min(model.frozen?.rows ?? 0, mostFrozenRows)
  const measure = useMemo(() => canvasMeasure(gridFont), [])
  const found = useRef(noNeeds)
  found.current = rowNeeds(
    found.current,
    model,
    (y, x) => {
      const cell = cellAt(model, y, x)
      return displayOf(cell, cell?.formula === undefined ? undefined : store.result(sheet, y, x))
    },
    (x) => model.widths[x] ?? usualWidth,
    measure,
  )
  const { needs } = found.current
  const scene = useMemo(() => sceneOf(frame, showHidden, needs, filter, size), [frame, showHidden, needs, filter, size])
  const [entry, setEntry] = useState<Entry | null>(null)
  const sight = useRef<Rectangle>({ x: 0, y: 0, width: 0, height: 0 })
  const [room, setRoom] = useState({ rows: 200, columns: 26 })
  const reaches = useMemo(() => extentOf(frame.merged), [frame])
  const rows = Math.min(largestSheet.rows, Math.max(used.rows + 100, reaches.rows + 20, room.rows))
  const columnCount = Math.min(largestSheet.columns, Math.max(used.columns + 6, reaches.columns + 2, room.columns))
  const columns = useMemo(
    () =>
      Array.from({ length: columnCount }, (_, x) => ({
        id: String(x),
        title: columnName(x),
        width: scene.isHidden('column', x) ? 0 : Math.round((model.widths[x] ?? usualWidth) * size),
        hasMenu: false,
      })),
    [columnCount, model.widths, scene, size],
  )

  // biome-ignore lint/correctness/useExhaustiveDependencies: another sheet begins where it rested
  useEffect(() => {
    const at = beginning.current
    beginning.current = null
    setSelection({
      columns: CompactSelection.empty(),
      rows: CompactSelection.empty(),
      current: currentAt(at),
    })
    if (at) requestAnimationFrame(() => inner.current?.scrollTo(at[0]!, at[1]!))
  }, [sheet])
  const gone = useRef<typeof cursor>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: gone to once, when it is said
  useEffect(() => {
    if (!cursor || gone.current === cursor) return
    gone.current = cursor
    const { row, column } = cursor
    const { cell, range } = settled(scene, undefined, [column, row], [columnCount, Math.max(rows, row + 1)])
    setSelection({ ...nothingSelected, current: { cell, range, rangeStack: [] } })
    const frame = requestAnimationFrame(() => goTo(cell))
    return () => cancelAnimationFrame(frame)
  }, [cursor])
  const takeFocus = () =>
    holder.current?.querySelector<HTMLElement>('[data-testid="data-grid-canvas"]')?.focus({ preventScroll: true })
  // Ready for the keyboard at once, and again when another sheet is shown. (The canvas comes a few frames late, once it knows its size.)
  // biome-ignore lint/correctness/useExhaustiveDependencies: another sheet takes the keyboard once
  useEffect(() => {
    // A sheet that is only looked at does not take the keyboard from where it is.
    if (!editable && document.activeElement !== document.body) return
    // Nor does one that is gone to while somebody types elsewhere, in a formula or what is looked for, or is in a panel
    // that was opened with it.
    if (document.activeElement?.matches('input, textarea, [data-beside], [data-beside] *')) return
    let frame = 0
    const attempt = () => {
      if (isCovered()) return
      takeFocus()
      if (!holder.current?.contains(document.activeElement) && frames++ < 60) frame = requestAnimationFrame(attempt)
    }
    let frames = 0
    frame = requestAnimationFrame(attempt)
    return () => cancelAnimationFrame(frame)
  }, [sheet])
  // biome-ignore lint/correctness/useExhaustiveDependencies: told when the selection changed, before the next key; who is told stays the same
  useLayoutEffect(() => {
    const wholeRows = selection.rows.toArray()
    const wholeColumns = selection.columns.toArray()
    const range: Rectangle = wholeColumns.length
      ? { x: wholeColumns[0]!, y: 0, width: wholeColumns.at(-1)! - wholeColumns[0]! + 1, height: rows }
      : wholeRows.length
        ? { x: 0, y: wholeRows[0]!, width: columnCount, height: wholeRows.at(-1)! - wholeRows[0]! + 1 }
        : (selection.current?.range ?? { x: 0, y: 0, width: 1, height: 1 })
    const [column, row] = selection.current?.cell ?? [range.x, range.y]
    onPlace({ row, column, block: range, wholeRows, wholeColumns })
  }, [selection, rows, columnCount])

  // As wide as the longest number needs, in the rows that stay as in all others.
  const numbers = Math.round((rows > 10_000 ? 48 : rows > 1000 ? 44 : rows > 100 ? 36 : 32) * size)
  usePlaceKept({
    size,
    scene,
    columns,
    names: { width: numbers, height: head },
    frozen: { rows: frozenRows, columns: model.frozen?.columns ?? 0 },
    cursor: selection.current?.cell ?? null,
    sight,
    holder,
  })
  const { textOf, drawCell, getCellContent } = useCells({
    store,
    revision,
    sheet,
    model,
    scene,
    plain: isPlainFrame(frame) && !anyLook && !needs.size && !filter,
    columns,
    editable,
    marks,
    told,
    theme,
    size,
  })
  /** The cells that a formula names while it is typed, in the colours that it has them in. */
  const named = useMemo(() => {
    const [x, y] = selection.current?.cell ?? [-1, -1]
    const formula = tracing ? cellAt(model, y, x)?.formula : undefined
    const references = writing ? writing.references : formula === undefined ? [] : referencesIn(`=${formula}`)
    const colours = coloursOf(references)
    const name = store.workbook.sheets[sheet]?.name.toLowerCase()
    return references.flatMap(({ sheet: on, area: { top, left, bottom, right } }, at) =>
      (on === null ? !writing || writing.sheet === sheet : on.toLowerCase() === name)
        ? [
            {
              color: theme.named[colours[at] as keyof typeof theme.named],
              style: 'solid' as const,
              range: {
                x: left,
                y: top,
                width: Math.min(right, columnCount - 1) - left + 1,
                height: Math.min(bottom, rows - 1) - top + 1,
              },
            },
          ]
        : [],
    )
  }, [writing, tracing, selection, model, sheet, store, theme, columnCount, rows])
  // Where the cursor begins may be in the middle of a merged area, or out of sight.
  // biome-ignore lint/correctness/useExhaustiveDependencies: how many rows and columns are shown moves no cursor
  useEffect(() => {
    if (isPlainFrame(frame)) return
    setSelection((now) => {
      const { current } = now
      if (!current || current.range.width > 1 || current.range.height > 1) return now
      return {
        ...now,
        current: { ...current, ...settled(scene, undefined, current.cell as Item, [columnCount, rows]) },
      }
    })
  }, [scene, sheet])
  const goTo = ([x, y]: Item) => inner.current?.scrollTo(x, y, frozen.current?.boundsOf(x, y) ? 'horizontal' : 'both')
  const byKey = useRef(false)
  const resized = useRef(false)
  /** Where the pointer was pressed last, and whether that was where it was before: the grid only counts how soon it was. */
  const pressed = useRef({ at: [-1, -1] as readonly [number, number], again: false })
  const inMerged = !!selection.current && !!scene.mergedAt(selection.current.cell[1], selection.current.cell[0])
  const select = (next: GridSelection) => {
    const { current } = next
    const single = current && current.range.width === 1 && current.range.height === 1
    const was = selection.current
    if (
      byKey.current &&
      current &&
      was &&
      !single &&
      was.cell[0] === current.cell[0] &&
      was.cell[1] === current.cell[1]
    ) {
      const range = pastHidden(scene, was.range, current.range, [columnCount, rows])
      return setSelection({ ...next, current: { ...current, range } })
    }
    if (!single || isPlainFrame(frame)) return setSelection(next)
    // A click means the cell that it is on; only keys go past an area.
    const from = byKey.current ? selection.current?.cell : undefined
    const to = settled(scene, from, current.cell as Item, [columnCount, rows])
    setSelection({ ...next, current: { ...current, ...to } })
    if (to.cell[0] !== current.cell[0] || to.cell[1] !== current.cell[1]) goTo(to.cell)
  }

  const paste = useCopying({ store, sheet, model, selection: selection.current, holder })
  const begin = (
    column: number,
    row: number,
    text: string,
    at: { x: number; y: number; width: number; height: number } | undefined,
    typed = false,
    quiet = false,
  ) => {
    const frame = holder.current?.getBoundingClientRect()
    if (!editable || !at || !frame) return
    // An entry that is not taken yet is finished first.
    if (entry) return holder.current?.querySelector<HTMLElement>('[data-cell-entry]')?.focus()
    const area = scene.mergedAt(row, column)
    const far = area && boundsOf(area.right, area.bottom)
    // At once, and not with the next frame: the letter after this one must find the field.
    flushSync(() =>
      setEntry({
        sheet,
        row,
        column,
        entry: text,
        // Where nothing was, what is typed is all that there is.
        typed: typed || text === '',
        quiet,
        x: at.x - frame.x,
        y: at.y - frame.y,
        width: far ? far.x + far.width - at.x : at.width,
        height: far ? far.y + far.height - at.y : at.height,
      }),
    )
  }
  const finish = (text: string | null, [dx, dy]: readonly [number, number]) => {
    if (!entry) return
    const { row, column } = entry
    const before = cellAt(store.workbook.sheets[entry.sheet], row, column)
    setEntry(null)
    if (text !== null && text !== entryOf(before)) store.change([enter(store, entry.sheet, row, column, text)])
    else store.typing(null)
    if (entry.sheet !== sheet) {
      // Cells of another sheet were pointed at: back to where the entry is.
      beginning.current = [Math.max(0, column + dx), Math.max(0, row + dy), 1, 1]
      onSheet(entry.sheet)
    } else if (dx || dy) {
      const wanted: Item = [
        Math.max(0, Math.min(columnCount - 1, column + dx)),
        Math.max(0, Math.min(rows - 1, row + dy)),
      ]
      const { cell, range } = settled(scene, [column, row], wanted, [columnCount, rows])
      setSelection({ ...nothingSelected, current: { cell, range, rangeStack: [] } })
      goTo(cell)
    }
    takeFocus()
  }

  const boundsOf = (column: number, row: number) =>
    frozen.current?.boundsOf(column, row) ?? inner.current?.getBounds(column, row)
  useLayoutEffect(() => {
    if (spotOf) spotOf.current = boundsOf
    if (!putIn) return
    putIn.current = (letters, tries = 10) => {
      const field = () => holder.current?.querySelector('[data-cell-entry]')
      const { cell } = selection.current ?? {}
      if (!field() && cell) {
        const [column, row] = cell
        begin(column, row, entryOf(cellAt(model, row, column)), boundsOf(column, row), false, true)
        if (!field()) goTo(cell)
      }
      const own = field()
      if (own) own.dispatchEvent(new CustomEvent(putInEvent, { detail: letters }))
      // A cell out of sight comes to sight with one of the next frames.
      else if (tries) requestAnimationFrame(() => putIn.current?.(letters, tries - 1))
    }
  })
  /** Goes on to the edge of what is filled, or to the first or the last cell; with Shift what is between is selected. */
  const toEdge = (key: string, extend: boolean): boolean => {
    const { current } = selection
    const step = arrowSteps[key]
    if (!current || (!step && key !== 'Home' && key !== 'End')) return false
    const [column, row] = current.cell
    const { x, y, width, height } = current.range
    // What is selected has its other corner where the cursor is not.
    const far = extend
      ? { row: y === row ? y + height - 1 : y, column: x === column ? x + width - 1 : x }
      : { row, column }
    const to = step
      ? edgeFrom(model, far, step, used)
      : key === 'Home'
        ? { row: 0, column: 0 }
        : { row: Math.max(0, used.rows - 1), column: Math.max(0, used.columns - 1) }
    if (extend) {
      const [left, top] = [Math.min(column, to.column), Math.min(row, to.row)]
      const range = { x: left, y: top, width: Math.abs(to.column - column) + 1, height: Math.abs(to.row - row) + 1 }
      setSelection({ ...nothingSelected, current: { cell: current.cell, range, rangeStack: [] } })
      goTo([to.column, to.row])
    } else {
      const { cell, range } = settled(scene, undefined, [to.column, to.row], [columnCount, rows])
      setSelection({ ...nothingSelected, current: { cell, range, rangeStack: [] } })
      goTo(cell)
    }
    return true
  }
  const pointAt = (event: React.PointerEvent<HTMLDivElement>) =>
    pointWith(event, writing, {
      sheet: writing?.sheet === sheet ? null : (store.workbook.sheets[sheet]?.name ?? null),
      spotAt: (x, y) =>
        spotUnder(x, y, {
          seen: sight.current,
          frozen: { rows: frozenRows, columns: model.frozen?.columns ?? 0 },
          mergedAt: scene.mergedAt,
          boundsOf,
        }),
    })
  /** Twice on the edge behind a column's name: it is as wide as what it shows. */
  const fitAt = (event: React.MouseEvent<HTMLDivElement>) => {
    const { top } = event.currentTarget.getBoundingClientRect()
    if (!editable || event.clientY - top > head) return
    const { x: first, width } = sight.current
    const seen = [
      ...Array(model.frozen?.columns ?? 0).keys(),
      ...Array.from({ length: width + 1 }, (_, n) => first + n),
    ]
    const column = seen.find((x) => {
      const bounds = inner.current?.getBounds(x, -1)
      return bounds && Math.abs(bounds.x + bounds.width - event.clientX) <= edgeReach
    })
    const needed = column === undefined ? null : neededWidth(model, column, (y, x) => textOf(y, x).text, measure)
    if (column !== undefined && needed !== null && needed !== model.widths[column])
      store.change([{ op: 'width', sheet, column, width: needed }])
  }
  const clicked = ([x, y]: Item, event: { isDoubleClick?: boolean; localEventX?: number; bounds?: Rectangle }) => {
    const { localEventX, bounds } = event
    if (editable && scene.filteredBy(y, x) && bounds && (localEventX ?? 0) >= bounds.width - signWidth * size)
      // The grid takes the keyboard with the click; what opens has it after that.
      return void setTimeout(() => onFilter?.(x))
    if (!event.isDoubleClick || !pressed.current.again || x < 0) return
    const area = scene.mergedAt(y, x)
    const [column, row] = area ? [area.left, area.top] : [x, y]
    begin(column, row, entryOf(cellAt(model, row, column)), boundsOf(column, row))
  }
  const drawn: Drawn = {
    theme: drawCell ? { ...theme, horizontalBorderColor: 'transparent' } : theme,
    columns,
    getCellContent,
    gridSelection: selection,
    onGridSelectionChange: select,
    rowMarkers: { kind: 'clickable-number', width: numbers },
    rowHeight: scene.rowHeight,
    ...(drawCell && { drawCell }),
    smoothScrollX: true,
    smoothScrollY: true,
    rangeSelect: 'rect',
    rowSelect: 'multi',
    freezeColumns: model.frozen?.columns ?? 0,
    highlightRegions: named,
    scaleToRem: false,
    verticalBorder: !drawCell,
    drawFocusRing: !inMerged,
    getRowThemeOverride: (row) => (scene.isHidden('row', row) ? unseen : undefined),
    onCellContextMenu: ([x, y], event) => {
      event.preventDefault()
      if (x < 0)
        setSelection({
          ...nothingSelected,
          rows: selection.rows.hasIndex(y) ? selection.rows : CompactSelection.fromSingleSelection(y),
        })
      onMenu({ x: event.bounds.x + event.localEventX, y: event.bounds.y + event.localEventY }, x < 0 ? 'row' : 'cell')
    },
  }

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: what the pointer does on an edge is in the menu of columns, too
    <div
      ref={holder}
      className="relative min-h-0 flex-1 overflow-hidden"
      onKeyDownCapture={() => {
        byKey.current = true
      }}
      onPointerDownCapture={(event) => {
        byKey.current = false
        const [x, y] = pressed.current.at
        const { clientX, clientY } = event
        pressed.current = {
          at: [clientX, clientY],
          again: Math.abs(clientX - x) <= edgeReach && Math.abs(clientY - y) <= edgeReach,
        }
        pointAt(event)
      }}
      onDoubleClick={fitAt}
      onPointerUp={() =>
        setTimeout(() => {
          if (document.activeElement === document.body) takeFocus()
        }, 0)
      }
      data-testid="grid"
      data-rows={used.rows}
      data-revision={revision}
      data-busy={store.busy}
    >
      <DataEditor
        {...drawn}
        ref={(instance) => {
          inner.current = instance
          if (typeof gridRef === 'function') gridRef(instance)
          else if (gridRef) gridRef.current = instance
        }}
        width="100%"
        height="100%"
        rows={rows}
        getCellsForSelection={
          filter
            ? (range) =>
                shownRows(model, range).map((y) =>
                  Array.from({ length: range.width }, (_, dx) => getCellContent([range.x + dx, y])),
                )
            : true
        }
        cellActivationBehavior="double-click"
        headerHeight={head}
        columnSelect="multi"
        fillHandle={editable}
        copyHeaders={false}
        onPaste={editable ? paste : false}
        trapFocus={false}
        keybindings={{ search: false, downFill: false, rightFill: false }}
        onDelete={(gone) => {
          if (!editable) return false
          const blocks: Block[] = [
            ...(gone.current ? [gone.current.range, ...gone.current.rangeStack] : []),
            ...gone.columns.toArray().map((x) => ({ x, y: 0, width: 1, height: model.rows.length })),
            ...gone.rows.toArray().map((y) => ({ x: 0, y, width: used.columns, height: 1 })),
          ]
          store.change(
            blocks
              .flatMap((block) => shownParts(model, block))
              .map((block) =>
                clearOp(model, sheet, {
                  ...block,
                  height: Math.min(block.height, Math.max(0, model.rows.length - block.y)),
                }),
              )
              .filter((op) => op.op !== 'cells' || op.cells.length > 0),
          )
          return false
        }}
        onFillPattern={({ patternSource, fillDestination, preventDefault }) => {
          preventDefault()
          const op = onlySeen(model, fillOp(model, sheet, patternSource, union(patternSource, fillDestination)))
          store.change([op])
          noticeOf(store, op)
        }}
        {...(editable && {
          // An edge that is only clicked is moved nowhere: the grid would say that its column is as narrow as can be.
          onColumnResizeStart: () => {
            resized.current = false
          },
          onColumnResize: () => {
            resized.current = true
          },
          onColumnResizeEnd: (_column: unknown, width: number, index: number) => {
            if (resized.current) store.change([{ op: 'width', sheet, column: index, width: Math.round(width / size) }])
          },
        })}
        minColumnWidth={Math.round(24 * size)}
        maxColumnWidth={Math.round(900 * size)}
        onHeaderContextMenu={(column, event) => {
          event.preventDefault()
          setSelection({
            ...nothingSelected,
            columns: selection.columns.hasIndex(column)
              ? selection.columns
              : CompactSelection.fromSingleSelection(column),
          })
          onMenu({ x: event.bounds.x + event.localEventX, y: event.bounds.y + event.localEventY }, 'column')
        }}
        onVisibleRegionChanged={({ y, height, x, width }) => {
          sight.current = { x, y, width, height }
          if (y + height > rows - 40 && rows < 1_048_576)
            setRoom((old) => ({ ...old, rows: Math.min(1_048_576, rows + 200) }))
          if (x + width > columnCount - 3 && columnCount < 16_384)
            setRoom((old) => ({ ...old, columns: Math.min(16_384, columnCount + 12) }))
        }}
        onKeyDown={(event) => {
          const cell = selection.current?.cell
          // With Alt a letter is a command of ours and no entry.
          if (event.altKey) event.cancel()
          if (event.altKey && event.key === 'ArrowDown' && cell && editable) {
            event.preventDefault()
            if (!onChoose?.() && filter) onFilter?.(cell[0])
            return
          }
          if (cell && (event.ctrlKey || event.metaKey) && !event.altKey && toEdge(event.key, event.shiftKey)) {
            event.cancel()
            event.preventDefault()
            return
          }
          if (!cell || !editable || event.ctrlKey || event.metaKey || event.altKey) return
          const letter = event.key.length === 1 || event.key === 'Process'
          if (!letter && event.key !== 'F2' && event.key !== 'Enter') return
          event.cancel()
          if (event.key !== 'Process') event.preventDefault()
          begin(
            cell[0],
            cell[1],
            letter ? (event.key.length === 1 ? event.key : '') : entryOf(cellAt(model, cell[1], cell[0])),
            boundsOf(cell[0], cell[1]),
            letter,
          )
        }}
        onCellClicked={clicked}
      />
      <FrozenRows
        ref={frozen}
        rows={frozenRows}
        height={scene.heightBetween(0, frozenRows)}
        top={head}
        holder={holder}
        drawn={drawn}
        onClicked={clicked}
        onFocus={takeFocus}
        cursor={selection.current?.cell ?? null}
        boundsOf={(column, row) => inner.current?.getBounds(column, row)}
      />
      {entry && (
        <EntryField
          {...entry}
          size={size}
          // While cells of another sheet are pointed at it stays in sight, below them.
          {...(entry.sheet !== sheet && {
            x: 48,
            y: (holder.current?.clientHeight ?? 0) - 52,
            width: 320,
            height: 26,
          })}
          room={{ width: holder.current?.clientWidth ?? 0, height: holder.current?.clientHeight ?? 0 }}
          functions={functions}
          edge={(from, step) => edgeFrom(model, from, step, used)}
          onPointed={({ row, column }) => goTo([column, row])}
          onWriting={onWriting}
          onTyping={(text) => store.typing({ sheet: entry.sheet, row: entry.row, column: entry.column, entry: text })}
          onFinish={finish}
          goesOn={(text) => entriesGoingOn(store, entry, text)}
          wrong={(text) => faultOfEntry(store, entry.sheet, entry.row, entry.column, text)}
        />
      )}
    </div>
  )
}

const union = (a: Rectangle, b: Rectangle): Block => {
  const x = Math.min(a.x, b.x)
  const y = Math.min(a.y, b.y)
  return {
    x,
    y,
    width: Math.max(a.x + a.width, b.x + b.width) - x,
    height: Math.max(a.y + a.height, b.y + b.height) - y,
  }
}
