import { useState } from 'react'
import type { z } from 'zod'
import type { NewGrant, Role, Subject } from '../../core/contract'
import { Choice } from '../design/choice'
import { Button, Field } from '../design/controls'
import { t } from '../words/all'
import { ChooseSubject, SubjectGlyph } from './choose-subject'
import { endOfDay, roleChoices } from './said'

export type Gift = z.input<typeof NewGrant>

/** Gives somebody, or a group, a role here, until a day if wished. */
export function Give({ onGive }: { onGive: (gift: Gift) => Promise<boolean> }) {
  const [subject, setSubject] = useState<Subject | null>(null)
  const [role, setRole] = useState<Role>('edit')
  const [day, setDay] = useState('')
  const [words, setWords] = useState('')
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
