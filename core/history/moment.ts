// A share or folder as it was at a moment, held against what it is now: what differs, entry by entry.

/** Where an entry is, or was, and which version of it is the newest. */
export interface Standing {
  shareId: string
  folderId: string | null
  name: string
  removed: boolean
  /** The newest version's bytes, as their SHA-256; null of a folder. */
  sha256: string | null
}
export interface EntryThenAndNow {
  id: string
  now: Standing
  /** null where there was no such entry yet. */
  then: Standing | null
}
/** What is other than it was: it went, it lies elsewhere, has another name, another content, or was not there. */
export type Differs = 'removed' | 'moved' | 'renamed' | 'changed' | 'new'

export interface Difference {
  id: string
  differs: Differs[]
  /** The folders that it lay in, from the share down; of what is new, those that it lies in. */
  folders: string[]
}

/** What an entry is now that it was not, and the other way round. Nothing of what was not there and is not. */
export function differsIn({ now, then }: Pick<EntryThenAndNow, 'now' | 'then'>): Differs[] {
  const was = then && !then.removed ? then : null
  if (!was) return now.removed ? [] : ['new']
  if (now.removed) return now.sha256 === was.sha256 ? ['removed'] : ['removed', 'changed']
  const differs: Differs[] = []
  if (now.shareId !== was.shareId || now.folderId !== was.folderId) differs.push('moved')
  if (now.name !== was.name) differs.push('renamed')
  if (now.sha256 !== was.sha256) differs.push('changed')
  return differs
}

/**
 * What of a place differs from a moment.
 * @param entries all of the share, also folders that do not differ
 * @param place of which things are told that lay in it then, or lie in it now
 * @returns by folder and name, what is new after all else
 */
export function differencesAt(
  entries: readonly EntryThenAndNow[],
  place: { shareId: string; folderId: string | null },
): Difference[] {
  const byId = new Map(entries.map((one) => [one.id, one]))
  const way = (start: string | null, when: 'now' | 'then'): { names: string[]; ids: Set<string> } => {
    const names: string[] = []
    const ids = new Set<string>()
    for (let at = start; at !== null && !ids.has(at); ) {
      ids.add(at)
      const folder = byId.get(at)
      const there = folder && (folder[when] ?? folder.now)
      if (!there) break
      names.unshift(there.name)
      at = there.folderId
    }
    return { names, ids }
  }
  const ways = new Map<string, ReturnType<typeof way>>()
  const wayTo = (folderId: string | null, when: 'now' | 'then') => {
    const key = `${when} ${folderId}`
    let known = ways.get(key)
    if (!known) ways.set(key, (known = way(folderId, when)))
    return known
  }
  const found: (Difference & { name: string })[] = []
  for (const { id, now, then } of entries) {
    const differs = differsIn({ now, then })
    if (!differs.length) continue
    const lay = then && !then.removed ? wayTo(then.folderId, 'then') : null
    const lies = wayTo(now.folderId, 'now')
    const inside = (standing: Standing | null, ids: Set<string> | undefined) =>
      !!standing &&
      standing.shareId === place.shareId &&
      (place.folderId === null || id === place.folderId || !!ids?.has(place.folderId))
    if (!inside(then && !then.removed ? then : null, lay?.ids) && !(!now.removed && inside(now, lies.ids))) continue
    found.push({ id, differs, folders: (lay ?? lies).names, name: (lay ? then! : now).name })
  }
  const key = ({ folders, name }: { folders: string[]; name: string }) => [...folders, name].join('\0')
  const order = (a: (typeof found)[number], b: (typeof found)[number]) => {
    const [later, than] = [a.differs.includes('new'), b.differs.includes('new')]
    return later === than ? (key(a) < key(b) ? -1 : key(a) > key(b) ? 1 : 0) : later ? 1 : -1
  }
  return found.sort(order).map(({ name: _, ...one }) => one)
}
