import { useState } from 'react'
import { toast } from 'sonner'
import type { Access } from '../../core/contract'
import { call } from '../api/call'
import { Choice } from '../design/choice'
import { Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { t } from '../words/all'
import { roleWords } from './said'

/** Asks who manages a place for more than one may do there. */
export function AskForMore({
  access: { of, role },
  tried,
}: {
  access: Access
  tried: (what: () => Promise<unknown>) => Promise<boolean>
}) {
  const [open, setOpen] = useState(false)
  const [words, setWords] = useState('')
  const more = (['edit', 'manage'] as const).filter((one) => one !== role)
  const [wanted, setWanted] = useState<'edit' | 'manage'>(more[0]!)
  const ask = async () => {
    const body = { role: wanted, words }
    if (!(await tried(() => call('askForMore', { params: { id: of.id }, body })))) return
    setOpen(false)
    toast(t('people.asked'))
  }
  return (
    <>
      <Button className="mt-3" onClick={() => setOpen(true)}>
        {t('people.ask-for-more')}
      </Button>
      {open && (
        <Question
          title={t('people.ask-for-more-in', { name: of.name })}
          onClose={() => setOpen(false)}
          answers={
            <>
              <Button look="main" type="submit" form="ask-for-more">
                {t('people.ask')}
              </Button>
              <Button onClick={() => setOpen(false)}>{t('common.cancel')}</Button>
            </>
          }
        >
          <p className="mb-3">{t('people.who-manages-it-answers')}</p>
          <form
            id="ask-for-more"
            className="flex flex-col gap-4"
            onSubmit={(event) => {
              event.preventDefault()
              void ask()
            }}
          >
            {more.length > 1 && (
              <Choice
                label={t('people.role-head')}
                value={wanted}
                choices={more.map((one) => [one, roleWords(one)] as const)}
                onChange={setWanted}
              />
            )}
            <Field
              label={t('people.what-for')}
              autoFocus
              maxLength={1000}
              value={words}
              onChange={(event) => setWords(event.target.value)}
            />
          </form>
        </Question>
      )}
    </>
  )
}
