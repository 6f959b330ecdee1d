import { useQuery } from '@tanstack/react-query'
import { CalendarClock, Ellipsis, Folder } from 'lucide-react'
import { Fragment } from 'react'
import { useNavigate } from 'react-router'
import type { CopySite, CopyStanding } from '../../core/contract'
import { sayPlan } from '../../core/copies/plan'
import { call } from '../api/call'
import { queries } from '../api/queries'
import { useSession } from '../api/signed-in'
import { IconButton } from '../design/icon-button'
import { Menu, MenuItem } from '../design/overlay'
import { t, told } from '../words/all'
import { digits, moment, size } from '../words/formats'
import { type Planning, sayFolderPlan } from './planning'
import { useAsking } from './use-asking'

/** What of each share is at a place. */
export function SharesAt({ site, onPlan }: { site: CopySite; onPlan: (planning: Planning) => void }) {
  const { person } = useSession()
  const shares = useQuery(queries.shares)
  if (!site.shares.length) return null
  const manages = (shareId: string) => shares.data?.find(({ id }) => id === shareId)?.role === 'manage'
  const more = !!person.administrator || site.shares.some(({ shareId }) => manages(shareId))
  return (
    <div className="mt-3 overflow-x-auto">
      <table className="w-full min-w-[600px] table-fixed text-[14px]">
        <thead>
          <tr className="border-b text-left text-[13px] text-soft">
            <th className="w-[28%] py-1.5 font-normal">{t('sites.share')}</th>
            <th className="py-1.5 pl-4 font-normal">{t('sites.holds')}</th>
            <th className="py-1.5 pl-4 font-normal">{t('sites.copied')}</th>
            <th className="py-1.5 pl-4 font-normal">{t('sites.read-again')}</th>
            <th className="w-24 py-1.5 pl-4 text-right font-normal">{t('sites.size')}</th>
            {more && <td className="w-10" />}
          </tr>
        </thead>
        <tbody>
          {site.shares.map((one) => (
            <Fragment key={one.shareId}>
              <Row
                site={site}
                one={one}
                onPlan={onPlan}
                mayChange={!!person.administrator}
                mayBring={manages(one.shareId)}
                more={more}
              />
              {one.folders.map((folder) => (
                <FolderRow
                  key={folder.folderId}
                  folder={folder}
                  onPlan={
                    person.administrator
                      ? () =>
                          onPlan({
                            site,
                            share: { id: one.shareId, name: one.share },
                            folder: { id: folder.folderId, path: folder.path },
                          })
                      : null
                  }
                  more={more}
                />
              ))}
            </Fragment>
          ))}
        </tbody>
      </table>
    </div>
  )
}

function Row({
  site,
  one,
  onPlan,
  mayChange,
  mayBring,
  more,
}: {
  site: CopySite
  one: CopyStanding
  onPlan: (planning: Planning) => void
  mayChange: boolean
  mayBring: boolean
  /** Some row has a menu. */
  more: boolean
}) {
  const go = useNavigate()
  const ask = useAsking()
  const request = (check: boolean) =>
    ask(
      () => call('askForCopy', { body: { siteId: site.id, shareId: one.shareId, check } }),
      check ? t('sites.asked-check') : t('sites.asked-copy'),
    )
  const { planned } = one
  return (
    <tr className="border-b align-top">
      <th scope="row" className="max-w-64 py-2 text-left font-medium">
        <span className="block truncate">{one.share}</span>
        {one.own && one.plan && (
          <span className="block text-[13px] font-normal leading-[18px] text-soft">
            {t('sites.own-plan', { plan: told(sayPlan(one.plan)) })}
          </span>
        )}
      </th>
      <td className="py-2 pl-4">
        <Held one={one} />
      </td>
      <td className="py-2 pl-4">
        <State one={one} is="copy" at={one.copiedAt} never={t('sites.not-yet')} />
      </td>
      <td className="py-2 pl-4">
        <State one={one} is="check" at={one.checkedAt} never={t('sites.never')} />
      </td>
      <td className="whitespace-nowrap py-2 pl-4 text-right">{one.copiedAt ? size(one.bytes) : ''}</td>
      {more && (
        <td className="py-0.5 text-right">
          {(mayChange || mayBring) && (
            <Menu
              trigger={
                <IconButton label={t('sites.more-of', { share: one.share })}>
                  <Ellipsis />
                </IconButton>
              }
            >
              {mayChange && (
                <>
                  <MenuItem disabled={!planned} onSelect={() => request(false)}>
                    {t('sites.copy-now')}
                  </MenuItem>
                  <MenuItem disabled={!planned || !one.copiedAt} onSelect={() => request(true)}>
                    {t('sites.check-now')}
                  </MenuItem>
                  <MenuItem onSelect={() => onPlan({ site, share: { id: one.shareId, name: one.share } })}>
                    {t('sites.plan')}
                  </MenuItem>
                  <MenuItem
                    onSelect={() =>
                      onPlan({ site, share: { id: one.shareId, name: one.share }, folder: 'to be chosen' })
                    }
                  >
                    {t('sites.plan-of-folder')}
                  </MenuItem>
                </>
              )}
              {mayBring && (
                <MenuItem disabled={!one.copiedAt} onSelect={() => go(`/copies/of/${site.id}/${one.shareId}`)}>
                  {t('sites.look-into')}
                </MenuItem>
              )}
            </Menu>
          )}
        </td>
      )}
    </tr>
  )
}

/** A folder that is copied otherwise than its share. */
function FolderRow({
  folder: { path, plan },
  onPlan,
  more,
}: {
  folder: CopyStanding['folders'][number]
  /** Null for who may not change it. */
  onPlan: (() => void) | null
  more: boolean
}) {
  const name = path.join(' / ')
  return (
    <tr className="border-b align-top">
      <th scope="row" className="py-2 pl-4 text-left font-normal">
        <span className="flex items-center gap-2">
          <Folder size={15} className="shrink-0 text-soft" aria-hidden />
          <span className="truncate" title={name}>
            <bdi>{name}</bdi>
          </span>
        </span>
      </th>
      <td className="py-2 pl-4 text-soft" colSpan={4}>
        {sayFolderPlan(plan)}
      </td>
      {more && (
        <td className="py-0.5 text-right">
          {onPlan && (
            <IconButton label={t('sites.plan-of', { folder: name })} onClick={onPlan}>
              <CalendarClock size={17} />
            </IconButton>
          )}
        </td>
      )}
    </tr>
  )
}

/** How many of the share's versions are in the copy, as a number and as a bar. */
function Held({ one: { covered, ofVersions, copiedAt, openSince } }: { one: CopyStanding }) {
  if (!copiedAt) return <span className="text-soft">{t('sites.not-yet')}</span>
  const part = ofVersions ? covered / ofVersions : 1
  return (
    <span className="flex items-center gap-2.5">
      <span className="h-2 w-16 shrink-0 overflow-hidden rounded-sm bg-rule" aria-hidden>
        <span
          className={`block h-full ${openSince ? 'bg-ochre' : 'bg-accent'}`}
          style={{ width: `${Math.max(part * 100, covered ? 3 : 0)}%` }}
        />
      </span>
      <span className="whitespace-nowrap">{t('sites.of', { covered: digits(covered), all: digits(ofVersions) })}</span>
    </span>
  )
}

function State({
  one: { doing, wanted, late, failed },
  is,
  at,
  never,
}: {
  one: CopyStanding
  is: 'copy' | 'check'
  at: string | null
  never: string
}) {
  const part = doing?.all ? `${Math.floor((doing.done / doing.all) * 100)} %` : t('sites.beginning')
  const now =
    doing?.is === is
      ? t(is === 'copy' ? 'sites.copying' : 'sites.checking', { part })
      : is === 'copy' && wanted
        ? t('sites.waiting')
        : null
  const wrong = is === 'copy' && (failed ? t('sites.is-failing') : late ? t('sites.is-late') : null)
  return (
    <>
      <span className={`block whitespace-nowrap ${at ? '' : 'text-soft'}`}>{at ? moment(at) : never}</span>
      {now && <span className="block whitespace-nowrap text-[13px] text-accent">{now}</span>}
      {wrong && <span className="block whitespace-nowrap text-[13px] text-rust">{wrong}</span>}
    </>
  )
}
