// What is done to how the selected cells look: in the list of commands, in the menus of rows and columns, and beside the tools.
import { toast } from 'sonner'
import { displayOf } from '../../../core/content/display'
import { type CellStyle, cellAt, usedSize } from '../../../core/content/workbook'
import type { WorkbookOp } from '../../../core/content/workbook-ops'
import { MenuItem, MenuRule } from '../../design/overlay'
import { t } from '../../words/all'
import { type Block, styleOp } from './acts'
import { commonLook, hideOps, linesOp, mergedIn, mergeOps, noLook } from './cell-looks'
import { shownParts } from './filter-acts'
import { canvasMeasure, gridFont, neededWidth } from './fitting'
import { LookOfCells } from './look-of-cells'
import type { ShownWorkbook } from './still'

/** What some lines are long, where all of them are; null where none says anything, undefined where they differ. */
function commonLength(said: Readonly<Record<number, number>>, at: number, count: number): number | null | undefined {
  const own = Object.entries(said).filter(([line]) => Number(line) >= at && Number(line) < at + count)
  if (!own.length) return null
  const [[, first]] = own as [[string, number]]
  return own.length === count && own.every(([, length]) => length === first) ? first : undefined
}
/** Pixels of a column as points. */
const pointsOf = (pixels: number | null | undefined) => (pixels == null ? pixels : pixels * 0.75)

/** Rows or columns: the first, and how many. */
interface LinesAt {
  at: number
  count: number
  /** It is whole lines of the other axis that are selected: all of these are meant by none of them. */
  across?: boolean
}

export function useLookCommands({
  store,
  index,
  block,
  style,
  rowsAt,
  columnsAt,
  act,
  back,
  onLooking,
}: {
  store: ShownWorkbook
  index: number
  /** What is selected, cut down to what is used where it is whole rows or columns. */
  block: Block
  /** Of the cell that the cursor is in. */
  style: CellStyle
  rowsAt: LinesAt
  columnsAt: LinesAt
  /** @returns whether it was done */
  act: (ops: WorkbookOp[]) => boolean
  /** The keyboard goes back to the cells. */
  back: () => void
  onLooking: (looking: boolean) => void
}) {
  const sheet = store.workbook.sheets[index]!
  const change = (ops: WorkbookOp[]) => {
    act(ops)
    back()
  }
  const mergedHere = mergedIn(sheet, block)
  /** Cells are made one, or what is one is divided again. */
  const merge = (into: boolean) => {
    if (!into) return void act([{ op: 'unmerge', sheet: index, areas: mergedHere }])
    if (block.width * block.height < 2) return void toast(t('sheet.select-several-cells'))
    const { ops, together } = mergeOps(sheet, index, block, (row, column) => store.result(index, row, column))
    if (act(ops) && together) toast(t('sheet.put-together', { n: together }))
  }
  const hide = (axis: 'rows' | 'columns', hidden: boolean) =>
    change(hideOps(sheet, index, axis, axis === 'rows' ? rowsAt : columnsAt, hidden))
  const shownText = (row: number, column: number) =>
    displayOf(
      cellAt(sheet, row, column),
      cellAt(sheet, row, column)?.formula === undefined ? undefined : store.result(index, row, column),
    )
  /** Columns as wide as what they show; rows find their heights by themselves. */
  const asNeeded = (axis: 'rows' | 'columns') => {
    const { at, count } = axis === 'rows' ? rowsAt : columnsAt
    if (axis === 'rows') {
      const own = Object.keys(sheet.heights ?? {}).some((row) => Number(row) >= at && Number(row) < at + count)
      return change(own ? [{ op: 'height', sheet: index, spans: [[at, at + count - 1]], height: null }] : [])
    }
    const lines = Array.from({ length: Math.min(count, Math.max(0, usedSize(sheet).columns - at)) }, (_, n) => at + n)
    const measure = canvasMeasure(gridFont)
    change(
      lines.flatMap((column) => {
        const width = neededWidth(sheet, column, shownText, measure)
        return width === null || width === sheet.widths[column]
          ? []
          : [{ op: 'width' as const, sheet: index, column, width }]
      }),
    )
  }
  const menu = (axis: 'rows' | 'columns') =>
    !store.csv && (
      <>
        <MenuRule />
        <MenuItem onSelect={() => asNeeded(axis)}>
          {axis === 'rows' ? t('sheet.height-as-needed') : t('sheet.width-as-needed')}
        </MenuItem>
        {!(axis === 'rows' ? rowsAt : columnsAt).across && (
          <MenuItem onSelect={() => hide(axis, true)}>
            {axis === 'rows'
              ? t('sheet.hide-rows', { n: rowsAt.count })
              : t('sheet.hide-columns', { n: columnsAt.count })}
          </MenuItem>
        )}
        {hideOps(sheet, index, axis, axis === 'rows' ? rowsAt : columnsAt, false).length > 0 && (
          <MenuItem onSelect={() => hide(axis, false)}>
            {axis === 'rows' ? t('sheet.show-rows') : t('sheet.show-columns')}
          </MenuItem>
        )}
      </>
    )
  const mergeMenu = !store.csv && (mergedHere.length > 0 || block.width * block.height > 1) && (
    <>
      <MenuRule />
      <MenuItem
        onSelect={() => {
          merge(!mergedHere.length)
          back()
        }}
      >
        {mergedHere.length ? t('sheet.divide-again') : t('sheet.make-one-cell')}
      </MenuItem>
    </>
  )
  const panel = () => (
    <LookOfCells
      look={commonLook(sheet, block)}
      sizeNow={() => commonLook(store.workbook.sheets[index]!, block).size}
      style={style}
      merged={mergedHere.length > 0}
      several={block.width * block.height > 1}
      height={commonLength(sheet.heights ?? {}, block.y, block.height)}
      width={pointsOf(commonLength(sheet.widths, block.x, block.width))}
      onStyle={(part) => act(shownParts(sheet, block).map((one) => styleOp(sheet, index, one, part)))}
      onLines={(which, line) => act([linesOp(sheet, index, block, which, line)])}
      onMerge={merge}
      onHeight={(height) =>
        act([{ op: 'height', sheet: index, spans: [[block.y, block.y + block.height - 1]], height }])
      }
      onWidth={(points) =>
        act(
          Array.from({ length: block.width }, (_, n) => ({
            op: 'width',
            sheet: index,
            column: block.x + n,
            width: points === null ? null : Math.round(points / 0.75),
          })),
        )
      }
      onClear={() => act(shownParts(sheet, block).map((one) => styleOp(sheet, index, one, noLook)))}
      onClose={() => {
        onLooking(false)
        back()
      }}
    />
  )
  const offers = [
    { id: 'look of cells', label: t('sheet.look-of-cells'), keys: 'Alt+L', run: () => onLooking(true) },
    mergedHere.length
      ? { id: 'divide', label: t('sheet.divide-again'), run: () => merge(false) }
      : { id: 'merge', label: t('sheet.make-one-cell'), run: () => merge(true) },
    ...(rowsAt.across
      ? []
      : [{ id: 'hide rows', label: t('sheet.hide-rows', { n: rowsAt.count }), run: () => hide('rows', true) }]),
    ...(columnsAt.across
      ? []
      : [
          {
            id: 'hide columns',
            label: t('sheet.hide-columns', { n: columnsAt.count }),
            run: () => hide('columns', true),
          },
        ]),
    { id: 'show rows', label: t('sheet.show-rows'), run: () => hide('rows', false) },
    { id: 'show columns', label: t('sheet.show-columns'), run: () => hide('columns', false) },
    { id: 'fit columns', label: t('sheet.width-as-needed'), run: () => asNeeded('columns') },
    { id: 'fit rows', label: t('sheet.height-as-needed'), run: () => asNeeded('rows') },
    {
      id: 'clear looks of cells',
      label: t('sheet.clear-looks'),
      keys: 'Mod+\\',
      run: () => change([styleOp(sheet, index, block, noLook)]),
    },
  ]
  return { offers, menu, mergeMenu, panel }
}
