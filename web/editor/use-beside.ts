// What stands beside the work: one thing at a time.
import { useEffect, useState } from 'react'
import { useSearchParams } from 'react-router'

/** Who can reach the file, what is known of it, its pages, or its pages on the way to a printer. */
export type BesideWork = 'reach' | 'about' | 'pages' | 'printing'

/** @param focusWork the keys go back to the work when nothing stands beside it any more */
export function useBeside(focusWork: () => void) {
  const [beside, setBeside] = useState<BesideWork | null>(null)
  const [query, setQuery] = useSearchParams()
  // Whoever comes from a list of files to read of one sees it, and the work as it is when it is opened again.
  const asked = query.has('about')
  // biome-ignore lint/correctness/useExhaustiveDependencies: shown once, where the address asks for it
  useEffect(() => {
    if (!asked) return
    setBeside('about')
    const rest = new URLSearchParams(query)
    rest.delete('about')
    setQuery(rest, { replace: true })
  }, [asked])
  const show = (next: BesideWork | null) => {
    setBeside(next)
    if (!next) focusWork()
  }
  return {
    beside,
    show,
    /** Shows it, or closes it where it is there. */
    toggle: (wanted: 'reach' | 'about' | 'pages') =>
      show(beside === wanted || (wanted === 'pages' && beside === 'printing') ? null : wanted),
  }
}
