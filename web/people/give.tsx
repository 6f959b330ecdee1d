import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { z } from 'zod'
import type { NewGrant, Role, Subject } from '../../core/contract'
import { queries } from '../api/queries'
import { useSession } from '../api/signed-in'
import { Choice } from '../design/choice'
import { Button, Field } from '../design/controls'
import { t } from '../words/all'
import { endOfDay } from '../words/formats'
import { ChooseSubject, SubjectGlyph } from './choose-subject'
import { roleChoices } from './said'

export type Gift = z.input<typeof NewGrant>

/** Gives somebody, or a group, a role here, until a day if wished. */
export function Give({ onGive }: { onGive: (gift: Gift) => Promise<boolean> }) {
  const [subject, setSubject] = useState<Subject | null>(null)
  const [role, setRole] = useState<Role>('edit')
  const [day, setDay] = useState('')
  const [words, setWords] = useState('')
  const [byMail, setByMail] = useState(true)
  const { session } = useSession()
  const directory = useQuery(queries.directory)
  const reached = session.mail !== null && !!directory.data?.people.find(({ id }) => id === subject?.id)?.byMail
  if (!subject)
    return (
      <div className="mt-3 max-w-md">
        <ChooseSubject label={t('people.give-to')} onChoose={setSubject} />
      </div>
    )
  const until = endOfDay(day)
  const over = until !== null && new Date(until) < new Date()
  return (
    <form
      className="mt-3 flex flex-wrap items-start gap-3 rounded-md bg-wash px-4 py-3"
      aria-label={t('people.give-to-somebody', { name: subject.name })}
      onSubmit={async (event) => {
        event.preventDefault()
        const gift = {
          subject: subject.kind === 'person' ? { personId: subject.id } : { groupId: subject.id },
          role,
          until,
          words,
          byMail: reached && byMail,
        }
        if (over || !(await onGive(gift))) return
        setSubject(null)
        setWords('')
      }}
    >
      <p className="flex min-w-40 flex-1 items-center gap-2 self-end pb-2 font-medium">
        <SubjectGlyph kind={subject.kind} /> {subject.name}
      </p>
      <Choice label={t('people.role-head')} value={role} choices={roleChoices} onChange={setRole} />
      <Field
        label={t('people.until-if-wished')}
        type="date"
        className="w-44"
        value={day}
        fault={over ? t('people.this-day-is-over') : ''}
        onChange={(event) => setDay(event.target.value)}
      />
      <Field
        label={t('people.sentence-if-wished')}
        className="w-full basis-full"
        maxLength={1000}
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      {reached && (
        <label className="flex basis-full items-center gap-2">
          <input
            type="checkbox"
            className="accent-accent"
            checked={byMail}
            onChange={(event) => setByMail(event.target.checked)}
          />
          {t('people.tell-by-mail', { name: subject.name })}
        </label>
      )}
      <div className="flex gap-2">
        <Button look="main" type="submit" className="h-9" autoFocus>
          {t('people.give')}
        </Button>
        <Button className="h-9" onClick={() => setSubject(null)}>
          {t('common.cancel')}
        </Button>
      </div>
    </form>
  )
}
