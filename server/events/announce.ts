import type { EntityManager } from 'typeorm'
import type { News } from '../../core/contract'
import { execute } from '../sql/rows'

/** The channel of PostgreSQL's NOTIFY that news goes through. */
export const channel = 'jaula_news'

/** Sends news when the caller's transaction commits, and not before. */
export async function announce(manager: EntityManager, news: News): Promise<void> {
  await execute(manager, 'select pg_notify($1, $2)', [channel, JSON.stringify(news)])
}

/** SQL that sends the news in a parameter, for statements that do more. */
export const announcing = (parameter: string): string => `pg_notify('${channel}', ${parameter}::text)`
