import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { anyHistory, type Device, happen, MemoryStorage, person, type Tab, World } from './keeper.world'

/** A world with two devices, and one draft that begins on the first of them. */
async function begin(devices = 2) {
  const storage = new MemoryStorage()
  const world = new World([storage], devices, () => storage.marks())
  const { draftId } = world
  world.blank.add(draftId)
  const tab = world.newTab(world.devices[0]!)
  await tab.open(draftId)
  await world.still()
  world.blank.clear()
  return { world, storage, tab, draftId }
}
const typeSome = async (world: World, tab: Tab, count: number) => {
  for (let n = 0; n < count; n++) tab.type()
  await world.pass(1000)
}
const everywhere = (world: World, storage: MemoryStorage) =>
  new Set([...storage.marks(), ...world.devices.flatMap(({ disk }) => [...disk.marks()])])

/** Nothing that was acknowledged is missing, and nothing was shown safer than it was. */
async function expectNothingLost(world: World, storage: MemoryStorage) {
  await world.calm()
  const there = everywhere(world, storage)
  const missing = [...world.acknowledged.keys(), ...world.onStorage].filter(
    (mark) => !there.has(mark) && !(world.lost.has(mark) && !world.onStorage.has(mark)),
  )
  expect(missing).toEqual([])
  expect(world.falseClaims).toEqual([])
}

describe('two devices on one draft', () => {
  test('the frozen one keeps its tail as a draft of its own, and says so when it thaws', async () => {
    const { world, storage, tab: a, draftId } = await begin()
    await typeSome(world, a, 5)
    await world.pass(10_000)
    // The first of these is sent at once, the others wait for the interval.
    await typeSome(world, a, 1)
    await typeSome(world, a, 3)
    a.frozen = true
    const b = world.newTab(world.devices[1]!)
    await b.open(draftId)
    await world.pass(1000)
    expect(b.marks).toEqual(a.marks.slice(0, 6))
    await typeSome(world, b, 4)
    await world.pass(10_000)
    a.unfreeze()
    a.type()
    await world.pass(10_000)
    expect(a.taken).toBe(true)
    const told = a.said.findLast((one) => one.say === 'superseded')
    expect(told).toMatchObject({ by: 'device 2', fork: { beyond: { edits: 4 } } })
    // The two are apart: neither is a splice of both.
    const lines = [...storage.rows.values()].map(({ lines }) => lines.length)
    expect(lines).toEqual([10, 10])
    await expectNothingLost(world, storage)
  })

  test('a tail that was in no point when the power was cut outlives that the other one saves and finishes', async () => {
    const { world, storage, tab: a, draftId } = await begin()
    await typeSome(world, a, 5)
    await world.pass(10_000)
    world.devices[0]!.online = false
    await typeSome(world, a, 3)
    const tail = a.marks.slice(5)
    a.crash()
    const b = world.newTab(world.devices[1]!)
    await b.open(draftId)
    await world.pass(1000)
    await typeSome(world, b, 20)
    b.save()
    await world.pass(2000)
    b.close()
    await world.pass(2000)
    expect(storage.rows.get(draftId)!.state).toBe('finished')
    world.devices[0]!.online = true
    const again = world.newTab(world.devices[0]!)
    await world.pass(5000)
    await again.open(draftId)
    await expectNothingLost(world, storage)
    const fork = [...storage.rows].find(([id]) => id !== draftId)!
    expect(JSON.stringify(fork[1].lines)).toContain(tail.at(-1))
    expect(world.devices[0]!.disk.draftRows.has(draftId)).toBe(false)
  })

  test('asking twice for one take-over, or late, gives one epoch and one writer', async () => {
    const { world, storage, tab: a, draftId } = await begin()
    await typeSome(world, a, 3)
    await world.pass(10_000)
    world.weather = ['fine', 'double', 'double', 'double']
    const b = world.newTab(world.devices[1]!)
    await b.open(draftId)
    await world.pass(3000)
    await world.arrive()
    expect(storage.rows.get(draftId)!.epoch).toBe(2)
    await typeSome(world, b, 2)
    await world.pass(10_000)
    expect(b.taken).toBe(false)
    await expectNothingLost(world, storage)
  })

  test('a second tab of one browser takes over without waiting for a frozen one', async () => {
    const { world, storage, tab: a, draftId } = await begin()
    await typeSome(world, a, 4)
    a.frozen = true
    const b = world.newTab(world.devices[0]!)
    await b.open(draftId, true)
    await world.pass(1000)
    expect(b.marks).toEqual(a.marks)
    await typeSome(world, b, 2)
    a.unfreeze()
    a.type()
    await world.pass(10_000)
    expect([a.taken, b.taken]).toEqual([true, false])
    await expectNothingLost(world, storage)
  })
})

describe('an earlier page of the same browser is no other device', () => {
  test('whose take-over was answered to nobody', async () => {
    const { world, storage, tab: a, draftId } = await begin()
    await typeSome(world, a, 3)
    await world.pass(10_000)
    a.crash()
    // It is given the draft, and dies before it hears of it.
    world.weather = ['fine', 'lose the answer']
    const b = world.newTab(world.devices[0]!)
    await b.open(draftId)
    await world.still()
    b.crash()
    expect(storage.rows.get(draftId)!.epoch).toBe(2)
    world.devices[0]!.online = false
    const c = world.newTab(world.devices[0]!)
    await c.open(draftId)
    await typeSome(world, c, 2)
    world.devices[0]!.online = true
    await world.pass(20_000)
    expect([c.taken, storage.rows.get(draftId)!.lines.length]).toEqual([false, 5])
    await expectNothingLost(world, storage)
  })

  test('whose first sign of life arrives after it', async () => {
    const { world, storage, tab: a, draftId } = await begin()
    world.weather = ['late', 'late', 'late']
    await typeSome(world, a, 3)
    expect(storage.rows.size).toBe(0)
    a.crash()
    // Shared storage knows nothing of the draft yet, as the next page is told.
    world.weather = ['fine', 'fine', 'lose', 'lose', 'lose', 'lose']
    const b = world.newTab(world.devices[0]!)
    await b.open(draftId)
    await typeSome(world, b, 2)
    expect(world.weather.length).toBeLessThan(4)
    world.weather = []
    expect(storage.rows.size).toBe(0)
    await world.arrive()
    await world.pass(20_000)
    expect([b.taken, storage.rows.get(draftId)!.lines.length]).toEqual([false, 5])
    await expectNothingLost(world, storage)
  })
})

describe('going on with work that is being brought to shared storage at that moment', () => {
  test('in the same tab, after a restart: nobody else has it, and nobody is said to', async () => {
    const { world, storage, tab: a, draftId } = await begin()
    await typeSome(world, a, 3)
    await world.pass(10_000)
    // Some of it is on the device alone when the power goes.
    world.devices[0]!.online = false
    await typeSome(world, a, 3)
    a.crash()
    world.devices[0]!.online = true
    for (const answers of [1, 2, 3, 4]) {
      // The new tab settles what the last one left; the answer to one of its questions takes its time …
      world.weather = [...Array.from({ length: answers - 1 }, () => 'fine' as const), 'slow']
      const b = world.newTab(world.devices[0]!)
      await world.pass(1000)
      // … (where it asks no more than that, all have had their turn)
      if (world.weather.length) {
        expect(answers).toBeGreaterThan(1)
        world.weather = []
        b.crash()
        break
      }
      // … and meanwhile somebody goes on with it there.
      await b.open(draftId)
      await typeSome(world, b, 1)
      await world.pass(20_000)
      expect([answers, b.said.filter(({ say }) => say === 'superseded')]).toEqual([answers, []])
      expect([answers, b.taken, storage.rows.size]).toEqual([answers, false, 1])
      b.crash()
    }
    expect(storage.rows.get(draftId)!.lines.length).toBeGreaterThan(6)
    await expectNothingLost(world, storage)
  })
})

test('work that is saved from Rescue elsewhere, without its writer: what the writer still had is not taken for saved', async () => {
  const { world, storage, tab: a, draftId } = await begin()
  await typeSome(world, a, 5)
  await world.pass(10_000)
  world.devices[0]!.online = false
  await typeSome(world, a, 3)
  a.crash()
  await storage.saveFromRescue(draftId)
  world.devices[0]!.online = true
  world.newTab(world.devices[0]!)
  await world.pass(70_000)
  await expectNothingLost(world, storage)
  expect([...storage.rows.values()].map(({ finished, lines }) => [finished, lines.length])).toEqual([
    [true, 0],
    [false, 8],
  ])
})

test('letters that come while it is asked what the other device has are parted with the rest', async () => {
  const { world, storage, tab: a, draftId } = await begin()
  await typeSome(world, a, 3)
  await world.pass(10_000)
  await typeSome(world, a, 1)
  await typeSome(world, a, 2)
  const b = world.newTab(world.devices[1]!)
  await b.open(draftId)
  await world.pass(100, 50)
  // The heartbeat is answered, the question for the other's records is on its way.
  world.weather = ['fine', 'slow']
  void a.tell({ do: 'look', draftId })
  await world.still()
  a.type()
  a.type()
  await world.still()
  world.time += 30
  for (const tab of world.tabs) tab.runTimers()
  await world.still()
  expect(a.shown.journal).toBe(8)
  await expectNothingLost(world, storage)
})

test('a tab that waited for the one that has it reads anew what that one wrote meanwhile', async () => {
  const { world, storage, tab: a, draftId } = await begin()
  await typeSome(world, a, 4)
  const b = world.newTab(world.devices[0]!)
  void b.open(draftId)
  await world.still()
  await typeSome(world, a, 3)
  expect(a.shown.journal).toBe(7)
  a.crash()
  await world.pass(4000)
  expect(b.said.find(({ say }) => say === 'opened')).toMatchObject({ stale: true })
  await b.open(draftId)
  await world.pass(1000)
  expect(b.marks).toEqual(a.marks)
  await expectNothingLost(world, storage)
})

describe('one device', () => {
  test('points go from memory when the disk refuses, and the disk catches up', async () => {
    const { world, storage, tab, draftId } = await begin()
    await typeSome(world, tab, 2)
    world.devices[0]!.disk.refusing = true
    await typeSome(world, tab, 3)
    await world.pass(3000)
    expect(storage.rows.get(draftId)!.lines).toHaveLength(5)
    expect(tab.shown.journal).toBe(2)
    world.devices[0]!.disk.refusing = false
    await world.pass(3000)
    expect(tab.shown.journal).toBe(5)
    await expectNothingLost(world, storage)
  })

  test('a journal that the browser cleared is put there anew from shared storage and memory', async () => {
    const { world, storage, tab } = await begin()
    await typeSome(world, tab, 4)
    await world.pass(10_000)
    world.devices[0]!.disk.draftRows.clear()
    world.devices[0]!.disk.rowsByDraft.clear()
    await typeSome(world, tab, 2)
    await world.pass(8000)
    expect(tab.said.some((one) => one.say === 'refused')).toBe(true)
    expect(world.devices[0]!.disk.marks()).toEqual(new Set(tab.marks))
    await expectNothingLost(world, storage)
  })

  test('what was left, and cleared after it, is not put back by a look that was on its way', async () => {
    const { world, tab, draftId } = await begin()
    const { disk } = world.devices[0]!
    await typeSome(world, tab, 4)
    await world.pass(10_000)
    // The next look is answered late, by when the page is gone and what it wrote has been forgotten.
    let answer = (): void => {}
    const draft = disk.draft
    const asked = new Promise<void>((asking) => {
      disk.draft = () => {
        asking()
        return new Promise((done) => {
          answer = () => done(undefined)
        })
      }
    })
    const passing = world.pass(6000)
    await asked
    disk.draft = draft
    await tab.tell({ do: 'leave', draftId })
    await disk.commit({ expect: [], forget: [draftId] })
    answer()
    await passing
    await world.pass(3000)
    expect(disk.draftRows.has(draftId)).toBe(false)
    expect(tab.said.some((one) => one.say === 'refused')).toBe(false)
  })

  test('a file’s own interval stays when the person’s settings come again', async () => {
    const { world, storage, tab, draftId } = await begin()
    await tab.tell({ do: 'interval', draftId, seconds: 60 })
    await tab.tell({ do: 'start', personId: person, deviceName: 'device 1', interval: 5 })
    await typeSome(world, tab, 2)
    await world.pass(40_000)
    expect(storage.rows.get(draftId)!.lines).toHaveLength(0)
    await world.pass(30_000)
    expect(storage.rows.get(draftId)!.lines).toHaveLength(2)
    // None are sent while they are off, and the draft says so.
    await tab.tell({ do: 'interval', draftId, seconds: 0 })
    await typeSome(world, tab, 2)
    await world.pass(200_000)
    expect(storage.rows.get(draftId)!.lines).toHaveLength(2)
    expect(world.devices[0]!.disk.draftRows.get(draftId)).toMatchObject({ pointsOff: true, journalSeq: 4 })
  })

  test('saves go out in the order in which they were made, also after a clock was set back and a restart', async () => {
    const { world, storage, tab } = await begin()
    await typeSome(world, tab, 2)
    tab.save()
    await world.pass(2000)
    world.devices[0]!.online = false
    await typeSome(world, tab, 1)
    tab.save()
    await world.pass(1000)
    world.devices[0]!.clockAhead = -3600_000
    await typeSome(world, tab, 1)
    tab.save()
    await world.pass(1000)
    tab.crash()
    world.devices[0]!.online = true
    world.newTab(world.devices[0]!)
    await world.pass(10_000)
    const [file] = [...storage.files.values()]
    expect(file!.versions.map(({ marks }) => marks.length)).toEqual([2, 3, 4])
    await expectNothingLost(world, storage)
  })

  test('what a server cannot do now is not taken for its answer, whatever it says', async () => {
    const { world, storage, tab } = await begin()
    const save = storage.save.bind(storage)
    const answers = [
      'unexpected',
      'too-many-attempts',
      'invalid',
      'changed-meanwhile',
      'no-room',
      'checksum-differs',
    ] as const
    let asked = 0
    storage.save = async (one) => {
      const type = answers[asked++]
      if (type) throw Object.assign(new (await import('./ports')).Fault({ type, title: type, status: 413 }))
      return save(one)
    }
    await typeSome(world, tab, 2)
    tab.save()
    await world.pass(200_000)
    expect(asked).toBe(answers.length + 1)
    expect(storage.files.size).toBe(1)
    expect(tab.said.filter((one) => one.say === 'save delayed')).toHaveLength(answers.length)
  })
})

test('that nobody is signed in is not taken back by an answer that was on its way, and ends by signing in', async () => {
  const { Fault } = await import('./ports')
  const { world, storage, tab, draftId } = await begin()
  await typeSome(world, tab, 2)
  const { save, heartbeat } = storage
  let signedIn = false
  let nowAsked = () => {}
  let nowAnswered = () => {}
  const asked = new Promise<void>((go) => {
    nowAsked = go
  })
  const answered = new Promise<void>((go) => {
    nowAnswered = go
  })
  storage.heartbeat = async (...given) => {
    // Asked while somebody was signed in; answered when nobody is.
    const answer = await heartbeat.apply(storage, given)
    nowAsked()
    await answered
    return answer
  }
  storage.save = async (one) => {
    if (!signedIn) throw new Fault({ type: 'signed-out', title: 'Signed out', status: 401 })
    return save.call(storage, one)
  }
  void world.pass(20_000)
  await asked
  tab.save()
  await expect.poll(() => tab.said.some((one) => one.say === 'server' && one.state === 'signed out')).toBe(true)
  nowAnswered()
  await world.pass(20_000)
  expect(tab.said.filter((one) => one.say === 'server')).toEqual([{ say: 'server', state: 'signed out' }])
  expect(storage.files.size).toBe(0)
  signedIn = true
  await tab.tell({ do: 'try now' })
  await world.pass(5000)
  expect(tab.said.findLast((one) => one.say === 'server')).toEqual({ say: 'server', state: 'there' })
  expect(storage.files.size).toBe(1)
  expect(world.devices[0]!.disk.draftRows.get(draftId)).toMatchObject({ savedSeq: 2 })
})

describe('work got back from being closed, while shared storage is still being told that it was closed', () => {
  /** Gets it back as the application does: the wish is written under a generation of its own, and a tab is to tell it. */
  async function getBack({ disk }: Device, by: Tab, draftId: string) {
    const row = disk.draftRows.get(draftId)!
    expect(row.state).toBe('let go')
    const { id, generation, head } = row
    const wish = { ...row, generation: 'got back', state: 'open' as const, keptUntil: null, endUntold: true }
    await disk.commit({ expect: [[id, generation, head]], drafts: [wish] })
    await by.tell({ do: 'settle', draftId })
  }
  test.each([
    ['the same tab', 'slow', false],
    ['another tab, whose word comes first', 'slow', true],
    ['the same tab, and shared storage was away', 'lose', false],
    ['another tab, and shared storage was away', 'lose', true],
  ] as const)('%s', async (_, weather, other) => {
    const { world, storage, tab: a, draftId } = await begin(1)
    await typeSome(world, a, 3)
    await world.pass(10_000)
    const device = world.devices[0]!
    const b = other ? world.newTab(device) : a
    world.weather = [weather]
    void a.tell({ do: 'close', draftId, how: 'let go' })
    await world.still()
    void getBack(device, b, draftId)
    await world.still()
    if (other) expect(storage.rows.get(draftId)!.state).toBe('open')
    await world.pass(5000)
    expect(device.disk.draftRows.get(draftId)).toMatchObject({ state: 'open', endUntold: false })
    expect(storage.rows.get(draftId)!.state).toBe('open')
    await expectNothingLost(world, storage)
  })
})

describe('several drafts open in one tab', () => {
  test('what is not shown goes on to the server, is saved from there, and is come back to whole', async () => {
    const { world, storage, tab, draftId } = await begin()
    await typeSome(world, tab, 3)
    tab.type()
    const beside = world.id()
    world.blank.add(beside)
    await tab.putAside(beside)
    await typeSome(world, tab, 2)
    await world.pass(10_000)
    expect(storage.rows.get(draftId)?.lines).toHaveLength(4)
    expect(storage.rows.get(beside)?.lines).toHaveLength(2)
    // Another tab of this browser finds both open.
    const other = world.newTab(world.devices[0]!)
    void other.open(draftId)
    await world.pass(5000)
    expect(other.said).toContainEqual({ say: 'opened', draftId, elsewhere: true, stale: false })
    await tab.putAside(draftId)
    await world.pass(1000)
    expect(tab.marks).toHaveLength(4)
    await typeSome(world, tab, 1)
    await world.pass(10_000)
    expect(storage.rows.get(draftId)?.lines).toHaveLength(5)
    expect(tab.said.filter((one) => one.say === 'superseded')).toEqual([])
    await expectNothingLost(world, storage)
  })
  test('what another device goes on with meanwhile is told of, though it is not shown', async () => {
    const { world, storage, tab, draftId } = await begin()
    await typeSome(world, tab, 3)
    await world.pass(10_000)
    const beside = world.id()
    world.blank.add(beside)
    await tab.putAside(beside)
    const b = world.newTab(world.devices[1]!)
    await b.open(draftId)
    await typeSome(world, b, 2)
    await world.pass(10_000)
    expect(tab.said.filter((one) => one.say === 'superseded')).toMatchObject([{ draftId, by: 'device 2' }])
    expect(storage.rows.get(draftId)?.lines).toHaveLength(5)
    await expectNothingLost(world, storage)
  })
})

test.each([[], [['offline', 0]]] as const)(
  'what is finished, and whose end was told without an answer, is not gone on with as if nothing had been in it: %j',
  async (...between) => {
    const { world, storage } = await begin()
    const history = [
      ['type', 0],
      ['weather', 3],
      ['save', 0],
      ['wait', 12],
      ['close', 0],
      ...between,
      ['take over', 0],
      ['type', 0],
      ['save', 15],
    ] as const
    for (const [name, n] of history) await happen(world, name, n)
    expect([...storage.files.values()].map(({ versions }) => versions.length)).toEqual([1])
    await expectNothingLost(world, storage)
  },
)

// -- Whatever happens -----------------------------------------------------------------------------------

test('whatever happens in whatever order: nothing acknowledged is missing, nothing is shown safer than it is', async () => {
  await fc.assert(
    fc.asyncProperty(anyHistory(60), async (happened) => {
      const { world, storage } = await begin()
      for (const [name, n] of happened) {
        await happen(world, name, n)
      }
      await expectNothingLost(world, storage)
    }),
    {
      numRuns: Number(process.env.KEEPER_RUNS ?? 260),
      seed: process.env.KEEPER_SEED ? Number(process.env.KEEPER_SEED) : undefined,
    },
  )
}, 600_000)
