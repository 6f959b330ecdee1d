import { saidBy, say } from '../../core/words/said'
import { unbounded } from '../counts/quotas'
import type { AppParts } from '../parts'
import { databaseIsAway, Refusal } from '../refusal'
import type { Mount } from '../requests/mount'
import { requireShare } from '../rights/service'
import { inTransaction } from '../sql/transaction'
import { DriveFault, driveFolder, foldersIn } from './drive'
import { IntakeRow } from './entity'
import { noteFromPage } from './look'
import { beginIntake, decide, intakeAt, intakeById, intakesOf, seriesOf, setState, take } from './service'
import { endIfDone, takeFromPage } from './take'

/** What the drive has to say against something is said to whoever asked. */
async function onDrive<T>(doing: Promise<T>): Promise<T> {
  try {
    return await doing
  } catch (error) {
    if (error instanceof DriveFault) throw new Refusal('not-found', saidBy(error))
    if (databaseIsAway(error)) throw error
    const { code } = error as NodeJS.ErrnoException
    if (code && /^E[A-Z]+$/.test(code)) throw new Refusal('not-found', say('intake.drive-does-not-answer', { code }))
    throw error
  }
}

export function intakeRoutes(
  mount: Mount,
  { database, intakeFolders = [], largestFile, quotas = unbounded, soon }: AppParts,
): void {
  const managing = ({ person, params }: { person: { id: string }; params: { shareId: string } }) =>
    requireShare(database.manager, person.id, params.shareId, 'manage')
  const at = ({ shareId, intakeId }: { shareId: string; intakeId: string }) =>
    intakeAt(database.manager, shareId, intakeId)
  mount(
    'intakes',
    async ({ params }) => ({ folders: [...intakeFolders], intakes: await intakesOf(database.manager, params.shareId) }),
    managing,
  )
  mount(
    'serverFolders',
    async ({ query }) => {
      const root = await onDrive(driveFolder(query.path, intakeFolders))
      return { path: query.path, folders: await onDrive(foldersIn(root)) }
    },
    managing,
  )
  mount(
    'beginIntake',
    async ({ person, params, body }) => {
      if (body.source === 'server') await onDrive(driveFolder(body.root, intakeFolders))
      await beginIntake(database.manager, person.id, params.shareId, body)
      soon?.('intake')
      return intakeById(database.manager, params.shareId, body.id)
    },
    managing,
  )
  mount('intake', ({ params }) => intakeById(database.manager, params.shareId, params.intakeId), managing)
  mount(
    'addDriveFiles',
    async ({ params, body: { files, last } }) => {
      const { id, source, state } = await at(params)
      if (source !== 'browser' || state !== 'looking') throw new Refusal('invalid', say('intake.not-ready'))
      const unread = await inTransaction(database, async (manager) => {
        const those = await noteFromPage(manager, id, files, largestFile)
        if (last) await setState(manager, id, ['looking'], 'planning')
        return those
      })
      if (last) soon?.('intake')
      return { unread }
    },
    managing,
  )
  mount(
    'intakeSeries',
    async ({ params, query }) =>
      seriesOf(database.manager, await at(params), {
        show: query.show,
        words: query.words ?? '',
        after: query.after ?? -1,
      }),
    managing,
  )
  mount('decideIntake', async ({ params, body }) => decide(database, await at(params), body), managing)
  mount(
    'takeIntake',
    async ({ params }) => {
      const { id } = await at(params)
      await take(database, id)
      soon?.('intake')
    },
    managing,
  )
  mount(
    'stopIntake',
    async ({ params }) => setState(database.manager, (await at(params)).id, ['taking'], 'ready'),
    managing,
  )
  mount(
    'takeDriveFile',
    async ({ params, query, body }) => {
      const intake = await at(params)
      if (intake.source !== 'browser' || intake.state !== 'taking')
        throw new Refusal('invalid', say('intake.not-ready'))
      await onDrive(takeFromPage({ database, quotas }, intake, query.no, body))
      await endIfDone(database, intake.id)
    },
    managing,
  )
  mount(
    'forgetIntake',
    async ({ params }) => {
      const { id } = await at(params)
      await database.manager.delete(IntakeRow, { id })
    },
    managing,
  )
}
