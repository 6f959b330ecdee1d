// What somebody wants to hear of: what others saved there since they last looked.
import { type EntityManager, IsNull } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { Watched } from '../../core/contract'
import { say } from '../../core/words/said'
import { Refusal } from '../refusal'
import { thingFor } from '../rights/access'
import { maySee, seenBy } from '../rights/service'
import { select } from '../sql/rows'
import { WatchRow } from './entity'

/** So many places one person watches, at most. */
const most = 50
/** Of so many of the newest versions it is looked whether they lie there: with more, as many are said. */
const looked = 2000

/** Watches a place from now on, or no more. @throws Refusal not-found, invalid for too many */
export async function watch(manager: EntityManager, personId: string, id: string, on: boolean): Promise<void> {
  const { thing } = await thingFor(manager, personId, id, 'view')
  const entryId = thing.kind === 'share' ? null : thing.id
  const where = { personId, shareId: thing.shareId, entryId: entryId ?? IsNull() }
  if (!on) return void (await manager.delete(WatchRow, where))
  if (await manager.existsBy(WatchRow, where)) return
  if ((await manager.countBy(WatchRow, { personId })) >= most)
    throw new Refusal('invalid', say('problem.so-many-are-watched', { most }))
  await manager
    .createQueryBuilder()
    .insert()
    .into(WatchRow)
    .values({ id: uuidv7(), personId, shareId: thing.shareId, entryId, seenAt: new Date() })
    .orIgnore()
    .execute()
}

/** Notes that somebody has looked at a place that they watch, as it was at a moment. */
export async function seeWatched(manager: EntityManager, personId: string, id: string, at: string): Promise<void> {
  // The database knows a thousandth of what a page does: the version that was looked at is not new any more.
  const seenAt = new Date(Math.min(Date.now(), Date.parse(at) + 1))
  for (const where of [
    { personId, entryId: id },
    { personId, shareId: id, entryId: IsNull() },
  ])
    await manager.update(WatchRow, where, { seenAt })
}

/** The places that somebody watches and may still see, with what others saved there since they last looked. */
export async function watchedBy(manager: EntityManager, personId: string): Promise<Watched[]> {
  const rows = await select(
    manager,
    z.object({
      id: z.string(),
      kind: z.enum(['share', 'folder', 'file']),
      name: z.string(),
      shareId: z.string(),
      since: z.date(),
    }),
    `select coalesce(e.id, s.id) as id, coalesce(e.kind, 'share') as kind, coalesce(e.name, s.name) as name, s.id as "shareId", w.seen_at as since
     from watch w left join entry e on e.id = w.entry_id join share s on s.id = coalesce(e.share_id, w.share_id)
     where w.person_id = $1 and (e.id is null or e.removed_at is null) and ${maySee('$1', 'coalesce(e.realm_id, s.id)')}
     order by w.seen_at`,
    [personId],
  )
  const found: Watched[] = []
  for (const { since, ...of } of rows) {
    const [changes] = await select(
      manager,
      z.object({ files: z.number(), people: z.array(z.string()), latest: z.date().nullable() }),
      // From the newest version on, as far as it was not looked at; the folders above each are few.
      `with recursive fresh as (
         select v.file_id, v.author_id, v.at from version v where v.at > $2 order by v.at desc limit ${looked}),
       there(file_id, author_id, at, above) as (
         select f.file_id, f.author_id, f.at, e.folder_id from fresh f join entry e on e.id = f.file_id ${seenBy('$1')}
         where f.author_id <> $1 and e.share_id = $3 and e.removed_at is null),
       up(file_id, author_id, at, place) as (
         select file_id, author_id, at, file_id from there
         union select t.file_id, t.author_id, t.at, t.above from there t
         union select up.file_id, up.author_id, up.at, e.folder_id from up join entry e on e.id = up.place where e.kind = 'folder')
       select count(distinct u.file_id)::int as files, coalesce(array_agg(distinct p.name), '{}') as people, max(u.at) as latest
       from ${of.kind === 'share' ? 'there' : 'up'} u join person p on p.id = u.author_id
       ${of.kind === 'share' ? 'where $4::uuid is not null' : 'where u.place = $4'}`,
      [personId, since, of.shareId, of.id],
    )
    found.push({
      of,
      since: since.toISOString(),
      files: changes!.files,
      people: changes!.people,
      latest: changes!.latest?.toISOString() ?? null,
    })
  }
  return found
}
