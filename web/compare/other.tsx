// Two versions of a file that Jaula does not edit: text by its lines, images by eye, the rest by the facts.

import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { HistoryVersion } from '../../core/contract'
import type { Sentence } from '../../core/words/said'
import { keys } from '../api/keys'
import { t } from '../words/all'
import { digits, moment, size } from '../words/formats'
import { compareWork } from '../workers/compare'
import type { Comparison } from '../workers/looking-back'
import { useBytes, useImage } from './bytes'
import { ShownComparison } from './compare-sides'
import { saidVersion } from './moments'

export function OtherComparison({
  older,
  newer,
  onBack,
}: {
  older: HistoryVersion
  newer: HistoryVersion
  onBack: () => void
}) {
  const [was, is] = [useBytes(older), useBytes(newer)]
  const found = useQuery({
    queryKey: keys.compared(older.id, newer.id),
    enabled: !!was.data && !!is.data,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async (): Promise<Comparison | { kind: 'damaged'; reason: Sentence }> =>
      compareWork().compareBytes({ bytes: was.data!, type: older.type }, { bytes: is.data!, type: newer.type }),
  })
  return (
    <ShownComparison found={found.data ?? null} older={saidVersion(older)} newer={saidVersion(newer)} onBack={onBack}>
      {found.data?.kind === 'images' ? (
        <Images older={was.data} newer={is.data} titles={[saidVersion(older), saidVersion(newer)]} />
      ) : (
        <Facts older={older} newer={newer} />
      )}
    </ShownComparison>
  )
}

function Images({
  older,
  newer,
  titles,
}: {
  older: Uint8Array | undefined
  newer: Uint8Array | undefined
  titles: [string, string]
}) {
  const [was, is] = [useImage(older), useImage(newer)]
  const [way, setWay] = useState<ImageWay>('beside')
  /** How much of the newer one is laid over the older one, in percent. */
  const [over, setOver] = useState(50)
  if (!was || !is) return null
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <fieldset className="flex items-center gap-5 border-b px-4 py-1.5 text-[14px]">
        <legend className="sr-only">{t('compare.how-the-two-are-shown')}</legend>
        {imageWays.map(([one, said]) => (
          <label key={one} className="flex items-center gap-2">
            <input
              type="radio"
              name="way"
              className="size-4 accent-[var(--accent)]"
              checked={way === one}
              onChange={() => setWay(one)}
            />
            {said}
          </label>
        ))}
        {way === 'over' && (
          <input
            type="range"
            aria-label={t('compare.how-much-of-the-newer-one')}
            className="w-64 accent-[var(--accent)]"
            min={0}
            max={100}
            value={over}
            onChange={(event) => setOver(Number(event.target.value))}
          />
        )}
        {way === 'differ' && <span className="text-soft">{t('compare.what-is-the-same-in-both-is')}</span>}
      </fieldset>
      {way === 'beside' ? (
        <div className="grid min-h-0 flex-1 grid-rows-2 md:grid-cols-2 md:grid-rows-1">
          {[was, is].map((address, side) => (
            <figure key={address} className={`flex min-h-0 flex-col ${side ? 'border-l' : ''}`}>
              <figcaption className="truncate border-b px-4 py-1.5 text-[13px] text-soft">{titles[side]}</figcaption>
              <div className="grid min-h-0 flex-1 place-items-center p-4">
                <img src={address} alt={titles[side]} className="max-h-full max-w-full shadow-page" />
              </div>
            </figure>
          ))}
        </div>
      ) : (
        <div className="isolate grid min-h-0 flex-1 place-items-center p-4">
          <img src={was} alt={titles[0]} className="col-start-1 row-start-1 max-h-full max-w-full" />
          <img
            src={is}
            alt={titles[1]}
            className="col-start-1 row-start-1 max-h-full max-w-full"
            style={way === 'over' ? { opacity: over / 100 } : { mixBlendMode: 'difference' }}
          />
        </div>
      )}
    </div>
  )
}

type ImageWay = 'beside' | 'over' | 'differ'
const imageWays: readonly [ImageWay, string][] = [
  ['beside', t('compare.side-by-side')],
  ['over', t('compare.one-over-the-other')],
  ['differ', t('compare.where-they-differ')],
]

function Facts({ older, newer }: { older: HistoryVersion; newer: HistoryVersion }) {
  const rows: [string, (version: HistoryVersion) => string][] = [
    [t('common.type'), ({ type }) => type || 'none'],
    [
      t('common.size'),
      (version) => t('compare.bytes', { version: size(version.size), version2: digits(version.size) }),
    ],
    [t('common.saved'), ({ at }) => moment(at)],
    [t('common.by'), ({ author }) => author.name],
    ['SHA-256', ({ sha256 }) => sha256],
  ]
  return (
    <div className="min-h-0 flex-1 overflow-auto p-8">
      <table className="w-full max-w-4xl table-fixed text-[14px]">
        <thead>
          <tr className="border-b text-left text-[13px] text-soft">
            <th className="w-28 py-2 font-normal" />
            <th className="py-2 font-normal">{saidVersion(older)}</th>
            <th className="py-2 font-normal">{saidVersion(newer)}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, of]) => (
            <tr key={name} className="border-b align-top">
              <th scope="row" className="py-2 text-left font-normal text-soft">
                {name}
              </th>
              {[older, newer].map((version) => (
                <td
                  key={version.id}
                  className={`break-all py-2 pr-4 ${of(older) === of(newer) ? '' : 'font-medium text-ochre'}`}
                >
                  {of(version)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
