import type { Entry } from '../../core/contract'

/** Where an entry of a folder opens. */
export const addressOfEntry = (entry: Entry): string =>
  entry.kind === 'folder' ? `/files/${entry.shareId}/${entry.id}` : `/open/${entry.id}`

export const folderOf = (file: { shareId: string; folderId: string | null; name: string }): string =>
  `/files/${file.shareId}${file.folderId ? `/${file.folderId}` : ''}?find=${encodeURIComponent(file.name)}`
