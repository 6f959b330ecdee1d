// A look at a place for copies by somebody who waits for it.
import type { DataSource } from 'typeorm'
import { say } from '../../core/words/said'
import type { CopySiteRow } from './entity'
import { CopyFault } from './fault'
import type { CopyFolder } from './folder'
import { type Reachable, reach } from './sites'

/** Whoever looks waits no longer for a place; milliseconds. */
const patience = 3000
const looking = new Map<string, Promise<CopyFolder>>()
/** A place that hangs is asked once, however many look at it: each question keeps one of few threads. */
export async function lookAt(database: DataSource, site: CopySiteRow, reachable: Reachable): Promise<CopyFolder> {
  let asked = looking.get(site.id)
  if (!asked) {
    asked = reach(database, site, reachable).finally(() => looking.delete(site.id))
    looking.set(site.id, asked)
  }
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<never>((_, failed) => {
    const fault = new CopyFault(say('copies.does-not-answer', { code: 'ETIMEDOUT' }))
    timer = setTimeout(() => failed(fault), patience)
  })
  return Promise.race([asked, late]).finally(() => clearTimeout(timer))
}
