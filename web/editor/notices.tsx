// What the editor has to say above the work, each until it is seen to.
import { Link } from 'react-router'
import type { Problem, Version } from '../../core/contract'
import type { Limit } from '../../core/formats/refusals'
import { Button, Notice } from '../design/controls'
import { count, moment } from '../design/words'
import { beyondInWords } from '../work/pieces'
import type { SessionState } from '../work/session'
import { limitInWords } from './questions'

export function ElsewhereNotice({ onHere }: { onHere: () => void }) {
  return (
    <Notice actions={<Button onClick={onHere}>Write here instead</Button>}>
      This work is open in another tab of this browser, which keeps it. Here you see it as it grows; when that tab is
      gone, you go on here.
    </Notice>
  )
}

/** Somebody went on with this work elsewhere: this page writes no more, and what only it had is a piece of its own. */
export function TakenNotice({
  taken: { by, fork },
  onHere,
}: {
  taken: NonNullable<SessionState['taken']>
  onHere: () => void
}) {
  return (
    <Notice
      tone="alarm"
      actions={
        <>
          <Button onClick={onHere}>Write here instead</Button>
          {fork && (
            <Link to={`/rescue/${fork.id}`} className="inline-flex h-8 items-center px-2 text-accent underline">
              Look at what was only here
            </Link>
          )}
        </>
      }
    >
      <span data-testid="taken">
        You went on with this work {by ? `on ${by}` : 'in another tab of this browser'}, so nothing more is written
        here.{' '}
        {fork && `What only this page had (${beyondInWords(fork.beyond)}) is kept apart, and can be taken in there.`}
      </span>
    </Notice>
  )
}

/** @param ahead of the server's clock, in milliseconds; negative when behind */
export function ClockNotice({ ahead }: { ahead: number }) {
  const minutes = Math.round(Math.abs(ahead) / 60_000)
  return (
    <Notice tone="alarm">
      This device’s clock is {minutes} {minutes === 1 ? 'minute' : 'minutes'} {ahead > 0 ? 'fast' : 'slow'}, so the
      times shown for your work are wrong by as much. Your work is protected all the same; set the clock to put this
      right.
    </Notice>
  )
}

export function GapNotice({ lostFrom, onSeen }: { lostFrom: number; onSeen: () => void }) {
  return (
    <Notice tone="alarm" actions={<Button onClick={onSeen}>I have seen it</Button>}>
      The journal is damaged after change {lostFrom - 1}. Everything before that is here; what came after could not be
      read.
    </Notice>
  )
}

export function RecoveredNotice({
  lastEditAt,
  from,
  head,
  saved,
  edits,
  missing,
  lostFrom,
  onSeparately,
  onSeen,
}: {
  lastEditAt: string | null
  from: 'device' | 'shared storage' | null
  head: Version | null
  saved: boolean
  /** How many edits are here. */
  edits: number
  /** Edits that are known to have been made and are not here. */
  missing: { edits: number; deviceName: string } | null
  lostFrom: number | null
  onSeparately: () => void
  onSeen: () => void
}) {
  return (
    <Notice
      tone={missing ? 'alarm' : undefined}
      actions={
        <>
          {saved && <Button onClick={onSeparately}>Keep as a separate file</Button>}
          <Button look="quiet" onClick={onSeen}>
            Good
          </Button>
        </>
      }
    >
      You go on with unsaved work of {lastEditAt ? moment(lastEditAt) : 'before'}, from{' '}
      {from === 'device' ? 'this device' : 'shared storage'}.{' '}
      {missing
        ? `${count(missing.edits, 'later edit')} ${missing.edits === 1 ? 'is' : 'are'} on ${missing.deviceName} only: what of it comes back is offered to be taken in.`
        : lostFrom === null
          ? `All ${count(edits, 'edit')} that are known of it are here.`
          : ''}{' '}
      {head && `Version ${head.number} stays as it is until you save.`}
    </Notice>
  )
}

/** What is known to have been written beyond the version that is open here, and is on another device only. */
export function MissingNotice({ missing: { edits, deviceName } }: { missing: { edits: number; deviceName: string } }) {
  return (
    <Notice tone="alarm">
      <span data-testid="missing">
        {count(edits, 'edit')} {edits === 1 ? 'is' : 'are'} on {deviceName} only, beyond this version. What of it comes
        back is offered to be taken in.
      </span>
    </Notice>
  )
}

export function LimitsNotice({ limits, onSeen }: { limits: readonly Limit[]; onSeen: () => void }) {
  return (
    <Notice
      actions={
        <Button look="quiet" onClick={onSeen}>
          Good to know
        </Button>
      }
    >
      This file holds more than Jaula can keep when it is saved: {limits.map(limitInWords).join('; ')}. The version that
      came in stays as it was.
    </Notice>
  )
}

export function RefusalNotice({
  refusal,
  onMerge,
  onSaveOnTop,
  onSeparately,
}: {
  refusal: Problem
  onMerge: () => void
  onSaveOnTop: (head: Version) => void
  onSeparately: () => void
}) {
  return (
    <Notice
      tone="alarm"
      actions={
        <>
          {refusal.head && (
            <Button look="main" onClick={onMerge}>
              Merge the two and save
            </Button>
          )}
          {refusal.head && (
            <Button onClick={() => onSaveOnTop(refusal.head!)}>Save mine as version {refusal.head.number + 1}</Button>
          )}
          <Button onClick={onSeparately}>Save as a separate file</Button>
        </>
      }
    >
      {refusal.title}{' '}
      {refusal.head
        ? `Your work is not saved yet, and nothing is overwritten: ${refusal.head.author.name}’s version stays in the file’s versions whatever you choose.`
        : 'Your work is kept on this device.'}
    </Notice>
  )
}

export function NewerNotice({
  newer,
  own,
  mine,
  unsaved,
  onShow,
  onTakeIn,
}: {
  newer: Version
  /** Saved by the same person, on another device or in another tab. */
  own: boolean
  mine: Version | null
  unsaved: boolean
  onShow: () => void
  onTakeIn: () => void
}) {
  return (
    <Notice
      actions={unsaved ? <Button onClick={onTakeIn}>Take it in</Button> : <Button onClick={onShow}>Show it</Button>}
    >
      {own ? `You saved version ${newer.number} elsewhere` : `${newer.author.name} saved version ${newer.number}`},{' '}
      {moment(newer.at)}. Saving merges it with your work on version {mine?.number}.
    </Notice>
  )
}
