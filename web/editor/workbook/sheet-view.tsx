import type { DataEditorRef } from '@glideapps/glide-data-grid'
import {
  AlignCenter,
  AlignLeft,
  AlignRight,
  ArrowDownAZ,
  ArrowUpZA,
  Binary,
  Bold,
  Columns3,
  Italic,
  PaintBucket,
  Plus,
  Redo2,
  Rows3,
  Undo2,
} from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { useEffect, useRef, useState, useSyncExternalStore } from 'react'
import { toast } from 'sonner'
import { entryOf, readEntry } from '../../../core/content/entry'
import { type CellStyle, cellAt, columnName, sheetNameFault, usedSize } from '../../../core/content/workbook'
import type { WorkbookOp } from '../../../core/content/workbook-ops'
import { Button, Field } from '../../design/controls'
import { IconButton } from '../../design/icon-button'
import { Menu, MenuItem, MenuRule, Question } from '../../design/overlay'
import { ToolRow } from '../../design/tool-row'
import { withControl } from '../../design/words'
import type { Selected } from '../../work/content'
import type { SheetMarks } from '../../workers/looking-back'
import { type Block, sortOp, styleOp, usedPart } from './acts'
import { namedFormats } from './display'
import { Grid, type GridPlace } from './grid'
import type { ShownWorkbook } from './still'

const fills: [string, string | undefined][] = [
  ['None', undefined],
  ['Sand', '#efe6cf'],
  ['Moss', '#d9e8d2'],
  ['Water', '#d3e6ea'],
  ['Heather', '#eadbe9'],
  ['Clay', '#f3d9c9'],
  ['Slate', '#5f6b6b'],
]

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
}) {
  useSyncExternalStore(store.subscribe, store.snapshot)
  const grid = useRef<DataEditorRef>(null)
  const [chosen, setChosen] = useState(rested?.[0] ?? 0)
  useEffect(() => onFocus?.(() => grid.current?.focus()), [])
  const [place, setPlace] = useState<GridPlace>({
    row: 0,
    column: 0,
    block: { x: 0, y: 0, width: 1, height: 1 },
    wholeRows: [],
    wholeColumns: [],
  })
  const [menu, setMenu] = useState<{ x: number; y: number; about: 'row' | 'column' | 'cell' } | null>(null)
  const [renaming, setRenaming] = useState<number | null>(null)
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
  useEffect(() => onPlace?.(index, place), [index, place])
  const sheet = store.workbook.sheets[index]!
  const cell = cellAt(sheet, place.row, place.column)
  const style: CellStyle = cell?.style ?? {}
  const used = usedSize(sheet)
  const many = place.block.width * place.block.height > 1

  const change = (ops: WorkbookOp[]) => {
    try {
      store.change(ops.filter((op) => op.op !== 'cells' || op.cells.length > 0))
    } catch (error) {
      toast.error((error as Error).message)
    }
    grid.current?.focus()
  }
  // A style set on whole columns goes to the rows in use; past them it is set when something is there.
  const block: Block =
    place.wholeColumns.length || place.wholeRows.length ? usedPart(sheet, place.block, used.columns) : place.block
  const look = (part: Parameters<typeof styleOp>[3]) => change([styleOp(sheet, index, block, part)])
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
    if (range.height < 2) return void toast('There is nothing to sort here.')
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
  const rule = <div className="mx-auto my-1 w-5 shrink-0 border-t" aria-hidden />
  const insertRemove = (
    <>
      <MenuItem onSelect={() => change([{ op: 'insert', sheet: index, axis: 'rows', ...rowsAt }])}>
        Insert {rowsAt.count === 1 ? 'a row' : `${rowsAt.count} rows`} above
      </MenuItem>
      <MenuItem
        onSelect={() =>
          change([{ op: 'insert', sheet: index, axis: 'rows', at: rowsAt.at + rowsAt.count, count: rowsAt.count }])
        }
      >
        Insert below
      </MenuItem>
      <MenuItem onSelect={() => change([{ op: 'remove', sheet: index, axis: 'rows', ...rowsAt }])}>
        Remove {rowsAt.count === 1 ? `row ${rowsAt.at + 1}` : `rows ${rowsAt.at + 1} to ${rowsAt.at + rowsAt.count}`}
      </MenuItem>
    </>
  )
  const insertRemoveColumns = (
    <>
      <MenuItem onSelect={() => change([{ op: 'insert', sheet: index, axis: 'columns', ...columnsAt }])}>
        Insert {columnsAt.count === 1 ? 'a column' : `${columnsAt.count} columns`} before
      </MenuItem>
      <MenuItem
        onSelect={() =>
          change([
            { op: 'insert', sheet: index, axis: 'columns', at: columnsAt.at + columnsAt.count, count: columnsAt.count },
          ])
        }
      >
        Insert after
      </MenuItem>
      <MenuItem onSelect={() => change([{ op: 'remove', sheet: index, axis: 'columns', ...columnsAt }])}>
        Remove{' '}
        {columnsAt.count === 1
          ? `column ${columnName(columnsAt.at)}`
          : `columns ${columnName(columnsAt.at)} to ${columnName(columnsAt.at + columnsAt.count - 1)}`}
      </MenuItem>
    </>
  )
  return (
    <>
      {editable && (
        <ToolRow
          upright
          label="Spreadsheet tools"
          className="flex w-11 shrink-0 flex-col items-center overflow-y-auto border-r bg-paper py-2"
        >
          <IconButton
            side="right"
            label="Undo"
            keys={withControl('Z')}
            disabled={!store.canUndo}
            onClick={() => store.undo()}
          >
            <Undo2 />
          </IconButton>
          <IconButton
            side="right"
            label="Redo"
            keys={withControl('Y')}
            disabled={!store.canRedo}
            onClick={() => store.redo()}
          >
            <Redo2 />
          </IconButton>
          {rule}
          <Menu
            align="start"
            returnTo={() => grid.current?.focus()}
            trigger={
              <IconButton side="right" label="Number format" pressed={!!style.format}>
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
          <IconButton
            side="right"
            label="Bold"
            keys={withControl('B')}
            pressed={!!style.bold}
            onClick={() => look({ bold: style.bold ? undefined : true })}
          >
            <Bold />
          </IconButton>
          <IconButton
            side="right"
            label="Italic"
            keys={withControl('I')}
            pressed={!!style.italic}
            onClick={() => look({ italic: style.italic ? undefined : true })}
          >
            <Italic />
          </IconButton>
          <Menu
            align="start"
            returnTo={() => grid.current?.focus()}
            trigger={
              <IconButton side="right" label="Fill" pressed={!!style.fill}>
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
            returnTo={() => grid.current?.focus()}
            trigger={
              <IconButton side="right" label="Alignment">
                {style.align === 'center' ? <AlignCenter /> : style.align === 'right' ? <AlignRight /> : <AlignLeft />}
              </IconButton>
            }
          >
            <MenuItem onSelect={() => look({ align: undefined })}>By content</MenuItem>
            <MenuItem onSelect={() => look({ align: 'left' })}>
              <AlignLeft />
              Left
            </MenuItem>
            <MenuItem onSelect={() => look({ align: 'center' })}>
              <AlignCenter />
              Centre
            </MenuItem>
            <MenuItem onSelect={() => look({ align: 'right' })}>
              <AlignRight />
              Right
            </MenuItem>
            <MenuRule />
            <MenuItem onSelect={() => look({ wrap: style.wrap ? undefined : true })}>
              {style.wrap ? 'One line' : 'Wrap into lines'}
            </MenuItem>
          </Menu>
          {rule}
          <Menu
            align="start"
            returnTo={() => grid.current?.focus()}
            trigger={
              <IconButton side="right" label="Rows">
                <Rows3 />
              </IconButton>
            }
          >
            {insertRemove}
          </Menu>
          <Menu
            align="start"
            returnTo={() => grid.current?.focus()}
            trigger={
              <IconButton side="right" label="Columns">
                <Columns3 />
              </IconButton>
            }
          >
            {insertRemoveColumns}
          </Menu>
          {rule}
          <IconButton
            side="right"
            label={`Sort by column ${columnName(place.column)}, smallest first`}
            onClick={() => sort(false)}
          >
            <ArrowDownAZ />
          </IconButton>
          <IconButton
            side="right"
            label={`Sort by column ${columnName(place.column)}, largest first`}
            onClick={() => sort(true)}
          >
            <ArrowUpZA />
          </IconButton>
        </ToolRow>
      )}
      {slip}
      <div className="flex min-w-0 flex-1 flex-col" onKeyDownCapture={press}>
        <EntryLine
          key={`${index} ${place.row} ${place.column}`}
          address={`${columnName(place.column)}${place.row + 1}`}
          entry={entryOf(cell)}
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
        />
        <div className="flex h-9 shrink-0 items-stretch gap-px overflow-x-auto border-t bg-paper px-2">
          {/* The sheets alone are its tabs; what else stands among them is not. */}
          <div
            role="tablist"
            aria-label="Sheets"
            aria-owns={store.workbook.sheets.map((_, at) => `sheet-tab-${at}`).join(' ')}
          />
          {store.workbook.sheets.map((one, at) => (
            <div
              key={one.name}
              className={
                at === index
                  ? 'flex items-center border-b-2 border-accent'
                  : 'flex items-center border-b-2 border-transparent text-soft'
              }
            >
              <button
                type="button"
                role="tab"
                id={`sheet-tab-${at}`}
                aria-selected={at === index}
                className="h-full whitespace-nowrap px-3 hover:text-ink"
                onClick={() => setChosen(at)}
                onDoubleClick={() => editable && setRenaming(at)}
              >
                {one.name}
              </button>
              {editable && at === index && (
                <Menu
                  align="start"
                  trigger={
                    <button
                      type="button"
                      aria-label={`More for sheet ${one.name}`}
                      className="mr-1 min-h-6 min-w-6 rounded px-1 hover:bg-wash"
                    >
                      ⋯
                    </button>
                  }
                >
                  <MenuItem onSelect={() => setRenaming(at)}>Rename</MenuItem>
                  <MenuItem
                    disabled={at === 0}
                    onSelect={() => {
                      change([{ op: 'move sheet', sheet: at, to: at - 1 }])
                      setChosen(at - 1)
                    }}
                  >
                    Move to the left
                  </MenuItem>
                  <MenuItem
                    disabled={at === store.workbook.sheets.length - 1}
                    onSelect={() => {
                      change([{ op: 'move sheet', sheet: at, to: at + 1 }])
                      setChosen(at + 1)
                    }}
                  >
                    Move to the right
                  </MenuItem>
                  <MenuRule />
                  <MenuItem
                    disabled={store.workbook.sheets.length === 1}
                    onSelect={() => change([{ op: 'remove sheet', sheet: at }])}
                  >
                    Remove (undo brings it back)
                  </MenuItem>
                </Menu>
              )}
            </div>
          ))}
          {editable && (
            <IconButton
              label="Add a sheet"
              side="top"
              className="my-auto size-7"
              onClick={() => {
                change([
                  { op: 'add sheet', at: index + 1, name: freeSheetName(store.workbook.sheets.map((one) => one.name)) },
                ])
                setChosen(index + 1)
              }}
            >
              <Plus />
            </IconButton>
          )}
          {many && <Sum store={store} index={index} block={usedPart(sheet, place.block, used.columns)} />}
        </div>
      </div>
      {menu && (
        <DropdownMenu.Root open onOpenChange={(open) => !open && setMenu(null)}>
          <DropdownMenu.Trigger asChild>
            <span className="fixed size-0" style={{ left: menu.x, top: menu.y }} />
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content align="start" className="z-50 min-w-52 rounded-md border bg-paper p-1 shadow-slip">
              {menu.about !== 'column' && insertRemove}
              {menu.about === 'cell' && <MenuRule />}
              {menu.about !== 'row' && insertRemoveColumns}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      )}
      {renaming !== null && (
        <RenameSheet
          name={store.workbook.sheets[renaming]!.name}
          others={store.workbook.sheets.filter((_, at) => at !== renaming).map((one) => one.name)}
          onClose={() => setRenaming(null)}
          onRename={(name) => {
            change([{ op: 'rename sheet', sheet: renaming, name }])
            setRenaming(null)
          }}
        />
      )}
    </>
  )
}

function freeSheetName(names: string[]): string {
  for (let number = names.length + 1; ; number++)
    if (!sheetNameFault(`Sheet ${number}`, names)) return `Sheet ${number}`
}

/** The address of the chosen cell and its entry, editable in one line. */
function EntryLine({
  address,
  entry,
  editable,
  onEntry,
  onTyping,
  onLeave,
}: {
  address: string
  entry: string
  editable: boolean
  onEntry: (entry: string) => void
  onTyping: (entry: string | null) => void
  onLeave: () => void
}) {
  const [typed, setTyped] = useState<string | null>(null)
  const given = useRef(false)
  const finish = (keep: boolean) => {
    if (typed === null || given.current) return
    given.current = true
    if (keep && typed !== entry) onEntry(typed)
    else onTyping(null)
    setTyped(null)
  }
  return (
    <div className="flex h-9 shrink-0 items-center border-b bg-paper font-mono text-[14px]">
      <span className="w-20 shrink-0 border-r px-3 leading-9" data-testid="address">
        {address}
      </span>
      <input
        aria-label={`Entry of ${address}`}
        data-entry
        className="h-full min-w-0 flex-1 bg-transparent px-3 outline-none"
        readOnly={!editable}
        value={typed ?? entry}
        spellCheck={false}
        onChange={(event) => {
          given.current = false
          setTyped(event.target.value)
          onTyping(event.target.value)
        }}
        onBlur={() => finish(true)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            finish(true)
            onLeave()
          }
          if (event.key === 'Escape') {
            finish(false)
            onLeave()
          }
        }}
      />
    </div>
  )
}

/** Count and sum of what is selected. */
function Sum({ store, index, block }: { store: ShownWorkbook; index: number; block: Block }) {
  const sheet = store.workbook.sheets[index]!
  let numbers = 0
  let filled = 0
  let sum = 0
  for (let row = block.y; row < block.y + block.height; row++) {
    const line = sheet.rows[row]
    if (!line) continue
    for (let column = block.x; column < Math.min(block.x + block.width, line.length); column++) {
      const cell = line[column]
      const value = cell?.formula === undefined ? cell?.value : store.result(index, row, column)
      if (value === undefined) continue
      filled++
      if (typeof value === 'number') {
        numbers++
        sum += value
      }
    }
  }
  return (
    <span className="ml-auto self-center whitespace-nowrap pl-4 text-[13px] text-soft">
      {filled.toLocaleString('en')} filled
      {numbers > 0 && (
        <>
          , sum <span className="font-mono">{Number(sum.toPrecision(12)).toLocaleString('en')}</span>
        </>
      )}
    </span>
  )
}

function RenameSheet({
  name,
  others,
  onRename,
  onClose,
}: {
  name: string
  others: string[]
  onRename: (name: string) => void
  onClose: () => void
}) {
  const [value, setValue] = useState(name)
  const fault = sheetNameFault(value, others)
  return (
    <Question
      title={`Rename sheet ${name}`}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!!fault} onClick={() => onRename(value)}>
            Rename
          </Button>
          <Button look="quiet" onClick={onClose}>
            Leave it
          </Button>
        </>
      }
    >
      <Field
        label="Name"
        autoFocus
        value={value}
        fault={fault}
        onChange={(event) => setValue(event.target.value)}
        onKeyDown={(event) => event.key === 'Enter' && !fault && onRename(value)}
      />
    </Question>
  )
}
