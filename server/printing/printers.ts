// The printers of the office.
import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { NewPrinter, Printer } from '../../core/contract'
import { say } from '../../core/words/said'
import { absent, Refusal } from '../refusal'
import { execute, select } from '../sql/rows'
import { PrinterRow } from './entity'
import { askPrinter, PrinterAway, PrinterRefuses, printerAddress } from './printer'

/** An office has at most so many. */
const most = 100
/** What a printer said is believed so long; milliseconds. */
const believed = 1500
/** For its answer a list of printers waits so long; milliseconds. */
const waitedFor = 500
const last = new Map<string, Pick<Printer, 'now' | 'fault'>>()
const said = new Map<string, { at: number; now: Promise<Pick<Printer, 'now' | 'fault'>> }>()

async function lookAt(address: string): Promise<Pick<Printer, 'now' | 'fault'>> {
  try {
    const { readsPdf: _, ...now } = await askPrinter(address)
    return { now, fault: null }
  } catch (error) {
    if (error instanceof PrinterAway || error instanceof PrinterRefuses) return { now: null, fault: error.said }
    throw error
  }
}
function asked(address: string): Promise<Pick<Printer, 'now' | 'fault'>> {
  const before = said.get(address)
  if (before && Date.now() - before.at < believed) return before.now
  const now = lookAt(address)
  said.set(address, { at: Date.now(), now })
  now.then(
    (answer) => last.set(address, answer),
    () => said.delete(address),
  )
  return now
}
/** One that is slow, or away, holds up no other: until it answers it is as it was the last time. */
async function nowOf(address: string): Promise<Pick<Printer, 'now' | 'fault'>> {
  const answer = asked(address)
  let late: ReturnType<typeof setTimeout> | undefined
  const waited = new Promise<null>((resolve) => {
    late = setTimeout(() => resolve(null), waitedFor)
  })
  try {
    const first = await Promise.race([answer, waited])
    if (first) return first
    answer.catch(() => {})
    return last.get(address) ?? { now: null, fault: say('problem.printer-asked') }
  } finally {
    clearTimeout(late)
  }
}

export async function printers(manager: EntityManager, person: { administrator: boolean }): Promise<Printer[]> {
  const rows = await manager
    .createQueryBuilder(PrinterRow, 'p')
    .where('p.removedAt is null')
    .orderBy('p.name')
    .getMany()
  return Promise.all(
    rows.map(async ({ id, name, address }) => ({
      id,
      name,
      address: person.administrator ? address : null,
      ...(await nowOf(address)),
    })),
  )
}

/** @throws Refusal invalid where nothing answers there that prints PDF, or the name is taken */
export async function addPrinter(
  manager: EntityManager,
  personId: string,
  { name, address }: NewPrinter,
): Promise<Printer> {
  if (!printerAddress(address)) throw new Refusal('invalid', say('problem.no-printer-address'))
  let now: Awaited<ReturnType<typeof askPrinter>>
  try {
    now = await askPrinter(address)
  } catch (error) {
    if (error instanceof PrinterAway || error instanceof PrinterRefuses) throw new Refusal('invalid', error.said)
    throw error
  }
  const { readsPdf, ...rest } = now
  if (!readsPdf) throw new Refusal('invalid', say('problem.printer-reads-no-pdf'))
  const there = await manager.createQueryBuilder(PrinterRow, 'p').where('p.removedAt is null').getMany()
  if (there.some((one) => one.name.toLowerCase() === name.toLowerCase()))
    throw new Refusal('invalid', say('problem.printer-name-taken', { name }))
  if (there.length >= most) throw new Refusal('invalid', say('problem.too-many-printers', { most }))
  const id = uuidv7()
  await manager.insert(PrinterRow, { id, name, address, addedBy: personId })
  return { id, name, address, now: rest, fault: null }
}

/** What waits for it is given to it no more. @throws Refusal not-found */
export async function removePrinter(manager: EntityManager, id: string): Promise<void> {
  const gone = await execute(manager, 'update printer set removed_at = now() where id = $1 and removed_at is null', [
    id,
  ])
  if (!gone) throw absent()
  await execute(
    manager,
    `update print_job set state = 'cancelled', since = now(), next_at = null
     where printer_id = $1 and next_at is not null and remote_id is null`,
    [id],
  )
}

/** The stand-ins of the demo, under the addresses that they have now; named by the first administrator that there is. */
export async function nameStandIns(
  database: DataSource,
  all: readonly { name: string; address: string }[],
): Promise<void> {
  for (const { name, address } of all) {
    const known = await execute(
      database,
      'update printer set address = $2 where removed_at is null and lower(name) = lower($1)',
      [name, address],
    )
    if (!known)
      await select(
        database,
        z.object({ id: z.string() }),
        `insert into printer (id, name, address, added_by)
         select $1, $2, $3, id from person where administrator order by id limit 1 returning id`,
        [uuidv7(), name, address],
      )
  }
}
