// Lists of values beside a spreadsheet, and PDFs beside a file: files of their own, of which it is known which sheet of
// which file they say.
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { Entry, NewSideLists, NewSidePdf, SideLists } from '../../core/contract'
import { saidAsText, typeReadAs } from '../../core/formats/csv/said'
import { fileType, isCsv, typeOfName } from '../../core/formats/types'
import { type Sentence, say } from '../../core/words/said'
import { unbounded } from '../counts/quotas'
import { announce } from '../events/announce'
import { EntryRow } from '../files/entity'
import { fileAsPdf } from '../paper/file-as-pdf'
import { typesetHere } from '../paper/typeset'
import type { AppParts } from '../parts'
import { absent, Refusal } from '../refusal'
import { maySee, requireRoleAt } from '../rights/service'
import { keepFiles } from '../saving/keep'
import { select } from '../sql/rows'
import { isDamage } from '../storage/content'
import { versionById } from '../versions/read'
import { SideListRow } from './entity'

const ListRow = z.object({
  id: z.string(),
  list_id: z.string(),
  name: z.string().nullable(),
  sheet: z.string().nullable(),
  number: z.number().nullable(),
  changed: z.boolean(),
  fault: z.custom<Sentence>().nullable(),
  by: z.string(),
})

/** What is kept in step beside a file, and what it is kept in step with itself. */
export async function sideListsOf(manager: EntityManager, personId: string, fileId: string): Promise<SideLists> {
  await requireRoleAt(manager, personId, fileId, 'view')
  const rows = await select(
    manager,
    ListRow,
    `select s.id, s.list_id, case when e.removed_at is null and ${maySee('$2')} then e.name end as name, s.sheet,
       s.written_number as number, e.head_version_id is distinct from s.written_as as changed, s.fault, p.name as by
     from side_list s join entry e on e.id = s.list_id join person p on p.id = s.asked_by
     where s.source_id = $1 order by e.name_key`,
    [fileId, personId],
  )
  const [of] = await select(
    manager,
    z.object({ id: z.string(), name: z.string(), sheet: z.string().nullable(), number: z.number().nullable() }),
    `select e.id, e.name, s.sheet, s.written_number as number from side_list s join entry e on e.id = s.source_id
     where s.list_id = $1 and e.removed_at is null and ${maySee('$2')}`,
    [fileId, personId],
  )
  return {
    lists: rows.map(({ list_id: listId, ...row }) => ({ ...row, fileId: listId })),
    of: of ? { fileId: of.id, name: of.name, sheet: of.sheet, number: of.number } : null,
  }
}

/**
 * Puts lists of some sheets beside a spreadsheet, where it is.
 * @throws Refusal not-allowed, not-found, name-refused, name-taken, invalid for what is no spreadsheet of sheets or cannot be
 *   read, for a sheet that is not in it, and for a name that is no list's: then there is none of them
 */
export async function newSideLists(
  { database, contents, sheets, quotas = unbounded }: Pick<AppParts, 'database' | 'contents' | 'sheets' | 'quotas'>,
  personId: string,
  fileId: string,
  { lists, guarded, inStep }: NewSideLists,
): Promise<Entry[]> {
  const { manager } = database
  await requireRoleAt(manager, personId, fileId, 'edit')
  const file = await manager.findOneByOrFail(EntryRow, { id: fileId })
  if (file.kind !== 'file' || fileType(file.type).kind !== 'spreadsheet' || isCsv(file.type))
    throw new Refusal('invalid', say('problem.has-no-sheets', { name: file.name }))
  for (const { name } of lists)
    if (!isCsv(typeOfName(name))) throw new Refusal('invalid', say('problem.no-list-by-its-name', { name }))
  const readAs = saidAsText({ ...(guarded && { guarded }) })
  const head = await versionById(manager, file.headVersionId!)
  const read = await sheets({
    bytes: await contents.whole(manager, Buffer.from(head.sha256, 'hex')),
    type: head.type,
    ways: lists.map(({ sheet, name }) => ({ sheet, type: typeReadAs(typeOfName(name), readAs) })),
  })
  if ('fault' in read) throw new Refusal('invalid', read.fault)
  const saved = await keepFiles(
    database,
    quotas,
    lists.map(({ id, sheet, name }, at) => {
      const written = read.lists[at]
      if (!written) throw new Refusal('invalid', say('problem.no-such-sheet', { sheet, name: file.name }))
      const { shareId, folderId } = file
      return {
        personId,
        bytes: Buffer.from(written.bytes),
        reason: 'in step' as const,
        key: id,
        target: { place: { shareId, folderId, name } },
      }
    }),
    async (all, files) => {
      if (readAs) for (const { file: list } of files) await all.update(EntryRow, { id: list.id }, { readAs })
      if (!inStep) return
      await all
        .createQueryBuilder()
        .insert()
        .into(SideListRow)
        .values(
          lists.map(({ id, sheet }, at) => ({
            id,
            sourceId: fileId,
            listId: files[at]!.file.id,
            sheet,
            pdf: null,
            askedBy: personId,
            seenVersionId: head.id,
            writtenNumber: head.number,
            writtenAs: files[at]!.version.id,
            fault: null,
          })),
        )
        // The same request, once more.
        .orIgnore()
        .execute()
    },
  )
  return saved.map(({ file: list }) => list)
}

/**
 * Puts a PDF of the newest version beside a file, where it is.
 * @throws Refusal not-allowed, not-found, name-refused, name-taken, invalid for what has no pages or cannot be set, and for
 *   a name that is no PDF's; checksum-differs for a version that is damaged
 */
export async function newSidePdf(
  {
    database,
    contents,
    typeset = typesetHere,
    quotas = unbounded,
  }: Pick<AppParts, 'database' | 'contents' | 'typeset' | 'quotas'>,
  personId: string,
  fileId: string,
  { id, name, inStep, ...way }: NewSidePdf,
): Promise<Entry> {
  const { manager } = database
  await requireRoleAt(manager, personId, fileId, 'edit')
  const file = await manager.findOneByOrFail(EntryRow, { id: fileId })
  if (file.kind !== 'file' || fileType(file.type).kind === 'other')
    throw new Refusal('invalid', say('problem.has-no-pages', { name: file.name }))
  if (typeOfName(name) !== 'pdf') throw new Refusal('invalid', say('problem.no-pdf-by-its-name', { name }))
  const head = await versionById(manager, file.headVersionId!)
  let bytes: Buffer
  try {
    bytes = await contents.whole(manager, Buffer.from(head.sha256, 'hex'))
  } catch (error) {
    if (!isDamage(error)) throw error
    throw new Refusal('checksum-differs', say('problem.this-version-is-damaged-on-the-server'))
  }
  const of = { name: file.name, number: head.number, savedAt: new Date(head.at), language: way.language }
  const made = await fileAsPdf(typeset, { bytes, type: head.type }, of, way.standard, way.choices)
  if ('fault' in made) throw new Refusal('invalid', say('problem.cannot-be-set', { why: [made.fault] }))
  const { shareId, folderId } = file
  const [saved] = await keepFiles(
    database,
    quotas,
    [
      {
        personId,
        bytes: Buffer.from(made.pdf),
        reason: 'in step',
        key: id,
        target: { place: { shareId, folderId, name } },
      },
    ],
    async (all, [kept]) => {
      if (!inStep) return
      await all
        .createQueryBuilder()
        .insert()
        .into(SideListRow)
        .values({
          id,
          sourceId: fileId,
          listId: kept!.file.id,
          sheet: null,
          pdf: way,
          askedBy: personId,
          seenVersionId: head.id,
          writtenNumber: head.number,
          writtenAs: kept!.version.id,
          fault: null,
        })
        // The same request, once more.
        .orIgnore()
        .execute()
    },
  )
  return saved!.file
}

/** The list stays as it is, and is a file like any other. @throws Refusal not-allowed, not-found */
export async function endSideList(manager: EntityManager, personId: string, id: string): Promise<void> {
  const row = await manager.findOneBy(SideListRow, { id })
  if (!row) throw absent()
  await requireRoleAt(manager, personId, row.sourceId, 'edit')
  await manager.delete(SideListRow, { id })
  const source = await manager.findOneBy(EntryRow, { id: row.sourceId })
  if (source) await announce(manager, { about: 'place', shareId: source.shareId, folderId: source.folderId })
}
