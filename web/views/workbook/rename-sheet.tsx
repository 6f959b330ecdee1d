import { useState } from 'react'
import { sheetNameFault } from '../../../core/content/workbook'
import { Button, Field } from '../../design/controls'
import { Question } from '../../design/overlay'
import { t, told } from '../../words/all'

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
      title={t('sheet.rename-sheet', { name })}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!!fault} onClick={() => onRename(value)}>
            {t('common.rename')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <Field
        label={t('common.name')}
        autoFocus
        value={value}
        fault={fault && told(fault)}
        onChange={(event) => setValue(event.target.value)}
        onKeyDown={(event) => event.key === 'Enter' && !fault && onRename(value)}
      />
    </Question>
  )
}
