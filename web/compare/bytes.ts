import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import type { HistoryVersion } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'

/** Larger files are only told by their facts; bytes. */
const largestShown = 40_000_000

/** A version's bytes; none for a file that is too large to be shown. */
export function useBytes(version: HistoryVersion | undefined) {
  return useQuery({
    queryKey: keys.bytes(version?.id),
    enabled: !!version && version.size < largestShown,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    queryFn: () => call('bytes', { params: { versionId: version!.id } }),
  })
}
/** An image as an address for this page only. */
export function useImage(bytes: Uint8Array | undefined): string | null {
  const [address, setAddress] = useState<string | null>(null)
  useEffect(() => {
    if (!bytes) return setAddress(null)
    const made = URL.createObjectURL(new Blob([bytes.slice()]))
    setAddress(made)
    return () => URL.revokeObjectURL(made)
  }, [bytes])
  return address
}
