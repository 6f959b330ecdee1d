import { useQuery } from '@tanstack/react-query'
import { useSession } from '../app/session'
import { listPieces } from './pieces'

/** The pieces of unsaved work, as Rescue lists them. @param often ask again by itself, not only at news */
export function usePieces(often = true) {
  const { person } = useSession()
  return useQuery({
    queryKey: ['pieces', person.id],
    queryFn: () => listPieces(person.id),
    refetchInterval: often ? 4000 : false,
    staleTime: 0,
  })
}
