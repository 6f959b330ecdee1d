// A folder of this computer is chosen for a copy of a file, a folder or a share, and the copy begins.
import { uuidv7 } from 'uuidv7'
import { askToUse, chooseFolder } from './folder'
import { changedOwnCopies, stepOwnCopies } from './runner'
import { ownCopies, ownCopy, putOwnCopy } from './store'

export interface CopyOf {
  shareId: string
  entryId: string | null
  kind: 'file' | 'folder'
  name: string
}

/** @returns how it stands after its first time; null where nobody chose a folder */
export async function keepOwnCopy(
  personId: string,
  of: CopyOf,
  chosen?: FileSystemDirectoryHandle,
): Promise<{ folder: string; done: boolean } | null> {
  const folder = chosen ?? (await chooseFolder())
  if (!folder) return null
  for (const one of await ownCopies(personId))
    if (one.entryId === of.entryId && one.shareId === of.shareId && (await one.folder.isSameEntry(folder))) {
      await stepOwnCopies(personId, { id: one.id }, { whole: true })
      return standing(one.id, folder.name)
    }
  const id = uuidv7()
  await putOwnCopy({ id, personId, ...of, folder, files: new Map(), at: null, failed: null })
  changedOwnCopies()
  await stepOwnCopies(personId, { id }, { wait: true })
  return standing(id, folder.name)
}
const standing = async (id: string, folder: string) => {
  const copy = await ownCopy(id)
  // Only what was brought there and read back is said to be there.
  const done =
    !!copy &&
    copy.at !== null &&
    copy.failed === null &&
    [...copy.files.values()].every(({ problem }) => problem === null)
  return { folder, done }
}

/** Asks the browser for the folder again, and goes on. */
export async function allowAgain(personId: string, id: string): Promise<boolean> {
  const copy = await ownCopy(id)
  if (!copy || !(await askToUse(copy.folder))) return false
  await stepOwnCopies(personId, { id })
  return true
}
