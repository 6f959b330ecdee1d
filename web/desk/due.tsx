import { useQuery } from '@tanstack/react-query'
import { CalendarClock, HardDrive } from 'lucide-react'
import { Link } from 'react-router'
import { queries } from '../api/queries'
import { useSession } from '../api/signed-in'
import { useDrills } from '../drill/drills'
import { t } from '../words'
import { moment } from '../words/formats'

const day = 86_400_000
/** An audit, or a drill, that is older than this is due again; days. */
const dueAfter = 30

/** What somebody has to do from time to time, and has not done for long, or what it found. */
export function Due() {
  const { settings } = useSession()
  const audits = useQuery(queries.audits)
  const drills = useDrills()
  const copies = useQuery(queries.copyAlarms)
  const old = (at: string) => Date.now() - Date.parse(at) > dueAfter * day
  const due: { key: string; to: string; says: string; alarm?: boolean }[] = []
  for (const { siteId, site, is } of copies.data ?? [])
    due.push({
      key: siteId ?? 'store',
      to: '/copies',
      says:
        is === 'store'
          ? t('desk.store-is-damaged')
          : is === 'failing'
            ? t('desk.copies-do-not-work', { site })
            : is === 'late'
              ? t('desk.copies-are-late', { site })
              : t('desk.copies-are-damaged', { site }),
      alarm: true,
    })
  for (const { share, last } of audits.data ?? []) {
    const to = `/names/${share.id}/audit`
    if (!last) due.push({ key: share.id, to, says: t('desk.names-never-audited', { share: share.name }) })
    else if (last.astray)
      due.push({ key: share.id, to, says: t('desk.names-do-not-follow', { share: share.name, n: last.astray }) })
    else if (old(last.at))
      due.push({
        key: share.id,
        to,
        says: t('desk.names-audited-long-ago', { share: share.name, at: moment(last.at) }),
      })
  }
  // Where one is run each week nobody has to think of it.
  const drilled = drills.data?.[0]
  if (drills.data && !settings.weeklyDrill && (!drilled || old(drilled.at)))
    due.push({
      key: 'drill',
      to: '/rescue#drills',
      says: drilled ? t('desk.drill-long-ago', { at: moment(drilled.at) }) : t('desk.drill-never'),
    })
  if (!due.length) return null
  return (
    <section aria-label={t('desk.due')}>
      <h2 className="mb-1 text-[17px] font-semibold">{t('desk.due')}</h2>
      <ul className="border-t">
        {due.map(({ key, to, says, alarm }) => (
          <li key={key} className="border-b">
            <Link to={to} className="flex min-h-10 items-center gap-2.5 px-1 py-2 hover:bg-wash">
              {alarm ? (
                <HardDrive size={18} className="shrink-0 text-rust" aria-hidden />
              ) : (
                <CalendarClock size={18} className="shrink-0 text-soft" aria-hidden />
              )}
              <span className={alarm ? 'text-rust' : undefined}>{says}</span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  )
}
