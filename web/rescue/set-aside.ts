import type { StoredDraft } from '../../core/recovery/protocol'
import { keepDraft } from '../workers/journal-store'

/** Lets a draft on this device go, or calls it back; either way it is kept for its days. */
export function setAside(draft: StoredDraft, state: 'let go' | 'closed', keptDays: number): Promise<void> {
  return keepDraft({ ...draft, state, keptUntil: new Date(Date.now() + keptDays * 86400_000).toISOString() })
}
