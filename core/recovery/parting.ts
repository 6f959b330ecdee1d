// Parting: what one writer had beyond the records that another one has, too, becomes a draft of its own on the
// device, in one commit with the end of the old one here. Its id follows from what is in it, so that whoever
// begins it again, after a crash or from another tab, finds it made and goes on with it.

import { beyondOf } from './beyond'
import { commonLength, forkId, genesis, type Link, recordOf } from './chain'
import { readChain, storedRecords } from './journal'
import { type DiskChange, type Ports, Superseded } from './ports'
import type { StoredDraft } from './protocol'

export interface Parting {
  /** The draft that was written, and whether its row on this device is the writer's own, and goes with it. */
  row: StoredDraft
  own: boolean
  /** The whole chain, and how many of its records the other writer has. */
  mine: readonly Link[]
  common: number
  base: Uint8Array | null
}
export interface Parted {
  row: StoredDraft
  links: readonly Link[]
  /** Why the device does not keep it; it goes to shared storage from memory then. */
  refused: unknown
}

/** @returns null when another page of this browser has the old draft by now: that one parts it */
export async function partOnDevice({ disk, newId }: Ports, parting: Parting): Promise<Parted | null> {
  const { mine, own, base } = parting
  const oldOne: DiskChange['expect'] = own ? [[parting.row.id, parting.row.generation, parting.row.head]] : []
  const forget = own ? { forget: [parting.row.id] } : {}
  let parent = { id: parting.row.id, common: parting.common }
  for (;;) {
    const id = forkId(parent.id, mine[parent.common]!.digest)
    const row = rowOf(id, parting, newId)
    try {
      await disk.commit({
        expect: [[id, null], ...oldOne],
        drafts: [row],
        ...(base && { bases: [{ draftId: id, bytes: base }] }),
        records: storedRecords(id, mine, genesis(row.baseVersionId)),
        ...forget,
      })
      return { row, links: mine, refused: null }
    } catch (error) {
      const there = await disk.draft(id).catch(() => undefined)
      if (!there) return own && error instanceof Superseded ? null : { row, links: mine, refused: error }
      const head = { seq: there.journalSeq, digest: there.head }
      const { links } = readChain(await disk.rows(id), row.baseVersionId, head)
      const same = commonLength(mine, links)
      if (same < Math.min(mine.length, links.length)) {
        // It was made and written on: what differs from it parts from it in turn.
        parent = { id, common: same }
        continue
      }
      if (own) await disk.commit({ expect: oldOne, ...forget }).catch(() => {})
      if (mine.length <= links.length) return { row: there, links, refused: null }
      const { journalSeq, head: end, generation, beyond } = row
      const grown = { ...there, journalSeq, head: end, generation, beyond }
      const before = links.at(-1)?.digest ?? genesis(row.baseVersionId)
      await disk.commit({
        expect: [[id, there.generation]],
        drafts: [grown],
        records: storedRecords(id, mine.slice(same), before),
      })
      return { row: grown, links: mine, refused: null }
    }
  }
}

function rowOf(id: string, { row, mine, common }: Parting, newId: () => string): StoredDraft {
  const last = mine.at(-1)!
  const saved = row.savedSeq <= common
  return {
    ...row,
    id,
    journalSeq: last.seq,
    head: last.digest,
    pointSeq: 0,
    savedSeq: saved ? row.savedSeq : common,
    savedHead: saved ? row.savedHead : null,
    beyond: beyondOf(mine.slice(common)),
    lastEditAt: new Date(recordOf(last.text).at).toISOString(),
    state: 'open',
    keptUntil: null,
    generation: newId(),
    epoch: 1,
    writerId: newId(),
    claimed: true,
    forkOf: { draftId: row.id, seq: common },
    endUntold: false,
    refused: null,
  }
}
