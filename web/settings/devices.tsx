// On which devices there is work of one's own that is not saved yet: what would be missed if one were lost.
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import type { Draft } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { t } from '../words/all'
import { moment } from '../words/formats'

interface Device {
  id: string
  name: string
  works: number
  /** Pieces that have more on the device than on shared storage. */
  beyond: number
  heardAt: string
}

/** @param drafts mine and others' */
export function devicesOf(drafts: readonly Draft[]): Device[] {
  const found = new Map<string, Device>()
  for (const draft of drafts) {
    if (!draft.mine || draft.state === 'finished' || draft.journalSeq <= draft.savedSeq) continue
    const { deviceId: id, deviceName: name, answeredAt } = draft
    const one = found.get(id) ?? { id, name, works: 0, beyond: 0, heardAt: answeredAt }
    one.works++
    if (draft.journalSeq > draft.pointSeq) one.beyond++
    // It may be called otherwise since.
    if (answeredAt >= one.heardAt) Object.assign(one, { name, heardAt: answeredAt })
    found.set(id, one)
  }
  return [...found.values()].sort((a, b) => b.heardAt.localeCompare(a.heardAt))
}

export function Devices() {
  const { person } = useSession()
  const drafts = useQuery({ queryKey: keys.pieces(person.id, 'by device'), queryFn: () => call('drafts', {}) })
  const devices = devicesOf(drafts.data ?? [])
  return (
    <div>
      <h3 className="font-medium">{t('settings.devices-with-unsaved-work')}</h3>
      {drafts.isError && <p className="text-rust">{t('common.the-server-does-not-answer-right-now')}</p>}
      {drafts.data && devices.length === 0 && <p className="text-soft">{t('settings.no-device-has-unsaved-work')}</p>}
      {devices.length > 0 && (
        <ul className="my-2" aria-label={t('settings.devices-with-unsaved-work')}>
          {devices.map(({ id, name, works, beyond, heardAt }) => (
            <li key={id} className="border-b py-1.5 last:border-b-0">
              <span className="block truncate">{name}</span>
              <span className="block text-[14px] text-soft">
                {t('settings.works-on-a-device', { works, beyond, at: moment(heardAt) })}
              </span>
            </li>
          ))}
        </ul>
      )}
      {devices.length > 0 && (
        <Link to="/rescue" className="underline decoration-rule-strong underline-offset-2 hover:text-accent">
          {t('settings.they-are-in-rescue')}
        </Link>
      )}
    </div>
  )
}
