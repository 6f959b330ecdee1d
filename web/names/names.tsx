// How files are named: conventions by their parts, controlled lists, a bench for real names, the audit.

import { useQuery } from '@tanstack/react-query'
import clsx from 'clsx'
import { NavLink, useParams } from 'react-router'
import { isAway } from '../api/call'
import { queries } from '../api/queries'
import { Blank, Button } from '../design/controls'
import { useShareNaming } from '../places/place'
import { ShareNav } from '../places/share-nav'
import { t } from '../words/all'
import { Audit } from './audit'
import { Bench } from './bench'
import { Conventions } from './conventions'
import { Lists } from './lists'
import { Templates } from './templates'

const tabs = [
  ['conventions', t('names.conventions')],
  ['lists', t('names.lists')],
  ['templates', t('names.templates')],
  ['bench', t('names.bench')],
  ['audit', t('names.audit-2')],
] as const

export function Names() {
  const { shareId: asked, tab = 'conventions' } = useParams()
  const shares = useQuery(queries.shares)
  // Without a share in the address the first is shown where it is: an address that changes by itself would take the place of
  // where somebody goes meanwhile.
  const first =
    shares.data?.find(({ role }) => role === 'manage') ??
    shares.data?.find(({ role }) => role === 'edit') ??
    shares.data?.[0]
  const shareId = asked ?? first?.id
  const naming = useShareNaming(shareId)
  const share = shares.data?.find(({ id }) => id === shareId)
  if (shares.isError || naming.isError)
    return (
      <Blank
        screen
        title={
          isAway(shares.error ?? naming.error)
            ? t('common.the-server-does-not-answer-right-now')
            : t('common.this-share-does-not-exist-or-you')
        }
      >
        <Button
          look="main"
          onClick={() => {
            void shares.refetch()
            void naming.refetch()
          }}
        >
          {t('common.try-again')}
        </Button>
      </Blank>
    )
  if (shares.data?.length === 0) return <Blank screen title={t('common.you-are-not-a-member-of-any')} />
  if (!share || !naming.data) return <Blank screen title={t('common.one-moment')} waiting />
  const mayChange = share.role === 'manage'
  return (
    <div className="flex h-full flex-col md:flex-row">
      <ShareNav
        title={t('names.names-in')}
        shares={shares.data!}
        here={share.id}
        to={({ id }) => `/names/${id}/${tab}`}
      >
        {!mayChange && t('names.the-managers-of-change-conventions-and-lists', { shareName: share.name })}
      </ShareNav>
      <main className="flex min-h-0 min-w-0 flex-1 flex-col">
        <h1 className="sr-only">{t('names.names-in-2', { shareName: share.name })}</h1>
        <div
          className="flex shrink-0 items-end gap-6 overflow-x-auto border-b px-4 pt-2 md:px-6 md:pt-5"
          role="tablist"
          aria-label={t('common.names')}
        >
          {tabs.map(([path, label]) => (
            <NavLink
              key={path}
              to={`/names/${share.id}/${path}`}
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
        <div className="relative min-h-0 flex-1 overflow-auto" key={share.id}>
          {tab === 'lists' ? (
            <Lists share={share} naming={naming.data} mayChange={mayChange} />
          ) : tab === 'templates' ? (
            <Templates share={share} naming={naming.data} />
          ) : tab === 'bench' ? (
            <Bench share={share} naming={naming.data} />
          ) : tab === 'audit' ? (
            <Audit share={share} naming={naming.data} />
          ) : (
            <Conventions share={share} naming={naming.data} mayChange={mayChange} />
          )}
        </div>
      </main>
    </div>
  )
}
