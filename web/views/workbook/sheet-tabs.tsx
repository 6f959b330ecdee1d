// The sheets of a workbook along its foot: gone to, named, moved, added and removed.
import { Plus } from 'lucide-react'
import { type ReactNode, useState } from 'react'
import { sheetNameFault } from '../../../core/content/workbook'
import type { WorkbookOp } from '../../../core/content/workbook-ops'
import { IconButton } from '../../design/icon-button'
import { Menu, MenuItem, MenuRule } from '../../design/overlay'
import { t } from '../../words/all'
import { RenameSheet } from './rename-sheet'
import type { ShownWorkbook } from './still'

export function SheetTabs({
  store,
  index,
  editable,
  change,
  staying = () => false,
  onChoose,
  children,
}: {
  store: ShownWorkbook
  /** The sheet that is shown. */
  index: number
  editable: boolean
  change: (ops: WorkbookOp[]) => void
  /** Whether the keyboard stays where it is while another sheet is gone to. */
  staying?: () => boolean
  onChoose: (sheet: number) => void
  /** What stands at the end of the line. */
  children: ReactNode
}) {
  const [renaming, setRenaming] = useState<number | null>(null)
  return (
    <>
      <div className="flex h-9 shrink-0 items-stretch gap-px overflow-x-auto border-t bg-paper px-2">
        {/* The sheets alone are its tabs; what else stands among them is not. */}
        <div
          role="tablist"
          aria-label={t('sheet.sheets')}
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
              onPointerDown={(event) => staying() && event.preventDefault()}
              onMouseDown={(event) => staying() && event.preventDefault()}
              onClick={() => onChoose(at)}
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
                    aria-label={t('sheet.more-for-sheet', { oneName: one.name })}
                    className="mr-1 min-h-6 min-w-6 rounded px-1 hover:bg-wash"
                  >
                    ⋯
                  </button>
                }
              >
                <MenuItem onSelect={() => setRenaming(at)}>{t('common.rename')}</MenuItem>
                <MenuItem
                  disabled={at === 0}
                  onSelect={() => {
                    change([{ op: 'move sheet', sheet: at, to: at - 1 }])
                    onChoose(at - 1)
                  }}
                >
                  {t('sheet.move-to-the-left')}
                </MenuItem>
                <MenuItem
                  disabled={at === store.workbook.sheets.length - 1}
                  onSelect={() => {
                    change([{ op: 'move sheet', sheet: at, to: at + 1 }])
                    onChoose(at + 1)
                  }}
                >
                  {t('sheet.move-to-the-right')}
                </MenuItem>
                <MenuRule />
                <MenuItem
                  disabled={store.workbook.sheets.length === 1}
                  onSelect={() => change([{ op: 'remove sheet', sheet: at }])}
                >
                  {t('sheet.remove-undo-brings-it-back')}
                </MenuItem>
              </Menu>
            )}
          </div>
        ))}
        {editable && (
          <IconButton
            label={t('sheet.add-a-sheet')}
            side="top"
            className="my-auto size-7"
            onClick={() => {
              change([
                { op: 'add sheet', at: index + 1, name: freeSheetName(store.workbook.sheets.map((one) => one.name)) },
              ])
              onChoose(index + 1)
            }}
          >
            <Plus />
          </IconButton>
        )}
        {children}
      </div>
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
    if (!sheetNameFault(t('sheet.sheet', { number }), names)) return t('sheet.sheet', { number })
}
