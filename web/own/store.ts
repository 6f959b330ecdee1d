// Which folders of this computer have copies, and of what: kept by the browser for whoever is signed in.
import { type DBSchema, type IDBPDatabase, openDB } from 'idb'
import type { OwnKept } from '../../core/copies/own'

export interface OwnCopy {
  id: string
  personId: string
  shareId: string
  /** null: all of the share. */
  entryId: string | null
  kind: 'file' | 'folder'
  name: string
  folder: FileSystemDirectoryHandle
  /** By the file's id. */
  files: Map<string, OwnKept>
  /** When all of it was last as it is here; milliseconds, null for never. */
  at: number | null
  /** Why the last try ended: no permission, the server or the folder did not answer, or what it was about is gone. */
  failed: 'permission' | 'server' | 'folder' | 'gone' | null
}

interface Schema extends DBSchema {
  copies: { key: string; value: OwnCopy; indexes: { personId: string } }
}
let opened: Promise<IDBPDatabase<Schema>> | undefined
function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>('jaula-own-copies', 1, {
    upgrade(made) {
      made.createObjectStore('copies', { keyPath: 'id' }).createIndex('personId', 'personId')
    },
    blocking(_own, _wanted, event) {
      ;(event.target as IDBDatabase).close()
      opened = undefined
    },
    terminated() {
      opened = undefined
    },
  }).catch((error) => {
    opened = undefined
    throw error
  })
  return opened
}

export const ownCopies = async (personId: string): Promise<OwnCopy[]> =>
  (await database()).getAllFromIndex('copies', 'personId', personId)
export const ownCopy = async (id: string): Promise<OwnCopy | undefined> => (await database()).get('copies', id)
export const putOwnCopy = async (copy: OwnCopy): Promise<void> => void (await (await database()).put('copies', copy))
export const dropOwnCopy = async (id: string): Promise<void> => (await database()).delete('copies', id)
