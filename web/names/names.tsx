// How files are named: conventions by their parts, controlled lists, a bench for real names, the audit.

import { useQuery } from '@tanstack/react-query'
import clsx from 'clsx'
import { useEffect } from 'react'
import { NavLink, useNavigate, useParams } from 'react-router'
import { isAway } from '../api/call'
import { queries } from '../api/queries'
import { Blank, Button } from '../design/controls'
import { useShareNaming } from '../places/place'
import { ShareNav } from '../places/share-nav'
import { Audit } from './audit'
import { Bench } from './bench'
import { Conventions } from './conventions'
import { Lists } from './lists'
import { Templates } from './templates'

const tabs = [
  ['conventions', 'Conventions'],
  ['lists', 'Lists'],
  ['templates', 'Templates'],
  ['bench', 'Bench'],
  ['audit', 'Audit'],
] as const

export function Names() {
  const { shareId, tab = 'conventions' } = useParams()
  const navigate = useNavigate()
  const shares = useQuery(queries.shares)
  const naming = useShareNaming(shareId)
  const share = shares.data?.find(({ id }) => id === shareId)
  useEffect(() => {
    const first =
      shares.data?.find(({ role }) => role === 'manage') ??
      shares.data?.find(({ role }) => role === 'edit') ??
      shares.data?.[0]
    if (!shareId && first) void navigate(`/names/${first.id}`, { replace: true })
  }, [shareId, shares.data])
  if (shares.isError || naming.isError)
    return (
      <Blank
        screen
        title={
          isAway(shares.error ?? naming.error) ? 'Shared storage does not answer right now' : 'This share is not here'
        }
      >
        <Button
          look="main"
          onClick={() => {
            void shares.refetch()
            void naming.refetch()
          }}
        >
          Try again
        </Button>
      </Blank>
    )
  if (shares.data?.length === 0) return <Blank screen title="You are not a member of any share yet" />
  if (!share || !naming.data) return <Blank screen title="One moment" waiting />
  const mayChange = share.role === 'manage'
  return (
    <div className="flex h-full flex-col md:flex-row">
      <ShareNav title="Names in" shares={shares.data!} here={share.id} to={({ id }) => `/names/${id}/${tab}`}>
        {!mayChange &&
          `The managers of ${share.name} change conventions and lists. You can look at them and try names.`}
      </ShareNav>
      <main className="flex min-h-0 min-w-0 flex-1 flex-col">
        <h1 className="sr-only">Names in {share.name}</h1>
        <div
          className="flex shrink-0 items-end gap-6 overflow-x-auto border-b px-4 pt-2 md:px-6 md:pt-5"
          role="tablist"
          aria-label="Names"
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
