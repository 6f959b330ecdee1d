import { useState } from 'react'
import type { HistoryVersion } from '../../../core/contract'
import { Button, Field } from '../../design/controls'
import { Question } from '../../design/overlay'

/** Under which label a version is kept. */
export function LabelQuestion({
  version,
  onSet,
  onClose,
}: {
  version: HistoryVersion
  onSet: (label: string | null) => void
  onClose: () => void
}) {
  const [label, setLabel] = useState(version.label ?? '')
  const given = label.trim()
  return (
    <Question
      title={`Keep version ${version.number}`}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!given || given === version.label} onClick={() => onSet(given)}>
            Keep it
          </Button>
          {version.label && <Button onClick={() => onSet(null)}>Take the label away</Button>}
          <Button look="quiet" onClick={onClose}>
            Leave it
          </Button>
        </>
      }
    >
      <p className="mb-3">A version with a label is never removed by retention, and is easy to find again.</p>
      <Field
        label="Label"
        autoFocus
        maxLength={100}
        placeholder="As sent to the council"
        value={label}
        onChange={(event) => setLabel(event.target.value)}
        onKeyDown={(event) => event.key === 'Enter' && given && onSet(given)}
      />
    </Question>
  )
}
