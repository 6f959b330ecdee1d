import { randomUUID } from 'node:crypto'
import { setTimeout as later } from 'node:timers/promises'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { ActResult, Change, Convention, Rules } from '../core/contract'
import { writeDocx } from '../core/formats/docx/write'
import { performAct, undoAct } from './acts/acts'
import { unbounded } from './counts/quotas'
import { doc, h, p } from './demo/papers'
import { fileFacts } from './files/facts'
import { newFolder } from './files/folders'
import { placeContents } from './files/places'
import { removedFrom } from './files/removed'
import { auditsFor, noteAudit } from './naming/audits'
import { takeNumber } from './naming/counters'
import { changeConvention, changeList, endConvention, newConvention, newList, shareNaming } from './naming/service'
import { keepVersion, type NewPlace } from './saving/keep'
import { findFiles } from './search/find'
import { addMember, addShare } from './shares/service'
import { addTemplate, removeTemplate, templatesFor } from './templates/service'
import { openTestOffice, type TestOffice } from './testing'

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

const ida = () => office.people.ida
const priya = () => office.people.priya
const kept = (name: string, place: Partial<NewPlace> = {}, bytes = Buffer.from(`content of ${name}`)) =>
  keepVersion(office.database, unbounded, {
    personId: ida(),
    bytes,
    reason: 'saved',
    key: randomUUID(),
    target: { place: { shareId: office.share, folderId: null, name, ...place } },
  })
const act = (
  what: 'rename' | 'move' | 'remove' | 'bring back' | 'correct',
  changes: Change[],
  personId = ida(),
): Promise<ActResult> => performAct(office.database, personId, { id: randomUUID(), what, changes })
const nameNow = async (id: string) =>
  (await office.database.query('select name, folder_id, removed_at from entry where id = $1', [id]))[0]
const folder = (name: string, parent: string | null = null) =>
  newFolder(office.database, ida(), office.share, parent, name)
const refused = (promise: Promise<unknown>) =>
  promise.then(
    () => null,
    (error) => error.problem ?? error,
  )

const counting = (per: 'folder' | string[]): Rules => ({
  parts: [
    { id: 'no', label: 'Number', separator: '', optional: false, kind: 'counter', width: 4, start: 1, per },
    {
      id: 'what',
      label: 'Subject',
      separator: '_',
      optional: false,
      kind: 'words',
      letters: 'as typed',
      longest: 40,
      symbols: 'letters and digits',
      spaces: '-',
    },
  ],
  folders: [],
})

describe('acts', () => {
  test('exchange names within one act, are undone as one, and keep versions, origin and former names', async () => {
    const a = await kept('Exchange A.txt')
    const b = await kept('Exchange B.txt', { originId: a.version.id })
    const done = await act('rename', [
      { id: a.file.id, name: 'Exchange B.txt', from: 'Exchange A.txt' },
      { id: b.file.id, name: 'Exchange A.txt' },
    ])
    expect((await nameNow(a.file.id)).name).toBe('Exchange B.txt')
    const facts = await fileFacts(office.database.manager, ida(), b.file.id)
    expect(facts).toMatchObject({
      origin: { fileId: a.file.id, name: 'Exchange B.txt', number: 1 },
      formerNames: ['Exchange B.txt'],
    })
    expect(facts.versions.map(({ id }) => id)).toEqual([b.version.id])
    await undoAct(office.database, ida(), done.id)
    expect((await nameNow(a.file.id)).name).toBe('Exchange A.txt')
    expect((await undoAct(office.database, ida(), done.id)).what).toBe('undo')
  })
  test('are carried out whole or not at all', async () => {
    const a = await kept('Whole A.txt')
    const b = await kept('Whole B.txt')
    await kept('Whole taken.txt')
    const problem = await refused(
      act('rename', [
        { id: a.file.id, name: 'Whole fine.txt' },
        { id: b.file.id, name: 'WHOLE TAKEN.txt' },
      ]),
    )
    expect(problem).toMatchObject({ type: 'name-taken' })
    expect((await nameNow(a.file.id)).name).toBe('Whole A.txt')
    expect(await refused(act('rename', [{ id: a.file.id, name: 'Whole A.pdf' }]))).toMatchObject({
      type: 'name-refused',
      freeName: 'Whole A.txt',
    })
    expect(await refused(act('rename', [{ id: a.file.id, name: 'x.txt', from: 'Another.txt' }]))).toMatchObject({
      type: 'changed-meanwhile',
    })
    expect(await refused(act('rename', [{ id: a.file.id, name: 'x.txt' }], office.people.tomas))).toMatchObject({
      type: 'not-allowed',
    })
    expect(await refused(act('rename', [{ id: a.file.id, name: 'x.txt' }], office.people.ben))).toMatchObject({
      type: 'not-found',
    })
  })
  test('move a folder with what is in it, never into itself, also to another share', async () => {
    const outer = await folder('Outer')
    const inner = await folder('Inner', outer.id)
    const inside = await kept('Deep.txt', { folderId: inner.id })
    expect(await refused(act('move', [{ id: outer.id, folderId: inner.id }]))).toMatchObject({
      title: 'Outer cannot be moved into itself.',
    })
    const archive = await addShare(office.database.manager, 'Archive')
    expect(await refused(act('move', [{ id: inner.id, shareId: archive, folderId: null }]))).toMatchObject({
      type: 'not-found',
    })
    await addMember(office.database.manager, archive, ida(), 'edit')
    const over = [{ id: inner.id, shareId: archive, folderId: null, path: ['2026', 'Old'] }]
    // What leaves a share is its managers' to decide.
    expect(await refused(act('move', over))).toMatchObject({ type: 'not-allowed' })
    await addMember(office.database.manager, archive, office.people.priya, 'edit')
    const done = await act('move', over, office.people.priya)
    expect((await fileFacts(office.database.manager, ida(), inside.file.id)).trail.map(({ name }) => name)).toEqual([
      '2026',
      'Old',
      'Inner',
    ])
    expect((await fileFacts(office.database.manager, ida(), inside.file.id)).share.name).toBe('Archive')
    await undoAct(office.database, office.people.priya, done.id)
    expect((await fileFacts(office.database.manager, ida(), inside.file.id)).trail.map(({ name }) => name)).toEqual([
      'Outer',
      'Inner',
    ])
  })
  test('removal is listed and brought back with what was inside, under a free name when its own is taken', async () => {
    const crate = await folder('Crate')
    const one = await kept('In the crate.txt', { folderId: crate.id })
    const done = await act('remove', [{ id: crate.id }])
    expect((await refused(fileFacts(office.database.manager, ida(), one.file.id))).type).toBe('not-found')
    expect(
      (await removedFrom(office.database.manager, ida(), office.share)).find(({ entry }) => entry.id === crate.id),
    ).toMatchObject({ inside: 1, removedBy: 'ida' })
    expect(
      (await removedFrom(office.database.manager, ida(), office.share)).some(({ entry }) => entry.id === one.file.id),
    ).toBe(false)
    await folder('crate')
    expect(await refused(undoAct(office.database, ida(), done.id))).toMatchObject({ type: 'name-taken' })
    const back = await act('bring back', [{ id: crate.id }])
    expect(back.renamed).toEqual([{ name: 'Crate', now: 'Crate 2' }])
    expect((await fileFacts(office.database.manager, ida(), one.file.id)).trail.map(({ name }) => name)).toEqual([
      'Crate 2',
    ])
  })
  test('two folders of one name at the same instant: one is made, also along a path', async () => {
    const results = await Promise.all(
      Array.from({ length: 8 }, (_, index) => kept(`Raced ${index}.txt`, { path: ['Raced', 'Same'] })),
    )
    expect(new Set(results.map(({ file }) => file.folderId)).size).toBe(1)
    const again = await Promise.all([0, 1, 2].map(() => refused(folder('Raced twice'))))
    expect(again.filter((one) => one === null)).toHaveLength(1)
    expect(again.find((one) => one !== null)).toMatchObject({ type: 'name-taken', freeName: 'Raced twice 2' })
  })
})

describe('conventions and lists', () => {
  test('are refused with the reason, nothing half applied; a stale change is refused', async () => {
    const list = await newList(office.database, priya(), {
      shareId: office.share,
      name: 'Kinds',
      values: [{ code: 'Inspection', label: 'Inspections', retired: false }],
    })
    expect(
      await refused(newList(office.database, ida(), { shareId: office.share, name: 'Mine', values: [] })),
    ).toMatchObject({ type: 'not-allowed' })
    expect(
      await refused(
        newList(office.database, priya(), {
          shareId: office.share,
          name: 'Bad',
          values: [
            { code: 'a', label: '', retired: false },
            { code: 'A', label: '', retired: false },
          ],
        }),
      ),
    ).toMatchObject({ type: 'convention-refused', title: 'Line 2: The code A is in line 1 already.' })
    const words = (id: string) => ({
      id,
      label: id,
      separator: '_',
      optional: false,
      kind: 'words' as const,
      letters: 'as typed' as const,
      longest: 20,
      symbols: 'letters and digits' as const,
      spaces: '_' as const,
    })
    const ambiguous = await refused(
      newConvention(office.database, priya(), {
        shareId: office.share,
        folderId: null,
        name: 'Two',
        rules: { parts: [words('a'), words('b')], folders: [] },
      }),
    )
    expect(ambiguous.title).toMatch(/^The name .* could be read as a ‹.*›, b ‹.*›, or as a ‹.*›, b ‹.*›\./)
    expect((await shareNaming(office.database.manager, ida(), office.share)).conventions).toEqual([])
    const good: Rules = {
      parts: [
        { id: 'kind', label: 'Kind', separator: '_', optional: false, kind: 'list', listId: list.id, shows: 'code' },
        { ...words('subject'), spaces: '-' },
      ],
      folders: [],
    }
    const made = await newConvention(office.database, priya(), {
      shareId: office.share,
      folderId: null,
      name: 'Good',
      rules: good,
    })
    expect(
      await refused(
        newConvention(office.database, priya(), { shareId: office.share, folderId: null, name: 'Second', rules: good }),
      ),
    ).toMatchObject({ type: 'name-taken' })
    const next = await changeConvention(office.database, priya(), made.id, {
      name: 'Good',
      number: 1,
      rules: {
        ...good,
        parts: [...good.parts].reverse().map((part, index) => ({ ...part, separator: index ? '_' : '' })),
      },
    })
    expect(next).toMatchObject({ number: 2, earlier: [{ number: 1 }] })
    expect(
      await refused(changeConvention(office.database, priya(), made.id, { name: 'Good', number: 1, rules: good })),
    ).toMatchObject({ type: 'changed-meanwhile' })
    // A list that would make a convention ambiguous is refused for it.
    const joined: Rules = {
      parts: [{ ...words('subject'), spaces: '' }, { ...good.parts[0]!, separator: '' } as Rules['parts'][number]],
      folders: [],
    }
    await changeConvention(office.database, priya(), made.id, { name: 'Good', number: 2, rules: joined })
    const changed = {
      name: 'Kinds',
      revision: 1,
      values: [
        { code: 'Inspection', label: '', retired: false },
        { code: 'ion', label: '', retired: false },
      ],
    }
    expect(await refused(changeList(office.database, priya(), list.id, changed))).toMatchObject({
      type: 'convention-refused',
    })
    expect(
      await refused(changeList(office.database, priya(), list.id, { ...changed, values: [], revision: 9 })),
    ).toMatchObject({ type: 'convention-refused' })
    expect(
      (await changeList(office.database, priya(), list.id, { ...changed, values: changed.values.slice(0, 1) }))
        .revision,
    ).toBe(2)
    expect(
      await refused(changeList(office.database, priya(), list.id, { ...changed, values: changed.values.slice(0, 1) })),
    ).toMatchObject({ type: 'changed-meanwhile' })
  })
})

describe('counters', () => {
  let convention: Convention
  let place: string
  beforeAll(async () => {
    place = (await folder('Counted')).id
    await kept('0007_There-before.txt', { folderId: place })
    convention = await newConvention(office.database, priya(), {
      shareId: office.share,
      folderId: place,
      name: 'Counted',
      rules: counting('folder'),
    })
  })
  const numbered = (what: string, number = '1') =>
    kept(`${number.padStart(4, '0')}_${what}.txt`, {
      folderId: place,
      composition: { conventionId: convention.id, values: { no: number, what } },
    })
  test('twenty savers at one instant get twenty numbers without a gap', async () => {
    const saved = await Promise.all(Array.from({ length: 20 }, (_, index) => numbered(`Same-${index}`)))
    const numbers = saved.map(({ file }) => Number(file.name.slice(0, 4))).sort((a, b) => a - b)
    expect(numbers).toEqual(Array.from({ length: 20 }, (_, index) => index + 8))
  })
  test('a save that fails leaves no gap, a typed number is taken only while it is free', async () => {
    await office.database
      .transaction(async (manager) => {
        await takeNumber(
          manager,
          { id: randomUUID(), shareId: office.share, folderId: place, name: '0001_x.txt' },
          { conventionId: convention.id, values: { no: '1', what: 'x' } },
        )
        throw new Error('cut off')
      })
      .catch(() => {})
    expect((await numbered('After-the-cut')).file.name).toBe('0028_After-the-cut.txt')
    expect(await refused(kept('0007_Again.txt', { folderId: place }))).toMatchObject({
      type: 'name-taken',
      freeName: '0029_Again.txt',
    })
    expect((await kept('0040_Ahead.txt', { folderId: place })).file.name).toBe('0040_Ahead.txt')
    expect((await numbered('Next')).file.name).toBe('0041_Next.txt')
  })
})

describe('search', () => {
  const found = async (q: string, facets: string[] = [], personId = ida()) =>
    (await findFiles(office.database.manager, personId, { q, facets })).hits.map(({ file }) => file.name)
  const settled = async () => {
    for (;;) {
      const [{ n }] = await office.database.query('select count(*)::int as n from search_queue')
      if (n === 0) return
      await later(20)
    }
  }
  test('finds by parts of words in any order, small slips, former names, content and people, in my shares only', async () => {
    const paddles = await kept(
      '2026-10-14_LK07_Notice_Gate-paddles.docx',
      {},
      Buffer.from(writeDocx(doc(h(1, 'Renewal of the paddles'), p('A cormorant sat on the weir.')))),
    )
    const beam = await kept('2025-09-21_LK03_Notice_Balance-beam.txt', {}, Buffer.from('nothing of note'))
    await act('rename', [{ id: beam.file.id, name: '2025-09-21_LK03_Notice_Swing-beam.txt' }])
    await settled()
    for (const q of [
      'paddles gate',
      'padles',
      'LK07 2026',
      'addle',
      '2026-10-14 lk07',
      'cormorant',
      'renewal ida',
      'gaet paddles',
    ])
      expect([q, await found(q)]).toEqual([q, expect.arrayContaining([paddles.file.name])])
    expect(await found('balance')).toEqual(['2025-09-21_LK03_Notice_Swing-beam.txt'])
    expect((await findFiles(office.database.manager, ida(), { q: 'balance', facets: [] })).hits[0]).toMatchObject({
      formerName: '2025-09-21_LK03_Notice_Balance-beam.txt',
      found: ['former name'],
    })
    expect(await found('cormorant', ['type:document'])).toHaveLength(1)
    expect(await found('cormorant', ['type:spreadsheet'])).toEqual([])
    expect(await found('zebra')).toEqual([])
    expect(await found('cormorant', [], office.people.ben)).toEqual([])
    await act('remove', [{ id: paddles.file.id }])
    await settled()
    expect(await found('cormorant')).toEqual([])
  })
})

test('a template stays as it is, whatever is begun from it', async () => {
  const { file, version } = await kept('Form.docx', {}, Buffer.from(writeDocx(doc(h(1, 'Form')))))
  const made = await addTemplate(office.database.manager, ida(), {
    versionId: version.id,
    name: 'Inspection form',
    conventionId: null,
    presets: { kind: 'Inspection' },
  })
  await keepVersion(office.database, unbounded, {
    personId: ida(),
    bytes: Buffer.from('next'),
    reason: 'saved',
    key: randomUUID(),
    target: { fileId: file.id, baseId: version.id },
  })
  expect((await templatesFor(office.database.manager, office.people.tomas))[0]).toMatchObject({
    name: 'Inspection form',
    versionId: version.id,
    presets: { kind: 'Inspection' },
  })
  expect(await templatesFor(office.database.manager, office.people.ben)).toEqual([])
  expect(
    await refused(addTemplate(office.database.manager, ida(), { ...made, name: 'inspection FORM' })),
  ).toMatchObject({ type: 'name-taken' })
  expect(await refused(removeTemplate(office.database.manager, office.people.tomas, made.id))).toMatchObject({
    type: 'not-allowed',
  })
  await removeTemplate(office.database.manager, ida(), made.id)
  expect(await templatesFor(office.database.manager, ida())).toEqual([])
})

test('a place is listed in any order and narrowed to a kind, each as sorting its files by hand gives it', async () => {
  const at = (await folder('Ordered')).id
  const made: { name: string; type: string; size: number; saved: number; by: string }[] = []
  for (const [index, name] of ['d.txt', 'B.docx', 'a.xlsx', 'C.pdf', 'e.csv', 'f.docx', 'g.weir'].entries()) {
    const personId = index % 2 ? ida() : priya()
    const { version } = await keepVersion(office.database, unbounded, {
      personId,
      bytes: Buffer.alloc(1 + ((index * 37) % 11), index),
      reason: 'saved',
      key: randomUUID(),
      at: new Date(Date.UTC(2026, 9, 1 + ((index * 5) % 7))),
      target: { place: { shareId: office.share, folderId: at, name } },
    })
    made.push({ name, type: version.type, size: version.size, saved: Date.parse(version.at), by: version.author.name })
  }
  await folder('Z below', at)
  await folder('A below', at)
  const kinds = { document: ['docx', 'txt'], spreadsheet: ['xlsx', 'csv'], other: ['pdf', 'weir'] }
  for (const order of ['name', 'type', 'size', 'saved', 'by'] as const)
    for (const turned of ['false', 'true'] as const)
      for (const kind of [undefined, 'document', 'spreadsheet', 'other'] as const) {
        const place = await placeContents(office.database.manager, ida(), office.share, at, { order, turned, kind })
        const shown = place.entries.map(({ name }) => name)
        const key = (one: (typeof made)[number]) => (order === 'name' ? one.name.toLowerCase() : one[order])
        const expected = made
          .filter(({ type }) => !kind || kinds[kind].includes(type))
          .sort((a, b) => {
            const [x, y] = [key(a), key(b)]
            const way = x < y ? -1 : x > y ? 1 : 0
            return (turned === 'true' ? -way : way) || (a.name.toLowerCase() < b.name.toLowerCase() ? -1 : 1)
          })
          .map(({ name }) => name)
        const folders = order === 'name' && turned === 'true' ? ['Z below', 'A below'] : ['A below', 'Z below']
        expect([order, turned, kind, ...shown]).toEqual([order, turned, kind, ...folders, ...expected])
        expect(place.total).toBe(shown.length)
        // A stretch in the middle is the same as cut from the whole.
        const some = await placeContents(office.database.manager, ida(), office.share, at, {
          order,
          turned,
          kind,
          offset: 1,
          limit: 2,
        })
        expect(some.entries.map(({ name }) => name)).toEqual(shown.slice(1, 3))
      }
})

test('a place is listed by stretches, folders first, with how many there are', async () => {
  const many = await folder('Many')
  for (let index = 0; index < 7; index++) await kept(`Item ${index}.txt`, { folderId: many.id })
  await folder('Sub', many.id)
  const stretch = await placeContents(office.database.manager, ida(), office.share, many.id, { offset: 2, limit: 3 })
  expect(stretch).toMatchObject({ total: 8, offset: 2 })
  expect(stretch.entries.map(({ name }) => name)).toEqual(['Item 1.txt', 'Item 2.txt', 'Item 3.txt'])
  expect(
    (await placeContents(office.database.manager, ida(), office.share, many.id, { find: 'sub' })).entries.map(
      ({ name }) => name,
    ),
  ).toEqual(['Sub'])
})

describe('the last audit of a share', () => {
  const standing = (person: string) => auditsFor(office.database.manager, person)

  test('is told to its managers, once a convention holds there: first that there was none, then what it found', async () => {
    const share = await addShare(office.database.manager, 'Audited')
    await addMember(office.database.manager, share, priya(), 'manage')
    await addMember(office.database.manager, share, ida(), 'edit')
    const mine = async (person: string) => (await standing(person)).find((one) => one.share.id === share)
    expect(await mine(priya())).toBeUndefined()
    const { id } = await newConvention(office.database, priya(), {
      shareId: share,
      folderId: null,
      name: 'Reports',
      rules: counting('folder'),
    })
    expect(await mine(priya())).toEqual({ share: { id: share, name: 'Audited' }, last: null })
    expect(await mine(ida())).toBeUndefined()
    const before = Date.now()
    const noted = await noteAudit(office.database.manager, priya(), share, { names: 12, astray: 5 })
    expect(noted).toMatchObject({ last: { names: 12, astray: 5, by: 'priya' } })
    expect(Date.parse(noted.last!.at)).toBeGreaterThan(before - 60_000)
    // The next one takes its place.
    await noteAudit(office.database.manager, priya(), share, { names: 12, astray: 0 })
    expect(await mine(priya())).toMatchObject({ last: { names: 12, astray: 0 } })
    await endConvention(office.database, priya(), id)
    expect(await mine(priya())).toBeUndefined()
  })
  test('is noted by managers alone, and no more can be astray than there are', async () => {
    const { manager } = office.database
    const note = (person: string, findings = { names: 3, astray: 1 }) =>
      refused(noteAudit(manager, person, office.share, findings))
    expect(await note(ida())).toMatchObject({ type: 'not-allowed' })
    expect(await note(office.people.ben)).toMatchObject({ type: 'not-found' })
    expect(await note(priya(), { names: 3, astray: 4 })).toMatchObject({ type: 'invalid' })
    expect(await note(priya())).toBeNull()
  })
})
