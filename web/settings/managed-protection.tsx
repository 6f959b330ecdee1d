import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import type { PlaceProtection } from '../../core/contract'
import { sayInterval } from '../../core/recovery/protection'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { intervals, intervalsOrOff } from '../editor/reach/protection'
import { t, told } from '../words/all'

/** What holds for everyone in the shares that one manages: the usual interval, and what people may set themselves. */
export function ManagedProtection() {
  const client = useQueryClient()
  const shares = useQuery(queries.shares)
  const set = useQuery(queries.managedProtection)
  const [refusal, setRefusal] = useState('')
  const managed = shares.data?.filter(({ role }) => role === 'manage') ?? []
  if (!managed.length || !set.data) return null
  const of = (shareId: string): PlaceProtection =>
    set.data.find((one) => one.shareId === shareId) ?? {
      shareId,
      folderId: null,
      interval: null,
      continuous: null,
      least: null,
      most: null,
    }
  const keep = async (shareId: string, part: Partial<PlaceProtection>) => {
    try {
      await call('setPlaceProtection', { body: { ...of(shareId), ...part } })
      setRefusal('')
    } catch (error) {
      setRefusal(error instanceof Refused ? told(error.problem) : t('common.this-could-not-be-set'))
    }
    await client.invalidateQueries({ queryKey: keys.managedProtection() })
    await client.invalidateQueries({ queryKey: keys.protection() })
  }
  const choose = (share: { id: string; name: string }, key: 'interval' | 'least' | 'most', none: string) => (
    <select
      aria-label={`${share.name}: ${{ interval: t('settings.usual-interval'), least: t('settings.shortest-allowed'), most: t('settings.longest-allowed') }[key]}`}
      className="h-8 w-full rounded-md border border-rule-strong bg-sheet px-2"
      value={of(share.id)[key] ?? ''}
      onChange={(event) => void keep(share.id, { [key]: event.target.value ? Number(event.target.value) : null })}
    >
      <option value="">{none}</option>
      {(key === 'interval' ? intervalsOrOff : intervals).map((seconds) => (
        <option key={seconds} value={seconds}>
          {seconds === 0 ? t('settings.off') : told(sayInterval(seconds))}
        </option>
      ))}
    </select>
  )
  return (
    <div className="mt-5">
      <table className="w-full table-fixed text-[14px]">
        <thead>
          <tr className="text-left text-[13px] text-soft">
            <th className="w-36 pb-1 font-normal">{t('settings.for-everyone-in')}</th>
            <th className="pb-1 pl-2 font-normal">{t('settings.usual')}</th>
            <th className="pb-1 pl-2 font-normal">{t('settings.at-least')}</th>
            <th className="pb-1 pl-2 font-normal">{t('common.at-most')}</th>
            <th className="w-32 pb-1 pl-2 font-normal">{t('settings.saved-by-itself')}</th>
          </tr>
        </thead>
        <tbody>
          {managed.map((share) => (
            <tr key={share.id} className="border-t">
              <th scope="row" className="py-1.5 text-left font-normal">
                {share.name}
              </th>
              <td className="py-1.5 pl-2">{choose(share, 'interval', t('settings.as-each-person-sets-it'))}</td>
              <td className="py-1.5 pl-2">{choose(share, 'least', t('settings.no-limit'))}</td>
              <td className="py-1.5 pl-2">{choose(share, 'most', t('settings.no-limit'))}</td>
              <td className="py-1.5 pl-2">
                <select
                  aria-label={t('settings.saved-by-itself-in', { shareName: share.name })}
                  className="h-8 w-full rounded-md border border-rule-strong bg-sheet px-2"
                  value={String(of(share.id).continuous ?? '')}
                  onChange={({ target: { value } }) =>
                    void keep(share.id, { continuous: value === '' ? null : value === 'true' })
                  }
                >
                  <option value="">{t('settings.as-each-person-sets-it')}</option>
                  <option value="true">{t('settings.on')}</option>
                  <option value="false">{t('settings.off')}</option>
                </select>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {refusal && (
        <p role="alert" className="pt-2 text-[14px] text-rust">
          {refusal}
        </p>
      )}
    </div>
  )
}
