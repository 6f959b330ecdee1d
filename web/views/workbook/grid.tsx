import '@glideapps/glide-data-grid/dist/index.css'
import {
  CompactSelection,
  DataEditor,
  type DataEditorRef,
  type GridCell,
  GridCellKind,
  type GridSelection,
  type Item,
  type Rectangle,
} from '@glideapps/glide-data-grid'
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react'
import { flushSync } from 'react-dom'
import { displayOf, sideOf } from '../../../core/content/display'
import { entryOf, readEntry } from '../../../core/content/entry'
import { extentOf, isPlainSheet } from '../../../core/content/looks'
import { type Cell, cellAt, columnName, largestSheet, usedSize } from '../../../core/content/workbook'
import type { CellChange } from '../../../core/content/workbook-ops'
import { isCovered } from '../../design/focus'
import type { SheetMarks } from '../../workers/looking-back'
import { type Block, clearOp, fillOp, movedCell } from './acts'
import { type Entry, EntryField } from './entry-field'
import { type Drawn, FrozenRows, type FrozenRowsRef } from './frozen-rows'
import { contrasting, useGridTheme } from './grid-theme'
import { type CellText, cellDrawer, sceneOf, settled } from './scene'
import type { ShownWorkbook } from './still'

const usualWidth = 96
const headHeight = 28
/** More would fill any screen. */
const mostFrozenRows = 60
/** A row of no height has no number either. */
const unseen = { textLight: 'transparent', textMedium: 'transparent', textDark: 'transparent' }
/** Points as pixels on screen, where a usual text of 11 points has 14. */
const sizeOf = (points: number): number => Math.min(96, Math.max(8, Math.round((points * 14) / 11)))

const nothingSelected: GridSelection = { columns: CompactSelection.empty(), rows: CompactSelection.empty() }

/** What was copied here last: pasted back as cells, not as text, while the clipboard still holds its text. */
let copied: { text: string; cells: (Cell | undefined)[][]; y: number; x: number } | null = null

const asText = (rows: string[][]) => rows.map((row) => row.join('\t')).join('\n')

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

/** The cells of one sheet. */
export function Grid({
  store,
  sheet,
  editable,
  onPlace,
  onMenu,
  gridRef,
  marks,
  told,
  beginAt,
  showHidden = false,
}: {
  store: ShownWorkbook
  sheet: number
  editable: boolean
  onPlace: (place: GridPlace) => void
  onMenu: (at: { x: number; y: number }, about: 'row' | 'column' | 'cell') => void
  gridRef?: React.Ref<DataEditorRef>
  /** What is shown apart. */
  marks?: SheetMarks | undefined
  /** The marked cell that is spoken of. */
  told?: { row: number; column: number } | null
  /** Where the cursor begins: column, row, width, height. */
  beginAt?: readonly number[] | null
  /** Rows and columns that the file hides are shown. */
  showHidden?: boolean
}) {
  const revision = useSyncExternalStore(store.subscribe, store.snapshot)
  const theme = useGridTheme()
  const inner = useRef<DataEditorRef | null>(null)
  const holder = useRef<HTMLDivElement>(null)
  const frozen = useRef<FrozenRowsRef | null>(null)
  const beginning = useRef(beginAt)
  const [selection, setSelection] = useState<GridSelection>({ ...nothingSelected, current: currentAt(beginAt) })
  const model = store.workbook.sheets[sheet]!
  const used = useMemo(() => usedSize(model), [model])
  const looks = store.looksOf(sheet)
  const frozenRows = Math.min(model.frozen?.rows ?? 0, mostFrozenRows)
  const scene = useMemo(() => sceneOf(looks, showHidden), [looks, showHidden])
  const [entry, setEntry] = useState<Entry | null>(null)
  const [room, setRoom] = useState({ rows: 200, columns: 26 })
  const reaches = useMemo(() => extentOf(looks), [looks])
  const rows = Math.min(largestSheet.rows, Math.max(used.rows + 100, reaches.rows + 20, room.rows))
  const columnCount = Math.min(largestSheet.columns, Math.max(used.columns + 6, reaches.columns + 2, room.columns))
  const columns = useMemo(
    () =>
      Array.from({ length: columnCount }, (_, x) => ({
        id: String(x),
        title: columnName(x),
        width: scene.isHidden('column', x) ? 0 : (model.widths[x] ?? usualWidth),
        hasMenu: false,
      })),
    [columnCount, model.widths, scene],
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
  const takeFocus = () =>
    holder.current?.querySelector<HTMLElement>('[data-testid="data-grid-canvas"]')?.focus({ preventScroll: true })
  // Ready for the keyboard at once, and again when another sheet is shown. (The canvas comes a few frames late, once it knows its size.)
  // biome-ignore lint/correctness/useExhaustiveDependencies: another sheet takes the keyboard once
  useEffect(() => {
    // A sheet that is only looked at does not take the keyboard from where it is.
    if (!editable && document.activeElement !== document.body) return
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
  // biome-ignore lint/correctness/useExhaustiveDependencies: told when the selection changed; who is told stays the same
  useEffect(() => {
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

  const isMarked = useMemo(() => {
    if (!marks) return () => false
    const cells = new Set(marks.cells.map(([row, column]) => row * 16384 + column))
    const [rowsMarked, columnsMarked] = [new Set(marks.rows), new Set(marks.columns)]
    return (row: number, column: number) =>
      cells.has(row * 16384 + column) || rowsMarked.has(row) || columnsMarked.has(column)
  }, [marks])
  // A result that follows from another change is not a change of its own: its number is coloured, not its cell.
  const following = useMemo(() => new Set(marks?.following), [marks])
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew when the workbook says that something changed
  const textOf = useCallback(
    (y: number, x: number): CellText => {
      const cell = cellAt(model, y, x)
      const result = cell?.formula === undefined ? undefined : store.result(sheet, y, x)
      return { text: displayOf(cell, result), align: sideOf(cell, result), wrap: cell?.style?.wrap ?? false }
    },
    [model, revision, sheet],
  )
  const drawCell = useMemo(
    () => (isPlainSheet(looks) ? undefined : cellDrawer(scene, (x) => columns[x]?.width ?? usualWidth, textOf)),
    [looks, scene, columns, textOf],
  )
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew when the workbook says that something changed
  const getCellContent = useCallback(
    ([column, row]: Item): GridCell => {
      // A merged area is its first cell; the others only carry its ground.
      const area = scene.mergedAt(row, column)
      const covered = area && (area.top !== row || area.left !== column)
      const [x, y] = covered ? [area.left, area.top] : [column, row]
      const cell = cellAt(model, y, x)
      const look = looks.cells.get(y * 16384 + x)
      const result = cell?.formula === undefined ? undefined : store.result(sheet, y, x)
      const style = cell?.style
      const mark = told?.row === y && told.column === x ? theme.toldCell : isMarked(y, x) ? theme.markedCell : undefined
      const follows = following.has(y * 16384 + x)
      const standing = store.markOf(sheet, y, x)?.standing
      const text = covered ? '' : displayOf(cell, result)
      // What is not known any more is shown with the doubt that is due, to ears as well.
      const shown = standing === 'stale' ? `${text} ?` : text
      return {
        kind: GridCellKind.Text,
        data: shown,
        displayData: shown,
        copyData: text,
        allowOverlay: false,
        readonly: !editable,
        contentAlign: sideOf(cell, result),
        ...(style?.wrap && { allowWrapping: true }),
        ...((mark || follows || style || standing || look) && {
          themeOverride: {
            ...(mark ? { bgCell: mark } : style?.fill && { bgCell: style.fill, textDark: contrasting(style.fill) }),
            ...(style?.color && { textDark: style.color }),
            ...((follows || standing === 'stale') && !style?.fill && { textDark: theme.followingText }),
            ...(standing === 'kept' && !style?.fill && !style?.color && { textDark: theme.keptText }),
            ...((style?.bold || style?.italic || look?.size) && {
              baseFontStyle: `${style?.italic ? 'italic ' : ''}${style?.bold ? '700 ' : ''}${look?.size ? sizeOf(look.size) : 14}px`,
            }),
            ...(look?.font && {
              fontFamily: `"${look.font.replace(/["\\;]/g, '')}", Atkinson Hyperlegible Next Variable`,
            }),
          },
        }),
      }
    },
    [model, revision, editable, sheet, isMarked, following, told, theme, scene, looks],
  )
  // Where the cursor begins may be in the middle of a merged area, or out of sight.
  // biome-ignore lint/correctness/useExhaustiveDependencies: looks come once for a sheet, and change with its rows and columns
  useEffect(() => {
    if (isPlainSheet(looks)) return
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
  const inMerged = !!selection.current && !!scene.mergedAt(selection.current.cell[1], selection.current.cell[0])
  const select = (next: GridSelection) => {
    const { current } = next
    const single = current && current.range.width === 1 && current.range.height === 1
    if (!single || isPlainSheet(looks)) return setSelection(next)
    // A click means the cell that it is on; only keys go past an area.
    const from = byKey.current ? selection.current?.cell : undefined
    const to = settled(scene, from, current.cell as Item, [columnCount, rows])
    setSelection({ ...next, current: { ...current, ...to } })
    if (to.cell[0] !== current.cell[0] || to.cell[1] !== current.cell[1]) goTo(to.cell)
  }

  const paste = ([x, y]: Item, values: readonly (readonly string[])[]) => {
    const text = asText(values.map((row) => [...row]))
    const own = copied && copied.text === text ? copied : null
    const source = own ? own.cells.map((row) => row.length) : values.map((row) => row.length)
    const height = source.length
    const width = Math.max(...source, 0)
    // A smaller block is repeated over a selection that it fits into evenly.
    const range = selection.current?.range
    const tall = range && range.height > height && range.height % height === 0 ? range.height : height
    const wide = range && range.width > width && range.width % width === 0 ? range.width : width
    const cells: CellChange[] = []
    for (let dy = 0; dy < tall; dy++)
      for (let dx = 0; dx < wide; dx++) {
        const [row, column] = [y + dy, x + dx]
        const [sy, sx] = [dy % height, dx % width]
        cells.push({
          row,
          column,
          cell: own
            ? movedCell(own.cells[sy]?.[sx], row - own.y - sy, column - own.x - sx)
            : readEntry(values[sy]?.[sx] ?? '', cellAt(model, row, column)),
        })
      }
    try {
      store.change([{ op: 'cells', sheet, cells }])
    } catch {
      // It would reach past the end of the sheet: nothing is changed.
    }
    return false
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: results are those of the sheet as it is drawn
  useEffect(() => {
    const note = () => {
      const range = selection.current?.range
      if (!range || !holder.current?.contains(document.activeElement)) return
      const cells = Array.from({ length: range.height }, (_, dy) =>
        Array.from({ length: range.width }, (_, dx) => cellAt(model, range.y + dy, range.x + dx)),
      )
      copied = {
        cells,
        y: range.y,
        x: range.x,
        text: asText(
          cells.map((row, dy) =>
            row.map((cell, dx) => displayOf(cell, store.result(sheet, range.y + dy, range.x + dx))),
          ),
        ),
      }
    }
    document.addEventListener('copy', note, true)
    document.addEventListener('cut', note, true)
    return () => {
      document.removeEventListener('copy', note, true)
      document.removeEventListener('cut', note, true)
    }
  }, [selection, model, sheet])

  const begin = (
    column: number,
    row: number,
    entry: string,
    at: { x: number; y: number; width: number; height: number } | undefined,
  ) => {
    const frame = holder.current?.getBoundingClientRect()
    if (!editable || !at || !frame) return
    const area = scene.mergedAt(row, column)
    const far = area && boundsOf(area.right, area.bottom)
    // At once, and not with the next frame: the letter after this one must find the field.
    flushSync(() =>
      setEntry({
        row,
        column,
        entry,
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
    const before = cellAt(model, row, column)
    setEntry(null)
    if (text !== null && text !== entryOf(before))
      store.change([{ op: 'cells', sheet, cells: [{ row, column, cell: readEntry(text, before) }] }])
    else store.typing(null)
    if (dx || dy) {
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
  const clicked = ([x, y]: Item, event: { isDoubleClick?: boolean }) => {
    if (!event.isDoubleClick || x < 0) return
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
    // As wide as the longest number needs, in the rows that stay as in all others.
    rowMarkers: { kind: 'clickable-number', width: rows > 10_000 ? 48 : rows > 1000 ? 44 : rows > 100 ? 36 : 32 },
    rowHeight: scene.rowHeight,
    ...(drawCell && { drawCell }),
    smoothScrollX: true,
    smoothScrollY: true,
    rangeSelect: 'rect',
    rowSelect: 'multi',
    freezeColumns: model.frozen?.columns ?? 0,
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
    <div
      ref={holder}
      className="relative min-h-0 flex-1 overflow-hidden"
      onKeyDownCapture={() => {
        byKey.current = true
      }}
      onPointerDownCapture={() => {
        byKey.current = false
      }}
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
        getCellsForSelection
        cellActivationBehavior="double-click"
        headerHeight={headHeight}
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
          store.change([fillOp(model, sheet, patternSource, union(patternSource, fillDestination))])
        }}
        {...(editable && {
          onColumnResizeEnd: (_column: unknown, width: number, index: number) =>
            store.change([{ op: 'width', sheet, column: index, width: Math.round(width) }]),
          onColumnResize: () => {},
        })}
        minColumnWidth={24}
        maxColumnWidth={900}
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
          if (y + height > rows - 40 && rows < 1_048_576)
            setRoom((old) => ({ ...old, rows: Math.min(1_048_576, rows + 200) }))
          if (x + width > columnCount - 3 && columnCount < 16_384)
            setRoom((old) => ({ ...old, columns: Math.min(16_384, columnCount + 12) }))
        }}
        onKeyDown={(event) => {
          const cell = selection.current?.cell
          // With Alt a letter is a command of ours and no entry.
          if (event.altKey) event.cancel()
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
          )
        }}
        onCellClicked={clicked}
      />
      <FrozenRows
        ref={frozen}
        rows={frozenRows}
        height={scene.heightBetween(0, frozenRows)}
        top={headHeight}
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
          onTyping={(text) => store.typing({ sheet, row: entry.row, column: entry.column, entry: text })}
          onFinish={finish}
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
