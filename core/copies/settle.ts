// Where entries go that come back from copies of different moments: what moved between two copyings may lack its folder,
// meet another of its name, or lie in itself. Each has a place all the same, and what is fine stays as it is.
import { freeName, nameKey } from '../naming/check'

export interface Settled {
  id: string
  shareId: string
  folderId: string | null
  name: string
}

/**
 * @param entries in the order of who keeps a name that two have; folders are those that `isFolder` says
 * @returns all of them, folders before what lies in them and in one share with it, no two of one name in a place; and the
 *   identities of those that are elsewhere, or called otherwise, than they were
 */
export function settle(
  entries: readonly Settled[],
  isFolder: (id: string) => boolean,
): { settled: Settled[]; changed: Set<string> } {
  const byId = new Map(entries.map((one) => [one.id, one]))
  const changed = new Set<string>()
  /** Whether the way up from an entry comes to an end; what it cannot get out of begins at the top. */
  const ends = new Set<string>()
  const parents = new Map<string, string | null>()
  for (const { id, folderId } of entries) {
    const there = folderId !== null && byId.has(folderId) && isFolder(folderId)
    parents.set(id, there ? folderId : null)
    if (folderId !== null && !there) changed.add(id)
  }
  for (const { id } of entries) {
    const way: string[] = []
    const seen = new Set<string>()
    let at: string | null = id
    while (at !== null && !ends.has(at) && !seen.has(at)) {
      seen.add(at)
      way.push(at)
      at = parents.get(at)!
    }
    if (at !== null && seen.has(at)) {
      parents.set(at, null)
      changed.add(at)
    }
    for (const one of way) ends.add(one)
  }
  const within = new Map<string | null, Settled[]>()
  for (const one of entries) {
    const folder = parents.get(one.id)!
    const there = within.get(folder)
    if (there) there.push(one)
    else within.set(folder, [one])
  }
  const settled: Settled[] = []
  const taken = new Map<string, Set<string>>()
  const open: { folder: string | null; shareId: string | null }[] = [{ folder: null, shareId: null }]
  for (let next = open.shift(); next; next = open.shift())
    for (const one of within.get(next.folder) ?? []) {
      const shareId = next.shareId ?? one.shareId
      const place = `${shareId} ${next.folder}`
      let names = taken.get(place)
      if (!names) taken.set(place, (names = new Set()))
      const name = freeName(one.name, names)
      names.add(nameKey(name))
      if (name !== one.name || shareId !== one.shareId) changed.add(one.id)
      settled.push({ id: one.id, shareId, folderId: next.folder, name })
      if (isFolder(one.id)) open.push({ folder: one.id, shareId })
    }
  return { settled, changed }
}
