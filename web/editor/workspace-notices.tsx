// Everything that the editor has to say above the work: one line each, the gravest first.

import { useEffect, useState } from 'react'
import { toast } from 'sonner'
import type { Limit } from '../../core/formats/refusals'
import { isPage, isReadOnly, typeOfName } from '../../core/formats/types'
import { saidBy } from '../../core/words/said'
import { useSession } from '../api/signed-in'
import { Notice } from '../design/controls'
import { t, told } from '../words/all'
import { onJournal } from '../work/journal'
import type { useMerging } from '../work/merging'
import type { Opening } from '../work/opening'
import { PartedNotices, usePartedPieces } from '../work/parted'
import type { DraftSession } from '../work/session'
import type { SessionOutline } from '../work/session-state'
import { ChoiceBar } from './choice-bar'
import {
  ClockNotice,
  ElsewhereNotice,
  GapNotice,
  LostNotice,
  MissingNotice,
  NewerNotice,
  ReadOnlyNotice,
  RecoveredNotice,
  RefusalNotice,
  TakenNotice,
  UnseenNotice,
} from './notices'
import type { OpenFile } from './use-file'
import type { Filing } from './use-filing'

export function WorkspaceNotices({
  session,
  state,
  file,
  opening,
  filing,
  merging: { merging, choices, settle, takeIn, takeInParted, saveMerging },
  editable,
  looking,
  gap,
  unseen,
  flows,
  onGapSeen,
  onHere,
  onShowNewer,
}: {
  session: DraftSession
  state: SessionOutline
  file: OpenFile
  opening: Opening
  filing: Filing
  merging: ReturnType<typeof useMerging>
  editable: boolean
  looking: boolean
  /** The record from which on nothing could be read; null when all was. */
  gap: number | null
  /** What the file holds and the editor does not show. */
  unseen: readonly Limit[]
  /** What is newer flows in by itself. */
  flows: boolean
  onGapSeen: () => void
  /** The work is to be written here, whoever has it. */
  onHere: () => void
  onShowNewer: () => void
}) {
  const { person } = useSession()
  const [recovered, setRecovered] = useState(opening.recoveredFrom !== null)
  const [unseenTold, setUnseenTold] = useState(false)
  const [clockAhead, setClockAhead] = useState(0)
  useEffect(() => onJournal((message) => message.say === 'clock' && setClockAhead(message.ahead)), [])
  const parted = usePartedPieces(state.draftId, file.fileId)
  const { newer } = file
  const type = typeOfName(state.file?.name ?? '')
  const separately = () => filing.openSlip('separate')
  return (
    <>
      {clockAhead !== 0 && <ClockNotice ahead={clockAhead} />}
      {state.elsewhere && <ElsewhereNotice onHere={onHere} />}
      {state.taken && <TakenNotice taken={state.taken} onHere={onHere} />}
      {editable && !looking && <PartedNotices pieces={parted} takeIn={(work) => takeInParted(work)} />}
      {!state.refusal && (file.lost || (file.role === 'view' && session.unsaved)) && !filing.isOpen && (
        <LostNotice lowered={!file.lost} onSeparately={person.guestOf === undefined ? separately : null} />
      )}
      {file.role === 'view' && !file.lost && !session.unsaved && (
        <Notice>{t('editor.you-may-look-at-this-file-not')}</Notice>
      )}
      {gap !== null && <GapNotice lostFrom={gap} onSeen={onGapSeen} />}
      {!recovered && opening.missing && parted.length === 0 && <MissingNotice missing={opening.missing} />}
      {recovered && (
        <RecoveredNotice
          lastEditAt={opening.beginning.continued?.lastEditAt ?? null}
          from={opening.recoveredFrom}
          head={state.head}
          saved={!!state.file}
          edits={opening.beginning.continued?.lines.length ?? 0}
          // What has come since is offered by itself.
          missing={parted.length ? null : (opening.missing ?? null)}
          lostFrom={gap}
          onSeparately={separately}
          onSeen={() => setRecovered(false)}
        />
      )}
      {isReadOnly(type) && editable && !unseenTold && (
        <ReadOnlyNotice type={type} limits={unseen} onSeen={() => setUnseenTold(true)} />
      )}
      {unseen.length > 0 && editable && !unseenTold && !isReadOnly(type) && (
        <UnseenNotice limits={unseen} stays={!isPage(type)} onSeen={() => setUnseenTold(true)} />
      )}
      {!!choices?.list.length && !looking && (
        <ChoiceBar choices={choices.list} whose={choices.whose} onSettled={settle} />
      )}
      {state.refusal && state.refusal.type !== 'signed-out' && !filing.isOpen && !merging && !flows && (
        <RefusalNotice
          refusal={state.refusal}
          onMerge={() => void saveMerging().catch((error: Error) => toast.error(told(saidBy(error))))}
          onSaveOnTop={filing.saveOnTop}
          onSeparately={separately}
        />
      )}
      {newer && !flows && !state.refusal && (newer.author.id !== person.id || !session.state.reach.waitingSave) && (
        <NewerNotice
          own={newer.author.id === person.id}
          newer={newer}
          mine={state.head}
          unsaved={session.unsaved}
          onShow={onShowNewer}
          onTakeIn={() => void takeIn(newer)}
        />
      )}
    </>
  )
}
