// Where recovery points are kept, how much room unsaved work may take here and on shared storage, and
// what goes first on this device.

import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Settings } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import type { ChosenPlace } from '../places/place'
import { PlaceBrowser } from '../places/place-browser'
import { T, t } from '../words/all'
import { moment, size } from '../words/formats'
import { deviceRoom } from '../work/pieces'
import { chosen, PathOf } from './defaults'

const limits = [50, 100, 200, 500, 1000, 2000, 5000]
const megabyte = 1_000_000

export function RoomForWork({ onChange }: { onChange: (part: Partial<Settings>) => void }) {
  const { person, settings } = useSession()
  const [choosing, setChoosing] = useState(false)
  const about = [settings.deviceRoom, settings.storageRoom, settings.goesFirst]
  const device = useQuery({ queryKey: keys.room('device', ...about), queryFn: () => deviceRoom(person, settings) })
  const storage = useQuery({ queryKey: keys.room('storage', ...about), queryFn: () => call('room', {}) })
  const row = (
    name: string,
    part: 'deviceRoom' | 'storageRoom',
    used: { data?: { taken: number; pieces: number; over: number }; isError: boolean },
  ) => (
    <tr className="border-t align-top">
      <th scope="row" className="py-2 pr-4 text-left font-normal">
        {name}
      </th>
      <td className="py-2 pr-4">
        {used.isError ? (
          <span className="text-soft">{t('settings.cannot-be-asked-right-now')}</span>
        ) : (
          used.data && (
            <>
              {t('settings.in-pieces', { taken: size(used.data.taken), pieces: used.data.pieces })}
              <meter
                className="mt-1 block h-1.5 w-40"
                aria-label={t('settings.room-taken', { name })}
                max={settings[part] * megabyte}
                value={Math.min(used.data.taken, settings[part] * megabyte)}
              />
            </>
          )
        )}
      </td>
      <td className="py-1">
        <select
          className="h-8 rounded-md border border-rule-strong bg-paper px-2"
          aria-label={t('settings.room-at-most', { name })}
          value={settings[part]}
          onChange={(event) => onChange({ [part]: Number(event.target.value) })}
        >
          {[...new Set([...limits, settings[part]])]
            .toSorted((a, b) => a - b)
            .map((limit) => (
              <option key={limit} value={limit}>
                {size(limit * megabyte)}
              </option>
            ))}
        </select>
      </td>
    </tr>
  )
  const over = [
    device.data?.over && t('settings.this-computer-keeps-more-than-you-allow', { over: size(device.data.over) }),
    storage.data?.over && t('settings.the-server-keeps-more-than-you-allow', { over: size(storage.data.over) }),
  ].filter(Boolean)
  return (
    <div className="text-[14px]">
      <table className="w-full border-collapse">
        <thead>
          <tr className="text-left text-[13px] text-soft">
            <th className="w-44 pb-1 font-normal">
              <span className="sr-only">{t('common.where')}</span>
            </th>
            <th className="pb-1 font-normal">{t('settings.used-by-your-unsaved-work')}</th>
            <th className="pb-1 font-normal">{t('common.at-most')}</th>
          </tr>
        </thead>
        <tbody>
          {row(t('common.this-computer'), 'deviceRoom', device)}
          {row(t('common.the-server'), 'storageRoom', storage)}
        </tbody>
      </table>
      {over.map((sentence) => (
        <p key={sentence as string} role="alert" className="pt-1 text-rust">
          {t('settings.in-work-that-is-open-or-was', { sentence })}
        </p>
      ))}
      <fieldset className="mt-3 flex flex-wrap items-center gap-x-5 gap-y-1">
        <legend className="text-soft">{t('settings.when-this-computer-is-full-of-the')}</legend>
        {(
          [
            ['oldest', t('settings.the-oldest')],
            ['largest', t('settings.the-largest')],
          ] as const
        ).map(([value, label]) => (
          <label key={value} className="flex items-center gap-2">
            <input
              type="radio"
              name="goes first"
              className="accent-accent"
              checked={settings.goesFirst === value}
              onChange={() => onChange({ goesFirst: value })}
            />
            {label}
          </label>
        ))}
      </fieldset>
      <p className="mt-2 text-soft">{t('settings.when-the-server-is-full-no-more')}</p>
      {!!storage.data?.went.length && (
        <details className="mt-2">
          <summary className="text-soft">
            {t('settings.pieces-were-removed-to-make-room', { went: storage.data.went.length })}
          </summary>
          <ul className="mt-1 border-t">
            {storage.data.went.map(({ name, opening, at }) => (
              <li key={at + name + opening} className="flex justify-between gap-4 border-b py-1">
                <bdi className="truncate">{name || `“${opening.slice(0, 60)}”`}</bdi>
                <span className="text-soft">{moment(at)}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
      <div className="mt-4 flex items-center gap-3 border-t pt-3">
        <div className="min-w-0 flex-1">
          <p>
            <T
              k="settings.recovery-points-of-a-file-are-kept"
              v={{
                it: settings.unsavedPlace ? <PathOf place={settings.unsavedPlace} /> : t('settings.for-you-alone'),
                span: (c) => <span className="font-medium">{c}</span>,
              }}
            />
          </p>
          <p className="text-soft">
            {settings.unsavedPlace
              ? t('settings.while-it-is-open-that-shares-managers')
              : t('settings.nobody-else-can-look-into-them-choose')}
          </p>
        </div>
        <Button onClick={() => setChoosing(true)}>{t('settings.choose-where')}</Button>
      </div>
      {choosing && (
        <Choosing
          begin={chosen(settings.unsavedPlace)}
          onChoose={(place) => {
            onChange({ unsavedPlace: place && { shareId: place.shareId, folderId: place.folderId } })
            setChoosing(false)
          }}
          onClose={() => setChoosing(false)}
        />
      )}
    </div>
  )
}

function Choosing({
  begin,
  onChoose,
  onClose,
}: {
  begin: ChosenPlace | null
  onChoose: (place: ChosenPlace | null) => void
  onClose: () => void
}) {
  const [at, setAt] = useState(begin)
  return (
    <Question
      title={t('settings.where-work-that-was-never-saved-is')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!at} onClick={() => onChoose(at)}>
            {t('settings.use-this-place')}
          </Button>
          {begin && <Button onClick={() => onChoose(null)}>{t('settings.for-me-alone')}</Button>}
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <p className="pb-3">{t('settings.new-work-counts-for-that-share-until')}</p>
      <PlaceBrowser className="h-72 rounded-md border bg-sheet text-ink" at={at} onChoose={setAt} />
    </Question>
  )
}
