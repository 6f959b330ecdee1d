import { useState } from 'react'
import { FirstAdministrator, type Session } from '../../core/contract'
import { call, Refused } from '../api/call'
import { Button, Field } from '../design/controls'

/** @param coded a code is asked for, which the start command printed */
export default function FirstRun({ coded, onSignedIn }: { coded: boolean; onSignedIn: (session: Session) => void }) {
  const [values, setValues] = useState({ handle: '', name: '', password: '', share: 'Office', code: '' })
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
            Object.fromEntries(checked.error.issues.map((issue) => [issue.path.join('.'), issue.message])),
          )
        try {
          onSignedIn(await call('firstAdministrator', { body: checked.data }))
        } catch (error) {
          setFaults(
            error instanceof Refused
              ? (error.problem.fields ?? { password: error.problem.title })
              : { password: 'This did not work. Try again.' },
          )
        }
      }}
    >
      <p>This Jaula is new. Make the first administrator and the first share.</p>
      {field('name', 'Your name')}
      {field('handle', 'Sign-in name')}
      {field('password', 'Password', 'password')}
      {field('share', 'First share')}
      {coded && field('code', 'Code from the terminal where Jaula was started')}
      <Button look="main" type="submit" className="h-9">
        Begin
      </Button>
    </form>
  )
}
