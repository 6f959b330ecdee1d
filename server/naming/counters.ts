// Numbers of counters. A number is taken in the transaction that saves the file: the counter's row
// stays locked until the commit, so two savers at one instant get two numbers, and a save that
// fails leaves no gap. A number that somebody typed is accepted while it is free.

import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { Composition, Convention, PartValues } from '../../core/contract'
import { splitExtension } from '../../core/naming/check'
import { compose } from '../../core/naming/compose'
import { type ReadyConvention, readyConvention } from '../../core/naming/convention'
import { say } from '../../core/words/said'
import { requireFolder } from '../files/folders'
import { absent, Refusal } from '../refusal'
import { requireShare } from '../rights/service'
import { execute, select, selectOne } from '../sql/rows'
import { ConventionRow, CounterNumberRow, CounterRow } from './entity'
import { namingOf } from './service'

interface Counting {
  convention: Convention
  ready: ReadyConvention
  partId: string
  start: number
  scopeOf(values: PartValues): string
}

/** The convention that holds in a folder (null: in the share itself). */
export async function conventionAt(
  manager: EntityManager,
  shareId: string,
  folderId: string | null,
): Promise<{ convention: Convention; ready: ReadyConvention } | null> {
  const { conventions, lists } = await namingOf(manager, shareId)
  if (conventions.length === 0) return null
  const up: { id: string }[] = folderId
    ? await select(
        manager,
        z.object({ id: z.string() }),
        `with recursive up(id, folder_id, depth) as (select id, folder_id, 0 from entry where id = $1
           union all select e.id, e.folder_id, up.depth + 1 from entry e join up on e.id = up.folder_id where up.depth < 100)
         select id from up order by depth`,
        [folderId],
      )
    : []
  for (const id of [...up.map((row) => row.id), null]) {
    const convention = conventions.find((one) => one.folderId === id)
    if (convention) return { convention, ready: readyConvention(convention.rules, lists) }
  }
  return null
}

async function countingAt(manager: EntityManager, shareId: string, folderId: string | null): Promise<Counting | null> {
  // Most shares have no counter; they are not worth reading their conventions for.
  const { any } = await selectOne(
    manager,
    z.object({ any: z.boolean() }),
    `select exists (select from convention c join convention_version v on v.convention_id = c.id
       where c.share_id = $1 and c.ended_at is null and v.rules->'parts' @> '[{"kind": "counter"}]') as any`,
    [shareId],
  )
  if (!any) return null
  const governing = await conventionAt(manager, shareId, folderId)
  const part = governing?.convention.rules.parts.find(({ kind }) => kind === 'counter')
  if (!governing || part?.kind !== 'counter') return null
  const { per, id, start } = part
  return {
    ...governing,
    partId: id,
    start,
    scopeOf: (values) =>
      per === 'folder'
        ? `folder ${folderId ?? shareId}`
        : JSON.stringify(per.map((other) => [other, values[other] ?? null])),
  }
}

/** The numbers that files have when a scope is counted for the first time. */
async function numbersThere(
  manager: EntityManager,
  counting: Counting,
  shareId: string,
  folderId: string | null,
  scope: string,
): Promise<{ number: number; fileId: string }[]> {
  const perFolder = scope.startsWith('folder ')
  const rows = await select(
    manager,
    z.object({ id: z.string(), name: z.string() }),
    `select id, name from entry where share_id = $1 and kind = 'file' and removed_at is null ${perFolder ? 'and folder_id is not distinct from $2' : 'and $2::uuid is not distinct from $2'}`,
    [shareId, folderId],
  )
  return rows.flatMap(({ id: fileId, name }) => {
    const values = counting.ready.parse(splitExtension(name)[0])
    return values && counting.scopeOf(values) === scope ? [{ number: Number(values[counting.partId]), fileId }] : []
  })
}

const after = (start: number, there: readonly { number: number }[]) =>
  there.reduce((next, { number }) => Math.max(next, number + 1), start)

async function lockedNext(
  manager: EntityManager,
  counting: Counting,
  shareId: string,
  folderId: string | null,
  scope: string,
): Promise<number> {
  const lock = () =>
    manager.findOne(CounterRow, {
      where: { conventionId: counting.convention.id, scope },
      lock: { mode: 'pessimistic_write' },
    })
  let row = await lock()
  if (!row) {
    const there = await numbersThere(manager, counting, shareId, folderId, scope)
    await manager
      .createQueryBuilder()
      .insert()
      .into(CounterRow)
      .values({ conventionId: counting.convention.id, scope, next: String(after(counting.start, there)) })
      .orIgnore()
      .execute()
    const taken = there.map(({ number, fileId }) => ({
      conventionId: counting.convention.id,
      scope,
      number: String(number),
      fileId,
    }))
    // A statement has at most 65,535 parameters (PostgreSQL's protocol, Bind).
    for (let from = 0; from < taken.length; from += 10_000)
      await manager
        .createQueryBuilder()
        .insert()
        .into(CounterNumberRow)
        .values(taken.slice(from, from + 10_000))
        .orIgnore()
        .execute()
    row = await lock()
  }
  return Number(row!.next)
}

/** What the next number under a convention would be for these values, without taking it; null where it does not count there. */
export async function nextNumber(
  manager: EntityManager,
  personId: string,
  conventionId: string,
  folderId: string | null,
  values: PartValues,
): Promise<number | null> {
  const convention = await manager.findOneBy(ConventionRow, { id: conventionId })
  if (!convention) throw absent()
  const { shareId } = convention
  await requireShare(manager, personId, shareId, 'view')
  await requireFolder(manager, shareId, folderId)
  const counting = await countingAt(manager, shareId, folderId ?? convention.folderId)
  if (counting?.convention.id !== conventionId) return null
  const scope = counting.scopeOf(compose(counting.ready, values).values)
  const row = await manager.findOneBy(CounterRow, { conventionId, scope })
  return row ? Number(row.next) : after(counting.start, await numbersThere(manager, counting, shareId, folderId, scope))
}

/**
 * Takes the number of a new or renamed file, in the caller's transaction.
 * @param composition what the name was composed of: its counter is set to the next number
 * @returns the name, with that number
 * @throws Refusal name-taken for a number that somebody typed and another file has
 */
export async function takeNumber(
  manager: EntityManager,
  file: { id: string; shareId: string; folderId: string | null; name: string },
  composition: Composition | undefined,
): Promise<string> {
  const counting = await countingAt(manager, file.shareId, file.folderId)
  if (!counting) return file.name
  const [stem, extension] = splitExtension(file.name)
  const assigned = composition?.conventionId === counting.convention.id
  const values = assigned ? compose(counting.ready, composition.values).values : counting.ready.parse(stem)
  if (!values) return file.name
  const scope = counting.scopeOf(values)
  const next = await lockedNext(manager, counting, file.shareId, file.folderId, scope)
  const number = assigned ? next : Number(values[counting.partId])
  const named = (n: number) => compose(counting.ready, { ...values, [counting.partId]: String(n) }).stem + extension
  const [taken] = await select(
    manager,
    z.object({ number: z.string() }),
    `insert into counter_number (convention_id, scope, number, file_id) values ($1, $2, $3, $4)
     on conflict (convention_id, scope, number) do update set file_id = excluded.file_id where counter_number.file_id = excluded.file_id
     returning number`,
    [counting.convention.id, scope, number, file.id],
  )
  if (!taken) {
    const title = say('problem.the-number-is-used-already-the-next', { number, next })
    throw new Refusal('name-taken', title, { fields: { name: title }, freeName: named(next) })
  }
  if (number >= next)
    await manager.update(CounterRow, { conventionId: counting.convention.id, scope }, { next: String(number + 1) })
  return assigned ? named(number) : file.name
}

/** Keeps what a name was composed of, to be proposed next time. */
export async function noteComposition(
  manager: EntityManager,
  personId: string,
  shareId: string,
  { conventionId, values }: Composition,
): Promise<void> {
  await execute(
    manager,
    `insert into name_use (person_id, convention_id, part_values) select $1, id, $3 from convention where id = $2 and share_id = $4`,
    [personId, conventionId, JSON.stringify(values), shareId],
  )
}
