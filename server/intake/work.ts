// What is done of intakes while nobody waits: drives of the server are looked through, what was read is planned, and what
// somebody decided on is taken in.
import type { DataSource } from 'typeorm'
import { In } from 'typeorm'
import { z } from 'zod'
import { asKept, SaidError, saidBy, say } from '../../core/words/said'
import type { Quotas } from '../counts/quotas'
import type { Work } from '../jobs/queue'
import { databaseIsAway } from '../refusal'
import { locksOfIntake } from '../sql/locks'
import { execute, selectOne } from '../sql/rows'
import { driveFolder } from './drive'
import { IntakeRow } from './entity'
import { lookThrough, planAll } from './look'
import { endIfDone, takeAll } from './take'
import type { IntakeTasks } from './tasks'

export interface IntakeParts {
  database: DataSource
  tasks: IntakeTasks
  quotas: Quotas
  largestFile: number
  /** Folders of the server that may be taken over. */
  folders: readonly string[]
}

/** Why a drive cannot be gone on with, where it is the drive's fault. */
function problemOf(error: unknown): string {
  if (databaseIsAway(error)) throw error
  if (error instanceof SaidError) return asKept(saidBy(error))
  const { code } = error as NodeJS.ErrnoException
  if (code && /^E[A-Z]+$/.test(code)) return asKept(say('intake.drive-does-not-answer', { code }))
  throw error
}

export function takingOver(parts: IntakeParts, onFault: (error: unknown) => void): Work {
  const { database } = parts
  async function goOn(intake: IntakeRow, stopped: () => boolean): Promise<void> {
    const root = intake.source === 'server' ? await driveFolder(intake.root, parts.folders) : null
    if (intake.state === 'looking' && root !== null) {
      if (!(await lookThrough(parts, intake, root, stopped))) return
      await database.manager.update(IntakeRow, { id: intake.id, state: 'looking' }, { state: 'planning' })
      intake.state = 'planning'
    }
    if (intake.state === 'planning') await planAll(parts, intake)
    if (intake.state === 'taking' && root !== null && (await takeAll(parts, intake, root, stopped)))
      await endIfDone(database, intake.id)
  }
  return {
    name: 'intake',
    when: '* * * * *',
    async run(stopped) {
      const open = await database.manager.find(IntakeRow, {
        where: { state: In(['looking', 'planning', 'taking']) },
        order: { at: 'ASC' },
      })
      for (const { id } of open) {
        if (stopped()) return
        // One process at a time goes on with a drive; a lock that lasts as long as its connection would keep one.
        const mine = await claim(database, id)
        if (!mine) continue
        try {
          const intake = await database.manager.findOneBy(IntakeRow, { id })
          if (!intake) continue
          try {
            await goOn(intake, stopped)
            if (intake.problem !== null) await database.manager.update(IntakeRow, { id }, { problem: null })
          } catch (error) {
            await database.manager.update(IntakeRow, { id }, { problem: problemOf(error) })
          }
        } catch (error) {
          onFault(error)
        } finally {
          await mine()
        }
      }
    },
  }
}

/** Takes the lock of one intake on a connection of its own. @returns what gives it back; null where somebody has it */
async function claim(database: DataSource, id: string): Promise<(() => Promise<void>) | null> {
  const runner = database.createQueryRunner()
  const key = [locksOfIntake, id]
  try {
    const { mine } = await selectOne(
      runner,
      z.object({ mine: z.boolean() }),
      'select pg_try_advisory_lock($1, hashtext($2)) as mine',
      key,
    )
    if (!mine) {
      await runner.release()
      return null
    }
  } catch (error) {
    await runner.release().catch(() => {})
    throw error
  }
  return async () => {
    await execute(runner, 'select pg_advisory_unlock($1, hashtext($2))', key).catch(() => {})
    await runner.release().catch(() => {})
  }
}
