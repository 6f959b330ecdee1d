import { useEffect } from 'react'
import type { Settings } from '../../core/contract'

/** Dresses the page light or dark, and again when the system changes its mind. */
export function useAppearance(appearance: Settings['appearance']): void {
  useEffect(() => {
    const dark = window.matchMedia('(prefers-color-scheme: dark)')
    const dress = () =>
      document.documentElement.classList.toggle(
        'dark',
        appearance === 'dark' || (appearance === 'system' && dark.matches),
      )
    dress()
    dark.addEventListener('change', dress)
    return () => dark.removeEventListener('change', dress)
  }, [appearance])
}
