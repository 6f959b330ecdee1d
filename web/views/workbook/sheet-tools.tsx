// The tools beside the cells: how they look, rows and columns, sorting.
import {
  AlignCenter,
  AlignLeft,
  AlignRight,
  ArrowDownAZ,
  ArrowUpZA,
  Baseline,
  Binary,
  Bold,
  ClipboardCheck,
  Columns3,
  Italic,
  ListFilter,
  Omega,
  PaintBucket,
  Redo2,
  Rows3,
  Sigma,
  Undo2,
} from 'lucide-react'
import type { ReactNode } from 'react'
import { type CellStyle, columnName } from '../../../core/content/workbook'
import { IconButton } from '../../design/icon-button'
import { Menu, MenuItem, MenuRule } from '../../design/overlay'
import { ToolRow } from '../../design/tool-row'
import { t } from '../../words/all'
import { withControl } from '../../words/formats'
import type { styleOp } from './acts'
import { namedFormats } from './named-formats'
import type { ShownWorkbook } from './still'

const fills: [string, string | undefined][] = [
  [t('sheet.none'), undefined],
  [t('sheet.sand'), '#efe6cf'],
  [t('sheet.moss'), '#d9e8d2'],
  [t('sheet.water'), '#d3e6ea'],
  [t('sheet.heather'), '#eadbe9'],
  [t('sheet.clay'), '#f3d9c9'],
  [t('sheet.slate'), '#5f6b6b'],
]

export function SheetTools({
  store,
  style,
  column,
  look,
  sort,
  addUp,
  filter,
  ruling,
  looking,
  signing,
  onSigns,
  onLooks,
  rows,
  columns,
  onDone,
}: {
  store: ShownWorkbook
  /** Of the cell that the cursor is in. */
  style: CellStyle
  column: number
  look: (part: Parameters<typeof styleOp>[3]) => void
  sort: (down: boolean) => void
  addUp: () => void
  /** Which rows are shown; null where its file cannot hold that. */
  filter: { on: boolean; open: () => void } | null
  /** What may be entered is said beside it; null where its file cannot hold that. */
  ruling: { on: boolean; open: () => void } | null
  /** The looks of cells are open beside it. */
  looking: boolean
  /** Signs that no key has are beside it. */
  signing: boolean
  onSigns: () => void
  onLooks: () => void
  /** What can be done with the rows and the columns that are selected. */
  rows: ReactNode
  columns: ReactNode
  /** A menu closed: the keyboard goes back to the cells. */
  onDone: () => void
}) {
  const rule = <div className="mx-auto my-1 w-5 shrink-0 border-t" aria-hidden />
  return (
    <ToolRow
      upright
      label={t('sheet.spreadsheet-tools')}
      className="flex w-11 shrink-0 flex-col items-center overflow-y-auto border-r bg-paper py-2"
    >
      <IconButton
        side="right"
        label={t('common.undo')}
        keys={withControl('Z')}
        disabled={!store.canUndo}
        onClick={() => store.undo()}
      >
        <Undo2 />
      </IconButton>
      <IconButton
        side="right"
        label={t('common.redo')}
        keys={withControl('Y')}
        disabled={!store.canRedo}
        onClick={() => store.redo()}
      >
        <Redo2 />
      </IconButton>
      {rule}
      <Menu
        align="start"
        returnTo={onDone}
        trigger={
          <IconButton side="right" label={t('sheet.number-format')} pressed={!!style.format}>
            <Binary />
          </IconButton>
        }
      >
        {namedFormats.map(({ label, format, example }) => (
          <MenuItem key={label} onSelect={() => look({ format })}>
            {label}
            <span className="ml-auto pl-6 font-mono text-[13px] text-soft">{example}</span>
          </MenuItem>
        ))}
      </Menu>
      {!store.csv && <Looks style={style} look={look} onDone={onDone} />}
      {!store.csv && (
        <IconButton side="right" label={t('sheet.look-of-cells')} keys="Alt+L" pressed={looking} onClick={onLooks}>
          <Baseline />
        </IconButton>
      )}
      {rule}
      <Menu
        align="start"
        returnTo={onDone}
        trigger={
          <IconButton side="right" label={t('sheet.rows')}>
            <Rows3 />
          </IconButton>
        }
      >
        {rows}
      </Menu>
      <Menu
        align="start"
        returnTo={onDone}
        trigger={
          <IconButton side="right" label={t('sheet.columns')}>
            <Columns3 />
          </IconButton>
        }
      >
        {columns}
      </Menu>
      {rule}
      <IconButton
        side="right"
        label={t('sheet.sort-by-column-smallest-first', { columnName: columnName(column) })}
        onClick={() => sort(false)}
      >
        <ArrowDownAZ />
      </IconButton>
      <IconButton
        side="right"
        label={t('sheet.sort-by-column-largest-first', { columnName: columnName(column) })}
        onClick={() => sort(true)}
      >
        <ArrowUpZA />
      </IconButton>
      {filter && (
        <IconButton side="right" label={t('sheet.filter-rows')} pressed={filter.on} onClick={filter.open}>
          <ListFilter />
        </IconButton>
      )}
      {ruling && (
        <IconButton side="right" label={t('sheet.what-may-be-entered')} pressed={ruling.on} onClick={ruling.open}>
          <ClipboardCheck />
        </IconButton>
      )}
      <IconButton side="right" label={t('sheet.add-up')} keys="Alt+A" onClick={addUp}>
        <Sigma />
      </IconButton>
      <IconButton side="right" label={t('signs.title')} pressed={signing} onClick={onSigns}>
        <Omega />
      </IconButton>
    </ToolRow>
  )
}

/** How cells look beside what their values show, where the file has a place for it. */
function Looks({ style, look, onDone }: Pick<Parameters<typeof SheetTools>[0], 'style' | 'look' | 'onDone'>) {
  return (
    <>
      <IconButton
        side="right"
        label={t('common.bold')}
        keys={withControl('B')}
        pressed={!!style.bold}
        onClick={() => look({ bold: style.bold ? undefined : true })}
      >
        <Bold />
      </IconButton>
      <IconButton
        side="right"
        label={t('common.italic')}
        keys={withControl('I')}
        pressed={!!style.italic}
        onClick={() => look({ italic: style.italic ? undefined : true })}
      >
        <Italic />
      </IconButton>
      <Menu
        align="start"
        returnTo={onDone}
        trigger={
          <IconButton side="right" label={t('sheet.fill')} pressed={!!style.fill}>
            <PaintBucket />
          </IconButton>
        }
      >
        {fills.map(([label, fill]) => (
          <MenuItem key={label} onSelect={() => look({ fill })}>
            <span className="size-4 rounded border" style={{ background: fill }} />
            {label}
          </MenuItem>
        ))}
      </Menu>
      <Menu
        align="start"
        returnTo={onDone}
        trigger={
          <IconButton side="right" label={t('sheet.alignment')}>
            {style.align === 'center' ? <AlignCenter /> : style.align === 'right' ? <AlignRight /> : <AlignLeft />}
          </IconButton>
        }
      >
        <MenuItem onSelect={() => look({ align: undefined })}>{t('sheet.by-content')}</MenuItem>
        <MenuItem onSelect={() => look({ align: 'left' })}>
          <AlignLeft />
          {t('common.left')}
        </MenuItem>
        <MenuItem onSelect={() => look({ align: 'center' })}>
          <AlignCenter />
          {t('common.centre')}
        </MenuItem>
        <MenuItem onSelect={() => look({ align: 'right' })}>
          <AlignRight />
          {t('common.right')}
        </MenuItem>
        <MenuRule />
        <MenuItem onSelect={() => look({ wrap: style.wrap ? undefined : true })}>
          {style.wrap ? t('sheet.one-line') : t('sheet.wrap-into-lines')}
        </MenuItem>
      </Menu>
    </>
  )
}
