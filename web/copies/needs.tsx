import type { Copies, CopyFinding, CopySite } from '../../core/contract'
import { call } from '../api/call'
import { Button } from '../design/controls'
import { t, told } from '../words/all'
import { listed, moment } from '../words/formats'
import { saidOf } from './said-of'
import { useAsking } from './use-asking'

/** Findings that are shown one by one. */
const shown = 6

const wasWhat = (is: CopyFinding['is']): string =>
  is === 'missing' ? t('sites.missing') : is === 'wrong' ? t('sites.wrong') : t('sites.says-wrong')

interface Alarm {
  key: string
  says: string
}

/** What keeps several shares from being copied to a place is one thing to do something about. */
function failuresAt({ id, name, shares }: CopySite): Alarm[] {
  const failing = new Map<string, { shares: string[]; since: string }>()
  for (const { share, failed } of shares) {
    if (!failed) continue
    const why = told(failed.why)
    const there = failing.get(why)
    if (!there) failing.set(why, { shares: [share], since: failed.since })
    else {
      there.shares.push(share)
      if (failed.since < there.since) there.since = failed.since
    }
  }
  return [...failing].map(([why, { shares: those, since }]) => ({
    key: `${id} ${why}`,
    says: t('sites.failing', { shares: listed(those), n: those.length, site: name, since: moment(since), why }),
  }))
}

/** What is wrong with copies, in sentences: each stays until it is well again. */
function alarmsOf(sites: readonly CopySite[]): Alarm[] {
  const alarms: Alarm[] = []
  for (const site of sites) {
    alarms.push(...failuresAt(site))
    if (site.drill && (site.drill.failure !== null || site.drill.differ))
      alarms.push({ key: `${site.id} drill`, says: `${site.name}: ${saidOf(site.drill)}` })
    for (const { shareId, share, failed, late, openSince, faults, unread } of site.shares) {
      const facts = { share, site: site.name }
      const add = (what: string, says: string) => alarms.push({ key: `${site.id} ${shareId} ${what}`, says })
      if (!failed && late && openSince) add('late', t('sites.late', { ...facts, since: moment(openSince) }))
      if (faults) add('faults', t('sites.faults', { ...facts, faults }))
      if (unread) add('unread', t('sites.unread', { ...facts, unread }))
    }
  }
  return alarms
}

/** What of our own store is not what was saved, and nobody has. */
function damageOf({ damaged, findings }: Copies['store']): Alarm[] {
  const named = findings.filter((one) => one.damaged)
  const alarms = named.slice(0, shown).map(({ sha256, name, number }) => ({
    key: sha256,
    says: t('sites.store-damaged', { name, number }),
  }))
  const more = damaged - alarms.length
  return more > 0 ? [...alarms, { key: 'store', says: t('sites.store-damaged-more', { more }) }] : alarms
}

/** What is not well with copies, and what was found until somebody has seen it. */
export function Needs({ copies: { sites, findings, findingsInAll, store } }: { copies: Copies }) {
  const ask = useAsking()
  const alarms = [...alarmsOf(sites), ...damageOf(store)]
  const mended = store.findings.filter(({ damaged }) => !damaged)
  const see = (ids: string[]) => void ask(() => call('seeFindings', { body: { ids } }))
  const seeMended = (sha256s: string[]) => void ask(() => call('seeMended', { body: { sha256s } }))
  if (!alarms.length && !findings.length && !mended.length) return null
  return (
    <section
      className="mt-6 rounded-lg border border-rust/50 bg-paper px-5 pb-1.5 pt-3"
      aria-label={t('sites.not-well')}
    >
      <div className="flex min-h-8 items-center justify-between gap-4">
        <h2 className="text-[17px] font-semibold">{t('sites.not-well')}</h2>
        {findings.length + mended.length > 1 && (
          <Button
            look="quiet"
            onClick={() => {
              if (findings.length) see(findings.map(({ id }) => id))
              if (mended.length) seeMended(mended.map(({ sha256 }) => sha256))
            }}
          >
            {t('sites.all-seen')}
          </Button>
        )}
      </div>
      <ul>
        {alarms.map(({ key, says }) => (
          <li key={key} className="border-b py-2.5 text-rust last:border-b-0">
            {says}
          </li>
        ))}
        {mended.slice(0, shown).map(({ sha256, name, number, mendedAt, mendedFrom }) => (
          <li key={sha256} className="flex items-center gap-4 border-b py-1.5 last:border-b-0">
            <span className="min-w-0 flex-1 [overflow-wrap:anywhere]">
              {t('sites.store-mended', { name, number, at: moment(mendedAt!), site: mendedFrom ?? '' })}
            </span>
            <Button look="quiet" onClick={() => seeMended([sha256])}>
              {t('sites.seen')}
            </Button>
          </li>
        ))}
        {findings.slice(0, shown).map(({ id, path, share, site, is, at, repaired }) => (
          <li key={id} className="flex items-center gap-4 border-b py-1.5 last:border-b-0">
            <span className="min-w-0 flex-1 [overflow-wrap:anywhere]">
              {t('sites.finding', {
                path: path.replace(/^data\//, ''),
                share,
                site,
                is: wasWhat(is),
                at: moment(at),
                repaired: repaired ? t('sites.repaired') : t('sites.not-repaired'),
              })}
            </span>
            <Button look="quiet" onClick={() => see([id])}>
              {t('sites.seen')}
            </Button>
          </li>
        ))}
        {findingsInAll > shown && (
          <li className="py-2 text-soft">{t('sites.more-findings', { more: findingsInAll - shown })}</li>
        )}
      </ul>
    </section>
  )
}
