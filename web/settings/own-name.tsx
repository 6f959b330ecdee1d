import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { toast } from 'sonner'
import { MailAddress, PersonName, Settings } from '../../core/contract'
import { initialsOf } from '../../core/naming/convention'
import { sentenceOf } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Button, Field } from '../design/controls'
import { t, told } from '../words/all'

const faultOf = (result: { error?: { issues: readonly { message: string }[] } | undefined }): string => {
  const message = result.error?.issues[0]?.message
  return message ? told(sentenceOf(message)) : ''
}

/** One's name, and the initials that names of files have of it. */
export function OwnName() {
  const client = useQueryClient()
  const { person, settings } = useSession()
  const [name, setName] = useState(person.name)
  const [initials, setInitials] = useState(settings.initials)
  const [mail, setMail] = useState(person.mail ?? '')
  // They may come after the form is there, and be changed elsewhere.
  useEffect(() => setInitials(settings.initials), [settings.initials])
  useEffect(() => setName(person.name), [person.name])
  useEffect(() => setMail(person.mail ?? ''), [person.mail])
  const nameFault = faultOf(PersonName.safeParse(name))
  const mailFault = mail.trim() ? faultOf(MailAddress.safeParse(mail)) : ''
  const initialsFault = faultOf(Settings.shape.initials.safeParse(initials))
  const keep = useMutation({
    mutationFn: async () => {
      if (initials !== settings.initials)
        client.setQueryData(keys.settings(), await call('setSettings', { body: { ...settings, initials } }))
      if (name.trim() !== person.name || mail.trim() !== (person.mail ?? '')) {
        const body = { name, mail: mail.trim() || null }
        client.setQueryData(keys.session(), await call('changeMyName', { body }))
        await client.invalidateQueries()
      }
    },
    onSuccess: () => toast(t('settings.name-kept')),
    onError: (error) =>
      toast.error(error instanceof Refused ? told(error.problem) : t('common.this-did-not-work-try-again')),
  })
  const changed = name.trim() !== person.name || initials !== settings.initials || mail.trim() !== (person.mail ?? '')
  const wrong = !!nameFault || !!initialsFault || !!mailFault
  return (
    <form
      className="flex flex-col items-start gap-3"
      aria-label={t('settings.name-and-initials')}
      noValidate
      onSubmit={(event) => {
        event.preventDefault()
        if (changed && !wrong) keep.mutate()
      }}
    >
      <h3 className="font-medium">{t('settings.name-and-initials')}</h3>
      <Field
        label={t('settings.your-name')}
        autoComplete="name"
        className="w-72"
        value={name}
        fault={nameFault}
        onChange={(event) => setName(event.target.value)}
      />
      <Field
        label={t('settings.your-initials')}
        autoComplete="off"
        className="w-72"
        value={initials}
        fault={initialsFault}
        hint={t('settings.by-your-name', { initials: initialsOf(name) })}
        onChange={(event) => setInitials(event.target.value.toUpperCase())}
      />
      <Field
        label={t('settings.your-mail')}
        type="email"
        autoComplete="email"
        className="w-72"
        value={mail}
        fault={mailFault}
        hint={t('settings.your-mail-hint')}
        onChange={(event) => setMail(event.target.value)}
      />
      <Button type="submit" disabled={!changed || wrong || keep.isPending}>
        {t('settings.keep-it')}
      </Button>
    </form>
  )
}
