// How a journal's records are kept on the device, in every form that a Jaula ever wrote.
//
// Form 1 is the bare record. Form 2 adds the form's number and a CRC-32 (ISO 3309) of the record's
// JSON, so that a record which was altered, or written only in part, is known as damaged. Reading
// goes in order and ends at the first record that is missing or damaged: what came before is
// recovered, and where it ended is told, because edits after a lost one would land in the wrong places.
import type { JournalRecord } from '../contract'
import { crc32 } from '../formats/opc/zip'

/** The form that is written now. */
export const journalForm = 2

export interface StoredRecord extends JournalRecord {
  draftId: string
  /** Absent in form 1. */
  form?: number
  sum?: number
}

const encoder = new TextEncoder()
const sumOf = ({ seq, at, edit }: JournalRecord): number =>
  crc32(encoder.encode(JSON.stringify([seq, at, edit]) ?? '')) >>> 0

/** A record in the form that is written now. */
export const storedRecord = (draftId: string, record: JournalRecord): StoredRecord => ({
  draftId,
  ...record,
  form: journalForm,
  sum: sumOf(record),
})

export interface ReadJournal {
  /** In order, from the first asked for, without a gap. */
  records: JournalRecord[]
  /** Why reading ended before the journal did; `from` is the first record that is lost. */
  damage: { from: number; reason: 'missing' | 'damaged' | 'newer' } | null
}

/**
 * Reads stored records, whoever wrote them.
 * @param rows as they come from the device, in any order
 * @param after the record before the first wanted one
 * @param until the last record that the draft claims to have; records missing at the end are told
 */
export function readJournal(rows: readonly unknown[], after = 0, until?: number): ReadJournal {
  const found = new Map<number, unknown>()
  for (const row of rows) {
    const seq = (row as Partial<StoredRecord> | null)?.seq
    if (Number.isInteger(seq)) found.set(seq!, row)
  }
  const last = Math.max(until ?? 0, ...found.keys(), after)
  const records: JournalRecord[] = []
  for (let seq = after + 1; seq <= last; seq++) {
    const row = found.get(seq) as StoredRecord | undefined
    if (row === undefined) return { records, damage: { from: seq, reason: 'missing' } }
    const { at, edit, form = 1, sum } = row
    if (form > journalForm) return { records, damage: { from: seq, reason: 'newer' } }
    const whole =
      typeof at === 'number' &&
      typeof edit === 'object' &&
      edit !== null &&
      (form === 1 ? sum === undefined : sum === sumOf({ seq, at, edit }))
    if (!whole) return { records, damage: { from: seq, reason: 'damaged' } }
    records.push({ seq, at, edit })
  }
  return { records, damage: null }
}

/** What is known of a draft from two places, put together: as far as either gets without a gap. */
export function joinJournals(device: ReadJournal, points: readonly JournalRecord[]): ReadJournal {
  const records = [...device.records]
  for (const record of points) if (record.seq === records.length + 1) records.push(record)
  const damage = device.damage && records.length < device.damage.from ? device.damage : null
  return { records, damage }
}
