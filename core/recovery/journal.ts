// How a journal's records are kept on the device, in every form that a Jaula ever wrote.
//
// Form 1 is the bare record. Form 2 adds the form's number and a CRC-32 (ISO 3309) of the record's JSON.
// Form 3 keeps the record's exact text and its place in the chain (chain.ts): the digest before it and its
// own, which is also its sum. Rows of form 3 are keyed by draft, number and digest, so that two chains of one
// draft, as two tabs or a damaged journal leave them, stand beside each other and none overwrites the other.
//
// Reading ends at the first record that is missing or damaged: what came before is recovered, and where it
// ended is told, because edits after a lost one would land in the wrong places.
import type { JournalRecord } from '../contract'
import { crc32 } from '../formats/opc/zip'
import { contentText, type Digest, genesis, type Link, linkDigest } from './chain'

/** The form that is written now. */
export const journalForm = 3

/** A row of form 3. */
export interface StoredRecord {
  draftId: string
  seq: number
  digest: Digest
  before: Digest
  text: string
  form: number
}

/** A link as the device keeps it. @param before the digest of the record before it */
export const storedRecord = (draftId: string, { seq, text, digest }: Link, before: Digest): StoredRecord => ({
  draftId,
  seq,
  digest,
  before,
  text,
  form: journalForm,
})

/** Links of one chain, in order, as the device keeps them. @param before the digest of the record before the first */
export function storedRecords(draftId: string, links: readonly Link[], before: Digest): StoredRecord[] {
  let last = before
  return links.map((link) => {
    const row = storedRecord(draftId, link, last)
    last = link.digest
    return row
  })
}

/** Why reading ended before the journal did; `from` is the first record that is lost. */
export interface Damage {
  from: number
  reason: 'missing' | 'damaged' | 'newer'
}

export interface ReadChain {
  /** From the first record on, without a gap, each proved by its digest. */
  links: Link[]
  damage: Damage | null
}

/**
 * Reads the chain of a draft from its rows of form 3, whatever else stands among them.
 * @param head the last record that the draft claims, and its digest
 */
export function readChain(
  rows: readonly unknown[],
  baseVersionId: string | null,
  head: { seq: number; digest: Digest },
): ReadChain {
  const at = new Map<number, StoredRecord[]>()
  for (const row of rows as StoredRecord[])
    if (Number.isInteger(row?.seq)) at.set(row.seq, [...(at.get(row.seq) ?? []), row])
  // Which of several rows of one number belongs to this chain is known from its end.
  const chosen = new Map<number, StoredRecord>()
  let wanted: Digest = head.digest
  for (let seq = head.seq; seq > 0; seq--) {
    const row = at.get(seq)?.find(({ digest }) => digest === wanted)
    if (!row) break
    chosen.set(seq, row)
    wanted = row.before
  }
  const links: Link[] = []
  let digest = genesis(baseVersionId)
  for (let seq = 1; seq <= head.seq; seq++) {
    const rows = at.get(seq) ?? []
    const row = chosen.get(seq) ?? rows.find(({ before }) => before === digest) ?? rows[0]
    if (!row) return { links, damage: { from: seq, reason: 'missing' } }
    if (row.form > journalForm) return { links, damage: { from: seq, reason: 'newer' } }
    if (typeof row.text !== 'string' || row.before !== digest || linkDigest(digest, row.text) !== row.digest)
      return { links, damage: { from: seq, reason: 'damaged' } }
    digest = row.digest
    links.push({ seq, text: row.text, digest })
  }
  return { links, damage: null }
}

const encoder = new TextEncoder()
/** The sum of form 2. */
export const sumOf = ({ seq, at, edit }: JournalRecord): number =>
  crc32(encoder.encode(JSON.stringify([seq, at, edit]) ?? '')) >>> 0

/**
 * Reads rows of forms 1 and 2 as a chain.
 * @param until the last record that the draft claims to have; records missing at the end are told
 */
export function readEarlierForms(rows: readonly unknown[], baseVersionId: string | null, until: number): ReadChain {
  const found = new Map<number, unknown>()
  for (const row of rows) {
    const seq = (row as { seq?: number } | null)?.seq
    if (Number.isInteger(seq)) found.set(seq!, row)
  }
  const links: Link[] = []
  let digest = genesis(baseVersionId)
  for (let seq = 1; seq <= Math.max(until, ...found.keys()); seq++) {
    const row = found.get(seq) as (JournalRecord & { form?: number; sum?: number }) | undefined
    if (row === undefined) return { links, damage: { from: seq, reason: 'missing' } }
    const { at, edit, form = 1, sum } = row
    if (form > 2) return { links, damage: { from: seq, reason: 'newer' } }
    const whole =
      typeof at === 'number' &&
      typeof edit === 'object' &&
      edit !== null &&
      (form === 1 ? sum === undefined : sum === sumOf({ seq, at, edit }))
    if (!whole) return { links, damage: { from: seq, reason: 'damaged' } }
    const text = contentText({ seq, at, edit })
    digest = linkDigest(digest, text)
    links.push({ seq, text, digest })
  }
  return { links, damage: null }
}
