import { useQuery } from '@tanstack/react-query'
import clsx from 'clsx'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import type { Account, GivenCode } from '../../core/contract'
import { asList } from '../../core/people/lists'
import { queries } from '../api/queries'
import { Blank, Button, Field } from '../design/controls'
import { t } from '../words/all'
import { moment } from '../words/formats'
import { AccountEditor } from './account-editor'
import { AddPeople } from './add-people'
import { Codes } from './codes'
import { MailNow } from './mail-now'
import { saveList } from './save-list'

/** So many are shown; the others are found by their names. */
const mostShown = 300

const standing = (one: Account): string =>
  one.closedAt
    ? t('people.closed', { at: moment(one.closedAt) })
    : !one.hasPassword
      ? one.codeUntil
        ? t('people.has-a-code')
        : t('people.has-no-password')
      : one.signedInAt
        ? moment(one.signedInAt)
        : t('people.never')

export function Accounts() {
  const people = useQuery(queries.people)
  const [query, setQuery] = useSearchParams()
  const [typed, setTyped] = useState('')
  const [codes, setCodes] = useState<readonly GivenCode[]>([])
  const chosen = people.data?.find(({ id }) => id === query.get('person')) ?? null
  const adding = query.has('add')
  const setAdding = (on: boolean) => setQuery(on ? { add: '1' } : {}, { replace: true })
  const choose = (id: string | null) => setQuery(id ? { person: id } : {}, { replace: true })
  if (people.isError)
    return (
      <Blank title={t('common.the-server-does-not-answer-right-now')}>
        <Button look="main" onClick={() => people.refetch()}>
          {t('common.try-again')}
        </Button>
      </Blank>
    )
  if (!people.data) return <Blank title={t('common.one-moment')} waiting />
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean)
  const found = people.data.filter((one) => {
    const text = `${one.name} ${one.handle} ${one.groups.join(' ')}`.toLowerCase()
    return words.every((word) => text.includes(word))
  })
  const head = [t('people.name'), t('people.signs-in-with'), t('people.in-groups'), t('people.last-signed-in')]
  const cell = 'py-2 pr-4 align-top'
  return (
    <div className="flex min-h-0 flex-1 flex-col md:flex-row">
      <div className={clsx('flex min-h-0 min-w-0 flex-1 flex-col', chosen && 'max-md:hidden')}>
        <div className="flex flex-wrap items-end gap-3 px-4 py-4 md:px-6">
          <Field
            label={t('people.find-somebody')}
            type="search"
            className="w-64"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
          <Button look="main" className="h-9" onClick={() => setAdding(true)}>
            {t('people.add-people')}
          </Button>
          <Button
            look="quiet"
            className="ml-auto h-9"
            onClick={() =>
              saveList(
                `${t('people.people-here')}.csv`,
                asList([
                  [...head, t('people.administrator'), t('people.mail-head')],
                  ...people.data.map((one) => [
                    one.name,
                    one.handle,
                    one.groups.join('; '),
                    standing(one),
                    one.administrator ? t('people.yes') : t('people.no'),
                    one.mail ?? '',
                  ]),
                ]),
              )
            }
          >
            {t('people.save-as-a-list')}
          </Button>
        </div>
        <div className="px-4 pb-3 md:px-6">
          <MailNow />
        </div>
        <div className="relative min-h-0 flex-1 overflow-auto px-4 pb-8 md:px-6">
          <table className="w-full text-left">
            <thead>
              <tr className="text-[13px] text-soft">
                {head.map((one, at) => (
                  <th key={one} className={clsx('border-b pb-1.5 pr-4 font-normal', at === 2 && 'max-lg:hidden')}>
                    {one}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {found.slice(0, mostShown).map((one) => (
                <tr key={one.id} className={clsx('border-b', one.id === chosen?.id && 'bg-wash')}>
                  <td className={cell}>
                    <button
                      type="button"
                      aria-pressed={one.id === chosen?.id}
                      className={clsx(
                        'min-h-6 text-left font-medium hover:underline',
                        one.closedAt && 'text-soft line-through',
                      )}
                      onClick={() => choose(one.id === chosen?.id ? null : one.id)}
                    >
                      {one.name}
                    </button>
                    {one.administrator && (
                      <span className="block text-[13px] text-soft">{t('people.administrator')}</span>
                    )}
                  </td>
                  <td className={clsx(cell, 'font-mono text-[13px]')}>{one.handle}</td>
                  <td className={clsx(cell, 'text-soft max-lg:hidden')}>{one.groups.join(', ')}</td>
                  <td className={clsx(cell, one.hasPassword ? 'text-soft' : '')}>{standing(one)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {found.length === 0 && <p className="py-6 text-soft">{t('people.nobody-is-called-that')}</p>}
          {found.length > mostShown && (
            <p className="py-3 text-[14px] text-soft">{t('people.and-more', { more: found.length - mostShown })}</p>
          )}
        </div>
      </div>
      {chosen && (
        <AccountEditor
          key={chosen.id}
          account={chosen}
          others={people.data.filter(({ id, closedAt }) => id !== chosen.id && !closedAt)}
          onCode={(code) => setCodes([code])}
          onClose={() => choose(null)}
        />
      )}
      {adding && (
        <AddPeople
          taken={(handle) => people.data.some((one) => one.handle === handle)}
          onAdded={(given) => {
            setAdding(false)
            setCodes(given)
          }}
          onClose={() => setAdding(false)}
        />
      )}
      {codes.length > 0 && <Codes given={codes} onClose={() => setCodes([])} />}
    </div>
  )
}
