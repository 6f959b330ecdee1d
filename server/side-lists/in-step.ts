// Lists of values follow their spreadsheet, PDFs their file: whenever it has a version that they were not looked at for, they
// are written anew, as versions of their own by whoever saved it. What cannot be written is told where the lists are listed.
import { createHash } from 'node:crypto'
import type { DataSource } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { PdfWay } from '../../core/contract'
import { isCsv } from '../../core/formats/types'
import { type Sentence, say } from '../../core/words/said'
import type { Quotas } from '../counts/quotas'
import { announce } from '../events/announce'
import { typeRead } from '../files/reading'
import type { Work } from '../jobs/queue'
import { quiet } from '../jobs/quiet'
import { fileAsPdf } from '../paper/file-as-pdf'
import type { Typeset } from '../paper/typeset'
import { databaseIsAway, Refusal } from '../refusal'
import { keepVersion } from '../saving/keep'
import { select } from '../sql/rows'
import type { Contents } from '../storage/content'
import { SideListRow } from './entity'
import type { ReadSheets } from './read-sheets'

/** Larger files are not read for their lists; bytes. */
const largestRead = 100_000_000

const Behind = z.object({
  id: z.string(),
  sheet: z.string().nullable(),
  pdf: z.custom<PdfWay>().nullable(),
  list_id: z.string(),
  list_type: z.string(),
  list_head: z.string(),
  list_sha256: z.instanceof(Buffer),
  list_removed: z.boolean(),
  share_id: z.string(),
  folder_id: z.string().nullable(),
  head: z.string(),
  number: z.number(),
  type: z.string(),
  sha256: z.instanceof(Buffer),
  size: z.string(),
  name: z.string(),
  at: z.date(),
  author_id: z.string(),
  reason: z.string(),
})
type Behind = z.output<typeof Behind>

export interface InStep {
  database: DataSource
  contents: Contents
  sheets: ReadSheets
  typeset: Typeset
  quotas: Quotas
  /** Is told of what is nobody's fault but ours: such a list waits for the next version, and holds up no other. */
  onFault(error: unknown): void
}

type Outcome = { as: string } | { fault: Sentence }

/** Why a list cannot be written, whatever its spreadsheet says. */
function hindrance({ list_removed, list_type, size, pdf }: Behind): Sentence | null {
  const large = Number(size) > largestRead
  if (pdf) {
    if (list_removed) return say('problem.pdf-is-removed')
    if (list_type !== 'pdf') return say('problem.pdf-is-none-any-more')
    return large ? say('problem.pages-take-too-long') : null
  }
  if (list_removed) return say('problem.list-is-removed')
  if (!isCsv(list_type)) return say('problem.list-is-none-any-more')
  return large ? say('problem.list-takes-too-long') : null
}

/** @returns the list's version that says this one, why there is none, or null where it is to be tried again */
async function keep({ database, quotas }: InStep, list: Behind, bytes: Buffer): Promise<Outcome | null> {
  // What did not change makes no version.
  if (createHash('sha256').update(bytes).digest().equals(list.list_sha256)) return { as: list.list_head }
  try {
    const { version } = await keepVersion(database, quotas, {
      personId: list.author_id,
      bytes,
      // What saved itself thins out as that does.
      reason: list.reason === 'by itself' ? 'by itself' : 'in step',
      key: uuidv7(),
      target: { fileId: list.list_id, baseId: list.list_head },
    })
    return { as: version.id }
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    // Somebody saved it in the same moment: what they saved stays in its history.
    if (error.problem.type === 'newer-version') return null
    return { fault: error.problem.says ?? error.problem.title }
  }
}

/** The lists of one spreadsheet that are behind it. */
const nextBehind = (database: DataSource): Promise<Behind[]> =>
  select(
    database,
    Behind,
    `select s.id, s.sheet, s.pdf, s.list_id, ${typeRead('lv', 'l')} as list_type, l.head_version_id as list_head,
       lv.sha256 as list_sha256, l.removed_at is not null as list_removed, e.share_id, e.folder_id,
       v.id as head, v.number, ${typeRead('v', 'e')} as type, v.sha256, v.size, e.name, v.at, v.author_id, v.reason
     from (
       select b.source_id from side_list b join entry f on f.id = b.source_id
       where b.seen_version_id is distinct from f.head_version_id and f.removed_at is null limit 1
     ) next
     join side_list s on s.source_id = next.source_id
     join entry e on e.id = s.source_id join version v on v.id = e.head_version_id
     join entry l on l.id = s.list_id join version lv on lv.id = l.head_version_id
     where s.seen_version_id is distinct from e.head_version_id`,
  )

/** What each of them is to hold: its bytes, or why there are none. */
async function writtenFor(parts: InStep, behind: readonly Behind[]): Promise<Map<Behind, Uint8Array | Sentence>> {
  const { database, contents, sheets, typeset, onFault } = parts
  const { sha256, type, name, number, at: savedAt } = behind[0]!
  const written = new Map<Behind, Uint8Array | Sentence>()
  for (const one of behind) {
    const hindered = hindrance(one)
    if (hindered) written.set(one, hindered)
  }
  const left = behind.filter((one) => !written.has(one))
  if (!left.length) return written
  try {
    const bytes = await contents.whole(database.manager, sha256)
    const lists = left.flatMap((list) => (list.sheet === null ? [] : [{ list, sheet: list.sheet }]))
    if (lists.length) {
      const ways = lists.map(({ list, sheet }) => ({ sheet, type: list.list_type }))
      const read = await sheets({ bytes, type, ways })
      for (const [at, { list, sheet }] of lists.entries())
        written.set(
          list,
          'fault' in read ? read.fault : (read.lists[at]?.bytes ?? say('problem.no-such-sheet-any-more', { sheet })),
        )
    }
    for (const one of left) {
      if (!one.pdf) continue
      const { standard, choices, language } = one.pdf
      const made = await fileAsPdf(typeset, { bytes, type }, { name, number, savedAt, language }, standard, choices)
      written.set(one, 'fault' in made ? made.fault : made.pdf)
    }
  } catch (error) {
    // It is the same version when the database is back.
    if (databaseIsAway(error)) throw error
    onFault(error)
    for (const one of left)
      if (!written.has(one)) written.set(one, say(one.pdf ? 'problem.pdf-not-written' : 'problem.list-not-read'))
  }
  return written
}

/** Brings lists to the newest versions of their spreadsheets. @returns how many were looked at */
export async function bringInStep(parts: InStep, stopped: () => boolean = () => false): Promise<number> {
  const { database } = parts
  let looked = 0
  for (;;) {
    const behind = stopped() ? [] : await nextBehind(database)
    if (!behind.length) return looked
    for (const [list, written] of await writtenFor(parts, behind)) {
      const outcome = written instanceof Uint8Array ? await keep(parts, list, Buffer.from(written)) : { fault: written }
      looked++
      if (!outcome) continue
      const found =
        'as' in outcome ? { fault: null, writtenAs: outcome.as, writtenNumber: list.number } : { fault: outcome.fault }
      await database.transaction(async (manager) => {
        await manager.update(SideListRow, { id: list.id }, { seenVersionId: list.head, ...found })
        await announce(manager, { about: 'place', shareId: list.share_id, folderId: list.folder_id })
      })
    }
    await quiet(stopped)
  }
}

export const keepingInStep = (parts: InStep): Work => ({
  name: 'side-lists',
  when: '* * * * *',
  run: (stopped) => bringInStep(parts, stopped).catch(parts.onFault),
})
