// What each cell shows: its text, where it stands, its colours, and how it is drawn where the grid alone would not do.
import { type GridCell, GridCellKind, type Item } from '@glideapps/glide-data-grid'
import { useCallback, useMemo } from 'react'
import { displayOf, sideOf } from '../../../core/content/display'
import { lookOf } from '../../../core/content/looks'
import { cellAt, type Sheet } from '../../../core/content/workbook'
import { t } from '../../words/all'
import type { SheetMarks } from '../../workers/looking-back'
import { sizeOf } from './fitting'
import { contrasting, type useGridTheme } from './grid-theme'
import { type CellText, cellDrawer, type Scene } from './scene'
import type { ShownWorkbook } from './still'

/** Pixels, in the usual size; of a column that has no width of its own. */
export const usualWidth = 96

export function useCells({
  store,
  revision,
  sheet,
  model,
  scene,
  plain,
  columns,
  editable,
  marks,
  told,
  theme,
  size,
}: {
  store: ShownWorkbook
  /** Another one after each change. */
  revision: number
  sheet: number
  model: Sheet
  scene: Scene
  /** Nothing of it has to be drawn otherwise than the grid does. */
  plain: boolean
  columns: readonly { width: number }[]
  editable: boolean
  /** What is shown apart. */
  marks: SheetMarks | undefined
  /** The marked cell that is spoken of. */
  told: { row: number; column: number } | null | undefined
  theme: ReturnType<typeof useGridTheme>
  /** How large the sheet is shown. */
  size: number
}) {
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
      const stale = store.markOf(sheet, y, x)?.standing === 'stale' ? ' ?' : ''
      return { text: displayOf(cell, result) + stale, align: sideOf(cell, result), wrap: cell?.style?.wrap ?? false }
    },
    [model, revision, sheet],
  )
  const drawCell = useMemo(
    () =>
      plain
        ? undefined
        : cellDrawer(
            scene,
            (y, x) => lookOf(cellAt(model, y, x)?.style),
            (x) => columns[x]?.width ?? usualWidth * size,
            textOf,
          ),
    [plain, scene, model, columns, textOf, size],
  )
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew when the workbook says that something changed
  const getCellContent = useCallback(
    ([column, row]: Item): GridCell => {
      // A merged area is its first cell; the others only carry its ground.
      const area = scene.mergedAt(row, column)
      const covered = area && (area.top !== row || area.left !== column)
      const [x, y] = covered ? [area.left, area.top] : [column, row]
      const cell = cellAt(model, y, x)
      const look = lookOf(cell?.style)
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
        data: !covered && scene.filteredBy(y, x) === 'some' ? t('sheet.filtered-heading', { text: shown }) : shown,
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
              baseFontStyle: `${style?.italic ? 'italic ' : ''}${style?.bold ? '700 ' : ''}${(look?.size ? sizeOf(look.size) : 14) * size}px`,
            }),
            ...(look?.font && {
              fontFamily: `"${look.font.replace(/["\\;]/g, '')}", Atkinson Hyperlegible Next Variable`,
            }),
          },
        }),
      }
    },
    [model, revision, editable, sheet, isMarked, following, told, theme, scene, size],
  )
  return { textOf, drawCell, getCellContent }
}
