import { useQueryClient } from '@tanstack/react-query'
import { useCallback } from 'react'
import { toast } from 'sonner'
import { Refused } from '../api/call'
import { keys } from '../api/keys'
import { t, told } from '../words/all'

/** Asks the server for something about copies, and says what came of it. @returns whether it was done */
export function useAsking() {
  const client = useQueryClient()
  return useCallback(
    async (act: () => Promise<unknown>, done?: string, failed = t('sites.could-not')): Promise<boolean> => {
      try {
        await act()
      } catch (error) {
        toast.error(error instanceof Refused ? told(error.problem) : failed)
        return false
      }
      if (done) toast(done)
      await client.invalidateQueries({ queryKey: keys.copies() })
      return true
    },
    [client],
  )
}
