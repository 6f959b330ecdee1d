import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { MemoryStorage, type Tab, World } from './keeper.world'

const draftId = '00000000-0000-4000-9000-00000000d4af'

/** A world with two devices, and one draft that begins on the first of them. */
async function begin(devices = 2) {
  const storage = new MemoryStorage()
  const world = new World(storage, devices, () => storage.marks())
  world.blank.add(draftId)
  const tab = world.newTab(world.devices[0]!)
  await tab.open(draftId)
  await world.still()
  world.blank.clear()
  return { world, storage, tab }
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
    const { world, storage, tab: a } = await begin()
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
    const { world, storage, tab: a } = await begin()
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
    const { world, storage, tab: a } = await begin()
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
    const { world, storage, tab: a } = await begin()
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

describe('one device', () => {
  test('points go from memory when the disk refuses, and the disk catches up', async () => {
    const { world, storage, tab } = await begin()
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

// -- Whatever happens -----------------------------------------------------------------------------------

const acts = {
  type: (world: World, n: number) => {
    for (const tab of world.tabs) for (let letter = 0; letter <= n % 3; letter++) tab.type()
  },
  'take over': (world: World, n: number) => {
    const device = world.devices[n % world.devices.length]!
    void world
      .newTab(device)
      .open(draftId, true)
      .catch(() => {})
  },
  save: (world: World, n: number) => world.tabs[n % Math.max(1, world.tabs.length)]?.save(),
  close: (world: World, n: number) => world.tabs[n % Math.max(1, world.tabs.length)]?.close(),
  crash: (world: World, n: number) => world.tabs[n % Math.max(1, world.tabs.length)]?.crash(),
  freeze: (world: World, n: number) => {
    const tab = world.tabs[n % Math.max(1, world.tabs.length)]
    if (tab) tab.frozen = true
  },
  thaw: (world: World) => {
    for (const tab of world.tabs) tab.unfreeze()
  },
  open: (world: World, n: number) => {
    const device = world.devices[n % world.devices.length]!
    const tab = device.tabs.find((one) => !one.draftId && !one.frozen) ?? world.newTab(device)
    void tab.open(draftId, n % 3 === 0).catch(() => {})
  },
  'open a fork': (world: World, n: number) => {
    const device = world.devices[n % world.devices.length]!
    const fork = [...device.disk.draftRows.keys()].find((id) => id !== draftId)
    if (fork)
      void world
        .newTab(device)
        .open(fork, true)
        .catch(() => {})
  },
  offline: (world: World, n: number) => {
    world.devices[n % world.devices.length]!.online = false
  },
  online: (world: World) => {
    for (const device of world.devices) device.online = true
  },
  weather: (world: World, n: number) => {
    world.weather = (['lose', 'lose the answer', 'double', 'late', 'fine'] as const).toSorted(
      (a, b) => ((a.length * (n + 1)) % 7) - ((b.length * (n + 1)) % 7),
    )
  },
  arrive: (world: World) => world.arrive(),
  'clock jump': (world: World, n: number) => {
    world.devices[n % world.devices.length]!.clockAhead += (n % 2 ? 1 : -1) * n * 86_400_000
  },
  'disk refuses': (world: World, n: number) => {
    world.devices[n % world.devices.length]!.disk.refusing = true
  },
  'disk works': (world: World) => {
    for (const { disk } of world.devices) disk.refusing = false
  },
  'lose a device': (world: World, n: number) => {
    if (n % 4 === 0) world.lose(world.devices[n % world.devices.length]!)
  },
  wait: (world: World, n: number) => world.pass(n % 2 ? 100 : 1000 * (1 + (n % 8)), n % 2 ? 50 : 1000),
}
const usual = ['type', 'type', 'type', 'wait', 'wait', 'take over', 'freeze', 'thaw', 'save', 'online'] as const

test('whatever happens in whatever order: nothing acknowledged is missing, nothing is shown safer than it is', async () => {
  const anyAct = fc.tuple(
    fc.oneof(
      { weight: 3, arbitrary: fc.constantFrom(...usual) },
      fc.constantFrom(...(Object.keys(acts) as (keyof typeof acts)[])),
    ),
    fc.nat(30),
  )
  await fc.assert(
    fc.asyncProperty(fc.array(anyAct, { maxLength: 60, size: 'max' }), async (happened) => {
      const { world, storage } = await begin()
      for (const [name, n] of happened) {
        await acts[name](world, n)
        await world.still()
      }
      await expectNothingLost(world, storage)
    }),
    {
      numRuns: Number(process.env.KEEPER_RUNS ?? 600),
      seed: process.env.KEEPER_SEED ? Number(process.env.KEEPER_SEED) : undefined,
    },
  )
}, 600_000)
