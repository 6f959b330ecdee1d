// What the editor asks before an act whose outcome is not plain.
import type { Version } from '../../core/contract'
import { type Limit, singular } from '../../core/formats/refusals'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { count } from '../design/words'

export function LeavingQuestion({
  name,
  head,
  saved,
  keptDays,
  onSave,
  onLeave,
  onStay,
}: {
  name: string
  keptDays: number
  head: Version | null
  /** It is in a file already. */
  saved: boolean
  onSave: () => void
  onLeave: (how: 'closed' | 'let go') => void
  onStay: () => void
}) {
  return (
    <Question
      title={
        saved
          ? `${name} has changes since ${head ? `version ${head.number}` : 'its last save'}`
          : `${name} was never saved`
      }
      onClose={onStay}
      answers={
        <>
          <Button look="main" onClick={onSave}>
            {saved ? 'Save and close' : 'Name and save it'}
          </Button>
          <Button onClick={() => onLeave('closed')}>Close, keep it in Rescue</Button>
          <Button look="quiet" onClick={onStay}>
            Stay here
          </Button>
          <Button look="quiet" className="text-rust" onClick={() => onLeave('let go')}>
            Let it go
          </Button>
        </>
      }
    >
      Unsaved work is kept in Rescue for {count(keptDays, 'day')}, also when you let it go.
    </Question>
  )
}

export function LimitsQuestion({
  head,
  limits,
  onSeparately,
  onAccept,
  onClose,
}: {
  head: Version | null
  limits: readonly Limit[]
  onSeparately: () => void
  onAccept: () => void
  onClose: () => void
}) {
  const next = (head?.number ?? 0) + 1
  return (
    <Question
      title={`Version ${next} would be without these`}
      onClose={onClose}
      answers={
        <>
          <Button look="main" onClick={onSeparately}>
            Save as a separate file
          </Button>
          <Button onClick={onAccept}>Save version {next} without them</Button>
          <Button look="quiet" onClick={onClose}>
            Not now
          </Button>
        </>
      }
    >
      <ul className="mb-2 list-disc pl-5 text-ink">
        {limits.map((limit) => (
          <li key={limit.feature}>{limitInWords(limit)}</li>
        ))}
      </ul>
      Version {head?.number} keeps them and stays in the file’s versions.
    </Question>
  )
}

export function RestoringQuestion({
  version,
  newest,
  unsaved,
  onRestore,
  onClose,
}: {
  version: Version
  newest: number
  unsaved: boolean
  onRestore: () => void
  onClose: () => void
}) {
  return (
    <Question
      title={`Restore version ${version.number}?`}
      onClose={onClose}
      answers={
        <>
          <Button look="main" onClick={onRestore}>
            Restore as version {newest + 1}
          </Button>
          <Button look="quiet" onClick={onClose}>
            Not now
          </Button>
        </>
      }
    >
      It becomes the newest version, number {newest + 1}. Version {newest} and all others stay.{' '}
      {unsaved && 'Your unsaved changes are kept in Rescue.'}
    </Question>
  )
}

export const limitInWords = ({ feature, count: many, where }: Limit) =>
  `${count(many, singular(feature), feature)}${
    where.filter(Boolean).length
      ? ` (near ${where
          .filter(Boolean)
          .map((one) => `‹${one}›`)
          .join(', ')})`
      : ''
  }`
