// Which files of a drive are versions of one: on made drives, on whatever paths there may be, and on names that people write.
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { isSaid } from '../words/said'
import { makeDrive, seriesRight } from './made-drive'
import { type Found, foldSeries } from './series'
import { piecesOfText, resemblance, sketchBytes, sketchFrom, sketchOf, sketchSize } from './sketch'

const text = (words: number, seed = 0) =>
  Array.from({ length: words }, (_, n) => `w${(n * 7919 + seed * 104_729) % 5003}`).join(' ')
/** Files of these paths, with what each holds; a day apart in this order. */
const drive = (files: readonly (readonly [path: string, holds: string])[]): Found[] =>
  files.map(([path, holds], no) => ({
    no,
    path,
    size: holds.length,
    at: new Date(Date.UTC(2024, 0, 1 + no)).toISOString(),
    sha256: holds,
    type: path.split('.').pop()!,
    sketch: sketchOf(piecesOfText(holds)),
  }))
const folded = (...files: (readonly [path: string, holds: string])[]) => {
  const found = drive(files)
  return foldSeries(found).map((series) => ({ ...series, files: series.files.map((no) => found[no]!.path) }))
}

test('series that people keep by hand are folded as they were made, on drives of hundreds', () => {
  for (const seed of [11, 12, 13]) {
    const { files, truth } = makeDrive(seed, 100)
    expect(seriesRight(truth, foldSeries(files))).toBeGreaterThanOrEqual(0.95)
  }
})

test('every file is in one series, whatever it is called; the order in which they are found changes nothing', () => {
  const step = fc.oneof(
    fc.constantFrom(
      'old',
      'Archive',
      'Offer',
      'LK07',
      '2024-03-01',
      'v2',
      'final',
      'copy of',
      '(2)',
      'draft',
      '02',
      '..',
      ' ',
    ),
    fc.string({ minLength: 1, maxLength: 6, unit: 'grapheme' }).map((one) => one.replaceAll('/', '-') || '-'),
  )
  const path = fc
    .tuple(
      fc.array(step, { maxLength: 2 }),
      fc.array(step, { minLength: 1, maxLength: 4 }),
      fc.constantFrom('.docx', '.xlsx', '.txt', '', '.DOCX'),
    )
    .map(([folders, words, ending]) => [...folders, words.join(' ') + ending].join('/'))
  const file = fc.record({ path, holds: fc.nat(3), same: fc.boolean(), day: fc.nat(5), follows: fc.boolean() })
  fc.assert(
    fc.property(fc.array(file, { maxLength: 30 }), fc.integer(), (made, turn) => {
      const files = made.map(({ path: at, holds, same, day, follows }, no): Found => {
        const all = holds ? text(30, holds) + (same ? '' : ` ${no}`) : ''
        return {
          no,
          path: at,
          size: all.length,
          at: new Date(Date.UTC(2024, 0, 1 + day)).toISOString(),
          sha256: all || `${no}`,
          type: at.split('.').pop()!.toLowerCase(),
          sketch: sketchOf(piecesOfText(all)),
          follows,
        }
      })
      const series = foldSeries(files)
      const all = series.flatMap((one) => [...one.files, ...one.doubles.map(({ no }) => no)])
      expect(all.sort((a, b) => a - b)).toEqual(files.map(({ no }) => no))
      for (const { files: those, doubles, name, why } of series) {
        expect(new Set([...those, ...doubles.map(({ no }) => no)].map((no) => files[no]!.type)).size).toBe(1)
        for (const { no, of } of doubles) expect(files[no]!.sha256).toBe(files[of]!.sha256)
        expect(new Set(those.map((no) => files[no]!.sha256)).size).toBe(those.length)
        expect(name).not.toBe('')
        expect(why.length > 0).toBe(those.length + doubles.length > 1)
      }
      const turned = [...files].sort((a, b) => ((a.no * 31 + turn) % 17) - ((b.no * 31 + turn) % 17))
      expect(foldSeries(turned)).toEqual(series)
    }),
    { numRuns: 300 },
  )
})

test('what tells versions apart is a word, a number, a folder or a day, and what they hold bears it out', () => {
  const holds = text(80)
  const more = (n: number) => `${holds} ${text(n * 4, n)}`
  expect(
    folded(
      ['Letters/Offer LK07.docx', more(0)],
      ['Letters/Offer LK07 v2.docx', more(1)],
      ['Letters/Copy of Offer LK07 v2.docx', more(1)],
      ['Letters/old/Offer LK07.docx', more(2)],
      ['Letters/Offer LK07 final.docx', more(3)],
      ['Letters/Offer LK08.docx', more(1)],
      ['Letters/Offer LK07.pdf', more(3)],
      ['Elsewhere/Offer LK07.docx', text(90, 5)],
    ),
  ).toMatchObject(
    [
      {
        files: [
          'Letters/old/Offer LK07.docx',
          'Letters/Offer LK07.docx',
          'Letters/Offer LK07 v2.docx',
          'Letters/Offer LK07 final.docx',
        ].sort(),
        name: 'Offer LK07.docx',
        folders: ['Letters'],
      },
      { files: ['Letters/Offer LK08.docx'], why: [] },
      { files: ['Letters/Offer LK07.pdf'] },
      { files: ['Elsewhere/Offer LK07.docx'] },
    ].map((one, at) => (at === 0 ? { ...one, files: expect.arrayContaining(one.files) } : one)),
  )
})

test('German words tell versions apart as English ones do', () => {
  const holds = text(60)
  const [one, ...others] = folded(
    ['Angebot.docx', holds],
    ['Kopie von Angebot.docx', `${holds} ${text(9, 1)}`],
    ['Angebot überarbeitet.docx', `${holds} ${text(9, 2)}`],
    ['Angebot_Fassung 3.docx', `${holds} ${text(9, 3)}`],
    ['Angebot endgültig.docx', `${holds} ${text(9, 4)}`],
  )
  expect([one!.files.length, one!.name, others]).toEqual([5, 'Angebot.docx', []])
})

test('one name over two different papers folds nothing; the same name beside itself does where it cannot be read', () => {
  expect(folded(['Plan v1.docx', text(60, 1)], ['Plan v2.docx', text(60, 2)])).toHaveLength(2)
  const [one] = folded(['Plan v1.dwg', ''], ['Plan v2.dwg', ' '])
  expect(one).toMatchObject({ files: ['Plan v1.dwg', 'Plan v2.dwg'], name: 'Plan.dwg' })
  expect(one!.doubts).toMatchObject([{ say: 'intake.not-compared' }])
  // A number alone says too little of what cannot be read.
  expect(folded(['Plan 1.dwg', ''], ['Plan 2.dwg', ' '])).toHaveLength(2)
})

test('records of different days stay apart where a day is part of the name, and are looked at where it is not', () => {
  const day = (n: number) => [`2024-0${n}-15 Minutes.docx`, `${text(200)} ${text(40, n)}`] as const
  const found = drive([day(1), day(2), day(3)])
  expect(foldSeries(found.map((one) => ({ ...one, follows: true })))).toHaveLength(3)
  const [series, ...others] = foldSeries(found)
  expect(others).toEqual([])
  expect(series!.doubts).toMatchObject([{ say: 'intake.may-be-records' }])
})

test('numbers go before times where a copied drive has one time for all, and that is said', () => {
  const holds = (n: number) => `${text(80)} ${n}`
  const [series] = folded(['Budget v10.xlsx', holds(10)], ['Budget v2.xlsx', holds(2)], ['Budget v1.xlsx', holds(1)])
  expect(series!.files).toEqual(['Budget v1.xlsx', 'Budget v2.xlsx', 'Budget v10.xlsx'])
  expect(series!.doubts.filter(isSaid).map((one) => one.say)).toContain('intake.numbers-and-times-differ')
})

test('a sketch tells what two texts share nearly as well as the texts do', () => {
  const shared = (a: readonly string[], b: readonly string[]) => {
    const [one, other] = [new Set(a), new Set(b)]
    const both = [...one].filter((piece) => other.has(piece)).length
    return both / (one.size + other.size - both)
  }
  fc.assert(
    fc.property(fc.nat(400), fc.nat(400), fc.nat(400), (both, left, right) => {
      const a = piecesOfText(`${text(both)} . ${text(left, 1)}`)
      const b = piecesOfText(`${text(both)} . ${text(right, 2)}`)
      const told = resemblance(sketchOf(a), sketchOf(b))
      if (!a.length || !b.length) {
        expect(told).toBeNull()
        return
      }
      // Five deviations of an estimate by so many hashes, and none where all of them are there.
      const small = new Set([...a, ...b]).size <= sketchSize
      expect(Math.abs(told! - shared(a, b))).toBeLessThan(small ? 1e-9 : 2.5 / Math.sqrt(sketchSize))
      expect(resemblance(sketchOf(b), sketchOf(a))).toBe(told)
      expect(sketchFrom(sketchBytes(sketchOf(a)))).toEqual(sketchOf(a))
    }),
  )
})
