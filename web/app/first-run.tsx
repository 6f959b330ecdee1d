import { useState } from 'react'
import { FirstAdministrator, type Session } from '../../core/contract'
import { sentenceOf } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { Button, Field } from '../design/controls'
import { t, told, toldFields } from '../words'

/** @param coded a code is asked for, which the start command printed */
export default function FirstRun({ coded, onSignedIn }: { coded: boolean; onSignedIn: (session: Session) => void }) {
  const [values, setValues] = useState({ handle: '', name: '', password: '', share: t('app.office'), code: '' })
  const [faults, setFaults] = useState<Record<string, string>>({})
  const field = (key: keyof typeof values, label: string, type = 'text') => (
    <Field
      label={label}
      type={type}
      value={values[key]}
      fault={faults[key]}
      onChange={(event) => setValues({ ...values, [key]: event.target.value })}
    />
  )
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={async (event) => {
        event.preventDefault()
        const checked = FirstAdministrator.safeParse(values)
        if (!checked.success)
          return setFaults(
            Object.fromEntries(
              checked.error.issues.map((issue) => [issue.path.join('.'), told(sentenceOf(issue.message))]),
            ),
          )
        try {
          onSignedIn(await call('firstAdministrator', { body: checked.data }))
        } catch (error) {
          setFaults(
            error instanceof Refused
              ? toldFields(error.problem)
              : { password: t('common.this-did-not-work-try-again') },
          )
        }
      }}
    >
      <p>{t('app.this-jaula-is-new-make-its-first')}</p>
      {field('name', t('app.your-name'))}
      {field('handle', t('app.sign-in-name'))}
      {field('password', t('app.password'), 'password')}
      {field('share', t('app.first-share'))}
      {coded && field('code', t('app.code-from-the-terminal-where-jaula-was'))}
      <Button look="main" type="submit" className="h-9">
        {t('common.begin')}
      </Button>
    </form>
  )
}
