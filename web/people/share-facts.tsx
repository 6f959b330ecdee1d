import { useState } from 'react'
import type { Share } from '../../core/contract'
import { call } from '../api/call'
import { Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { t } from '../words/all'

/** What a share is called and for; its managers change it, and archive it. */
export function ShareFacts({
  share,
  mayManage,
  tried,
}: {
  share: Share
  mayManage: boolean
  tried: (what: () => Promise<unknown>) => Promise<boolean>
}) {
  const [editing, setEditing] = useState<{ name: string; description: string } | null>(null)
  const [archiving, setArchiving] = useState(false)
  const params = { shareId: share.id }
  const archive = (archived: boolean) => tried(() => call('archiveShare', { params, body: { archived } }))
  if (!mayManage) return share.description ? <p className="mt-2 max-w-2xl">{share.description}</p> : null
  return (
    <>
      {editing ? (
        <form
          className="mt-4 flex max-w-xl flex-col gap-3"
          aria-label={t('people.name-and-purpose')}
          onSubmit={async (event) => {
            event.preventDefault()
            if (await tried(() => call('changeShare', { params, body: editing }))) setEditing(null)
          }}
        >
          <Field
            label={t('people.name')}
            autoFocus
            value={editing.name}
            onChange={(event) => setEditing({ ...editing, name: event.target.value })}
          />
          <Field
            label={t('people.what-it-is-for')}
            value={editing.description}
            onChange={(event) => setEditing({ ...editing, description: event.target.value })}
          />
          <div className="flex gap-2">
            <Button look="main" type="submit" disabled={!editing.name.trim()}>
              {t('people.save-this')}
            </Button>
            <Button onClick={() => setEditing(null)}>{t('common.cancel')}</Button>
          </div>
        </form>
      ) : (
        <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2">
          <p className={share.description ? 'max-w-2xl' : 'text-soft'}>
            {share.description || t('people.no-purpose-yet')}
          </p>
          <span className="flex gap-2">
            <Button onClick={() => setEditing({ name: share.name, description: share.description })}>
              {t('people.name-and-purpose')}
            </Button>
            {share.archived ? (
              <Button onClick={() => void archive(false)}>{t('people.open-again')}</Button>
            ) : (
              <Button onClick={() => setArchiving(true)}>{t('people.archive')}</Button>
            )}
          </span>
        </div>
      )}
      {archiving && (
        <Question
          title={t('people.archive-share', { name: share.name })}
          onClose={() => setArchiving(false)}
          answers={
            <>
              <Button
                look="main"
                onClick={() => {
                  setArchiving(false)
                  void archive(true)
                }}
              >
                {t('people.archive')}
              </Button>
              <Button onClick={() => setArchiving(false)}>{t('common.cancel')}</Button>
            </>
          }
        >
          {t('people.only-managers-change-anything-then')}
        </Question>
      )}
    </>
  )
}
