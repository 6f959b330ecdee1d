import { useState } from 'react'
import type { HistoryVersion } from '../../../core/contract'
import { Button, Field } from '../../design/controls'
import { Question } from '../../design/overlay'
import { t } from '../../words/all'

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
      title={t('lifeline.keep-version', { number: version.number })}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!given || given === version.label} onClick={() => onSet(given)}>
            {t('lifeline.keep-it')}
          </Button>
          {version.label && <Button onClick={() => onSet(null)}>{t('lifeline.take-the-label-away')}</Button>}
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <p className="mb-3">{t('lifeline.a-version-with-a-label-is-never')}</p>
      <Field
        label={t('common.label')}
        autoFocus
        maxLength={100}
        placeholder={t('lifeline.as-sent-to-the-council')}
        value={label}
        onChange={(event) => setLabel(event.target.value)}
        onKeyDown={(event) => event.key === 'Enter' && given && onSet(given)}
      />
    </Question>
  )
}
