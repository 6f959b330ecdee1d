import type { KeptLikes } from '../../core/contract'
import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { requireAdministrator } from '../rights/service'
import { PaperLikesRow } from './entity'
import { addPrinter, printers, removePrinter } from './printers'
import { cancelPrint, ownJob, print, printAgain, printedOf, printJobs } from './service'

/** Somebody keeps so many ways of having pages at most; the oldest goes. */
const mostLikes = 100

export function printingRoutes(mount: Mount, { database, soon = () => {} }: AppParts): void {
  const { manager } = database
  mount('printers', ({ person }) => printers(manager, person))
  mount(
    'addPrinter',
    ({ person, body }) => addPrinter(manager, person.id, body),
    async ({ person }) => requireAdministrator(person),
  )
  mount(
    'removePrinter',
    ({ params }) => removePrinter(manager, params.printerId),
    async ({ person }) => requireAdministrator(person),
  )
  mount('print', async ({ person, body }) => {
    const job = await print(database, person.id, body)
    soon('print')
    return job
  })
  mount('printJobs', ({ person }) => printJobs(manager, person.id))
  mount('cancelPrint', async ({ person, params }) => {
    await cancelPrint(database, person.id, person.name, params.jobId)
    soon('print')
  })
  const again = (backs: boolean) => async (personId: string, jobId: string) => {
    const job = await printAgain(database, personId, jobId, backs)
    soon('print')
    return job
  }
  mount(
    'printAgain',
    ({ person, params }) => again(false)(person.id, params.jobId),
    ({ person, params }) => ownJob(manager, person.id, params.jobId),
  )
  mount(
    'printBacks',
    ({ person, params }) => again(true)(person.id, params.jobId),
    ({ person, params }) => ownJob(manager, person.id, params.jobId),
  )
  mount('printed', ({ person, params }) => printedOf(manager, person.id, params.fileId))

  mount('paperLikes', async ({ person }) => {
    const rows = await manager.find(PaperLikesRow, { where: { personId: person.id }, order: { about: 'ASC' } })
    return rows.map(({ about, likes }): KeptLikes => ({ about, likes }))
  })
  mount('keepPaperLikes', async ({ person, body }) => {
    await manager.upsert(PaperLikesRow, { personId: person.id, ...body, at: new Date() }, ['personId', 'about'])
    const all = await manager.find(PaperLikesRow, {
      where: { personId: person.id },
      order: { at: 'DESC' },
      skip: mostLikes,
      select: { personId: true, about: true },
    })
    for (const { about } of all) await manager.delete(PaperLikesRow, { personId: person.id, about })
  })
  mount('forgetPaperLikes', async ({ person, query }) => {
    await manager.delete(PaperLikesRow, { personId: person.id, about: query.about })
  })
}
