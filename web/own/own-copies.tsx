// Copies in folders of this computer, on the Copies screen: what each has, when it was read, what needs somebody.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Ellipsis, FolderSync } from 'lucide-react'
import { useEffect, useState } from 'react'
import { toast } from 'sonner'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Button } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { Menu, MenuItem, Question } from '../design/overlay'
import { t } from '../words/all'
import { moment } from '../words/formats'
import { allowAgain } from './choose'
import { changedOwnCopies, onOwnCopies, stepOwnCopies } from './runner'
import { dropOwnCopy, type OwnCopy, ownCopies } from './store'

const failures: Record<NonNullable<OwnCopy['failed']>, () => string> = {
  permission: () => t('own.needs-permission'),
  server: () => t('common.the-server-does-not-answer-right-now'),
  folder: () => t('own.folder-refused'),
  gone: () => t('own.is-gone'),
}
const shown = 5

export function OwnCopies() {
  const { person } = useSession()
  const client = useQueryClient()
  useEffect(() => onOwnCopies(() => void client.invalidateQueries({ queryKey: keys.ownCopies() })), [client])
  const copies = useQuery({ queryKey: keys.ownCopies(person.id), queryFn: () => ownCopies(person.id), retry: false })
  if (!copies.data?.length) return null
  return (
    <section className="mt-8 border-l-2 border-rule-strong pl-4 md:pl-5" aria-labelledby="own-copies">
      <h2 id="own-copies" className="flex items-center gap-2.5 text-[17px] font-semibold">
        <FolderSync size={18} className="shrink-0 text-soft" aria-hidden />
        {t('own.on-this-computer')}
      </h2>
      <p className="text-soft">{t('own.while-open')}</p>
      <ul className="mt-3 max-w-[880px] border-t">
        {copies.data.map((copy) => (
          <Copy key={copy.id} copy={copy} personId={person.id} />
        ))}
      </ul>
    </section>
  )
}

function Copy({ copy, personId }: { copy: OwnCopy; personId: string }) {
  const [asking, setAsking] = useState<'over' | 'stop' | null>(null)
  const [busy, setBusy] = useState(false)
  const files = [...copy.files.values()].filter(({ ended }) => !ended)
  const changed = files.filter(({ problem }) => problem === 'changed there')
  const refused = files.filter(({ problem }) => problem === 'refused')
  const step = async (how: { whole?: boolean; over?: boolean }) => {
    setBusy(true)
    await stepOwnCopies(personId, { id: copy.id }, how)
    setBusy(false)
  }
  const names = (of: typeof files) =>
    [
      ...of.slice(0, shown).map(({ path }) => path),
      ...(of.length > shown ? [t('own.and-more', { n: of.length - shown })] : []),
    ].join(', ')
  return (
    <li className="flex flex-wrap items-start gap-x-4 gap-y-1 border-b px-1 py-2.5">
      <div className="min-w-0 flex-1 basis-72">
        <p>
          <span className="font-medium [overflow-wrap:anywhere]">{copy.name}</span>{' '}
          <span className="text-soft">{t('own.in-folder', { folder: copy.folder.name })}</span>
        </p>
        <p className="text-[13.5px] text-soft" role="status">
          {busy
            ? t('own.is-read')
            : copy.at
              ? t('own.in-step', { n: files.length - changed.length - refused.length, at: moment(copy.at) })
              : t('own.never')}
        </p>
        {copy.failed && (
          <p role="alert" className="text-[13.5px] text-rust">
            {failures[copy.failed]()}
          </p>
        )}
        {changed.length > 0 && (
          <p role="alert" className="text-[13.5px] text-rust">
            {t('own.changed-there', { n: changed.length, names: names(changed) })}
          </p>
        )}
        {refused.length > 0 && (
          <p role="alert" className="text-[13.5px] text-rust">
            {t('own.refused', { n: refused.length, names: names(refused) })}
          </p>
        )}
      </div>
      {copy.failed === 'permission' && (
        <Button disabled={busy} onClick={() => void allowAgain(personId, copy.id)}>
          {t('own.allow')}
        </Button>
      )}
      {changed.length > 0 && <Button onClick={() => setAsking('over')}>{t('own.write-over')}</Button>}
      <Menu
        trigger={
          <IconButton label={t('own.more-for', { name: copy.name })}>
            <Ellipsis />
          </IconButton>
        }
      >
        <MenuItem disabled={busy} onSelect={() => void step({ whole: true })}>
          {t('own.read-again')}
        </MenuItem>
        <MenuItem onSelect={() => setAsking('stop')}>{t('own.stop')}</MenuItem>
      </Menu>
      {asking === 'over' && (
        <Question
          title={t('own.write-over-these', { n: changed.length })}
          onClose={() => setAsking(null)}
          answers={
            <>
              <Button
                look="warning"
                onClick={() => {
                  setAsking(null)
                  void step({ over: true })
                }}
              >
                {t('own.write-over')}
              </Button>
              <Button look="quiet" onClick={() => setAsking(null)}>
                {t('common.cancel')}
              </Button>
            </>
          }
        >
          <p>{t('own.what-was-changed-goes', { names: names(changed) })}</p>
        </Question>
      )}
      {asking === 'stop' && (
        <Question
          title={t('own.stop-it', { name: copy.name })}
          onClose={() => setAsking(null)}
          answers={
            <>
              <Button
                look="main"
                onClick={async () => {
                  await dropOwnCopy(copy.id)
                  changedOwnCopies()
                  toast(t('own.stopped'))
                }}
              >
                {t('own.stop')}
              </Button>
              <Button look="quiet" onClick={() => setAsking(null)}>
                {t('common.cancel')}
              </Button>
            </>
          }
        >
          <p>{t('own.files-stay', { folder: copy.folder.name })}</p>
        </Question>
      )}
    </li>
  )
}
