import { useEffect, useRef, useState } from 'react'
import { shownLooks } from '../../../core/content/looks'
import { paperWith, setUpOf } from '../../../core/content/sheet-set-up'
import { wordsOfWorkbook } from '../../../core/content/words'
import { columnName } from '../../../core/content/workbook'
import type { PaperChoices } from '../../../core/contract'
import { dialectAsText, typeReadAs } from '../../../core/formats/csv/said'
import { familyOf, typeOfWork } from '../../../core/formats/types'
import { sheetWith } from '../../../core/paper/choices'
import type { WorkbookEdit } from '../../../core/recovery/replay'
import { type Command, useOffer } from '../../design/commands'
import { InStepNotice } from '../../views/in-step'
import { settleEvent } from '../../views/workbook/entry-field'
import { SheetView, selectedCells } from '../../views/workbook/sheet-view'
import { WorkbookStore } from '../../views/workbook/store'
import { t } from '../../words/all'
import type { Selected } from '../../work/content'
import type { BodyProps } from '../body'
import { ListDoubts, ListReading } from './list-reading'
import { SideListsOf } from './side-lists'
import { SlowOpening } from './slow-opening'
import { takeInWorkbook } from './take-in'
import { ThenSheets } from './then-sheets'
import { useReading } from './use-reading'

/** The spreadsheet editor: tools, entry line, grid, sheets. */
export function WorkbookBody({
  opening,
  session,
  editable,
  looking,
  onThen,
  slip,
  onUnseen,
  onDamaged,
  onCarried,
  onGap,
  readAs,
  onReadAnew,
}: BodyProps) {
  const [store] = useState(() => new WorkbookStore((edit, how) => session.record(edit, how)))
  const [ready, setReady] = useState(false)
  const [reading, setReading] = useState(false)
  const [certain, setCertain] = useState(false)
  const [beside, setBeside] = useState(false)
  const chosen = useRef<Selected | null>(null)
  useReading(store, session, ready ? readAs : undefined, onReadAnew)
  const grid = useRef<(() => void) | null>(null)

  // biome-ignore lint/correctness/useExhaustiveDependencies: read once for each opening, which has a body and a store of its own
  useEffect(() => {
    let gone = false
    // Before that the workbook is empty, which is nothing to lay a moment beside.
    let isRead = false
    void store
      .open(
        opening.bytes?.slice() ?? null,
        opening.records,
        opening.beginning.continued?.model ?? null,
        typeReadAs(
          typeOfWork(opening.beginning.file?.name ?? null, 'spreadsheet'),
          opening.beginning.file?.readAs ?? null,
        ),
      )
      .then((read) => {
        if (gone) return
        if ('damaged' in read) return onDamaged(read.damaged)
        if (read.opened.carried) return onCarried(read.opened.carried)
        onUnseen(read.opened.limits.filter(({ feature }) => !shownLooks.has(feature)))
        if (read.opened.replay?.lostFrom) onGap(read.opened.replay.lostFrom)
        isRead = true
        setReady(true)
        void store.stands().then((model) => model && !gone && session.standsOn(model))
      })
    session.attach({
      settle: finishEntry,
      encode: (as) => store.encode(as ?? { type: typeOfWork(session.state.file?.name ?? null, 'spreadsheet') }),
      listAs: () => (store.csv ? dialectAsText(store.csv.dialect) : null),
      show: ([sheet, row, column]) => {
        store.reveal?.(sheet!, row!, column!)
        grid.current?.()
      },
      // Work that is only put aside may still be saved.
      release: () => store.close(),
      follow: (edit) => store.follow(edit as WorkbookEdit),
      takeIn: (base, theirs, part, adopted, apply) =>
        takeInWorkbook(
          store,
          base,
          theirs,
          part,
          adopted,
          (sheet, row, column) => store.reveal?.(sheet, row, column),
          apply,
        ),
      entering: () => store.entering,
      place: () => {
        const at = chosen.current
        return at?.kind === 'cells' ? `${at.sheetName} ${columnName(at.column)}${at.row + 1}` : ''
      },
      present: () => (isRead ? { state: store.workbook, results: store.allResults, token: store.workbook } : null),
      selected: () => chosen.current,
      onPaper: async (only, selected) => {
        const at = chosen.current
        if (selected && at?.kind === 'cells') {
          const { top, left, bottom, right } = at.range
          const sheets = await store.shown(at.sheet)
          return {
            kind: 'sheets',
            sheets: sheets.map((sheet) => ({
              ...sheet,
              paper: { ...sheet.paper, areas: [{ top, left, bottom, right }] },
            })),
            others: store.workbook.sheets.length - 1,
            about: store.workbook.about,
          }
        }
        const sheets = await store.shown(only ? (at?.kind === 'cells' ? at.sheet : 0) : null)
        return { kind: 'sheets', sheets, others: store.workbook.sheets.length - 1, about: store.workbook.about }
      },
      ...(familyOf(typeOfWork(session.state.file?.name ?? null, 'spreadsheet')) === 'xlsx' && {
        setPages: (choices: PaperChoices) => {
          const at = chosen.current?.kind === 'cells' ? chosen.current.sheet : 0
          const sheet = store.workbook.sheets[at]
          if (!sheet) return
          const paper = paperWith(store.paperOf(at), sheet.setUp)
          store.change([{ op: 'set up', sheet: at, setUp: setUpOf(sheetWith(paper, choices)), was: setUpOf(paper) }])
        },
      }),
      about: () => (isRead ? (store.workbook.about ?? null) : undefined),
      setAbout: (about, begins) => store.change([{ op: 'about', about }], begins),
      notOnPaper: () => store.notOnPaper(),
      resting: () => {
        const at = chosen.current
        if (at?.kind !== 'cells') return null
        const { left, top, right, bottom } = at.range
        return [at.sheet, left, top, right - left + 1, bottom - top + 1]
      },
      focus: () => grid.current?.(),
      bringBack: (change) => {
        if (!('ops' in change)) return
        store.change(change.ops)
        const cells = change.ops.find((op) => op.op === 'cells')
        const first = cells?.op === 'cells' ? cells.cells[0] : undefined
        // The grid is drawn first.
        requestAnimationFrame(() => first && cells && store.reveal?.(cells.sheet, first.row, first.column))
      },
      opening: () => store.opening(),
      clues: () => wordsOfWorkbook(store.workbook, 20_000),
    })
    return () => {
      gone = true
    }
  }, [])
  const { file, head } = session.state
  const mayBeside = ready && editable && !store.csv && !!file && !!head
  const offered: Command[] = [
    { id: 'side lists', label: t('list.lists-beside-it'), group: t('common.this-file'), run: () => setBeside(true) },
  ]
  useOffer(mayBeside ? offered : [])
  if (!ready) return <SlowOpening store={store} size={opening.bytes?.length ?? 0} mayStop={!opening.records?.length} />
  const fileId = opening.beginning.file?.id
  const family = familyOf(typeOfWork(session.state.file?.name ?? null, 'spreadsheet'))
  const mayFilter = /^(?:xlsx|ods)$/.test(family)
  const mayReadAnew = editable && !!store.csv && !!fileId
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      {mayReadAnew && !looking && !certain && (
        <ListDoubts
          store={store}
          fileId={fileId}
          onSay={() => setReading(true)}
          onDone={() => {
            setCertain(true)
            grid.current?.()
          }}
        />
      )}
      {store.csv && fileId && !looking && <InStepNotice fileId={fileId} />}
      {beside && mayBeside && (
        <SideListsOf
          file={file}
          sheets={store.workbook.sheets.map(({ name }) => name)}
          number={head.number}
          unsaved={session.unsaved}
          onClose={() => setBeside(false)}
        />
      )}
      {reading && mayReadAnew && (
        <ListReading
          store={store}
          fileId={fileId}
          unsaved={session.unsaved}
          onRead={onReadAnew}
          onClose={() => setReading(false)}
        />
      )}
      <div className="flex min-h-0 flex-1">
        {looking ? (
          <>
            {slip}
            <ThenSheets looking={looking} onThen={onThen} />
          </>
        ) : (
          <SheetView
            key="now"
            store={store}
            editable={editable}
            slip={slip}
            onPlace={(sheet, place) => {
              chosen.current = selectedCells(store, sheet, place)
              session.moved()
            }}
            rested={session.restedAt}
            onFocus={(focus) => {
              grid.current = focus
            }}
            mayFilter={mayFilter}
            mayRule={mayFilter && (family === 'ods' ? 'near' : 'everywhere')}
            onWrittenAs={mayReadAnew ? () => setReading(true) : undefined}
          />
        )}
      </div>
    </div>
  )
}

/** Takes an entry that is still in its field into the sheet, as Enter would. */
export function finishEntry(): void {
  document.querySelector('textarea[data-cell-entry]')?.dispatchEvent(new Event(settleEvent))
  const line = document.activeElement
  if (line instanceof HTMLInputElement && 'entry' in line.dataset) line.blur()
}
