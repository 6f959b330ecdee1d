// What a convention is shown by: where it applies, and names that it gives.
import { useMemo } from 'react'
import type { Rules, Share, ShareNaming } from '../../core/contract'
import { NameText } from '../design/kind'
import { usePlace } from '../places/place'
import { t } from '../words/all'
import { examplesOf } from './examples'

export function Where({ share, folderId }: { share: Share; folderId: string | null }) {
  const place = usePlace(folderId ? { shareId: share.id, folderId, path: [] } : null, 1)
  return <>{[share.name, ...(folderId ? (place.data?.trail.map(({ name }) => name) ?? ['…']) : [])].join(' / ')}</>
}

export function Examples({ rules, naming }: { rules: Rules; naming: ShareNaming }) {
  const examples = useMemo(() => examplesOf(rules, naming.lists), [rules, naming.lists])
  return (
    <ul className="mt-3 border-t pt-2">
      {examples.map(({ name, place }) => (
        <li key={name} className="flex flex-wrap items-baseline gap-x-4 py-0.5">
          <NameText name={name} className="text-[13.5px]" />
          {place.length > 0 && (
            <span className="text-[13px] text-soft">{t('names.goes-to', { place: place.join(' / ') })}</span>
          )}
        </li>
      ))}
    </ul>
  )
}
