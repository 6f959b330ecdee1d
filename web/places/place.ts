import { useQuery } from '@tanstack/react-query'
import type { Convention, ShareNaming } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'

/** A share or a folder in it, with folders below that may not be there yet. */
export interface ChosenPlace {
  shareId: string
  folderId: string | null
  path: readonly string[]
}

export const samePlace = (a: ChosenPlace | null, b: ChosenPlace | null): boolean =>
  a?.shareId === b?.shareId && a?.folderId === b?.folderId && a?.path.join('/') === b?.path.join('/')

/** What is in a place, its first names. */
export function usePlace(place: ChosenPlace | null, limit = 200) {
  return useQuery({
    queryKey: keys.place(place?.shareId, place?.folderId, place?.path.join('/'), 0, limit),
    enabled: !!place,
    placeholderData: (before) => before,
    queryFn: () =>
      call('place', {
        params: { shareId: place!.shareId },
        query: { folderId: place!.folderId ?? undefined, path: place!.path.join('/') || undefined, limit },
      }),
  })
}

/** What a share says about names. */
export function useShareNaming(shareId: string | undefined) {
  const { person } = useSession()
  return useQuery({
    queryKey: keys.naming(shareId),
    enabled: !!shareId && person.guestOf === undefined,
    staleTime: 60_000,
    queryFn: () => call('naming', { params: { shareId: shareId! } }),
  })
}

/** The convention that holds in a place, by its folders from the share down. */
export function conventionIn(naming: ShareNaming | undefined, trail: readonly { id: string }[]): Convention | null {
  for (const id of [...trail.map((one) => one.id).reverse(), null]) {
    const found = naming?.conventions.find((one) => one.folderId === id)
    if (found) return found
  }
  return null
}

const lastPlaceKey = 'jaula-last-place'

/** Where this person filed last on this device. */
export function lastPlace(): ChosenPlace | null {
  try {
    const place = JSON.parse(localStorage.getItem(lastPlaceKey) ?? 'null')
    return place && { shareId: place.shareId, folderId: place.folderId ?? null, path: [] }
  } catch {
    return null
  }
}
export const keepLastPlace = ({ shareId, folderId }: { shareId: string; folderId: string | null }): void => {
  try {
    localStorage.setItem(lastPlaceKey, JSON.stringify({ shareId, folderId }))
  } catch {
    // Without it the next slip begins at a share.
  }
}
