// Renaming, moving, removing, bringing back and correcting are one kind of act: for each folder or
// file, the place and name it had and the ones it has afterwards. An act is carried out whole or
// not at all, and undone the same way, as an act of its own. Versions and origins hang on the
// file's id and are not touched.
import { createHash } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { ActResult, Change } from '../../core/contract'
import { typeOfName } from '../../core/formats/types'
import { say } from '../../core/words/said'
import { ActChangeRow, ActRow } from '../files/entity'
import { entryById } from '../files/entries'
import { folderAt } from '../files/folders'
import {
  bringingBack,
  carryOut,
  inside,
  locked,
  lockTrees,
  type Move,
  moveAll,
  noteAct,
  type What,
  wouldGoAlong,
} from '../files/moves'
import { acceptName, isNameTaken, nameTaken } from '../files/names'
import { takeNumber } from '../naming/counters'
import { absent, Refusal } from '../refusal'
import { pause } from '../requests/json'
import { refuseTypes } from '../shares/types'
import { selectOne } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import { checkTargets, mayChange, refuseHeld, requireAct, requireRealms } from './act-rules'
import { undoVersions } from './act-versions'

export interface NewActInput {
  id: string
  what: Exclude<What, 'undo' | 'as it was'>
  changes: Change[]
}

/**
 * Carries out an act. A repeated request finds it done.
 * @throws Refusal not-allowed, not-found, changed-meanwhile, name-refused, name-taken: then nothing was changed
 */
export async function performAct(
  database: DataSource,
  personId: string,
  { id, what, changes }: NewActInput,
): Promise<ActResult> {
  const request = createHash('sha256')
    .update(JSON.stringify([what, changes]))
    .digest()
  if (changes.length > 5000) await pause()
  const made = await database.manager.findOneBy(ActRow, { id })
  if (made) {
    await requireAct(database.manager, personId, id, 'view')
    if (made.personId !== personId || (made.requestDigest && !made.requestDigest.equals(request)))
      throw new Refusal('invalid', say('problem.this-id-belongs-to-another-act-so'))
    return resultOf(database.manager, id, [])
  }
  return guarded(database, personId, async (manager) => {
    await mayChange(manager, personId, changes)
    await lockTrees(manager, changes)
    const entries = await locked(
      manager,
      changes.map((change) => change.id),
    )
    const moves: Move[] = []
    const renamed: ActResult['renamed'] = []
    for (const change of changes) {
      const entry = entries.get(change.id)
      if (!entry) throw absent()
      if ((entry.removed_at !== null) !== (what === 'bring back'))
        throw new Refusal(
          'changed-meanwhile',
          say('problem.was-brought-back-meanwhile-nothing-was-changed', {
            entryName: entry.name,
            removedat: Boolean(entry.removed_at),
          }),
        )
      if (change.from !== undefined && change.from !== entry.name)
        throw new Refusal(
          'changed-meanwhile',
          say('problem.is-named-by-now-nothing-was-changed', { from: change.from, entryName: entry.name }),
        )
      if (what === 'bring back') {
        // What lies in two of the folders that come back comes back once.
        const coming = new Set(moves.map((move) => move.entry.id))
        const back = await bringingBack(manager, entry, entries, renamed)
        moves.push(...back.filter((move) => !coming.has(move.entry.id)))
        continue
      }
      if (what === 'remove') {
        moves.push({ entry, shareId: entry.share_id, folderId: entry.folder_id, name: entry.name, removed: true })
        continue
      }
      const shareId = change.shareId ?? entry.share_id
      const base =
        change.folderId === undefined ? (shareId === entry.share_id ? entry.folder_id : null) : change.folderId
      const name = change.name === undefined ? entry.name : acceptName(change.name)
      if (entry.kind === 'file' && typeOfName(name) !== entry.type)
        throw new Refusal(
          'name-refused',
          say('problem.the-ending-tells-other-programs-what-is', { it: entry.type || '(none)', entryName: entry.name }),
          {
            fields: { name: say('problem.the-ending-stays', { type: entry.type }) },
            freeName: entry.type ? `${name.replace(/\.[a-z0-9]{1,12}$/i, '')}.${entry.type}` : name,
          },
        )
      moves.push({ entry, shareId, folderId: base, name, removed: false })
    }
    // What was brought to another share since it was asked for is another share's.
    await requireRealms(manager, personId, moves)
    // Folders that a plan asks for are made once for all that go there.
    const paths = new Map<string, string | null>()
    for (const [index, change] of changes.entries()) {
      if (!change.path || what === 'bring back' || what === 'remove') continue
      const move = moves[index]!
      const key = JSON.stringify([move.shareId, move.folderId, change.path])
      if (!paths.has(key)) paths.set(key, await folderAt(manager, personId, move.shareId, move.folderId, change.path))
      move.folderId = paths.get(key)!
    }
    if (what === 'remove') {
      moves.push(...(await inside(manager, moves, true)))
      await refuseHeld(manager, moves)
    }
    await checkTargets(manager, moves)
    await refuseTypes(manager, moves)
    for (const move of moves)
      if (!move.removed && move.entry.kind === 'file' && move.name !== move.entry.name)
        await takeNumber(
          manager,
          { id: move.entry.id, shareId: move.shareId, folderId: move.folderId, name: move.name },
          undefined,
        )
    await carryOut(manager, personId, id, what, moves, null, request)
    return resultOf(manager, id, renamed)
  })
}

/** Undoes an act as a whole: each thing has the place and name it had. @throws Refusal changed-meanwhile when something was changed since */
export async function undoAct(database: DataSource, personId: string, actId: string): Promise<ActResult> {
  return guarded(database, personId, async (manager) => {
    const act = await manager.findOne(ActRow, { where: { id: actId }, lock: { mode: 'pessimistic_write' } })
    if (!act) throw absent()
    await requireAct(manager, personId, actId, 'edit')
    if (act.undoneBy) return resultOf(manager, act.undoneBy, [])
    const changes = await manager.findBy(ActChangeRow, { actId })
    const entries = await locked(
      manager,
      changes.map((change) => change.entryId),
    )
    await lockTrees(
      manager,
      changes.map(({ entryId, fromShare }) => ({ id: entryId, shareId: fromShare, folderId: null })),
    )
    const moves = changes.map((change): Move => {
      const entry = entries.get(change.entryId)!
      if (
        entry.name !== change.toName ||
        entry.folder_id !== change.toFolder ||
        entry.share_id !== change.toShare ||
        (entry.removed_at !== null) !== change.toRemoved
      )
        throw new Refusal(
          'changed-meanwhile',
          say('problem.was-changed-again-since-so-this-cannot', { toName: change.toName }),
        )
      return {
        entry,
        shareId: change.fromShare,
        folderId: change.fromFolder,
        name: change.fromName,
        removed: change.fromRemoved,
      }
    })
    // What was filed meanwhile into a folder that would go is nobody's to take away with it.
    const [since] = await wouldGoAlong(manager, moves)
    if (since)
      throw new Refusal(
        'changed-meanwhile',
        say('problem.was-changed-again-since-so-this-cannot', { toName: since.entry.name }),
      )
    // Whoever took something to another share may take that back.
    await requireRealms(manager, personId, moves, act.personId === personId)
    await refuseHeld(manager, moves)
    await checkTargets(manager, moves)
    const id = uuidv7()
    await noteAct(manager, personId, { id, what: 'undo', shareId: act.shareId, undoes: actId, request: null })
    // A file that goes gets its version before it does.
    await undoVersions(manager, personId, actId, id)
    if (moves.length) await moveAll(manager, personId, id, moves)
    await manager.update(ActRow, { id: actId }, { undoneBy: id })
    return resultOf(manager, id, [])
  })
}

/** Runs in a transaction; a name that is taken becomes a refusal that says by what. */
export async function guarded(
  database: DataSource,
  personId: string,
  run: (manager: EntityManager) => Promise<ActResult>,
): Promise<ActResult> {
  try {
    return await inTransaction(database, run)
  } catch (error) {
    if (!isNameTaken(error)) throw error
    const detail = String((error as { driverError?: { detail?: string } }).driverError?.detail ?? '')
    const match =
      /\(share_id, folder_id, name_key\)=\(([0-9a-f-]{36}), ([0-9a-f-]{36}|null), (.*)\) already exists/s.exec(detail)
    if (!match) throw error
    throw await nameTaken(database.manager, personId, match[1]!, match[2] === 'null' ? null : match[2]!, match[3]!)
  }
}

export async function resultOf(manager: EntityManager, id: string, renamed: ActResult['renamed']): Promise<ActResult> {
  const { what, entries, only, kind, removed } = await selectOne(
    manager,
    z.object({
      what: z.string(),
      entries: z.number(),
      only: z.string(),
      kind: z.enum(['folder', 'file']),
      removed: z.boolean(),
    }),
    `select a.what, count(*)::int as entries, min(e.id::text) as only, min(e.kind) as kind, bool_or(e.removed_at is not null) as removed
     from act a join (select act_id, entry_id from act_change union select act_id, file_id from act_version) c on c.act_id = a.id
     join entry e on e.id = c.entry_id where a.id = $1 group by a.id`,
    [id],
  )
  return {
    id,
    what,
    entries,
    renamed,
    ...(entries === 1 && !removed && { entry: await entryById(manager, only, kind) }),
  }
}
