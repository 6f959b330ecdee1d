// A database beside ours for trials of bringing everything back. It is emptied before each and after it, so it has to be
// one that never was anything else: it says so itself.
import { DataSource } from 'typeorm'
import { z } from 'zod'
import { openDatabase, openOwned } from '../database'
import { locks } from '../sql/locks'
import { execute, selectOne } from '../sql/rows'
import type { Scratch } from './drill'

/** What its schema says of itself; where something is and does not say this, nothing is touched. */
const mark = 'For trials of Jaula alone: emptied each time.'

/** Where trials may be made: the same database as its owner, and as the application. */
export interface TrialDatabase {
  url: string
  ownerUrl: string
}

/** That database is somebody's. */
export class NotForTrials extends Error {}

/** It is used for another trial at the moment. */
export class OtherTrial extends Error {}

/** Takes everything out of it. @throws NotForTrials */
export async function emptyTrial({ ownerUrl }: TrialDatabase): Promise<void> {
  const owner = await new DataSource({
    type: 'postgres',
    url: ownerUrl,
    poolSize: 1,
    poolErrorHandler: () => {},
  }).initialize()
  try {
    const { name, is, tables } = await selectOne(
      owner,
      z.object({ name: z.string(), is: z.string().nullable(), tables: z.number() }),
      `select current_database() as name, obj_description('public'::regnamespace, 'pg_namespace') as is,
         (select count(*)::int from pg_class where relnamespace = 'public'::regnamespace and relkind in ('r', 'p', 'v', 'm')) as tables`,
    )
    if (is !== mark && tables > 0)
      throw new NotForTrials(`The database ${name} has something in it already. Name an empty one for trials.`)
    await execute(
      owner,
      `drop schema if exists pgboss cascade; drop schema public cascade; create schema public; comment on schema public is '${mark}'`,
    )
  } finally {
    await owner.destroy()
  }
}

/** An empty Jaula there. @throws NotForTrials, OtherTrial */
export async function openTrial(trial: TrialDatabase): Promise<Scratch & { close: () => Promise<void> }> {
  const alone = await new DataSource({
    type: 'postgres',
    url: trial.ownerUrl,
    poolSize: 1,
    poolErrorHandler: () => {},
  }).initialize()
  // Of two, also of two servers, one would empty it under the other.
  const { mine } = await selectOne(alone, z.object({ mine: z.boolean() }), 'select pg_try_advisory_lock($1) as mine', [
    locks.trial,
  ])
  if (!mine) {
    await alone.destroy()
    throw new OtherTrial('Another trial is under way.')
  }
  await emptyTrial(trial).catch(async (error) => {
    await alone.destroy()
    throw error
  })
  const database = await openDatabase(trial.url, trial.ownerUrl)
  const owner = await openOwned(trial.ownerUrl)
  return {
    database,
    owner,
    close: async () => {
      await database.destroy()
      await owner.destroy()
      await emptyTrial(trial)
      await alone.destroy()
    },
  }
}
