// The page of a link, for whoever has no account: it has nothing of the rest of Jaula. The link's secret stands behind the
// sign # of the address, which browsers send to nobody.
import { type FormEvent, useCallback, useEffect, useState } from 'react'
import type { OpenedLink } from '../../core/contract'
import { useAppearance } from '../app/appearance'
import { Wordmark } from '../app/wordmark'
import { Blank, Button, Field } from '../design/controls'
import { openLink, Refused } from './ask'
import { FileShown } from './file-shown'
import { FolderShown } from './folder-shown'
import { refusal } from './refusal'
import { t } from './words'

type State =
  | { is: 'opening' }
  | { is: 'asking'; fault: string }
  | { is: 'open'; link: OpenedLink }
  | { is: 'shut'; why: string; away: boolean }

export function LinkPage() {
  useAppearance('system')
  const [state, setState] = useState<State>({ is: 'opening' })
  const open = useCallback(async (password?: string) => {
    try {
      const link = await openLink(window.location.hash.slice(1), password)
      setState({ is: 'open', link })
      document.title = link.entry.name
    } catch (error) {
      const problem = error instanceof Refused ? error.problem : null
      if (problem?.type === 'wrong-password') setState({ is: 'asking', fault: password ? refusal(error) : '' })
      else if (problem?.type === 'too-many-attempts') setState({ is: 'asking', fault: refusal(error) })
      else setState({ is: 'shut', why: refusal(error), away: !problem })
    }
  }, [])
  useEffect(() => void open(), [open])
  const link = state.is === 'open' ? state.link : null
  return (
    <div className="flex h-full flex-col">
      <header className="flex shrink-0 items-center gap-4 border-b px-4 py-3 md:px-6">
        <Wordmark />
        {link && (
          <p className="min-w-0 flex-1 truncate text-end text-[14px] text-soft">
            {t('links.from', { by: link.by, lasts: String(link.until !== null), day: new Date(link.until ?? 0) })}
          </p>
        )}
      </header>
      {state.is === 'opening' && <Blank screen waiting title={t('links.one-moment')} />}
      {state.is === 'shut' && (
        <Blank screen title={state.why}>
          {state.away && (
            <Button look="main" className="mt-3" onClick={() => void open()}>
              {t('links.try-again')}
            </Button>
          )}
        </Blank>
      )}
      {state.is === 'asking' && <AskPassword fault={state.fault} onOpen={open} />}
      {link?.entry.kind === 'file' && <FileShown link={link} file={link.entry} />}
      {link?.entry.kind === 'folder' && <FolderShown link={link} />}
    </div>
  )
}

function AskPassword({ fault, onOpen }: { fault: string; onOpen: (password: string) => Promise<void> }) {
  const [password, setPassword] = useState('')
  const [busy, setBusy] = useState(false)
  const submit = async (event: FormEvent) => {
    event.preventDefault()
    if (!password) return
    setBusy(true)
    await onOpen(password)
    setBusy(false)
  }
  return (
    <main className="grid flex-1 place-items-start justify-items-center px-4 pt-[14vh]">
      <form className="w-full max-w-sm" onSubmit={submit}>
        <h1 className="mb-5 text-[22px] font-semibold">{t('links.has-a-password')}</h1>
        <Field
          label={t('links.password')}
          type="password"
          autoComplete="off"
          autoFocus
          maxLength={200}
          value={password}
          fault={fault}
          onChange={(event) => setPassword(event.target.value)}
        />
        <Button look="main" type="submit" className="mt-4 h-9" disabled={busy || !password}>
          {t('links.open')}
        </Button>
      </form>
    </main>
  )
}
