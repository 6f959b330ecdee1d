import { useCallback, useEffect, useRef } from 'react'
import { useNavigation } from 'react-router'

/**
 * Whether somebody is still at what they did when its answer comes. Who went elsewhere meanwhile, or is on
 * the way there, is not fetched back by it: `here() && navigate(…)`.
 */
export function useStillHere(): () => boolean {
  const { location } = useNavigation()
  const leaving = useRef(false)
  leaving.current = !!location
  const shown = useRef(true)
  useEffect(() => {
    shown.current = true
    return () => {
      shown.current = false
    }
  }, [])
  return useCallback(() => shown.current && !leaving.current, [])
}
