import { useQueryClient } from '@tanstack/react-query'
import { toast } from 'sonner'
import { keys } from '../api/keys'
import { sentence } from './said'

/** Does something to rights, tells of what was refused, and asks anew who can reach what. @returns whether it was done */
export function useTried(): (what: () => Promise<unknown>) => Promise<boolean> {
  const client = useQueryClient()
  return async (what) => {
    try {
      await what()
      return true
    } catch (error) {
      toast.error(sentence(error))
      return false
    } finally {
      await client.invalidateQueries({ queryKey: keys.access() })
      await client.invalidateQueries({ queryKey: keys.shares() })
    }
  }
}
