// Where versions lie in a copy, how it is brought there, and what of a bag's text is believed.
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { checkName, nameKey } from '../naming/check'
import { inEnglish } from '../words/in-english'
import { saidBy } from '../words/said'
import { csvOf, infoOf, isInside, manifestOf, readInfo, readManifest } from './bag'
import { bring } from './bring'
import { type CopiedFile, type CopiedFolder, layOut } from './layout'
import { type Extent, type Holding, holdingIn } from './plan'

const now = new Date('2026-11-25T12:00:00Z')
/** One plan for everything. */
const evenly =
  (extent: Extent): ((folderId: string | null) => Holding) =>
  () => ({ extent, backDays: null })

const sum = fc.integer({ min: 0, max: 2 ** 32 }).map((number) => number.toString(16).padStart(64, '0'))
const step = fc.oneof(
  fc.constantFrom('Minutes', '100 %', '%25', 'Ärger', 'a\nb', 'a\rb', 'two  spaces', ' ahead', '*star'),
  fc.string({ unit: 'grapheme', minLength: 1, maxLength: 12 }),
)
const path = fc
  .array(
    step.filter((one) => !/[/\\\0]|^\.{1,2}$/.test(one)),
    { minLength: 1, maxLength: 4 },
  )
  .map((steps) => `data/${steps.join('/')}`)
const anyFiles = fc.dictionary(path, sum, { noNullPrototype: true }).map((one) => new Map(Object.entries(one)))

describe('a manifest', () => {
  test('says of every path what its checksum is, whatever is in the path', () => {
    fc.assert(
      fc.property(anyFiles, (files) => {
        expect(readManifest(manifestOf(files))).toEqual(files)
        expect(manifestOf(files).split('\n')).toHaveLength(files.size + 1)
      }),
      // Signs that end a line for some, and not for a manifest.
      { examples: [[new Map([['data/\u2028/Min\u2029utes\u0085', '0'.repeat(64)]])]] },
    )
  })
  test.each([
    ['../x', 'leads outside'],
    ['data/../../x', 'leads outside'],
    ['/etc/passwd', 'leads outside'],
    ['data//x', 'leads outside'],
    ['data/x/', 'leads outside'],
    ['data/./x', 'leads outside'],
    ['data\\..\\x', 'leads outside'],
    ['data/a\\b', 'leads outside'],
    ['C:/x', 'leads outside'],
    ['~root/x', 'leads outside'],
    ['data/', 'leads outside'],
    ['x', 'leads outside'],
    ['data/x%0D', null],
  ])('does not lead anywhere else: %s', (path, fault) => {
    const read = () => readManifest(`${'0'.repeat(64)}  ${path}\n`)
    if (!fault) expect([...read().keys()]).toEqual(['data/x\r'])
    else
      try {
        expect(read()).toBe('refused')
      } catch (error) {
        expect(inEnglish(saidBy(error))).toContain(`Line 1 of the manifest ${fault}`)
      }
  })
  test('nonsense is refused in a sentence that says where', () => {
    const refusal = (text: string) => {
      try {
        return readManifest(text)
      } catch (error) {
        return inEnglish(saidBy(error))
      }
    }
    expect(refusal(`${'a'.repeat(64)}  data/x\nwhat is this\n`)).toBe(
      'Line 2 of the manifest is neither a checksum with a path nor empty.',
    )
    expect(refusal(`${'a'.repeat(63)}  data/x\n`)).toContain('Line 1')
    expect(refusal(`${'a'.repeat(64)}  data/x\n${'b'.repeat(64)} data/x\n`)).toBe(
      'Line 2 of the manifest lists a path a second time.',
    )
    // Other writers end lines otherwise, write letters large, and mark files as binary.
    expect(refusal(`${'A'.repeat(64)} *data/x\r\n`)).toEqual(new Map([['data/x', 'a'.repeat(64)]]))
  })
  test('tag files lie anywhere but in the payload', () => {
    expect([isInside('bagit.txt'), isInside('data/bagit.txt'), isInside('')]).toEqual([true, false, false])
  })
})

test('what is told of a bag comes back, folded by others or not', () => {
  const fields = [
    ['External-Identifier', '7'],
    ['External-Description', 'Waterways:\nlocks'],
  ] as const
  expect([...readInfo(infoOf(fields))]).toEqual([
    ['external-identifier', '7'],
    ['external-description', 'Waterways: locks'],
  ])
  expect(readInfo('Contact-Name: Ida\r\n  Thornquist\r\nContact-Name: Ben\n').get('contact-name')).toBe(
    'Ida Thornquist',
  )
})

test('a table has each value in its cell, and none that a spreadsheet would reckon', () => {
  expect(
    csvOf([
      ['Name', 'Bytes'],
      ['a "b", c', 7],
      ['=1+1', 0],
    ]),
  ).toBe('Name,Bytes\r\n"a ""b"", c",7\r\n\'=1+1,0\r\n')
})

const version = (number: number, more: object = {}) => ({
  id: `v${number}`,
  number,
  sha256: `${number}`.padStart(64, '0'),
  size: 10,
  author: 'Ben Marlowe',
  at: `2026-11-${String(9 + number).padStart(2, '0')}T09:20:30.000Z`,
  kept: false,
  ...more,
})

describe('the places of versions', () => {
  const file: CopiedFile = {
    id: 'f',
    folderId: 'b',
    name: 'Offer.docx',
    versions: [version(1), version(2, { kept: true }), version(3)],
  }
  const folders: CopiedFolder[] = [
    { id: 'a', parentId: null, name: 'Tenders' },
    { id: 'b', parentId: 'a', name: '2026' },
  ]
  test('the latest is where people know it, earlier ones beside it under date, number and author', () => {
    const paths = (extent: Extent) => layOut(folders, [file], evenly(extent), now).placed.map((one) => one.path)
    const earlier = 'data/Tenders/2026/Earlier versions of Offer.docx'
    expect(paths('all')).toEqual([
      'data/Tenders/2026/Offer.docx',
      `${earlier}/2026-11-10 0920 version 1 Ben Marlowe.docx`,
      `${earlier}/2026-11-11 0920 version 2 Ben Marlowe.docx`,
    ])
    expect(paths('kept')).toEqual([
      'data/Tenders/2026/Offer.docx',
      `${earlier}/2026-11-11 0920 version 2 Ben Marlowe.docx`,
    ])
    expect(paths('latest')).toEqual(['data/Tenders/2026/Offer.docx'])
  })
  test('an earlier version of another type has the ending of that', () => {
    const went = {
      ...file,
      name: 'Offer.odt',
      versions: [{ ...version(1), type: 'doc' }, { ...version(2), type: 'odt' }, version(3)],
    }
    expect(layOut(folders, [went], evenly('all'), now).placed.map(({ path }) => path.split('/').at(-1))).toEqual([
      'Offer.odt',
      '2026-11-10 0920 version 1 Ben Marlowe.doc',
      '2026-11-11 0920 version 2 Ben Marlowe.odt',
    ])
  })
  test('what people named stays; what is made here gives way, and names that could not be are told', () => {
    const odd = { ...file, id: 'g', folderId: null, name: 'Earlier versions of Offer.docx' }
    const here = { ...file, folderId: null }
    const old = { id: 'h', folderId: null, name: 'con: a?.docx', versions: [version(1)] }
    const { placed, renamed } = layOut([], [odd, here, old], evenly('all'), now)
    const folderOf = (id: string) =>
      new Set(placed.filter(({ fileId }) => fileId === id).map(({ path }) => path.split('/')[1]))
    expect(folderOf('g')).toContain('Earlier versions of Offer.docx')
    expect(folderOf('f')).toContain('Earlier versions of Offer (2).docx')
    expect([...renamed.values()]).toEqual(['con: a?.docx'])
  })

  const name = fc.oneof(
    fc.constantFrom(
      'A.docx',
      'a.docx',
      'Earlier versions of A.docx',
      'CON',
      'x'.repeat(400),
      'ä.txt',
      'ä.txt'.normalize('NFD'),
      '. ',
      'a:b',
    ),
    fc.string({ unit: 'grapheme', minLength: 1, maxLength: 8 }),
  )
  test('whatever the names are: each version has a place of its own that every file system takes', () => {
    const files = fc.array(
      fc.record({ name, folder: fc.constantFrom(null, 'a', 'b'), versions: fc.integer({ min: 1, max: 3 }) }),
      {
        maxLength: 8,
      },
    )
    fc.assert(
      fc.property(files, fc.tuple(name, name), (given, [a, b]) => {
        const files = given.map(({ name, folder, versions }, at) => ({
          id: `f${at}`,
          folderId: folder,
          name,
          versions: Array.from({ length: versions }, (_, n) => version(n + 1, { id: `${at}.${n}`, author: name })),
        }))
        const folders = [
          { id: 'a', parentId: null, name: a },
          { id: 'b', parentId: 'a', name: b },
        ]
        const { placed } = layOut(folders, files, evenly('all'), now)
        expect(placed).toHaveLength(files.reduce((sum, { versions }) => sum + versions.length, 0))
        expect(new Set(placed.map(({ versionId }) => versionId)).size).toBe(placed.length)
        expect(new Set(placed.map(({ path }) => nameKey(path))).size).toBe(placed.length)
        const parents = new Set(
          placed.flatMap(({ path }) => path.split('/').map((_, at, all) => all.slice(0, at).join('/'))),
        )
        for (const { path } of placed) {
          expect(parents.has(path)).toBe(false)
          expect(path.split('/').map(checkName)).toEqual(path.split('/').map(() => null))
        }
        expect(
          layOut([...folders].reverse(), [...files].reverse(), evenly('all'), now)
            .placed.map(({ path }) => path)
            .sort(),
        ).toEqual(placed.map(({ path }) => path).sort())
      }),
    )
  })
})

describe('plans of folders', () => {
  const extent = fc.constantFrom('nothing' as const, 'latest' as const, 'kept' as const, 'all' as const)
  const holding = fc.record({ extent, backDays: fc.option(fc.integer({ min: 1, max: 9 })) })
  test('the plan of the nearest folder upwards holds, otherwise the share’s; each file by its own folder’s', () => {
    // Each folder lies in one that comes before it, or in the share itself.
    const tree = fc.array(fc.nat(20), { minLength: 1, maxLength: 12 }).map((above) =>
      above.map(
        (one, at): CopiedFolder => ({
          id: `${at}`,
          parentId: at && one % (at + 1) ? `${(one % (at + 1)) - 1}` : null,
          name: `Folder ${at}`,
        }),
      ),
    )
    fc.assert(
      fc.property(tree, holding, fc.array(fc.tuple(fc.nat(11), holding), { maxLength: 5 }), (folders, share, some) => {
        const own = new Map(some.map(([at, plan]) => [`${at}`, plan]))
        const found = holdingIn(folders, share, own)
        const byHand = (id: string | null): Holding =>
          id === null ? share : (own.get(id) ?? byHand(folders.find((one) => one.id === id)!.parentId))
        const files = folders.map(
          ({ id }): CopiedFile => ({ id, folderId: id, name: 'a.txt', versions: [version(1), version(2)] }),
        )
        const { placed } = layOut(folders, files, found, now)
        for (const { id } of folders) {
          expect(found(id)).toEqual(byHand(id))
          const { extent } = byHand(id)
          const there = placed.filter(({ fileId }) => fileId === id).length
          if (extent === 'nothing') expect(there).toBe(0)
          else expect(there).toBeGreaterThan(0)
          if (extent === 'latest') expect(there).toBe(1)
        }
      }),
    )
  })
})

test('whatever a copy has: the steps make of it what is wanted, take nothing that a later one needs, and send nothing twice', () => {
  const few: fc.Arbitrary<Record<string, string>> = fc.dictionary(
    fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f'),
    fc.constantFrom('1', '2', '3'),
    {
      noNullPrototype: true,
    },
  )
  fc.assert(
    fc.property(few, few, (before, after) => {
      const [there, wanted] = [new Map(Object.entries(before)), new Map(Object.entries(after))]
      const now = new Map(there)
      const sent = new Map<string, number>()
      for (const one of bring(there, wanted)) {
        if (one.do === 'remove') {
          expect(now.delete(one.path)).toBe(true)
          continue
        }
        if (one.do === 'write') sent.set(one.sha256, (sent.get(one.sha256) ?? 0) + 1)
        else {
          expect(now.get(one.from)).toBe(one.sha256)
          expect(one.do === 'move' && now.has(one.to)).toBe(false)
          if (one.do === 'move') now.delete(one.from)
        }
        now.set(one.to, one.sha256)
      }
      expect([...now].sort()).toEqual([...wanted].sort())
      // What stays somewhere is never sent.
      for (const sha256 of sent.keys())
        expect([...wanted].some(([path, one]) => one === sha256 && there.get(path) === sha256)).toBe(false)
    }),
  )
})
