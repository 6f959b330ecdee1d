// A file with all its versions. The newest come with its facts; the older ones a page at a time, and not again while
// nothing of them is told otherwise: a file of thousands of versions is looked at after every save.
import type { FileFacts, HistoryVersion } from '../../core/contract'
import { call, isAway } from '../api/call'

/** Versions that are asked for at once. */
const page = 2000

/** @param known what was known of the file before, from which older versions are taken over */
export async function wholeFacts(fileId: string, known?: FileFacts): Promise<FileFacts> {
  const facts = await call('file', { params: { fileId } })
  const held = known?.file.id === fileId && known.historyStamp === facts.historyStamp ? known.versions : []
  // What is still being found out of a version may be known by now.
  const told = held.every(({ summary }) => summary !== null) ? held : []
  return { ...facts, versions: await joined(facts, told, (before) => olderOf(fileId, before)) }
}

/** Without the server the newest ones do for now. */
const olderOf = (fileId: string, before: number): Promise<HistoryVersion[]> =>
  call('versions', { params: { fileId }, query: { before, limit: page } }).catch((error) => {
    if (isAway(error)) return []
    throw error
  })

/**
 * All versions, newest first, of which the newest and perhaps some older ones are there.
 * @param held older ones that are known to be as they were; whether they are all is seen by their number
 */
export async function joined(
  { versions, versionsInAll }: Pick<FileFacts, 'versions' | 'versionsInAll'>,
  held: readonly HistoryVersion[],
  older: (before: number) => Promise<HistoryVersion[]>,
): Promise<HistoryVersion[]> {
  const all = [...versions]
  while (all.length < versionsInAll) {
    const last = all.at(-1)!.number
    const rest = held.filter(({ number }) => number < last)
    if (all.length + rest.length === versionsInAll) return [...all, ...rest]
    const next = await older(last)
    if (!next.length) break
    all.push(...next)
  }
  return all
}
