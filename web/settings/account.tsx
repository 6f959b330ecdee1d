// Who one is here, where one is signed in, and the password.

import { zodResolver } from '@hookform/resolvers/zod'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { NewPassword } from '../../core/contract'
import { sentenceOf } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { useSession } from '../api/signed-in'
import { Button, Field } from '../design/controls'
import { T, t, told } from '../words/all'
import { moment, size } from '../words/formats'
import { Devices } from './devices'
import { OwnName } from './own-name'
import { SecondFactorOfMine } from './second-factor'

const sentence = (error: unknown) =>
  error instanceof Refused ? told(error.problem) : t('common.this-did-not-work-try-again')

export function Account() {
  const { person, session, signOut } = useSession()
  return (
    <div className="flex flex-col gap-6">
      <div>
        <p>
          <T
            k="settings.signed-in-as-administrator"
            v={{
              personName: person.name,
              handle: person.handle,
              administrator: Boolean(person.administrator),
              span: (c) => <span className="font-mono">{c}</span>,
            }}
          />
        </p>
        <p className="mb-3 text-soft">
          {t('settings.files-up-to-can-be-kept', { largestFile: size(session.largestFile) })}
        </p>
        <Button onClick={signOut}>{t('common.sign-out')}</Button>
      </div>
      <OwnName />
      <Sessions />
      <Devices />
      <Password />
      <SecondFactorOfMine />
    </div>
  )
}

function Sessions() {
  const client = useQueryClient()
  const sessions = useQuery(queries.sessions)
  const settled = () => client.invalidateQueries({ queryKey: keys.sessions() })
  const end = useMutation({
    mutationFn: (sessionId: string) => call('endSession', { params: { sessionId } }),
    onSettled: settled,
    onError: (error) => toast(sentence(error)),
  })
  const endOthers = useMutation({
    mutationFn: () => call('endOtherSessions', {}),
    onSuccess: ({ ended }) => toast(t('settings.you-are-signed-out-of-other-browsers', { ended })),
    onSettled: settled,
    onError: (error) => toast(sentence(error)),
  })
  const list = sessions.data ?? []
  const others = list.filter(({ here }) => !here).length
  return (
    <div>
      <h3 className="font-medium">{t('settings.where-you-are-signed-in')}</h3>
      {sessions.isError && <p className="text-rust">{sentence(sessions.error)}</p>}
      <ul className="my-2 max-h-72 overflow-auto" aria-label={t('settings.where-you-are-signed-in')}>
        {list.map((one) => (
          <li key={one.id} className="flex min-h-11 items-center gap-3 border-b py-1.5 last:border-b-0">
            <span className="min-w-0 flex-1">
              <span className="block truncate">
                {one.browser}
                {one.here && <span className="ml-2 font-medium text-accent">{t('settings.here')}</span>}
              </span>
              <span className="block text-[14px] text-soft">
                {t('settings.since', { address: one.address, since: moment(one.since) })}
                {!one.here && t('settings.last-used', { usedAt: moment(one.usedAt) })}
              </span>
            </span>
            {!one.here && (
              <Button
                aria-label={t('settings.sign-out-of', { browser: one.browser })}
                disabled={end.isPending}
                onClick={() => end.mutate(one.id)}
              >
                {t('common.sign-out')}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {others > 1 && (
        <Button disabled={endOthers.isPending} onClick={() => endOthers.mutate()}>
          {t('settings.sign-out-of-the-others', { others })}
        </Button>
      )}
    </div>
  )
}

const empty = { present: '', next: '' }

function Password() {
  const client = useQueryClient()
  const { register, handleSubmit, setError, reset, formState } = useForm({
    defaultValues: empty,
    resolver: zodResolver(NewPassword),
  })
  const { errors, isSubmitting } = formState
  const change = handleSubmit(async (body) => {
    try {
      await call('changePassword', { body })
      reset(empty)
      void client.invalidateQueries({ queryKey: keys.sessions() })
      toast(t('settings.your-password-is-changed-you-are-signed'))
    } catch (error) {
      if (error instanceof Refused && error.problem.type === 'wrong-password')
        setError('present', { message: t('settings.this-is-not-your-present-password') })
      else {
        const weak = error instanceof Refused && error.problem.fields?.password
        setError('next', { message: weak ? told(weak) : sentence(error) })
      }
    }
  })
  const field = (name: keyof typeof empty, label: string, autoComplete: string) => {
    const message = errors[name]?.message
    return (
      <Field
        label={label}
        type="password"
        autoComplete={autoComplete}
        className="w-72"
        fault={message && told(sentenceOf(message))}
        {...register(name)}
      />
    )
  }
  return (
    <form
      className="flex flex-col items-start gap-3"
      aria-label={t('settings.change-the-password')}
      noValidate
      onSubmit={change}
    >
      <h3 className="font-medium">{t('settings.change-the-password')}</h3>
      {field('present', t('settings.present-password'), 'current-password')}
      {field('next', t('settings.new-password'), 'new-password')}
      <Button type="submit" disabled={isSubmitting}>
        {t('settings.change-the-password')}
      </Button>
    </form>
  )
}
