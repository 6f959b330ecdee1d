// Where copies go and whether they can be trusted: first what would be lost without the server, then what needs
// somebody, then each place with what it has.
import { useQuery } from '@tanstack/react-query'
import { CalendarRange, Ellipsis, HardDrive, Server, Usb } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import type { Copies, CopySite } from '../../core/contract'
import { sayPlan } from '../../core/copies/plan'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Blank, Button, Field } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { Menu, MenuItem, Question } from '../design/overlay'
import { OwnCopies } from '../own/own-copies'
import { t, told } from '../words/all'
import { digits, listed, moment } from '../words/formats'
import { CopiesChart } from './copies-chart'
import { HostEditor } from './host-editor'
import { Needs } from './needs'
import { PlanEditor } from './plan-editor'
import type { Planning } from './planning'
import { saidOf } from './said-of'
import { SharesAt } from './shares-at'
import { useAsking } from './use-asking'

/** How often it is asked again while something is under way, and otherwise; milliseconds. */
const often = 2000
const seldom = 60_000

export function CopiesView() {
  const { person } = useSession()
  const copies = useQuery({
    queryKey: keys.copies(),
    queryFn: () => call('copies', {}),
    refetchInterval: ({ state }) =>
      state.data?.sites.some(({ trial, shares }) => trial || shares.some(({ doing, wanted }) => doing || wanted))
        ? often
        : seldom,
  })
  const [planning, setPlanning] = useState<Planning | null>(null)
  if (copies.isError && !copies.data)
    return (
      <Blank screen title={t('common.the-server-does-not-answer-right-now')}>
        <Button look="main" onClick={() => copies.refetch()}>
          {t('common.try-again')}
        </Button>
      </Blank>
    )
  if (!copies.data) return <Blank screen title={t('common.one-moment')} waiting />
  const { data } = copies
  if (planning) return <PlanEditor planning={planning} onBack={() => setPlanning(null)} />
  return (
    <main className="relative h-full overflow-auto">
      <div className="mx-auto max-w-[1080px] px-4 py-6 md:px-8 md:py-8">
        <div className="flex flex-wrap items-start justify-between gap-x-8 gap-y-2">
          <Verdict {...data} />
          <Link
            to="/copies/retention"
            className="flex min-h-8 items-center gap-2 text-[14px] text-soft hover:text-ink hover:underline"
          >
            <CalendarRange size={16} aria-hidden />
            {t('sites.go-to-retention')}
          </Link>
        </div>
        <Needs copies={data} />
        {data.sites.length === 0 ? (
          <Blank title={t('sites.no-site')}>
            <p>{person.administrator ? t('sites.no-site-here') : t('sites.no-site-ask')}</p>
          </Blank>
        ) : (
          data.sites.map((site) => (
            <Site key={site.id} site={site} trials={data.trialDays !== null} onPlan={setPlanning} />
          ))
        )}
        <OwnCopies />
        <More drives={data.drives} hosts={data.hosts} />
        {data.sites.length > 0 && <CopiesChart sites={data.sites} history={data.history} />}
      </div>
    </main>
  )
}

/** What would be lost, in one sentence, and what stands behind it. */
function Verdict({ loss, sites, store }: Copies) {
  const { versions, doubtful, ofVersions, files, since, drafts } = loss
  const said: string[] = []
  if (versions > 0 && versions < ofVersions) said.push(t('sites.files-gone', { files }))
  if (versions > 0 && since) said.push(t('sites.since', { at: moment(since) }))
  if (versions === 0 && doubtful === 0 && ofVersions > 0)
    said.push(t('sites.versions-in-a-copy', { covered: digits(ofVersions), all: digits(ofVersions) }))
  if (drafts) said.push(t('sites.drafts', { drafts }))
  if (store.contents)
    said.push(
      t('sites.store-read', {
        read: digits(store.read),
        all: digits(store.contents),
        days: store.days,
        whole: store.read === store.contents ? 'yes' : 'no',
      }),
    )
  return (
    <div className="max-w-3xl">
      <h1
        className={`text-[22px] font-semibold leading-7 ${store.damaged || ((versions || doubtful) && sites.length) ? 'text-rust' : ''}`}
      >
        {store.damaged
          ? t('sites.damaged-here', { n: store.damaged })
          : ofVersions === 0
            ? t('sites.nothing-there')
            : versions === 0
              ? doubtful
                ? t('sites.may-be-lost', { doubtful, all: digits(ofVersions) })
                : t('sites.nothing-would-be-lost')
              : versions === ofVersions
                ? t('sites.everything-would-be-lost')
                : t('sites.would-be-lost', { versions, all: digits(ofVersions) })}
      </h1>
      {said.length > 0 && <p className="pt-1 text-soft">{said.join(' ')}</p>}
    </div>
  )
}

const signs = { folder: HardDrive, drive: Usb, sftp: Server, webdav: Server }

function Site({
  site,
  trials,
  onPlan,
}: {
  site: CopySite
  /** Whether bringing back what it holds can be tried here. */
  trials: boolean
  onPlan: (planning: Planning) => void
}) {
  const { person } = useSession()
  const ask = useAsking()
  const [asking, setAsking] = useState<'name' | 'sign in' | 'forget' | null>(null)
  const Sign = signs[site.kind]
  const remote = site.kind === 'sftp' || site.kind === 'webdav'
  const planned = site.shares.some((share) => share.planned)
  const request = (check: boolean) =>
    ask(
      () => call('askForCopy', { body: { siteId: site.id, shareId: null, check } }),
      check ? t('sites.asked-check') : t('sites.asked-copy'),
    )
  return (
    <section className="mt-8 border-l-2 border-rule-strong pl-4 md:pl-5" aria-label={site.name}>
      <div className="flex flex-wrap items-start gap-x-6 gap-y-2">
        <div className="min-w-0 flex-1">
          <h2 className="flex items-center gap-2.5 text-[17px] font-semibold">
            <Sign
              size={18}
              className="shrink-0 text-soft"
              aria-label={
                site.kind === 'drive' ? t('sites.drive') : remote ? t('sites.other-computer') : t('sites.folder')
              }
            />
            <span className="truncate">{site.name}</span>
          </h2>
          <p className={`text-[14px] ${site.problem && site.kind !== 'drive' ? 'text-rust' : 'text-soft'}`}>
            {site.problem
              ? `${told(site.problem)} ${site.seenAt ? t('sites.was-there', { at: moment(site.seenAt) }) : t('sites.never-there')}`
              : t('sites.there')}
            {site.folder && <span className="ml-2 break-all font-mono text-[12.5px] text-soft">{site.folder}</span>}
          </p>
          <p className="text-[14px] text-soft">
            {site.plan ? told(sayPlan(site.plan)) : t('sites.no-plan')}{' '}
            {site.trial === 'under way'
              ? t('sites.trial-under-way')
              : site.trial
                ? t('sites.trial-waits')
                : site.drill && saidOf(site.drill)}
          </p>
        </div>
        {person.administrator && (
          <div className="flex flex-wrap gap-2">
            <Button disabled={!planned} onClick={() => request(false)}>
              {t('sites.copy-now')}
            </Button>
            <Button disabled={!planned} look="quiet" onClick={() => request(true)}>
              {t('sites.check-now')}
            </Button>
            <Button look="quiet" onClick={() => onPlan({ site, share: null })}>
              {t('sites.plan')}
            </Button>
            <Menu
              trigger={
                <IconButton label={t('sites.more-of', { share: site.name })}>
                  <Ellipsis />
                </IconButton>
              }
            >
              {trials && (
                <MenuItem
                  disabled={site.trial !== null || !site.shares.some(({ copiedAt }) => copiedAt)}
                  onSelect={() =>
                    ask(() => call('askForTrial', { params: { siteId: site.id } }), t('sites.asked-trial'))
                  }
                >
                  {t('sites.try')}
                </MenuItem>
              )}
              <MenuItem onSelect={() => setAsking('name')}>{t('sites.rename')}</MenuItem>
              {remote && <MenuItem onSelect={() => setAsking('sign in')}>{t('sites.sign-in-again')}</MenuItem>}
              {site.kind !== 'folder' && <MenuItem onSelect={() => setAsking('forget')}>{t('sites.forget')}</MenuItem>}
            </Menu>
          </div>
        )}
      </div>
      <SharesAt site={site} onPlan={onPlan} />
      {asking === 'sign in' && (
        <HostEditor
          site={site}
          hosts={[]}
          onClose={() => setAsking(null)}
          onDone={() => {
            setAsking(null)
            ask(async () => {}, t('sites.signed-in'))
          }}
        />
      )}
      {asking === 'forget' && (
        <Question
          title={t('sites.forget-it', { site: site.name })}
          onClose={() => setAsking(null)}
          answers={
            <>
              <Button
                look="main"
                onClick={() => {
                  setAsking(null)
                  ask(
                    () => call('forgetCopySite', { params: { siteId: site.id } }),
                    t('sites.forgotten', { site: site.name }),
                  )
                }}
              >
                {t('sites.forget')}
              </Button>
              <Button look="quiet" onClick={() => setAsking(null)}>
                {t('common.cancel')}
              </Button>
            </>
          }
        >
          {t('sites.what-was-copied-stays')}
        </Question>
      )}
      {asking === 'name' && (
        <SiteNaming
          site={site}
          onClose={() => setAsking(null)}
          onName={(name) => {
            setAsking(null)
            ask(() => call('nameCopySite', { params: { siteId: site.id }, body: { name } }))
          }}
        />
      )}
    </section>
  )
}

function SiteNaming({
  site,
  onName,
  onClose,
}: {
  site: CopySite
  onName: (name: string) => void
  onClose: () => void
}) {
  const [name, setName] = useState(site.name)
  const fine = name.trim() !== ''
  return (
    <Question
      title={t('sites.name-of-the-site')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" type="submit" form="site-name" disabled={!fine}>
            {t('sites.rename')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <form
        id="site-name"
        onSubmit={(event) => {
          event.preventDefault()
          if (fine) onName(name.trim())
        }}
      >
        <Field
          label={t('sites.name')}
          value={name}
          maxLength={100}
          autoFocus
          onChange={(event) => setName(event.target.value)}
        />
      </form>
    </Question>
  )
}

/** Drives and other computers that could be used. */
function More({ drives, hosts }: Pick<Copies, 'drives' | 'hosts'>) {
  const ask = useAsking()
  const [adding, setAdding] = useState(false)
  if (!drives.length && !hosts.length) return null
  const row = 'flex flex-wrap items-center gap-x-4 gap-y-2 border-b py-2.5'
  return (
    <ul className="mt-8 border-t">
      {drives.map((name) => (
        <li key={name} className={row}>
          <Usb size={18} className="text-soft" aria-hidden />
          <span className="min-w-0 flex-1">{t('sites.a-drive-is-there', { name })}</span>
          <Button onClick={() => ask(() => call('addCopyDrive', { body: { name } }), t('sites.drive-added', { name }))}>
            {t('sites.use-drive')}
          </Button>
        </li>
      ))}
      {hosts.length > 0 && (
        <li className={row}>
          <Server size={18} className="text-soft" aria-hidden />
          <span className="min-w-0 flex-1">{t('sites.other-computers', { hosts: listed(hosts) })}</span>
          <Button onClick={() => setAdding(true)}>{t('sites.use-another')}</Button>
        </li>
      )}
      {adding && (
        <HostEditor
          site={null}
          hosts={hosts}
          onClose={() => setAdding(false)}
          onDone={(address) => {
            setAdding(false)
            ask(async () => {}, t('sites.host-added', { address }))
          }}
        />
      )}
    </ul>
  )
}
