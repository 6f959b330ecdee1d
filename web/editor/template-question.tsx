import { useQueryClient } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import type { FileFacts, PartValues, Version } from '../../core/contract'
import { splitExtension } from '../../core/naming/check'
import { readyConvention } from '../../core/naming/convention'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { conventionIn, useShareNaming } from '../places/place'
import { t, told } from '../words/all'

/** Makes a template of a saved version: its name, and which values of the file's name work begun from it keeps. */
export function TemplateQuestion({
  facts,
  version,
  onClose,
}: {
  facts: FileFacts
  version: Version
  onClose: () => void
}) {
  const client = useQueryClient()
  const [stem] = splitExtension(facts.file.name)
  const [name, setName] = useState(stem)
  const [fault, setFault] = useState('')
  const [busy, setBusy] = useState(false)
  const naming = useShareNaming(facts.file.shareId)
  const convention = conventionIn(naming.data, facts.trail)
  const ready = useMemo(
    () => (convention && naming.data ? readyConvention(convention.rules, naming.data.lists) : null),
    [convention, naming.data],
  )
  const values = ready?.parse(stem) ?? {}
  // Kinds of paper stay, dates and numbers are new each time.
  const [kept, setKept] = useState<Record<string, boolean>>({})
  const offered =
    ready?.parts.filter(
      ({ part }) => values[part.id] !== undefined && !['date', 'counter', 'file kind'].includes(part.kind),
    ) ?? []
  const keeps = (id: string) => kept[id] ?? ready?.byId.get(id)?.part.kind === 'list'
  async function make() {
    setBusy(true)
    const presets: PartValues = Object.fromEntries(
      offered.filter(({ part }) => keeps(part.id)).map(({ part }) => [part.id, values[part.id]!]),
    )
    try {
      const made = await call('newTemplate', {
        body: { versionId: version.id, name: name.trim(), conventionId: convention?.id ?? null, presets },
      })
      await client.invalidateQueries({ queryKey: keys.templates() })
      toast(t('editor.the-template-is-version-of-this-file', { madeName: made.name, number: version.number }))
      onClose()
    } catch (error) {
      setFault(error instanceof Refused ? told(error.problem) : t('common.it-could-not-be-made'))
      setBusy(false)
    }
  }
  return (
    <Question
      title={t('editor.make-a-template-of-it')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={busy || !name.trim()} onClick={make}>
            {t('editor.make-the-template')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <p className="pb-3">
        {t('editor.everybody-in-can-begin-from-version-as', { shareName: facts.share.name, number: version.number })}
      </p>
      <Field
        label={t('editor.name-of-the-template')}
        value={name}
        fault={fault}
        onChange={(event) => setName(event.target.value)}
        autoFocus
        onKeyDown={(event) => event.key === 'Enter' && void make()}
      />
      {offered.length > 0 && (
        <fieldset className="mt-3">
          <legend className="pb-1 text-[13px]">{t('editor.already-filled-in-when-a-file-begun')}</legend>
          {offered.map(({ part }) => (
            <label key={part.id} className="flex items-center gap-2 py-0.5 text-ink">
              <input
                type="checkbox"
                className="accent-accent"
                checked={keeps(part.id)}
                onChange={(event) => setKept({ ...kept, [part.id]: event.target.checked })}
              />
              {part.label} <span className="font-mono text-[14px]">{values[part.id]}</span>
            </label>
          ))}
        </fieldset>
      )}
    </Question>
  )
}
