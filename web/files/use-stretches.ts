import { type UseQueryResult, useQueries, useQueryClient } from '@tanstack/react-query'
import type { Entry, ListKind, ListOrder, Place } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'

/** Rows that are fetched together. */
export const stretch = 200

/** What of a place is shown, and in which order. */
export interface Shown {
  /** Only names that hold this. */
  find: string
  kind: ListKind | null
  order: ListOrder
  /** From the last to the first. */
  turned: boolean
}

export interface Listed {
  first: UseQueryResult<Place>
  total: number
  /** The entry in a row, undefined while it is on its way. */
  row(index: number): Entry | undefined
  /** All entries of a range of rows, fetched where they are not here yet. */
  range(from: number, to: number): Promise<Entry[]>
}

/**
 * A folder's rows, fetched by stretches as they come into sight, so that a folder of any size is
 * there at once. @param visible first and last row in sight
 */
export function useStretches(
  shareId: string,
  folderId: string | null,
  shown: Shown,
  visible: readonly [number, number],
): Listed {
  const client = useQueryClient()
  const options = (page: number, limit = stretch) => ({
    queryKey: keys.place(shareId, folderId, 'stretch', shown, page, limit),
    queryFn: () =>
      call('place', {
        params: { shareId },
        query: {
          folderId: folderId ?? undefined,
          offset: page * limit,
          limit,
          order: shown.order,
          turned: shown.turned ? 'true' : 'false',
          ...(shown.find && { find: shown.find }),
          ...(shown.kind && { kind: shown.kind }),
        },
      }),
  })
  const pages = new Set([0])
  for (let page = Math.floor(visible[0] / stretch); page <= Math.floor(visible[1] / stretch); page++) pages.add(page)
  const wanted = [...pages]
  const results = useQueries({
    queries: wanted.map((page) => ({ ...options(page), placeholderData: (before: Place | undefined) => before })),
  })
  const byPage = new Map(wanted.map((page, index) => [page, results[index]!]))
  const first = byPage.get(0)!
  const total = first.data?.total ?? 0
  return {
    first,
    total,
    row(index) {
      const page = Math.floor(index / stretch)
      const data = byPage.get(page)?.data ?? client.getQueryData<Place>(options(page).queryKey)
      return data && data.offset === page * stretch ? data.entries[index - page * stretch] : undefined
    },
    async range(from, to) {
      const large = 2000
      const entries: Entry[] = []
      for (let page = Math.floor(from / large); page <= Math.floor(to / large); page++) {
        const place = await client.fetchQuery(options(page, large))
        entries.push(...place.entries.filter((_, index) => page * large + index >= from && page * large + index <= to))
      }
      return entries
    },
  }
}
