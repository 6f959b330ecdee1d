import type { Entry } from '../../core/contract'

/** Where an entry of a folder opens. */
export const addressOfEntry = (entry: Entry): string =>
  entry.kind === 'folder' ? `/files/${entry.shareId}/${entry.id}` : `/open/${entry.id}`
