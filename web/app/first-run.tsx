import { zodResolver } from '@hookform/resolvers/zod'
import { useForm } from 'react-hook-form'
import { FirstAdministrator, type Session } from '../../core/contract'
import { sentenceOf } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { Button, Field } from '../design/controls'
import { t, told, toldFields } from '../words'

const empty = { handle: '', name: '', password: '', share: t('app.office'), code: '' }
type Values = typeof empty

/** @param coded a code is asked for, which the start command printed */
export default function FirstRun({ coded, onSignedIn }: { coded: boolean; onSignedIn: (session: Session) => void }) {
  const { register, handleSubmit, setError, formState } = useForm({
    defaultValues: empty,
    resolver: zodResolver(FirstAdministrator),
  })
  const { errors, isSubmitting } = formState
  const field = (name: keyof Values, label: string, type = 'text') => {
    const message = errors[name]?.message
    return <Field label={label} type={type} fault={message && told(sentenceOf(message))} {...register(name)} />
  }
  return (
    <form
      className="flex flex-col gap-4"
      noValidate
      onSubmit={handleSubmit(async (body) => {
        try {
          onSignedIn(await call('firstAdministrator', { body }))
        } catch (error) {
          const faults =
            error instanceof Refused ? toldFields(error.problem) : { password: t('common.this-did-not-work-try-again') }
          for (const [name, message] of Object.entries(faults)) setError(name as keyof Values, { message })
        }
      })}
    >
      <p>{t('app.this-jaula-is-new-make-its-first')}</p>
      {field('name', t('app.your-name'))}
      {field('handle', t('app.sign-in-name'))}
      {field('password', t('app.password'), 'password')}
      {field('share', t('app.first-share'))}
      {coded && field('code', t('app.code-from-the-terminal-where-jaula-was'))}
      <Button look="main" type="submit" className="h-9" disabled={isSubmitting}>
        {t('common.begin')}
      </Button>
    </form>
  )
}
