// Our own store, read again over time: what is not what was saved any more is put back from a place for copies that has
// it, and told until somebody has seen it.
import type { DataSource } from 'typeorm'
import { z } from 'zod'
import type { Copies, Person } from '../../core/contract'
import { announce } from '../events/announce'
import type { Work } from '../jobs/queue'
import { quiet } from '../jobs/quiet'
import { maySee } from '../rights/service'
import { execute, select, selectOne } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import type { Contents } from '../storage/content'
import { copiesElsewhere } from './by-itself'
import { ContentCheckRow } from './entity'
import { summed } from './folder'
import type { Reachable } from './sites'

/** What is read in one go, so that the rest of what the server does by itself has its turn; bytes. */
const mostAtOnce = 512e6
/** What was found that is told one by one. */
const mostTold = 50

const Next = z.object({ sha256: z.instanceof(Buffer), size: z.string() })

/** Contents whose turn it is: those that were never read again, then those that were not for longest. */
const nextOf = (database: DataSource, days: number, now: Date): Promise<z.output<typeof Next>[]> =>
  select(
    database,
    Next,
    `select c.sha256, c.size from content c left join content_check k on k.sha256 = c.sha256
     where (k.sha256 is null and c.stored_at < $2::timestamptz - make_interval(days => $1)
         or k.checked_at < $2::timestamptz - case when k.damaged then interval '1 hour' else make_interval(days => $1) end)
       and exists(select from version v where v.sha256 = c.sha256)
     order by k.checked_at nulls first, c.sha256 limit 200`,
    [days, now],
  )

/** The bytes of a content as a place has them, and which. @returns null when none has them whole */
async function hadFrom(
  database: DataSource,
  copiesOf: (shareId: string) => ReturnType<typeof copiesElsewhere>,
  sha256: Buffer,
): Promise<{ site: string; bytes: Buffer } | null> {
  const digest = sha256.toString('hex')
  const shares = await select(
    database,
    z.object({ id: z.string() }),
    'select distinct e.share_id as id from version v join entry e on e.id = v.file_id where v.sha256 = $1',
    [sha256],
  )
  for (const { id } of shares)
    for (const { site, bag, paths } of await copiesOf(id)) {
      const path = paths.get(digest)
      // Held against its checksum before it is held in memory: a copy that grew is none.
      if (path === undefined || (await bag.sum(path).catch(() => null))?.sha256 !== digest) continue
      const pieces: Buffer[] = []
      for await (const piece of bag.read(path)) pieces.push(piece)
      return { site, bytes: Buffer.concat(pieces) }
    }
  return null
}

/**
 * Reads of our own store what was not read for so many days, and puts back what is damaged.
 * @returns how many contents were read
 */
export async function checkStore(
  { database, contents }: { database: DataSource; contents: Contents },
  reachable: Reachable,
  {
    days,
    stopped = () => false,
    now = new Date(),
    pause = async () => {},
    onFault = () => {},
  }: {
    days: number
    stopped?: () => boolean
    now?: Date
    pause?: () => Promise<void>
    onFault?: (error: unknown) => void
  },
): Promise<number> {
  let read = 0
  let bytes = 0
  // Where much is damaged, what the copies list is read once.
  const listed = new Map<string, ReturnType<typeof copiesElsewhere>>()
  const copiesOf = (shareId: string) => {
    const there = listed.get(shareId) ?? copiesElsewhere(database, null, shareId, reachable)
    listed.set(shareId, there)
    return there
  }
  for (;;) {
    const next = await nextOf(database, days, now)
    if (!next.length) return read
    for (const { sha256, size } of next) {
      if (stopped() || bytes > mostAtOnce) return read
      await pause()
      const sound = await summed(contents.sound(database.manager, sha256, true)).then(
        () => true,
        (error) => {
          if (error instanceof RangeError) return false
          throw error
        },
      )
      read++
      bytes += Number(size)
      if (sound) await note(database, sha256, now, false, null)
      else await mend({ database, contents }, copiesOf, sha256, now, onFault)
    }
  }
}

async function mend(
  { database, contents }: { database: DataSource; contents: Contents },
  copiesOf: (shareId: string) => ReturnType<typeof copiesElsewhere>,
  sha256: Buffer,
  now: Date,
  onFault: (error: unknown) => void,
): Promise<void> {
  const found = await hadFrom(database, copiesOf, sha256)
  const mended =
    found !== null && (await inTransaction(database, (manager) => contents.mend(manager, sha256, found.bytes)))
  // Said to be well only when it reads as that from where it is stored now.
  const well =
    mended &&
    (await summed(contents.sound(database.manager, sha256, true)).then(
      () => true,
      (error) => {
        if (error instanceof RangeError) return false
        throw error
      },
    ))
  const isNews = await note(database, sha256, now, !well, well ? found!.site : null)
  if (isNews)
    onFault(
      new Error(
        `What is stored of a version was damaged (SHA-256 ${sha256.toString('hex')}); ${well ? `it was put back from ${found!.site}` : 'no copy has it'}.`,
      ),
    )
}

/** @returns whether it is another state than before */
async function note(
  database: DataSource,
  sha256: Buffer,
  now: Date,
  damaged: boolean,
  from: string | null,
): Promise<boolean> {
  return inTransaction(database, async (manager) => {
    const before = await manager.findOneBy(ContentCheckRow, { sha256 })
    await select(
      manager,
      z.object({ damaged: z.boolean() }),
      `insert into content_check (sha256, checked_at, damaged, mended_at, mended_from) values ($1, $2, $3, $4, $5)
       on conflict (sha256) do update set checked_at = excluded.checked_at, damaged = excluded.damaged,
         mended_at = coalesce(excluded.mended_at, content_check.mended_at), mended_from = coalesce(excluded.mended_from, content_check.mended_from),
         seen_at = case when excluded.mended_at is null then content_check.seen_at end
       returning damaged`,
      [sha256, now, damaged, from === null ? null : now, from],
    )
    const isNews = damaged !== (before?.damaged ?? false) || from !== null
    if (isNews) {
      const shares = await select(
        manager,
        z.object({ id: z.string() }),
        'select distinct e.share_id as id from version v join entry e on e.id = v.file_id where v.sha256 = $1',
        [sha256],
      )
      for (const { id } of shares) await announce(manager, { about: 'copies', shareId: id })
    }
    return isNews
  })
}

const Told = z.object({
  sha256: z.string(),
  name: z.string(),
  number: z.number(),
  damaged: z.boolean(),
  mended_at: z.date().nullable(),
  mended_from: z.string().nullable(),
})

/** How our own store stands, as a person may know it: names of files only of what they manage. */
export async function storeStands(
  database: DataSource,
  person: Person,
  days: number,
  now = new Date(),
): Promise<Copies['store']> {
  const counts = await selectOne(
    database,
    z.object({ contents: z.number(), read: z.number(), damaged: z.number() }),
    `select count(*)::int as contents,
       (count(*) filter (where greatest(k.checked_at, c.stored_at) > $1::timestamptz - make_interval(days => $2)))::int as read,
       (count(*) filter (where k.damaged))::int as damaged
     from content c left join content_check k on k.sha256 = c.sha256`,
    [now, days],
  )
  const rows = await select(
    database,
    Told,
    `select encode(k.sha256, 'hex') as sha256, min(e.name) as name, min(v.number) as number, k.damaged, k.mended_at, k.mended_from
     from content_check k join version v on v.sha256 = k.sha256 join entry e on e.id = v.file_id
     where (k.damaged or k.mended_at is not null and k.seen_at is null) and ($2 or ${maySee('$1', 'e.share_id', 'manage')})
     group by k.sha256, k.damaged, k.mended_at, k.mended_from order by k.damaged desc, k.mended_at desc, name limit $3`,
    [person.id, person.administrator, mostTold],
  )
  return {
    ...counts,
    days,
    findings: rows.map(({ mended_at, mended_from, ...row }) => ({
      ...row,
      mendedAt: mended_at?.toISOString() ?? null,
      mendedFrom: mended_from,
    })),
  }
}

/** Whether something of what a person may look at is damaged, and no copy has it. */
export async function isDamagedFor(database: DataSource, { id, administrator }: Person): Promise<boolean> {
  const { damaged } = await selectOne(
    database,
    z.object({ damaged: z.boolean() }),
    `select exists(select from content_check k join version v on v.sha256 = k.sha256 join entry e on e.id = v.file_id
       where k.damaged and ($2 or ${maySee('$1', 'e.share_id', 'view')})) as damaged`,
    [id, administrator],
  )
  return damaged
}

/** Notes that somebody has seen what was put back: of shares that they manage, or any as an administrator. */
export async function markMendedSeen(
  database: DataSource,
  { id, administrator }: Person,
  sha256s: readonly string[],
): Promise<void> {
  await execute(
    database,
    `update content_check k set seen_at = now() where k.sha256 = any($2) and not k.damaged and ($3 or exists(
       select from version v join entry e on e.id = v.file_id where v.sha256 = k.sha256 and ${maySee('$1', 'e.share_id', 'manage')}))`,
    [id, sha256s.map((one) => Buffer.from(one, 'hex')), administrator],
  )
}

/** The work of reading our own store again. */
export function storeChecking(
  database: DataSource,
  contents: Contents,
  reachable: Reachable,
  days: number,
  onFault: (error: unknown) => void,
): Work {
  return {
    name: 'store-check',
    when: '7,22,37,52 * * * *',
    run: (stopped) =>
      checkStore({ database, contents }, reachable, { days, stopped, onFault, pause: () => quiet(stopped) }),
  }
}
