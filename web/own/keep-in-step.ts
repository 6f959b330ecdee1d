// Brings the copy in a folder of this computer in step with what is here, and reads again what is there.
import type { Entry } from '../../core/contract'
import { end, leftOf, mayWrite, noted, type OwnWanted, planOwn } from '../../core/copies/own'
import { call, isAway, Refused } from '../api/call'
import { fileAt, mayUse, removeIfSame, sumOf, write } from './folder'
import { type OwnCopy, ownCopy, putOwnCopy } from './store'

/** After so long a file is read again, whatever the computer says of it; milliseconds. */
const readAgain = 7 * 86_400_000
const perPage = 2000

/** A refusal that says that it is not there, or not for this person any more. */
const isGone = (error: unknown) => error instanceof Refused && error.problem.type === 'not-found'

async function wantedOf({ kind, entryId, shareId, name }: OwnCopy): Promise<OwnWanted[]> {
  const wanted = (path: string, { id, head }: Entry): OwnWanted[] =>
    head ? [{ fileId: id, versionId: head.id, number: head.number, path, sha256: head.sha256 }] : []
  if (kind === 'file') {
    const { file } = await call('file', { params: { fileId: entryId! } })
    return wanted(file.name, file)
  }
  const all: OwnWanted[] = []
  const walk = async (folderId: string | null, inside: string): Promise<void> => {
    for (let offset = 0; ; ) {
      const { entries, total } = await call('place', {
        params: { shareId },
        query: { ...(folderId && { folderId }), offset, limit: perPage },
      })
      for (const entry of entries) {
        const path = `${inside}/${entry.name}`
        if (entry.kind === 'folder') await walk(entry.id, path)
        else all.push(...wanted(path, entry))
      }
      offset += entries.length
      if (!entries.length || offset >= total) return
    }
  }
  await walk(entryId, name)
  return all
}

/** The same copy is brought in step by one tab at a time. @param wait for another one that is at it; else it is left to that */
const alone = async (id: string, wait: boolean, doing: () => Promise<void>): Promise<void> =>
  navigator.locks.request(`jaula-own-${id}`, { ifAvailable: !wait }, (lock) => (lock ? doing() : undefined))

/**
 * @param whole everything is read again, and what was told is tried again
 * @param over what was changed there is written over
 * @param wait somebody waits for it
 */
export async function keepInStep(id: string, { whole = false, over = false, wait = false } = {}): Promise<void> {
  await alone(id, wait || whole || over, async () => {
    const copy = await ownCopy(id)
    if (!copy) return
    const failed = await bring(copy, whole || over, over).catch(
      // What the folder does not give for any other reason is told as that.
      (error): OwnCopy['failed'] => ((error as DOMException).name === 'NotAllowedError' ? 'permission' : 'folder'),
    )
    // It may have been given up meanwhile.
    if (await ownCopy(id)) await putOwnCopy({ ...copy, failed, ...(failed === null && { at: Date.now() }) })
  })
}

async function bring(copy: OwnCopy, whole: boolean, over: boolean): Promise<OwnCopy['failed']> {
  const { folder, files } = copy
  if (!(await mayUse(folder))) return 'permission'
  let wanted: OwnWanted[]
  try {
    wanted = await wantedOf(copy)
  } catch (error) {
    if (isGone(error)) return 'gone'
    if (isAway(error) || error instanceof Refused) return 'server'
    throw error
  }
  const plan = planOwn(wanted, files, whole)
  for (const one of plan.look) {
    const kept = files.get(one.fileId)!
    const there = await fileAt(folder, one.path)
    if (there && !whole && there.lastModified === kept.modified && Date.now() - kept.checkedAt < readAgain) continue
    const sum = there && (await sumOf(await there.arrayBuffer()))
    if (sum === one.sha256) files.set(one.fileId, { ...kept, checkedAt: Date.now(), modified: there!.lastModified })
    // What nobody touched and is other bytes has rotted there: it is put right, as what is missing is.
    else if (sum === null || there!.lastModified === kept.modified) plan.write.push(one)
    else if (over) plan.write.push(one)
    else files.set(one.fileId, { ...kept, problem: 'changed there' })
  }
  let failed: OwnCopy['failed'] = null
  for (const one of plan.write) {
    try {
      const present = await fileAt(folder, one.path)
      const sum = present && (await sumOf(await present.arrayBuffer()))
      const known = files.get(one.fileId)
      const rotten = sum !== null && known?.path === one.path && known.modified === present!.lastModified
      if (!over && !rotten && !mayWrite(sum, one, files)) {
        noted(files, one, { problem: 'changed there', checkedAt: Date.now(), modified: 0 })
        continue
      }
      const there =
        sum === one.sha256 ? present! : await write(folder, one.path, await bytesOf(one.versionId), one.sha256)
      noted(files, one, { problem: null, checkedAt: Date.now(), modified: there.lastModified })
      // What is there is known after each file: whatever ends this, it goes on from here.
      await putOwnCopy(copy)
    } catch (error) {
      if (error instanceof Refused) return 'server'
      if ((error as DOMException).name === 'NotAllowedError') return 'permission'
      noted(files, one, { problem: 'refused', checkedAt: Date.now(), modified: 0 })
      failed = 'folder'
    }
  }
  for (const { path, sha256, forget } of leftOf(wanted, files))
    await removeIfSame(folder, path, sha256).then(forget, () => {})
  end(files, plan.ended)
  return failed
}

const bytesOf = async (versionId: string): Promise<Uint8Array<ArrayBuffer>> =>
  (await call('bytes', { params: { versionId } }, { timeout: 600_000 })) as Uint8Array<ArrayBuffer>
