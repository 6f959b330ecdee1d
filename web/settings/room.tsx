// Where recovery points are kept, how much room unsaved work may take here and on shared storage, and
// what goes first on this device.

import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Settings } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../app/session'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { count, moment, size } from '../design/words'
import type { ChosenPlace } from '../places/place'
import { PlaceBrowser } from '../places/place-browser'
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
          <span className="text-soft">cannot be asked right now</span>
        ) : (
          used.data && (
            <>
              {size(used.data.taken)} in {count(used.data.pieces, 'piece')}
              <meter
                className="mt-1 block h-1.5 w-40"
                aria-label={`${name}: room taken`}
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
          aria-label={`${name}: at most`}
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
    device.data?.over && `This device keeps ${size(device.data.over)} more than is allowed`,
    storage.data?.over && `Shared storage keeps ${size(storage.data.over)} more than is allowed`,
  ].filter(Boolean)
  return (
    <div className="text-[14px]">
      <table className="w-full border-collapse">
        <thead>
          <tr className="text-left text-[13px] text-soft">
            <th className="w-44 pb-1 font-normal">
              <span className="sr-only">Where</span>
            </th>
            <th className="pb-1 font-normal">Taken by your unsaved work</th>
            <th className="pb-1 font-normal">At most</th>
          </tr>
        </thead>
        <tbody>
          {row('This device', 'deviceRoom', device)}
          {row('Shared storage', 'storageRoom', storage)}
        </tbody>
      </table>
      {over.map((sentence) => (
        <p key={sentence as string} role="alert" className="pt-1 text-rust">
          {sentence}, in work that is open or was interrupted. None of that goes by itself: save it, or let it go in
          Rescue.
        </p>
      ))}
      <fieldset className="mt-3 flex flex-wrap items-center gap-x-5 gap-y-1">
        <legend className="text-soft">
          When this device is full, of what was set aside and shared storage keeps, too
        </legend>
        {(
          [
            ['oldest', 'the oldest goes first'],
            ['largest', 'the largest goes first'],
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
      <p className="mt-2 text-soft">
        When shared storage is full, no more work is set aside there: it stays among your interrupted work until you
        save some, let some go, or allow more.
      </p>
      {!!storage.data?.went.length && (
        <details className="mt-2">
          <summary className="text-soft">{count(storage.data.went.length, 'piece')} went to make room</summary>
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
            Recovery points of a file are kept in its share. Those of work that was never saved:{' '}
            <span className="font-medium">
              {settings.unsavedPlace ? <PathOf place={settings.unsavedPlace} /> : 'for you alone'}
            </span>
          </p>
          <p className="text-soft">
            {settings.unsavedPlace
              ? 'While it is open, that share’s managers see it in Rescue and can save a copy of it.'
              : 'Nobody else can look into them. Choose a share whose managers may help while your program hangs.'}
          </p>
        </div>
        <Button onClick={() => setChoosing(true)}>Choose where …</Button>
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
      title="Where work that was never saved is protected"
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!at} onClick={() => onChoose(at)}>
            Use this place
          </Button>
          {begin && <Button onClick={() => onChoose(null)}>For me alone</Button>}
          <Button look="quiet" onClick={onClose}>
            Not now
          </Button>
        </>
      }
    >
      <p className="pb-3">New work counts for that share until it is saved. No file appears in the folder.</p>
      <PlaceBrowser className="h-72 rounded-md border bg-sheet text-ink" at={at} onChoose={setAt} />
    </Question>
  )
}
