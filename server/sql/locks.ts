// Every advisory lock of the server, numbered in one place: two subjects with one number wait for each
// other for no reason that anybody can see. Locks of rows have an order, which is in docs/architecture.md.

import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import { execute, selectOne } from './rows'

export const locks = {
  /** Whoever holds it migrates; the others wait. */
  migration: 4170_01,
  /** One process clears recovery points at a time. */
  sweep: 4170_02,
  /** Whoever stores content shares it; whoever removes what nothing needs has it alone, for a moment at a time. */
  store: 4170_03,
  /** One process moves content into the history store at a time. */
  move: 4170_04,
  /** One process thins versions at a time. */
  thin: 4170_05,
  /** One process compares versions at a time. */
  describe: 4170_06,
  /** One process reads files for the search at a time. */
  index: 4170_07,
  /** One process sums up what is stored at a time. */
  count: 4170_09,
  /** Whoever takes from somebody what they may do, or changes who belongs to a group, does so alone. */
  people: 4170_11,
  /** In the database for trials: one trial is made at a time. */
  trial: 4170_10,
  /** Whoever holds it makes the demo's data. */
  seed: 4170_08,
} as const

/** The first of the two numbers of locks that are held for one share each: its conventions. */
export const conventionsOfShare = 4170
/** The same of locks that are held for one folder each that copies go to. */
export const copiesOfFolder = 4171
/** The same of locks that are held for each drive that is taken over. */
export const locksOfIntake = 4172
/** The same of locks that are held for each thing that is sent. */
export const locksOfSending = 4173

/** Takes a lock until the transaction ends, when nobody has it any more. */
export async function takeLock(manager: EntityManager, lock: number): Promise<void> {
  await execute(manager, 'select pg_advisory_xact_lock($1)', [lock])
}

/** Takes a lock until the transaction ends, if nobody has it. */
export async function tryLock(manager: EntityManager, lock: number): Promise<boolean> {
  const { mine } = await selectOne(
    manager,
    z.object({ mine: z.boolean() }),
    'select pg_try_advisory_xact_lock($1) as mine',
    [lock],
  )
  return mine
}
