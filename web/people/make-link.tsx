import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Access, MadeLink } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Choice } from '../design/choice'
import { Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { t, told, toldFields } from '../words/all'
import { endOfDay, sentence } from './said'

type Which = 'latest' | 'this'

/** Asks what a new link is to be. */
export function MakeLink({
  of,
  onMade,
  onClose,
}: {
  of: Access['of']
  onMade: (made: MadeLink) => void
  onClose: () => void
}) {
  const facts = useQuery({
    queryKey: keys.file(of.id),
    queryFn: () => call('file', { params: { fileId: of.id } }),
    enabled: of.kind === 'file',
  })
  const [name, setName] = useState('')
  const [role, setRole] = useState<'view' | 'edit'>('view')
  const [day, setDay] = useState('')
  const [password, setPassword] = useState('')
  const [uses, setUses] = useState('')
  const [which, setWhich] = useState<Which>('latest')
  const [download, setDownload] = useState(true)
  const [faults, setFaults] = useState<Record<string, string>>({})
  const [busy, setBusy] = useState(false)
  const head = facts.data?.file.head
  const make = async () => {
    setBusy(true)
    try {
      const body = {
        name,
        role,
        until: endOfDay(day),
        password: password || null,
        uses: uses ? Number(uses) : null,
        versionId: role === 'view' && which === 'this' && head ? head.id : null,
        download,
      }
      onMade(await call('newLink', { params: { id: of.id }, body }))
    } catch (error) {
      setBusy(false)
      if (!(error instanceof Refused)) return setFaults({ other: sentence(error) })
      setFaults(error.problem.fields ? toldFields(error.problem) : { other: told(error.problem) })
    }
  }
  return (
    <Question
      title={t('people.a-link-to', { name: of.name })}
      onClose={onClose}
      answers={
        <>
          <Button look="main" type="submit" form="make-link" disabled={busy}>
            {t('people.make-the-link')}
          </Button>
          <Button onClick={onClose}>{t('common.cancel')}</Button>
        </>
      }
    >
      <form
        id="make-link"
        noValidate
        className="mt-3 flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          void make()
        }}
      >
        <Field
          label={t('people.link-for-whom')}
          hint={t('people.link-for-whom-hint')}
          autoFocus
          autoComplete="off"
          maxLength={100}
          value={name}
          fault={faults.name}
          onChange={(event) => setName(event.target.value)}
        />
        <Choice
          label={t('people.link-role-head')}
          value={role}
          choices={(['view', 'edit'] as const).map((one) => [one, t('people.link-role', { role: one })] as const)}
          onChange={setRole}
        />
        {of.kind === 'file' && head && role === 'view' && (
          <Choice
            label={t('people.link-version-head')}
            value={which}
            choices={[
              ['latest', t('people.link-latest')],
              ['this', t('people.link-this-version', { number: head.number })],
            ]}
            onChange={setWhich}
          />
        )}
        <label className="flex items-center gap-2.5 text-ink">
          <input
            type="checkbox"
            className="accent-accent"
            checked={download}
            onChange={(event) => setDownload(event.target.checked)}
          />
          {t('people.link-download')}
        </label>
        <div className="flex flex-wrap gap-4">
          <Field
            label={t('people.until-if-wished')}
            type="date"
            className="w-44"
            value={day}
            fault={faults.until}
            onChange={(event) => setDay(event.target.value)}
          />
          <Field
            label={t('people.link-uses-most')}
            type="number"
            min={1}
            max={10_000}
            className="w-44"
            value={uses}
            fault={faults.uses}
            onChange={(event) => setUses(event.target.value)}
          />
        </div>
        <Field
          label={t('people.link-password')}
          hint={t('people.link-password-hint')}
          autoComplete="off"
          maxLength={200}
          value={password}
          fault={faults.password}
          onChange={(event) => setPassword(event.target.value)}
        />
        {faults.other && (
          <p className="text-rust" role="alert">
            {faults.other}
          </p>
        )}
      </form>
    </Question>
  )
}
