import { useQuery, useQueryClient } from '@tanstack/react-query'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { askServer, listPieces } from './pieces'

/** This device's journals are looked through this often: nobody tells of what another tab writes. Milliseconds. */
const lookEvery = 4000
/**
 * The server tells of what happens to a draft, and is asked then. That one has fallen silent happens by the clock
 * alone, and what its device counts beyond the last recovery point is not told to everybody; milliseconds.
 */
const serverKnowsFor = 12_000

/** The pieces of unsaved work, as Rescue lists them. @param often look again by itself, not only at news */
export function usePieces(often = true) {
  const client = useQueryClient()
  const { person } = useSession()
  return useQuery({
    queryKey: keys.pieces(person.id),
    queryFn: () =>
      listPieces(person.id, () =>
        // Below `pieces`, so that whatever makes those out of date makes these so, too.
        client.fetchQuery({
          queryKey: keys.pieces('of server', person.id),
          queryFn: askServer,
          staleTime: serverKnowsFor,
        }),
      ),
    refetchInterval: often ? lookEvery : false,
    staleTime: 0,
  })
}
