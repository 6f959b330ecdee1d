// Where new work is filed unless somebody says otherwise: a person's own choice, and each share's by
// its manager. Chosen by browsing; no path is typed.

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import type { DefaultPlace, Defaults } from '../../core/contract'
import { defaultType, writable } from '../../core/formats/types'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { useSession } from '../api/signed-in'
import { Button } from '../design/controls'
import { KindGlyph } from '../design/kind'
import { Question } from '../design/overlay'
import { type ChosenPlace, usePlace } from '../places/place'
import { PlaceBrowser } from '../places/place-browser'
import { NeedsOf } from '../views/needs'
import { t, told } from '../words/all'

type Kind = 'document' | 'spreadsheet'
const kinds: Kind[] = ['document', 'spreadsheet']

interface Owner {
  key: string
  /** Who it holds for, in words. */
  whom: string
  defaults: Defaults
  /** A share's default lies in that share. */
  shareId: string | null
  keep: (defaults: Defaults) => Promise<unknown>
}

/** The table of default places: oneself, then each share that one manages. */
export function DefaultPlaces() {
  const client = useQueryClient()
  const { settings } = useSession()
  const shares = useQuery(queries.shares)
  const [choosing, setChoosing] = useState<{ key: string; kind: Kind } | null>(null)
  const owners: Owner[] = [
    {
      key: 'me',
      whom: t('common.you'),
      defaults: settings.defaults,
      shareId: null,
      keep: async (defaults) =>
        client.setQueryData(keys.settings(), await call('setSettings', { body: { ...settings, defaults } })),
    },
    ...(shares.data ?? [])
      .filter(({ role }) => role === 'manage')
      .map(
        (share): Owner => ({
          key: share.id,
          whom: t('settings.everyone-in', { shareName: share.name }),
          defaults: share.defaults,
          shareId: share.id,
          keep: async (defaults) => {
            await call('shareDefaults', { params: { shareId: share.id }, body: defaults })
            await client.invalidateQueries({ queryKey: keys.shares() })
          },
        }),
      ),
  ]
  const chooser = choosing && owners.find(({ key }) => key === choosing.key)
  return (
    <>
      <table className="w-full table-fixed border-collapse text-[14px]">
        <thead>
          <tr className="text-left text-[13px] text-soft">
            <th className="w-44 pb-1 font-normal">
              <span className="sr-only">{t('settings.for-whom')}</span>
            </th>
            {kinds.map((kind) => (
              <th key={kind} className="pb-1 pl-2 font-normal">
                {t('settings.new-spreadsheets', { kind })}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {owners.map((owner) => (
            <tr key={owner.key} className="border-t">
              <th scope="row" className="py-1 pr-2 text-left font-normal">
                {owner.whom}
              </th>
              {kinds.map((kind) => (
                <td key={kind} className="py-1">
                  <button
                    type="button"
                    className="flex w-full items-center gap-2 rounded-md px-2 py-1.5 text-left hover:bg-wash"
                    onClick={() => setChoosing({ key: owner.key, kind })}
                  >
                    <span className="sr-only">{t('settings.place-for-new', { whom: owner.whom, kind })}</span>
                    <KindGlyph type={owner.defaults[kind]?.type ?? defaultType[kind]} size={16} />
                    <PathOf place={owner.defaults[kind]?.place ?? null} />
                    <TypeOf type={owner.defaults[kind]?.type} kind={kind} />
                  </button>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {chooser && <Choosing owner={chooser} kind={choosing!.kind} onClose={() => setChoosing(null)} />}
    </>
  )
}

export const chosen = (place: DefaultPlace | null): ChosenPlace | null => place && { ...place, path: [] }

export function PathOf({ place }: { place: DefaultPlace | null }) {
  const listing = usePlace(chosen(place), 1)
  if (!place) return <span className="text-soft">{t('settings.where-you-last-saved')}</span>
  if (listing.isError) return <span className="text-rust">{t('settings.a-place-that-is-not-here-any')}</span>
  return (
    <bdi className="min-w-0 truncate">
      {listing.data && [listing.data.share.name, ...listing.data.trail.map(({ name }) => name)].join(' / ')}
    </bdi>
  )
}

/** Told where it is another one than everybody's. */
const TypeOf = ({ type, kind }: { type: string | undefined; kind: Kind }) =>
  type && type !== defaultType[kind] ? <span className="shrink-0 font-mono text-[13px] text-soft">.{type}</span> : null

function Choosing({ owner, kind, onClose }: { owner: Owner; kind: Kind; onClose: () => void }) {
  // What is set may come later than the question is asked: until something is chosen, it is what is shown.
  const [place, setAt] = useState<ChosenPlace | null | undefined>(undefined)
  const [wanted, setType] = useState<string | null>(null)
  const [chosenTypes, setTypes] = useState<readonly string[] | null>(null)
  const taken = chosenTypes ?? owner.defaults[kind]?.only ?? writable[kind]
  const own = owner.defaults[kind]?.place
  const begin = useMemo(
    () => chosen(own ?? (owner.shareId ? { shareId: owner.shareId, folderId: null } : null)),
    [own, owner.shareId],
  )
  const at = place === undefined ? begin : place
  const asked: string = wanted ?? owner.defaults[kind]?.type ?? defaultType[kind]
  const type = taken.includes(asked) ? asked : (taken[0] ?? asked)
  const only = taken.length < writable[kind].length ? [...taken] : undefined
  const keep = useMutation({
    mutationFn: (place: ChosenPlace | null) =>
      owner.keep({
        ...owner.defaults,
        [kind]:
          place || type !== defaultType[kind] || only
            ? { place: place && { shareId: place.shareId, folderId: place.folderId }, type, ...(only && { only }) }
            : undefined,
      }),
    onSuccess: onClose,
  })
  const elsewhere = owner.shareId !== null && at !== null && at.shareId !== owner.shareId
  return (
    <Question
      title={t('settings.where-new-spreadsheets-go', {
        kind,
        it: owner.shareId === null ? t('settings.your-own') : owner.whom,
      })}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!at || elsewhere || keep.isPending} onClick={() => keep.mutate(at)}>
            {t('settings.use-this-place')}
          </Button>
          {(owner.defaults[kind] || type !== defaultType[kind]) && (
            <Button disabled={keep.isPending} onClick={() => keep.mutate(null)}>
              {t('settings.no-fixed-place')}
            </Button>
          )}
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <p className="pb-3">{t('settings.the-filing-slip-begins-here-and-a')}</p>
      <div className="pb-3">
        <NeedsOf types={taken} value={type} onChange={setType} />
      </div>
      {owner.shareId !== null && (
        <fieldset className="pb-3 text-ink">
          <legend className="pb-1 text-[13px] text-soft">{t('settings.types-that-it-takes', { kind })}</legend>
          <div className="flex flex-wrap gap-x-4">
            {writable[kind].map((one) => (
              <label key={one} className="flex min-h-7 items-center gap-1.5 font-mono text-[13px]">
                <input
                  type="checkbox"
                  className="size-4 accent-accent"
                  checked={taken.includes(one)}
                  // One is left at least.
                  disabled={taken.length === 1 && taken.includes(one)}
                  onChange={(event) =>
                    setTypes(
                      writable[kind].filter((type) => (type === one ? event.target.checked : taken.includes(type))),
                    )
                  }
                />
                .{one}
              </label>
            ))}
          </div>
        </fieldset>
      )}
      <PlaceBrowser className="h-72 rounded-md border bg-sheet text-ink" at={at} onChoose={setAt} />
      {elsewhere && (
        <p role="alert" className="pt-2 text-rust">
          {t('settings.a-shares-own-default-is-in-that')}
        </p>
      )}
      {keep.isError && (
        <p role="alert" className="pt-2 text-rust">
          {keep.error instanceof Refused ? told(keep.error.problem) : t('settings.this-could-not-be-saved')}
        </p>
      )}
    </Question>
  )
}
