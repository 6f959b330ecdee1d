// Work in the background, on a real PostgreSQL: asked for, done once, done again after whatever went wrong.
import { afterAll, beforeAll, expect, test } from 'vitest'
import { openTestOffice, type TestOffice } from '../testing'
import { openQueue, type Queue, type Work } from './queue'

let office: TestOffice
const opened: Queue[] = []
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(async () => {
  for (const queue of opened) await queue.close()
  await office.close()
})
const faults: string[] = []
async function open(...works: Work[]): Promise<Queue> {
  const queue = await openQueue(office.database, works, (error, work) =>
    faults.push(`${work}: ${(error as Error).message}`),
  )
  opened.push(queue)
  return queue
}
const counting = (name: string, run: (stopped: () => boolean) => Promise<unknown> = async () => {}) => {
  const counted = { begun: 0, ended: 0 }
  const work: Work = {
    name,
    when: '0 0 1 1 *',
    async run(stopped) {
      counted.begun++
      await run(stopped)
      counted.ended++
    },
  }
  return { work, counted }
}

test('what was left by an earlier process is begun at once, and what is asked for soon after', async () => {
  const { work, counted } = counting('sweep')
  const queue = await open(work)
  await expect.poll(() => counted.ended).toBe(1)
  queue.soon('sweep')
  await expect.poll(() => counted.ended).toBe(2)
  // Asked for again and again in the same moment it is done once, and perhaps once more for what came meanwhile.
  for (let n = 0; n < 500; n++) queue.soon('sweep')
  await expect.poll(() => counted.ended).toBe(3)
  // What nobody does is no fault.
  queue.soon('nothing of the kind')
  expect(faults).toEqual([])
})

test('work that fails is told, and done again when it is asked for again', async () => {
  let fails = true
  const { work, counted } = counting('thin', async () => {
    if (fails) throw new Error('no chunks today')
  })
  const queue = await open(work)
  await expect.poll(() => faults).toEqual(['thin: no chunks today'])
  fails = false
  queue.soon('thin')
  await expect.poll(() => counted.ended).toBe(1)
})

test('a job of a process that was killed in the middle keeps nobody from the next one', async () => {
  // As it stands after a kill: begun, and never ended.
  await office.database.query(
    `insert into pgboss.job (name, state, started_on, policy, expire_in) values ('describe', 'active', now(), 'short', interval '15 minutes')`,
  )
  const { work, counted } = counting('describe')
  await open(work)
  await expect.poll(() => counted.ended).toBe(1)
})

test('closing waits for what is being done, and tells it to end', async () => {
  let told = false
  const { work, counted } = counting('move', async (stopped) => {
    while (!stopped()) await new Promise((again) => setTimeout(again, 5))
    told = true
  })
  const queue = await open(work)
  await expect.poll(() => counted.begun).toBe(1)
  await queue.close()
  expect([told, counted.ended]).toEqual([true, 1])
})

test('when every connection to the database is cut, it goes on as soon as there are others', async () => {
  let cut = 0
  let during = async () => {}
  const { work, counted } = counting('sweep', () => during())
  const queue = await open(work)
  await expect.poll(() => counted.ended).toBe(1)
  during = async () => {
    cut = await office.cut()
  }
  queue.soon('sweep')
  await expect.poll(() => counted.ended, { timeout: 20_000 }).toBe(2)
  expect(cut).toBeGreaterThan(0)
  during = async () => {}
  queue.soon('sweep')
  await expect.poll(() => counted.ended, { timeout: 20_000 }).toBeGreaterThanOrEqual(3)
})
