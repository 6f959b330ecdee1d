import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Access, MadeLink } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { LinkFields, linkOf, usualLink } from '../send/link-fields'
import { t, told, toldFields } from '../words/all'
import { sentence } from './said'

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
  const [wish, setWish] = useState(usualLink)
  const [faults, setFaults] = useState<Record<string, string>>({})
  const [busy, setBusy] = useState(false)
  const head = facts.data?.file.head
  const make = async () => {
    setBusy(true)
    try {
      onMade(await call('newLink', { params: { id: of.id }, body: { name, ...linkOf(wish, head) } }))
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
        <LinkFields wish={wish} head={head} faults={faults} onChange={setWish} />
        {faults.other && (
          <p className="text-rust" role="alert">
            {faults.other}
          </p>
        )}
      </form>
    </Question>
  )
}
