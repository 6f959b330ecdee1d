// Whoever may edit by a link says who they are, and goes on in the editor.
import { type FormEvent, useState } from 'react'
import type { LinkedEntry, OpenedLink } from '../../core/contract'
import { rememberLink } from '../app/link-brought'
import { Button, Field } from '../design/controls'
import { comeToWrite } from './ask'
import { refusal } from './refusal'
import { t } from './words'

export function ComeToWrite({ link, file, onClose }: { link: OpenedLink; file: LinkedEntry; onClose: () => void }) {
  const [name, setName] = useState('')
  const [fault, setFault] = useState('')
  const [busy, setBusy] = useState(false)
  const come = async (event: FormEvent) => {
    event.preventDefault()
    if (!name.trim()) return
    setBusy(true)
    try {
      await comeToWrite(link.id, name)
      rememberLink(`${window.location.pathname}${window.location.hash}`)
      window.location.assign(`/open/${file.id}`)
    } catch (error) {
      setFault(refusal(error))
      setBusy(false)
    }
  }
  if (link.signedInAs !== null)
    return (
      <p className="border-t bg-wash px-4 py-3 md:px-6" role="status">
        {t('links.signed-in-already', { name: link.signedInAs })}
      </p>
    )
  return (
    <form className="flex flex-wrap items-end gap-3 border-t bg-wash px-4 py-4 md:px-6" onSubmit={come}>
      <Field
        label={t('links.your-name')}
        hint={t('links.your-name-is-seen')}
        className="w-full max-w-sm"
        autoComplete="name"
        autoFocus
        maxLength={100}
        value={name}
        fault={fault}
        onChange={(event) => setName(event.target.value)}
      />
      <div className="flex gap-2 self-start pt-[26px]">
        <Button look="main" type="submit" className="h-9" disabled={busy || !name.trim()}>
          {t('links.begin-to-write')}
        </Button>
        <Button className="h-9" onClick={onClose}>
          {t('links.cancel')}
        </Button>
      </div>
    </form>
  )
}
