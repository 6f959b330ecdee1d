import { useState } from 'react'
import { sheetNameFault } from '../../../core/content/workbook'
import { Button, Field } from '../../design/controls'
import { Question } from '../../design/overlay'

export function RenameSheet({
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
