// How the values of a list are written, where somebody said it: a fact of its file, for everybody who reads it.
import type { DataSource } from 'typeorm'
import { type SaidOfList, saidAsText } from '../../core/formats/csv/said'
import { isCsv } from '../../core/formats/types'
import { say } from '../../core/words/said'
import { announce } from '../events/announce'
import { Refusal } from '../refusal'
import { requireRoleAt } from '../rights/service'
import { SearchFileRow } from '../search/entity'
import { execute } from '../sql/rows'
import { EntryRow } from './entity'

/** A version's type with what was said of its file. @param version an alias of it @param entry an alias of its file */
export const typeRead = (version: string, entry: string): string =>
  `${version}.type || coalesce('?' || ${entry}.read_as, '')`

/** @throws Refusal not-allowed, not-found, invalid for a file that is no list of values */
export async function setReading(
  { manager: all }: DataSource,
  personId: string,
  fileId: string,
  said: SaidOfList,
): Promise<void> {
  await all.transaction(async (manager) => {
    await requireRoleAt(manager, personId, fileId, 'edit')
    const file = await manager.findOneByOrFail(EntryRow, { id: fileId })
    if (!isCsv(file.type)) throw new Refusal('invalid', say('problem.not-a-list-of-values', { name: file.name }))
    await manager.update(EntryRow, { id: fileId }, { readAs: saidAsText(said) })
    // In another encoding it has other words: those of its head are not known any more.
    await manager.update(SearchFileRow, { fileId }, { versionId: null })
    await execute(manager, 'insert into search_queue (file_id) values ($1)', [fileId])
    const { shareId, headVersionId } = file
    if (headVersionId)
      await announce(manager, { about: 'file', shareId, fileId, versionId: headVersionId, authorId: personId })
  })
}
