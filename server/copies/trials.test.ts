// Trials by themselves: when each place's turn is, and that nothing but a database for trials is ever emptied.
import { randomUUID } from 'node:crypto'
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { openContents } from '../storage/content'
import { makeDatabase, openTestOffice, type TestOffice } from '../testing'
import { keepCopies } from './by-itself'
import { drill, noteDrill } from './drill'
import { CopySiteRow } from './entity'
import { CopyFolder } from './folder'
import { nameSites } from './sites'
import { emptyTrial, NotForTrials, OtherTrial, openTrial, type TrialDatabase } from './trial-database'
import { askForTrial, trialsDue } from './trials'

let office: TestOffice
let scratch: string
let trial: TrialDatabase
beforeAll(async () => {
  office = await openTestOffice()
  scratch = mkdtempSync(join(tmpdir(), 'jaula-trials-'))
  trial = await makeDatabase(process.env.TEST_DATABASE_URL!, `test_${randomUUID().replaceAll('-', '')}`)
})
afterAll(async () => {
  await office.close()
  rmSync(scratch, { recursive: true, force: true })
})
const hour = 3_600_000

test('a place is tried when it has something, again after its days, after a failure the next day, and when asked', async () => {
  const [one, two] = ['one', 'two'].map((name) => {
    mkdirSync(join(scratch, name))
    return join(scratch, name)
  }) as [string, string]
  await nameSites(office.database, [one, two], { hours: 24, days: 7 })
  const idOf = async (folder: string) => (await office.database.manager.findOneByOrFail(CopySiteRow, { folder })).id
  const [first, second] = [await idOf(one), await idOf(two)]
  const due = (after = 0) => trialsDue(office.database, 30, new Date(Date.now() + after))
  expect(await due()).toEqual([])
  const ask = (id: string) => office.database.transaction((manager) => askForTrial(manager, id))
  await expect(ask(first)).rejects.toThrow()
  await keepCopies({ database: office.database, contents: openContents() }, { folders: [one, two], drives: [] })
  expect((await due()).sort()).toEqual([first, second].sort())

  // Twice in the same database: what was in it before is gone, and does not stand in the way.
  for (const folder of [one, two]) {
    const there = await openTrial(trial)
    // It is nobody else's meanwhile.
    await expect(openTrial(trial)).rejects.toThrow(OtherTrial)
    const drilled = await drill(office.database, openContents(), await CopyFolder.open(folder), there)
    expect(drilled).toMatchObject({ differ: 0, failure: null })
    await there.close()
    await noteDrill(office.database, await idOf(folder), drilled)
  }
  expect(await due()).toEqual([])
  expect(await due(29 * 24 * hour)).toEqual([])
  expect(await due(31 * 24 * hour)).toEqual([first, second])
  await ask(second)
  expect(await due()).toEqual([second])
  await office.database.manager.update(CopySiteRow, { id: second }, { trialWanted: false })
  const ill = { at: new Date(Date.now() + hour), seconds: 1, files: 3, versions: 5, differ: 1, failure: null }
  await noteDrill(office.database, second, ill)
  expect(await due(20 * hour)).toEqual([])
  expect(await due(26 * hour)).toEqual([second])
})

test('what is not for trials is left as it is, whatever the settings say', async () => {
  const count = async () => (await office.owner.query('select count(*)::int as n from person'))[0].n
  const before = await count()
  expect(before).toBeGreaterThan(0)
  const { url } = office.owner.options as { url: string }
  await expect(emptyTrial({ url, ownerUrl: url })).rejects.toThrow(NotForTrials)
  expect(await count()).toBe(before)
  const other = await makeDatabase(process.env.TEST_DATABASE_URL!, `test_${randomUUID().replaceAll('-', '')}`)
  await emptyTrial(other)
  // Its own work is emptied again.
  const again = await openTrial(other)
  expect((await again.database.query('select count(*)::int as n from person'))[0].n).toBe(0)
  await again.close()
})
