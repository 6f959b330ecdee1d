// People as administrators keep them: accounts with what they can reach, and groups.
import clsx from 'clsx'
import { NavLink, useParams } from 'react-router'
import { useSession } from '../api/signed-in'
import { Blank } from '../design/controls'
import { t } from '../words/all'
import { Accounts } from './accounts'
import { Groups } from './groups'

const tabs = [
  ['accounts', t('people.accounts')],
  ['groups', t('people.groups')],
] as const

export function People() {
  const { tab = 'accounts' } = useParams()
  const { person } = useSession()
  if (!person.administrator)
    return (
      <Blank screen title={t('people.only-administrators-keep-accounts')}>
        {t('people.who-can-reach-a-share-is-shown-there')}
      </Blank>
    )
  return (
    <main className="flex h-full min-h-0 flex-col">
      <h1 className="sr-only">{t('people.people-here')}</h1>
      <div
        className="flex shrink-0 items-end gap-6 overflow-x-auto border-b px-4 pt-2 md:px-6 md:pt-5"
        role="tablist"
        aria-label={t('people.people-here')}
      >
        {tabs.map(([path, label]) => (
          <NavLink
            key={path}
            to={`/people/${path}`}
            role="tab"
            aria-selected={tab === path}
            className={clsx(
              'whitespace-nowrap border-b-2 px-1 pb-2 text-[16px]',
              tab === path ? 'border-accent font-semibold' : 'border-transparent text-soft hover:text-ink',
            )}
          >
            {label}
          </NavLink>
        ))}
      </div>
      {tab === 'groups' ? <Groups /> : <Accounts />}
    </main>
  )
}
